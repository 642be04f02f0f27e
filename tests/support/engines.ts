// The engines that laws are tried on: a database that is emptied between cases.
import firebird from 'node-firebird'
import pg from 'pg'
import initSqlJs from 'sql.js'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import type { Table } from '../../src/lib/core/catalog'
import type { LiveDatabase } from '../../src/lib/live'
import { openEmbeddedPostgres } from '../../src/lib/live/embedded-postgres'
import { openFirebird } from '../../src/lib/server/firebird'
import { openMariadb } from '../../src/lib/server/mariadb'
import { openPostgres } from '../../src/lib/server/postgres'
import { startFirebird, startMariadb, startPostgres, whyNoFirebird, whyNoMariadb, whyNoPostgres } from './servers'
import { openSqlite } from '../../src/lib/live/sqlite'
import { rmSync } from 'node:fs'
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
  const outcomes = await live.run(statements)
  const refused = outcomes.findIndex((outcome) => outcome.error)
  if (refused >= 0) throw new Error(`${outcomes[refused]?.error?.message}: ${statements[refused]}`)
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

async function firebirdServer(): Promise<Playground> {
  const server = await startFirebird()
  const dialect = known('firebird', '3.0')
  let made = 0
  const another = async () => {
    const url = await server.create(`harbour${++made}`)
    return { url, live: await openFirebird(url) }
  }
  let { url, live } = await another()
  return {
    dialect,
    get live() {
      return live
    },
    exec: (sql) => run(live, [sql]),
    reset: async () => {
      const old = optionsOf(url).database
      await live.close()
      ;({ url, live } = await another())
      rmSync(old, { force: true })
    },
    // Another connection begins the work and is cut from the server's side.
    half: async (statements) => {
      const other = await firebird.attachAsync(optionsOf(url))
      const transaction = await other.startTransactionAsync(firebird.ISOLATION_READ_COMMITTED)
      for (const statement of statements) await transaction.executeAsync(statement)
      const [[id] = []] = await transaction.executeAsync<unknown[]>('SELECT CURRENT_CONNECTION FROM RDB$DATABASE')
      await live.run([`DELETE FROM MON$ATTACHMENTS WHERE MON$ATTACHMENT_ID = ${Number(id)}`])
      const there = `SELECT 1 FROM MON$ATTACHMENTS WHERE MON$ATTACHMENT_ID = ${Number(id)}`
      while ((await live.query(there)).rows.length > 0);
    },
    // Row by row, and again as long as any goes: a row can go when nothing names it any more.
    empty: async (tables) => {
      const left = async () => {
        let sum = 0
        for (const { name } of tables)
          sum += Number((await live.query(`SELECT count(*) FROM ${dialect.write.quote(name)}`)).rows[0]?.[0])
        return sum
      }
      for (let before = Infinity, now = await left(); now > 0 && now < before; [before, now] = [now, await left()])
        for (const { name } of tables) {
          const table = dialect.write.quote(name)
          await run(live, [
            `EXECUTE BLOCK AS DECLARE k CHAR(8) CHARACTER SET OCTETS; BEGIN
               FOR SELECT RDB$DB_KEY FROM ${table} INTO k DO
                 BEGIN DELETE FROM ${table} WHERE RDB$DB_KEY = :k; WHEN ANY DO BEGIN END END
             END`
          ])
        }
    },
    close: async () => {
      await live.close()
      await server.stop()
    }
  }
}

const optionsOf = (url: string) => {
  const { hostname, port, username, password, pathname } = new URL(url)
  return {
    host: hostname,
    port: Number(port),
    user: username,
    password,
    database: pathname.slice(1),
    encoding: 'UTF8' as const
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
  },
  {
    id: 'firebird',
    label: 'Firebird server',
    engine: 'firebird',
    version: '3.0',
    lacking: whyNoFirebird(),
    open: firebirdServer
  }
]
