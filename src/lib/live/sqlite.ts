// A real SQLite in this process (WebAssembly), held in memory; what it holds is stored after each run.
import type { Database, SqlJsStatic, SqlValue } from 'sql.js'
import { dialect, type Dialect } from '../core/dialects'
import { splitStatements } from '../core/sql'
import { inTurn } from './turn'
import { ROWS_SHOWN, STILL_OPEN, type LiveDatabase, type QueryResult, type StatementOutcome } from './database'
import { mustRead, onlyReads } from './reading'

/** Where a database file is kept. */
export interface FileKeeper {
  load(): Promise<Uint8Array | undefined>
  /** `file` makes the file. */
  save(file: () => Uint8Array): Promise<void>
}

/** Opens the database file that a keeper holds, or a new one. */
export async function openSqlite(engine: SqlJsStatic, keeper: FileKeeper): Promise<LiveDatabase> {
  const db = new engine.Database(await keeper.load())
  db.run('PRAGMA foreign_keys = ON')
  const save = () =>
    keeper.save(() => {
      const file = db.export()
      // Exporting opens the database anew.
      db.run('PRAGMA foreign_keys = ON')
      return file
    })
  return inTurn(opened(db, save), save)
}

const sqlite = dialect('sqlite') as Dialect

function opened(db: Database, save: () => Promise<void>): LiveDatabase {
  /** The engine prepares the first statement of a text and passes over the rest: that is told, not left out. */
  const prepare = (sql: string) => {
    const statement = db.prepare(sql)
    const [next] = splitStatements(sql.slice(statement.getSQL().length), sqlite.write.lexis)
    if (!next) return statement
    statement.free()
    throw new Error(`more than one statement: “${next.sql.slice(0, 40)}” would not be run`)
  }
  const read = (sql: string, most = Infinity): QueryResult => {
    const statement = prepare(sql)
    try {
      const rows: unknown[][] = []
      let more = false
      while (!more && statement.step())
        if (rows.length < most) rows.push(statement.get().map(plain))
        else more = true
      return { columns: statement.getColumnNames(), rows, affected: 0, ...(more ? { more } : {}) }
    } finally {
      statement.free()
    }
  }
  const keyed = async (sql: string) => {
    const { columns, rows } = read(sql)
    return rows.map((row) => Object.fromEntries(columns.map((name, i) => [name, row[i]])))
  }
  /** The engine tells by refusing to begin another. */
  const isOpen = (): boolean => {
    try {
      db.run('BEGIN')
      db.run('ROLLBACK')
      return false
    } catch {
      return true
    }
  }
  /** Only a person begins a transaction and leaves it open: it is looked for after what he has sent. */
  let open = false
  const mustBeClosed = () => {
    if (open) throw new Error(STILL_OPEN)
  }
  const violations = () => read('PRAGMA foreign_key_check').rows.length

  async function run(statements: readonly string[]): Promise<StatementOutcome[]> {
    mustBeClosed()
    const outcomes: StatementOutcome[] = []
    let start = performance.now()
    const refused = (error: unknown): StatementOutcome[] => {
      if (inTransaction) db.run('ROLLBACK')
      const message = error instanceof Error ? error.message : String(error)
      return [...outcomes, { ok: false, time: performance.now() - start, affected: 0, error: { message } }]
    }
    let inTransaction = false
    // "PRAGMA foreign_keys" does nothing inside a transaction; a table that is made again needs them off.
    db.run('PRAGMA foreign_keys = OFF')
    try {
      const before = violationsOr(violations)
      db.run('BEGIN')
      inTransaction = true
      for (const statement of statements) {
        start = performance.now()
        db.run(statement)
        outcomes.push({ ok: true, time: performance.now() - start, affected: db.getRowsModified() })
      }
      if (violations() > before) {
        const [first] = read('PRAGMA foreign_key_check').rows
        outcomes.pop()
        throw new Error(
          `foreign key check failed: a row of ${String(first?.[0])} names no row of ${String(first?.[2])}`
        )
      }
      db.run('COMMIT')
      inTransaction = false
    } catch (error) {
      return refused(error)
    } finally {
      db.run('PRAGMA foreign_keys = ON')
    }
    return outcomes
  }

  /** What only reads: the engine refuses to change anything. */
  const reading = (sql: string, most?: number) => {
    mustRead(sql, sqlite)
    db.run('PRAGMA query_only = ON')
    try {
      return read(sql, most)
    } finally {
      db.run('PRAGMA query_only = OFF')
    }
  }

  return {
    engine: 'sqlite',
    // It is in memory here anyway.
    rows: async (sql) => reading(sql ?? ''),
    endRows: async () => undefined,
    catalog: async () => {
      const queries = sqlite.introspect
      if (!queries) throw new Error('SQLite has catalogue queries')
      mustBeClosed()
      return queries.read(keyed)
    },
    query: async (sql, { readOnly, byHand } = {}) => {
      if (!byHand) mustBeClosed()
      if (readOnly) return { ...reading(sql, ROWS_SHOWN), ...(open ? { open: true } : {}) }
      const changes = Number(read('SELECT total_changes()').rows[0]?.[0])
      const result = read(sql, ROWS_SHOWN)
      const affected = Number(read('SELECT total_changes()').rows[0]?.[0]) - changes
      if (byHand) open = isOpen()
      // A file that is stored now would not have what is still open, nor the session the transaction.
      if (!open && !onlyReads(sql, sqlite)) await save()
      return { ...result, affected, ...(open ? { open: true } : {}) }
    },
    run,
    close: async () => db.close()
  }
}

/** Foreign keys that go to no key make the check itself fail: then nothing is known of before. */
function violationsOr(count: () => number): number {
  try {
    return count()
  } catch {
    return Infinity
  }
}

const plain = (value: SqlValue): unknown =>
  value instanceof Uint8Array ? `x'${[...value].map((byte) => byte.toString(16).padStart(2, '0')).join('')}'` : value
