// Reads what SQLite keeps of a table: the text of its CREATE TABLE ("The Schema Table", sqlite.org/schematab.html). No
// pragma tells the names of constraints or the conditions of checks, so the text itself is read.
import type { Check, Column, ForeignKey, Index, IndexPart, Key, ReferentialAction, Table } from '../../catalog'
import { nameOf, significant as tokensOf, textOf, type Lexis, type Token } from '../../sql'
import { tidyType } from '../standard'
import { inSmall, sqliteLexis } from './lexis'

export interface ReadTable {
  readonly table: Table
  /** What stands in the text and has no place in a catalogue. */
  readonly unread: readonly string[]
}

/** Names are read as they are spelled. */
const lexis: Lexis = { ...sqliteLexis, fold: (name) => name }
const significant = (sql: string) => tokensOf(sql, lexis)
const constraintWords = /^(constraint|primary|not|null|unique|check|default|collate|references|generated|as)$/

/** Walks over tokens; every `take…` leaves the place behind what it took. */
class Cursor {
  private at = 0
  constructor(
    private readonly sql: string,
    private readonly tokens: readonly Token[]
  ) {}

  get done() {
    return this.at >= this.tokens.length
  }
  word(ahead = 0): string {
    const token = this.tokens[this.at + ahead]
    return token === undefined ? '' : token.kind === 'word' ? token.text.toLowerCase() : token.text
  }
  take(...words: string[]): boolean {
    if (!words.every((word, i) => this.word(i) === word)) return false
    this.at += words.length
    return true
  }
  name(): string {
    const token = this.tokens[this.at++]
    return (token && (textOf(token, lexis) ?? nameOf(token, lexis))) ?? token?.text ?? ''
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
    return splitList(this.inside()).map((text) => new Cursor(text, significant(text)).name())
  }
}

/** The parts of a text between its outer commas. */
export function splitList(sql: string): string[] {
  const parts: string[] = []
  let depth = 0
  let from = 0
  for (const token of significant(sql)) {
    if (token.text === '(') depth++
    else if (token.text === ')') depth--
    else if (token.text === ',' && depth === 0) {
      parts.push(sql.slice(from, token.at))
      from = token.at + 1
    }
  }
  return [...parts, sql.slice(from)].map((part) => part.trim()).filter((part) => part !== '')
}

interface Draft {
  columns: Column[]
  primaryKey?: Key
  uniques: Key[]
  checks: Check[]
  foreignKeys: ForeignKey[]
  unread: string[]
}

/** Reads a CREATE VIEW statement: the names of its columns, where they are said, and what it reads. */
export function readView(sql: string): { readonly columns?: readonly string[]; readonly query: string } {
  const cursor = new Cursor(sql, significant(sql))
  while (!cursor.done && cursor.word() !== 'as' && cursor.word() !== '(') cursor.name()
  const columns = cursor.word() === '(' ? cursor.names() : undefined
  cursor.take('as')
  return { ...(columns ? { columns } : {}), query: cursor.rest() }
}

/** Reads a CREATE TABLE statement. */
export function readTable(name: string, sql: string): ReadTable {
  const cursor = new Cursor(sql, significant(sql))
  while (!cursor.done && cursor.word() !== '(') cursor.name()
  const draft: Draft = { columns: [], uniques: [], checks: [], foreignKeys: [], unread: [] }
  for (const part of splitList(cursor.inside())) {
    const item = new Cursor(part, significant(part))
    if (/^(constraint|primary|unique|check|foreign)$/.test(item.word())) readConstraints(item, draft)
    else readColumn(item, draft)
  }
  while (!cursor.done) {
    const option = cursor.next().toLowerCase()
    if (option === 'without' || option === 'strict')
      draft.unread.push(`${option === 'without' ? 'WITHOUT ROWID' : 'STRICT'} of table`)
  }
  const { primaryKey, uniques, foreignKeys } = ownSpelling(draft)
  const key = new Set(primaryKey?.columns ?? [])
  const [only] = draft.columns.filter((column) => key.has(column.name))
  // "ROWIDs and the INTEGER PRIMARY KEY": such a column is never empty.
  const isRowId = (column: Column) => key.size === 1 && column === only && column.type === 'integer'
  return {
    table: {
      schema: 'main',
      name,
      columns: draft.columns.map((column) =>
        isRowId(column) && column.nullable ? { ...column, nullable: false, neverEmpty: true } : column
      ),
      ...(primaryKey ? { primaryKey } : {}),
      uniques,
      foreignKeys,
      checks: draft.checks,
      indexes: []
    },
    unread: draft.unread
  }
}

/** Keys with the names of their columns as the columns spell them: SQLite does not tell `imo` from `IMO`. */
function ownSpelling({
  columns,
  primaryKey,
  uniques,
  foreignKeys
}: Draft): Omit<Draft, 'columns' | 'checks' | 'unread'> {
  const spelled = <T extends { readonly columns: readonly string[] }>(key: T): T => ({
    ...key,
    columns: key.columns.map((name) => asNamed(name, columns))
  })
  return {
    ...(primaryKey ? { primaryKey: spelled(primaryKey) } : {}),
    uniques: uniques.map(spelled),
    foreignKeys: foreignKeys.map(spelled)
  }
}

/** A name as the object that has it spells it. */
export const asNamed = (name: string, objects: readonly { readonly name: string }[]): string =>
  objects.find((object) => inSmall(object.name) === inSmall(name))?.name ?? name

/** A name for a constraint that was given none, the same each time it is read. */
const unnamed = (draft: Draft) =>
  `unnamed_${1 + draft.uniques.length + draft.checks.length + draft.foreignKeys.length + (draft.primaryKey ? 1 : 0)}`

/** SQLite’s grammar needs no comma between the constraints of a table: tconscomma in its src/parse.y, from memory. */
function readConstraints(item: Cursor, draft: Draft) {
  while (!item.done) {
    const name = item.take('constraint') ? item.name() : unnamed(draft)
    if (item.take('primary', 'key')) draft.primaryKey = { name, columns: plainNames(item) }
    else if (item.take('unique')) draft.uniques.push({ name, columns: plainNames(item) })
    else if (item.take('check')) draft.checks.push({ name, expression: item.inside() })
    else if (item.take('foreign', 'key')) draft.foreignKeys.push(references(item, name, item.names()))
    else draft.unread.push(`${item.next()} of table`)
    conflict(item, draft, name)
  }
}

/** Columns of a key, without the order or collation that may stand beside them. */
const plainNames = (item: Cursor) => item.names()

function conflict(item: Cursor, draft: Draft, what: string) {
  if (item.take('on', 'conflict')) draft.unread.push(`ON CONFLICT ${item.next()} of ${what}`)
}

function readColumn(item: Cursor, draft: Draft) {
  const name = item.name()
  let type = ''
  while (!item.done && !constraintWords.test(item.word()))
    type += item.word() === '(' ? `(${item.inside()})` : `${type === '' ? '' : ' '}${item.next()}`
  // As it is spelled: a key of `int` is not the row’s own number, as one of `integer` is (sqlite.org/lang_createtable.html).
  let column: Column = { name, type: tidyType(type), nullable: true }
  while (!item.done) {
    const label = item.take('constraint') ? item.name() : undefined
    const called = () => label ?? unnamed(draft)
    if (item.take('primary', 'key')) {
      draft.primaryKey = { name: called(), columns: [name] }
      if (item.take('desc')) draft.unread.push(`descending key of column ${name}`)
      item.take('asc')
      conflict(item, draft, name)
      if (item.take('autoincrement')) column = { ...column, identity: 'by default' }
    } else if (item.take('not', 'null')) {
      column = { ...column, nullable: false }
      conflict(item, draft, name)
    } else if (item.take('null')) continue
    else if (item.take('unique')) {
      draft.uniques.push({ name: called(), columns: [name] })
      conflict(item, draft, name)
    } else if (item.take('check')) draft.checks.push({ name: called(), expression: item.inside() })
    else if (item.take('default')) column = { ...column, default: readDefault(item) }
    else if (item.take('collate')) {
      const collation = item.name().toUpperCase()
      if (collation !== 'BINARY') column = { ...column, collation }
    } else if (item.word() === 'references') draft.foreignKeys.push(references(item, called(), [name]))
    else if (item.take('generated', 'always', 'as') || item.take('as')) {
      const generated = item.inside()
      if (item.take('stored')) column = { ...column, generated }
      else {
        item.take('virtual')
        column = { ...column, generated, virtual: true }
      }
    } else draft.unread.push(`${item.next()} of column ${name}`)
  }
  draft.columns.push(column)
}

/** A word after DEFAULT that is no constant is text, quoted or not; seen with SQLite 3.40 (`DEFAULT ""`, `DEFAULT open`). */
function readDefault(item: Cursor): string {
  if (item.word() === '(') return item.inside()
  const sign = item.word()
  if (sign === '-' || sign === '+') return item.next() + item.next()
  const quoted = /^["`[]/.test(sign)
  return quoted || (/^\w/.test(sign) && !/^(\d|x'|(null|true|false|current_(time|date|timestamp))$)/.test(sign))
    ? `'${item.name().replaceAll("'", "''")}'`
    : item.next()
}

function references(item: Cursor, name: string, columns: string[]): ForeignKey {
  item.take('references')
  const table = item.name()
  const keys = item.word() === '(' ? item.names() : []
  let onDelete: ReferentialAction = 'no action'
  let onUpdate: ReferentialAction = 'no action'
  let deferrable: ForeignKey['deferrable'] = 'no'
  for (;;) {
    if (item.take('on', 'delete')) onDelete = action(item)
    else if (item.take('on', 'update')) onUpdate = action(item)
    else if (item.take('match')) item.next()
    else if (item.take('not', 'deferrable')) {
      item.take('initially', 'immediate')
      item.take('initially', 'deferred')
    } else if (item.take('deferrable')) {
      deferrable = 'deferrable'
      if (item.take('initially', 'deferred')) deferrable = 'initially deferred'
      else item.take('initially', 'immediate')
    } else
      return { name, columns, references: { schema: 'main', table, columns: keys }, onDelete, onUpdate, deferrable }
  }
}

function action(item: Cursor): ReferentialAction {
  const first = item.next().toLowerCase()
  const words = first === 'set' || first === 'no' ? `${first} ${item.next().toLowerCase()}` : first
  return words as ReferentialAction
}

/** Reads a CREATE INDEX statement. */
export function readIndex(name: string, sql: string): { readonly index: Index; readonly unread: readonly string[] } {
  const cursor = new Cursor(sql, significant(sql))
  const unread: string[] = []
  let unique = false
  while (!cursor.done && cursor.word() !== 'on') unique = cursor.next().toLowerCase() === 'unique' || unique
  while (!cursor.done && cursor.word() !== '(') cursor.name()
  const parts = splitList(cursor.inside()).map((text): IndexPart => {
    const tokens = significant(text)
    const last = tokens.at(-1)?.text.toLowerCase()
    const descending = last === 'desc'
    const end = last === 'desc' || last === 'asc' ? (tokens.at(-1)?.at ?? text.length) : text.length
    const body = text.slice(0, end).trim()
    const inner = significant(body)
    if (inner[1]?.text.toLowerCase() === 'collate') unread.push(`collation ${inner[2]?.text ?? ''} of index`)
    const plain = inner.length === 1 || inner[1]?.text.toLowerCase() === 'collate'
    return plain
      ? { column: new Cursor(body, inner).name(), descending }
      : { expression: withoutParentheses(body), descending }
  })
  const where = cursor.take('where') ? cursor.rest() : undefined
  return { index: { name, unique, parts, ...(where === undefined ? {} : { where }) }, unread }
}

function withoutParentheses(text: string): string {
  const tokens = significant(text)
  if (tokens[0]?.text !== '(') return text
  let depth = 0
  for (const [i, token] of tokens.entries()) {
    depth += token.text === '(' ? 1 : token.text === ')' ? -1 : 0
    if (depth === 0) return i === tokens.length - 1 ? text.slice(tokens[0].at + 1, token.at).trim() : text
  }
  return text
}
