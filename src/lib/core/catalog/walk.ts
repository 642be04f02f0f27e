// Finding and replacing the parts of a catalogue. All functions return new values and leave their arguments alone.
import type { Address, Catalog, MemberKind, MemberOf, ObjectKind, Table } from './shapes'

export const MEMBER_KINDS: readonly MemberKind[] = ['column', 'primaryKey', 'unique', 'foreignKey', 'check', 'index']

/** What each kind of thing is called in a sentence. */
export const KIND_WORDS: Readonly<Record<ObjectKind, string>> = {
  table: 'table',
  column: 'column',
  primaryKey: 'primary key',
  unique: 'unique rule',
  foreignKey: 'foreign key',
  check: 'check',
  index: 'index'
}

/** The same columns, in whatever order. */
export const sameSet = (a: readonly string[], b: readonly string[]): boolean =>
  a.length === b.length && a.every((item) => b.includes(item))

export const emptyCatalog = (engine: string, defaultSchema: string): Catalog => ({
  engine,
  defaultSchema,
  tables: [],
  unread: []
})

export const tableAddress = (table: Pick<Table, 'schema' | 'name'>): Address => ({
  kind: 'table',
  schema: table.schema,
  table: table.name,
  name: table.name
})

export const memberAddress = (
  table: Pick<Table, 'schema' | 'name'>,
  kind: MemberKind,
  member: { readonly name: string }
): Address => ({ kind, schema: table.schema, table: table.name, name: member.name })

/** A text that is the same for the same place and different for different ones. */
export const addressKey = (a: Address): string => [a.kind, a.schema, a.table, a.name].map(encodeURIComponent).join('/')

export const findTable = (catalog: Catalog, schema: string, name: string): Table | undefined =>
  catalog.tables.find((table) => table.schema === schema && table.name === name)

/** The members of one kind; the primary key is a list of none or one. */
export function members<K extends MemberKind>(table: Table, kind: K): readonly MemberOf[K][] {
  const lists: { [M in MemberKind]: readonly MemberOf[M][] } = {
    column: table.columns,
    primaryKey: table.primaryKey ? [table.primaryKey] : [],
    unique: table.uniques,
    foreignKey: table.foreignKeys,
    check: table.checks,
    index: table.indexes
  }
  return lists[kind]
}

/** The table with the members of one kind replaced. */
export function withMembers<K extends MemberKind>(table: Table, kind: K, list: readonly MemberOf[K][]): Table {
  switch (kind) {
    case 'column':
      return { ...table, columns: list as Table['columns'] }
    case 'primaryKey': {
      const { primaryKey: _, ...rest } = table
      return list.length ? { ...rest, primaryKey: list[0] as MemberOf['primaryKey'] } : rest
    }
    case 'unique':
      return { ...table, uniques: list as Table['uniques'] }
    case 'foreignKey':
      return { ...table, foreignKeys: list as Table['foreignKeys'] }
    case 'check':
      return { ...table, checks: list as Table['checks'] }
    default:
      return { ...table, indexes: list as Table['indexes'] }
  }
}

export function findMember<K extends MemberKind>(
  catalog: Catalog,
  address: Omit<Address, 'kind'>,
  kind: K
): MemberOf[K] | undefined {
  const table = findTable(catalog, address.schema, address.table)
  return table && members(table, kind).find((member) => member.name === address.name)
}

/** The catalogue with one table replaced, added (no such table yet) or removed (`undefined`). */
export function withTable(catalog: Catalog, schema: string, name: string, table: Table | undefined): Catalog {
  const at = catalog.tables.findIndex((t) => t.schema === schema && t.name === name)
  const tables = [...catalog.tables]
  if (at < 0) {
    if (table) tables.push(table)
  } else if (table) tables[at] = table
  else tables.splice(at, 1)
  return { ...catalog, tables }
}
