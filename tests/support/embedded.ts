// One embedded PostgreSQL for a test file, emptied between cases.
import { PGlite } from '@electric-sql/pglite'
import { readFile } from 'node:fs/promises'
import type { RunQuery } from '../../src/lib/core/dialects'

export interface Embedded {
  readonly query: RunQuery
  exec(sql: string): Promise<unknown>
  /** Back to an empty database. */
  reset(): Promise<void>
  close(): Promise<void>
}

/** The archive of an empty cluster. */
export const template = async (): Promise<Blob> =>
  new Blob([new Uint8Array(await readFile(new URL('../../src/lib/live/generated/cluster.tar.gz', import.meta.url)))])

export async function embeddedPostgres(): Promise<Embedded> {
  const db = await PGlite.create({ loadDataDir: await template() })
  return {
    query: async (sql) => (await db.query<Record<string, unknown>>(sql)).rows,
    exec: (sql) => db.exec(sql),
    reset: async () => {
      await db.exec('DROP SCHEMA IF EXISTS quay CASCADE; DROP SCHEMA public CASCADE; CREATE SCHEMA public')
    },
    close: () => db.close()
  }
}
