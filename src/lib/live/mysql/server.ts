// MySQL's place, taken: structure by the dialect's own reader, rows by an embedded engine, refusals by the manual. Each statement of
// structure commits what was open ("Statements That Cause an Implicit Commit", 15.3.3) and is all or nothing ("Atomic Data Definition
// Statement Support", 15.1.1). Stored programs are kept as their text, and never run. Sections are those of the manual, 8.4.
import type { SqlJsStatic } from 'sql.js'
import { typeText, type Catalog, type DataType, type Table, type View } from '../../core/catalog'
import { dialect as dialectOf, Misplaced, type Dialect, type Structure } from '../../core/dialects'
import { writeScript } from '../../core/plan'
import { Cursor, NotUnderstood, splitStatements } from '../../core/sql'
import { Refused } from '../refused'
import { information } from './information'
import { Rows, STRUCTURE, type Move } from './rows'
import { misplaced, mustSayLongDefaults, mustStand } from './rules'
import { spoken, tablesIn, type TypeOf } from './spoken'
import { told } from './told'
import { literal, quote } from './words'

export interface Answer {
  readonly columns: readonly string[]
  readonly rows: readonly (readonly unknown[])[]
  readonly more: boolean
  readonly affected: number
}

const DONE: Answer = { columns: [], rows: [], more: false, affected: 0 }
const DATA = new Set(['select', 'with', 'values', 'table', '(', 'insert', 'replace', 'update', 'delete', 'truncate'])
const STRUCTURAL = new Set(['create', 'drop', 'alter', 'rename'])

/** The one database that a stand-in has. */
const HOME = 'main'

export class Server {
  readonly dialect: Dialect
  private readonly structure: Structure
  private readonly rows: Rows
  /** The tables as the rows have them, by their names. */
  private tables = new Map<string, Table>()
  private views = new Map<string, View>()
  /** What has changed since it was shown, and since it was written down. */
  private isShown = false
  private isWritten = true
  /** A transaction that somebody has begun. */
  isOpen = false
  private readonly collation: string

  constructor(engine: SqlJsStatic, version: string, file?: Uint8Array) {
    this.dialect = dialectOf('mysql', version) as Dialect
    const structure = this.dialect.structure?.()
    if (!structure) throw new Error('MySQL takes statements')
    this.structure = structure
    this.collation = version === '5.7' ? 'utf8mb4_general_ci' : 'utf8mb4_0900_ai_ci'
    const { lexis } = this.dialect.write
    this.rows = new Rows(
      engine,
      { version: `${version}.0-stand-in`, database: HOME, lexis, collation: this.collation },
      file
    )
    if (file) this.load()
  }

  private load() {
    for (const [sql] of this.rows.ask(`SELECT sql FROM \`${STRUCTURE}\` ORDER BY place`).rows)
      this.structure.take(String(sql))
    const { tables, views = [] } = this.structure.catalog()
    this.tables = new Map(tables.map((table) => [table.name, table]))
    this.views = new Map(views.map((view) => [view.name, view]))
  }

  /** All of it as a file. */
  file(): Uint8Array {
    if (!this.isWritten) {
      const statements = writeScript(this.structure.catalog(), this.dialect).map(({ sql }) => sql)
      this.rows.run(`DROP TABLE IF EXISTS \`${STRUCTURE}\``)
      this.rows.run(`CREATE TABLE \`${STRUCTURE}\` (place, sql)`)
      this.rows.put(
        `\`${STRUCTURE}\``,
        statements.map((sql, i) => [i, sql])
      )
      this.isWritten = true
    }
    return this.rows.file()
  }

  close() {
    this.rows.close()
  }

  /** As the server's own tables of itself tell. */
  async catalog(): Promise<Catalog> {
    const { introspect } = this.dialect
    if (!introspect) throw new Error('MySQL has catalogue queries')
    return introspect.read(async (sql) => {
      const { columns, rows } = this.carryOut(sql)
      return rows.map((row) => Object.fromEntries(columns.map((name, i) => [name, row[i]])))
    })
  }

  /** Carries a statement out, or throws what the engine says; of a query's rows at most so many are given. */
  carryOut(sql: string, most?: number): Answer {
    const [statement, next] = splitStatements(sql, this.dialect.write.lexis)
    if (!statement) throw new Refused('Query was empty', 1065)
    if (next) throw new Refused(`You have an error in your SQL syntax near '${next.sql.slice(0, 60)}'`, 1064)
    const item = this.cursor(statement.sql)
    const word = item.word()
    try {
      if (DATA.has(word)) return this.data(statement.sql, most)
      if (STRUCTURAL.has(word)) return this.change(statement.sql)
      if (word === 'show' || word === 'describe' || word === 'desc') return this.show(item)
      return this.session(item)
    } catch (error) {
      if (error instanceof Misplaced) throw misplaced(error, statement.sql, HOME)
      if (error instanceof NotUnderstood) throw new Refused(`This stand-in does not take it: ${error.message}`, 1064)
      throw told(error, statement.sql, (name) => this.structure.table(name))
    }
  }

  private cursor = (sql: string): Cursor =>
    new Cursor(sql, { ...this.dialect.write.lexis, fold: (name: string) => name })

  private data(sql: string, most?: number): Answer {
    if (!this.isShown && /information_schema/i.test(sql)) {
      const home = { name: HOME, collation: this.collation }
      for (const { name, columns, rows } of information(this.structure.catalog(), home, this.dialect)) {
        this.rows.run(`DROP TABLE IF EXISTS information_schema.\`${name}\``)
        this.rows.run(`CREATE TABLE information_schema.\`${name}\` (${columns.join(', ')})`)
        this.rows.put(`information_schema.\`${name}\``, rows)
      }
      this.isShown = true
    }
    const { lexis } = this.dialect.write
    const answer = this.rows.ask(spoken(sql, lexis, this.typesOf(sql)), most)
    return { ...answer, columns: answer.columns.map(asSaid), rows: answer.rows.map((row) => row.map(plain)) }
  }

  /** The types of columns that a statement speaks of. */
  private typesOf(sql: string): TypeOf {
    const types = new Map<string, DataType | undefined>()
    for (const name of new Set(tablesIn(sql, this.dialect.write.lexis)))
      for (const column of this.structure.table(name)?.columns ?? []) {
        const key = column.name.toLowerCase()
        const other = types.get(key)
        const agrees = !types.has(key) || (other && typeText(other) === typeText(column.type))
        types.set(key, agrees ? column.type : undefined)
      }
    return (column) => types.get(column.toLowerCase())
  }

  private change(sql: string): Answer {
    if (this.isOpen) this.end('COMMIT')
    const how = this.structure.take(sql)
    try {
      if (how === 'data')
        throw new Refused(
          `This stand-in does not carry out ${sql.split(/\s+/).slice(0, 2).join(' ').toUpperCase()}`,
          1064
        )
      const touched = this.structure.touched()
      if (touched.length > 0) mustSayLongDefaults(sql, this.dialect)
      mustStand(touched, (name) => this.tables.get(name), this.structure, this.dialect)
      const moves = touched.flatMap(({ was, now, columns }): Move[] => {
        const before = was === undefined ? undefined : this.tables.get(was)
        if (before && now && JSON.stringify(before) === JSON.stringify(now)) return []
        return [{ ...(before ? { was: before } : {}), ...(now ? { now } : {}), columns }]
      })
      if (moves.length > 0) this.rows.move(moves)
      for (const { was } of moves) if (was) this.tables.delete(was.name)
      for (const { now } of moves) if (now) this.tables.set(now.name, now)
      if (/\bview\b/i.test(sql)) this.showViews()
    } catch (error) {
      this.structure.back()
      throw error
    }
    this.isShown = false
    this.isWritten = false
    return DONE
  }

  /** Has the rows' engine show the views that there are. */
  private showViews() {
    const { views = [] } = this.structure.catalog()
    const now = new Map(views.map((view) => [view.name, view]))
    const isSame = ({ name, query, columns }: View) => {
      const other = now.get(name)
      return other?.query === query && other.columns?.join() === columns?.join()
    }
    for (const view of this.views.values()) if (!isSame(view)) this.rows.run(`DROP VIEW ${quote(view.name)}`)
    for (const view of views) {
      const { name, query, columns } = view
      const before = this.views.get(name)
      if (before && isSame(before)) continue
      if (this.structure.table(name)) throw new Refused(`Table '${name}' already exists`, 1050)
      const list = columns ? ` (${columns.map(quote).join(', ')})` : ''
      this.rows.run(`CREATE VIEW ${quote(name)}${list} AS ${spoken(query, this.dialect.write.lexis)}`)
      try {
        this.rows.run(`SELECT 1 FROM ${quote(name)} LIMIT 0`)
      } catch (error) {
        this.rows.run(`DROP VIEW ${quote(name)}`)
        throw error
      }
    }
    this.views = now
  }

  /** What is told to the session, and begins and ends transactions ("START TRANSACTION, COMMIT, and ROLLBACK Statements", 15.3.1). */
  private session(item: Cursor): Answer {
    if (item.take('start', 'transaction') || item.take('begin')) {
      if (this.isOpen) this.end('COMMIT')
      this.rows.run('BEGIN')
      this.isOpen = true
      return DONE
    }
    if (item.take('commit')) return this.end('COMMIT')
    const point = item.takeOne('savepoint', 'release')
    if (point) {
      this.rows.run(`${point} ${item.rest()}`)
      return DONE
    }
    if (item.take('rollback')) {
      if (item.done || !item.is('to')) return this.end('ROLLBACK')
      this.rows.run(`ROLLBACK ${item.rest()}`)
      return DONE
    }
    if (item.take('set')) {
      item.takeOne('session', 'local')
      // "foreign_key_checks": all else that a session is told, this one does anyway, or does not know.
      if (item.take('foreign_key_checks', '=')) this.rows.foreignKeys(/^(1|on|true)$/i.test(item.rest()))
      return DONE
    }
    // "DO Statement" (15.2.3): what it works out is shown to nobody.
    if (item.take('do')) return { ...this.data(`SELECT ${item.rest()}`, 0), ...DONE }
    if (item.take('use')) {
      const name = item.name()
      if (name !== HOME) throw new Refused(`Unknown database '${name}'`, 1049)
      return DONE
    }
    throw new Refused(`This stand-in does not carry out ${item.word().toUpperCase()}`, 1064)
  }

  private end(how: 'COMMIT' | 'ROLLBACK'): Answer {
    if (this.isOpen) this.rows.run(how)
    this.isOpen = false
    return DONE
  }

  /** "SHOW Statements" (15.7.7), those that people type most. */
  private show(item: Cursor): Answer {
    const answer = (columns: readonly string[], rows: Answer['rows']): Answer => ({
      columns,
      rows,
      more: false,
      affected: 0
    })
    const isShow = item.take('show')
    if (isShow && item.take('databases')) return answer(['Database'], [[HOME]])
    if (isShow && item.take('tables'))
      return this.data(`SELECT table_name AS \`Tables_in_${HOME}\` FROM information_schema.tables ORDER BY table_name`)
    if (isShow && item.take('create', 'table')) {
      const name = item.path().at(-1) ?? ''
      const table = this.structure.table(name)
      if (!table) throw new Refused(`Table '${HOME}.${name}' doesn't exist`, 1146)
      const [own = ''] = writeScript(
        { ...this.structure.catalog(), tables: [table], views: [], routines: [] },
        this.dialect
      ).map(({ sql }) => sql)
      return answer(['Table', 'Create Table'], [[table.name, own]])
    }
    if (!isShow) item.next()
    const isOfColumns = !isShow || item.take('columns', 'from')
    if (!isOfColumns) throw new Refused(`This stand-in does not show ${item.rest().toUpperCase()}`, 1064)
    const name = item.path().at(-1) ?? ''
    if (!this.structure.table(name)) throw new Refused(`Table '${HOME}.${name}' doesn't exist`, 1146)
    return this.data(
      `SELECT column_name AS Field, column_type AS Type, is_nullable AS \`Null\`, column_key AS \`Key\`, column_default AS \`Default\`, extra AS Extra
       FROM information_schema.columns WHERE table_name = ${literal(name)} ORDER BY ordinal_position`
    )
  }
}

/** Without what tells functions of MySQL's apart there. */
const asSaid = (column: string): string => column.replace(/\b_([a-z][a-z0-9_]*)\(/g, '$1(')

/** As the driver gives it: a whole number that no double holds as text, bytes in hexadecimal digits. */
function plain(value: unknown): unknown {
  if (typeof value === 'bigint') return Number.isSafeInteger(Number(value)) ? Number(value) : String(value)
  if (value instanceof Uint8Array) return `0x${[...value].map((byte) => byte.toString(16).padStart(2, '0')).join('')}`
  return value
}
