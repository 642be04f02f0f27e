// Open databases, each under a token that only the browser tab that opened it knows. Passwords live in the drivers'
// memory for as long as a session lasts, and nowhere else.
import { randomBytes } from 'node:crypto'
import { inTurn, type LiveDatabase } from '../live'

interface Session {
  readonly live: LiveDatabase
  idle: NodeJS.Timeout
}

const sessions = new Map<string, Session>()
const IDLE = 30 * 60 * 1000

export function keepSession(live: LiveDatabase): string {
  const token = randomBytes(32).toString('base64url')
  sessions.set(token, { live: inTurn(live), idle: idleOut(token) })
  return token
}

function idleOut(token: string): NodeJS.Timeout {
  const timer = setTimeout(() => void endSession(token), IDLE)
  timer.unref()
  return timer
}

/** Does something with a session's database; nothing for an unknown token. */
export function inSession<T>(token: string, work: (live: LiveDatabase) => Promise<T>): Promise<T> | undefined {
  const session = sessions.get(token)
  if (!session) return undefined
  clearTimeout(session.idle)
  session.idle = idleOut(token)
  return work(session.live)
}

export async function endSession(token: string): Promise<void> {
  const session = sessions.get(token)
  sessions.delete(token)
  if (!session) return
  clearTimeout(session.idle)
  await session.live.close().catch(() => undefined)
}
