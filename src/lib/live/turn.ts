// One thing at a time on one database: what two tabs or two parts of a page ask for at once must not meet in one transaction.
import type { LiveDatabase } from './database'

/** The same database, whose every call waits for the one before it to end, however that ended. */
export function inTurn(live: LiveDatabase): LiveDatabase {
  let last: Promise<unknown> = Promise.resolve()
  const after = <T>(work: () => Promise<T>): Promise<T> => {
    const result = last.then(work)
    last = result.catch(() => undefined)
    return result
  }
  return {
    engine: live.engine,
    catalog: () => after(() => live.catalog()),
    query: (sql, options) => after(() => live.query(sql, options)),
    run: (statements) => after(() => live.run(statements)),
    // Out of turn: it is about the call that is under way.
    ...(live.cancel ? { cancel: () => live.cancel?.() ?? Promise.resolve() } : {}),
    close: () => after(() => live.close())
  }
}
