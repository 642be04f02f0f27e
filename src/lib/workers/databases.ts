// The worker that holds the embedded databases. One for all tabs where the browser has shared workers.
import * as Comlink from 'comlink'
import initSqlJs from 'sql.js'
import sqliteUrl from 'sql.js/dist/sql-wasm-browser.wasm?url'
import templateUrl from '../live/generated/cluster.tar.gz?url'
import type { Catalog } from '../core/catalog'
import { withoutLedger, type LiveDatabase, type QueryOptions, type RunOptions, type StatementOutcome } from '../live'
import { openEmbeddedPostgres } from '../live/embedded-postgres'
import { openMongodbStandIn } from '../live/mongodb/stand-in'
import { openMysqlStandIn } from '../live/mysql/stand-in'
import { openSqlite, type FileKeeper } from '../live/sqlite'
import { loadDump, saveDump } from '../storage'

/** An embedded database: where it is kept, and by which engine it is run. */
export interface Embedded {
  readonly key: string
  readonly engine: string
  /** What a stand-in takes the place of. */
  readonly version: string
}

const open = new Map<string, Promise<LiveDatabase>>()
let sqlite: ReturnType<typeof initSqlJs> | undefined

const sqliteEngine = () => (sqlite ??= initSqlJs({ locateFile: () => sqliteUrl }))

/** Where what a database holds is kept. */
interface Keeper {
  load(): Promise<Blob | undefined>
  save(dump: Blob): Promise<void>
}

/** How each engine is opened here; all others are PostgreSQL. */
const OPENERS: Readonly<Record<string, (file: FileKeeper, version: string) => Promise<LiveDatabase>>> = {
  sqlite: async (file) => openSqlite(await sqliteEngine(), file),
  mysql: async (file, version) => openMysqlStandIn(await sqliteEngine(), file, version),
  mongodb: (file) => openMongodbStandIn(file)
}

function openBy(engine: string, version: string, { load, save }: Keeper): Promise<LiveDatabase> {
  const inFile: FileKeeper = {
    load: async () => {
      const kept = await load()
      return kept && new Uint8Array(await kept.arrayBuffer())
    },
    save: (file) => save(new Blob([file() as Uint8Array<ArrayBuffer>]))
  }
  const template = async () => (await fetch(templateUrl)).blob()
  return (
    OPENERS[engine]?.(inFile, version) ??
    openEmbeddedPostgres({ load, save: async (dump) => save(await dump()) }, template)
  )
}

const start = ({ key, engine, version }: Embedded): Promise<LiveDatabase> =>
  openBy(engine, version, { load: () => loadDump(key), save: (dump) => saveDump(key, dump) })

function database(which: Embedded): Promise<LiveDatabase> {
  let live = open.get(which.key)
  if (!live) {
    live = start(which)
    // One that did not open may open the next time.
    live.catch(() => open.delete(which.key))
    open.set(which.key, live)
  }
  return live
}

/** What a database file holds; it is looked at, and nothing of it is kept. */
async function look(file: Blob): Promise<Catalog> {
  const bytes = new Uint8Array(await file.arrayBuffer())
  const live = await openSqlite(await sqliteEngine(), { load: async () => bytes, save: async () => undefined })
  try {
    return withoutLedger(await live.catalog())
  } finally {
    await live.close()
  }
}

/** What counts come to in a database file, in their order; nothing of it is kept. */
async function counts(file: Blob, questions: readonly string[]): Promise<number[]> {
  const bytes = new Uint8Array(await file.arrayBuffer())
  const live = await openSqlite(await sqliteEngine(), { load: async () => bytes, save: async () => undefined })
  try {
    const found: number[] = []
    for (const question of questions) found.push(Number((await live.query(question)).rows[0]?.[0] ?? 0))
    return found
  } finally {
    await live.close()
  }
}

/** What statements make in a database of its own, of which nothing is kept; or which one is refused, and why. */
async function tryOut(
  engine: string,
  version: string,
  statements: readonly string[]
): Promise<{ readonly catalog?: Catalog; readonly refused?: { readonly at: number; readonly message: string } }> {
  const live = await openBy(engine, version, { load: async () => undefined, save: async () => undefined })
  try {
    const outcomes = await live.run(statements)
    const at = outcomes.findIndex((outcome) => outcome.error)
    const message = outcomes[at]?.error?.message
    return message === undefined ? { catalog: await live.catalog() } : { refused: { at, message } }
  } finally {
    await live.close()
  }
}

/** Databases by key; each is started when it is first asked for something. */
const api = {
  look,
  tryOut,
  counts,
  catalog: async (which: Embedded) => (await database(which)).catalog(),
  query: async (which: Embedded, sql: string, options?: QueryOptions) => (await database(which)).query(sql, options),
  /** All rows at once: they are in memory here anyway. */
  rows: async (which: Embedded, sql?: string) => (await database(which)).rows(sql),
  run: async (
    which: Embedded,
    statements: readonly string[],
    options?: RunOptions
  ): Promise<readonly StatementOutcome[]> => (await database(which)).run(statements, options),
  keep: async (which: Embedded) => (await database(which)).keep?.(),
  /** Whether anything has been kept under a key. */
  exists: async (key: string) => (await loadDump(key)) !== undefined,
  close: async (key: string) => {
    const live = open.get(key)
    open.delete(key)
    await (await live)?.close()
  }
}
export type Databases = typeof api

interface SharedScope {
  onconnect?: (event: MessageEvent) => void
}
if ('SharedWorkerGlobalScope' in globalThis)
  (globalThis as SharedScope).onconnect = (event) => {
    const [port] = event.ports
    if (port) Comlink.expose(api, port)
  }
else Comlink.expose(api)
