// A type as a statement says it: manual, chapter 8 Data Types, and 8.1.4 Serial Types.
import { addressOf, freeAddress, type DataType, type Ref } from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import { typeOf } from '../types'
import type { Reading } from './reading'

export interface SaidType {
  readonly type: DataType
  /** A number that counts by itself: the type is what it counts in. */
  readonly serial?: true
  /** What of the database's own it is, where it is no type by itself: the rows of a table. */
  readonly refs?: readonly Ref[]
}

const SERIAL: Readonly<Record<string, string>> = {
  smallserial: 'smallint',
  serial2: 'smallint',
  serial: 'integer',
  serial4: 'integer',
  bigserial: 'bigint',
  serial8: 'bigint'
}

/** Words that one type's name is made of, each with those that may follow it. */
const MORE: Readonly<Record<string, readonly string[]>> = {
  double: ['precision'],
  character: ['varying'],
  char: ['varying'],
  national: ['character', 'char'],
  nchar: ['varying'],
  bit: ['varying']
}
const NATIONAL: Readonly<Record<string, string>> = {
  'national character': 'character',
  'national char': 'character',
  nchar: 'character'
}
const SPELLED: Readonly<Record<string, string>> = {
  'char varying': 'character varying',
  dec: 'numeric',
  varbit: 'bit varying'
}
const SPAN = new Set('year month day hour minute second to'.split(' '))

/** Types that the server brings, beside those that have a name of several words: the manual's chapter 8 and `pg_type`. */
const OWN = new Set(
  (
    'bigint int8 bit boolean bool box bytea character char varchar bpchar cidr circle date double float float4 float8 inet integer int ' +
    'int4 interval json jsonb jsonpath line lseg macaddr macaddr8 money numeric decimal dec path pg_lsn pg_snapshot point polygon real ' +
    'smallint int2 text time timetz timestamp timestamptz tsquery tsvector txid_snapshot uuid varbit xml name oid xid xid8 cid tid aclitem ' +
    'int2vector oidvector refcursor void trigger event_trigger record cstring internal unknown language_handler fdw_handler ' +
    'table_am_handler index_am_handler tsm_handler any anyelement anyarray anynonarray anyenum anyrange anymultirange anycompatible ' +
    'anycompatiblearray anycompatiblenonarray anycompatiblerange anycompatiblemultirange regclass regcollation regconfig regdictionary ' +
    'regnamespace regoper regoperator regproc regprocedure regrole regtype int4range int8range numrange tsrange tstzrange daterange ' +
    'int4multirange int8multirange nummultirange tsmultirange tstzmultirange datemultirange pg_node_tree nchar national opaque'
  ).split(' ')
)

const known = new Map<string, DataType>()
/** The server's own types come in few spellings: each is read once. */
function own(text: string): DataType {
  let type = known.get(text)
  if (!type) {
    type = typeOf(text, undefined)
    if (known.size < 1000) known.set(text, type)
  }
  return type
}

/** Takes the type that begins here. */
export function takeType(cursor: Cursor, reading: Reading): SaidType {
  const said = takeOne(cursor, reading)
  return lists(cursor) ? { ...said, type: { name: 'array', of: said.type } } : said
}

/** `[]`, `[3]`, `ARRAY`: however many, they are one list (manual, 8.15.1). */
function lists(cursor: Cursor): boolean {
  for (let found = false; ; found = true) {
    const word = cursor.take('array')
    if (!word && cursor.word() !== '[') return found
    if (!cursor.take('[')) continue
    if (/^\d+$/.test(cursor.word())) cursor.next()
    cursor.expect(']')
  }
}

function takeOne(cursor: Cursor, reading: Reading): SaidType {
  cursor.take('setof')
  const quoted = cursor.word().startsWith('"')
  const path = cursor.path()
  let name = path.at(-1) ?? ''
  // `pg_catalog.int4` and `int4` are one.
  const schema = path.at(-2) === 'pg_catalog' ? undefined : path.at(-2)
  const bare = schema === undefined && !quoted
  if (bare && path.length === 1)
    for (let more = MORE[name.split(' ').at(-1) ?? '']; more; more = MORE[name.split(' ').at(-1) ?? '']) {
      const word = cursor.takeOne(...more)
      if (word === undefined) break
      name = `${name} ${word}`
    }
  if (bare) name = name.replace(/^(national character|national char|nchar)/, (words) => NATIONAL[words] ?? words)
  if (bare) name = SPELLED[name] ?? name
  let args = ''
  if (name === 'interval' && bare) {
    const words: string[] = []
    while (SPAN.has(cursor.word())) words.push(cursor.next().toLowerCase())
    if (cursor.word() === '(') args = `(${cursor.inside()})`
    if (words.length) args = ` ${words.join(' ')}${args}`
  } else if (cursor.word() === '(')
    args = `(${cursor
      .group()
      .list()
      .map((part) => argument(part))
      .join(',')})`
  if (bare && /^(timestamp|time)$/.test(name)) {
    if (cursor.take('with', 'time', 'zone')) args += ' with time zone'
    else if (cursor.take('without', 'time', 'zone')) args += ' without time zone'
  }
  const serial = bare ? SERIAL[name] : undefined
  if (serial !== undefined) return { type: own(serial), serial: true }
  if (bare && OWN.has(name.split(' ')[0] ?? '') && !isFloat(name, args)) return { type: own(name + args) }
  if (bare && name === 'float') return { type: own(floating(args)) }
  const quote = (text: string) => (/^[a-z_][a-z0-9_]*$/.test(text) ? text : `"${text.replaceAll('"', '""')}"`)
  if (quoted && name === 'char' && schema === undefined) return { type: own('"char"') }
  if (cursor.take('%', 'type')) return { type: columnType(path, reading) }
  const type = reading.lookFor('type', path)
  const rows = type ? undefined : reading.relation(path)
  // A list of the server's own, by the name that it has for it; what it brings beside types.
  const element = bare && !type && !rows && name.startsWith('_') ? name.slice(1) : ''
  if (OWN.has(element)) return { type: { name: 'array', of: own(element) } }
  if (bare && !type && !rows && name.startsWith('pg_')) return { type: { name } }
  const home = type?.schema ?? rows?.schema ?? schema ?? homeOfForeign(name, reading)
  return {
    type: typeOf(`${quote(name)}${args}`, home),
    ...(rows ? { refs: [{ to: addressOf('query' in rows ? 'view' : 'table', rows.schema, rows.name) }] } : {}),
    ...(type ? { refs: [{ to: freeAddress('type', type) }] } : {})
  }
}

/** What stands in a type's parentheses: a number, a text or a word each. */
function argument(part: Cursor): string {
  const text = (part.take('-') ? '-' : '') + part.next()
  part.finish()
  return text
}

/** `berth.code%TYPE`: the type that a column has by now. */
function columnType(path: readonly string[], reading: Reading): DataType {
  const found = reading.table(path.slice(0, -1)).columns.find(({ name }) => name === path.at(-1))
  if (!found) throw new NotUnderstood(`There is no column ${path.join('.')}.`)
  return found.type
}

const isFloat = (name: string, args: string) => name === 'float' && args !== ''
/** Manual, 8.1.3: up to 24 bits of precision are a real's. */
const floating = (args: string) => (Number(args.slice(1, -1)) <= 24 ? 'real' : 'double precision')

/** A type that nothing in the script makes is of an extension, or of the schema that is looked through first. */
const homeOfForeign = (name: string, reading: Reading): string =>
  reading.standing.free('extension', '', name)?.schema ?? reading.path[0] ?? 'public'

/** What the server calls its types in full, as it prints a function's. */
const FULL: Readonly<Record<string, string>> = {
  varchar: 'character varying',
  char: 'character',
  timestamptz: 'timestamp with time zone',
  timestamp: 'timestamp without time zone',
  timetz: 'time with time zone',
  time: 'time without time zone'
}

/** A type without what stands in its parentheses, in full: what `format_type` gives where names are looked for nowhere. */
export function fullType(type: DataType, quote: (name: string) => string): string {
  if (type.of) return `${fullType(type.of, quote)}[]`
  const { schema, name } = type
  return schema === undefined ? (FULL[name] ?? name) : `${quote(schema)}.${quote(name)}`
}
