// A place in a statement: what all readers walk over its words with.
import type { Lexis } from './lexis'
import { nameOf, significant, textOf, type Token } from './tokens'

/** Walks over the words of a text; every `take…` leaves the place behind what it took. */
export class Cursor {
  private at = 0

  constructor(
    private readonly sql: string,
    private readonly lexis: Lexis,
    private readonly tokens: readonly Token[] = significant(sql, lexis)
  ) {}

  get done(): boolean {
    return this.at >= this.tokens.length
  }

  /** The word here, or so many further on, in small letters; what is no word as it stands. */
  word(ahead = 0): string {
    const token = this.tokens[this.at + ahead]
    return token === undefined ? '' : token.kind === 'word' ? token.text.toLowerCase() : token.text
  }

  /** Takes these words if they are the next ones. */
  take(...words: string[]): boolean {
    if (!words.every((word, i) => this.word(i) === word)) return false
    this.at += words.length
    return true
  }

  /** A name, without its quotes. */
  name(): string {
    const token = this.tokens[this.at++]
    return (token && (textOf(token, this.lexis) ?? nameOf(token, this.lexis))) ?? token?.text ?? ''
  }

  /** A name with those that stand before it, each with a full stop behind it. */
  path(): string[] {
    const names = [this.name()]
    while (this.take('.')) names.push(this.name())
    return names
  }

  /** All that is left, as it stands. */
  rest(): string {
    const next = this.tokens[this.at]
    return next ? this.sql.slice(next.at).trim() : ''
  }

  /** The text inside the parentheses that begin here. */
  inside(): string {
    const open = this.tokens[this.at]
    let depth = 0
    do {
      depth += this.word() === '(' ? 1 : this.word() === ')' ? -1 : 0
      this.at++
    } while (depth > 0 && !this.done)
    const close = this.tokens[this.at - 1]
    return open && close ? this.sql.slice(open.at + 1, close.at).trim() : ''
  }

  /** One token as it stands. */
  next(): string {
    return this.tokens[this.at++]?.text ?? ''
  }

  /** Names in parentheses. */
  names(): string[] {
    return listParts(this.inside(), this.lexis).map((text) => new Cursor(text, this.lexis).name())
  }
}

/** The parts of a text between its outer commas. */
export function listParts(sql: string, lexis: Lexis): string[] {
  const parts: string[] = []
  let depth = 0
  let from = 0
  for (const token of significant(sql, lexis)) {
    if (token.text === '(') depth++
    else if (token.text === ')') depth--
    else if (token.text === ',' && depth === 0) {
      parts.push(sql.slice(from, token.at))
      from = token.at + 1
    }
  }
  return [...parts, sql.slice(from)].map((part) => part.trim()).filter((part) => part !== '')
}
