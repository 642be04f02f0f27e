// Firebird's types: "Firebird Language Reference", chapter "Data Types and Subtypes". Text is UTF-8, four bytes a character
// at most, in a value of up to 32,765 bytes.
import { numbersOf, readType, type DataType } from '../../catalog'
import type { NeutralType, StoredType } from '../../types'
import type { TypeSystem } from '../dialect'
import { oneOfAsText, tidyType, typeSystem, type Carried } from '../standard'

/** One spelling for each type; a blob that is neither text nor plain bytes keeps its number. */
function canonical(type: string): string {
  const text = tidyType(type)
    .replace(/^int\b(?!\d)/, 'integer')
    .replace(/^dec\b/, 'decimal')
    .replace(/^(character varying|char varying)\b/, 'varchar')
    .replace(/^character\b/, 'char')
    .replace(/^real\b/, 'float')
    .replace(/^long float\b/, 'double precision')
    .replace(/^varbinary(\(\d+\))$/, 'varchar$1 character set octets')
    .replace(/^binary(\(\d+\))$/, 'char$1 character set octets')
    .replace(/^blob sub_type 1\b/, 'blob sub_type text')
    .replace(/^blob sub_type (0|binary)\b/, 'blob')
    .replace(/^(time|timestamp) without time zone$/, '$1')
  if (text === 'char') return 'char(1)'
  if (text === 'numeric' || text === 'decimal') return `${text}(9,0)`
  return text.replace(/^(numeric|decimal)\((\d+)\)/, '$1($2,0)')
}

const CHARACTERS = 8191
const BYTES = 32765

function fromNeutral(type: StoredType, version: string): Carried {
  const old = version === '3.0'
  const exact = (text: string) => ({ type: text, grade: 'exact' as const })
  const asText = (what: string) => ({
    type: 'blob sub_type text',
    grade: 'emulated' as const,
    note: `Firebird has no ${what}: it is kept as text`
  })
  switch (type.kind) {
    case 'text':
      if (type.length === undefined) return exact('blob sub_type text')
      return type.length <= CHARACTERS
        ? exact(`varchar(${type.length})`)
        : { type: 'blob sub_type text', grade: 'wider', note: 'a varchar holds up to 8,191 characters of four bytes' }
    case 'char':
      return type.length <= CHARACTERS
        ? exact(`char(${type.length})`)
        : { type: 'blob sub_type text', grade: 'wider', note: 'a char holds up to 8,191 characters of four bytes' }
    case 'tiny':
      return { type: 'smallint', grade: 'wider', note: 'the smallest whole number has 16 bits' }
    case 'small':
      return exact('smallint')
    case 'integer':
      return exact('integer')
    case 'big':
      return exact('bigint')
    case 'decimal': {
      const most = old ? 18 : 38
      return type.precision <= most
        ? exact(`decimal(${type.precision},${type.scale})`)
        : {
            type: `decimal(${most},${Math.min(type.scale, most)})`,
            grade: 'narrower',
            note: `a decimal holds ${most} digits`
          }
    }
    case 'float':
      return exact('float')
    case 'double':
      return exact('double precision')
    case 'boolean':
      return exact('boolean')
    case 'date':
      return exact('date')
    case 'time':
      return moment('time', type.zoned === true)
    case 'timestamp':
      return moment('timestamp', type.zoned === true)
    case 'interval':
      return asText('interval')
    case 'uuid':
      return { type: 'char(16) character set octets', grade: 'emulated', note: 'kept as its 16 bytes' }
    case 'xml':
      return asText('xml')
    case 'json':
      return asText('json')
    case 'binary':
      if (type.length === undefined) return exact('blob')
      return type.length <= BYTES
        ? exact(`varchar(${type.length}) character set octets`)
        : { type: 'blob', grade: 'wider', note: 'a value that is not a blob holds up to 32,765 bytes' }
    case 'oneOf':
      return oneOfAsText(type.values)
    case 'native':
      return exact(type.text)
  }

  function moment(word: string, zoned: boolean): Carried {
    const note = 'a tenth of a millisecond is the least that is kept'
    if (zoned && !old) return { type: `${word} with time zone`, grade: 'narrower', note }
    return {
      type: word,
      grade: 'narrower',
      note: zoned ? 'Firebird has time zones from 4.0: the zone is not kept' : note
    }
  }
}

function toNeutral(type: DataType, text: string): NeutralType {
  const [, each] = /^(.*) \[[\d:,-]+\]$/.exec(text) ?? []
  if (each !== undefined) {
    const of = toNeutral(readType(each), each)
    return of.kind === 'native' ? { kind: 'native', text } : { kind: 'list', of }
  }
  const { name, more } = type
  const [first, second = 0] = numbersOf(type)
  const plain: Readonly<Record<string, NeutralType>> = {
    'blob sub_type text': { kind: 'text' },
    blob: { kind: 'binary' },
    smallint: { kind: 'small' },
    integer: { kind: 'integer' },
    bigint: { kind: 'big' },
    float: { kind: 'float' },
    'double precision': { kind: 'double' },
    boolean: { kind: 'boolean' },
    date: { kind: 'date' },
    time: { kind: 'time' },
    timestamp: { kind: 'timestamp' },
    'time with time zone': { kind: 'time', zoned: true },
    'timestamp with time zone': { kind: 'timestamp', zoned: true },
    'char(16) character set octets': { kind: 'uuid' }
  }
  const found = plain[text]
  if (found) return found
  if (first !== undefined) {
    if (name === 'varchar' && more === undefined) return { kind: 'text', length: first }
    if (name === 'char' && more === undefined) return { kind: 'char', length: first }
    if (name === 'varchar' && more === 'character set octets') return { kind: 'binary', length: first }
    if (name === 'decimal' || name === 'numeric') return { kind: 'decimal', precision: first, scale: second }
  }
  return { kind: 'native', text }
}

const described: Readonly<Record<string, readonly [range: string, bytes: string]>> = {
  smallint: ['−32,768 … 32,767', '2'],
  integer: ['−2,147,483,648 … 2,147,483,647', '4'],
  bigint: ['−9,223,372,036,854,775,808 … 9,223,372,036,854,775,807', '8'],
  float: ['±1.2E−38 … ±3.4E+38, 7 digits', '4'],
  'double precision': ['±2.2E−308 … ±1.8E+308, 15 digits', '8'],
  boolean: ['true, false', '1'],
  date: ['0001-01-01 … 9999-12-31', '4'],
  time: ['00:00 … 23:59:59.9999', '4'],
  timestamp: ['0001-01-01 … 9999-12-31, to 0.1 ms', '8'],
  'blob sub_type text': ['as much as the pages allow, 4 to 64 GB', '8, and its pages'],
  blob: ['as much as the pages allow, 4 to 64 GB', '8, and its pages']
}

export const firebirdTypes = (version: string): TypeSystem =>
  typeSystem({
    fromNeutral: (type) => fromNeutral(type, version),
    toNeutral,
    canonical,
    describe: (type, text) => {
      const { name, more } = type
      const [first = 0, second = 0] = numbersOf(type)
      const many = first.toLocaleString('en')
      if (more === 'character set octets')
        return { range: `${name === 'char' ? '' : 'up to '}${many} bytes`, bytes: many }
      if (name === 'varchar') return { range: `up to ${many} characters`, bytes: '2, and each byte' }
      if (name === 'char') return { range: `${many} characters, filled with blanks`, bytes: `up to ${first * 4}` }
      if (name === 'decimal' || name === 'numeric') {
        const whole = '9'.repeat(Math.max(0, first - second)) || '0'
        return { range: `±${whole}${second ? '.' + '9'.repeat(second) : ''}`, bytes: `${bytesOfDigits(first)}` }
      }
      const [range, bytes] = described[text] ?? ['as the engine has it', 'as the engine has it']
      return { range, bytes }
    }
  })

/** A number of digits is kept as a whole number of 2, 4, 8 or 16 bytes: "Fixed-Point Data Types". */
export const bytesOfDigits = (digits: number): number => (digits <= 4 ? 2 : digits <= 9 ? 4 : digits <= 18 ? 8 : 16)
