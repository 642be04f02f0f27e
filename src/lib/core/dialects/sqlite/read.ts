// Reads what SQLite keeps of a table: the text of its CREATE TABLE ("The Schema Table", sqlite.org/schematab.html). No
// pragma tells the names of constraints or the conditions of checks, so the text itself is read.
import { typeText } from '../../catalog'
import type { Check, Column, ForeignKey, Index, IndexPart, Key, Options, ReferentialAction, Table } from '../../catalog'
import { hash } from '../../naming'
import { Cursor, listParts, nameOf, significant as tokensOf, type Lexis, type Token } from '../../sql'
import { sqliteTypes } from './types'
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

const cursorOn = (sql: string, tokens?: readonly Token[]) => new Cursor(sql, lexis, undefined, tokens)
export const splitList = (sql: string): string[] => listParts(sql, lexis)

interface Draft {
  columns: Column[]
  primaryKey?: Key
  uniques: Key[]
  checks: Check[]
  foreignKeys: ForeignKey[]
  unread: string[]
  readonly names: Set<string>
  /** The key is said beside its column, and to descend. */
  inlineDescending?: true
}

/** What keeps a virtual table, with what it is told; nothing for any other table. */
export function moduleOf(sql: string): string | undefined {
  const cursor = cursorOn(sql)
  if (!cursor.take('create', 'virtual', 'table')) return undefined
  while (!cursor.done && !cursor.take('using')) cursor.name()
  return cursor.rest()
}

/** Reads a CREATE VIEW statement: the names of its columns, where they are said, and what it reads. */
export function readView(sql: string): { readonly columns?: readonly string[]; readonly query: string } {
  const cursor = cursorOn(sql)
  while (!cursor.done && cursor.word() !== 'as' && cursor.word() !== '(') cursor.name()
  const columns = cursor.word() === '(' ? cursor.names() : undefined
  cursor.take('as')
  return { ...(columns ? { columns } : {}), query: cursor.rest() }
}

/** Reads a CREATE TABLE statement. */
export function readTable(name: string, sql: string): ReadTable {
  const cursor = cursorOn(sql)
  let said = ''
  while (!cursor.done && cursor.word() !== '(') said = cursor.name()
  const draft: Draft = { columns: [], uniques: [], checks: [], foreignKeys: [], unread: [], names: new Set() }
  for (const part of splitList(cursor.inside())) {
    const item = cursorOn(part)
    if (/^(constraint|primary|unique|check|foreign)$/.test(item.word())) readConstraints(item, draft)
    else readColumn(item, draft)
  }
  const options: Record<string, string> = {}
  while (!cursor.done) {
    if (cursor.take('without', 'rowid')) options['without rowid'] = 'yes'
    else if (cursor.take('strict')) options['strict'] = 'yes'
    else {
      const word = cursor.next()
      if (word !== ',') draft.unread.push(`${word} of table`)
    }
  }
  const { primaryKey, uniques, foreignKeys } = ownSpelling(draft)
  const key = new Set(primaryKey?.columns ?? [])
  const [only] = draft.columns.filter((column) => key.has(column.name))
  // "ROWIDs and the INTEGER PRIMARY KEY": such a column is never empty, but for a key said to descend beside its column.
  const isRowId = (column: Column) =>
    key.size === 1 && column === only && typeText(column.type) === 'integer' && draft.inlineDescending !== true
  // "Clustered Indexes and the WITHOUT ROWID Optimization", 2: NOT NULL is enforced on the key of such a table.
  const isFilled = (column: Column) => (options['without rowid'] === undefined ? isRowId(column) : key.has(column.name))
  return {
    table: {
      schema: 'main',
      name,
      columns: draft.columns.map((column) =>
        isFilled(column) && column.nullable ? { ...column, nullable: false, neverEmpty: true } : column
      ),
      ...(primaryKey ? { primaryKey } : {}),
      uniques,
      foreignKeys,
      checks: draft.checks,
      indexes: [],
      ...(Object.keys(options).length ? { options } : {}),
      // Under another name it would make another table.
      ...(said === name ? { written: sql } : {})
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
}: Draft): Pick<Draft, 'primaryKey' | 'uniques' | 'foreignKeys'> {
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

/** A name for a constraint that was given none: made of what it says, so that it is the same wherever it stands. */
function unnamed(draft: Draft, ...says: readonly unknown[]): string {
  const base = `${UNNAMED}${hash(JSON.stringify(says))}`
  let name = base
  for (let n = 2; draft.names.has(name); n++) name = `${base}_${n}`
  draft.names.add(name)
  return name
}

const UNNAMED = 'unnamed_'
/** Whether a constraint has a name only here. */
export const isUnnamed = (name: string): boolean => new RegExp(`^${UNNAMED}[0-9a-z]{7}(_\\d+)?$`).test(name)

/** SQLite’s grammar needs no comma between the constraints of a table: tconscomma in its src/parse.y, from memory. */
function readConstraints(item: Cursor, draft: Draft) {
  while (!item.done) {
    const label = item.take('constraint') ? item.name() : undefined
    if (item.take('primary', 'key')) {
      const key = { ...keyColumns(item), ...conflict(item) }
      draft.primaryKey = { name: label ?? unnamed(draft, 'primary key'), ...key }
    } else if (item.take('unique')) {
      const key = { ...keyColumns(item), ...conflict(item) }
      draft.uniques.push({ name: label ?? unnamed(draft, 'unique', key.columns.map(inSmall)), ...key })
    } else if (item.take('check')) {
      const expression = item.inside()
      // "CHECK constraints": ON CONFLICT is read and means nothing there.
      conflict(item)
      draft.checks.push({ name: label ?? unnamed(draft, 'check', expression), expression })
    } else if (item.take('foreign', 'key')) draft.foreignKeys.push(references(item, draft, label, item.names()))
    else draft.unread.push(`${item.next()} of table`)
  }
}

/** Columns of a key, with the order or collation that may stand beside them. */
function keyColumns(item: Cursor): Pick<Key, 'columns' | 'parts'> {
  const found = splitList(item.inside()).map((text) => {
    const cursor = cursorOn(text)
    const name = cursor.name()
    const collation = cursor.take('collate') ? cursor.name().toUpperCase() : undefined
    const descending = cursor.take('desc')
    return {
      name,
      part: { ...(collation === undefined ? {} : { collation }), ...(descending ? { descending: true as const } : {}) }
    }
  })
  const parts = found.map(({ part }) => part)
  return {
    columns: found.map(({ name }) => name),
    ...(parts.some((part) => Object.keys(part).length > 0) ? { parts } : {})
  }
}

/** What is done with a row that breaks a rule, where that is said. */
function conflict(item: Cursor, what = 'on conflict'): { readonly options?: Options } {
  if (!item.take('on', 'conflict')) return {}
  const how = item.next().toLowerCase()
  return how === 'abort' ? {} : { options: { [what]: how } }
}

function readColumn(item: Cursor, draft: Draft) {
  const name = item.name()
  let type = ''
  while (!item.done && !constraintWords.test(item.word()))
    type += item.word() === '(' ? `(${item.inside()})` : `${type === '' ? '' : ' '}${item.next()}`
  // As it is spelled: a key of `int` is not the row’s own number, as one of `integer` is (sqlite.org/lang_createtable.html).
  let column: Column = { name, type: sqliteTypes.read(type), nullable: true }
  while (!item.done) {
    const label = item.take('constraint') ? item.name() : undefined
    if (item.take('primary', 'key')) {
      const descending = item.take('desc')
      item.take('asc')
      if (descending) draft.inlineDescending = true
      draft.primaryKey = {
        name: label ?? unnamed(draft, 'primary key'),
        columns: [name],
        ...(descending ? { parts: [{ descending: true }] } : {}),
        ...conflict(item)
      }
      if (item.take('autoincrement')) column = { ...column, identity: 'by default' }
    } else if (item.take('not', 'null'))
      column = { ...column, nullable: false, ...conflict(item, 'not null on conflict') }
    else if (item.take('null')) conflict(item)
    else if (item.take('unique')) {
      draft.uniques.push({
        name: label ?? unnamed(draft, 'unique', [inSmall(name)]),
        columns: [name],
        ...conflict(item)
      })
    } else if (item.take('check')) {
      const expression = item.inside()
      conflict(item)
      draft.checks.push({ name: label ?? unnamed(draft, 'check', expression), expression })
    } else if (item.take('default')) column = { ...column, default: readDefault(item) }
    else if (item.take('collate')) {
      const collation = item.name().toUpperCase()
      if (collation !== 'BINARY') column = { ...column, collation }
    } else if (item.word() === 'references') draft.foreignKeys.push(references(item, draft, label, [name]))
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

function references(item: Cursor, draft: Draft, label: string | undefined, columns: string[]): ForeignKey {
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
    } else {
      const name = label ?? unnamed(draft, 'foreign key', columns.map(inSmall), inSmall(table), keys.map(inSmall))
      return { name, columns, references: { schema: 'main', table, columns: keys }, onDelete, onUpdate, deferrable }
    }
  }
}

function action(item: Cursor): ReferentialAction {
  const first = item.next().toLowerCase()
  const words = first === 'set' || first === 'no' ? `${first} ${item.next().toLowerCase()}` : first
  return words as ReferentialAction
}

/** Reads a CREATE INDEX statement. */
export function readIndex(name: string, sql: string): Index {
  const cursor = cursorOn(sql)
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
    // What is sorted by another collation than its column says so last.
    const at = inner.length - 2
    const named = at > 0 && inner[at]?.text.toLowerCase() === 'collate' ? inner[at + 1] : undefined
    const own = named ? inner.slice(0, at) : inner
    const collated = named ? { collation: (nameOf(named, lexis) ?? named.text).toUpperCase() } : {}
    const what = named ? body.slice(0, inner[at]?.at).trim() : body
    return own.length === 1 && own[0] && nameOf(own[0], lexis) !== undefined
      ? { column: cursorOn(what, own).name(), descending, ...collated }
      : { expression: withoutParentheses(what), descending, ...collated }
  })
  const where = cursor.take('where') ? cursor.rest() : undefined
  return { name, unique, parts, ...(where === undefined ? {} : { where }) }
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
