// PostgreSQL's types: manual, chapter 8 (ranges and storage sizes are those of its tables 8.2, 8.4, 8.6 and 8.9).
import { numbersOf, typeText, type DataType } from '../../catalog'
import { isPlain, type NeutralType, type StoredType } from '../../types'
import type { TypeSystem } from '../dialect'
import { oneOfAsText, tidyType, typeSystem, type Carried } from '../standard'
import { DEFAULT_SCHEMA } from './profile'

/** What the engine calls a type, and the shorter name we write. The engine prints the left, both are read. */
const spellings: readonly (readonly [RegExp, string])[] = [
  [/^character varying\b/, 'varchar'],
  [/^(character|bpchar)\b/, 'char'],
  [/^timestamp(\(\d\))? with time zone$/, 'timestamptz$1'],
  [/^timestamp(\(\d\))? without time zone$/, 'timestamp$1'],
  [/^time(\(\d\))? with time zone$/, 'timetz$1'],
  [/^time(\(\d\))? without time zone$/, 'time$1'],
  [/^(int|int4)$/, 'integer'],
  [/^int2$/, 'smallint'],
  [/^int8$/, 'bigint'],
  [/^(float4)$/, 'real'],
  [/^(float8|float)$/, 'double precision'],
  [/^bool$/, 'boolean'],
  [/^decimal\b/, 'numeric']
]

function canonical(type: string): string {
  if (type.includes('"')) return type.trim().replace(/\s+/g, ' ')
  let text = tidyType(type)
  for (const [pattern, spelling] of spellings) text = text.replace(pattern, spelling)
  if (text === 'char') return 'char(1)'
  return text.replace(/^numeric\((\d+)\)$/, 'numeric($1,0)')
}

function fromNeutral(type: StoredType): Carried {
  switch (type.kind) {
    case 'text':
      return { type: type.length === undefined ? 'text' : `varchar(${type.length})`, grade: 'exact' }
    case 'char':
      return { type: `char(${type.length})`, grade: 'exact' }
    case 'tiny':
      return { type: 'smallint', grade: 'wider', note: 'PostgreSQL has no one-byte number; smallint takes two bytes' }
    case 'small':
      return { type: 'smallint', grade: 'exact' }
    case 'integer':
      return { type: 'integer', grade: 'exact' }
    case 'big':
      return { type: 'bigint', grade: 'exact' }
    case 'decimal':
      return { type: `numeric(${type.precision},${type.scale})`, grade: 'exact' }
    case 'float':
      return { type: 'real', grade: 'exact' }
    case 'double':
      return { type: 'double precision', grade: 'exact' }
    case 'boolean':
    case 'date':
    case 'interval':
    case 'uuid':
    case 'xml':
      return { type: type.kind, grade: 'exact' }
    case 'time':
      return { type: type.zoned ? 'timetz' : 'time', grade: 'exact' }
    case 'timestamp':
      return { type: type.zoned ? 'timestamptz' : 'timestamp', grade: 'exact' }
    case 'binary':
      return type.length === undefined
        ? { type: 'bytea', grade: 'exact' }
        : { type: 'bytea', grade: 'wider', note: 'PostgreSQL does not limit the length of bytes' }
    case 'json':
      return { type: 'jsonb', grade: 'exact' }
    case 'oneOf':
      return oneOfAsText(type.values)
    case 'native':
      return { type: type.text, grade: 'exact' }
  }
}

/** Manual, section 8.15: an array of any type but one that is an array itself. */
const list = ({ type, ...rest }: Carried): Carried => ({ ...rest, type: `${type}[]` })

function toNeutral(type: DataType, text: string): NeutralType {
  if (type.of) {
    const of = toNeutral(type.of, typeText(type.of))
    return isPlain(of) && of.kind !== 'native' ? { kind: 'list', of } : { kind: 'native', text }
  }
  const { name } = type
  const args = numbersOf(type)
  const [first, second] = args
  const plain: Readonly<Record<string, NeutralType>> = {
    text: { kind: 'text' },
    smallint: { kind: 'small' },
    integer: { kind: 'integer' },
    bigint: { kind: 'big' },
    real: { kind: 'float' },
    'double precision': { kind: 'double' },
    boolean: { kind: 'boolean' },
    date: { kind: 'date' },
    time: { kind: 'time' },
    timetz: { kind: 'time', zoned: true },
    timestamp: { kind: 'timestamp' },
    timestamptz: { kind: 'timestamp', zoned: true },
    interval: { kind: 'interval' },
    uuid: { kind: 'uuid' },
    bytea: { kind: 'binary' },
    jsonb: { kind: 'json' },
    xml: { kind: 'xml' }
  }
  const found = plain[text]
  if (found) return found
  if (name === 'varchar') return first === undefined ? { kind: 'text' } : { kind: 'text', length: first }
  if (name === 'char' && first !== undefined) return { kind: 'char', length: first }
  if (name === 'numeric' && first !== undefined) return { kind: 'decimal', precision: first, scale: second ?? 0 }
  return { kind: 'native', text }
}

const described: Readonly<Record<string, readonly [range: string, bytes: string]>> = {
  smallint: ['−32,768 … 32,767', '2'],
  integer: ['−2,147,483,648 … 2,147,483,647', '4'],
  bigint: ['−9,223,372,036,854,775,808 … 9,223,372,036,854,775,807', '8'],
  real: ['±1E−37 … ±1E+37, 6 digits', '4'],
  'double precision': ['±1E−307 … ±1E+308, 15 digits', '8'],
  boolean: ['true, false', '1'],
  date: ['4713 BC … 5874897 AD', '4'],
  time: ['00:00:00 … 24:00:00, to 1 µs', '8'],
  timetz: ['00:00:00+1559 … 24:00:00−1559', '12'],
  timestamp: ['4713 BC … 294276 AD, to 1 µs', '8'],
  timestamptz: ['4713 BC … 294276 AD, to 1 µs, kept as UTC', '8'],
  interval: ['±178,000,000 years, to 1 µs', '16'],
  uuid: ['128 bits', '16'],
  bytea: ['up to 1 GB', '1 or 4, and each byte'],
  jsonb: ['a JSON document', 'as its contents'],
  json: ['a JSON text', 'as its text'],
  xml: ['an XML document', 'as its text'],
  text: ['up to 1 GB', '1 or 4, and each byte']
}

function describe(type: DataType): { range: string; bytes: string } {
  const { name } = type
  const args = numbersOf(type)
  const [first = 0, second = 0] = args
  if (args.length && name === 'varchar')
    return {
      range: `up to ${first.toLocaleString('en')} characters`,
      bytes: first <= 31 ? `1, and each byte` : '1 or 4, and each byte'
    }
  if (name === 'char') return { range: `${first} characters, blanks added`, bytes: '1 or 4, and each byte' }
  if (name === 'numeric') {
    if (!args.length)
      return { range: 'up to 131,072 digits before and 16,383 after the point', bytes: '3 to 8, and 2 for 4 digits' }
    const whole = '9'.repeat(Math.min(first - second, 18)) || '0'
    const limit = whole.replace(/\B(?=(\d{3})+$)/g, ',') + (second > 0 ? '.' + '9'.repeat(second) : '')
    // Two bytes for each group of four digits, before and after the point, plus three to eight.
    const groups = Math.ceil((first - second) / 4) + Math.ceil(second / 4)
    return { range: `±${limit}`, bytes: `up to ${groups * 2 + 8}` }
  }
  const [range, bytes] = described[name] ?? ['as the engine has it', 'as the engine has it']
  return { range, bytes }
}

/** Names that are the engine's own, whatever a schema of the database's has: manual, table 8.1 and chapters 8.8 to 8.20. */
const OWN = new Set(
  (
    'bigint bit bool boolean box bytea char character cidr circle date decimal float float4 float8 inet int int2 int4 int8 ' +
    'integer interval json jsonb jsonpath line lseg macaddr macaddr8 money name numeric oid path pg_lsn pg_snapshot point ' +
    'polygon real record regclass regproc regtype smallint text tid time timestamp timestamptz timetz tsquery tsvector uuid ' +
    'varbit varchar xid xml'
  ).split(' ')
)

/** A type of the schema that is looked through goes by its name alone, unless the engine has one of that name. */
export function printType(type: DataType, quote: (name: string) => string): string {
  if (type.of) return `${printType(type.of, quote)}[]`
  const { schema, ...rest } = type
  if (schema === undefined || schema !== DEFAULT_SCHEMA || OWN.has(type.name)) return typeText(type, quote)
  return typeText({ ...rest, name: quote(type.name) })
}

/** What is quoted is no type of the engine's own, but for one. */
function whole(type: DataType): DataType {
  if (type.of) return { ...type, of: whole(type.of) }
  const quoted = /^"(.+)"$/.exec(type.name)?.[1]
  if (quoted === undefined || type.schema !== undefined || type.name === '"char"') return type
  return { ...type, schema: DEFAULT_SCHEMA, name: quoted.replaceAll('""', '"') }
}

export const postgresTypes = (print: (type: DataType) => string): TypeSystem =>
  typeSystem({ fromNeutral, list, toNeutral, canonical, describe, whole, print })

const { read } = postgresTypes(typeText)

/** A type as the engine prints it, and the schema that it is in where it is the database's own. */
export function typeOf(text: string, schema: string | undefined): DataType {
  const within = (type: DataType): DataType =>
    type.of ? { ...type, of: within(type.of) } : schema === undefined ? type : { ...type, schema }
  return schema === undefined ? read(text) : within(read(text))
}
