// What a script says under another mode of the server, in the words of the usual one: "SQL_MODE"; of MySQL 7.1.11 "Server SQL Modes".
import { isSignificant, textOf, tokenAt, type Lexis, type Token } from '../../../sql'
import { mariadbLexis } from '../lexis'

/** Modes under which the same words mean something else. */
type Mode = 'quotes' | 'backslashes' | 'pipes'

/** Each by its name, and those that are put together of others. */
const MODES: Readonly<Record<string, readonly Mode[]>> = {
  ANSI_QUOTES: ['quotes'],
  NO_BACKSLASH_ESCAPES: ['backslashes'],
  PIPES_AS_CONCAT: ['pipes'],
  ...Object.fromEntries(
    ['ANSI', 'DB2', 'MAXDB', 'MSSQL', 'ORACLE', 'POSTGRESQL'].map((name) => [name, ['quotes', 'pipes']] as const)
  )
}

/** A script that sets none is as it is. */
const SETS_ONE = new RegExp(`sql_mode[^;]*\\b(${Object.keys(MODES).join('|')})\\b`, 'i')

export interface UsualScript {
  readonly script: string
  /** Where it joins texts by `||`, which says “or” in the usual mode: offsets in `script`. */
  readonly joins: readonly number[]
}

/** How many words stand before the mode in a statement that sets it. */
const HEAD = 12

/** Each word stays in its line; in its column too, but for a backslash that stands for itself. */
export function inUsualMode(script: string): UsualScript {
  if (!SETS_ONE.test(script)) return { script, joins: [] }
  const parts: string[] = []
  const joins: number[] = []
  let modes: ReadonlySet<Mode> = new Set()
  let lexis = lexisOf(modes)
  let written = 0
  let statement: Token[] = []
  for (let at = 0; at < script.length;) {
    const token = tokenAt(script, at, lexis)
    at += token.text.length
    if (token.text === '||' && modes.has('pipes')) joins.push(written)
    const text = usual(token, modes)
    parts.push(text)
    written += text.length
    if (!isSignificant(token)) continue
    if (token.text !== ';') {
      if (statement.length < HEAD) statement.push(token)
      continue
    }
    const set = modesSet(statement)
    if (set) lexis = lexisOf((modes = set))
    statement = []
  }
  return { script: parts.join(''), joins }
}

function usual({ kind, text }: Token, modes: ReadonlySet<Mode>): string {
  if (kind === 'quoted' && text.startsWith('"')) {
    const name = text.slice(1, -1).replaceAll('""', '"').replaceAll('`', '``')
    return `\`${name}\``.padEnd(text.length)
  }
  return kind === 'string' && modes.has('backslashes') ? text.replaceAll('\\', '\\\\') : text
}

const lexisOf = (modes: ReadonlySet<Mode>): Lexis => ({
  ...mariadbLexis,
  ...(modes.has('quotes') ? { nameQuotes: ['`', '"'], doubleQuotedText: false } : {}),
  ...(modes.has('backslashes') ? { backslashes: false } : {})
})

/** The modes that hold after a statement; nothing where it sets none. What was kept before, and is set again, is the usual one. */
function modesSet(statement: readonly Token[]): ReadonlySet<Mode> | undefined {
  if (statement[0]?.text.toLowerCase() !== 'set') return undefined
  const at = statement.findIndex(({ text }) => text.toLowerCase() === 'sql_mode')
  // What is kept of it in a variable is set to it, and not the other way round.
  const isSet = /^:?=$/.test(statement[at + 1]?.text ?? '')
  if (at < 0 || !isSet) return undefined
  const names = statement.slice(at + 2).flatMap((token) => textOf(token, mariadbLexis)?.toUpperCase().split(',') ?? [])
  return new Set(names.flatMap((name) => MODES[name.trim()] ?? []))
}
