// The engines that laws are tried on: a database that is emptied between cases.
import firebird from 'node-firebird'
import pg from 'pg'
import mysql from 'mysql2/promise'
import initSqlJs from 'sql.js'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import type { Table } from '../../src/lib/core/catalog'
import type { LiveDatabase } from '../../src/lib/live'
import { openEmbeddedPostgres } from '../../src/lib/live/embedded-postgres'
import { openMysqlStandIn } from '../../src/lib/live/mysql/stand-in'
import { openFirebird } from '../../src/lib/server/firebird'
import { openMariadb } from '../../src/lib/server/mysql'
import { openPostgres } from '../../src/lib/server/postgres'
import { template } from './embedded'
import { servers } from './servers'
import { openSqlite, type FileKeeper } from '../../src/lib/live/sqlite'
import { rmSync } from 'node:fs'
import { setTimeout as pause } from 'node:timers/promises'

export interface Playground {
  readonly dialect: Dialect
  readonly live: LiveDatabase
  /** Where another connection goes to. */
  readonly url?: string
  /** Runs one statement by itself; throws what the engine says. */
  exec(sql: string): Promise<void>
  /** Back to an empty database. */
  reset(): Promise<void>
  /** Begins a transaction of statements and is killed before it ends: nothing of it may be left. */
  half(statements: readonly string[]): Promise<void>
  /** Ends the process with what was done and not yet kept. Absent where keeping takes too long for a test, or nothing. */
  lose?(): Promise<void>
  /** Takes all rows out of tables. */
  empty(tables: readonly Table[]): Promise<void>
  close(): Promise<void>
}

export interface EngineUnderTest {
  readonly id: string
  readonly label: string
  readonly engine: string
  readonly version?: string
  /** It has a `lose`. */
  readonly forgets?: boolean
  /** Why it cannot be tried here. */
  readonly lacking?: string | undefined
  open(): Promise<Playground>
}

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
  let stored: Blob | undefined
  let storing: 'never' | 'now' | 'cut' = 'never'
  const keeper = {
    load: async () => stored,
    save: async (dump: () => Promise<Blob>) => {
      if (storing === 'cut') throw new Error('ended before it was stored')
      if (storing === 'now') stored = await dump()
    }
  }
  let live = await openEmbeddedPostgres(keeper, template)
  let cuts = 0
  const postgres = known('postgres')
  return {
    dialect: postgres,
    get live() {
      return live
    },
    exec: async (sql) => void (await live.query(sql)),
    reset: async () => {
      for (const sql of ['DROP SCHEMA IF EXISTS quay CASCADE', 'DROP SCHEMA public CASCADE', 'CREATE SCHEMA public'])
        await live.query(sql)
    },
    // The process ends after the work and before it is stored: the next one has what was stored. Since that takes a
    // second, it is done now and then; else a statement that is refused ends the transaction as a kill would.
    half: async (statements) => {
      if (cuts++ % 25 > 0) return void (await live.run([...statements, 'SELECT 1 / 0']))
      storing = 'now'
      await live.run([])
      storing = 'cut'
      await live.run(statements).catch(() => undefined)
      storing = 'never'
      await live.close()
      live = await openEmbeddedPostgres(keeper, template)
    },
    empty: async (tables) => {
      for (const { schema, name } of tables) await live.query(`TRUNCATE ${postgres.write.table(schema, name)} CASCADE`)
    },
    close: () => live.close()
  }
}

/** A database that is kept in a file, which a test cuts off and opens again. */
async function inFile(
  dialect: Dialect,
  open: (keeper: FileKeeper) => Promise<LiveDatabase>,
  empty: (live: LiveDatabase, tables: readonly Table[]) => Promise<void>
): Promise<Playground> {
  let stored: Uint8Array | undefined
  let cut = false
  const keeper: FileKeeper = {
    load: async () => stored,
    save: async (file) => {
      if (cut) throw new Error('ended before it was stored')
      stored = file()
    }
  }
  let live = await open(keeper)
  const again = async () => {
    await live.close()
    live = await open(keeper)
  }
  return {
    dialect,
    get live() {
      return live
    },
    exec: async (sql) => void (await live.query(sql)),
    reset: () => {
      stored = undefined
      return again()
    },
    lose: again,
    // The process ends after the work and before its file is stored: the next one has the file that was.
    half: async (statements) => {
      cut = true
      await live.run(statements).catch(() => undefined)
      cut = false
      await again()
    },
    empty: (tables) => empty(live, tables),
    close: () => live.close()
  }
}

async function embeddedSqlite(): Promise<Playground> {
  const engine = await initSqlJs()
  const dialect = known('sqlite')
  return inFile(
    dialect,
    (keeper) => openSqlite(engine, keeper),
    (live, tables) =>
      run(
        live,
        tables.map(({ schema, name }) => `DELETE FROM ${dialect.write.table(schema, name)}`)
      )
  )
}

const withoutLinks = (dialect: Dialect) => (live: LiveDatabase, tables: readonly Table[]) =>
  run(live, [
    'SET foreign_key_checks = 0',
    ...tables.map(({ name }) => `DELETE FROM ${dialect.write.quote(name)}`),
    'SET foreign_key_checks = 1'
  ])

async function mysqlStandIn(): Promise<Playground> {
  const engine = await initSqlJs()
  const dialect = known('mysql', '8.4')
  return inFile(dialect, (keeper) => openMysqlStandIn(engine, keeper, '8.4'), withoutLinks(dialect))
}

async function postgresServer(): Promise<Playground> {
  const server = await servers.postgres.start()
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
  const server = await servers.mariadb.start()
  const url = await server.create('harbour')
  const live = await openMariadb(url)
  const dialect = known('mariadb', '10.11')
  return {
    dialect,
    live,
    url,
    exec: async (sql) => void (await live.query(sql)),
    reset: () => run(live, ['DROP DATABASE harbour', 'CREATE DATABASE harbour', 'USE harbour']),
    // Each statement is all or nothing by itself. Another connection is in the middle of it, waiting for a lock on all
    // tables, when the server ends it.
    half: async ([statement = '']) => {
      const [other, killer] = [await mysql.createConnection(url), await mysql.createConnection(url)]
      other.on('error', () => undefined)
      await killer.query('FLUSH TABLES WITH READ LOCK')
      const cut = other.query(statement).catch(() => undefined)
      const there = async () => {
        const [rows] = await killer.query<mysql.RowDataPacket[]>(
          `SELECT state FROM information_schema.processlist WHERE id = ${other.threadId}`
        )
        return rows[0] && { state: String(rows[0]['state'] ?? '') }
      }
      while (!(await there())?.state.startsWith('Waiting')) await pause(1)
      await killer.query(`KILL ${other.threadId}`)
      await cut
      await killer.query('UNLOCK TABLES')
      // The line is cut at once; the server tidies up after it.
      while (await there()) await pause(1)
      await killer.end()
    },
    empty: (tables) => withoutLinks(dialect)(live, tables),
    close: async () => {
      await live.close()
      await server.stop()
    }
  }
}

async function firebirdServer(): Promise<Playground> {
  const server = await servers.firebird.start()
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
  { id: 'sqlite', label: 'embedded SQLite', engine: 'sqlite', forgets: true, open: embeddedSqlite },
  { id: 'mysql', label: 'stand-in for MySQL', engine: 'mysql', version: '8.4', forgets: true, open: mysqlStandIn },
  {
    id: 'postgres-15',
    label: 'PostgreSQL server',
    engine: 'postgres',
    version: '15',
    lacking: servers.postgres.lacking,
    open: postgresServer
  },
  {
    id: 'mariadb',
    label: 'MariaDB server',
    engine: 'mariadb',
    version: '10.11',
    lacking: servers.mariadb.lacking,
    open: mariadbServer
  },
  {
    id: 'firebird',
    label: 'Firebird server',
    engine: 'firebird',
    version: '3.0',
    lacking: servers.firebird.lacking,
    open: firebirdServer
  }
]
