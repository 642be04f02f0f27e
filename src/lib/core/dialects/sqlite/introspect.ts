// Asks an SQLite database what it holds: its schema table keeps the statements that made it.
import {
  addressOf,
  type Catalog,
  type Index,
  type Ref,
  type Table,
  type Trigger,
  type UnreadObject,
  type View
} from '../../catalog'
import { namesIn } from '../../sql'
import type { CatalogQueries } from '../dialect'
import { MADE_BY } from '../dialect'
import { asNamed, moduleOf, readIndex, readTable, readView } from './read'
import { inSmall, sqliteLexis } from './lexis'

const text = (value: unknown) => (typeof value === 'string' ? value : '')

export const sqliteQueries: CatalogQueries = {
  read: async (query): Promise<Catalog> => {
    const [server] = await query('SELECT sqlite_version() AS version')
    const rows = await query(
      `SELECT type, name, tbl_name AS owner, sql FROM sqlite_master WHERE name NOT LIKE 'sqlite\\_%' ESCAPE '\\' ORDER BY name`
    )
    const of = (type: string) => rows.filter((row) => row['type'] === type && row['sql'] !== null)
    const shadows = new Map(
      of('table').flatMap((row) =>
        shadowsOf(text(row['name']), text(row['sql'])).map((shadow) => [shadow, text(row['name'])] as const)
      )
    )
    const unread: UnreadObject[] = []
    const indexes = new Map<string, Index[]>()
    for (const row of of('index')) {
      const index = readIndex(text(row['name']), text(row['sql']))
      indexes.set(text(row['owner']), [...(indexes.get(text(row['owner'])) ?? []), index])
    }
    const read: Table[] = []
    for (const row of of('table')) {
      const name = text(row['name'])
      // "The Virtual Table Mechanism": tables of the module's own come and go with it.
      const maker = shadows.get(name)
      const module = moduleOf(text(row['sql']))
      if (module !== undefined) {
        read.push({ schema: 'main', name, columns: [], uniques: [], foreignKeys: [], checks: [], indexes: [], module })
        continue
      }
      const { table, unread: left } = readTable(name, text(row['sql']))
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
    const viewNames = of('view').map((row) => text(row['name']))
    /** A conservative guess from the words of the statement. */
    const refsOf = (own: string, sql: string): { readonly refs?: readonly Ref[] } => {
      const names = namesIn(sql, sqliteLexis)
      const named = (name: string) => name !== own && names.has(inSmall(name))
      const refs = [
        ...viewNames.filter(named).map((name) => addressOf('view', 'main', name)),
        ...read
          .filter((table) => named(table.name))
          .flatMap((table) => [
            addressOf('table', 'main', table.name),
            ...table.columns
              .filter((column) => names.has(inSmall(column.name)))
              .map((column) => addressOf('column', 'main', table.name, column.name))
          ])
      ].map((to) => ({ to }))
      return refs.length ? { refs } : {}
    }
    const triggersOf = (home: string): { readonly triggers?: readonly Trigger[] } => {
      const own = of('trigger')
        .filter((row) => text(row['owner']) === home)
        .map((row): Trigger => {
          const [name, definition] = [text(row['name']), text(row['sql'])]
          return { name, definition, ...refsOf(name, definition) }
        })
      return own.length ? { triggers: own } : {}
    }
    const views = of('view').map((row): View => {
      const name = text(row['name'])
      return {
        schema: 'main',
        name,
        ...readView(text(row['sql'])),
        ...refsOf(name, text(row['sql'])),
        ...triggersOf(name)
      }
    })
    const tables = read.map((table) => ({ ...table, ...triggersOf(table.name) }))
    return {
      engine: 'sqlite',
      defaultSchema: 'main',
      ...(server ? { serverVersion: text(server['version']) } : {}),
      tables: withParentKeys(tables),
      unread,
      ...(views.length ? { views } : {})
    }
  }
}

/**
 * The tables that a module makes for itself: "FTS5", 4.5; "FTS3 and FTS4", 9; "The SQLite R*Tree Module", 2. Asked of the
 * engine they are told only where the module is at hand.
 */
const SHADOWS: Readonly<Record<string, readonly string[]>> = {
  fts5: ['data', 'idx', 'content', 'docsize', 'config'],
  fts4: ['content', 'segments', 'segdir', 'docsize', 'stat'],
  fts3: ['content', 'segments', 'segdir'],
  rtree: ['node', 'rowid', 'parent'],
  rtree_i32: ['node', 'rowid', 'parent'],
  geopoly: ['node', 'rowid', 'parent']
}

function shadowsOf(name: string, sql: string): string[] {
  const module = /^\w+/.exec(moduleOf(sql) ?? '')?.[0].toLowerCase() ?? ''
  return (SHADOWS[module] ?? []).map((suffix) => `${name}_${suffix}`)
}

/** A foreign key that names no columns goes to its parent's primary key. Names are compared without case. */
function withParentKeys(tables: readonly Table[]): Table[] {
  return tables.map((table) => ({
    ...table,
    foreignKeys: table.foreignKeys.map((fk) => {
      const parent = tables.find((t) => inSmall(t.name) === inSmall(fk.references.table))
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
