// Views and triggers that stand in the way: dropped before the tables they use change, and put back afterwards.
import { tableKey, type Catalog, type Change, type OpaqueObject } from '../catalog'
import type { Dialect, StepDraft } from '../dialects'
import { renameNames } from '../sql'

type Rename = Change & { action: 'rename' }

/** The views and triggers that use any of the tables, and the views that use those views; users before what they use. */
export function dependentsOf(
  live: Catalog,
  tables: readonly { readonly schema: string; readonly table: string; readonly columns?: readonly string[] }[]
): OpaqueObject[] {
  const all = live.opaque ?? []
  const found = new Set<OpaqueObject>()
  const uses = (object: OpaqueObject, schema: string, table: string, columns?: readonly string[]) =>
    object.uses.some(
      (use) =>
        use.schema === schema &&
        use.table === table &&
        (!columns || columns.some((column) => use.columns.includes(column)))
    )
  const visit = (object: OpaqueObject) => {
    if (found.has(object)) return
    found.add(object)
    for (const other of all) if (uses(other, object.schema, object.name)) visit(other)
  }
  for (const { schema, table, columns } of tables)
    for (const object of all) if (uses(object, schema, table, columns)) visit(object)
  // A view goes before the view it stands on: those that others use come last.
  const order: OpaqueObject[] = []
  const place = (object: OpaqueObject) => {
    if (order.includes(object)) return
    for (const other of found) if (other !== object && uses(other, object.schema, object.name)) place(other)
    order.push(object)
  }
  found.forEach(place)
  return order
}

export function takeAway(objects: readonly OpaqueObject[], dialect: Dialect): StepDraft[] {
  // Rights go with their table, without a word.
  const standing = objects.filter(({ kind }) => kind !== 'rights')
  return standing.map((object) => ({
    statement: dialect.write.dropOpaque(object),
    why: `takes the ${object.kind} ${object.name} out of the way`,
    effects: [],
    hazards: [],
    about: aboutOf(object),
    shows: { kind: object.kind, schema: object.schema, name: object.name, present: false },
    undo: [object.definition, ...(object.after ?? [])]
  }))
}

interface Back {
  readonly moves: readonly Rename[]
  readonly to: Catalog
  readonly dialect: Dialect
}

export function putBack(objects: readonly OpaqueObject[], { moves, to, dialect }: Back): StepDraft[] {
  const there = new Set(to.tables.map((table) => tableKey(table.schema, table.name)))
  const newName = (schema: string, table: string) =>
    moves.find((m) => m.address.kind === 'table' && m.address.schema === schema && m.address.name === table)?.to ??
    table
  return [...objects].reverse().flatMap((object): StepDraft[] => {
    const owner = object.table === undefined ? undefined : tableKey(object.schema, newName(object.schema, object.table))
    if (owner !== undefined && !there.has(owner)) return []
    const names = new Map<string, string>()
    for (const { address, to: name } of moves)
      if (object.uses.some((use) => use.table === address.table)) names.set(address.name, name)
    const text = (sql: string) => renameNames(sql, names, dialect.write.lexis, dialect.write.quote)
    const lost = object.uses.flatMap((use) => {
      const table = to.tables.find((t) => t.schema === use.schema && t.name === newName(use.schema, use.table))
      if (!table) return [use.table]
      return use.columns.filter((column) => !table.columns.some((c) => c.name === (names.get(column) ?? column)))
    })
    return [object.definition, ...(object.after ?? [])].map((sql) => ({
      statement: text(sql),
      why:
        object.kind === 'rights'
          ? `gives ${object.name} its rights back`
          : `puts the ${object.kind} ${object.name} back`,
      effects: [],
      hazards: lost.length
        ? [{ kind: 'may fail' as const, sentence: `it names ${lost.join(', ')}, which is gone: change it by hand` }]
        : [],
      about: aboutOf(object),
      ...(object.kind === 'rights'
        ? {}
        : { shows: { kind: object.kind, schema: object.schema, name: object.name, present: true } }),
      undo: []
    }))
  })
}

const aboutOf = (object: OpaqueObject) => ({
  kind: 'table' as const,
  schema: object.schema,
  table: object.table ?? object.name,
  name: object.table ?? object.name
})
