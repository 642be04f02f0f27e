// Triggers of the database itself: on who comes and goes, on transactions, and on what changes its structure. "CREATE TRIGGER" (FOR a
// database, DDL triggers). What sets them off is a number in "RDB$TRIGGER_TYPE": its bits were asked of a 3.0 server, one by one.
import type { Ref, Routine } from '../../catalog'
import type { RunQuery } from '../dialect'
import { num, quote, str, words } from './rows'

const TRIGGERS = `SELECT trim(RDB$TRIGGER_NAME) AS name, cast(RDB$TRIGGER_TYPE AS varchar(20)) AS kind, RDB$TRIGGER_SEQUENCE AS place,
    coalesce(RDB$TRIGGER_INACTIVE, 0) AS off, RDB$TRIGGER_SOURCE AS source, RDB$DESCRIPTION AS words
  FROM RDB$TRIGGERS WHERE coalesce(RDB$SYSTEM_FLAG, 0) = 0 AND RDB$RELATION_NAME IS NULL ORDER BY 1`

/** As the numbers from 8192 on count them. */
const OF_SESSIONS = ['CONNECT', 'DISCONNECT', 'TRANSACTION START', 'TRANSACTION COMMIT', 'TRANSACTION ROLLBACK']
const SESSIONS = 8192n
const [CREATE, ALTER, DROP] = ['CREATE', 'ALTER', 'DROP']
const all = (kind: string): string[] => [CREATE, ALTER, DROP].map((what) => `${what} ${kind}`)
/** As the bits from the second on count them; two of the bits tell of what sort the trigger is. */
export const CHANGES: readonly string[] = [
  ...['TABLE', 'PROCEDURE', 'FUNCTION', 'TRIGGER'].flatMap(all),
  ...['', '', ''],
  ...['EXCEPTION', 'VIEW', 'DOMAIN', 'ROLE', 'INDEX', 'SEQUENCE', 'USER'].flatMap(all),
  ...['CREATE COLLATION', 'DROP COLLATION', 'ALTER CHARACTER SET'],
  ...all('PACKAGE'),
  ...['CREATE PACKAGE BODY', 'DROP PACKAGE BODY'],
  ...all('MAPPING')
]

/** What sets a trigger off, in the words of the statement that makes it. */
export function occasion(type: bigint): string {
  const code = type - SESSIONS
  if (code >= 0n && code < BigInt(OF_SESSIONS.length)) return `ON ${OF_SESSIONS[Number(code)]}`
  const found = CHANGES.filter((change, i) => change !== '' && (type >> BigInt(i + 1)) & 1n)
  const isAny = found.length === CHANGES.filter((change) => change !== '').length
  return `${type & 1n ? 'AFTER' : 'BEFORE'} ${isAny ? 'ANY DDL STATEMENT' : found.join(' OR ')}`
}

export async function databaseTriggers(
  query: RunQuery,
  refsOf: (name: string) => { readonly refs?: readonly Ref[] }
): Promise<Routine[]> {
  return (await query(TRIGGERS)).map((row): Routine => {
    const name = str(row, 'name')
    const when = {
      active: num(row, 'off') !== 1,
      occasion: occasion(BigInt(str(row, 'kind'))),
      place: num(row, 'place')
    }
    return {
      schema: 'main',
      form: 'trigger',
      name,
      definition: triggerText(name, when, str(row, 'source')),
      ...refsOf(name),
      ...(words(row) === '' ? {} : { comment: words(row) })
    }
  })
}

export interface When {
  readonly active: boolean
  readonly occasion: string
  readonly place: number
}

export const triggerText = (name: string, { active, occasion, place }: When, source: string): string =>
  `CREATE TRIGGER ${quote(name)} ${active ? 'ACTIVE' : 'INACTIVE'} ${occasion} POSITION ${place}\n${source}`
