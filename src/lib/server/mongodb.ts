// A MongoDB server over the network, by its own driver. Each command stands by itself.
import { setTimeout as pause } from 'node:timers/promises'
import { EJSON } from 'bson'
import { MongoClient, MongoError, MongoServerError, type Db, type Document } from 'mongodb'
import { dialect, type Dialect } from '../core/dialects'
import {
  inBatches,
  LineLost,
  mustRead,
  ROWS_SHOWN,
  type LiveDatabase,
  type Refusal,
  type RowSource,
  type StatementOutcome
} from '../live'
import { asSent, catalogBy, rowsOf, type Answer } from '../live/mongodb/rows'
import { exactCommandOf } from '../live/mongodb/spoken'
import type { Access } from './open'

const mongodb = dialect('mongodb') as Dialect

/** Milliseconds for which a server may not answer a first time. */
const PATIENCE = 10_000

/**
 * One host, the one that was allowed: members that it may name are not gone to. What did not come through is not sent again
 * ("Retryable Writes"): whether it was done is looked up.
 */
async function connected({ host, port, user, password, database, tls }: Access): Promise<MongoClient> {
  const at = `mongodb://${host.includes(':') ? `[${host}]` : encodeURIComponent(host)}:${port}/`
  const from = async (authSource?: string) => {
    const client = new MongoClient(at, {
      directConnection: true,
      retryWrites: false,
      retryReads: false,
      serverSelectionTimeoutMS: PATIENCE,
      connectTimeoutMS: PATIENCE,
      maxPoolSize: 4,
      appName: 'ramblet',
      ...(tls ? { tls: true } : {}),
      ...(authSource === undefined ? {} : { auth: { username: user, password }, authSource })
    })
    try {
      await client.connect()
      await client.db(database || 'admin').command({ ping: 1 })
      return client
    } catch (error) {
      await client.close()
      throw error
    }
  }
  if (user === '') return from()
  // "Authentication Database": most users are of `admin`, some of the database itself.
  try {
    return await from('admin')
  } catch (error) {
    if (!(error instanceof MongoServerError) || error.code !== UNKNOWN_USER || database === '') throw error
    return from(database)
  }
}

/** "Error Codes". */
const UNKNOWN_USER = 18
const UNAUTHORIZED = 13
/** Of a server that goes, or is another one's now: they say nothing of the command. */
const ENDINGS: readonly unknown[] = [91, 189, 10107, 11600, 11602, 13435, 13436]

/** The commands that answer with a cursor. */
const CURSORS = ['find', 'aggregate', 'listCollections', 'listIndexes']

/** A command as it is sent: what stands for it in a statement leaves out what the database is called. */
function sent(command: Document, database: string): { readonly command: Document; readonly admin?: true } {
  const { renameCollection: from, to, ...rest } = command
  if (from !== undefined)
    return {
      command: { renameCollection: `${database}.${String(from)}`, to: `${database}.${String(to)}`, ...rest },
      admin: true
    }
  // The command's name stands first.
  return { command: 'aggregate' in command ? { ...command, cursor: (command['cursor'] ?? {}) as Document } : command }
}

/** What is read of a cursor, in its own session. */
const cursorOf = (db: Db, command: Document, comment?: string) =>
  db.runCursorCommand({
    ...sent(command, db.databaseName).command,
    ...(comment === undefined ? {} : { comment })
  })

/** The command's answer as documents; throws what the server says, also of a single document. */
async function carriedOut(
  db: Db,
  command: Document,
  { comment, most }: { comment?: string; most?: number } = {}
): Promise<Answer> {
  const [word = ''] = Object.keys(command)
  if (CURSORS.includes(word)) {
    const cursor = cursorOf(db, command, comment)
    const documents: Document[] = []
    try {
      for await (const document of cursor) {
        documents.push(document)
        if (most !== undefined && documents.length > most) break
      }
    } finally {
      await cursor.close()
    }
    return { documents, affected: 0 }
  }
  const { command: whole, admin } = sent(command, db.databaseName)
  const answer = await (admin ? db.admin() : db).command({ ...whole, ...(comment === undefined ? {} : { comment }) })
  const [wrong] = (answer['writeErrors'] ?? []) as Document[]
  if (wrong) throw new MongoServerError(wrong)
  if (word === 'distinct')
    return { documents: ((answer['values'] ?? []) as unknown[]).map((value) => ({ value })), affected: 0 }
  if (word === 'count') return { documents: [{ n: answer['n'] as unknown }], affected: 0 }
  if (READS.includes(word)) return { documents: [answer], affected: 0 }
  return { documents: [], affected: Number(answer['nModified'] ?? answer['n'] ?? 0) }
}
const READS = mongodb.profile.reads

export async function openMongodb(access: Access): Promise<LiveDatabase> {
  if (access.database === '') throw new Error('Say which database: a server of MongoDB has many.')
  const client = await connected(access)
  const db = client.db(access.database)
  /** Said with all that is run here, so that it is known among what the server is at ("$currentOp", `command.comment`). */
  const mark = `ramblet ${access.database}`
  const own = `${mark} ${process.hrtime.bigint()}`
  const underWay = async (comment: string | RegExp): Promise<readonly Document[]> =>
    client
      .db('admin')
      .aggregate([{ $currentOp: {} }, { $match: { 'command.comment': comment } }])
      .toArray()
      .catch((error: unknown) => {
        // Who may not look is not kept from running: what is found in the database tells it then.
        if (error instanceof MongoServerError && error.code === UNAUTHORIZED) return []
        throw error
      })
  const lost = (error: unknown, where: string): Error =>
    isRefusal(error) || !(error instanceof MongoError)
      ? (error as Error)
      : new LineLost(`The connection was lost${where} (${error.message}).`)

  return {
    engine: 'mongodb',
    catalog: () =>
      catalogBy(async (statement) => carriedOut(db, exactCommandOf(statement))).catch((error: unknown) => {
        throw lost(error, '')
      }),
    query: async (statement, { readOnly } = {}) => {
      if (readOnly) mustRead(asSent(statement), mongodb)
      try {
        return rowsOf(await carriedOut(db, exactCommandOf(statement), { comment: own, most: ROWS_SHOWN }), ROWS_SHOWN)
      } catch (error) {
        throw lost(error, '')
      }
    },
    ...inBatches(async (statement) => {
      mustRead(asSent(statement), mongodb)
      const command = exactCommandOf(statement)
      const cursor = CURSORS.some((word) => word in command) ? cursorOf(db, command, own) : undefined
      const documents = cursor ?? (await carriedOut(db, command)).documents
      return inRows(documents, async () => cursor?.close())
    }),
    run: async (statements) => {
      const outcomes: StatementOutcome[] = []
      for (const statement of statements) {
        const start = performance.now()
        try {
          const command = exactCommandOf(statement)
          const { affected } = await carriedOut(db, command, { comment: own })
          outcomes.push({ ok: true, time: performance.now() - start, affected })
        } catch (error) {
          const told = lost(error, ' while a command was under way')
          if (told instanceof LineLost) throw told
          outcomes.push({ ok: false, time: performance.now() - start, affected: 0, error: errorOf(told) })
          break
        }
      }
      return outcomes
    },
    settled: async () => {
      for (let waited = 0; (await underWay(new RegExp(`^${mark.replace(/\W/g, '\\$&')} `))).length > 0; waited += 200) {
        if (waited >= 2 * PATIENCE)
          throw new Error('Another run is still at work in this database: look again when it has ended.')
        await pause(200)
      }
    },
    // "killOp": anybody may end what he has begun.
    cancel: async () => {
      for (const { opid } of await underWay(own)) await client.db('admin').command({ killOp: 1, op: opid as unknown })
    },
    close: () => client.close()
  }
}

/** Documents as they come, each as one text: what a later one has besides would have no column. */
function inRows(documents: AsyncIterable<Document> | readonly Document[], end: () => Promise<void>): RowSource {
  async function* rows() {
    for await (const document of documents) yield [EJSON.stringify(document, { relaxed: true })]
  }
  return { columns: () => ['document'], rows: rows(), end }
}

export async function mongodbDatabases(access: Access): Promise<string[]> {
  const client = await connected({ ...access, database: '' })
  try {
    const { databases } = await client.db('admin').admin().listDatabases({ nameOnly: true })
    // "Local Database", "Config Database": the server's own.
    return databases.map(({ name }) => name).filter((name) => !['admin', 'config', 'local'].includes(name))
  } finally {
    await client.close()
  }
}

/** The engine's own word on a command. */
const isRefusal = (error: unknown): boolean => error instanceof MongoServerError && !ENDINGS.includes(error.code)

function errorOf(error: unknown): Refusal {
  const { message, code } = error as { message?: string; code?: unknown }
  return { message: message ?? String(error), ...(code === undefined ? {} : { code: String(code) }) }
}
