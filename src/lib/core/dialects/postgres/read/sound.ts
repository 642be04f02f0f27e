// Whether an expression can be one, by what stands beside what: manual, chapter 4.2 Value Expressions. Types and functions are
// the server's to judge.
import { NotUnderstood, significant, type Token } from '../../../sql'
import { reserved } from '../words'
import type { Reading } from './reading'

/** Operators that stand between two values, and never before one. */
const BETWEEN = new Set(['*', '/', '%', '^', '<', '>', '=', '<=', '>=', '<>', '!=', '::', ':='])
/** Words that no value has in it. */
const NEVER = new Set(
  'primary unique check references constraint default create table grant foreign initially deferrable'.split(' ')
)
/** Words that join two values. */
const JOINING = new Set(['and', 'or', 'like', 'ilike', 'in', 'between', 'similar', 'then', 'when', 'else', 'from'])
/** Words, not reserved, that go on with the one before them. */
const MORE = new Set(
  'precision varying time zone at over within by rows range filter within escape uescape distinct normalized document json value of local without year month day hour minute second'.split(
    ' '
  )
)

type Place = 'begin' | 'value' | 'operator' | 'word'

/** Throws `NotUnderstood` where the text breaks off, or two things stand side by side that nothing joins. */
export function mustBeSound(sql: string, reading: Reading): void {
  const tokens = significant(sql, reading.lexis)
  const fail = (token: Token | undefined): never => {
    throw new NotUnderstood(
      `No value can be read ${token ? `before “${token.text.slice(0, 40)}”` : `at the end of “${sql.slice(-40)}”`}.`
    )
  }
  let before: Place = 'begin'
  const open: string[] = []
  let cases = 0
  for (const [i, token] of tokens.entries()) {
    const { kind, text } = token
    const last = tokens[i - 1]
    const word = kind === 'word' ? text.toLowerCase() : ''
    switch (true) {
      case text === '(' || text === '[':
        if (last && (last.kind === 'number' || (last.kind === 'string' && before === 'value'))) fail(token)
        open.push(text)
        before = 'begin'
        break
      case text === ')' || text === ']': {
        const opened = open.pop()
        if ((opened === '(') !== (text === ')') || opened === undefined) fail(token)
        // Nothing at all may stand in a call's, and in a list's.
        const isEmpty = last?.text === opened
        const called = tokens[i - 2]
        if (isEmpty ? !isCallable(called) : before === 'begin' || before === 'operator') fail(token)
        before = 'value'
        break
      }
      case text === ',':
        if (open.length === 0 || before === 'begin' || before === 'operator') fail(token)
        before = 'begin'
        break
      case text === '.':
        if (before !== 'value' && before !== 'word') fail(token)
        before = 'word'
        break
      case text === '*' && (before === 'begin' || last?.text === '.'):
        before = 'value'
        break
      case kind === 'operator' || text === ':':
        if ((before === 'begin' || before === 'operator') && BETWEEN.has(text)) fail(token)
        before = 'operator'
        break
      case kind === 'number' || kind === 'string': {
        const typed = kind === 'string' && last?.kind === 'word' && !reserved.has(last.text.toLowerCase())
        if (before === 'value' && !typed && last?.text !== ')') fail(token)
        if (before === 'value' && last?.text === ')' && kind === 'number') fail(token)
        before = 'value'
        break
      }
      case kind === 'punctuation' && text === ';':
        fail(token)
        break
      case (word === 'when' || word === 'then' || word === 'else') && cases === 0:
        fail(token)
        break
      case JOINING.has(word):
        if (before === 'operator' || (before === 'begin' && word !== 'when')) fail(token)
        before = 'word'
        break
      case kind === 'word' && NEVER.has(word):
        fail(token)
        break
      case word === 'is' &&
        !/^(not|null|true|false|unknown|distinct|document|json|normalized|nf.*)$/i.test(tokens[i + 1]?.text ?? ''):
        fail(tokens[i + 1])
        break
      case word === 'case':
        cases++
        before = 'word'
        break
      case word === 'end':
        if (--cases < 0 || before === 'operator' || before === 'begin') fail(token)
        before = 'value'
        break
      case kind === 'word' && reserved.has(word):
        before = /^(null|true|false|default|current_\w+|localtime\w*|session_user|user|all|any|some|array)$/.test(word)
          ? 'value'
          : 'word'
        break
      case kind === 'word' || kind === 'quoted':
        if (before === 'value' && !MORE.has(word) && last?.text !== ')' && last?.text.toLowerCase() !== 'time')
          fail(token)
        before = 'value'
        break
      default:
        fail(token)
    }
  }
  if (open.length > 0 || cases > 0 || before === 'begin' || before === 'operator') fail(undefined)
  // A word that leads to something leads to nothing at the end.
  const [end] = tokens.slice(-1)
  if (before === 'word' && end?.kind === 'word') fail(undefined)
}

const isCallable = (token: Token | undefined): boolean =>
  token !== undefined && (token.kind === 'word' || token.kind === 'quoted' || token.text === '[')
