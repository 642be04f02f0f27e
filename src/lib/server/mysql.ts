// A server of MySQL or MariaDB over the network, by the driver `mysql2`. Each statement commits by itself.
import { randomBytes } from 'node:crypto'
import mysql from 'mysql2/promise'
import { dialect as dialectOf, type DatabaseSettings, type Dialect } from '../core/dialects'
import {
  inBatches,
  LineLost,
  mustRead,
  ROWS_SHOWN,
  type LiveDatabase,
  type QueryResult,
  type Rehearsed,
  type RowSource,
  type Refusal,
  type StatementOutcome
} from '../live'
import type { Access } from './open'

type Engine = 'mariadb' | 'mysql'

const config = (from: string | Access): mysql.ConnectionOptions => ({
  ...(typeof from === 'string'
    ? { uri: from, connectTimeout: 10_000 }
    : {
        host: from.host,
        port: from.port,
        database: from.database,
        user: from.user,
        password: from.password,
        connectTimeout: 10_000,
        ...(from.tls ? { ssl: {} } : {})
      }),
  charset: 'utf8mb4',
  dateStrings: true,
  supportBigNumbers: true,
  bigNumberStrings: true,
  // A local file is never sent to a server that asks for it.
  infileStreamFactory: () => {
    throw new Error('files are not sent')
  }
})

type Row = Record<string, unknown>

const BUSY = 'Another run is still at work in this database: look again when it has ended.'

/** Seconds to wait for what another session of ours is at. */
const PATIENCE = 20

async function connected(from: string | Access): Promise<mysql.Connection> {
  const connection = await mysql.createConnection(config(from))
  // A connection that breaks while nobody waits for it: the next thing asked of it fails and says so.
  connection.on('error', () => undefined)
  return connection
}

export const openMariadb = (from: string | Access): Promise<LiveDatabase> => openMysqlOrMariadb(from, 'mariadb')
export const openMysql = (from: string | Access): Promise<LiveDatabase> => openMysqlOrMariadb(from, 'mysql')

/** Which of the two a server is, by the version that it tells ("VERSION()" of each): they take each other's clients. */
async function engineOf(connection: mysql.Connection, wanted: Engine | undefined): Promise<Engine> {
  const [[told]] = await connection.query<mysql.RowDataPacket[]>('SELECT version() AS version')
  const version = String((told as Row)['version'])
  const is: Engine = /mariadb/i.test(version) ? 'mariadb' : 'mysql'
  if (is === (wanted ?? is)) return is
  const label = (id: Engine) => dialectOf(id)?.profile.label ?? id
  throw new Error(`This server is ${label(is)} (${version}), not ${label(wanted ?? is)}: choose ${label(is)} for it.`)
}

/** “SERVER_STATUS_IN_TRANS” of the protocol's status flags ("OK_Packet"): a transaction is open. */
const IN_TRANSACTION = 1

/** Opens a database of one of the two, or of whichever the server is. */
export async function openMysqlOrMariadb(from: string | Access, wanted?: Engine): Promise<LiveDatabase> {
  const connection = await connected(from)
  const engine = await engineOf(connection, wanted).catch(async (error: unknown) => {
    await connection.end()
    throw error
  })
  const dialect = dialectOf(engine) as Dialect
  // One more for what a person asks, once he does: what he says to that session changes nothing of what is read and run.
  let asking: Promise<mysql.Connection> | undefined
  const ownSession = () =>
    (asking ??= connected(from)).catch((error: unknown) => {
      asking = undefined
      throw error
    })
  let busy = connection
  let isStopped = false
  /** "KILL QUERY", over another connection: this one is busy. */
  const cancel = async () => {
    isStopped = true
    const other = await connected(from)
    await other.query(`KILL QUERY ${busy.threadId}`).finally(() => other.end())
  }
  const rows = async (sql: string) => (await connection.query<mysql.RowDataPacket[]>(sql))[0] as readonly Row[]
  const [own] = await rows('SELECT database() AS name')
  /** A query may have gone to another database: what is read and run here is of the one that was opened. */
  const goHome = async () => {
    if (own?.['name'] != null) await connection.query(`USE ${mysql.escapeId(String(own['name']), true)}`)
  }
  /**
   * A lock that goes with the session: a statement whose line was cut may be under way still, and what it does is not to
   * be looked at, nor done again, before it has ended. "GET_LOCK", "RELEASE_LOCK".
   */
  const atWork = async (what: 'wait' | 'end') => {
    const name = mysql.escape(`ramblet ${String(own?.['name'])}`.slice(0, 64))
    const sql = what === 'wait' ? `SELECT GET_LOCK(${name}, ${PATIENCE}) AS got` : `SELECT RELEASE_LOCK(${name}) AS got`
    const [answer] = await rows(sql)
    if (what === 'wait' && Number(answer?.['got']) !== 1) throw new Error(BUSY)
  }
  return {
    engine,
    catalog: async () => {
      const queries = dialect.introspect
      if (!queries) throw new Error(`${dialect.profile.label} has catalogue queries`)
      busy = connection
      try {
        await goHome()
        return await queries.read(rows)
      } catch (error) {
        if (isRefusal(error)) throw error
        throw new LineLost(`The connection was lost: ${errorOf(error).message}.`)
      }
    },
    query: async (sql, { readOnly, byHand } = {}): Promise<QueryResult> => {
      if (readOnly) mustRead(sql, dialect)
      const asked = byHand ? await ownSession() : connection
      busy = asked
      const isOpen = async () => {
        const [{ serverStatus }] = await asked.query<mysql.ResultSetHeader>('DO 0')
        return ((serverStatus ?? 0) & IN_TRANSACTION) !== 0
      }
      try {
        // Within a transaction of his own, what he asks is part of it.
        const own = readOnly && !(await isOpen())
        if (own) await asked.query('START TRANSACTION READ ONLY')
        const result = await firstRows(asked, sql, cancel).finally(() =>
          own ? asked.query('ROLLBACK').catch(() => undefined) : undefined
        )
        return { ...result, ...((await isOpen()) ? { open: true } : {}) }
      } catch (error) {
        if (isRefusal(error)) throw error
        throw new LineLost(`The connection was lost: ${errorOf(error).message}.`)
      }
    },
    ...inBatches(async (sql) => {
      mustRead(sql, dialect)
      const one = await connected(from)
      try {
        await one.query('START TRANSACTION READ ONLY')
        return allRows(one, sql)
      } catch (error) {
        one.destroy()
        throw error
      }
    }),
    run: async (statements) => {
      busy = connection
      const outcomes: StatementOutcome[] = []
      let start = performance.now()
      const refused = (error: Refusal): StatementOutcome[] => [
        ...outcomes,
        { ok: false, time: performance.now() - start, affected: 0, error }
      ]
      let told: Row | undefined
      try {
        await atWork('wait')
        await goHome()
        ;[told] = await rows('SELECT @@SESSION.sql_mode AS mode, @@SESSION.lock_wait_timeout AS patience')
        for (const sql of dialect.session ?? []) await connection.query(sql)
      } catch (error) {
        // Ours or not: it is given back where we have it.
        await atWork('end').catch(() => undefined)
        const { message } = errorOf(error)
        const lost = message !== BUSY && !isRefusal(error)
        return refused(
          lost ? { message: `The connection was lost (${message}) before the statement was sent.` } : errorOf(error)
        )
      }
      for (const statement of statements) {
        start = performance.now()
        try {
          const [result] = await connection.query(statement)
          const affected = Array.isArray(result) ? 0 : (result as mysql.ResultSetHeader).affectedRows
          outcomes.push({ ok: true, time: performance.now() - start, affected })
        } catch (error) {
          const said = errorOf(error)
          if (!isRefusal(error))
            throw new LineLost(`The connection was lost while a statement was under way (${said.message}).`)
          outcomes.push(...refused(said).slice(-1))
          break
        }
      }
      // What a person told the session is so again; what the engine has said is said, whatever becomes of the line now.
      await connection
        .query('SET SESSION sql_mode = ?, SESSION lock_wait_timeout = ?', [told?.['mode'], Number(told?.['patience'])])
        .then(() => atWork('end'))
        .catch(() => undefined)
      return outcomes
    },
    settled: async () => {
      await atWork('wait')
      await atWork('end')
    },
    rehearse: async (before, steps) => {
      await goHome()
      const [usual] = await rows('SELECT @@character_set_database AS charset, @@collation_database AS collation')
      isStopped = false
      return besides(from, String(usual?.['charset']), String(usual?.['collation']), async (beside) => {
        busy = beside
        for (const sql of dialect.session ?? []) await beside.query(sql)
        return rehearsed(beside, before, steps, () => isStopped).finally(() => (busy = connection))
      })
    },
    cancel,
    close: async () => {
      await asking?.then((asked) => asked.end()).catch(() => undefined)
      await connection.end()
    }
  }
}

/** A database that is there for as long as something is tried in it, and goes by a connection that nothing was tried on. */
async function besides<T>(
  from: string | Access,
  charset: string,
  collation: string,
  work: (beside: mysql.Connection) => Promise<T>
): Promise<T> {
  const name = `ramblet_trial_${randomBytes(6).toString('hex')}`
  const [keeper, beside] = await Promise.all([connected(from), connected(from)])
  try {
    await keeper.query(`CREATE DATABASE ${name} CHARACTER SET ${charset} COLLATE ${collation}`)
    try {
      await beside.query(`USE ${name}`)
      return await work(beside)
    } finally {
      await keeper.query(`DROP DATABASE ${name}`).catch((error: unknown) => {
        throw new Error(`The database ${name} was made for trying and is there still: ${errorOf(error).message}`)
      })
    }
  } finally {
    beside.destroy()
    await keeper.end()
  }
}

/** Each step in the first of its ways that is taken, as far as the first that is taken in none. */
async function rehearsed(
  beside: mysql.Connection,
  before: readonly string[],
  steps: readonly (readonly string[])[],
  isStopped: () => boolean
): Promise<Rehearsed[]> {
  // What leads to a table that comes later, or to none that is tried, is no matter here.
  await beside.query('SET foreign_key_checks = 0')
  for (const sql of before) await beside.query(sql)
  await beside.query('SET foreign_key_checks = 1')
  const outcomes: Rehearsed[] = []
  for (const ways of steps) {
    let outcome: Rehearsed | undefined
    for (const [way, sql] of ways.entries()) {
      if (isStopped()) throw new Error('Stopped: what was made for trying is gone again.')
      outcome = await beside.query(sql).then(
        () => ({ way }),
        (error: unknown) => ({ error: errorOf(error) })
      )
      if ('way' in outcome) break
    }
    if (outcome) outcomes.push(outcome)
    if (outcome && 'error' in outcome) break
  }
  return outcomes
}

/** The connection beneath that of promises, whose queries tell of each row as it comes. */
type Callbacks = import('mysql2').Connection

/** The first rows of a statement; what comes after them is not asked for any more. */
function firstRows(connection: mysql.Connection, sql: string, enough: () => Promise<void>): Promise<QueryResult> {
  return new Promise((resolve, reject) => {
    const rows: unknown[][] = []
    let columns: string[] = []
    let affected = 0
    /** The engine is told that it is enough; until it has heard it, nothing else is sent that it could take it for. */
    let stopping: Promise<void> | undefined
    const done = () => {
      const result: QueryResult = { columns, rows, affected, ...(stopping ? { more: true } : {}) }
      void (stopping ?? Promise.resolve()).finally(() => resolve(result))
    }
    ;(connection as unknown as { connection: Callbacks }).connection
      .query({ sql, rowsAsArray: true })
      .on('error', (error: unknown) =>
        stopping ? done() : reject(error instanceof Error ? error : new Error(String(error)))
      )
      .on('fields', (fields: mysql.FieldPacket[] | undefined) => {
        columns = (fields ?? []).map((field) => field.name)
      })
      .on('result', (row: unknown) => {
        if (!Array.isArray(row)) affected = (row as mysql.ResultSetHeader).affectedRows
        else if (rows.length < ROWS_SHOWN) rows.push(row.map(plain))
        else stopping ??= enough().catch(() => undefined)
      })
      .on('end', done)
  })
}

function allRows(connection: mysql.Connection, sql: string): RowSource {
  let columns: string[] = []
  const query = (connection as unknown as { connection: Callbacks }).connection
    .query({ sql, rowsAsArray: true })
    .on('fields', (fields: mysql.FieldPacket[] | undefined) => {
      columns = (fields ?? []).map((field) => field.name)
    })
  const stream = query.stream({ highWaterMark: 500 })
  async function* rows() {
    for await (const row of stream) yield (row as unknown[]).map(plain)
  }
  return {
    columns: () => columns,
    rows: rows(),
    // What the server still sends is for nobody: the line itself is ended.
    end: async () => connection.destroy()
  }
}

export async function mysqlDatabases(access: Access): Promise<string[]> {
  const { database: _, ...server } = access
  const connection = await mysql.createConnection(config({ ...server, database: '' }))
  try {
    const [rows] = await connection.query<mysql.RowDataPacket[]>('SHOW DATABASES')
    const own = new Set(['information_schema', 'mysql', 'performance_schema', 'sys'])
    return rows.map((row) => String(Object.values(row)[0])).filter((name) => !own.has(name))
  } finally {
    await connection.end()
  }
}

/** Makes a database on a server of the engine. */
const make =
  (engine: Engine) =>
  async (access: Access, settings: DatabaseSettings): Promise<void> => {
    const sql = dialectOf(engine)?.newDatabase?.statement(access.database, settings) ?? ''
    const connection = await mysql.createConnection(config({ ...access, database: '' }))
    try {
      await engineOf(connection, engine)
      await connection.query(sql)
    } finally {
      await connection.end()
    }
  }
export const makeMariadb = make('mariadb')
export const makeMysql = make('mysql')

const plain = (value: unknown): unknown =>
  Buffer.isBuffer(value)
    ? `0x${value.toString('hex')}`
    : typeof value === 'object' && value !== null
      ? JSON.stringify(value)
      : value

/** Codes of "MariaDB Error Codes" that end the session and say nothing of the statement: killed, shut down, line broken. */
const ENDINGS = new Set([1053, 1152, 1153, 1158, 1159, 1160, 1161, 1184, 1927])

/** The engine's own word on a statement. */
function isRefusal(error: unknown): boolean {
  const { errno, sqlState, fatal } = error as { errno?: number; sqlState?: string; fatal?: boolean }
  return typeof sqlState === 'string' && fatal !== true && errno !== undefined && !ENDINGS.has(errno)
}

function errorOf(error: unknown): Refusal {
  const { message, code } = error as { message?: string; code?: string }
  return { message: message ?? String(error), ...(code ? { code } : {}) }
}
