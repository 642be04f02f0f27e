// SQLite's way to write catalogue objects: "CREATE TABLE" (sqlite.org/lang_createtable.html). Foreign keys stand in their
// table; a numbered column says itself that it is the primary key.
import type { Column, Table } from '../../catalog'
import type { EngineProfile, Writer } from '../dialect'
import { standardWriter } from '../standard'
import { sqliteLexis } from './lexis'

/** The column that SQLite numbers: AUTOINCREMENT goes with the key, which must be this column alone. */
export const numbered = (table: Table): Column | undefined =>
  table.columns.find(
    (column) => column.identity && table.primaryKey?.columns.length === 1 && table.primaryKey.columns[0] === column.name
  )

/** Literals and the three clocks may stand bare after DEFAULT; all else needs parentheses. */
const bare = /^([+-]?\d+(\.\d+)?|'([^']|'')*'|x'[0-9a-f]*'|null|true|false|current_(time|date|timestamp))$/i

export function sqliteWriter(profile: EngineProfile): Writer {
  const standard = standardWriter(profile)
  const { quote } = standard
  const columnClause = (table: Table, column: Column): string => {
    const key = numbered(table) === column ? table.primaryKey : undefined
    return [
      quote(column.name),
      column.type,
      column.collation !== undefined &&
        `COLLATE ${/^\w+$/.test(column.collation) ? column.collation : quote(column.collation)}`,
      column.generated !== undefined &&
        `GENERATED ALWAYS AS (${column.generated}) ${column.virtual ? 'VIRTUAL' : 'STORED'}`,
      column.default !== undefined && `DEFAULT ${bare.test(column.default) ? column.default : `(${column.default})`}`,
      !column.nullable && !column.neverEmpty && 'NOT NULL',
      key && `CONSTRAINT ${quote(key.name)} PRIMARY KEY AUTOINCREMENT`
    ]
      .filter((part) => part)
      .join(' ')
  }
  return {
    ...standard,
    lexis: sqliteLexis,
    first: (query, rows) => `${query} LIMIT ${rows}`,
    around: {
      before: ['PRAGMA foreign_keys = OFF', 'BEGIN'],
      after: ['PRAGMA foreign_key_check', 'COMMIT', 'PRAGMA foreign_keys = ON']
    },
    value: (value, type) => {
      if (value.kind === 'boolean') return value.value ? '1' : '0'
      if (value.kind === 'new uuid')
        return (
          `lower(hex(randomblob(4)) || '-' || hex(randomblob(2)) || '-4' || substr(hex(randomblob(2)), 2) || '-' || ` +
          `substr('89ab', 1 + (abs(random()) % 4), 1) || substr(hex(randomblob(2)), 2) || '-' || hex(randomblob(6)))`
        )
      if (value.kind === 'now' && type.kind === 'time') return 'CURRENT_TIME'
      return standard.value(value, type)
    },
    createTable: (t) => {
      const key = numbered(t) ? undefined : t.primaryKey
      const clauses = [
        ...t.columns.map((column) => columnClause(t, column)),
        ...(key ? [standard.constraint({ kind: 'primaryKey', value: key })] : []),
        ...t.uniques.map((value) => standard.constraint({ kind: 'unique', value })),
        ...t.checks.map((value) => standard.constraint({ kind: 'check', value })),
        ...t.foreignKeys.map((value) => standard.constraint({ kind: 'foreignKey', value }))
      ]
      return `CREATE TABLE ${quote(t.name)} (\n  ${clauses.join(',\n  ')}\n)`
    },
    addColumn: (t, column) => `ALTER TABLE ${quote(t.name)} ADD COLUMN ${columnClause(t, column)}`
  }
}
