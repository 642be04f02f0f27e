// Which requests may reach databases through this server, and which hosts they may reach.
import { isIP } from 'node:net'

export interface Rules {
  /** Hosts that databases may be opened on, beside this machine: names, or `*`. */
  readonly hosts: readonly string[]
  /** Names that this server may be called by, beside those of this machine. */
  readonly names: readonly string[]
}

/** `RAMBLET_DATABASE_HOSTS` and `RAMBLET_HOSTS`, each a list with commas. */
export const rulesOf = (env: Readonly<Record<string, string | undefined>>): Rules => ({
  hosts: list(env['RAMBLET_DATABASE_HOSTS']),
  names: list(env['RAMBLET_HOSTS'])
})

const list = (text: string | undefined) =>
  (text ?? '')
    .split(',')
    .map((item) => item.trim().toLowerCase())
    .filter((item) => item !== '')

/** Names and addresses that only this machine answers to. */
export const isThisMachine = (name: string) =>
  name === 'localhost' || name === '::1' || (isIP(name) === 4 && name.startsWith('127.'))

const nameOf = (host: string): string => {
  const [, bracketed] = /^\[([^\]]+)\]/.exec(host) ?? []
  return (bracketed ?? host.replace(/:\d+$/, '')).toLowerCase()
}

/**
 * Why a request is refused; nothing when it may pass. A page of another origin must not be able to use this server to
 * reach databases, not even by a name that it has made to point here.
 */
export function refusal(headers: Pick<Headers, 'get'>, rules: Rules): string | undefined {
  const host = headers.get('host') ?? ''
  if (!isThisMachine(nameOf(host)) && !rules.names.includes(nameOf(host)))
    return `This server does not answer to the name “${nameOf(host)}”. The operator can allow it with RAMBLET_HOSTS.`
  const origin = headers.get('origin')
  if (origin === null) return 'The request does not say which page it comes from.'
  let from: URL
  try {
    from = new URL(origin)
  } catch {
    return 'The request comes from a page without an address.'
  }
  if (from.host.toLowerCase() !== host.toLowerCase()) return 'The request comes from a page of another origin.'
  if (!(headers.get('content-type') ?? '').startsWith('application/json')) return 'The request is not JSON.'
  return undefined
}

/** Why a database host must not be reached from here; nothing when it may. */
export function hostRefusal(host: string, rules: Rules): string | undefined {
  const name = host.trim().toLowerCase()
  if (isThisMachine(name) || rules.hosts.includes('*') || rules.hosts.includes(name)) return undefined
  return `Databases on “${host}” may not be opened through this server. Its operator can allow the host with RAMBLET_DATABASE_HOSTS.`
}
