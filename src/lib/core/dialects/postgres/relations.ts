// Tables, and what holds their rows together, from rows of the system catalogues.
import type {
  Check,
  Column,
  Counting,
  Exclusion,
  ForeignKey,
  Index,
  IndexPart,
  Key,
  ReferentialAction,
  Table
} from '../../catalog'
import type { RefsOf } from './refs'
import { together } from './refs'
import {
  flag,
  inner,
  isTrue,
  list,
  optional,
  optionsOf,
  parameters,
  rightsOf,
  rowsOf,
  sayings,
  some,
  str,
  type Row
} from './rows'
import { typeOf } from './types'

const actions: Readonly<Record<string, ReferentialAction>> = {
  a: 'no action',
  r: 'restrict',
  c: 'cascade',
  n: 'set null',
  d: 'set default'
}

/** What is said of an object by the catalogue that it is in, its number there, and the part of it. */
export type CommentOf = (
  catalog: 'pg_class' | 'pg_constraint',
  id: unknown,
  number?: unknown
) => { readonly comment?: string }

interface Parts {
  readonly columns: readonly Row[]
  readonly constraints: readonly Row[]
  readonly indexes: readonly Row[]
  readonly commentOf: CommentOf
  /** A column by its table and its number there. */
  nameOf(table: unknown, number: unknown): string
  readonly refsOf: RefsOf
  /** How an identity column's numbers are given out, by its table and its number there. */
  identityOf(table: unknown, number: unknown): Row | undefined
}

/** A constraint with what few have, the names of its columns, and of its parent's. */
const withNames = (row: Row, nameOf: Parts['nameOf']): Row => ({
  ...row,
  ...inner(row, 'more'),
  columns: list(row, 'columns').map((number) => nameOf(row['id'], number)),
  parent_columns: row['parent_columns'] ?? list(row, 'parent_keys').map((number) => nameOf(row['parent_id'], number)),
  sets: list(inner(row, 'more') ?? {}, 'sets').map((number) => nameOf(row['id'], number))
})

export function tableOf(row: Row, parts: Parts): Table {
  const { columns, constraints: found, indexes, commentOf, nameOf, refsOf } = parts
  const schema = str(row, 'schema')
  const name = str(row, 'name')
  const constraints = found.map((c) => withNames(c, nameOf))
  const of = (type: string) => constraints.filter((c) => c['type'] === type)
  const parents = rowsOf(row, 'parents').map((parent) => ({ schema: str(parent, 'schema'), name: str(parent, 'name') }))
  const bound = optional(row, 'bound')
  const [parent] = parents
  const isPart = bound !== undefined && parent !== undefined
  const keys = (type: string) => of(type).map((c) => keyOf(c, commentOf))
  const [primary] = keys('p')
  const exclusions = of('x').map((c): Exclusion => ({
    name: str(c, 'name'),
    definition: str(c, 'expression'),
    ...commentOf('pg_constraint', c['oid']),
    ...together(refsOf('pg_constraint', c['oid']), refsOf('pg_class', c['index']))
  }))
  const clustered = [
    ...indexes.filter((i) => isTrue(i, 'clustered')),
    ...constraints.filter((c) => isTrue(c, 'clustered'))
  ]
  const identifying = [
    ...indexes.filter((i) => isTrue(i, 'identifies')),
    ...constraints.filter((c) => isTrue(c, 'identifies'))
  ]
  const [cluster, identity] = [clustered[0], identifying[0]]
  const replica = { f: 'full', n: 'nothing' }[str(row, 'replica')]
  return {
    schema,
    name,
    ...commentOf('pg_class', row['oid']),
    ...sayings(row),
    columns: columns.map((c) => columnOf(c, parts)),
    ...some('primaryKey', primary),
    uniques: keys('u'),
    foreignKeys: of('f')
      .filter((c) => !isTrue(c, 'of_parent'))
      .map((c) => foreignKeyOf(c, commentOf)),
    checks: of('c').map((c) => checkOf(c, refsOf, commentOf)),
    ...(exclusions.length ? { exclusions } : {}),
    indexes: indexes.map((i) => indexOf(i, refsOf, commentOf)),
    ...refsOf('pg_class', row['oid'], 0),
    ...(isPart ? { partition: { of: parent, bound } } : parents.length ? { inherits: parents } : {}),
    ...optionsOf({
      persistence: row['persistence'] === 'u' ? 'unlogged' : undefined,
      'of type': optional(row, 'of_type'),
      'partition by': optional(row, 'partition_by'),
      tablespace: optional(row, 'tablespace'),
      'access method': optional(row, 'method'),
      'row security': isTrue(row, 'secured')
        ? isTrue(row, 'forced')
          ? 'forced'
          : 'on'
        : isTrue(row, 'forced')
          ? 'forced, off'
          : undefined,
      'replica identity': replica ?? (identity ? `index ${str(identity, 'name')}` : undefined),
      'cluster on': cluster && str(cluster, 'name'),
      ...parameters(list(row, 'options')),
      ...parameters(list(row, 'toast'), 'toast.')
    })
  }
}

/** "ALTER TABLE … SET STORAGE". */
const STORAGE: Readonly<Record<string, string>> = { p: 'plain', e: 'external', m: 'main', x: 'extended' }

function columnOf(row: Row, { commentOf, refsOf, identityOf }: Parts): Column {
  const [table, number] = [row['id'], row['number']]
  const expression = optional(row, 'expression')
  const identity = optional(row, 'identity')
  const counting = identity === undefined ? undefined : identityOf(table, number)
  const column: Column = {
    name: str(row, 'name'),
    type: typeOf(str(row, 'type'), optional(row, 'type_schema')),
    nullable: row['required'] !== true,
    ...some('identity', identity && (identity === 'a' ? ('always' as const) : ('by default' as const))),
    ...some('counting', counting && { ...countingOf(counting), name: str(counting, 'name') }),
    ...commentOf('pg_class', table, number),
    ...together(refsOf('pg_attrdef', row['preset']), refsOf('pg_class', table, number))
  }
  const more = inner(row, 'more')
  if (!more) return expression === undefined ? column : { ...column, default: expression }
  const generated = str(more, 'generated')
  return {
    ...column,
    ...(generated === '' ? some('default', expression) : some('generated', expression)),
    ...(generated === 'v' ? { virtual: true as const } : {}),
    ...some('collation', optional(more, 'collation')),
    ...flag('inherited', isTrue(more, 'inherited')),
    ...flag('neverEmpty', isTrue(more, 'given')),
    ...rightsOf(more),
    ...optionsOf({
      storage: STORAGE[str(more, 'storage')],
      compression: { p: 'pglz', l: 'lz4' }[str(more, 'compression')],
      statistics: optional(more, 'statistics'),
      'not null': optional(more, 'required'),
      ...parameters(list(more, 'options'))
    })
  }
}

/** Counting that is not as the engine would do it by itself: manual, CREATE SEQUENCE. */
export function countingOf(row: Row): Counting {
  const type = str(row, 'type')
  const down = str(row, 'increment').startsWith('-')
  const [least, most] = limits[type] ?? ['', '']
  const [min, max] = down ? [least, '-1'] : ['1', most]
  const start = down ? str(row, 'max') : str(row, 'min')
  const unless = (key: 'start' | 'increment' | 'min' | 'max' | 'cache', usual: string) =>
    str(row, key) === usual ? {} : { [key]: str(row, key) }
  return {
    ...unless('start', start),
    ...unless('increment', '1'),
    ...unless('min', min),
    ...unless('max', max),
    ...unless('cache', '1'),
    ...flag('cycle', isTrue(row, 'cycle'))
  }
}

const limits: Readonly<Record<string, readonly [string, string]>> = {
  smallint: ['-32768', '32767'],
  integer: ['-2147483648', '2147483647'],
  bigint: ['-9223372036854775808', '9223372036854775807']
}

const deferrableOf = (row: Row) =>
  row['deferred'] === true ? 'initially deferred' : row['deferrable'] === true ? 'deferrable' : 'no'

function keyOf(row: Row, commentOf: CommentOf): Key {
  const include = list(row, 'include')
  const deferrable = deferrableOf(row)
  return {
    name: str(row, 'name'),
    columns: list(row, 'columns'),
    ...(include.length ? { include } : {}),
    ...flag('nullsAlike', isTrue(row, 'nulls')),
    ...(deferrable === 'no' ? {} : { deferrable }),
    ...optionsOf({
      'without overlaps': isTrue(row, 'period') ? 'yes' : undefined,
      'comment on index': commentOf('pg_class', row['index']).comment,
      'part of': optional(row, 'part_of'),
      tablespace: optional(row, 'tablespace'),
      ...parameters(list(row, 'options'))
    }),
    ...commentOf('pg_constraint', row['oid'])
  }
}

const foreignKeyOf = (row: Row, commentOf: CommentOf): ForeignKey => ({
  name: str(row, 'name'),
  columns: list(row, 'columns'),
  references: { schema: str(row, 'parent_schema'), table: str(row, 'parent'), columns: list(row, 'parent_columns') },
  onDelete: actions[str(row, 'on_delete')] ?? 'no action',
  onUpdate: actions[str(row, 'on_update')] ?? 'no action',
  deferrable: deferrableOf(row),
  ...(row['match'] === 'f' ? { match: 'full' as const } : {}),
  ...optionsOf({
    'not valid': row['valid'] === false && row['enforced'] !== false ? 'yes' : undefined,
    'not enforced': row['enforced'] === false ? 'yes' : undefined,
    'set only': list(row, 'sets').length ? JSON.stringify(list(row, 'sets')) : undefined,
    'with period': isTrue(row, 'period') ? 'yes' : undefined
  }),
  ...commentOf('pg_constraint', row['oid'])
})

const checkOf = (row: Row, refsOf: RefsOf, commentOf: CommentOf): Check => ({
  name: str(row, 'name'),
  expression: str(row, 'expression'),
  ...flag('inherited', isTrue(row, 'inherited')),
  ...optionsOf({
    'not valid': row['valid'] === false && row['enforced'] !== false ? 'yes' : undefined,
    'not enforced': row['enforced'] === false ? 'yes' : undefined,
    'no inherit': isTrue(row, 'alone') ? 'yes' : undefined
  }),
  ...commentOf('pg_constraint', row['oid']),
  ...refsOf('pg_constraint', row['oid'])
})

export function indexOf(row: Row, refsOf: RefsOf, commentOf: CommentOf): Index {
  const all = rowsOf(row, 'parts')
  const keys = Number(row['keys'])
  const method = str(row, 'method')
  const include = all.slice(keys).map((part) => str(part, 'column'))
  return {
    name: str(row, 'name'),
    unique: row['unique'] === true,
    parts: all.slice(0, keys).map(partOf),
    ...(include.length ? { include } : {}),
    ...some('where', optional(row, 'condition')),
    ...(method === 'btree' ? {} : { method }),
    ...flag('nullsAlike', isTrue(row, 'nulls')),
    ...optionsOf({
      'part of': optional(row, 'part_of'),
      tablespace: optional(row, 'tablespace'),
      ...parameters(list(row, 'options'))
    }),
    ...commentOf('pg_class', row['oid']),
    ...refsOf('pg_class', row['oid'])
  }
}

function partOf(part: Row): IndexPart {
  // Manual, 52.26 pg_index: bit 1 of an option is DESC, bit 2 is NULLS FIRST; descending parts have them first.
  const options = Number(part['options'] ?? 0)
  const descending = (options & 1) === 1
  const first = (options & 2) === 2
  const column = optional(part, 'column')
  const operators = optional(part, 'operators')
  const home = optional(part, 'operators_schema')
  return {
    ...(column === undefined ? { expression: str(part, 'expression').replace(/^\((.*)\)$/s, '$1') } : { column }),
    descending,
    ...(first === descending ? {} : { nulls: first ? ('first' as const) : ('last' as const) }),
    ...some('collation', optional(part, 'collation')),
    ...some('operators', operators === undefined || home === undefined ? operators : `${home}.${operators}`)
  }
}
