// The types of a field by what validators call them ("BSON Types", the aliases), with lengths of text beside them: `string(80)` is
// of 80 characters at most, `string(2,2)` of two.
import { numbersOf, readType, typeText, type DataType } from '../../catalog'
import { isPlain, type NeutralType, type PlainType } from '../../types'
import type { Grade, TypeSystem } from '../dialect'

interface Made {
  readonly type: DataType
  readonly grade: Grade
  readonly note?: string
}

const plain = (name: string, grade: Grade = 'exact', note?: string): Made => ({
  type: { name },
  grade,
  ...(note === undefined ? {} : { note })
})
const text = (...lengths: number[]): DataType => ({ name: 'string', args: lengths.map(String) })

function ofPlain(type: PlainType): Made {
  switch (type.kind) {
    case 'text':
      return type.length === undefined ? plain('string') : { type: text(type.length), grade: 'exact' }
    case 'char':
      return { type: text(type.length, type.length), grade: 'exact' }
    case 'tiny':
    case 'small':
      return plain('int', 'wider', 'MongoDB keeps whole numbers of four bytes, or of eight')
    case 'integer':
      return plain('int')
    case 'big':
      return plain('long')
    case 'decimal':
      return plain('decimal', 'wider', 'MongoDB keeps 34 digits, wherever the point is')
    case 'float':
      return plain('double', 'wider', 'MongoDB keeps eight bytes')
    case 'double':
      return plain('double')
    case 'boolean':
      return plain('bool')
    case 'date':
      return plain('date', 'wider', 'kept with a time of day, in UTC')
    case 'timestamp':
      return plain('date', 'narrower', 'kept in milliseconds, in UTC')
    case 'time':
      return plain('string', 'emulated', 'MongoDB has no time of day by itself: it is kept as text')
    case 'interval':
    case 'xml':
      return plain('string', 'emulated', `MongoDB has no ${type.kind}: it is kept as text`)
    case 'uuid':
      return plain('binData', 'exact')
    case 'binary':
      return type.length === undefined
        ? plain('binData')
        : plain('binData', 'wider', 'a validator does not limit the length of bytes')
    case 'json':
      return plain('any')
    case 'object id':
      return plain('objectId')
    case 'oneOf':
      return plain('string')
    case 'native':
      return { type: read(type.text), grade: 'exact' }
  }
}

/** How well a type carries another with all that is in it: as its worst part does. */
const GRADES: readonly Grade[] = ['exact', 'wider', 'narrower', 'emulated', 'impossible']

function fromNeutral(type: NeutralType): Made {
  if (isPlain(type)) return ofPlain(type)
  if (type.kind === 'object') return plain('object')
  const parts = type.kind === 'either' ? type.of.map(fromNeutral) : [fromNeutral(type.of)]
  const [worst] = [...parts].sort((a, b) => GRADES.indexOf(b.grade) - GRADES.indexOf(a.grade))
  const said = { grade: worst?.grade ?? 'exact', ...(worst?.note === undefined ? {} : { note: worst.note }) }
  const [only = { name: 'any' }] = parts.map((part) => part.type)
  if (type.kind === 'list') return { type: { name: 'array', of: only }, ...said }
  const args = parts.map((part) => typeText(part.type))
  return { type: { name: type.kind === 'map' ? 'map' : 'either', args }, ...said }
}

const NEUTRAL: Readonly<Record<string, NeutralType>> = {
  string: { kind: 'text' },
  int: { kind: 'integer' },
  long: { kind: 'big' },
  double: { kind: 'double' },
  // It has 34 digits, wherever the point is.
  decimal: { kind: 'decimal', precision: 34, scale: 10 },
  bool: { kind: 'boolean' },
  date: { kind: 'timestamp', zoned: true },
  objectId: { kind: 'object id' },
  binData: { kind: 'binary' },
  object: { kind: 'object' },
  any: { kind: 'json' }
}

function toNeutral(type: DataType): NeutralType {
  if (type.of) return { kind: 'list', of: toNeutral(type.of) }
  const parts = (type.args ?? []).map((part) => toNeutral(read(part)))
  const [first] = parts
  if (type.name === 'map' && first) return { kind: 'map', key: { kind: 'text' }, of: first }
  if (type.name === 'either' && parts.length > 1) return { kind: 'either', of: parts }
  const [most, least] = numbersOf(type)
  if (type.name === 'string' && most !== undefined)
    return least === most
      ? { kind: 'char', length: most }
      : least === undefined
        ? { kind: 'text', length: most }
        : native(type)
  return NEUTRAL[typeText(type)] ?? native(type)
}
const native = (type: DataType): NeutralType => ({ kind: 'native', text: typeText(type) })

const ALIASES = ['objectId', 'binData', 'minKey', 'maxKey', 'dbPointer', 'javascriptWithScope']
/** In the spelling of the manual, without blanks. */
const read = (given: string): DataType =>
  readType(
    given
      .replace(/\s+/g, '')
      .replace(
        /[a-z]+/gi,
        (word) => ALIASES.find((alias) => alias.toLowerCase() === word.toLowerCase()) ?? word.toLowerCase()
      )
  )

/** "BSON Types" and "MongoDB Limits and Thresholds": a document has 16 megabytes at most. */
const DESCRIBED: Readonly<Record<string, readonly [range: string, bytes: string]>> = {
  int: ['−2,147,483,648 … 2,147,483,647', '4'],
  long: ['−9,223,372,036,854,775,808 … 9,223,372,036,854,775,807', '8'],
  double: ['±5E−324 … ±1.8E+308, 15 digits', '8'],
  decimal: ['34 digits, exponents −6143 … 6144', '16'],
  bool: ['true, false', '1'],
  date: ['milliseconds from 1970, 290 million years either way', '8'],
  objectId: ['12 bytes, made by the client', '12']
}

export const mongodbTypes: TypeSystem = {
  fromNeutral,
  toNeutral,
  read,
  same: (a, b) => a === b || typeText(a) === typeText(b),
  describe: ({ name }) => {
    const [range, bytes] = DESCRIBED[name] ?? ['as much as a document of 16 megabytes holds', 'by the value']
    return { range, bytes }
  }
}
