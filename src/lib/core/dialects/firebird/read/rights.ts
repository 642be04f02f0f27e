// "GRANT", "REVOKE", for what is held of rights: on tables, columns and programs, to users, roles and everybody.
import type { Right } from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import { quote } from '../rows'

const ALL = ['SELECT', 'INSERT', 'UPDATE', 'DELETE', 'REFERENCES']
const OF_TABLES = /^(select|insert|update|delete|references|execute|usage)$/
/** As the server's own table has them, by its letters: D, I, R, S, U; X for EXECUTE, G for USAGE. */
const LETTER: Readonly<Record<string, string>> = { EXECUTE: 'X', USAGE: 'G' }
const letterOf = ({ may }: Right): string => LETTER[may] ?? may.charAt(0)

export interface Granted {
  readonly kind: string
  readonly name: string
  /** Each right, and the column that it is on; on the whole where there is none. */
  readonly rights: readonly { readonly column: string; readonly right: Right }[]
}

/** Nothing for roles, which are given to people. */
export function readGrant(item: Cursor, end: 'to' | 'from', isRole: (name: string) => boolean): Granted | undefined {
  item.take('grant', 'option', 'for')
  const said: { may: string; columns: readonly string[] }[] = []
  if (item.take('all')) {
    item.take('privileges')
    said.push(...ALL.map((may) => ({ may, columns: [''] })))
  } else
    do {
      if (!OF_TABLES.test(item.word())) return undefined
      const may = item.next().toUpperCase()
      said.push({ may, columns: item.word() === '(' ? item.names() : [''] })
    } while (item.take(','))
  item.expect('on')
  const kind =
    item.takeOne('table', 'view', 'procedure', 'function', 'package', 'generator', 'sequence', 'exception', 'domain') ??
    'table'
  const name = item.name()
  item.expect(end)
  const holders: string[] = []
  do {
    const word = item.takeOne('user', 'role', 'procedure', 'trigger', 'view', 'function', 'package')
    if (word === undefined && item.take('public')) holders.push('PUBLIC')
    else {
      const who = item.name()
      holders.push(`${(word ?? (isRole(who) ? 'role' : 'user')).toUpperCase()} ${quote(who)}`)
    }
  } while (item.take(','))
  const grantable = item.take('with', 'grant', 'option')
  while (!item.done) item.next()
  return {
    kind,
    name,
    rights: holders.flatMap((to) =>
      said.flatMap(({ may, columns }) =>
        columns.map((column) => ({ column, right: { to, may, ...(grantable ? { grantable: true as const } : {}) } }))
      )
    )
  }
}

const nameIn = ({ to }: Right): string => to.replace(/^\w+ "|"$/g, '')

/** The rights with more of them, or without some, in the order in which the server tells them. */
export function withRights(before: readonly Right[], more: readonly Right[], give: boolean): readonly Right[] {
  const same = (a: Right, b: Right) => a.to === b.to && a.may === b.may
  const rest = before.filter((right) => !more.some((other) => same(right, other)))
  const key = (right: Right) => `${nameIn(right)}\0${letterOf(right)}`
  return (give ? [...rest, ...more] : rest).sort((a, b) => (key(a) < key(b) ? -1 : 1))
}

export const refused = (what: string): NotUnderstood => new NotUnderstood(`There is no ${what} by then.`)
