// The engines that laws are tried on: a database that is emptied between cases.
import pg from 'pg'
import initSqlJs from 'sql.js'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import type { Table } from '../../src/lib/core/catalog'
import type { LiveDatabase } from '../../src/lib/live'
import { openEmbeddedPostgres } from '../../src/lib/live/embedded-postgres'
import { openMariadb } from '../../src/lib/server/mariadb'
import { openPostgres } from '../../src/lib/server/postgres'
import { startMariadb, startPostgres, whyNoMariadb, whyNoPostgres } from './servers'
import { openSqlite } from '../../src/lib/live/sqlite'
import { readFile } from 'node:fs/promises'

export interface Playground {
  readonly dialect: Dialect
  readonly live: LiveDatabase
  /** Runs one statement by itself; throws what the engine says. */
  exec(sql: string): Promise<void>
  /** Back to an empty database. */
  reset(): Promise<void>
  /** Begins a transaction of statements and is killed before it ends: nothing of it may be left. */
  half(statements: readonly string[]): Promise<void>
  /** Takes all rows out of tables. */
  empty(tables: readonly Table[]): Promise<void>
  close(): Promise<void>
}

export interface EngineUnderTest {
  readonly id: string
  readonly label: string
  readonly engine: string
  readonly version?: string
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
    half: async (statements) => {
      // A statement that is refused ends the transaction as a kill would.
      await live.run([...statements, 'SELECT 1 / 0'])
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
    half: async (statements) => {
      await live.run([...statements, 'SELECT no_such_thing()'])
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

async function postgresServer(): Promise<Playground> {
  const server = await startPostgres()
  const url = await server.create('harbour')
  const live = await openPostgres(url)
  const dialect = known('postgres', '15')
  return {
    dialect,
    live,
    exec: async (sql) => void (await live.query(sql)),
    reset: async () => {
      for (const sql of ['DROP SCHEMA IF EXISTS quay CASCADE', 'DROP SCHEMA public CASCADE', 'CREATE SCHEMA public'])
        await live.query(sql)
    },
    // Another connection begins the work and is cut from the server's side.
    half: async (statements) => {
      const other = new pg.Client({ connectionString: url })
      other.on('error', () => undefined)
      await other.connect()
      await other.query('BEGIN')
      for (const statement of statements) await other.query(statement)
      const { rows } = await other.query<{ pid: number }>('SELECT pg_backend_pid() AS pid')
      await live.query(`SELECT pg_terminate_backend(${rows[0]?.pid ?? 0})`)
      while ((await live.query(`SELECT 1 FROM pg_stat_activity WHERE pid = ${rows[0]?.pid ?? 0}`)).rows.length > 0);
    },
    empty: async (tables) => {
      for (const { schema, name } of tables) await live.query(`TRUNCATE ${dialect.write.table(schema, name)} CASCADE`)
    },
    close: async () => {
      await live.close()
      await server.stop()
    }
  }
}

async function mariadbServer(): Promise<Playground> {
  const server = await startMariadb()
  const live = await openMariadb(await server.create('harbour'))
  const dialect = known('mariadb', '10.11')
  return {
    dialect,
    live,
    exec: async (sql) => void (await live.query(sql)),
    reset: () => run(live, ['DROP DATABASE harbour', 'CREATE DATABASE harbour', 'USE harbour']),
    // Each statement is all or nothing by itself: one that is cut off in time has left nothing.
    half: async () => undefined,
    empty: (tables) =>
      run(live, [
        'SET foreign_key_checks = 0',
        ...tables.map(({ name }) => `DELETE FROM ${dialect.write.quote(name)}`),
        'SET foreign_key_checks = 1'
      ]),
    close: async () => {
      await live.close()
      await server.stop()
    }
  }
}

export const ENGINES_UNDER_TEST: readonly EngineUnderTest[] = [
  { id: 'postgres', label: 'embedded PostgreSQL', engine: 'postgres', open: embeddedPostgres },
  { id: 'sqlite', label: 'embedded SQLite', engine: 'sqlite', open: embeddedSqlite },
  {
    id: 'postgres-15',
    label: 'PostgreSQL server',
    engine: 'postgres',
    version: '15',
    lacking: whyNoPostgres(),
    open: postgresServer
  },
  {
    id: 'mariadb',
    label: 'MariaDB server',
    engine: 'mariadb',
    version: '10.11',
    lacking: whyNoMariadb(),
    open: mariadbServer
  }
]
