// Views and triggers that stand in the way: dropped before the tables they use change, and put back afterwards.
import { tableKey, type Catalog, type Change, type OpaqueObject, type Table } from '../catalog'
import type { Dialect, StepDraft } from '../dialects'
import { renameReferences, type NamedTable } from '../sql'

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
  readonly live: Catalog
  readonly moves: readonly Rename[]
  readonly to: Catalog
  readonly dialect: Dialect
}

/** The tables that a text of the live database may name, with their names from now on. */
function namedTables(live: Catalog, moves: readonly Rename[], dialect: Dialect) {
  const { lexis } = dialect.write
  const newNames = new Map(
    moves.map(({ address: a, to }) => [JSON.stringify([a.kind, a.schema, a.table, a.name]), to] as const)
  )
  const named = ({ schema, name, columns }: Table): NamedTable => ({
    to: newNames.get(JSON.stringify(['table', schema, name, name])),
    columns: new Map(
      columns.map((c) => [
        lexis.fold(c.name, true),
        newNames.get(JSON.stringify(['column', schema, name, c.name])) ?? c.name
      ])
    )
  })
  const key = (schema: string, name: string) => tableKey(schema, lexis.fold(name, true))
  const tables = new Map(live.tables.map((table) => [key(table.schema, table.name), named(table)]))
  return (schema: string | undefined, name: string) => tables.get(key(schema ?? live.defaultSchema, name))
}

export function putBack(objects: readonly OpaqueObject[], { live, moves, to, dialect }: Back): StepDraft[] {
  const table = namedTables(live, moves, dialect)
  const names = { ...dialect.write, keywords: dialect.profile.names.mustQuote, table }
  const there = new Set(to.tables.map((table) => tableKey(table.schema, table.name)))
  const newName = (schema: string, table: string) =>
    moves.find((m) => m.address.kind === 'table' && m.address.schema === schema && m.address.name === table)?.to ??
    table
  return [...objects].reverse().flatMap((object): StepDraft[] => {
    const owner = object.table === undefined ? undefined : tableKey(object.schema, newName(object.schema, object.table))
    if (owner !== undefined && !there.has(owner)) return []
    const lost = object.uses.flatMap((use) => {
      const now = to.tables.find((t) => t.schema === use.schema && t.name === newName(use.schema, use.table))
      // A view that it stands on is put back before it.
      if (!now) return live.tables.some((t) => t.schema === use.schema && t.name === use.table) ? [use.table] : []
      const columns = table(use.schema, use.table)?.columns
      return use.columns.filter((column) => {
        const name = columns?.get(dialect.write.lexis.fold(column, true)) ?? column
        return !now.columns.some((c) => c.name === name)
      })
    })
    const texts = [object.definition, ...(object.after ?? [])].map((sql) => renameReferences(sql, names))
    const joined = texts.flatMap((text) => text.joined)
    const risks = [
      ...(lost.length ? [`it names ${lost.join(', ')}, which is gone: change it by hand`] : []),
      ...(joined.length
        ? [`it joins tables by ${joined.join(', ')}, which is called otherwise now: change it by hand`]
        : [])
    ]
    return texts.map(({ sql }) => ({
      statement: sql,
      why:
        object.kind === 'rights'
          ? `gives ${object.name} its rights back`
          : `puts the ${object.kind} ${object.name} back`,
      effects: [],
      hazards: risks.map((sentence) => ({ kind: 'may fail' as const, sentence })),
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
