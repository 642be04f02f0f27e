// A many-to-many becomes a table of its own: named after the two tables, its columns after the keys they come from.
import type { Column, ForeignKey, Table } from '../catalog'
import type { Design, Link } from '../design'
import type { Dialect } from '../dialects'
import type { LogicalColumn } from './logical'
import type { Namer } from './namer'

interface BridgeInput {
  readonly design: Design
  readonly key: (entity: string) => readonly LogicalColumn[]
  readonly place: (entity: string) => { schema: string; name: string }
  readonly namer: Namer
  readonly dialect: Dialect
  readonly say: (message: string) => void
}

/** The two sides of a many-to-many link, and what its table calls each. */
export function sidesOf(link: Link, { entities }: Design) {
  const [parent, child] = [entities[link.parent]?.name ?? '', entities[link.child]?.name ?? '']
  const self = link.parent === link.child
  return [
    { side: 'parent', entity: link.parent, called: self ? parent : (link.role ?? parent) },
    { side: 'child', entity: link.child, called: link.childRole ?? (self ? `other ${child}` : child) }
  ] as const
}

export function bridge(link: Link, { design, key, place, namer, dialect, say }: BridgeInput): Table {
  const [parent, child] = [design.entities[link.parent], design.entities[link.child]]
  const [parentName, childName] = [parent?.name ?? '', child?.name ?? '']
  const { schema, name: parentTable } = place(link.parent)
  const { name: childTable } = place(link.child)
  const role = link.role === undefined ? [] : [link.role.replaceAll(' ', '_')]
  const name =
    link.dbName === undefined
      ? namer.bridge(parentTable, childTable, role, link.id)
      : namer.tableByHand(link.dbName, link.id)
  say(`${parentName} and ${childName} are many to many: the table ${name} is made for the link.`)

  const self = link.parent === link.child
  const { key: keyName, foreignKeys: names, columns: byHand } = link.bridge ?? {}
  const columnName = (side: string, column: LogicalColumn, called: string) => {
    const given = byHand?.[`${side} ${column.path}`]
    return given === undefined ? namer.linkColumn(called, column.dbName, link.id) : namer.column(given, true, link.id)
  }
  const home = { schema, table: name }
  const columns: Column[] = []
  const foreignKeys: ForeignKey[] = []
  for (const { side, entity, called } of sidesOf(link, design)) {
    const to = place(entity)
    const own = key(entity).map((column): Column => ({
      name: columnName(side, column, called),
      type: dialect.types.fromNeutral(column.type).type,
      nullable: false,
      origin: { id: link.id, part: `${side} ${column.path}` }
    }))
    columns.push(...own)
    // An entity that is part of its own key has none to give: that is an error elsewhere, and no reason for bad SQL here.
    if (own.length > 0)
      foreignKeys.push({
        name: namer.member('fk', names?.[side], [name, ...(self ? [side] : [to.name])], home, link.id),
        columns: own.map((column) => column.name),
        references: {
          schema: to.schema,
          table: to.name,
          columns: key(entity).map((column) => namer.column(column.dbName, column.fixed, link.id))
        },
        onDelete: link.onDelete,
        onUpdate: link.onUpdate,
        deferrable: 'no',
        origin: { id: link.id, part: `fk ${side}` }
      })
  }
  return {
    schema,
    name,
    ...(link.means ? { comment: link.means } : {}),
    columns,
    ...(columns.length > 0
      ? {
          primaryKey: {
            name: namer.member('pk', keyName, [name], home, link.id),
            columns: columns.map((column) => column.name),
            origin: { id: link.id, part: 'pk' }
          }
        }
      : {}),
    uniques: [],
    foreignKeys,
    checks: [],
    indexes: [],
    origin: { id: link.id, part: 'table' }
  }
}
