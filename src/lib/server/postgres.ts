// A PostgreSQL server over the network, by the driver `pg`.
import pg from 'pg'
import { dialect } from '../core/dialects'
import type { LiveDatabase, QueryResult, StatementOutcome } from '../live'

/** Opens a connection; the URL's password, or the driver's own environment variables, are used and never kept. */
export async function openPostgres(url: string): Promise<LiveDatabase> {
  const client = new pg.Client({ connectionString: url, application_name: 'ramblet' })
  await client.connect()
  const rows = async (sql: string) => (await client.query<Record<string, unknown>>(sql)).rows

  return {
    engine: 'postgres',
    catalog: async () => {
      const queries = dialect('postgres')?.introspect
      if (!queries) throw new Error('PostgreSQL has catalogue queries')
      return queries.read(rows)
    },
    query: async (sql): Promise<QueryResult> => {
      const result = await client.query<unknown[]>({ text: sql, rowMode: 'array' })
      return { columns: result.fields.map((field) => field.name), rows: result.rows, affected: result.rowCount ?? 0 }
    },
    run: async (statements) => {
      const outcomes: StatementOutcome[] = []
      await client.query('BEGIN')
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
    close: () => client.end()
  }
}

function errorOf(error: unknown): NonNullable<StatementOutcome['error']> {
  if (!(error instanceof pg.DatabaseError)) return { message: error instanceof Error ? error.message : String(error) }
  const { message, code, detail, position } = error
  return {
    message,
    ...(code ? { code } : {}),
    ...(detail ? { detail } : {}),
    ...(position ? { position: Number(position) } : {})
  }
}
