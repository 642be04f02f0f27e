// Keys, indexes and foreign keys as CREATE TABLE and ALTER TABLE say them: "CREATE TABLE", "Index Definitions"; "Foreign Keys".
import type { ForeignKey, Index, IndexPart, Options, ReferentialAction } from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'

export type ReadMember =
  | { readonly kind: 'primaryKey'; readonly columns: readonly string[]; readonly parts: readonly IndexPart[] }
  | { readonly kind: 'index'; readonly index: Omit<Index, 'name'>; readonly name?: string }
  | {
      readonly kind: 'foreignKey'
      readonly fk: Omit<ForeignKey, 'name'>
      readonly name?: string
      readonly indexName?: string
    }
  | { readonly kind: 'check'; readonly expression: string; readonly name?: string }

const KEYED = new Set([
  'primary',
  'unique',
  'key',
  'index',
  'fulltext',
  'spatial',
  'foreign',
  'check',
  'constraint',
  'period'
])
/** Whether a definition is of something else than a column. */
export const isMember = (item: Cursor): boolean =>
  KEYED.has(item.word()) &&
  !/^`/.test(item.rest()) &&
  (item.word() !== 'key' || item.word(1) !== '') &&
  (item.word() !== 'period' || item.word(1) === 'for')

const named = (name: string | undefined): { readonly name?: string } =>
  name === undefined || name === '' ? {} : { name }

export function readMember(item: Cursor): ReadMember {
  const label =
    item.take('constraint') && !['primary', 'unique', 'foreign', 'check'].includes(item.word())
      ? item.name()
      : undefined
  if (item.take('primary', 'key')) {
    method(item)
    if (item.word() !== '(') item.name()
    method(item)
    const parts = indexParts(item)
    indexOptions(item)
    return { kind: 'primaryKey', columns: parts.flatMap(({ column }) => column ?? []), parts }
  }
  if (item.take('foreign', 'key')) {
    item.take('if', 'not', 'exists')
    const indexName = item.word() === '(' ? undefined : item.name()
    const columns = item.names()
    return {
      kind: 'foreignKey',
      fk: references(item, columns),
      ...named(label),
      ...(indexName === undefined ? {} : { indexName })
    }
  }
  if (item.take('check')) {
    const expression = item.inside()
    if (item.take('not')) item.next()
    else item.take('enforced')
    return { kind: 'check', expression, ...named(label) }
  }
  if (item.word() === 'period') throw new NotUnderstood('Nothing is known of periods yet.')
  const unique = item.take('unique')
  const special = unique ? undefined : item.takeOne('fulltext', 'spatial')
  item.takeOne('key', 'index')
  item.take('if', 'not', 'exists')
  const own = readIndex(item, unique, special)
  return { ...own, ...named(own.name ?? label) }
}

/** From the index's name on: `name [USING …] (parts) options`. */
export function readIndex(
  item: Cursor,
  unique: boolean,
  special: string | undefined,
  name?: string
): ReadMember & { kind: 'index' } {
  let using = method(item)
  const called = name ?? (item.word() === '(' ? undefined : item.name())
  using = method(item) ?? using
  const parts = indexParts(item)
  const { comment, options, using: last } = indexOptions(item)
  const how = special ?? last ?? using
  return {
    kind: 'index',
    index: {
      unique,
      parts: special === undefined ? parts : parts.map(({ length: _length, ...part }) => part),
      ...(how === undefined || how === 'btree' ? {} : { method: how }),
      ...(comment ? { comment } : {}),
      ...(options ? { options } : {})
    },
    ...named(called)
  }
}

const method = (item: Cursor): string | undefined =>
  item.take('using') || item.take('type') ? item.next().toLowerCase() : undefined

function indexParts(item: Cursor): IndexPart[] {
  return item
    .group()
    .parts()
    .map((part): IndexPart => {
      if (part.word() === '(') throw new NotUnderstood('An index of an expression is none of MariaDB’s.')
      const column = part.name()
      const length = part.word() === '(' ? Number(part.inside()) : undefined
      const descending = part.take('desc')
      part.take('asc')
      return { column, ...(length === undefined ? {} : { length }), descending }
    })
}

function indexOptions(item: Cursor): { comment?: string; options?: Options; using?: string } {
  const found: { comment?: string; options?: Options; using?: string } = {}
  while (!item.done) {
    if (item.take('comment')) found.comment = item.nameOrText()
    else if (item.take('using') || item.take('type')) found.using = item.next().toLowerCase()
    else if (item.takeOne('ignored', 'invisible')) found.options = { ignored: 'yes' }
    else if (item.takeOne('visible', 'not')) item.take('ignored')
    else if (item.takeOne('key_block_size', 'clustering')) {
      item.take('=')
      item.next()
    } else if (item.take('with', 'parser')) item.name()
    else break
  }
  return found
}

export function references(item: Cursor, columns: readonly string[]): Omit<ForeignKey, 'name'> {
  item.expect('references')
  const table = item.path().at(-1) ?? ''
  const keys = item.word() === '(' ? item.names() : [...columns]
  // What is not said is RESTRICT, which the server prints as such.
  let [onDelete, onUpdate]: [ReferentialAction, ReferentialAction] = ['restrict', 'restrict']
  for (;;) {
    if (item.take('on', 'delete')) onDelete = action(item)
    else if (item.take('on', 'update')) onUpdate = action(item)
    else if (item.take('match')) item.next()
    else break
  }
  return { columns, references: { schema: 'main', table, columns: keys }, onDelete, onUpdate, deferrable: 'no' }
}

function action(item: Cursor): ReferentialAction {
  const first = item.next().toLowerCase()
  return (first === 'set' || first === 'no' ? `${first} ${item.next().toLowerCase()}` : first) as ReferentialAction
}
