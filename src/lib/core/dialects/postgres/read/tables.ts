// CREATE TABLE: manual, of that name.
import {
  isView,
  type Check,
  type Column,
  type Index,
  type Key,
  type Relation,
  type Sequence,
  type Table
} from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import { BEGINS, takeConstraint, withConstraints, type Draft } from './constraints'
import { takeClauses, takeColumn } from './columns'
import { indexName } from './indexes'
import type { Reading } from './reading'
import { settingsIn } from './settings'
import { partsText } from './texts'

/** What a table's statement says, before its constraints have their names. */
interface Said {
  columns: Column[]
  constraints: Draft[]
  sequences: Sequence[]
  /** From another table: what is there is like what is here. */
  indexes: Index[]
  comments: boolean
}

/** After CREATE … TABLE. */
export function createTable(cursor: Cursor, reading: Reading, options: Record<string, string>): void {
  const gently = cursor.take('if', 'not', 'exists')
  const place = reading.home(cursor.path())
  if (reading.isTaken(place.schema, place.name)) {
    if (gently) return
    throw new NotUnderstood(`There is a table, view or index ${place.name} in ${place.schema} already.`)
  }
  const said: Said = { columns: [], constraints: [], sequences: [], indexes: [], comments: false }
  let partition: Table['partition']
  if (cursor.take('partition', 'of')) {
    const parent = reading.table(cursor.path())
    fromParents([parent], said)
    if (cursor.word() === '(') takeElements(cursor.group(), said, place, reading, true)
    partition = { of: { schema: parent.schema, name: parent.name }, bound: takeBound(cursor) }
  } else if (cursor.take('of')) {
    const type = reading.lookFor('type', cursor.path())
    if (!type?.fields) throw new NotUnderstood(`There is no composite type for ${place.name} to be of.`)
    const { quote } = reading.write
    options['of type'] = `${type.schema === 'public' ? '' : `${quote(type.schema)}.`}${quote(type.name)}`
    said.columns = type.fields.map(({ name, type: of, collation }) => ({
      name,
      type: of,
      nullable: true,
      ...(collation === undefined ? {} : { collation })
    }))
    if (cursor.word() === '(') takeElements(cursor.group(), said, place, reading, true)
  } else {
    if (cursor.is('as') || cursor.is('with') || cursor.is('using'))
      throw new NotUnderstood(
        `The table ${place.name} is made of a query: what its columns are, only the engine knows.`
      )
    takeElements(cursor.group(), said, place, reading, false)
  }
  const parents: Table[] = []
  takeRest(cursor, options, parents, reading)
  if (parents.length) fromParents(parents, said)
  cursor.finish()

  const checks = [...inheritedChecks(partition ? [reading.table([partition.of.schema, partition.of.name])] : parents)]
  const table: Table = {
    ...place,
    columns: said.columns,
    uniques: [],
    foreignKeys: [],
    checks,
    indexes: [],
    ...(parents.length ? { inherits: parents.map(({ schema, name }) => ({ schema, name })) } : {}),
    ...(partition ? { partition } : {}),
    ...(Object.keys(options).length ? { options } : {})
  }
  for (const sequence of said.sequences) {
    const { ownedBy: _later, ...alone } = sequence
    reading.create('sequence', alone)
  }
  reading.create('table', withConstraints(table, said.constraints, reading))
  for (const sequence of said.sequences) reading.replace('sequence', sequence)
  for (const index of said.indexes) reading.add(place, 'index', { ...index, name: indexName(reading, place, index) })
  if (partition) asPart(reading, place, reading.table([partition.of.schema, partition.of.name]))
}

function takeElements(group: Cursor, said: Said, place: Relation, reading: Reading, given: boolean): void {
  const names = new Set<string>()
  for (const part of group.parts()) {
    const sequences = said.sequences.length
    if (BEGINS.has(part.word()) && !isColumn(part)) {
      const own = part.take('constraint') ? part.name() : undefined
      if (part.take('not', 'null')) {
        requireColumn(said, part.name(), own, place, reading)
        continue
      }
      said.constraints.push(takeConstraint(part, own, place, reading))
      part.finish()
    } else if (part.is('like') && part.word(1) !== '') takeLike(part, said, reading)
    else if (given) {
      // A column that is there by its type or parent, with more said of it.
      const name = part.name()
      part.take('with', 'options')
      const at = said.columns.findIndex((column) => column.name === name)
      const column = said.columns[at]
      if (!column) throw new NotUnderstood(`${place.name} has no column ${name}.`)
      const more = { column, constraints: said.constraints, options: {} }
      takeClauses(part, more, place, reading, names)
      said.columns[at] = more.column
    } else {
      const { column, constraints, sequence } = takeColumn(part, place, reading, names)
      if (said.columns.some((other) => other.name === column.name))
        throw new NotUnderstood(`There is a column ${column.name} already.`)
      said.columns.push(column)
      said.constraints.push(...constraints)
      if (sequence) said.sequences.push(sequence)
    }
    const made = said.sequences[sequences]
    if (made) names.add(made.name)
  }
}

/** `check int` is a column: those words are reserved, but for `exclude`. */
const isColumn = (part: Cursor): boolean => part.is('exclude') && part.word(1) !== 'using' && part.word(1) !== '('

/** `NOT NULL code`, which version 18 has as a constraint of the table. */
function requireColumn(said: Said, name: string, own: string | undefined, place: Relation, reading: Reading): void {
  const named = own !== undefined && reading.version >= 18 && own !== `${place.name}_${name}_not_null`
  said.columns = said.columns.map((column) =>
    column.name === name
      ? { ...column, nullable: false, ...(named ? { options: { ...column.options, 'not null': own } } : {}) }
      : column
  )
}

const LIKE_ALL = [
  'comments',
  'compression',
  'constraints',
  'defaults',
  'generated',
  'identity',
  'indexes',
  'statistics',
  'storage'
]

/** LIKE: the columns of another table, and so much more of it as is said. */
function takeLike(part: Cursor, said: Said, reading: Reading): void {
  part.take('like')
  const from = reading.relation(part.path())
  if (!from || isView(from)) throw new NotUnderstood('The table that it is to be like is not there.')
  const with_ = new Set<string>()
  while (!part.done) {
    const including = part.takeOne('including', 'excluding')
    const what = part.next().toLowerCase()
    for (const each of what === 'all' ? LIKE_ALL : [what])
      if (including === 'including') with_.add(each)
      else with_.delete(each)
  }
  for (const {
    default: preset,
    generated,
    virtual,
    identity,
    counting,
    comment,
    options,
    inherited: _not,
    origin: _own,
    ...column
  } of from.columns) {
    const kept = Object.entries(options ?? {}).filter(([name]) => with_.has(name))
    said.columns.push({
      ...column,
      ...(preset !== undefined && with_.has('defaults') ? { default: preset } : {}),
      ...(generated !== undefined && with_.has('generated') ? { generated, ...(virtual ? { virtual } : {}) } : {}),
      ...(identity && with_.has('identity') ? { identity, ...(counting ? { counting } : {}) } : {}),
      ...(comment !== undefined && with_.has('comments') ? { comment } : {}),
      ...(kept.length ? { options: Object.fromEntries(kept) } : {})
    })
  }
  if (with_.has('constraints'))
    for (const { name, ...value } of from.checks) said.constraints.push({ kind: 'check', name, value })
  if (!with_.has('indexes')) return
  const again = ({ name: _name, comment: _comment, ...value }: Key) => value
  if (from.primaryKey) said.constraints.push({ kind: 'primaryKey', name: undefined, value: again(from.primaryKey) })
  for (const key of from.uniques) said.constraints.push({ kind: 'unique', name: undefined, value: again(key) })
  said.indexes.push(...from.indexes)
}

/** A table has its parents' columns before its own; one that both have is the parents', as it says it. */
function fromParents(parents: readonly Table[], said: Said): void {
  const own = new Map(said.columns.map((column) => [column.name, column]))
  const merged = new Map<string, Column>()
  for (const parent of parents)
    for (const {
      identity: _i,
      counting: _c,
      comment: _d,
      rights: _r,
      origin: _o,
      options,
      ...column
    } of parent.columns) {
      const there = merged.get(column.name) ?? own.get(column.name)
      const { statistics: _s, 'not null': _n, ...kept } = options ?? {}
      const from = { ...column, ...(Object.keys(kept).length ? { options: kept } : {}) }
      merged.set(
        column.name,
        there
          ? {
              ...there,
              nullable: there.nullable && column.nullable,
              ...((there.default ?? column.default) ? { default: there.default ?? column.default ?? '' } : {})
            }
          : { ...from, inherited: true }
      )
    }
  said.columns = [...merged.values(), ...said.columns.filter(({ name }) => !merged.has(name))]
}

const inheritedChecks = (parents: readonly Table[]): Check[] => [
  ...new Map(
    parents.flatMap((parent) =>
      parent.checks
        .filter(({ options }) => options?.['no inherit'] === undefined)
        .map(({ comment: _c, origin: _o, ...check }) => [check.name, { ...check, inherited: true as const }] as const)
    )
  ).values()
]

/** `FOR VALUES …` or `DEFAULT`, as the server prints it. */
export function takeBound(cursor: Cursor): string {
  if (cursor.take('default')) return 'DEFAULT'
  cursor.expect('for', 'values')
  const group = () =>
    `(${cursor
      .group()
      .parts()
      .map((part) => part.rest())
      .join(', ')})`
  if (cursor.take('in')) return `FOR VALUES IN ${group()}`
  if (cursor.take('from')) {
    const from = group()
    cursor.expect('to')
    return `FOR VALUES FROM ${from} TO ${group()}`
  }
  cursor.expect('with')
  const { modulus, remainder } = Object.fromEntries(
    cursor
      .group()
      .parts()
      .map((part) => [part.name(), part.next()])
  ) as { modulus?: string; remainder?: string }
  return `FOR VALUES WITH (modulus ${modulus ?? ''}, remainder ${remainder ?? ''})`
}

/** What stands behind a table's columns. */
function takeRest(cursor: Cursor, options: Record<string, string>, parents: Table[], reading: Reading) {
  for (;;) {
    if (cursor.take('inherits'))
      for (const part of cursor.group().list()) {
        parents.push(reading.table(part.path()))
        part.finish()
      }
    else if (cursor.take('partition', 'by')) {
      const how = cursor.next().toUpperCase()
      const { text } = partsText(cursor.inside().replace(/\s+/g, ' '), reading)
      options['partition by'] = `${how} (${text})`
    } else if (cursor.take('using')) {
      const method = cursor.name()
      if (method !== 'heap') options['access method'] = method
    } else if (cursor.take('without', 'oids') || cursor.take('with', 'oids')) continue
    else if (cursor.take('with')) Object.assign(options, settingsIn(cursor.group()))
    else if (cursor.take('on', 'commit')) {
      cursor.next()
      cursor.take('rows')
    } else if (cursor.take('tablespace')) options['tablespace'] = cursor.name()
    else return
  }
}

/** The keys, indexes and foreign keys of the whole, each as its part of a partition has it. */
export function asPart(reading: Reading, place: Relation, whole: Table): void {
  const table = () => reading.table([place.schema, place.name])
  const partOf = (name: string, options: Key['options']) => ({ options: { ...options, 'part of': name } })
  const keys = [
    ...(whole.primaryKey ? [['primaryKey', whole.primaryKey] as const] : []),
    ...whole.uniques.map((key) => ['unique', key] as const)
  ]
  for (const [kind, { name, comment: _c, origin: _o, ...key }] of keys) {
    const own = kind === 'primaryKey' ? [table().primaryKey] : table().uniques
    if (own.some((other) => other && other.columns.join() === key.columns.join())) continue
    const { options: _options, ...value } = { ...key, ...partOf(name, key.options) }
    const made = withConstraints(table(), [{ kind, name: undefined, value }], reading)
    const list = kind === 'primaryKey' ? (made.primaryKey ? [made.primaryKey] : []) : made.uniques
    const added = list.at(-1)
    if (added) reading.add(place, kind, { ...added, ...partOf(name, key.options) })
  }
  for (const { name, comment: _c, origin: _o, ...index } of whole.indexes)
    reading.add(place, 'index', { ...index, name: indexName(reading, place, index), ...partOf(name, index.options) })
}
