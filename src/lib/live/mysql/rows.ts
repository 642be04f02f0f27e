// What keeps the rows of the stand-in: an embedded SQLite, with a table for each of MySQL's. Triggers bring what is written into the form
// of its column's type, number it, work out what is worked out, and hold checks; keys and foreign keys are SQLite's own. Texts are alike
// by the letters of ASCII, whatever the collation, unless it tells them apart.
import type { Database, SqlJsStatic, Statement } from 'sql.js'
import type { Column, DataType, Table } from '../../core/catalog'
import { typeText } from '../../core/catalog'
import type { Lexis } from '../../core/sql'
import { Refused } from '../refused'
import { functions, text, valueOf, type Given } from './functions'
import { exactly, spoken } from './spoken'
import { typeOfText } from './types'
import { familyOf, heldAs, listedIn, type Family } from './values'
import { literal, quote } from './words'

/** What keeps a value of each family there: `BLOB` is whatever comes, so that a number is told from its digits. */
const KEPT_AS: Readonly<Record<Family, string>> = {
  whole: 'INTEGER',
  bit: 'BLOB',
  year: 'INTEGER',
  decimal: 'NUMERIC',
  float: 'REAL',
  text: 'TEXT',
  list: 'BLOB',
  json: 'TEXT',
  date: 'BLOB',
  time: 'BLOB',
  moment: 'BLOB',
  bytes: 'BLOB'
}

/** "Data Type Default Values" (13.6): what a row has where a value must be and none is said. */
const implied = (type: DataType): string => {
  if (type.name === 'enum') return literal(listedIn(type)[0] ?? '')
  const zero = { date: '0000-00-00', moment: '0000-00-00 00:00:00', time: '00:00:00', json: 'null', text: '', list: '' }
  const family = familyOf(type)
  return family in zero ? literal(zero[family as keyof typeof zero]) : family === 'bytes' ? "X''" : '0'
}

/** Bits are a number, which nothing makes of its digits where whatever comes is kept. */
const asKept = ({ type }: Column, value: string) => (familyOf(type) === 'bit' ? `CAST(${value} AS INTEGER)` : value)

/** Which table is to have the rows of which, and what becomes of their columns. */
export interface Move {
  readonly was?: Table
  readonly now?: Table
  /** The name that each column had, by its name now. */
  readonly columns: ReadonlyMap<string, string>
}

export interface RowsOptions {
  readonly version: string
  readonly database: string
  readonly lexis: Lexis
  /** How text of a table is compared where nothing is said. */
  readonly collation: string
}

/** Whole numbers to their last digit: what the package's types do not say. */
interface Exact {
  get(values: null, how: { readonly useBigInt: boolean }): unknown[]
}

/** The number before the first that a table was told to give. */
const beforeFirst = ({ counting }: Column): string =>
  /^\d+$/.test(counting?.start ?? '') ? String(BigInt(counting?.start ?? '1') - 1n) : '0'

/** A name that no table of a person's has. */
export const STRUCTURE = '#structure'

export class Rows {
  private readonly db: Database
  /** What a function has refused: the engine would tell its words alone. */
  private refused: Refused | undefined
  private isQuiet = 0

  constructor(
    engine: SqlJsStatic,
    private readonly options: RowsOptions,
    file?: Uint8Array
  ) {
    this.db = new engine.Database(file)
    this.begin()
  }

  private begin() {
    const { version, database } = this.options
    const may =
      (func: (...all: Given[]) => unknown) =>
      (...all: Given[]) => {
        try {
          const value = func(...all)
          return typeof value === 'bigint'
            ? String(value)
            : typeof value === 'boolean'
              ? Number(value)
              : (value as Given)
        } catch (error) {
          if (error instanceof Refused) this.refused = error
          throw error
        }
      }
    const define = (name: string, func: (...all: Given[]) => unknown) =>
      // So many arguments as there are.
      this.db.create_function(name, Object.defineProperty(may(func), 'length', { value: -1 }))
    for (const [name, func] of functions(version, database)) define(name, func)
    define('_held', (type, column, sort, value) =>
      heldAs(typeOfText(text(type)), valueOf(sort ?? null, value ?? null), text(column))
    )
    define('_carried', (from, type, column, sort, value) =>
      heldAs(typeOfText(text(type)), valueOf(sort ?? null, value ?? null), text(column), typeOfText(text(from)))
    )
    define('_broken', (name) => {
      throw new Refused(`Check constraint '${text(name ?? '')}' is violated.`, 3819)
    })
    define('_quiet', (...set) => (set.length > 0 ? (this.isQuiet = Number(set[0])) : this.isQuiet))
    this.db.run(`PRAGMA foreign_keys = ON; ATTACH ':memory:' AS information_schema`)
  }

  /** The whole of it as a file. */
  file = (): Uint8Array => this.db.export()

  close() {
    this.db.close()
  }

  foreignKeys(on: boolean) {
    this.db.run(`PRAGMA foreign_keys = ${on ? 'ON' : 'OFF'}`)
  }

  /** A statement in the words of SQLite. Rows with values as they are kept; at most so many. */
  ask(sql: string, most = Infinity): { columns: string[]; rows: unknown[][]; more: boolean; affected: number } {
    this.refused = undefined
    this.isQuiet = 0
    let statement: Statement | undefined
    try {
      statement = this.db.prepare(sql)
      const rows: unknown[][] = []
      let more = false
      while (!more && statement.step())
        if (rows.length < most) rows.push((statement as unknown as Exact).get(null, { useBigInt: true }))
        else more = true
      const columns = statement.getColumnNames()
      return { columns, rows, more, affected: columns.length > 0 ? 0 : this.db.getRowsModified() }
    } catch (error) {
      throw this.refused ?? error
    } finally {
      statement?.free()
    }
  }

  run(sql: string) {
    this.ask(sql)
  }

  /** Puts rows in whose values are bound. */
  put(table: string, rows: readonly (readonly (string | number | null)[])[]) {
    const [first] = rows
    if (!first) return
    const statement = this.db.prepare(`INSERT INTO ${table} VALUES (${first.map(() => '?').join(', ')})`)
    for (const row of rows) statement.run([...row])
    statement.free()
  }

  /** An expression of MySQL's in the words of SQLite. */
  private said = (sql: string) => spoken(sql, this.options.lexis)

  /** Has the tables that a statement left take over the rows of those that were; all or nothing. */
  move(moves: readonly Move[]) {
    this.db.run('PRAGMA foreign_keys = OFF')
    const before = this.orphans(moves.flatMap(({ was, now }) => (was && now?.foreignKeys.length ? was : [])))
    this.db.run('BEGIN')
    try {
      for (const [i, { was }] of moves.entries()) if (was) this.putAside(was, i)
      for (const [i, { was, now, columns }] of moves.entries()) {
        if (now) {
          this.make(now)
          this.hold(now)
        }
        if (was && now) this.carry(was, now, columns, i)
        if (was) this.db.run(`DROP TABLE ${aside(i)}`)
      }
      const own = moves.flatMap(({ now }) => now ?? [])
      if (this.orphans(own) > before)
        throw new Refused('Cannot add or update a child row: a foreign key constraint fails', 1452)
      this.db.run('COMMIT')
    } catch (error) {
      this.db.run('ROLLBACK')
      throw error
    } finally {
      this.db.run('PRAGMA foreign_keys = ON')
    }
  }

  /** Rows of tables that lead to none. */
  private orphans(tables: readonly Table[]): number {
    let sum = 0
    for (const { name, foreignKeys } of tables)
      if (foreignKeys.length > 0) sum += this.ask(`PRAGMA foreign_key_check(${quote(name)})`).rows.length
    return sum
  }

  /** Its rows for a while, in their order. (Another name for a table would have the engine read all of its structure anew.) */
  private putAside(table: Table, i: number) {
    this.run(`CREATE TABLE ${aside(i)} AS SELECT * FROM ${quote(table.name)} ORDER BY ${rowid(table)}`)
    this.run(`DROP TABLE ${quote(table.name)}`)
  }

  private collationOf({ collation }: Column, { options }: Table): string {
    return /_bin$|_cs$|_as_cs|^binary$/.test(collation ?? options?.['collation'] ?? this.options.collation)
      ? 'BINARY'
      : 'NOCASE'
  }

  private make(table: Table) {
    const columns = table.columns.map((column) => {
      const family = familyOf(column.type)
      const isText = family === 'text' || family === 'list'
      const parts = [
        quote(column.name),
        KEPT_AS[family],
        isText && `COLLATE ${this.collationOf(column, table)}`,
        // What is numbered, and what is worked out, comes after the row.
        !column.nullable && !column.identity && column.generated === undefined && 'NOT NULL',
        column.default !== undefined && `DEFAULT (${this.said(column.default)})`
      ]
      return parts.filter(Boolean).join(' ')
    })
    const links = table.foreignKeys.map(
      ({ columns, references, onDelete, onUpdate }) =>
        `FOREIGN KEY (${columns.map(quote).join(', ')}) REFERENCES ${quote(references.table)} (${references.columns.map(quote).join(', ')}) ` +
        `ON DELETE ${onDelete.toUpperCase()} ON UPDATE ${onUpdate.toUpperCase()}`
    )
    this.db.run(`CREATE TABLE ${quote(table.name)} (${[...columns, ...links].join(', ')})`)
    for (const [name, parts] of uniqueOf(table)) {
      const keyed = parts.map(({ column, length }) =>
        length === undefined ? quote(column) : `substr(${quote(column)}, 1, ${length})`
      )
      this.db.run(`CREATE UNIQUE INDEX ${quote(`${table.name}.${name}`)} ON ${quote(table.name)} (${keyed.join(', ')})`)
    }
  }

  /** What is held of each row that is written. */
  private hold(table: Table) {
    const [own, row] = [quote(table.name), `WHERE ${rowid(table)} = new.${rowid(table)}`]
    const held = (column: Column, value: string) =>
      asKept(column, `_held(${literal(typeText(column.type))}, ${literal(column.name)}, ${exactly(value)})`)
    const plain = table.columns.filter(({ generated }) => generated === undefined)
    const numbered = (column: Column) =>
      `coalesce(${held(column, `new.${quote(column.name)}`)}, (SELECT max(coalesce(max(${quote(column.name)}), 0), ${beforeFirst(column)}) + 1 FROM ${own}))`
    const changed = plain.map(({ name }) => `new.${quote(name)} IS NOT old.${quote(name)}`).join(' OR ')
    const values = (isUpdate: boolean) =>
      plain.map((column) => {
        const now = `new.${quote(column.name)}`
        const onUpdate = column.options?.['on update']
        const value = column.identity ? numbered(column) : held(column, now)
        const kept =
          isUpdate && onUpdate !== undefined
            ? `CASE WHEN ${now} IS old.${quote(column.name)} AND (${changed}) THEN ${held(column, this.said(onUpdate))} ELSE ${value} END`
            : value
        return `${quote(column.name)} = ${kept}`
      })
    const computed = table.columns.flatMap((column) =>
      column.generated === undefined
        ? []
        : [`UPDATE ${own} SET ${quote(column.name)} = ${held(column, `(${this.said(column.generated)})`)} ${row};`]
    )
    const checks = table.checks.map(
      ({ name, expression }) =>
        `SELECT _broken(${literal(name)}) FROM ${own} ${row} AND NOT (${this.said(expression)});`
    )
    for (const { expression } of table.checks) this.run(`SELECT 1 FROM ${own} WHERE (${this.said(expression)}) LIMIT 0`)
    for (const { generated } of table.columns)
      if (generated !== undefined) this.run(`SELECT (${this.said(generated)}) FROM ${own} LIMIT 0`)
    for (const event of ['INSERT', 'UPDATE'])
      this.db.run(
        `CREATE TRIGGER ${quote(`${table.name}#${event}`)} AFTER ${event} ON ${own} WHEN _quiet() = 0 BEGIN SELECT _quiet(1); ` +
          `UPDATE ${own} SET ${values(event === 'UPDATE').join(', ')} ${row}; ${[...computed, ...checks].join(' ')} SELECT _quiet(0); END`
      )
  }

  private carry(was: Table, now: Table, columns: ReadonlyMap<string, string>, i: number) {
    const pairs = now.columns.flatMap((column): (readonly [string, string])[] => {
      const before = was.columns.find(({ name }) => name === columns.get(column.name))
      if (column.generated !== undefined) return []
      if (before) {
        const [from, to] = [typeText(before.type), typeText(column.type)]
        const value = quote(before.name)
        if (from === to) return [[quote(column.name), value]]
        return [
          [
            quote(column.name),
            asKept(column, `_carried(${literal(from)}, ${literal(to)}, ${literal(column.name)}, ${exactly(value)})`)
          ]
        ]
      }
      const isFilled = !column.nullable && column.default === undefined && !column.identity
      return isFilled ? [[quote(column.name), implied(column.type)]] : []
    })
    const [names, values] = [pairs.map(([name]) => name), pairs.map(([, value]) => value)]
    const rest = `FROM ${aside(i)} ORDER BY rowid`
    if (names.length > 0)
      this.run(`INSERT INTO ${quote(now.name)} (${names.join(', ')}) SELECT ${values.join(', ')} ${rest}`)
  }
}

const aside = (i: number): string => quote(`#${i}`)

/** A word for a row's own number that no column has. */
const rowid = ({ columns }: Table): string =>
  ['rowid', '_rowid_', 'oid'].find((word) => !columns.some(({ name }) => name.toLowerCase() === word)) ?? 'rowid'

/** Keys that let nothing stand twice, by their names. */
export function uniqueOf(
  table: Table
): (readonly [string, readonly { readonly column: string; readonly length?: number }[]])[] {
  const { primaryKey, uniques, indexes } = table
  return [
    ...[...(primaryKey ? [primaryKey] : []), ...uniques].map(
      ({ name, columns, parts }) =>
        [
          name,
          columns.map((column, i) => ({
            column,
            ...(parts?.[i]?.length === undefined ? {} : { length: parts[i].length })
          }))
        ] as const
    ),
    ...indexes
      .filter(({ unique }) => unique)
      .map(
        ({ name, parts }) =>
          [
            name,
            parts.flatMap(({ column, length }) =>
              column === undefined ? [] : [{ column, ...(length === undefined ? {} : { length }) }]
            )
          ] as const
      )
  ]
}
