// SQLite's way to write catalogue objects: "CREATE TABLE" (sqlite.org/lang_createtable.html). Foreign keys stand in their
// table; a numbered column says itself that it is the primary key.
import { typeText, sameValue, type Column, type Key, type Table } from '../../catalog'
import { MADE_BY, type EngineProfile, type Writer } from '../dialect'
import { standardWriter } from '../standard'
import { inSmall, sqliteLexis } from './lexis'
import { isUnnamed, readTable } from './read'

/** The column that SQLite numbers: AUTOINCREMENT goes with the key, which must be this column alone. */
export const numbered = (table: Table): Column | undefined =>
  table.columns.find(
    (column) => column.identity && table.primaryKey?.columns.length === 1 && table.primaryKey.columns[0] === column.name
  )

/** A key that must stand beside its column: it is numbered, or descends without being the row's own number. */
const isInline = (table: Table): boolean => {
  const { primaryKey } = table
  const [first] = primaryKey?.columns ?? []
  const column = table.columns.find(({ name }) => name === first)
  return (
    numbered(table) !== undefined ||
    (primaryKey?.columns.length === 1 &&
      column !== undefined &&
      typeText(column.type) === 'integer' &&
      column.neverEmpty === undefined &&
      primaryKey.parts?.[0]?.descending === true)
  )
}

/** Literals and the three clocks may stand bare after DEFAULT; all else needs parentheses. */
const bare = /^([+-]?\d+(\.\d+)?|'([^']|'')*'|x'[0-9a-f]*'|null|true|false|current_(time|date|timestamp))$/i

export function sqliteWriter(profile: EngineProfile): Writer {
  const standard = standardWriter(profile)
  const { quote } = standard
  const columnClause = (table: Table, column: Column): string => {
    const key = isInline(table) && table.primaryKey?.columns[0] === column.name ? table.primaryKey : undefined
    const onConflict = column.options?.['not null on conflict']
    return [
      quote(column.name),
      standard.type(column.type),
      column.collation !== undefined &&
        `COLLATE ${/^\w+$/.test(column.collation) ? column.collation : quote(column.collation)}`,
      column.generated !== undefined &&
        `GENERATED ALWAYS AS (${column.generated}) ${column.virtual ? 'VIRTUAL' : 'STORED'}`,
      column.default !== undefined && `DEFAULT ${bare.test(column.default) ? column.default : `(${column.default})`}`,
      !column.nullable &&
        !column.neverEmpty &&
        `NOT NULL${onConflict === undefined ? '' : ` ON CONFLICT ${onConflict.toUpperCase()}`}`,
      key &&
        named(
          key.name,
          `PRIMARY KEY${key.parts?.[0]?.descending ? ' DESC' : ''}${conflictOf(key)}${column.identity ? ' AUTOINCREMENT' : ''}`
        )
    ]
      .filter((part) => part)
      .join(' ')
  }
  const named = (name: string, clause: string) => (isUnnamed(name) ? clause : `CONSTRAINT ${quote(name)} ${clause}`)
  const conflictOf = ({ options }: Key) =>
    options?.['on conflict'] === undefined ? '' : ` ON CONFLICT ${options['on conflict'].toUpperCase()}`
  const keyClause = (word: string, key: Key) => {
    const columns = key.columns.map((column, i) => {
      const { collation, descending } = key.parts?.[i] ?? {}
      return quote(column) + (collation === undefined ? '' : ` COLLATE ${collation}`) + (descending ? ' DESC' : '')
    })
    return named(key.name, `${word} (${columns.join(', ')})${conflictOf(key)}`)
  }
  /** Such a name was never written down. */
  const constraint: Writer['constraint'] = (object) => {
    if (object.kind === 'primaryKey' || object.kind === 'unique')
      return keyClause(object.kind === 'unique' ? 'UNIQUE' : 'PRIMARY KEY', object.value)
    const { name } = object.value
    const clause = standard.constraint(object)
    return isUnnamed(name) ? clause.slice(`CONSTRAINT ${quote(name)} `.length) : clause
  }
  /** The statement as it was written, if it says what is wanted. */
  const asWritten = (table: Table): string | undefined => {
    const { written } = table
    if (written === undefined) return undefined
    // In which order keys and rules stand means nothing.
    const byName = <T extends { readonly name: string }>(list: readonly T[]) =>
      [...list].sort((a, b) => (a.name < b.name ? -1 : 1))
    const structure = ({ name, columns, primaryKey, uniques, checks, foreignKeys, options }: Table) => ({
      name,
      columns: columns.map(({ origin: _, refs: _refs, ...column }) => column),
      primaryKey: primaryKey && { ...primaryKey, origin: undefined },
      uniques: byName(uniques).map((key) => ({ ...key, origin: undefined })),
      checks: byName(checks).map((check) => ({ ...check, origin: undefined })),
      foreignKeys: byName(foreignKeys).map(
        ({ references: { table: parent, columns: keys, unnamed }, origin: _, ...fk }) => ({
          ...fk,
          parent: inSmall(parent),
          keys: unnamed ? [] : keys.map(inSmall)
        })
      ),
      options: Object.fromEntries(Object.entries(options ?? {}).filter(([name]) => name !== MADE_BY))
    })
    const read = readTable(table.name, written).table
    return read.written !== undefined && sameValue(structure(read), structure(table)) ? written : undefined
  }
  return {
    ...standard,
    constraint,
    lexis: sqliteLexis,
    first: (query, rows) => `${query} LIMIT ${rows}`,
    around: {
      before: ['PRAGMA foreign_keys = OFF', 'BEGIN'],
      after: ['PRAGMA foreign_key_check', 'COMMIT', 'PRAGMA foreign_keys = ON']
    },
    // "The json_type() function" (sqlite.org/json1.html): what is no JSON is refused with an error.
    shaped: (column, shape) => `json_type(${quote(column)}) = '${shape === 'list' ? 'array' : 'object'}'`,
    value: (value, type) => {
      if (value.kind === 'boolean') return value.value ? '1' : '0'
      // A file has no users.
      if (value.kind === 'user') return undefined
      if (value.kind === 'new uuid')
        return (
          `lower(hex(randomblob(4)) || '-' || hex(randomblob(2)) || '-4' || substr(hex(randomblob(2)), 2) || '-' || ` +
          `substr('89ab', 1 + (abs(random()) % 4), 1) || substr(hex(randomblob(2)), 2) || '-' || hex(randomblob(6)))`
        )
      if (value.kind === 'now' && type.kind === 'time') return 'CURRENT_TIME'
      return standard.value(value, type)
    },
    createTable: (t) => {
      if (t.module !== undefined) return `CREATE VIRTUAL TABLE ${quote(t.name)} USING ${t.module}`
      const written = asWritten(t)
      if (written !== undefined) return written
      const key = isInline(t) ? undefined : t.primaryKey
      const clauses = [
        ...t.columns.map((column) => columnClause(t, column)),
        ...(key ? [constraint({ kind: 'primaryKey', value: key })] : []),
        ...t.uniques.map((value) => constraint({ kind: 'unique', value })),
        ...t.checks.map((value) => constraint({ kind: 'check', value })),
        ...t.foreignKeys.map((value) => constraint({ kind: 'foreignKey', value }))
      ]
      const options = [t.options?.['without rowid'] && 'WITHOUT ROWID', t.options?.['strict'] && 'STRICT'].filter(
        (word) => word
      )
      return `CREATE TABLE ${quote(t.name)} (\n  ${clauses.join(',\n  ')}\n)${options.length ? ` ${options.join(', ')}` : ''}`
    },
    addColumn: (t, column) => `ALTER TABLE ${quote(t.name)} ADD COLUMN ${columnClause(t, column)}`
  }
}
