// MySQL's statements in the words of the engine that keeps the stand-in's rows. Names, clauses and joins are the same; texts, casts,
// functions and some operators are not. What has no counterpart is refused by name. Sections are those of the manual, 8.4.
import { typeText, type DataType } from '../../core/catalog'
import { nameOf, significant, textOf, type Lexis, type Token } from '../../core/sql'
import { Refused } from '../refused'
import { familyOf } from './values'
import { literal } from './words'

/** Functions that mean the same there. */
const ALIKE = new Set(
  'abs avg coalesce count ifnull instr json_extract json_object json_array max min nullif replace sum row_number rank dense_rank lag lead first_value last_value ntile'.split(
    ' '
  )
)
/** Whose outcome is digits, to be taken for a number however many they are. */
const NUMBERS = new Set(['round', 'truncate'])

/** Words before a parenthesis that are no functions. */
const NO_FUNCTION = new Set(
  (
    'in and or not values value select where on using exists as between like from join by then else when case key into union all any some ' +
    'distinct having set is over partition limit interval div mod xor regexp rlike table check unique with recursive primary foreign references index ' +
    'except intersect window order group return default constraint end'
  ).split(' ')
)
/** Words behind which a name stands, whatever comes after it. */
const BEFORE_NAME = new Set([
  'into',
  'table',
  'join',
  'from',
  'update',
  'as',
  'with',
  'recursive',
  '.',
  'references',
  'replace'
])

/** "Date and Time Functions": moments without parentheses. */
const MOMENTS: Readonly<Record<string, string>> = {
  current_timestamp: '_now()',
  localtime: '_now()',
  localtimestamp: '_now()',
  current_date: '_curdate()',
  current_time: '_curtime()',
  utc_timestamp: '_now()',
  utc_date: '_curdate()',
  utc_time: '_curtime()',
  current_user: '_user()'
}

const COMPARED = /^(<>|!=|=|<|>|<=|>=)$/

const syntax = (near: string) =>
  new Refused(
    `You have an error in your SQL syntax near '${near.slice(0, 60)}', or what this stand-in does not know`,
    1064
  )

/** The type of a column by its name, where all tables of a statement that have one agree. */
export type TypeOf = (column: string) => DataType | undefined

/** A statement, or an expression, as it is said there. */
export function spoken(sql: string, lexis: Lexis, typeOf: TypeOf = () => undefined): string {
  return new Spoken(significant(sql, lexis), lexis, typeOf).all()
}

/** The names of tables that a statement may speak of: those behind words that tables stand behind. */
export function tablesIn(sql: string, lexis: Lexis): string[] {
  const tokens = significant(sql, lexis)
  return tokens.flatMap((token, i) => {
    const before = tokens[i - 1]
    const isTable = before?.kind === 'word' && /^(from|join|update|into|table)$/i.test(before.text)
    const name = isTable || before?.text === ',' ? nameOf(token, { ...lexis, fold: (one) => one }) : undefined
    return name === undefined ? [] : [name]
  })
}

class Spoken {
  constructor(
    private readonly tokens: readonly Token[],
    private readonly lexis: Lexis,
    private readonly typeOf: TypeOf
  ) {}

  /** The type of the column whose name stands at a place; nothing where it is no name, or of what is not known. */
  private typeAt(at: number): DataType | undefined {
    const token = this.tokens[at]
    if (!token || this.word(at + 1) === '.' || this.word(at + 1) === '(') return undefined
    const name = nameOf(token, { ...this.lexis, fold: (one) => one })
    return name === undefined ? undefined : this.typeOf(name)
  }

  /** Where all that stands between two places is a column: its type. */
  private typeBetween = (from: number, to: number): DataType | undefined =>
    to - from === 1 || (to - from === 3 && this.word(from + 1) === '.') ? this.typeAt(to - 1) : undefined

  private word(at: number): string {
    const token = this.tokens[at]
    return token === undefined ? '' : token.kind === 'word' ? token.text.toLowerCase() : token.text
  }

  all(): string {
    const first = this.word(0)
    if (first === 'insert' || first === 'replace') return this.insert(first)
    if (first === 'update') return this.update()
    if (first === 'truncate') return `DELETE FROM ${this.part(this.word(1) === 'table' ? 2 : 1, this.tokens.length)}`
    return this.part(0, this.tokens.length)
  }

  /** Where the parenthesis that opens at a place is closed. */
  private closing(at: number): number {
    let depth = 0
    for (let i = at; i < this.tokens.length; i++) {
      const word = this.word(i)
      depth += word === '(' ? 1 : word === ')' ? -1 : 0
      if (depth === 0) return i
    }
    throw syntax(this.tokens[at]?.text ?? '')
  }

  /** The first place between two at which one of these words stands outside of parentheses. */
  private find(from: number, to: number, ...words: readonly string[]): number {
    let depth = 0
    for (let i = from; i < to; i++) {
      const word = this.word(i)
      if (depth === 0 && words.includes(word)) return i
      depth += word === '(' ? 1 : word === ')' ? -1 : 0
    }
    return -1
  }

  private list(from: number, to: number): (readonly [number, number])[] {
    const parts: (readonly [number, number])[] = []
    let begin = from
    while (begin < to) {
      const comma = this.find(begin, to, ',')
      const end = comma < 0 ? to : comma
      parts.push([begin, end])
      begin = end + 1
    }
    return parts
  }

  private part(from: number, to: number): string {
    let said = ''
    let joins = true
    for (let i = from; i < to; i++) {
      const [piece, next] = this.piece(i, to)
      // A point holds names together.
      const isPoint = piece === '.'
      if (piece !== '') said += (joins || isPoint ? '' : ' ') + piece
      if (piece !== '') joins = isPoint
      i = next
    }
    return said
  }

  /** What stands at a place, and the last place that it covers. */
  private piece(at: number, to: number): readonly [string, number] {
    const token = this.tokens[at]
    if (!token) return ['', at]
    const text = textOf(token, this.lexis)
    if (text !== undefined) return [literal(text), at]
    if (token.kind === 'string') return [bits(token.text), at]
    if (token.kind === 'number') return [number(token.text), at]
    if (token.kind === 'executable') throw syntax(token.text)
    const word = this.word(at)
    const type = this.typeAt(at)
    const family = type && familyOf(type)
    const isNought = this.word(at + 1) === '+' && this.word(at + 2) === '0'
    const isCompared = COMPARED.test(this.word(at + 1)) && this.tokens[at + 2]?.kind === 'number'
    // "Type Conversion in Expression Evaluation" (14.3): what a value is beside a number.
    if (type && ((isNought && family !== 'text') || (isCompared && ['date', 'time', 'moment'].includes(family ?? ''))))
      return [`CAST(_number(${literal(typeText(type))}, ${exactly(token.text)}) AS NUMERIC)`, isNought ? at + 2 : at]
    if (token.kind === 'word') return this.named(at, to, word)
    if (word === '||') return ['OR', at]
    if (word === '&' && this.word(at + 1) === '&') return ['AND', at + 1]
    if (word === '<=>') return ['IS', at]
    if (word === '!' && this.word(at + 1) !== '=') return ['NOT', at]
    // "Arithmetic Operators": a quotient has digits behind its point.
    if (word === '/') return ['* 1.0 /', at]
    if (word === '@' || word === ':=' || word === '^') return this.variable(at)
    return [token.text, at]
  }

  private variable(at: number): readonly [string, number] {
    if (this.word(at) !== '@' || this.word(at + 1) !== '@') throw syntax(this.tokens[at]?.text ?? '')
    const scope = ['session', 'global'].includes(this.word(at + 2)) ? 2 : 0
    return [`_variable(${literal(this.word(at + 2 + scope))})`, at + 2 + scope]
  }

  private named(at: number, to: number, word: string): readonly [string, number] {
    const before = this.word(at - 1)
    const isName = BEFORE_NAME.has(before)
    if (before !== '.' && word.startsWith('_') && this.tokens[at + 1]?.kind === 'string') return ['', at]
    const opens = this.word(at + 1) === '('
    if (before !== '.' && !opens && word in MOMENTS) return [MOMENTS[word] ?? '', at]
    if (word === 'dual' && before === 'from') throw syntax('DUAL')
    if (word === 'from' && this.word(at + 1) === 'dual') return ['', at + 1]
    if (word === 'for' && ['update', 'share'].includes(this.word(at + 1))) return ['', at + 1]
    if ((word === 'regexp' || word === 'rlike') && !isName) return ['REGEXP', at]
    if (word === 'div' && !isName) return ['/', at]
    if (word === 'binary' && !opens && !isName) return ['', at]
    if (word === 'straight_join') return ['JOIN', at]
    if (word === 'collate')
      return [`COLLATE ${/_bin$|_cs$|^binary$/.test(this.word(at + 1)) ? 'BINARY' : 'NOCASE'}`, at + 1]
    if (word === 'interval' && !opens)
      throw new Refused('This stand-in adds intervals by date_add() and date_sub() alone', 1064)
    if (opens && !isName && !NO_FUNCTION.has(word)) return this.call(at, word)
    if (at >= to) return ['', at]
    return [this.tokens[at]?.text ?? '', at]
  }

  private call(at: number, name: string): readonly [string, number] {
    const close = this.closing(at + 1)
    const [from, to] = [at + 2, close]
    const plain = (own: string) => `${own}(${this.part(from, to)})`
    const each = () => this.list(from, to).map(([begin, end]) => this.part(begin, end))
    const said = (() => {
      if (name === 'cast' || name === 'convert') {
        const value = this.cast(name, from, to)
        // A moment beside a number is its digits ("Type Conversion in Expression Evaluation", 14.3).
        const isCompared = COMPARED.test(this.word(close + 1)) && this.tokens[close + 2]?.kind === 'number'
        return isCompared && /'(date|time)/.test(value) ? `CAST(_digits('text', ${value}) AS NUMERIC)` : value
      }
      if (name === 'if') return plain('iif')
      if (name === 'substring' || name === 'substr' || name === 'mid') {
        const by = this.find(from, to, 'from')
        if (by < 0) return plain('substr')
        const length = this.find(by, to, 'for')
        const parts = [this.part(from, by), this.part(by + 1, length < 0 ? to : length)]
        return `substr(${[...parts, ...(length < 0 ? [] : [this.part(length + 1, to)])].join(', ')})`
      }
      if (name === 'trim') {
        const by = this.find(from, to, 'from')
        const side = ['leading', 'trailing', 'both'].includes(this.word(from)) ? this.word(from) : ''
        if (by < 0) return `_trim(${this.part(from, to)}, ' ', 'both')`
        const what = this.part(side === '' ? from : from + 1, by)
        return `_trim(${this.part(by + 1, to)}, ${what === '' ? "' '" : what}, '${side === '' ? 'both' : side}')`
      }
      if (name === 'position') {
        const by = this.find(from, to, 'in')
        return `instr(${this.part(by + 1, to)}, ${this.part(from, by)})`
      }
      if (name === 'extract') {
        const by = this.find(from, to, 'from')
        return `_${this.word(from)}(${this.part(by + 1, to)})`
      }
      if (/^(date_add|date_sub|adddate|subdate)$/.test(name)) {
        const comma = this.find(from, to, ',')
        if (this.word(comma + 1) !== 'interval') return plain(`_${name}`)
        const value = this.part(comma + 2, to - 1)
        return `_date_add(${this.part(from, comma)}, ${value}, '${this.word(to - 1)}', ${name.endsWith('add') ? 1 : -1})`
      }
      if (name === 'timestampdiff') {
        const [unit = '', ...rest] = each()
        return `_timestampdiff('${unit.toLowerCase()}', ${rest.join(', ')})`
      }
      if (name === 'group_concat') {
        const by = this.find(from, to, 'separator')
        const order = this.find(from, to, 'order')
        const end = order >= 0 ? order : by >= 0 ? by : to
        return `group_concat(${this.part(from, end)}${by < 0 ? '' : `, ${this.part(by + 1, to)}`})`
      }
      if (name === 'char_length' || name === 'character_length') return plain('length')
      if (name === 'count' && this.word(from) === 'distinct' && this.find(from, to, ',') >= 0)
        throw new Refused('This stand-in counts the distinct values of one expression alone', 1064)
      if (NUMBERS.has(name)) return `CAST(${plain(`_${name}`)} AS NUMERIC)`
      return plain(ALIKE.has(name) ? name : `_${name}`)
    })()
    return [said, close]
  }

  /** "Cast Functions and Operators". */
  private cast(name: string, from: number, to: number): string {
    const by = name === 'cast' ? this.find(from, to, 'as') : this.find(from, to, 'using', ',')
    if (by < 0) throw syntax(name)
    const own = this.typeBetween(from, by)
    const value = this.part(from, by)
    if (this.word(by) === 'using') return `_charset(${value}, '${this.word(by + 1)}')`
    const type = this.tokens
      .slice(by + 1, to)
      .map(({ text }) => text.toLowerCase())
      .join(' ')
      .replace(/ ?([(),]) ?/g, '$1')
    // How many digits a column prints, and what bytes its bits are, its type says.
    if (own && /^(char|nchar|binary)/.test(type))
      return `_shown(${literal(typeText(own))}, ${exactly(value)}, ${literal(type)})`
    const whole = `_cast(${exactly(value)}, ${literal(type)})`
    return /^(signed|unsigned|decimal|dec|double|float|real|year)/.test(type) ? `CAST(${whole} AS NUMERIC)` : whole
  }

  /** "INSERT Statement", "REPLACE Statement", "INSERT ... ON DUPLICATE KEY UPDATE Statement". */
  private insert(first: string): string {
    let at = 1
    let how = first === 'replace' ? 'REPLACE' : 'INSERT'
    while (['low_priority', 'delayed', 'high_priority', 'ignore'].includes(this.word(at)))
      if (this.word(at++) === 'ignore') how = 'INSERT OR IGNORE'
    if (this.word(at) === 'into') at++
    const end = this.tokens.length
    const values = this.find(at, end, 'values', 'value', 'select', 'with', 'set')
    if (values < 0 || this.word(values) === 'set') throw syntax(this.tokens[values]?.text ?? 'INSERT')
    const head = this.part(at, values)
    if (this.word(values) === 'values' && this.word(values + 1) === '(' && this.word(values + 2) === ')')
      return `${how} INTO ${head.replace(/\(\s*\)\s*$/, '')} DEFAULT VALUES`
    const again = this.find(values, end, 'duplicate')
    const body = this.part(values, again < 0 ? end : again - 1)
    if (again < 0) return `${how} INTO ${head} ${body}`
    const changed = this.part(again + 3, end).replace(/\b_?values ?\( ?([^)]*?) ?\)/gi, 'excluded.$1')
    // Behind a query its own words would be taken for a join's.
    const clear = this.word(values) === 'select' && this.find(values, end, 'where') < 0 ? ' WHERE true' : ''
    return `${how} INTO ${head} ${body}${clear} ON CONFLICT DO UPDATE SET ${changed}`
  }

  /** "UPDATE Statement": of one table, or of the first of two that are joined. */
  private update(): string {
    const end = this.tokens.length
    let at = 1
    while (['low_priority', 'ignore'].includes(this.word(at))) at++
    const set = this.find(at, end, 'set')
    if (set < 0) throw syntax('UPDATE')
    const join = this.find(at, set, 'join')
    if (join < 0) return `UPDATE ${this.part(at, end)}`
    const on = this.find(join, set, 'on')
    if (on < 0 || ['left', 'right'].includes(this.word(join - 1))) throw syntax('JOIN')
    const where = this.find(set, end, 'where')
    const changes = this.list(set + 1, where < 0 ? end : where).map(([from, to]) => {
      const equals = this.find(from, to, '=')
      return `${this.tokens[equals - 1]?.text ?? ''} = ${this.part(equals + 1, to)}`
    })
    const first = this.word(join - 1) === 'inner' ? join - 1 : join
    const condition = where < 0 ? '' : ` AND (${this.part(where + 1, end)})`
    return `UPDATE ${this.part(at, first)} SET ${changes.join(', ')} FROM ${this.part(join + 1, on)} WHERE (${this.part(on + 1, set)})${condition}`
  }
}

/** A value so that whole numbers come through to a function to their last digit: what it is, and its text. */
export const exactly = (value: string): string =>
  `typeof(${value}), CASE typeof(${value}) WHEN 'integer' THEN CAST(${value} AS TEXT) ELSE ${value} END`

/** x'…' and b'…'. */
function bits(text: string): string {
  const [, sort = '', inside = ''] = /^([xXbBnN])'([\s\S]*)'$/.exec(text) ?? []
  if (sort === '') throw syntax(text)
  if (/x/i.test(sort)) return `X'${inside}'`
  return /b/i.test(sort) ? String(BigInt(`0b${inside === '' ? '0' : inside}`)) : literal(inside)
}

/** "Hexadecimal Literals": bytes. What is more than the engine counts is the most that it does. */
function number(text: string): string {
  if (/^0x/i.test(text)) return `X'${text.length % 2 === 0 ? '' : '0'}${text.slice(2)}'`
  return /^\d+$/.test(text) && BigInt(text) > 9_223_372_036_854_775_807n ? `${text}.0` : text
}
