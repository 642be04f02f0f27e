// Asks an SQLite database what it holds: its schema table keeps the statements that made it.
import {
  addressOf,
  type Catalog,
  type Index,
  type Table,
  type Trigger,
  type UnreadObject,
  type View
} from '../../catalog'
import type { CatalogQueries } from '../dialect'
import { MADE_BY } from '../dialect'
import { refsByWords } from '../standard'
import { asNamed, moduleOf, readIndex, readTable, readView } from './read'
import { inSmall, sqliteLexis } from './lexis'
import { shadowNames } from './shadows'

const text = (value: unknown) => (typeof value === 'string' ? value : '')

/** A line of the schema table: what was made, what it is on, and the statement that made it. */
export interface SchemaRow {
  readonly type: string
  readonly name: string
  readonly owner: string
  readonly sql: string
}

export const sqliteQueries: CatalogQueries = {
  read: async (query): Promise<Catalog> => {
    const [server] = await query('SELECT sqlite_version() AS version')
    const rows = await query(
      `SELECT type, name, tbl_name AS owner, sql FROM sqlite_master WHERE name NOT LIKE 'sqlite\\_%' ESCAPE '\\' AND sql IS NOT NULL ORDER BY name`
    )
    const made = rows.map((row): SchemaRow => ({
      type: text(row['type']),
      name: text(row['name']),
      owner: text(row['owner']),
      sql: text(row['sql'])
    }))
    return { ...catalogOf(made), ...(server ? { serverVersion: text(server['version']) } : {}) }
  }
}

/** What a schema table says, its lines ordered by name. */
export function catalogOf(rows: readonly SchemaRow[]): Catalog {
  const of = (type: string) => rows.filter((row) => row.type === type)
  const shadows = new Map(
    of('table').flatMap((row) => shadowNames(row.name, row.sql).map((shadow) => [shadow, row.name] as const))
  )
  const unread: UnreadObject[] = []
  const indexes = new Map<string, Index[]>()
  for (const row of of('index')) {
    const index = readIndex(row.name, row.sql)
    indexes.set(row.owner, [...(indexes.get(row.owner) ?? []), index])
  }
  const read: Table[] = []
  for (const row of of('table')) {
    const name = row.name
    // "The Virtual Table Mechanism": tables of the module's own come and go with it.
    const maker = shadows.get(name)
    const module = moduleOf(row.sql)
    if (module !== undefined) {
      read.push({ schema: 'main', name, columns: [], uniques: [], foreignKeys: [], checks: [], indexes: [], module })
      continue
    }
    const { table, unread: left } = readTable(name, row.sql)
    unread.push(...left.map((kind) => ({ kind, name, of: [addressOf('table', 'main', name)] })))
    const spelled = (column: string | undefined) =>
      column === undefined ? {} : { column: asNamed(column, table.columns) }
    const own = (indexes.get(name) ?? []).map((index) => ({
      ...index,
      parts: index.parts.map((part) => ({ ...part, ...spelled(part.column) }))
    }))
    const made = maker === undefined ? {} : { options: { ...table.options, [MADE_BY]: maker } }
    read.push({ ...table, ...made, indexes: own })
  }
  const names = of('view').map(({ name }) => ({ schema: 'main', name, query: '' }))
  const refsOf = refsByWords({ defaultSchema: 'main', tables: read, views: names }, sqliteLexis)
  const triggers = new Map<string, Trigger[]>()
  for (const { name, owner, sql: definition } of of('trigger')) {
    const trigger = { name, definition, ...refsOf(name, definition) }
    const list = triggers.get(owner)
    if (list) list.push(trigger)
    else triggers.set(owner, [trigger])
  }
  const triggersOf = (home: string): { readonly triggers?: readonly Trigger[] } => {
    const own = triggers.get(home)
    return own ? { triggers: own } : {}
  }
  const views = of('view').map((row): View => {
    const name = row.name
    return {
      schema: 'main',
      name,
      ...readView(row.sql),
      ...refsOf(name, row.sql),
      ...triggersOf(name)
    }
  })
  const tables = read.map((table) => ({ ...table, ...triggersOf(table.name) }))
  return {
    engine: 'sqlite',
    defaultSchema: 'main',
    tables: withParentKeys(tables),
    unread,
    ...(views.length ? { views } : {})
  }
}

/** A foreign key that names no columns goes to its parent's primary key. Names are compared without case. */
function withParentKeys(tables: readonly Table[]): Table[] {
  const known = byName(tables)
  return tables.map((table) => ({
    ...table,
    foreignKeys: table.foreignKeys.map((fk) => {
      const parent = known.get(inSmall(fk.references.table))
      const columns = fk.references.columns.length ? fk.references.columns : (parent?.primaryKey?.columns ?? [])
      const named = columns.map((name) => asNamed(name, parent?.columns ?? []))
      const unnamed = fk.references.columns.length === 0 ? { unnamed: true as const } : {}
      return {
        ...fk,
        references: { schema: 'main', table: parent?.name ?? fk.references.table, columns: named, ...unnamed }
      }
    })
  }))
}

/** By their names in small letters. */
const byName = <T extends { readonly name: string }>(list: readonly T[]): ReadonlyMap<string, T> =>
  new Map(list.map((object) => [inSmall(object.name), object]))
