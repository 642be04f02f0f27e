// The worker that holds the embedded databases. One for all tabs where the browser has shared workers.
import * as Comlink from 'comlink'
import templateUrl from '../live/generated/cluster.tar.gz?url'
import type { LiveDatabase, StatementOutcome } from '../live'
import { openEmbeddedPostgres } from '../live/embedded-postgres'
import { loadDump, saveDump } from '../storage'

const open = new Map<string, Promise<LiveDatabase>>()

function database(key: string): Promise<LiveDatabase> {
  let live = open.get(key)
  if (!live) {
    const template = async () => (await fetch(templateUrl)).blob()
    live = openEmbeddedPostgres(
      { load: () => loadDump(key), save: async (dump) => saveDump(key, await dump()) },
      template
    )
    // One that did not open may open the next time.
    live.catch(() => open.delete(key))
    open.set(key, live)
  }
  return live
}

/** Databases by key; each is started when it is first asked for something. */
const api = {
  catalog: async (key: string) => (await database(key)).catalog(),
  query: async (key: string, sql: string) => (await database(key)).query(sql),
  run: async (key: string, statements: readonly string[]): Promise<readonly StatementOutcome[]> =>
    (await database(key)).run(statements),
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
