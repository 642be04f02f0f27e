// A PostgreSQL server over the network, by the driver `pg`.
import { setTimeout as pause } from 'node:timers/promises'
import pg from 'pg'
import { dialect, type Dialect } from '../core/dialects'
import { LineLost, type LiveDatabase, type QueryResult, type Refusal, type StatementOutcome } from '../live'
import type { Access } from './open'

const config = (from: string | Access): pg.ClientConfig =>
  typeof from === 'string'
    ? { connectionString: from }
    : {
        host: from.host,
        port: from.port,
        database: from.database,
        user: from.user,
        password: from.password,
        // Encrypted where asked for; the certificate must then be one that this machine trusts.
        ...(from.tls ? { ssl: true } : {}),
        connectionTimeoutMillis: 10_000
      }

const postgres = dialect('postgres') as Dialect

/** Opens a connection; a URL's password, or the driver's own environment variables, are used and never kept. */
export async function openPostgres(from: string | Access): Promise<LiveDatabase> {
  const client = new pg.Client({ ...config(from), application_name: 'ramblet' })
  // A connection that breaks while nobody waits for it: the next thing asked of it fails and says so.
  client.on('error', () => undefined)
  await client.connect()
  const { rows: own } = await client.query<{ pid: number }>('SELECT pg_backend_pid() AS pid')
  const rows = async (sql: string) => (await client.query<Record<string, unknown>>(sql)).rows

  return {
    engine: 'postgres',
    catalog: async () => {
      const queries = postgres.introspect
      if (!queries) throw new Error('PostgreSQL has catalogue queries')
      return queries.read(rows)
    },
    query: async (sql, { readOnly } = {}): Promise<QueryResult> => {
      const messages: string[] = []
      const listen = (notice: { message?: string | undefined }) =>
        void (notice.message && messages.push(notice.message))
      client.on('notice', listen)
      try {
        if (readOnly) await client.query('BEGIN READ ONLY')
        const result = await client.query<unknown[]>(oneStatement(sql))
        return {
          columns: result.fields.map((field) => field.name),
          rows: result.rows.map((row) => row.map(plain)),
          affected: result.rowCount ?? 0,
          ...(messages.length ? { messages } : {})
        }
      } finally {
        client.off('notice', listen)
        if (readOnly) await client.query('ROLLBACK').catch(() => undefined)
      }
    },
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
      const other = new pg.Client({ ...config(from), application_name: 'ramblet' })
      await other.connect()
      await other.query('SELECT pg_cancel_backend($1)', [own[0]?.pid]).finally(() => other.end())
    },
    close: () => client.end()
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

/** "Extended Query": the server itself refuses a text that holds more than one statement. */
const oneStatement = (text: string): pg.QueryArrayConfig =>
  ({ text, rowMode: 'array', queryMode: 'extended' }) as pg.QueryArrayConfig

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
