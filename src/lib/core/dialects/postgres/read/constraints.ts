// Keys, checks, foreign keys and exclusions, as a table's statement or a later one says them: manual, CREATE TABLE.
import {
  sameSet,
  type Check,
  type Deferrable,
  type Exclusion,
  type ForeignKey,
  type Key,
  type MemberOf,
  type Options,
  type ReferentialAction,
  type Table
} from '../../../catalog'
import { nameOf, NotUnderstood, significant, type Cursor } from '../../../sql'
import { joined } from './names'
import type { Reading } from './reading'
import { partsText, tableText } from './texts'
import { settingsIn } from './settings'

export type Draft = {
  readonly [K in 'primaryKey' | 'unique' | 'foreignKey' | 'check' | 'exclusion']: {
    readonly kind: K
    readonly name: string | undefined
    readonly value: Omit<MemberOf[K], 'name'>
  }
}[keyof MemberOf & ('primaryKey' | 'unique' | 'foreignKey' | 'check' | 'exclusion')]

export const BEGINS = new Set(['constraint', 'primary', 'unique', 'check', 'foreign', 'exclude'])

const ACTIONS: readonly (readonly [readonly string[], ReferentialAction])[] = [
  [['no', 'action'], 'no action'],
  [['restrict'], 'restrict'],
  [['cascade'], 'cascade'],
  [['set', 'null'], 'set null'],
  [['set', 'default'], 'set default']
]

interface When {
  deferrable: Deferrable
  valid: boolean
  enforced: boolean
}

/** What may follow any constraint. */
export function takeWhen(cursor: Cursor): When {
  const when: When = { deferrable: 'no', valid: true, enforced: true }
  for (;;) {
    if (cursor.take('not', 'deferrable')) when.deferrable = 'no'
    else if (cursor.take('deferrable')) when.deferrable = when.deferrable === 'no' ? 'deferrable' : when.deferrable
    else if (cursor.take('initially', 'deferred')) when.deferrable = 'initially deferred'
    else if (cursor.take('initially', 'immediate')) continue
    else if (cursor.take('not', 'valid')) when.valid = false
    else if (cursor.take('not', 'enforced')) when.enforced = false
    else if (cursor.take('enforced')) when.enforced = true
    else return when
  }
}

const unchecked = ({ valid, enforced }: When): Record<string, string> => ({
  ...(valid || !enforced ? {} : { 'not valid': 'yes' }),
  ...(enforced ? {} : { 'not enforced': 'yes' })
})
const withOptions = (options: Options): { readonly options?: Options } =>
  Object.keys(options).length ? { options } : {}

/** A constraint of a column or table, from the word that tells which; `column` where it stands with one. */
export function takeConstraint(
  cursor: Cursor,
  name: string | undefined,
  table: Pick<Table, 'schema' | 'name'>,
  reading: Reading,
  column?: string
): Draft {
  const own = column === undefined ? undefined : [column]
  if (cursor.take('check')) return { kind: 'check', name, value: takeCheck(cursor, reading) }
  if (cursor.take('primary', 'key')) return { kind: 'primaryKey', name, value: takeKey(cursor, own) }
  if (cursor.take('unique')) {
    const nulls = cursor.take('nulls', 'not', 'distinct')
    if (!nulls) cursor.take('nulls', 'distinct')
    return { kind: 'unique', name, value: { ...takeKey(cursor, own), ...(nulls ? { nullsAlike: true as const } : {}) } }
  }
  if (cursor.take('exclude')) return { kind: 'exclusion', name, value: takeExclusion(cursor, reading) }
  if (cursor.take('foreign', 'key')) {
    const { columns, period } = takeColumns(cursor)
    cursor.expect('references')
    return { kind: 'foreignKey', name, value: takeReference(cursor, columns, table, reading, period) }
  }
  if (own && cursor.take('references'))
    return { kind: 'foreignKey', name, value: takeReference(cursor, own, table, reading, false) }
  throw new NotUnderstood(`No constraint begins with “${cursor.word().toUpperCase()}”.`)
}

function takeCheck(cursor: Cursor, reading: Reading): Omit<Check, 'name'> {
  if (cursor.word() !== '(') throw new NotUnderstood(`A check stands in parentheses: “(” is expected ${cursor.here()}.`)
  const { text, refs } = tableText(cursor.inside(), reading)
  const alone = cursor.take('no', 'inherit')
  const when = takeWhen(cursor)
  return {
    expression: text,
    ...withOptions({ ...unchecked(when), ...(alone || cursor.take('no', 'inherit') ? { 'no inherit': 'yes' } : {}) }),
    ...(refs ? { refs } : {})
  }
}

function takeKey(cursor: Cursor, own: readonly string[] | undefined): Omit<Key, 'name'> {
  let columns = own ?? []
  const options: Record<string, string> = {}
  if (!own && cursor.word() === '(')
    columns = cursor
      .group()
      .list()
      .map((part) => {
        const name = part.name()
        if (part.take('without', 'overlaps')) options['without overlaps'] = 'yes'
        part.finish()
        return name
      })
  if (columns.length === 0) throw new NotUnderstood('Which columns the key has is not said.')
  const include = cursor.take('include') ? cursor.names() : []
  if (cursor.take('with')) Object.assign(options, settingsIn(cursor.group()))
  if (cursor.take('using', 'index', 'tablespace')) options['tablespace'] = cursor.name()
  const { deferrable } = takeWhen(cursor)
  return {
    columns,
    ...(include.length ? { include } : {}),
    ...(deferrable === 'no' ? {} : { deferrable }),
    ...withOptions(options)
  }
}

function takeExclusion(cursor: Cursor, reading: Reading): Omit<Exclusion, 'name'> {
  const method = cursor.take('using') ? cursor.name() : 'btree'
  for (const part of cursor.copy().group().list()) {
    const value = part.until(WITH)
    if (value.toLowerCase() === 'with') throw new NotUnderstood('What is excluded is not said.')
    part.expect('with')
    if (!/^\W+$|^operator\s*\(/i.test(part.rest())) throw new NotUnderstood(`An operator is expected ${part.here()}.`)
  }
  const rest = cursor.rest()
  while (!cursor.done) cursor.next()
  const { text, refs } = partsText(rest, reading)
  return {
    definition: `EXCLUDE USING ${method} ${text.replace(/\s+/g, ' ').replace(/\s*not deferrable\b/i, '')}`,
    ...(refs ? { refs } : {})
  }
}

/** Columns in parentheses; the last may be a period. */
function takeColumns(cursor: Cursor): { readonly columns: readonly string[]; readonly period: boolean } {
  let period = false
  const columns = cursor
    .group()
    .list()
    .map((part) => {
      if (part.is('period') && part.word(1) !== '') period = part.take('period')
      const name = part.name()
      part.finish()
      return name
    })
  return { columns, period }
}

const WITH = new Set(['with'])

function takeReference(
  cursor: Cursor,
  columns: readonly string[],
  table: Pick<Table, 'schema' | 'name'>,
  reading: Reading,
  period: boolean
): Omit<ForeignKey, 'name'> {
  const path = cursor.path()
  const named = cursor.word() === '(' ? takeColumns(cursor).columns : []
  let [onDelete, onUpdate]: ReferentialAction[] = ['no action', 'no action']
  let match: 'full' | undefined
  const options: Record<string, string> = period ? { 'with period': 'yes' } : {}
  for (;;) {
    if (cursor.take('match', 'full')) match = 'full'
    else if (cursor.take('match')) cursor.next()
    else if (cursor.is('on', 'delete') || cursor.is('on', 'update')) {
      cursor.next()
      const isDelete = cursor.next().toLowerCase() === 'delete'
      const action = ACTIONS.find(([words]) => cursor.take(...words))?.[1]
      if (!action) throw new NotUnderstood(`There is no action “${cursor.word()}” of a foreign key.`)
      if (isDelete) onDelete = action
      else onUpdate = action
      if (cursor.word() === '(') options['set only'] = JSON.stringify(cursor.names())
    } else break
  }
  const when = takeWhen(cursor)
  const parent = parentOf(path, table, reading)
  return {
    columns,
    references: {
      schema: parent.schema,
      table: parent.name,
      columns: named.length ? named : (parent.key ?? []),
      ...(named.length === 0 && parent.key === undefined ? { unnamed: true as const } : {})
    },
    onDelete: onDelete ?? 'no action',
    onUpdate: onUpdate ?? 'no action',
    deferrable: when.deferrable,
    ...(match ? { match } : {}),
    ...withOptions({ ...options, ...unchecked(when) })
  }
}

/**
 * A table may name itself before it is there: its key is known by the time that it is settled. One that the script does not
 * make is somewhere else: a script may be a part of what makes a database.
 */
function parentOf(path: readonly string[], table: Pick<Table, 'schema' | 'name'>, reading: Reading) {
  const own = path.at(-1) === table.name && (path.length === 1 || path.at(-2) === table.schema)
  const found = reading.relation(path)
  if (found && !('query' in found))
    return { schema: found.schema, name: found.name, key: found.primaryKey?.columns ?? [] }
  if (own) return { schema: table.schema, name: table.name, key: [] }
  const name = path.at(-1) ?? ''
  reading.remark(`${table.name} refers to ${path.join('.')}, which is not made here.`)
  return { schema: path.at(-2) ?? reading.path[0] ?? table.schema, name, key: undefined }
}

/**
 * A table with more constraints, each with its name: checks first, then keys, and foreign keys last, in whatever order they
 * were said, as the server makes them (`DefineRelation` and `transformIndexConstraints` of its source).
 */
export function withConstraints(table: Table, drafts: readonly Draft[], reading: Reading): Table {
  if (drafts.length === 0) return table
  const made = new Maker(table, reading)
  const of = (...kinds: readonly Draft['kind'][]) => drafts.filter(({ kind }) => kinds.includes(kind))
  for (const draft of of('check')) made.take(draft)
  for (const draft of of('primaryKey')) made.take(draft)
  for (const draft of of('unique', 'exclusion')) made.take(draft)
  for (const draft of of('foreignKey')) made.take(draft)
  return made.table
}

class Maker {
  private readonly given = new Set<string>()
  constructor(
    public table: Table,
    private readonly reading: Reading
  ) {}

  take(draft: Draft): void {
    const { table } = this
    switch (draft.kind) {
      case 'check': {
        const column = onlyColumn(draft.value.expression, table, this.reading)
        const name = this.constraint(draft.name, column ?? '', 'check')
        this.table = { ...table, checks: [...table.checks, { name, ...draft.value }] }
        return
      }
      case 'primaryKey': {
        if (table.primaryKey) throw new NotUnderstood(`${table.name} has a primary key already.`)
        this.known(draft.value.columns)
        const name = this.index(draft.name, '', 'pkey')
        const keyed = new Set(draft.value.columns)
        this.table = {
          ...table,
          columns: table.columns.map((column) => (keyed.has(column.name) ? { ...column, nullable: false } : column)),
          primaryKey: { name, ...draft.value }
        }
        return
      }
      case 'unique': {
        this.known(draft.value.columns)
        // One that says no more than another is not made twice.
        if (
          draft.name === undefined &&
          [table.primaryKey, ...table.uniques].some((key) => key && isSame(key, draft.value))
        )
          return
        const name = this.index(draft.name, joined([...draft.value.columns, ...(draft.value.include ?? [])]), 'key')
        this.table = { ...table, uniques: [...table.uniques, { name, ...draft.value }] }
        return
      }
      case 'exclusion': {
        const name = this.index(draft.name, joined(excluded(draft.value.definition, this.reading)), 'excl')
        this.table = { ...table, exclusions: [...(table.exclusions ?? []), { name, ...draft.value }] }
        return
      }
      case 'foreignKey': {
        this.known(draft.value.columns)
        const name = this.constraint(draft.name, joined(draft.value.columns), 'fkey')
        const { references } = draft.value
        const own = references.schema === table.schema && references.table === table.name
        const columns = references.columns.length || !own ? references.columns : (table.primaryKey?.columns ?? [])
        if (columns.length === 0 && !references.unnamed)
          throw new NotUnderstood(`${references.table} has no primary key to refer to.`)
        if (columns.length > 0 && columns.length !== draft.value.columns.length)
          throw new NotUnderstood(`The key of ${references.table} has another number of columns.`)
        this.table = {
          ...table,
          foreignKeys: [...table.foreignKeys, { name, ...draft.value, references: { ...references, columns } }]
        }
      }
    }
  }

  private known(columns: readonly string[]) {
    const missing = columns.find((name) => !this.table.columns.some((column) => column.name === name))
    if (missing !== undefined) throw new NotUnderstood(`${this.table.name} has no column ${missing}.`)
  }

  private constraint(said: string | undefined, second: string, label: string): string {
    const { schema, name } = this.table
    const taken = (own: string) =>
      this.given.has(own) || [...this.table.checks, ...this.table.foreignKeys].some((other) => other.name === own)
    if (said !== undefined && taken(said)) throw new NotUnderstood(`${name} has a constraint ${said} already.`)
    const made = said ?? this.reading.constraintName(schema, name, second, label, this.given)
    this.given.add(made)
    return made
  }

  private index(said: string | undefined, second: string, label: string): string {
    const { schema, name } = this.table
    if (said !== undefined && (this.given.has(said) || this.reading.isTaken(schema, said)))
      throw new NotUnderstood(`There is a table or index ${said} in ${schema} already.`)
    const made = said ?? this.reading.relationName(schema, name, second, label, this.given)
    this.given.add(made)
    return made
  }
}

const isSame = (a: Omit<Key, 'name'>, b: Omit<Key, 'name'>): boolean =>
  a.columns.length === b.columns.length &&
  a.columns.every((column, i) => column === b.columns[i]) &&
  sameSet(a.include ?? [], b.include ?? []) &&
  a.nullsAlike === b.nullsAlike &&
  a.deferrable === b.deferrable

/** The only column of its table that a condition names, for its name: `AddRelationNewConstraints` of the server's source. */
function onlyColumn(expression: string, table: Table, reading: Reading): string | undefined {
  const columns = new Set(table.columns.map(({ name }) => name))
  const found = new Set<string>()
  const tokens = significant(expression, reading.lexis)
  tokens.forEach((token, i) => {
    const name = nameOf(token, reading.lexis)
    if (name !== undefined && columns.has(name) && tokens[i + 1]?.text !== '(' && tokens[i - 1]?.text !== '::')
      found.add(name)
  })
  return found.size === 1 ? [...found][0] : undefined
}

/** The columns, and what stands for expressions, that an exclusion's index is named after. */
function excluded(definition: string, reading: Reading): string[] {
  const cursor = reading.cursor(definition)
  while (!cursor.done && cursor.word() !== '(') cursor.next()
  return cursor
    .group()
    .parts()
    .map((part) => (part.isName && part.word(1) !== '(' ? part.name() : 'expr'))
}
