// Types in whatever words somebody is used to: those of engines, and what people say. What is stored is neutral all the same.
// Names and sizes are those of the engines' manuals, "Data Types" in each: PostgreSQL, MariaDB, SQLite and Firebird as they are
// written there; SQL Server and Oracle Database from memory. Short words (`str`, `guid`) are common practice, no source.
import { ok, type Result } from '../notice'
import { parseType, printType, type NeutralType } from './neutral'

export interface SpokenType {
  readonly type: NeutralType
  /** The engine counts its values up: `serial`, `auto_increment`. */
  readonly numbered?: true
  /** What it is called here, where other words were used. */
  readonly instead?: string
}

/** What is made of the numbers in parentheses; nothing where they mean nothing. */
type Made = (first?: number, second?: number) => NeutralType | undefined

const always =
  (type: NeutralType): Made =>
  () =>
    type
const kind = (name: 'tiny' | 'small' | 'integer' | 'big' | 'float' | 'double' | 'boolean' | 'date'): Made =>
  always({ kind: name })
const sized =
  (name: 'text' | 'binary'): Made =>
  (length) =>
    length ? { kind: name, length } : { kind: name }
/** Without digits, as the list of types offers it. */
const exact: Made = (precision = 12, scale) => {
  const after = scale ?? (precision === 12 ? 2 : 0)
  return precision > 0 && after <= precision ? { kind: 'decimal', precision, scale: after } : undefined
}
const digits = (precision: number, scale: number) => always({ kind: 'decimal', precision, scale })
const moment = (zoned: boolean) => always(zoned ? { kind: 'timestamp', zoned } : { kind: 'timestamp' })
const clock = (zoned: boolean) => always(zoned ? { kind: 'time', zoned } : { kind: 'time' })

const words = (list: string, made: Made): [string, Made][] => list.split(', ').map((word) => [word, made])

const SPOKEN = new Map<string, Made>([
  ...words(
    'str, varchar, varchar2, nvarchar, nvarchar2, character varying, char varying, national character varying, citext',
    sized('text')
  ),
  // MongoDB's, with the most characters and the fewest.
  ...words('string', (length, least) =>
    length !== undefined && least === length ? { kind: 'char', length } : sized('text')(length)
  ),
  ...words('bindata', sized('binary')),
  ...words('objectid', always({ kind: 'object id' })),
  ...words('any', always({ kind: 'json' })),
  ...words(
    'tinytext, mediumtext, longtext, ntext, clob, nclob, memo, long text, blob sub_type text, blob sub_type 1',
    always({ kind: 'text' })
  ),
  ...words('char, character, nchar, bpchar, national character, national char', (length = 1) => ({
    kind: 'char',
    length
  })),
  ...words('int, int4, int32, integer, mediumint, smallint unsigned, mediumint unsigned', kind('integer')),
  ...words('smallint, int2, int16, short, year, byte, tinyint unsigned', kind('small')),
  ...words('tinyint', (width) => ({ kind: width === 1 ? 'boolean' : 'tiny' })),
  ...words('bigint, int8, int64, long, long integer, int unsigned, integer unsigned', kind('big')),
  ...words('bigint unsigned', digits(20, 0)),
  ...words('int128', digits(38, 0)),
  ...words('decimal, numeric, number, dec, fixed', exact),
  ...words('money, currency', digits(19, 4)),
  ...words('smallmoney', digits(10, 4)),
  ...words('real, float4, single, binary_float', kind('float')),
  ...words('float8, double precision, binary_double', kind('double')),
  // Up to 24 binary digits are of single precision.
  ...words('float', (bits = 24) => (bits <= 53 ? { kind: bits <= 24 ? 'float' : 'double' } : undefined)),
  ...words('bool, yes/no, yesno, logical', kind('boolean')),
  ...words('bit', (width = 1) => (width === 1 ? { kind: 'boolean' } : undefined)),
  ...words('datetime, datetime2, smalldatetime, timestamp, timestamp without time zone', moment(false)),
  ...words(
    'timestamptz, timestamp with time zone, timestamp with local time zone, datetimeoffset, moment',
    moment(true)
  ),
  ...words('time, time without time zone', clock(false)),
  ...words('timetz, time with time zone', clock(true)),
  ...words(
    'duration, timespan, interval year to month, interval day to second, interval',
    always({ kind: 'interval' })
  ),
  ...words('guid, uniqueidentifier', always({ kind: 'uuid' })),
  ...words('varbinary, raw, binary varying, varchar character set octets', sized('binary')),
  // As Firebird keeps a universal identifier.
  ...words('char character set octets', (length) => (length === 16 ? { kind: 'uuid' } : sized('binary')(length))),
  ...words(
    'bytea, bytes, blob, tinyblob, mediumblob, longblob, image, long raw, long binary, blob sub_type binary, blob sub_type 0',
    always({ kind: 'binary' })
  ),
  ...words('jsonb, document', always({ kind: 'json' })),
  ...words('xmltype', always({ kind: 'xml' }))
])

const NUMBERED = new Map<string, NeutralType['kind'] & ('small' | 'integer' | 'big')>([
  ['serial', 'integer'],
  ['serial4', 'integer'],
  ['identity', 'integer'],
  ['auto_increment', 'integer'],
  ['autoincrement', 'integer'],
  ['autonumber', 'integer'],
  ['counter', 'integer'],
  ['bigserial', 'big'],
  ['serial8', 'big'],
  ['smallserial', 'small'],
  ['serial2', 'small']
])

/** Reads a type in anybody's words; a neutral one means itself. Errors are those of `parseType`. */
export function spokenType(text: string): Result<SpokenType> {
  const plain = parseType(text)
  if (plain.ok) return ok({ type: plain.value })
  const each = /^([\s\S]+?)\s*\[\s*\]\s*$/.exec(text)?.[1]
  if (each !== undefined) {
    const of = spokenType(each)
    if (!of.ok || of.value.numbered) return plain
    const type: NeutralType = { kind: 'list', of: of.value.type }
    return ok({ type, instead: printType(type) })
  }
  const list = /^\s*(?:enum|set)\s*(\([\s\S]*\))\s*$/i.exec(text)?.[1]
  if (list !== undefined) {
    const read = parseType(`one of ${list.replace(/'((?:[^']|'')*)'/g, (_, value: string) => quoted(value))}`)
    return read.ok ? ok({ type: read.value, instead: printType(read.value) }) : read
  }
  const [, before = '', inside, after = ''] = /^\s*([^()]+?)\s*(?:\(([^()]*)\)\s*([^()]*))?$/.exec(text) ?? []
  const word = `${before} ${after}`.trim().replace(/\s+/g, ' ').toLowerCase()
  const numbered = NUMBERED.get(word)
  if (numbered && inside === undefined)
    return ok({ type: { kind: numbered }, numbered: true, instead: `${numbered}, numbered by the engine` })
  const args = inside === undefined || /^\s*max\s*$/i.test(inside) ? [] : inside.split(',').map(Number)
  const whole = args.length <= 2 && args.every((n) => Number.isInteger(n) && n >= 0)
  const type = whole ? SPOKEN.get(word)?.(...args) : undefined
  return type ? ok({ type, instead: printType(type) }) : plain
}

const quoted = (value: string) => `"${value.replaceAll("''", "'").replaceAll('"', '""')}"`
