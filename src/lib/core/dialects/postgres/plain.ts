// An expression as any engine has it: without the casts that this one prints behind values and columns, and with IN for its
// comparison with an array. Whether it still means the same is for who asks to judge: a cast may do more than that.
import { significant, type Lexis } from '../../sql'

export const plainExpression = (sql: string, lexis: Lexis): string => withLists(withoutCasts(sql, lexis), lexis)

function wordsOf(sql: string, lexis: Lexis) {
  const tokens = significant(sql, lexis)
  return { tokens, word: (at: number) => tokens[at]?.text.toLowerCase() ?? '' }
}

/** Words that a type's name goes on with: `character varying`, `timestamp without time zone`. */
const MORE = new Set(['varying', 'precision', 'with', 'without', 'time', 'zone'])

const NUMBERS = new Set(['smallint', 'integer', 'bigint', 'numeric', 'real', 'double'])

function withoutCasts(sql: string, lexis: Lexis): string {
  const { tokens, word } = wordsOf(sql, lexis)
  let result = ''
  let from = 0
  for (let at = 0; at < tokens.length; at++) {
    const cast = tokens[at]
    if (cast?.text !== '::') continue
    const value = tokens[at - 1]
    at++
    // A number with a sign is printed as a text that is cast.
    const isNumber =
      value !== undefined && value.at >= from && /^'-?\d+(\.\d+)?'$/.test(value.text) && NUMBERS.has(word(at))
    result += isNumber ? sql.slice(from, value.at) + value.text.slice(1, -1) : sql.slice(from, cast.at)
    while (word(at + 1) === '.') at += 2
    while (MORE.has(word(at + 1))) at++
    if (word(at + 1) === '(') while (at + 1 < tokens.length && word(at) !== ')') at++
    while (MORE.has(word(at + 1))) at++
    while (word(at + 1) === '[' && word(at + 2) === ']') at += 2
    const last = tokens[at]
    from = last ? last.at + last.text.length : sql.length
  }
  return result + sql.slice(from)
}

/** `= ANY (ARRAY[a, b])` is `IN (a, b)`, in however many parentheses the array stands. */
function withLists(sql: string, lexis: Lexis): string {
  const { tokens, word } = wordsOf(sql, lexis)
  let result = ''
  let from = 0
  for (let at = 0; at < tokens.length; at++) {
    if (word(at) !== '=' || word(at + 1) !== 'any') continue
    let open = at + 2
    while (word(open) === '(') open++
    const depth = open - at - 2
    const close = tokens.findIndex((token, i) => i > open && token.text === ']')
    const closed = Array.from({ length: depth }, (_, n) => word(close + 1 + n)).every((text) => text === ')')
    const [first, last] = [tokens[open + 1], tokens[close]]
    if (depth === 0 || word(open) !== 'array' || first?.text !== '[' || !last || !closed) continue
    result += `${sql.slice(from, tokens[at]?.at)}IN (${sql.slice(first.at + 1, last.at)})`
    const end = tokens[close + depth]
    from = end ? end.at + end.text.length : sql.length
    at = close + depth
  }
  return result + sql.slice(from)
}
