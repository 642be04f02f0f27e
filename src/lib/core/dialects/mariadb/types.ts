// MariaDB's types: "Data Types" of its documentation (ranges and storage sizes are those of its pages on each type).
import { numbersOf, type DataType } from '../../catalog'
import type { NeutralType, StoredType } from '../../types'
import type { TypeSystem } from '../dialect'
import { significant, textOf } from '../../sql'
import { oneOfAsText, tidyType, typeSystem, type Carried } from '../standard'
import { mariadbMember, type Member } from './family'
import { mariadbLexis } from './lexis'

/** The widths that numbers are shown in when none is said: "Numeric Data Type Overview", one less without a sign. */
const WIDTHS: Readonly<Record<string, number>> = { tinyint: 4, smallint: 6, mediumint: 9, int: 11, bigint: 20 }

/** A number's type without its width, where that is the usual one; with noughts before it, the width is ten as it is without a sign. */
function unpadded(whole: string, name: string, width: string, more = ''): string {
  const usual = WIDTHS[name] ?? 0
  // A bigint has as many digits without a sign.
  const own = more.startsWith(' unsigned') && name !== 'bigint' ? usual - 1 : usual
  return Number(width) === own ? name + more : whole
}

/** Display widths say nothing of a value; the server keeps those that are not the usual ones. */
function canonical(type: string): string {
  const text = tidyType(type)
    .replace(/^(boolean|bool)$/, 'tinyint(1)')
    .replace(/^integer\b/, 'int')
    .replace(/^(numeric|dec|fixed)\b/, 'decimal')
    .replace(/^double precision\b/, 'double')
    .replace(/^(tinyint|smallint|mediumint|int|bigint)\((\d+)\)( unsigned)?/, unpadded)
    .replace(/^year\(\d+\)/, 'year')
  if (text === 'decimal') return 'decimal(10,0)'
  if (text === 'char') return 'char(1)'
  return text.replace(/^decimal\((\d+)\)/, 'decimal($1,0)')
}

/** The values that an enum or set allows. */
export const valuesOfType = ({ name, args = [] }: DataType): string[] =>
  name === 'enum' || name === 'set'
    ? args.flatMap((arg) => significant(arg, mariadbLexis).flatMap((token) => textOf(token, mariadbLexis) ?? []))
    : []

function fromNeutral(type: StoredType, { label, uuid, scale: most }: Member): Carried {
  const asText = (what: string) => ({
    type: 'longtext',
    grade: 'emulated' as const,
    note: `${label} has no ${what}: it is kept as text`
  })
  switch (type.kind) {
    case 'text':
      if (type.length === undefined) return { type: 'longtext', grade: 'exact' }
      return type.length <= 16383
        ? { type: `varchar(${type.length})`, grade: 'exact' }
        : { type: 'longtext', grade: 'wider', note: 'a varchar holds up to 16,383 characters of four bytes' }
    case 'char':
      return type.length <= 255
        ? { type: `char(${type.length})`, grade: 'exact' }
        : { type: `varchar(${type.length})`, grade: 'wider', note: 'a char holds up to 255 characters' }
    case 'tiny':
      return { type: 'tinyint', grade: 'exact' }
    case 'small':
      return { type: 'smallint', grade: 'exact' }
    case 'integer':
      return { type: 'int', grade: 'exact' }
    case 'big':
      return { type: 'bigint', grade: 'exact' }
    case 'decimal':
      return type.precision <= 65 && type.scale <= most
        ? { type: `decimal(${type.precision},${type.scale})`, grade: 'exact' }
        : {
            type: `decimal(65,${Math.min(type.scale, most)})`,
            grade: 'narrower',
            note: `a decimal holds 65 digits, ${most} after the point`
          }
    case 'float':
      return { type: 'float', grade: 'exact' }
    case 'double':
      return { type: 'double', grade: 'exact' }
    case 'boolean':
      return { type: 'tinyint(1)', grade: 'emulated', note: 'kept as 1 and 0' }
    case 'date':
      return { type: 'date', grade: 'narrower', note: `${label}’s dates begin with the year 1000` }
    case 'time':
      return { type: 'time(6)', grade: 'exact' }
    case 'timestamp':
      return type.zoned
        ? {
            type: 'timestamp(6)',
            grade: 'narrower',
            note: `${label}’s moments lie between 1970 and 2038${label === 'MariaDB' ? ' (2106 from 11.5)' : ''}`
          }
        : { type: 'datetime(6)', grade: 'exact' }
    case 'interval':
      return asText('interval')
    case 'uuid':
      return uuid
        ? { type: 'uuid', grade: 'exact' }
        : {
            type: 'char(36)',
            grade: 'emulated',
            note: `${label} has ${label === 'MariaDB' ? 'a uuid from 10.7' : 'no uuid'}: it is kept as text`
          }
    case 'xml':
      return asText('xml')
    case 'json':
      return { type: 'json', grade: 'exact' }
    case 'binary':
      return { type: type.length === undefined ? 'longblob' : `varbinary(${type.length})`, grade: 'exact' }
    case 'oneOf':
      return oneOfAsText(type.values)
    case 'native':
      return { type: type.text, grade: 'exact' }
  }
}

function toNeutral(type: DataType, text: string): NeutralType {
  const { name, more } = type
  const [first, second] = numbersOf(type)
  const plain: Readonly<Record<string, NeutralType>> = {
    longtext: { kind: 'text' },
    tinyint: { kind: 'tiny' },
    'tinyint(1)': { kind: 'boolean' },
    smallint: { kind: 'small' },
    int: { kind: 'integer' },
    bigint: { kind: 'big' },
    float: { kind: 'float' },
    double: { kind: 'double' },
    date: { kind: 'date' },
    'time(6)': { kind: 'time' },
    'datetime(6)': { kind: 'timestamp' },
    'timestamp(6)': { kind: 'timestamp', zoned: true },
    uuid: { kind: 'uuid' },
    longblob: { kind: 'binary' },
    json: { kind: 'json' },
    // The nearest that holds as much: no other engine has these.
    ...Object.fromEntries(['tinytext', 'text', 'mediumtext'].map((one) => [one, { kind: 'text' } as const])),
    ...Object.fromEntries(['tinyblob', 'blob', 'mediumblob'].map((one) => [one, { kind: 'binary' } as const])),
    mediumint: { kind: 'integer' },
    year: { kind: 'small' },
    'bit(1)': { kind: 'boolean' },
    'tinyint unsigned': { kind: 'small' },
    'tinyint(1) unsigned': { kind: 'boolean' },
    'smallint unsigned': { kind: 'integer' },
    'mediumint unsigned': { kind: 'integer' },
    'int unsigned': { kind: 'big' },
    'bigint unsigned': { kind: 'decimal', precision: 20, scale: 0 },
    'float unsigned': { kind: 'float' },
    'double unsigned': { kind: 'double' }
  }
  const found = plain[text.replace(/ zerofill$/, '')] ?? MOMENTS[name]
  if (found) return found
  if (more === undefined && first !== undefined) {
    if (name === 'varchar') return { kind: 'text', length: first }
    if (name === 'char') return { kind: 'char', length: first }
    if (name === 'varbinary' || name === 'binary') return { kind: 'binary', length: first }
    if (name === 'decimal') return { kind: 'decimal', precision: first, scale: second ?? 0 }
  }
  return { kind: 'native', text }
}

/** However many digits of a second they have. */
const MOMENTS: Readonly<Record<string, NeutralType>> = {
  time: { kind: 'time' },
  datetime: { kind: 'timestamp' },
  timestamp: { kind: 'timestamp', zoned: true }
}

const described: Readonly<Record<string, readonly [range: string, bytes: string]>> = {
  tinyint: ['−128 … 127', '1'],
  smallint: ['−32,768 … 32,767', '2'],
  int: ['−2,147,483,648 … 2,147,483,647', '4'],
  bigint: ['−9,223,372,036,854,775,808 … 9,223,372,036,854,775,807', '8'],
  float: ['±1.2E−38 … ±3.4E+38, 6 digits', '4'],
  double: ['±2.2E−308 … ±1.8E+308, 15 digits', '8'],
  date: ['1000-01-01 … 9999-12-31', '3'],
  time: ['−838:59:59 … 838:59:59, to 1 µs', '3 to 6'],
  datetime: ['1000-01-01 … 9999-12-31, to 1 µs', '5 to 8'],
  timestamp: ['1970-01-01 … 2038-01-19, to 1 µs, kept as UTC', '4 to 7'],
  uuid: ['128 bits', '16'],
  longtext: ['up to 4 GB', '4, and each byte'],
  longblob: ['up to 4 GB', '4, and each byte'],
  json: ['a JSON document, as text', '4, and each byte']
}

/** A number's type whatever it is shown in; `tinyint(1)` is how a truth value is told. */
function unwidened(type: DataType): DataType {
  const { args, ...rest } = type
  return args && type.name in WIDTHS && !(type.name === 'tinyint' && args[0] === '1') ? rest : type
}

export function mariadbTypes(member: Member): TypeSystem {
  const types = allTypes(member)
  return {
    ...types,
    same: (a, b) => types.same(unwidened(a), unwidened(b)),
    toNeutral: (type) => types.toNeutral(unwidened(type))
  }
}

const allTypes = (member: Member): TypeSystem =>
  typeSystem({
    fromNeutral: (type) => fromNeutral(type, member),
    toNeutral,
    canonical,
    describe: (type) => {
      const { name } = type
      const [first = 0, second = 0] = numbersOf(type)
      if (name === 'varchar')
        return { range: `up to ${first.toLocaleString('en')} characters`, bytes: '1 or 2, and each byte' }
      if (name === 'char') return { range: `${first} characters, blanks cut off`, bytes: `up to ${first * 4}` }
      if (name === 'varbinary')
        return { range: `up to ${first.toLocaleString('en')} bytes`, bytes: '1 or 2, and each byte' }
      if (name === 'decimal') {
        const whole = '9'.repeat(Math.min(first - second, 18)) || '0'
        return {
          range: `±${whole}${second ? '.' + '9'.repeat(second) : ''}`,
          bytes: `${Math.ceil(((first - second) * 4) / 9) + Math.ceil((second * 4) / 9)}`
        }
      }
      const [range, bytes] = described[name] ?? ['as the engine has it', 'as the engine has it']
      return { range, bytes }
    }
  })

/** A type as the engine prints it: of all versions alike. */
export const { read: typeOf } = mariadbTypes(mariadbMember(''))
