// CREATE INDEX and what is later said of one: manual, CREATE INDEX, ALTER INDEX.
import { addressOf, isView, namesOf, type Index, type IndexPart, type Ref, type Relation } from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import { takeCollation } from './columns'
import { joined } from './names'
import type { Indexed, Reading } from './reading'
import { settingsIn, withSettings } from './settings'
import { tableText } from './texts'
import { takeType } from './types'

/** The name that the server gives an index that has none. */
export function indexName(
  reading: Reading,
  home: Relation,
  { parts, include = [] }: Pick<Index, 'parts' | 'include'>
): string {
  const names: string[] = []
  for (const { column, expression } of parts) {
    const name = column ?? expressionName(reading.cursor(expression ?? ''), reading)
    let own = name
    for (let n = 1; names.includes(own); n++) own = `${name}${n}`
    names.push(own)
  }
  return reading.relationName(home.schema, home.name, joined([...names, ...include]), 'idx')
}

/** What an expression is called where it has no name: `FigureColname` of the server's source. */
function expressionName(cursor: Cursor, reading: Reading): string {
  if (cursor.word() === '(') {
    const inner = cursor.group()
    if (cursor.done) return expressionName(inner, reading)
    return cursor.take('::') ? typeNamed(cursor, reading) : 'expr'
  }
  if (cursor.take('case')) return 'case'
  if (/^(coalesce|greatest|least|nullif)$/.test(cursor.word())) return cursor.word()
  if (!cursor.isName) {
    cursor.next()
    return cursor.take('::') ? typeNamed(cursor, reading) : 'expr'
  }
  const name = cursor.path().at(-1) ?? ''
  if (cursor.word() === '(') cursor.group()
  if (cursor.done || cursor.is('::')) return name
  return 'expr'
}

const typeNamed = (cursor: Cursor, reading: Reading): string => {
  const { name } = takeType(cursor, reading).type
  return { integer: 'int4', bigint: 'int8', smallint: 'int2', boolean: 'bool' }[name] ?? name
}

/** The usual order of each type goes without a word: `pg_opclass`, opcdefault. */
const USUAL = new Set(
  (
    'text_ops int2_ops int4_ops int8_ops bool_ops bpchar_ops bytea_ops char_ops cidr_ops date_ops float4_ops float8_ops ' +
    'interval_ops macaddr_ops macaddr8_ops name_ops numeric_ops oid_ops oidvector_ops time_ops timetz_ops timestamp_ops ' +
    'timestamptz_ops uuid_ops array_ops record_ops range_ops multirange_ops enum_ops jsonb_ops tsvector_ops tsquery_ops money_ops ' +
    'bit_ops varbit_ops box_ops circle_ops poly_ops point_ops quad_point_ops xid_ops tid_ops pg_lsn_ops'
  ).split(' ')
)

/** Words that go on after a column or expression of an index. */
const AFTER = new Set(['collate', 'asc', 'desc', 'nulls'])

function takePart(part: Cursor, refs: Map<string, Ref>, reading: Reading): IndexPart {
  const said = (sql: string) => {
    const { text, refs: found = [] } = tableText(sql, reading)
    for (const ref of found) refs.set(JSON.stringify(ref.to), ref)
    return text
  }
  let what: { readonly column: string } | { readonly expression: string }
  if (part.word() === '(') what = { expression: said(part.inside()) }
  else {
    const ahead = part.copy()
    ahead.path()
    if (ahead.word() === '(') {
      const rest = part.copy()
      rest.path()
      rest.group()
      // A function with its arguments, up to where that ends.
      const whole = part.rest()
      const after = rest.rest()
      what = { expression: said(whole.slice(0, whole.length - after.length).trim()) }
      part.path()
      part.group()
    } else what = { column: part.name() }
  }
  const collation = part.take('collate') ? takeCollation(part, reading) : undefined
  let operators: string | undefined
  if (part.isName && !AFTER.has(part.word())) {
    const path = part.path()
    const settings = part.word() === '(' ? part.group() : undefined
    const name = path.at(-1) ?? ''
    const schema = path.at(-2)
    const given = settings ? settingsIn(settings) : {}
    const list = Object.entries(given).map(([key, value]) => `${key}=${value}`)
    const { quote } = reading.write
    const whole =
      (schema === undefined || /^(pg_catalog|public)$/.test(schema) ? '' : `${quote(schema)}.`) + quote(name)
    operators = USUAL.has(name) && list.length === 0 ? undefined : whole + (list.length ? `(${list.join(', ')})` : '')
  }
  const descending = part.takeOne('asc', 'desc') === 'desc'
  const nulls = part.take('nulls') ? part.takeOne('first', 'last') : undefined
  part.finish()
  return {
    ...what,
    descending,
    ...(nulls === undefined || (nulls === 'first') === descending ? {} : { nulls }),
    ...(collation === undefined ? {} : { collation }),
    ...(operators === undefined ? {} : { operators })
  }
}

/** After CREATE [UNIQUE] INDEX. */
export function createIndex(cursor: Cursor, unique: boolean, reading: Reading): void {
  cursor.take('concurrently')
  const gently = cursor.take('if', 'not', 'exists')
  const said = cursor.is('on') && !gently ? undefined : cursor.path().at(-1)
  cursor.expect('on')
  const alone = cursor.take('only')
  const path = cursor.path()
  cursor.take('*')
  const home = reading.relation(path)
  if (!home) throw new NotUnderstood(`There is no table ${path.join('.')} for it to be on.`)
  const method = cursor.take('using') ? cursor.name().toLowerCase() : 'btree'
  if (cursor.word() !== '(') throw new NotUnderstood(`The columns of the index are expected ${cursor.here()}.`)
  const refs = new Map<string, Ref>()
  const parts = cursor
    .group()
    .list()
    .map((part) => takePart(part, refs, reading))
  const columns = isView(home) ? undefined : new Set(home.columns.map(({ name }) => name))
  const include = cursor.take('include') ? cursor.names() : []
  const missing = [...parts.map(({ column }) => column), ...include].find(
    (name) => name !== undefined && columns && !columns.has(name)
  )
  if (missing !== undefined) throw new NotUnderstood(`${home.name} has no column ${missing}.`)
  const nullsAlike = cursor.take('nulls', 'not', 'distinct')
  if (!nullsAlike) cursor.take('nulls', 'distinct')
  const options: Record<string, string> = cursor.take('with') ? settingsIn(cursor.group()) : {}
  if (cursor.take('tablespace')) options['tablespace'] = cursor.name()
  let where: string | undefined
  if (cursor.take('where')) {
    const { text, refs: found = [] } = tableText(cursor.rest(), reading)
    for (const ref of found) refs.set(JSON.stringify(ref.to), ref)
    where = text
  } else cursor.finish()
  if (said !== undefined && reading.isTaken(home.schema, said)) {
    if (gently) return
    throw new NotUnderstood(`There is a table or index ${said} in ${home.schema} already.`)
  }
  const index: Omit<Index, 'name'> = {
    unique,
    parts,
    ...(include.length ? { include } : {}),
    ...(where === undefined ? {} : { where }),
    ...(method === 'btree' ? {} : { method }),
    ...(nullsAlike ? { nullsAlike: true as const } : {}),
    ...(Object.keys(options).length ? { options } : {}),
    ...(refs.size ? { refs: [...refs.values()] } : {})
  }
  addTo(reading, home, { ...index, name: said ?? indexName(reading, home, index) }, alone)
}

/** An index of a partitioned table is one of each of its partitions too. */
function addTo(reading: Reading, home: Relation, index: Index, alone: boolean): void {
  reading.add(home, 'index', index)
  if (alone) return
  for (const part of partsOf(home, reading)) {
    const own = {
      ...index,
      name: indexName(reading, part, index),
      options: { ...index.options, 'part of': index.name }
    }
    addTo(reading, part, own, false)
  }
}

function partsOf(home: Relation, reading: Reading): readonly Relation[] {
  const table = reading.standing.table(home.schema, home.name)
  if (table?.options?.['partition by'] === undefined) return []
  return reading
    .catalog()
    .tables.filter(({ partition }) => partition?.of.schema === home.schema && partition.of.name === home.name)
}

/** After ALTER INDEX and its name, or ALTER TABLE and an index's. */
export function alterIndex(cursor: Cursor, found: Indexed, reading: Reading, name: string): void {
  const address = addressOf(found.kind, found.schema, found.name, name)
  const options = () => (reading.standing.find(address) as Index | undefined)?.options
  if (cursor.take('rename', 'to')) reading.rename(address, cursor.name())
  else if (cursor.take('set', 'tablespace'))
    reading.set(address, 'options', withSettings(options(), { tablespace: cursor.name() }))
  else if (cursor.take('set')) reading.set(address, 'options', withSettings(options(), settingsIn(cursor.group())))
  else if (cursor.take('reset'))
    reading.set(
      address,
      'options',
      withSettings(options(), Object.fromEntries(cursor.names().map((key) => [key, undefined])))
    )
  else if (cursor.take('attach', 'partition')) {
    const part = reading.indexed(cursor.copy().path())
    const own = cursor.path().at(-1) ?? ''
    if (!part) throw new NotUnderstood(`There is no index ${own}.`)
    const place = addressOf(part.kind, part.schema, part.name, own)
    const was = (reading.standing.find(place) as Index | undefined)?.options
    reading.set(place, 'options', withSettings(was, { 'part of': namesOf(address).name }))
  } else if (
    cursor.take('owner', 'to') ||
    cursor.take('depends') ||
    cursor.take('no', 'depends') ||
    cursor.take('alter')
  ) {
    while (!cursor.done) cursor.next()
  } else throw new NotUnderstood(`An index is not changed by “${cursor.word()}”.`)
}
