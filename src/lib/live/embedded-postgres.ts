// A real PostgreSQL in this process (WebAssembly), held in memory; what it holds is stored after each run.
import { PGlite } from '@electric-sql/pglite'
import type { Catalog } from '../core/catalog'
import { dialect, type Dialect } from '../core/dialects'
import { inTurn } from './turn'
import {
  ROWS_SHOWN,
  STILL_OPEN,
  type LiveDatabase,
  type QueryResult,
  type Refusal,
  type StatementOutcome
} from './database'
import { mustRead, onlyReads } from './reading'

/** Where a database is kept between visits. */
export interface Keeper {
  load(): Promise<Blob | undefined>
  /** `dump` makes the archive, which takes its time. */
  save(dump: () => Promise<Blob>): Promise<void>
}

/**
 * Opens the database that a keeper holds, or a new one from the cluster template. The template and what is kept are
 * archives of a data directory.
 */
export async function openEmbeddedPostgres(keeper: Keeper, template: () => Promise<Blob>): Promise<LiveDatabase> {
  const loadDataDir = (await keeper.load()) ?? (await template())
  const db = await PGlite.create({ loadDataDir })
  const save = () => keeper.save(() => db.dumpDataDir('none'))
  return inTurn(embedded(db, save), save)
}

const postgres = dialect('postgres') as Dialect

function embedded(db: PGlite, save: () => Promise<void>): LiveDatabase {
  const rows = async (sql: string) => (await db.query<Record<string, unknown>>(sql)).rows

  /** A savepoint is for transactions only: outside of one it is refused by this code ("Appendix A"). */
  const isOpen = () =>
    db.exec('SAVEPOINT probe; RELEASE SAVEPOINT probe').then(
      () => true,
      (error: unknown) => (error as { code?: string }).code !== '25P01'
    )
  /** Only a person begins a transaction and leaves it open: it is looked for after what he has sent. */
  let open = false
  const mustBeClosed = () => {
    if (open) throw new Error(STILL_OPEN)
  }

  async function run(statements: readonly string[]): Promise<StatementOutcome[]> {
    mustBeClosed()
    const outcomes: StatementOutcome[] = []
    for (const sql of ['BEGIN', ...(postgres.session ?? [])]) await db.exec(sql)
    for (const statement of statements) {
      const start = performance.now()
      try {
        const results = await db.exec(statement)
        const affected = results.reduce((sum, result) => sum + (result.affectedRows ?? 0), 0)
        outcomes.push({ ok: true, time: performance.now() - start, affected })
      } catch (error) {
        await db.exec('ROLLBACK')
        outcomes.push({ ok: false, time: performance.now() - start, affected: 0, error: errorOf(error) })
        return outcomes
      }
    }
    try {
      // A constraint that is checked at the end may refuse only now.
      await db.exec('COMMIT')
    } catch (error) {
      const last = outcomes.pop()
      outcomes.push({ ok: false, time: last?.time ?? 0, affected: 0, error: errorOf(error) })
      return outcomes
    }
    return outcomes
  }

  const ask = (on: Pick<PGlite, 'query'>, sql: string) => on.query<unknown[]>(sql, [], { rowMode: 'array' })
  const reading = (sql: string) =>
    db.transaction(async (tx) => {
      await tx.query('SET TRANSACTION READ ONLY')
      return ask(tx as unknown as PGlite, sql)
    })

  return {
    engine: 'postgres',
    // It is in memory here anyway.
    rows: async (sql = '') => {
      mustRead(sql, postgres)
      const { fields, rows: all } = await (open ? ask(db, sql) : reading(sql))
      return { columns: fields.map((field) => field.name), rows: all.map((row) => row.map(plain)), affected: 0 }
    },
    endRows: async () => undefined,
    catalog: async (): Promise<Catalog> => {
      const queries = postgres.introspect
      if (!queries) throw new Error('PostgreSQL has catalogue queries')
      mustBeClosed()
      return queries.read(rows)
    },
    query: async (sql, { readOnly, byHand } = {}): Promise<QueryResult> => {
      if (!byHand) mustBeClosed()
      if (readOnly) mustRead(sql, postgres)
      // Within a transaction of his own, what a person asks is part of it.
      const result = await (readOnly && !open ? reading(sql) : ask(db, sql))
      if (byHand) open = await isOpen()
      if (!open && !readOnly && !onlyReads(sql, postgres)) await save()
      return {
        columns: result.fields.map((field) => field.name),
        rows: result.rows.slice(0, ROWS_SHOWN).map((row) => row.map(plain)),
        affected: result.affectedRows ?? 0,
        ...(result.rows.length > ROWS_SHOWN ? { more: true } : {}),
        ...(open ? { open: true } : {})
      }
    },
    run,
    close: () => db.close()
  }
}

/** A value that a person can read and a message channel can carry. */
function plain(value: unknown): unknown {
  if (value instanceof Date) return value.toISOString()
  if (value instanceof Uint8Array) return `\\x${[...value].map((byte) => byte.toString(16).padStart(2, '0')).join('')}`
  return typeof value === 'object' && value !== null
    ? JSON.stringify(value)
    : typeof value === 'bigint'
      ? String(value)
      : value
}

function errorOf(error: unknown): Refusal {
  const { message, code, detail, position } = error as {
    message?: string
    code?: string
    detail?: string
    position?: string
  }
  return {
    message: message ?? String(error),
    ...(code ? { code } : {}),
    ...(detail ? { detail } : {}),
    ...(position ? { position: Number(position) } : {})
  }
}
