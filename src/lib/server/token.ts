// Who may use a server that others can reach. On this machine alone no token is needed: whoever is on it could read the
// designs anyway.
import { randomBytes, timingSafeEqual } from 'node:crypto'
import { isThisMachine } from './allowed'

const COOKIE = 'ramblet_token'

export interface Gate {
  /** What must be known; nothing where only this machine can ask. */
  readonly token: string | undefined
}

/** `HOST` is where the server listens, `RAMBLET_TOKEN` a token of the operator's own. */
export const gateOf = (env: Readonly<Record<string, string | undefined>>): Gate => {
  const host = env['HOST'] ?? '127.0.0.1'
  return { token: isThisMachine(host) ? undefined : (env['RAMBLET_TOKEN'] ?? randomBytes(24).toString('base64url')) }
}

const same = (a: string, b: string): boolean => {
  const [left, right] = [Buffer.from(a), Buffer.from(b)]
  return left.length === right.length && timingSafeEqual(left, right)
}

/** What to do with a request: let it pass, let it in by its address and remember that, or keep it out. */
export function atTheGate(
  { token }: Gate,
  url: URL,
  cookie: string | undefined
): 'pass' | 'keep out' | { readonly cookie: string; readonly to: string } {
  if (token === undefined || (cookie !== undefined && same(cookie, token))) return 'pass'
  const given = url.searchParams.get('token')
  if (given === null || !same(given, token)) return 'keep out'
  const rest = new URL(url)
  rest.searchParams.delete('token')
  return { cookie: `${COOKIE}=${token}; Path=/; HttpOnly; SameSite=Strict`, to: rest.pathname + rest.search }
}

export const TOKEN_COOKIE = COOKIE
