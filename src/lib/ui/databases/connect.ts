// The live database of a target, wherever it is, spoken to in one way.
import type { Design, Target } from '../../core/design'
import { ENGINES } from '../../core/dialects'
import { withoutLedger, type LiveDatabase } from '../../live'
import { targetKey } from '../../storage'
import { databaseWorker } from '../../workers'
import { prepareDemo } from '../shelf/demo'
import { remoteDatabase } from './remote'

/** Engines that run in the browser. */
export const EMBEDDED: readonly string[] = ENGINES.filter(({ here }) => here !== undefined).map(({ id }) => id)

/** The database of a target; nothing for one that has none. A server's needs to have been signed in to. */
export function connect(design: Design, target: Target): LiveDatabase | undefined {
  const live = open(design, target)
  return live && { ...live, catalog: async () => withoutLedger(await live.catalog()) }
}

function open(design: Design, target: Target): LiveDatabase | undefined {
  if (target.connection === 'none') return undefined
  const key = targetKey(design.id, target.id)
  if (target.connection === 'server') return remoteDatabase(key, target.engine, target.server)
  const which = { key, engine: target.engine, version: target.version }
  const ready = async () => {
    await prepareDemo(design, target.id)
    return databaseWorker()
  }
  return {
    engine: target.engine,
    catalog: async () => (await ready()).catalog(which),
    query: async (sql, options) => (await ready()).query(which, sql, options),
    rows: async (sql) => (await ready()).rows(which, sql),
    endRows: async () => undefined,
    run: async (statements, options) => (await ready()).run(which, statements, options),
    keep: async () => (await ready()).keep(which),
    close: async () => undefined
  }
}
