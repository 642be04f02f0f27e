// Whether a statement only reads: by a list of what is allowed, not of what is forbidden. What an engine holds by itself
// (a read-only transaction) it holds; this is for what it does not.
import type { Lexis } from './lexis'
import { splitStatements } from './split'
import { significant, tokenize } from './tokens'

/** SQLite: pragmas that tell something and set nothing (sqlite.org/pragma.html). */
const TELLING =
  'collation_list compile_options database_list foreign_key_check foreign_key_list function_list index_info index_list index_xinfo integrity_check page_count quick_check schema_version table_info table_list table_xinfo user_version'.split(
    ' '
  )

/** Words that make something of a statement that begins like a question: `WITH … DELETE`, `SELECT … INTO`. */
const WRITING = new Set(
  'insert update delete merge replace truncate into call execute nextval setval gen_id outfile dumpfile lock'.split(' ')
)
/** Words of those that are also functions: `replace(name, 'a', 'b')`. */
const FUNCTIONS = new Set(['replace', 'insert', 'truncate'])

/** Why a text is not certain to only read, in a sentence; nothing when it is. `begins` are the words it may begin with. */
export function whyNotReading(sql: string, lexis: Lexis, begins: readonly string[]): string | undefined {
  const statements = splitStatements(sql, lexis)
  const [only] = statements
  if (!only || statements.length > 1) return 'Read-only takes one statement at a time.'
  const tokens = significant(only.sql, lexis)
  if (tokenize(only.sql, lexis).some((token) => token.kind === 'executable'))
    return 'Read-only takes no comment that the engine carries out.'
  const words = tokens.map((token) => (token.kind === 'word' ? token.text.toLowerCase() : ''))
  // A question may stand in brackets.
  const bracket = tokens.findIndex((token) => token.text !== '(')
  const first = words[bracket] ?? ''
  if (!begins.includes(first)) return `Read-only lets through only what begins with ${begins.join(', ').toUpperCase()}.`
  if (first === 'pragma') {
    const name = words[bracket + 1] ?? ''
    const sets = tokens.some((token) => token.text === '=')
    const given = name.endsWith('_version') && tokens.length > bracket + 2
    return TELLING.includes(name) && !sets && !given
      ? undefined
      : 'Read-only lets through only pragmas that tell something.'
  }
  const writing = words.find(
    (word, i) =>
      (WRITING.has(word) && !(FUNCTIONS.has(word) && tokens[i + 1]?.text === '(') && tokens[i - 1]?.text !== '.') ||
      (word === 'next' && words[i + 1] === 'value')
  )
  return writing === undefined
    ? undefined
    : `Read-only takes no statement with ${writing.toUpperCase()} in it: it could write. A name can be put in quotes.`
}
