// Expressions as engines print them back: the same meaning in other words. `a in (1,2)` comes back as
// `(a = ANY (ARRAY[1, 2]))`, `-5` as `'-5'::integer`. Both sides are brought to one form and held against each other.
import type { Lexis } from './lexis'
import { compareLiterals, literalOf, plainNumber, typeName, unbounded } from './literal'
import { nameOf, significant, textOf, type Token } from './tokens'

export type Node =
  | { readonly is: 'leaf'; readonly text: string; readonly literal?: 'number' | 'text' | 'word' }
  | { readonly is: 'call'; readonly name: string; readonly args: readonly Node[] }
  | { readonly is: 'operation'; readonly operator: string; readonly args: readonly Node[] }
  | { readonly is: 'cast'; readonly value: Node; readonly type: string }
  | { readonly is: 'list'; readonly args: readonly Node[] }

/** How two expressions stand to each other. */
export type Sameness = 'equal' | 'different' | 'cannot tell'

/**
 * Compares two expressions by meaning as far as their form tells. Casts that engines add, and that change no value, are
 * nothing; where a cast may change what is meant, or a form is not understood, it cannot be told.
 */
export function compareExpressions(a: string | undefined, b: string | undefined, lexis: Lexis): Sameness {
  if (a === b) return 'equal'
  if (a === undefined || b === undefined) return 'different'
  const [left, right] = [parse(a, lexis), parse(b, lexis)]
  if (left && right) return compareNodes(left, right, false)
  return flatExpression(a, lexis) === flatExpression(b, lexis) ? 'equal' : 'cannot tell'
}

/** The worst of several answers. */
export const worst = (all: readonly Sameness[]): Sameness =>
  all.includes('different') ? 'different' : all.includes('cannot tell') ? 'cannot tell' : 'equal'

/** Operators under which it matters of which type a number is: `1 / 2` is no half, and `1 || 'a'` is text. */
const particular = new Set(['/', '%', '||'])
/** Functions whose arguments are brought to one type by the engine, whatever it is. */
const unifying = new Set(['coalesce', 'nullif', 'greatest', 'least', 'case', 'ifnull'])

/** `strict`: the type of a number decides what becomes of it. */
function compareNodes(a: Node, b: Node, strict: boolean): Sameness {
  const [left, right] = [literalOf(a), literalOf(b)]
  if (left && right) return compareLiterals(left, right, strict)
  if (a.is === 'cast' || b.is === 'cast') return compareCasts(a, b, strict)
  if (a.is === 'leaf' || b.is === 'leaf')
    return a.is === 'leaf' && b.is === 'leaf' && a.text === b.text ? 'equal' : 'different'
  if (a.is !== b.is || a.args.length !== b.args.length) return 'different'
  if (a.is === 'call' && b.is === 'call') {
    if (a.name !== b.name) return 'different'
    return compareAll(a.args, b.args, unifying.has(a.name) ? strict : true)
  }
  if (a.is === 'operation' && b.is === 'operation') {
    if (a.operator !== b.operator) return 'different'
    return compareAll(a.args, b.args, strict || particular.has(a.operator))
  }
  return compareAll(a.args, b.args, strict)
}

const compareAll = (a: readonly Node[], b: readonly Node[], strict: boolean): Sameness =>
  worst(a.map((node, i) => compareNodes(node, b[i] ?? node, strict)))

/** A cast to text of any length is what engines add to a column of text; any other may change what is meant. */
function compareCasts(a: Node, b: Node, strict: boolean): Sameness {
  const [left, right] = [withoutTextCast(a), withoutTextCast(b)]
  if (left !== a || right !== b) return compareNodes(left, right, strict)
  if (a.is === 'cast' && b.is === 'cast' && a.type === b.type) return compareNodes(a.value, b.value, strict)
  return compareNodes(strip(a), strip(b), strict) === 'different' ? 'different' : 'cannot tell'
}

const withoutTextCast = (node: Node): Node => (node.is === 'cast' && unbounded(node.type) ? node.value : node)

/** The names an expression may refer to, folded (a superset: functions' own words are left out, keywords are not known). */
export function namesIn(sql: string, lexis: Lexis): Set<string> {
  const tokens = significant(sql, lexis)
  const names = tokens.flatMap((token, i) => (tokens[i + 1]?.text === '(' ? [] : (nameOf(token, lexis) ?? [])))
  return new Set(names)
}

/** The expression with column names replaced; text in quotes, functions and everything else stay as they are. */
export function renameNames(
  sql: string,
  renames: ReadonlyMap<string, string>,
  lexis: Lexis,
  quote: (name: string) => string
): string {
  if (renames.size === 0) return sql
  const tokens = significant(sql, lexis)
  const named = new Map([...renames].map(([from, to]) => [lexis.fold(from, true), to]))
  let result = ''
  let from = 0
  tokens.forEach((token, i) => {
    const name = tokens[i + 1]?.text === '(' ? undefined : nameOf(token, lexis)
    const renamed = name === undefined ? undefined : named.get(name)
    if (renamed === undefined) return
    result += sql.slice(from, token.at) + quote(renamed)
    from = token.at + token.text.length
  })
  return result + sql.slice(from)
}

/** One text for all layouts and spellings of names of the same tokens. */
export const flatExpression = (sql: string, lexis: Lexis): string =>
  significant(sql, lexis)
    .map((token) => nameOf(token, lexis) ?? token.text)
    .join(' ')

/** Functions that some engine prints back under another name. */
const otherNames: Readonly<Record<string, string>> = { lcase: 'lower', ucase: 'upper', character_length: 'char_length' }

const precedence: Readonly<Record<string, number>> = {
  or: 1,
  and: 2,
  not: 3,
  is: 4,
  '=': 5,
  '<>': 5,
  '<': 5,
  '>': 5,
  '<=': 5,
  '>=': 5,
  in: 6,
  like: 6,
  ilike: 6,
  between: 6,
  '~': 7,
  '~*': 7,
  '||': 7,
  '->': 7,
  '->>': 7,
  '+': 8,
  '-': 8,
  '*': 9,
  '/': 9,
  '%': 9
}

const spelled: Readonly<Record<string, string>> = { '!=': '<>', mod: '%', '~~': 'like', '~~*': 'ilike' }
const negatedSigns: Readonly<Record<string, string>> = { '!~~': 'like', '!~~*': 'ilike', '!~': '~', '!~*': '~*' }

class NotUnderstood extends Error {}

/** The tables of a database say the same things again and again: what was read once is known, up to so many texts. */
const KNOWN = 1000
const known = new WeakMap<Lexis, Map<string, Node | undefined>>()

function parse(sql: string, lexis: Lexis): Node | undefined {
  const nodes = known.get(lexis) ?? new Map<string, Node | undefined>()
  if (nodes.has(sql)) return nodes.get(sql)
  const node = read(sql, lexis)
  if (nodes.size < KNOWN) known.set(lexis, nodes.set(sql, node))
  return node
}

function read(sql: string, lexis: Lexis): Node | undefined {
  try {
    return new Parser(significant(sql, lexis), lexis).whole()
  } catch (error) {
    if (error instanceof NotUnderstood) return undefined
    throw error
  }
}

const operation = (operator: string, ...args: Node[]): Node => ({ is: 'operation', operator, args })
/** Of two values that are there, one holds where the other does not; where one is missing, neither does. */
const opposites: Readonly<Record<string, string>> = { '=': '<>', '<>': '=', '<': '>=', '>=': '<', '>': '<=', '<=': '>' }
const negate = (node: Node): Node => {
  const opposite = node.is === 'operation' ? opposites[node.operator] : undefined
  return node.is === 'operation' && opposite !== undefined ? { ...node, operator: opposite } : operation('not', node)
}

/** `NOT BETWEEN` comes back as the two ends turned round, `NOT IN` of one value as `<>`. */
function negated(node: Node, operator: string): Node {
  if (node.is !== 'operation') return negate(node)
  if (operator === 'in' && node.operator === '=') return { ...node, operator: '<>' }
  if (operator !== 'between') return negate(node)
  const turned: Readonly<Record<string, string>> = { '>=': '<', '<=': '>' }
  return operation(
    'or',
    ...node.args.map((arg) =>
      arg.is === 'operation' ? { ...arg, operator: turned[arg.operator] ?? arg.operator } : arg
    )
  )
}

const leaf = (text: string, literal?: 'number' | 'text' | 'word'): Node => ({
  is: 'leaf',
  text,
  ...(literal ? { literal } : {})
})

class Parser {
  private at = 0
  constructor(
    private readonly tokens: readonly Token[],
    private readonly lexis: Lexis
  ) {}

  whole(): Node {
    const node = this.expression(0)
    if (this.at < this.tokens.length) throw new NotUnderstood()
    return node
  }

  private peek(ahead = 0): string {
    const token = this.tokens[this.at + ahead]
    return token === undefined ? '' : token.kind === 'word' ? token.text.toLowerCase() : token.text
  }

  private take(text: string): boolean {
    if (this.peek() !== text) return false
    this.at++
    return true
  }

  private expect(text: string) {
    if (!this.take(text)) throw new NotUnderstood()
  }

  private expression(floor: number): Node {
    let left = this.prefix()
    for (;;) {
      const word = this.peek()
      const not = word === 'not' && ['in', 'like', 'ilike', 'between'].includes(this.peek(1))
      const operator = not ? this.peek(1) : (spelled[word] ?? negatedSigns[word] ?? word)
      const level = precedence[operator]
      if (level === undefined || operator === 'not' || level <= floor) return left
      this.at += not ? 2 : 1
      const node = this.infix(left, operator, level)
      left = not || negatedSigns[word] !== undefined ? negated(node, operator) : node
    }
  }

  private infix(left: Node, operator: string, level: number): Node {
    if (operator === 'is') {
      const not = this.take('not')
      if (this.take('distinct')) {
        this.expect('from')
        const node = operation('is distinct from', left, this.expression(level))
        return not ? negate(node) : node
      }
      const what = this.peek()
      if (!['null', 'true', 'false', 'unknown'].includes(what)) throw new NotUnderstood()
      this.at++
      const node = operation(`is ${what}`, left)
      return not ? negate(node) : node
    }
    if (operator === 'in') {
      this.expect('(')
      return oneOf(left, this.list(')'))
    }
    if (operator === 'between') {
      const low = this.expression(level)
      this.expect('and')
      return chain('and', operation('>=', left, low), operation('<=', left, this.expression(level)))
    }
    if ((this.peek() === 'any' || this.peek() === 'all') && this.peek(1) === '(') {
      const all = this.peek() === 'all'
      this.at += 2
      const array = strip(this.expression(0))
      this.expect(')')
      if (array.is !== 'list' || operator !== (all ? '<>' : '=')) throw new NotUnderstood()
      const node = oneOf(left, array.args)
      return all ? negate(node) : node
    }
    const right = this.expression(level)
    return operator === 'and' || operator === 'or' ? chain(operator, left, right) : operation(operator, left, right)
  }

  private prefix(): Node {
    if (this.take('not')) return negate(this.expression(precedence['not'] ?? 0))
    if (this.take('+')) return this.expression(10)
    if (this.take('-')) {
      const value = this.expression(10)
      return value.is === 'leaf' && /^\d/.test(value.text) ? leaf('-' + value.text, 'number') : operation('-', value)
    }
    let node = this.primary()
    while (this.take('::')) node = { is: 'cast', value: node, type: this.type() }
    return node
  }

  private primary(): Node {
    const token = this.tokens[this.at++]
    if (!token) throw new NotUnderstood()
    if (token.kind === 'number') return leaf(plainNumber(token.text), 'number')
    if (token.kind === 'string') return this.text(token)
    if (token.text === '(') {
      const items = this.list(')')
      const [only] = items
      return items.length === 1 && only ? only : { is: 'list', args: items }
    }
    const word = token.kind === 'word' ? token.text.toLowerCase() : ''
    if (word === 'array' && this.take('[')) return { is: 'list', args: this.list(']') }
    if (word === 'case') return this.case()
    if (word === 'cast' && this.take('(')) {
      const value = this.expression(0)
      this.expect('as')
      const type = this.type()
      this.expect(')')
      return { is: 'cast', value, type }
    }
    if (word === 'null' || word === 'true' || word === 'false') return leaf(word, 'word')
    // The clock has several names; what may stand in its parentheses is how fine it is.
    if (word === 'current_timestamp' || (word === 'now' && this.peek() === '('))
      return { is: 'call', name: 'now', args: this.take('(') ? this.list(')') : [] }
    if (word === 'curdate' && this.take('(')) {
      this.expect(')')
      return leaf('current_date')
    }
    if (/^(current_date|current_time|localtimestamp|localtime|current_user|session_user)$/.test(word)) return leaf(word)
    const next = this.tokens[this.at]
    if (/^(interval|date|timestamp|time)$/.test(word) && next?.kind === 'string') {
      this.at++
      return { is: 'cast', value: this.text(next), type: word }
    }
    return this.name(token)
  }

  /** What a text says, in one spelling. */
  private text(token: Token): Node {
    const text = textOf(token, this.lexis)
    return leaf(text === undefined ? token.text : `'${text.replaceAll("'", "''")}'`, 'text')
  }

  private name(token: Token): Node {
    let name = nameOf(token, this.lexis)
    if (name === undefined) throw new NotUnderstood()
    while (this.take('.')) {
      const part = this.tokens[this.at++]
      const partName = part && nameOf(part, this.lexis)
      if (partName === undefined) throw new NotUnderstood()
      name += '.' + partName
    }
    if (!this.take('(')) return leaf(name)
    const called = name.toLowerCase()
    return { is: 'call', name: otherNames[called] ?? called, args: this.list(')') }
  }

  /** Items up to the closing sign, which is taken too. */
  private list(close: string): Node[] {
    const items: Node[] = []
    if (this.take(close)) return items
    do items.push(this.expression(0))
    while (this.take(','))
    this.expect(close)
    return items
  }

  private type(): string {
    let text = this.peek()
    this.at++
    const more = () => {
      while (/^(precision|varying|with|without|time|zone)$/.test(this.peek())) {
        text += ' ' + this.peek()
        this.at++
      }
    }
    more()
    if (this.take('(')) {
      text += `(${this.list(')')
        .map((arg) => (arg.is === 'leaf' ? arg.text : ''))
        .join(',')})`
      more()
    }
    while (this.take('[')) {
      this.expect(']')
      text += '[]'
    }
    return typeName(text)
  }

  private case(): Node {
    const args: Node[] = []
    if (this.peek() !== 'when') args.push(this.expression(0))
    while (this.take('when')) {
      args.push(this.expression(0))
      this.expect('then')
      args.push(this.expression(0))
    }
    args.push(this.take('else') ? strip(this.expression(0)) : leaf('null', 'word'))
    this.expect('end')
    return { is: 'call', name: 'case', args }
  }
}

const strip = (node: Node): Node => (node.is === 'cast' ? strip(node.value) : node)

/** Engines print a chain of the same connective flat or nested; here it is always flat. */
function chain(operator: 'and' | 'or', left: Node, right: Node): Node {
  const args = [left, right].flatMap((node) =>
    node.is === 'operation' && node.operator === operator ? node.args : node
  )
  return operation(operator, ...args)
}

function oneOf(value: Node, list: readonly Node[]): Node {
  const [first] = list
  if (list.length === 1 && first) return operation('=', value, first)
  return operation('in', value, { is: 'list', args: list })
}
