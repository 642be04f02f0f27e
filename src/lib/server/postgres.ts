// A PostgreSQL server over the network, by the driver `pg`.
import pg from 'pg'
import { dialect, type Dialect } from '../core/dialects'
import type { LiveDatabase, QueryResult, Refusal, StatementOutcome } from '../live'
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
      for (const sql of ['BEGIN', ...(postgres.session ?? [])]) await client.query(sql)
      for (const statement of statements) {
        const start = performance.now()
        try {
          const result = await client.query(statement)
          outcomes.push({ ok: true, time: performance.now() - start, affected: result.rowCount ?? 0 })
        } catch (error) {
          await client.query('ROLLBACK')
          return [...outcomes, { ok: false, time: performance.now() - start, affected: 0, error: errorOf(error) }]
        }
      }
      try {
        await client.query('COMMIT')
        return outcomes
      } catch (error) {
        return [...outcomes.slice(0, -1), { ok: false, time: 0, affected: 0, error: errorOf(error) }]
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
