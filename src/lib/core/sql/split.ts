// A script to its statements, by an engine's lexis.
import type { Bodies, Lexis } from './lexis'
import { isSignificant, tokenAt, type Token } from './tokens'

export interface SqlStatement {
  readonly sql: string
  /** Offset of its first character in the script. */
  readonly at: number
  /** Those of its tokens that mean something, by their places in the script. */
  readonly tokens: readonly Token[]
}

/**
 * Splits at what ends a statement: a semicolon, or what the engine's own tool was told to take for it (`DELIMITER //`,
 * `SET TERM ^ ;`); not inside quotes, comments, or the body of a trigger or routine. Total: nothing fails. With `shell`, its
 * own lines, and the rows behind a COPY, are passed over.
 */
export function splitStatements(script: string, lexis: Lexis, shell?: 'psql'): SqlStatement[] {
  const result: SqlStatement[] = []
  let end = ';'
  let tokens: Token[] = []
  let place = new Place(lexis.bodies)
  const take = (token: Token) => {
    if (!isSignificant(token)) return
    tokens.push(token)
    place.take(token)
  }
  const close = () => {
    const [first, last] = [tokens[0], tokens.at(-1)]
    if (first && last) result.push({ sql: script.slice(first.at, last.at + last.text.length), at: first.at, tokens })
    tokens = []
    place = new Place(lexis.bodies)
  }
  for (let at = 0; at < script.length;) {
    if (shell && tokens.length === 0 && script[at] === '\\') {
      at = lineEnd(script, at)
      continue
    }
    const command = tokens.length === 0 ? delimiterCommand(script, at, end, lexis) : undefined
    if (command) {
      end = command.end
      at = command.at
      continue
    }
    const blank = blankEnd(script, at)
    if (blank > at) {
      at = blank
      continue
    }
    const token = tokenAt(script, at, lexis)
    const cut = end === ';' ? (token.text === ';' && !place.open ? 0 : -1) : cutAt(script, token, end)
    if (cut > 0) take({ ...token, text: token.text.slice(0, cut) })
    const rows = shell && cut >= 0 && tokens[0] !== undefined && isCopy(script, tokens[0].at, at)
    if (cut >= 0) close()
    else take(token)
    at += cut >= 0 ? cut + end.length : token.text.length
    if (rows) at = rowsEnd(script, at)
  }
  close()
  return result
}

/** The end of blanks that begin here. */
function blankEnd(script: string, at: number): number {
  let end = at
  for (let code = script.charCodeAt(end); code === 32 || (code >= 9 && code <= 13); code = script.charCodeAt(end)) end++
  return end
}

const lineEnd = (script: string, at: number): number => {
  const end = script.indexOf('\n', at)
  return end < 0 ? script.length : end + 1
}

/** Manual, COPY: rows stand behind the statement, up to a line of `\\.`. */
const isCopy = (script: string, from: number, to: number): boolean =>
  /^copy\b/i.test(script.slice(from, from + 5)) && /\bfrom\s+stdin\b/i.test(script.slice(from, to))

function rowsEnd(script: string, at: number): number {
  const end = /^\\\.[ \t]*\r?$/gm
  end.lastIndex = at
  return end.exec(script) ? lineEnd(script, end.lastIndex) : script.length
}

/** Where in a token, if at all, what was set to end a statement begins: `END//`, `END$$`. */
function cutAt(script: string, { kind, text, at }: Token, end: string): number {
  if (kind === 'string' || kind === 'quoted' || kind === 'comment' || kind === 'executable') return -1
  return script.startsWith(end, at) ? 0 : text.indexOf(end)
}

/** `DELIMITER //` takes a line; `SET TERM ^ ;` ends as statements did until then. */
function delimiterCommand(
  script: string,
  at: number,
  end: string,
  { delimiterCommand: how }: Lexis
): { readonly end: string; readonly at: number } | undefined {
  if (how === undefined) return undefined
  const command =
    how === 'delimiter'
      ? /delimiter[ \t]+(\S+)[^\n]*\n?/iy
      : new RegExp(`set\\s+term\\s+(\\S+?)\\s*${end.replace(/[^\w\s]/g, '\\$&')}`, 'iy')
  command.lastIndex = at
  const found = command.exec(script)
  return found?.[1] === undefined ? undefined : { end: found[1], at: at + found[0].length }
}

/** Where in a statement the reader is: whether a semicolon would end it. */
class Place {
  private parentheses = 0
  /** What has been opened and not closed, innermost last. */
  private readonly blocks: string[] = []
  private words: string[] = []
  private before: Token | undefined
  private beforeThat: Token | undefined
  /** The statement makes something that has a body. */
  private made: 'unknown' | 'no' | 'yes' = 'unknown'
  /** PSQL: blocks that are yet to be closed; a routine inside a routine has one of its own. */
  private expected = 0
  /** Compound: the body is one statement that is no block. */
  private begun = false
  private subroutine = false

  constructor(private readonly bodies: Bodies | undefined) {}

  get open(): boolean {
    switch (this.bodies) {
      case 'rules':
        return this.parentheses > 0 || this.blocks.length > 0
      case 'trigger':
        return this.made === 'yes' && !(wordOf(this.before) === 'end' && this.beforeThat?.text === ';')
      case 'compound':
        return this.blocks.length > 0
      case 'psql':
        return this.blocks.length > 0 || this.expected > 0
      default:
        return false
    }
  }

  take(token: Token) {
    if (token.text === '(') this.parentheses++
    else if (token.text === ')') this.parentheses = Math.max(0, this.parentheses - 1)
    const word = wordOf(token)
    if (this.made === 'unknown' && this.bodies) {
      if (word === undefined && this.words.length === 0) this.made = 'no'
      else if (word !== undefined) {
        this.words.push(word)
        this.made = hasBody(this.words, this.bodies)
        if (this.made === 'yes' && this.words[0] === 'begin') this.blocks.push('begin')
      }
    }
    if (word !== undefined && this.made === 'yes') this.word(word)
    if (token.text === ';') this.subroutine = false
    this.beforeThat = this.before
    this.before = token
  }

  private word(word: string) {
    const before = wordOf(this.before)
    // A name behind a dot is a name, whatever the word.
    if (this.before?.text === '.') return
    const last = this.blocks.at(-1)
    switch (this.bodies) {
      case 'rules':
        // `SELECT 1 AS case` is a name in PostgreSQL.
        if (before === 'as' || this.parentheses > 0) return
        if (word === 'atomic' && before === 'begin') this.blocks.push('begin')
        else if (word === 'case' && last !== undefined) this.blocks.push('case')
        else if (word === 'end' && last !== undefined) this.blocks.pop()
        return
      case 'compound':
        return this.compoundWord(word, before, last)
      case 'psql':
        if (word === 'as' && this.parentheses === 0 && last === undefined && (this.expected === 0 || this.subroutine)) {
          this.expected++
          this.subroutine = false
        } else if ((word === 'procedure' || word === 'function') && before === 'declare') this.subroutine = true
        else if (word === 'begin' || word === 'case') this.blocks.push(word)
        else if (word === 'end' && last !== undefined) {
          this.blocks.pop()
          if (this.blocks.length === 0) this.expected = Math.max(0, this.expected - 1)
        }
    }
  }

  /** `END IF` and the like close what they name; a bare END closes BEGIN, or a CASE that gives a value. */
  private compoundWord(word: string, before: string | undefined, last: string | undefined) {
    if (before === 'end' && closedByName.has(word)) return
    if (before === 'for' && word === 'each') return void this.blocks.pop()
    if (word === 'end') return before === 'as' ? undefined : void this.blocks.pop()
    // A statement begins where the body does, or where another one ended or let one in.
    const inside =
      last !== undefined &&
      last !== 'value' &&
      (this.before?.text === ';' || this.before?.text === ':' || (before !== undefined && letsIn.has(before)))
    const whole =
      last === undefined && !this.begun && this.parentheses === 0 && before !== undefined
        ? !names.has(before)
        : last === undefined && !this.begun && this.before?.text === ')'
    if (word === 'case' && before !== 'as') this.blocks.push(inside || whole ? 'case' : 'value')
    else if ((word === 'begin' || closedByName.has(word)) && (inside || whole)) this.blocks.push(word)
    else if (whole && plainStatements.has(word) && !notYet.has(before ?? '')) this.begun = true
  }
}

const wordOf = (token: Token | undefined): string | undefined =>
  token?.kind === 'word' ? token.text.toLowerCase() : undefined

/** Blocks that END closes by name. */
const closedByName = new Set(['if', 'case', 'loop', 'while', 'repeat', 'for'])
/** After these a statement begins. */
const letsIn = new Set(['begin', 'then', 'else', 'do', 'loop', 'repeat', 'atomic'])
/** After these a name comes. */
const names = new Set(['procedure', 'function', 'trigger', 'event', 'exists', 'package', 'body', 'as'])
/** What a body of one plain statement begins with. */
const plainStatements = new Set(
  'select insert update delete set call replace return with values signal truncate drop alter'.split(' ')
)
/** `AFTER INSERT`, `OR REPLACE`, `CHARACTER SET`: the head of what is made. */
const notYet = new Set(['before', 'after', 'or', 'character', 'each'])

/** What a statement's first words make, if that has a body. */
function hasBody(words: readonly string[], bodies: Bodies): 'unknown' | 'no' | 'yes' {
  const [first] = words
  if (bodies === 'psql' && first === 'execute')
    return words.length < 2 ? 'unknown' : words[1] === 'block' ? 'yes' : 'no'
  if (bodies === 'compound' && first === 'begin')
    return words.length < 2 ? 'unknown' : words[1] === 'not' ? 'yes' : 'no'
  if (bodies === 'trigger' && first === 'explain') return hasBody(words.slice(1), bodies)
  const makes: Readonly<Record<Bodies, readonly string[]>> = {
    rules: ['create'],
    trigger: ['create'],
    compound: ['create', 'alter'],
    psql: ['create', 'alter', 'recreate']
  }
  if (first === undefined) return 'unknown'
  if (!makes[bodies].includes(first)) return 'no'
  const kinds: Readonly<Record<Bodies, RegExp>> = {
    rules: /^(function|procedure)$/,
    trigger: /^trigger$/,
    compound: /^(trigger|procedure|function|event|package)$/,
    psql: /^(trigger|procedure|function|package)$/
  }
  if (words.some((word) => kinds[bodies].test(word))) return 'yes'
  // DEFINER = somebody stands between CREATE and what is made.
  const other = words.slice(1).some((word) => /^(table|view|index|database|schema|user|role|sequence)$/.test(word))
  return other || words.length > 8 ? 'no' : 'unknown'
}
