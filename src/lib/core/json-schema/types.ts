// Types of a design as JSON Schema says them: "JSON Schema Validation", 2020-12; formats of numbers as the format registry of OpenAPI
// has them.
import { printType, type NeutralType, type PlainType } from '../types'

export type Json = string | number | boolean | null | readonly Json[] | Schema
export interface Schema {
  readonly [key: string]: Json
}

export const isSchema = (value: unknown): value is Schema =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** 24 hexadecimal digits, as an object's id is written. */
export const OBJECT_ID = '^[0-9a-f]{24}$'
/** Letters of one sort, as a pattern (ECMA-262). */
export const LETTERS = { upper: '^[^a-z]*$', lower: '^[^A-Z]*$' } as const

/** A type without the fields of what holds some. */
export function schemaOfPlain(type: PlainType): Schema {
  switch (type.kind) {
    case 'text':
      return { type: 'string', ...(type.length === undefined ? {} : { maxLength: type.length }) }
    case 'char':
      return { type: 'string', minLength: type.length, maxLength: type.length }
    case 'tiny':
      return { type: 'integer', format: 'int8' }
    case 'small':
      return { type: 'integer', format: 'int16' }
    case 'integer':
      return { type: 'integer', format: 'int32' }
    case 'big':
      return { type: 'integer', format: 'int64' }
    case 'decimal':
      return { type: 'number', format: 'decimal', ...(type.scale > 0 ? { multipleOf: 1 / 10 ** type.scale } : {}) }
    case 'float':
    case 'double':
      return { type: 'number', format: type.kind }
    case 'boolean':
      return { type: 'boolean' }
    case 'date':
      return { type: 'string', format: 'date' }
    case 'time':
      return { type: 'string', format: 'time' }
    case 'timestamp':
      return { type: 'string', format: 'date-time' }
    case 'interval':
      return { type: 'string', format: 'duration' }
    case 'uuid':
      return { type: 'string', format: 'uuid' }
    case 'object id':
      return { type: 'string', pattern: OBJECT_ID }
    case 'binary':
      return { type: 'string', contentEncoding: 'base64' }
    case 'xml':
      return { type: 'string', contentMediaType: 'application/xml' }
    case 'oneOf':
      return { enum: [...type.values] }
    case 'json':
      return {}
    case 'native':
      return { $comment: printType(type) }
  }
}

const numberOf = (value: Json | undefined): number | undefined => (typeof value === 'number' ? value : undefined)
const WHOLE: Readonly<Record<string, NeutralType>> = {
  int8: { kind: 'tiny' },
  int16: { kind: 'small' },
  int32: { kind: 'integer' },
  int64: { kind: 'big' }
}
const TIMES: Readonly<Record<string, NeutralType>> = {
  date: { kind: 'date' },
  time: { kind: 'time' },
  'date-time': { kind: 'timestamp', zoned: true },
  duration: { kind: 'interval' },
  uuid: { kind: 'uuid' }
}

/** Text, number or truth; nothing where a schema says neither. */
export function plainOf(schema: Schema): NeutralType | undefined {
  const { type, format, maxLength, minLength, pattern, contentEncoding, contentMediaType, multipleOf } = schema
  const called = typeof format === 'string' ? format : ''
  if (type === 'boolean') return { kind: 'boolean' }
  if (type === 'integer') return WHOLE[called] ?? (isWide(schema) ? { kind: 'big' } : { kind: 'integer' })
  if (type === 'number') {
    if (called === 'float') return { kind: 'float' }
    const step = numberOf(multipleOf)
    const scale = step === undefined ? undefined : Math.round(-Math.log10(step))
    if (scale !== undefined && scale >= 0 && scale <= 20 && Math.abs(step! * 10 ** scale - 1) < 1e-9)
      return { kind: 'decimal', precision: Math.max(18, scale + 1), scale }
    return called === 'decimal' ? { kind: 'decimal', precision: 18, scale: 0 } : { kind: 'double' }
  }
  if (type !== 'string') return undefined
  if (TIMES[called]) return TIMES[called]
  if (pattern === OBJECT_ID) return { kind: 'object id' }
  if (typeof contentEncoding === 'string') return { kind: 'binary' }
  if (contentMediaType === 'application/xml') return { kind: 'xml' }
  const [least, most] = [numberOf(minLength), numberOf(maxLength)]
  if (most === undefined || most < 1) return { kind: 'text' }
  return least === most ? { kind: 'char', length: most } : { kind: 'text', length: most }
}

/** What does not fit into four bytes. */
const isWide = ({ minimum, maximum }: Schema): boolean =>
  [minimum, maximum].some((bound) => typeof bound === 'number' && Math.abs(bound) > 2 ** 31)
