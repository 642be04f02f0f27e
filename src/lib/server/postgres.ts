// A PostgreSQL server over the network, by the driver `pg`.
import { Socket } from 'node:net'
import { setTimeout as pause } from 'node:timers/promises'
import pg from 'pg'
import Cursor from 'pg-cursor'
import { dialect, type DatabaseSettings, type Dialect } from '../core/dialects'
import {
  inBatches,
  LineLost,
  mustRead,
  ROWS_SHOWN,
  type LiveDatabase,
  type QueryResult,
  type RowSource,
  type Refusal,
  type StatementOutcome
} from '../live'
import type { Access } from './open'

const config = (from: string | Access): pg.ClientConfig => ({
  ...where(from),
  connectionTimeoutMillis: PATIENCE,
  // Left to itself, the driver looks for other places than Node that it might run in.
  stream: () => new Socket()
})

const where = (from: string | Access): pg.ClientConfig =>
  typeof from === 'string'
    ? { connectionString: from }
    : {
        host: from.host,
        port: from.port,
        database: from.database,
        user: from.user,
        // As a function: an empty one is sent as it is, and not looked for elsewhere.
        password: () => from.password,
        // Encrypted where asked for; the certificate must then be one that this machine trusts.
        ...(from.tls ? { ssl: true } : {})
      }

/** Milliseconds until a server that does not answer is given up. */
const PATIENCE = 10_000

const postgres = dialect('postgres') as Dialect

async function connected(from: string | Access): Promise<pg.Client> {
  const client = new pg.Client({ ...config(from), application_name: 'ramblet' })
  // A connection that breaks while nobody waits for it: the next thing asked of it fails and says so.
  client.on('error', () => undefined)
  await client.connect()
  return client
}

/**
 * Opens a connection, and one more for what a person asks once he does: what he says to that session changes nothing of
 * what is read and run. A URL's password, or the driver's own environment variables, are used and never kept.
 */
export async function openPostgres(from: string | Access): Promise<LiveDatabase> {
  const client = await connected(from)
  const rows = atOnce((sql) => client.query<Record<string, unknown>>(sql))
  let asking: Promise<pg.Client> | undefined
  let busy: pg.Client = client
  const ownSession = () =>
    (asking ??= connected(from)).catch((error: unknown) => {
      asking = undefined
      throw error
    })
  /** Whatever is not the engine's own word is the end of the line. */
  const orLost = (error: unknown): never => {
    if (error instanceof pg.DatabaseError && error.severity === 'ERROR') throw error
    throw new LineLost(`The connection was lost: ${messageOf(error)}.`)
  }

  return {
    engine: 'postgres',
    catalog: async () => {
      const queries = postgres.introspect
      if (!queries) throw new Error('PostgreSQL has catalogue queries')
      busy = client
      return queries.read(rows).catch(orLost)
    },
    query: async (sql, { readOnly, byHand } = {}): Promise<QueryResult> => {
      if (readOnly) mustRead(sql, postgres)
      const asked = byHand ? await ownSession() : client
      busy = asked
      const messages: string[] = []
      const listen = (notice: { message?: string | undefined }) =>
        void (notice.message && messages.push(notice.message))
      asked.on('notice', listen)
      try {
        // Within a transaction of his own, what he asks is part of it.
        const own = readOnly && asked.getTransactionStatus() === 'I'
        if (own) await asked.query('BEGIN READ ONLY')
        const result = await firstRows(asked, sql).finally(() =>
          own ? asked.query('ROLLBACK').catch(() => undefined) : undefined
        )
        const open = asked.getTransactionStatus() !== 'I'
        return { ...result, ...(messages.length ? { messages } : {}), ...(open ? { open } : {}) }
      } catch (error) {
        return orLost(error)
      } finally {
        asked.off('notice', listen)
      }
    },
    ...inBatches(async (sql) => {
      mustRead(sql, postgres)
      const own = await connected(from)
      try {
        await own.query('BEGIN READ ONLY')
        return allRows(own, sql)
      } catch (error) {
        await own.end().catch(() => undefined)
        throw error
      }
    }),
    run: async (statements) => {
      const outcomes: StatementOutcome[] = []
      let start = performance.now()
      /** Before COMMIT is sent, whatever goes wrong leaves nothing behind: an engine that is cut off rolls back. */
      const undone = async (error: unknown): Promise<StatementOutcome[]> => {
        const time = performance.now() - start
        const lost = !isRefusal(error)
        if (!lost) await client.query('ROLLBACK').catch(() => undefined)
        const told = lost ? lostBefore(error, 'It was never committed') : errorOf(error)
        // What is told is told of a statement: of the last one, where all had been carried out.
        return [...outcomes.slice(0, statements.length - 1), { ok: false, time, affected: 0, error: told }]
      }
      let transaction = ''
      busy = client
      try {
        for (const sql of ['BEGIN', ...(postgres.session ?? [])]) await client.query(sql)
        for (const statement of statements) {
          start = performance.now()
          const result = await client.query(statement)
          outcomes.push({ ok: true, time: performance.now() - start, affected: result.rowCount ?? 0 })
        }
        const [own] = await rows('SELECT txid_current()::text AS id')
        transaction = String(own?.['id'])
      } catch (error) {
        return undone(error)
      }
      try {
        await client.query('COMMIT')
        return outcomes
      } catch (error) {
        const whole = outcomes.slice(0, -1)
        if (isRefusal(error)) return [...whole, { ok: false, time: 0, affected: 0, error: errorOf(error) }]
        if (await wasCommitted(transaction, from, error)) return outcomes
        const told = lostBefore(error, 'The server says that it was rolled back')
        return [...whole, { ok: false, time: 0, affected: 0, error: told }]
      }
    },
    // `pg_cancel_backend`, over another connection: this one is busy.
    cancel: async () => {
      const other = await connected(from)
      const pid = (busy as pg.Client & { processID: number | null }).processID
      await other.query('SELECT pg_cancel_backend($1)', [pid]).finally(() => other.end())
    },
    close: async () => {
      await asking?.then((asked) => asked.end()).catch(() => undefined)
      await client.end()
    }
  }
}

type Rows = readonly Readonly<Record<string, unknown>>[]
type Answer = pg.QueryResult<Record<string, unknown>>

/** Statements that are asked in one go are sent as one message ("Simple Query"), so that none waits for another's answer. */
function atOnce(send: (sql: string) => Promise<Answer | Answer[]>): (sql: string) => Promise<Rows> {
  let waiting: { sql: string; resolve: (rows: Rows) => void; reject: (error: unknown) => void }[] = []
  const flush = () => {
    const asked = waiting
    waiting = []
    send(asked.map(({ sql }) => sql).join(';\n')).then(
      (answer) => {
        const answers = Array.isArray(answer) ? answer : [answer]
        asked.forEach(({ resolve }, i) => resolve(answers[i]?.rows ?? []))
      },
      (error: unknown) => asked.forEach(({ reject }) => reject(error))
    )
  }
  return (sql) =>
    new Promise((resolve, reject) => {
      if (waiting.length === 0) queueMicrotask(flush)
      waiting.push({ sql, resolve, reject })
    })
}

/** The first rows of one statement: "Extended Query", where the server itself refuses a text that holds more than one. */
async function firstRows(client: pg.Client, sql: string): Promise<QueryResult> {
  const cursor = client.query(new Cursor<unknown[]>(sql, [], { rowMode: 'array' }))
  try {
    const rows = await cursor.read(ROWS_SHOWN + 1)
    const { fields, rowCount } = resultOf(cursor)
    return {
      columns: fields.map((field) => field.name),
      rows: rows.slice(0, ROWS_SHOWN).map((row) => row.map(plain)),
      affected: rowCount ?? 0,
      ...(rows.length > ROWS_SHOWN ? { more: true } : {})
    }
  } finally {
    await cursor.close()
  }
}

/** What the cursor knows of its answer beside the rows. */
const resultOf = (cursor: Cursor) => (cursor as unknown as { _result: pg.QueryArrayResult })._result

function allRows(client: pg.Client, sql: string): RowSource {
  const cursor = client.query(new Cursor<unknown[]>(sql, [], { rowMode: 'array' }))
  async function* rows() {
    for (;;) {
      const some = await cursor.read(500)
      for (const row of some) yield row.map(plain)
      if (some.length === 0) return
    }
  }
  return {
    columns: () => resultOf(cursor).fields.map((field) => field.name),
    rows: rows(),
    end: () => client.end()
  }
}

/** The engine's own word on a statement; a FATAL one ends the session, and says nothing of the statement. */
const isRefusal = (error: unknown): boolean => error instanceof pg.DatabaseError && error.severity === 'ERROR'

const lostBefore = (error: unknown, known: string): Refusal => ({
  message: `The connection was lost (${messageOf(error)}). ${known}: nothing of it was done.`
})

/** Asked over a new connection: "Transaction ID and Snapshot Information Functions", `txid_status`. */
async function wasCommitted(transaction: string, from: string | Access, error: unknown): Promise<boolean> {
  const unknown = new LineLost(
    `The connection was lost before the server said whether it committed (${messageOf(error)}).`
  )
  const other = new pg.Client(config(from))
  other.on('error', () => undefined)
  try {
    await other.connect()
    for (let tries = 0; tries < 100; tries++) {
      const { rows } = await other.query<{ status: string | null }>('SELECT txid_status($1) AS status', [transaction])
      const status = rows[0]?.status
      if (status === 'committed') return true
      if (status === 'aborted') return false
      if (status !== 'in progress') break
      await pause(100)
    }
  } catch {
    // The server is not there to be asked.
  } finally {
    await other.end().catch(() => undefined)
  }
  throw unknown
}

const messageOf = (error: unknown) => (error instanceof Error ? error.message : String(error))

export async function postgresDatabases(access: Access): Promise<string[]> {
  const live = await openPostgres({ ...access, database: access.database || 'postgres' })
  try {
    const { rows } = await live.query(
      `SELECT datname FROM pg_database WHERE datallowconn AND NOT datistemplate ORDER BY 1`
    )
    return rows.map(([name]) => String(name))
  } finally {
    await live.close()
  }
}

/** Makes a database, from the one that every server has. */
export async function makePostgres(access: Access, settings: DatabaseSettings): Promise<void> {
  const sql = postgres.newDatabase?.statement(access.database, settings) ?? ''
  const client = new pg.Client(config({ ...access, database: 'postgres' }))
  client.on('error', () => undefined)
  try {
    await client.connect()
    // It cannot be in a transaction: manual, CREATE DATABASE, Notes.
    await client.query(sql)
  } finally {
    await client.end().catch(() => undefined)
  }
}

/** A value that a person can read and JSON can carry. */
function plain(value: unknown): unknown {
  if (value instanceof Date) return value.toISOString()
  if (Buffer.isBuffer(value)) return `\\x${value.toString('hex')}`
  return typeof value === 'object' && value !== null ? JSON.stringify(value) : value
}

function errorOf(error: unknown): Refusal {
  if (!(error instanceof pg.DatabaseError)) return { message: error instanceof Error ? error.message : String(error) }
  const { message, code, detail, position } = error
  return {
    message,
    ...(code ? { code } : {}),
    ...(detail ? { detail } : {}),
    ...(position ? { position: Number(position) } : {})
  }
}
