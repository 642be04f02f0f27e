// SQLite's types: "Datatypes In SQLite" (sqlite.org/datatype3.html). A declared type gives a column an affinity; it
// holds values of any type all the same. Declared names are kept as they are, so that they can say what is meant.
import { numbersOf, typeText, type DataType } from '../../catalog'
import type { NeutralType, StoredType } from '../../types'
import type { TypeSystem } from '../dialect'
import { oneOfAsText, tidyType, typeSystem, type Carried } from '../standard'

type Affinity = 'integer' | 'text' | 'blob' | 'real' | 'numeric'

/** Section 3.1, Determination Of Column Affinity: the first rule that fits. */
export function affinityOf(type: DataType): Affinity {
  const name = typeText(type).toLowerCase()
  if (name.includes('int')) return 'integer'
  if (/char|clob|text/.test(name)) return 'text'
  if (name === '' || name.includes('blob')) return 'blob'
  if (/real|floa|doub/.test(name)) return 'real'
  return 'numeric'
}

const canonical = (type: string): string => tidyType(type).replace(/^int$/, 'integer')

const wide = 'SQLite keeps whole numbers of up to eight bytes and checks no range'
const loose = 'the length is written down, but SQLite does not keep to it'
const asText = (what: string) => `SQLite has no ${what}: it is kept as text`

function fromNeutral(type: StoredType): Carried {
  switch (type.kind) {
    case 'text':
      return type.length === undefined
        ? { type: 'text', grade: 'exact' }
        : { type: `varchar(${type.length})`, grade: 'wider', note: loose }
    case 'char':
      return { type: `char(${type.length})`, grade: 'wider', note: loose }
    case 'tiny':
    case 'small':
    case 'integer':
      return { type: 'integer', grade: 'wider', note: wide }
    case 'big':
      return { type: 'integer', grade: 'exact' }
    case 'decimal':
      return {
        type: `numeric(${type.precision},${type.scale})`,
        grade: 'narrower',
        note: 'SQLite keeps such a number as a floating one: 15 digits are sure'
      }
    case 'float':
      return { type: 'real', grade: 'wider', note: 'SQLite keeps eight bytes' }
    case 'double':
      return { type: 'real', grade: 'exact' }
    case 'boolean':
      return { type: 'boolean', grade: 'emulated', note: 'kept as 1 and 0' }
    case 'date':
      return { type: 'date', grade: 'emulated', note: 'kept as text, such as 2026-03-01' }
    case 'time':
      return { type: 'time', grade: 'emulated', note: 'kept as text, such as 06:10:00' }
    case 'timestamp':
      return { type: 'timestamp', grade: 'emulated', note: 'kept as text; write it in one time zone' }
    case 'interval':
      return { type: 'text', grade: 'emulated', note: asText('interval') }
    case 'uuid':
      return { type: 'char(36)', grade: 'emulated', note: asText('uuid') }
    case 'xml':
      return { type: 'text', grade: 'emulated', note: asText('xml') }
    case 'json':
      return { type: 'text', grade: 'emulated', note: 'kept as text; the json functions read it' }
    case 'binary':
      return type.length === undefined
        ? { type: 'blob', grade: 'exact' }
        : { type: 'blob', grade: 'wider', note: 'SQLite does not limit the length of bytes' }
    case 'oneOf':
      return oneOfAsText(type.values)
    case 'native':
      return { type: type.text, grade: 'exact' }
  }
}

/** What holds as much, of names that are no type of another engine's: whole numbers have up to eight bytes, whatever they are called. */
const NEAREST: { readonly [A in Affinity]?: NeutralType } = { integer: { kind: 'big' }, real: { kind: 'double' } }

function toNeutral(type: DataType, text: string): NeutralType {
  const [first, second, third] = numbersOf(type)
  const plain: Readonly<Record<string, NeutralType>> = {
    text: { kind: 'text' },
    integer: { kind: 'big' },
    real: { kind: 'double' },
    boolean: { kind: 'boolean' },
    date: { kind: 'date' },
    time: { kind: 'time' },
    timestamp: { kind: 'timestamp' },
    bool: { kind: 'boolean' },
    datetime: { kind: 'timestamp' },
    blob: { kind: 'binary' }
  }
  const found = plain[text] ?? NEAREST[affinityOf(type)]
  if (found) return found
  if (first !== undefined && type.more === undefined && third === undefined) {
    if (type.name === 'varchar') return { kind: 'text', length: first }
    if (type.name === 'char') return { kind: 'char', length: first }
    if (type.name === 'numeric') return { kind: 'decimal', precision: first, scale: second ?? 0 }
  }
  return { kind: 'native', text }
}

const described: Readonly<Record<Affinity, readonly [range: string, bytes: string]>> = {
  integer: ['−9,223,372,036,854,775,808 … 9,223,372,036,854,775,807', '0 to 8, by the value'],
  text: ['up to 1,000,000,000 bytes', 'each byte'],
  blob: ['up to 1,000,000,000 bytes', 'each byte'],
  real: ['±1E−307 … ±1E+308, 15 digits', '8'],
  numeric: ['whole numbers, floating numbers of 15 digits, or text', '0 to 8, by the value']
}

export const sqliteTypes: TypeSystem = typeSystem({
  fromNeutral,
  toNeutral,
  canonical,
  describe: (type) => {
    const [range, bytes] = described[affinityOf(type)]
    return { range, bytes }
  }
})
