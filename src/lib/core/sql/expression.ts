// Expressions as engines print them back: the same meaning in other words. `a in (1,2)` comes back as
// `(a = ANY (ARRAY[1, 2]))`, `-5` as `'-5'::integer`. Both sides are brought to one form before they are compared.
import { nameOf, significant, type Fold, type Token } from './tokens'

type Node =
  | { readonly is: 'leaf'; readonly text: string; readonly literal: boolean }
  | { readonly is: 'call'; readonly name: string; readonly args: readonly Node[] }
  | { readonly is: 'operation'; readonly operator: string; readonly args: readonly Node[] }
  | { readonly is: 'cast'; readonly value: Node; readonly type: string }
  | { readonly is: 'list'; readonly args: readonly Node[] }

/** How two expressions stand to each other. */
export type Sameness = 'equal' | 'different' | 'cannot tell'

/**
 * Compares two expressions by meaning as far as their form tells. Casts that engines add to literals and
 * between text types are nothing; if only other casts differ, or a form is not understood, it cannot be told.
 */
export function compareExpressions(a: string | undefined, b: string | undefined, fold: Fold): Sameness {
  if (a === b) return 'equal'
  if (a === undefined || b === undefined) return 'different'
  const [left, right] = [parse(a, fold), parse(b, fold)]
  if (!left || !right) return flat(a, fold) === flat(b, fold) ? 'equal' : 'cannot tell'
  if (print(left, false) === print(right, false)) return 'equal'
  return print(left, true) === print(right, true) ? 'cannot tell' : 'different'
}

/** One text for all forms of an expression that `compareExpressions` calls equal. */
export function canonicalExpression(sql: string, fold: Fold): string {
  const node = parse(sql, fold)
  return node ? print(node, false) : flat(sql, fold)
}

/** The names an expression may refer to, folded (a superset: functions' own words are left out, keywords are not known). */
export function namesIn(sql: string, fold: Fold): Set<string> {
  const tokens = significant(sql)
  const names = tokens.flatMap((token, i) => (tokens[i + 1]?.text === '(' ? [] : (nameOf(token, fold) ?? [])))
  return new Set(names)
}

/** The expression with column names replaced; text in quotes, functions and everything else stay as they are. */
export function renameNames(
  sql: string,
  renames: ReadonlyMap<string, string>,
  fold: Fold,
  quote: (name: string) => string
): string {
  if (renames.size === 0) return sql
  const tokens = significant(sql)
  const named = new Map([...renames].map(([from, to]) => [fold(from, true), to]))
  let result = ''
  let from = 0
  tokens.forEach((token, i) => {
    const name = tokens[i + 1]?.text === '(' ? undefined : nameOf(token, fold)
    const renamed = name === undefined ? undefined : named.get(name)
    if (renamed === undefined) return
    result += sql.slice(from, token.at) + quote(renamed)
    from = token.at + token.text.length
  })
  return result + sql.slice(from)
}

const flat = (sql: string, fold: Fold) =>
  significant(sql)
    .map((token) => nameOf(token, fold) ?? token.text)
    .join(' ')

const numeric = /^(smallint|integer|bigint|int\d?|numeric|decimal|real|double precision|float\d?)/
const textual = /^(text|character varying|varchar|character|char|bpchar|name)$/

/** Prints in one form; `loose` leaves out every cast. */
function print(node: Node, loose: boolean): string {
  switch (node.is) {
    case 'leaf':
      return node.text
    case 'call':
      return `${node.name}(${node.args.map((arg) => print(arg, loose)).join(', ')})`
    case 'list':
      return `(${node.args.map((arg) => print(arg, loose)).join(', ')})`
    case 'operation':
      return `(${[node.operator, ...node.args.map((arg) => print(arg, loose))].join(' ')})`
    case 'cast': {
      const value = print(node.value, loose)
      if (node.value.is === 'leaf' && node.value.literal) {
        const digits = /^'(-?\d+(?:\.\d+)?)'$/.exec(value)
        if (digits && numeric.test(node.type)) return digits[1] ?? value
        return value
      }
      return loose || textual.test(node.type) ? value : `cast(${value}, ${node.type})`
    }
  }
}

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

function parse(sql: string, fold: Fold): Node | undefined {
  try {
    const parser = new Parser(significant(sql), fold)
    return parser.whole()
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

const leaf = (text: string, literal = false): Node => ({ is: 'leaf', text, literal })

class Parser {
  private at = 0
  constructor(
    private readonly tokens: readonly Token[],
    private readonly fold: Fold
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
      return value.is === 'leaf' && /^\d/.test(value.text) ? leaf('-' + value.text, true) : operation('-', value)
    }
    let node = this.primary()
    while (this.take('::')) node = { is: 'cast', value: node, type: this.type() }
    return node
  }

  private primary(): Node {
    const token = this.tokens[this.at++]
    if (!token) throw new NotUnderstood()
    if (token.kind === 'number') return leaf(plainNumber(token.text), true)
    if (token.kind === 'string') return leaf(token.text, true)
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
    if (word === 'null' || word === 'true' || word === 'false') return leaf(word, true)
    // The clock has several names; what may stand in its parentheses is how fine it is.
    if (word === 'current_timestamp' || (word === 'now' && this.peek() === '('))
      return { is: 'call', name: 'now', args: this.take('(') ? this.list(')') : [] }
    if (word === 'curdate' && this.take('(')) {
      this.expect(')')
      return leaf('current_date')
    }
    if (/^(current_date|current_time|localtimestamp|localtime|current_user|session_user)$/.test(word)) return leaf(word)
    if (/^(interval|date|timestamp|time)$/.test(word) && this.tokens[this.at]?.kind === 'string')
      return leaf(this.tokens[this.at++]?.text ?? '', true)
    return this.name(token)
  }

  private name(token: Token): Node {
    let name = nameOf(token, this.fold)
    if (name === undefined) throw new NotUnderstood()
    while (this.take('.')) {
      const part = this.tokens[this.at++]
      const partName = part && nameOf(part, this.fold)
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
        .map((arg) => print(arg, true))
        .join(',')})`
      more()
    }
    while (this.take('[')) {
      this.expect(']')
      text += '[]'
    }
    return text
  }

  private case(): Node {
    const args: Node[] = []
    if (this.peek() !== 'when') args.push(this.expression(0))
    while (this.take('when')) {
      args.push(this.expression(0))
      this.expect('then')
      args.push(this.expression(0))
    }
    args.push(this.take('else') ? strip(this.expression(0)) : leaf('null', true))
    this.expect('end')
    return { is: 'call', name: 'case', args }
  }
}

/** `1.50` is `1.5`, and `0.00` is `0`: engines fill up to the scale of a column. */
const plainNumber = (text: string): string =>
  /^\d+\.\d*$/.test(text) ? text.replace(/0+$/, '').replace(/\.$/, '') : text

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
