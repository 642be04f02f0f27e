// Open databases, each under a token that only the browser tab that opened it knows. Passwords live in the drivers'
// memory for as long as a session lasts, and nowhere else.
import { randomBytes } from 'node:crypto'
import { inTurn, type LiveDatabase } from '../live'

interface Session {
  readonly live: LiveDatabase
  /** Ends it now, whatever is under way. */
  readonly end: () => Promise<void>
  readonly address: string
  /** Requests that are not answered yet. */
  working: number
  idle?: NodeJS.Timeout
}

const sessions = new Map<string, Session>()
/** Sessions that are being opened, by their address. */
const opening: string[] = []

/** Milliseconds after the last answer. */
const IDLE = 30 * 60 * 1000
/** Sessions at once: with one database, and in all. A server has a hundred connections or so, and other users. */
const MOST_WITH_ONE = 12
const MOST = 48

/** Opens a session unless there are too many; rejects with a sentence then, and with what `open` rejects with. */
export async function keepSession(address: string, open: () => Promise<LiveDatabase>): Promise<string> {
  const all = [...opening, ...[...sessions.values()].map((session) => session.address)]
  const same = all.filter((other) => other === address).length
  if (same >= MOST_WITH_ONE || all.length >= MOST)
    throw new Error(
      same >= MOST_WITH_ONE
        ? `${same} sessions are open with this database from here already: close a tab that has one.`
        : `${all.length} sessions are open from here already: close a tab that has one.`
    )
  opening.push(address)
  try {
    const live = await open()
    const token = randomBytes(32).toString('base64url')
    sessions.set(token, { live: inTurn(live), end: () => live.close(), address, working: 0 })
    rest(token)
    return token
  } finally {
    opening.splice(opening.indexOf(address), 1)
  }
}

/** The clock runs from the last answer: a long statement is no idleness. */
function rest(token: string) {
  const session = sessions.get(token)
  if (!session || session.working > 0) return
  session.idle = setTimeout(() => void endSession(token), IDLE)
  session.idle.unref()
}

/** Does something with a session's database; nothing for an unknown token. */
export function inSession<T>(token: string, work: (live: LiveDatabase) => Promise<T>): Promise<T> | undefined {
  const session = sessions.get(token)
  if (!session) return undefined
  clearTimeout(session.idle)
  session.working++
  return work(session.live).finally(() => {
    session.working--
    rest(token)
  })
}

export async function endSession(token: string): Promise<void> {
  const session = sessions.get(token)
  sessions.delete(token)
  if (!session) return
  clearTimeout(session.idle)
  await session.live.close().catch(() => undefined)
}

/** Before the server ends: what is under way is cut off, and known to be on return. */
export async function endSessions(): Promise<void> {
  const all = [...sessions.values()]
  sessions.clear()
  await Promise.all(all.map((session) => session.end().catch(() => undefined)))
}
