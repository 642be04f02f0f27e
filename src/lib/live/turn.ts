// One thing at a time on one database: what two tabs or two parts of a page ask for at once must not meet in one transaction.
import type { LiveDatabase } from './database'

/** Milliseconds for which what was done may stand in memory only. */
const LATER = 4000

/**
 * The same database, whose every call waits for the one before it to end, however that ended. `save` keeps what an
 * embedded database holds, which takes much longer than most statements.
 */
export function inTurn(live: LiveDatabase, save?: () => Promise<void>): LiveDatabase {
  let last: Promise<unknown> = Promise.resolve()
  const after = <T>(work: () => Promise<T>): Promise<T> => {
    const result = last.then(work)
    last = result.catch(() => undefined)
    return result
  }
  let waiting: ReturnType<typeof setTimeout> | undefined
  let saved = true
  const saveIt = async () => {
    clearTimeout(waiting)
    waiting = undefined
    if (!saved) await save?.()
    saved = true
  }
  const keep = () => after(saveIt)
  return {
    engine: live.engine,
    catalog: () => after(() => live.catalog()),
    query: (sql, options) => after(() => live.query(sql, options)),
    rows: (sql) => after(() => live.rows(sql)),
    endRows: () => after(() => live.endRows()),
    run: (statements, options) =>
      after(async () => {
        const outcomes = await live.run(statements)
        if (!save || outcomes.some((outcome) => !outcome.ok)) return outcomes
        saved = false
        // What could not be kept now is tried again by the next `keep`, which tells whoever asks for it.
        if (options?.later) waiting ??= setTimeout(() => void keep().catch(() => undefined), LATER)
        else await saveIt()
        return outcomes
      }),
    ...(save ? { keep } : {}),
    ...(live.settled ? { settled: () => after(() => live.settled?.() ?? Promise.resolve()) } : {}),
    ...(live.rehearse
      ? { rehearse: (before, steps) => after(() => live.rehearse?.(before, steps) ?? Promise.resolve([])) }
      : {}),
    // Out of turn: it is about the call that is under way.
    ...(live.cancel ? { cancel: () => live.cancel?.() ?? Promise.resolve() } : {}),
    close: () =>
      after(async () => {
        clearTimeout(waiting)
        await live.close()
      })
  }
}
