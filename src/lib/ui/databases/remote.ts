// Databases on servers, by way of this app's own server. The password goes there once, is held in its memory for as long
// as the session lasts, and is never kept here.
import type { Catalog } from '../../core/catalog'
import type { ServerAddress } from '../../core/design'
import type { LiveDatabase, QueryResult, Rehearsed, StatementOutcome } from '../../live'

export interface SignIn extends ServerAddress {
  readonly engine: string
  readonly password: string
}

const PORTS: Readonly<Record<string, number>> = {
  postgres: 5432,
  mariadb: 3306,
  mysql: 3306,
  firebird: 3050,
  mongodb: 27017
}

/** Where a server of an engine usually is. */
export const newAddress = (engine: string): ServerAddress => ({
  host: '127.0.0.1',
  port: PORTS[engine] ?? 5432,
  database: '',
  user: ''
})

/** The server's token for each target that was signed in to, in this tab's memory, and the address that it is for. */
const sessions = new Map<string, { readonly session: string; readonly address: string }>()

/** A session belongs to an address: a target that is somewhere else now is not signed in to. */
const addressOf = (engine: string, at: ServerAddress | undefined) =>
  JSON.stringify([engine, at?.host, at?.port, at?.database, at?.user, at?.tls === true])

export class NotSignedIn extends Error {}

async function post<T>(what: string, body: unknown): Promise<T> {
  const response = await fetch(`/api/databases/${what}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body)
  }).catch(() => {
    throw new Error('the app’s own server does not answer.')
  })
  const answer = (await response.json().catch(() => undefined)) as { message?: string; value?: T } | undefined
  if (response.ok && answer && 'value' in answer) return answer.value as T
  const message = answer?.message ?? `The app’s server answered ${response.status}.`
  throw response.status === 401 ? new NotSignedIn(message) : new Error(message)
}

/** Opens a database of a server; rejects with what is wrong. */
export async function signIn(key: string, access: SignIn): Promise<{ version: string }> {
  const { session, version } = await post<{ session: string; version: string }>('open', access)
  sessions.set(key, { session, address: addressOf(access.engine, access) })
  return { version }
}

export const isSignedIn = (key: string, engine: string, at: ServerAddress | undefined): boolean =>
  sessions.get(key)?.address === addressOf(engine, at)

/** What was signed in to under one key is another's from now on. */
export function handOver(from: string, to: string): void {
  const open = sessions.get(from)
  if (!open) return
  sessions.delete(from)
  sessions.set(to, open)
}

export async function signOut(key: string): Promise<void> {
  const { session } = sessions.get(key) ?? {}
  sessions.delete(key)
  if (session !== undefined) await post('close', { session }).catch(() => undefined)
}

/** What a tab has open goes with it: its token is known to nobody else. */
if (typeof window !== 'undefined')
  window.addEventListener('pagehide', () => {
    for (const { session } of sessions.values())
      navigator.sendBeacon(
        '/api/databases/close',
        new Blob([JSON.stringify({ session })], { type: 'application/json' })
      )
    sessions.clear()
  })

/** The databases that a server has. */
export const listDatabases = (access: SignIn): Promise<string[]> => post('list', access)

/** Makes the database that `access` names; rejects with what is wrong, as when it is there already. */
export const makeDatabase = (access: SignIn, settings: Readonly<Record<string, string>>): Promise<void> =>
  post('make', { ...access, settings })

export function remoteDatabase(key: string, engine: string, at: ServerAddress | undefined): LiveDatabase {
  const ask = async <T>(what: string, more: object = {}): Promise<T> => {
    if (!isSignedIn(key, engine, at)) {
      await signOut(key)
      throw new NotSignedIn('Sign in to this server first.')
    }
    const session = sessions.get(key)?.session
    try {
      return await post<T>(what, { session, ...more })
    } catch (error) {
      // The app's server has been started anew, or the session has lain idle: the password is asked for again.
      if (error instanceof NotSignedIn) sessions.delete(key)
      throw error
    }
  }
  return {
    engine,
    catalog: () => ask<Catalog>('catalog'),
    query: (sql, options) => ask<QueryResult>('query', { sql, ...options }),
    rows: (sql) => ask<QueryResult>('rows', { sql }),
    endRows: () => ask<void>('endRows'),
    run: (statements) => ask<StatementOutcome[]>('run', { statements }),
    rehearse: (before, steps) => ask<Rehearsed[]>('rehearse', { before, steps }),
    settled: () => ask<void>('settled'),
    cancel: () => ask<void>('cancel'),
    close: () => signOut(key)
  }
}
