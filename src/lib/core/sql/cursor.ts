// A place in a statement: what all readers walk over its words with.
import type { Lexis } from './lexis'
import { nameOf, significant, textOf, type Token } from './tokens'

/** A statement that says something which its reader does not know, or which cannot be as it is said: a sentence. */
export class NotUnderstood extends Error {}

/** How exact a reader is. */
export interface Exactness {
  /** Words that are no name unless they stand in quotes. */
  readonly reserved: ReadonlySet<string>
}

/**
 * Walks over the words of a text, or of a part of it; every `take…` leaves the place behind what it took. With `exact` it
 * throws `NotUnderstood` where no name stands for one, parentheses do not pair, or nothing stands between two commas.
 */
export class Cursor {
  constructor(
    private readonly sql: string,
    private readonly lexis: Lexis,
    private readonly exact?: Exactness,
    private readonly tokens: readonly Token[] = significant(sql, lexis),
    private at = 0,
    private readonly end = tokens.length
  ) {}

  /** The word that was asked for last: readers ask for many at one place. */
  private place = -1
  private said = ''

  private part = (from: number, to: number): Cursor =>
    new Cursor(this.sql, this.lexis, this.exact, this.tokens, from, to)

  get done(): boolean {
    return this.at >= this.end
  }

  private token(ahead = 0): Token | undefined {
    return this.at + ahead < this.end ? this.tokens[this.at + ahead] : undefined
  }

  /** The word here, or so many further on, in small letters; what is no word as it stands. */
  word(ahead = 0): string {
    const place = this.at + ahead
    if (place === this.place) return this.said
    const token = this.token(ahead)
    const said = token === undefined ? '' : token.kind === 'word' ? token.text.toLowerCase() : token.text
    if (ahead === 0) [this.place, this.said] = [place, said]
    return said
  }

  /** Whether these words are the next ones. */
  is(...words: readonly string[]): boolean {
    return words[0] === this.word() && (words.length === 1 || words.every((word, i) => this.word(i) === word))
  }

  /** Takes these words if they are the next ones. */
  take(...words: readonly string[]): boolean {
    if (!this.is(...words)) return false
    this.at += words.length
    return true
  }

  /** Takes the next word if it is one of these. */
  takeOne<W extends string>(...words: readonly W[]): W | undefined {
    const here = this.word()
    const found = words.find((word) => word === here)
    if (found !== undefined) this.at++
    return found
  }

  /** Takes these words, which must come here. */
  expect(...words: readonly string[]): void {
    if (this.take(...words)) return
    throw new NotUnderstood(`“${words.join(' ').toUpperCase()}” is expected ${this.here()}.`)
  }

  /** Where it is, for a sentence. */
  here(): string {
    return this.done ? 'at the end' : `before “${this.token()?.text.slice(0, 40) ?? ''}”`
  }

  /** Nothing is left. */
  finish(): void {
    if (!this.done) throw new NotUnderstood(`Nothing is known of what is said from “${this.rest().slice(0, 40)}” on.`)
  }

  /** A name, without its quotes. */
  name(): string {
    const token = this.token()
    if (this.exact && !this.isName) throw new NotUnderstood(`A name is expected ${this.here()}.`)
    this.at++
    return (token && (textOf(token, this.lexis) ?? nameOf(token, this.lexis))) ?? token?.text ?? ''
  }

  /** A name, or a text in its place. */
  nameOrText(): string {
    const token = this.token()
    const text = token && textOf(token, this.lexis)
    if (text === undefined) return this.name()
    this.at++
    return text
  }

  /** Whether a name could stand here. */
  get isName(): boolean {
    const token = this.token()
    if (token?.kind === 'quoted') return token.text.length > 2
    return token?.kind === 'word' && this.exact?.reserved.has(token.text.toLowerCase()) !== true
  }

  /** A name where nothing else can stand: it may be any word. */
  private label(): string {
    const token = this.token()
    const name = token && nameOf(token, this.lexis)
    if (!this.exact || name === undefined) return this.name()
    this.at++
    return name
  }

  /** A name with those that stand before it, each with a full stop behind it. */
  path(): string[] {
    const names = [this.name()]
    while (this.take('.')) names.push(this.label())
    return names
  }

  /** All that is left, as it stands. */
  rest(): string {
    return this.between(this.at, this.end)
  }

  private between(from: number, to: number): string {
    const [first, last] = [this.tokens[from], this.tokens[to - 1]]
    return first && last && to > from ? this.sql.slice(first.at, last.at + last.text.length) : ''
  }

  /** The text from here up to one of these words outside of parentheses, or to the end; one token at least. */
  until(stops: ReadonlySet<string>): string {
    const from = this.at
    for (let depth = 0; !this.done; this.at++) {
      const word = this.word()
      if (depth === 0 && this.at > from && stops.has(word)) break
      depth += word === '(' || word === '[' ? 1 : word === ')' || word === ']' ? -1 : 0
    }
    return this.between(from, this.at)
  }

  /** What stands in the parentheses that begin here. */
  group(): Cursor {
    const from = this.at
    if (this.exact && this.word() !== '(') throw new NotUnderstood(`“(” is expected ${this.here()}.`)
    let depth = 0
    do {
      const word = this.word()
      depth += word === '(' ? 1 : word === ')' ? -1 : 0
      this.at++
    } while (depth > 0 && !this.done)
    if (this.exact && depth > 0) throw new NotUnderstood('A “(” is never closed.')
    return this.part(from + 1, Math.max(from + 1, this.at - 1))
  }

  /** The text inside the parentheses that begin here. */
  inside = (): string => this.group().rest()

  /** The parts from here to the end, between outer commas; none is empty. */
  parts(): Cursor[] {
    const parts: Cursor[] = []
    let depth = 0
    let from = this.at
    const close = () => {
      if (this.at > from) parts.push(this.part(from, this.at))
      else if (this.exact) throw new NotUnderstood(`Nothing stands ${this.here()}, where something is expected.`)
      from = this.at + 1
    }
    if (this.done) return parts
    for (; !this.done; this.at++) {
      const word = this.word()
      depth += word === '(' || word === '[' ? 1 : word === ')' || word === ']' ? -1 : 0
      if (word === ',' && depth === 0) close()
    }
    close()
    return parts
  }

  /** The same; there is one at least. */
  list(): Cursor[] {
    if (this.done) throw new NotUnderstood(`Nothing stands ${this.here()}, where something is expected.`)
    return this.parts()
  }

  /** One token as it stands. */
  next(): string {
    const text = this.token()?.text ?? ''
    this.at++
    return text
  }

  /** Names in parentheses. */
  names(): string[] {
    const group = this.group()
    return (this.exact ? group.list() : group.parts()).map((part) => {
      const name = part.name()
      if (this.exact) part.finish()
      return name
    })
  }

  /** The same place, to look further on from. */
  copy = (): Cursor => this.part(this.at, this.end)

  /** What is left, word by word. */
  left = (): readonly Token[] => this.tokens.slice(this.at, this.end)
}

/** The parts of a text between its outer commas. */
export const listParts = (sql: string, lexis: Lexis): string[] =>
  new Cursor(sql, lexis).parts().map((part) => part.rest())
