// The engines that laws are tried on: a database that is emptied between cases.
import initSqlJs from 'sql.js'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import type { Table } from '../../src/lib/core/catalog'
import type { LiveDatabase } from '../../src/lib/live'
import { openEmbeddedPostgres } from '../../src/lib/live/embedded-postgres'
import { openSqlite } from '../../src/lib/live/sqlite'
import { readFile } from 'node:fs/promises'

export interface Playground {
  readonly dialect: Dialect
  readonly live: LiveDatabase
  /** Runs one statement by itself; throws what the engine says. */
  exec(sql: string): Promise<void>
  /** Back to an empty database. */
  reset(): Promise<void>
  /** Takes all rows out of tables. */
  empty(tables: readonly Table[]): Promise<void>
  close(): Promise<void>
}

export interface EngineUnderTest {
  readonly id: string
  readonly label: string
  /** Why it cannot be tried here. */
  readonly lacking?: string | undefined
  open(): Promise<Playground>
}

const nowhere = { load: async () => undefined, save: async () => undefined }

async function run(live: LiveDatabase, statements: readonly string[]) {
  const refused = (await live.run(statements)).find((outcome) => outcome.error)
  if (refused?.error) throw new Error(refused.error.message)
}

const known = (id: string, version?: string): Dialect => {
  const found = dialectOf(id, version)
  if (!found) throw new Error(`${id} is an engine that is known`)
  return found
}

async function embeddedPostgres(): Promise<Playground> {
  const file = await readFile(new URL('../../src/lib/live/generated/cluster.tar.gz', import.meta.url))
  const live = await openEmbeddedPostgres(nowhere, async () => new Blob([new Uint8Array(file)]))
  const postgres = known('postgres')
  return {
    dialect: postgres,
    live,
    exec: async (sql) => void (await live.query(sql)),
    reset: async () => {
      for (const sql of ['DROP SCHEMA IF EXISTS quay CASCADE', 'DROP SCHEMA public CASCADE', 'CREATE SCHEMA public'])
        await live.query(sql)
    },
    empty: async (tables) => {
      for (const { schema, name } of tables) await live.query(`TRUNCATE ${postgres.write.table(schema, name)} CASCADE`)
    },
    close: () => live.close()
  }
}

async function embeddedSqlite(): Promise<Playground> {
  const engine = await initSqlJs()
  const dialect = known('sqlite')
  let live = await openSqlite(engine, nowhere)
  return {
    dialect,
    get live() {
      return live
    },
    exec: async (sql) => void (await live.query(sql)),
    reset: async () => {
      await live.close()
      live = await openSqlite(engine, nowhere)
    },
    empty: async (tables) => {
      await run(
        live,
        tables.map(({ schema, name }) => `DELETE FROM ${dialect.write.table(schema, name)}`)
      )
    },
    close: () => live.close()
  }
}

export const ENGINES_UNDER_TEST: readonly EngineUnderTest[] = [
  { id: 'postgres', label: 'embedded PostgreSQL', open: embeddedPostgres },
  { id: 'sqlite', label: 'embedded SQLite', open: embeddedSqlite }
]
