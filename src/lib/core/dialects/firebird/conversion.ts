// What becomes of the values of a column that gets another type. ALTER COLUMN … TYPE only changes how rows are read from
// then on, and lets through what cannot be read later; so it is used only where every value fits, and all else is a new
// column that the values are written to ("ALTER TABLE", "Changing the data type of a column"; rounding and overflow:
// "Explicit Data Type Conversion").
import { numbersOf, typeText, type Column, type DataType } from '../../catalog'
import { bytesOfDigits } from './types'

export interface Conversion {
  /** By the engine, by a new column that takes the old one's place, or not at all: then the column is made anew, empty. */
  readonly how: 'in place' | 'by copy' | 'none'
  readonly loses?: string
  /** True for the values that make the change fail; `''` where the engine cannot be asked without failing itself. */
  readonly failsWhere?: string
  /** What writes a value in its new type, where that is no plain cast. */
  readonly value?: string
}

/** Exact numbers: how many bytes hold them and how many digits stand behind the point. */
interface Fixed {
  readonly bytes: number
  readonly scale: number
}

const wholes: Readonly<Record<string, number>> = { smallint: 2, integer: 4, bigint: 8 }
const floats = new Set(['float', 'double precision'])
/** The characters that the longest value has, as text. */
const longest: Readonly<Record<string, number>> = {
  smallint: 6,
  integer: 11,
  bigint: 20,
  date: 10,
  time: 13,
  timestamp: 24,
  boolean: 5
}

function fixedOf(type: DataType): Fixed | undefined {
  const { name } = type
  const bytes = wholes[name]
  if (bytes !== undefined) return { bytes, scale: 0 }
  const [precision, scale = 0] = numbersOf(type)
  if ((name !== 'numeric' && name !== 'decimal') || precision === undefined) return undefined
  // "DECIMAL": small ones are kept in four bytes, where NUMERIC has two.
  return { bytes: name === 'decimal' ? Math.max(4, bytesOfDigits(precision)) : bytesOfDigits(precision), scale }
}

const textOf = (type: DataType): number | undefined =>
  (type.name === 'varchar' || type.name === 'char') && type.more === undefined ? numbersOf(type)[0] : undefined

export function conversion(
  { type: was }: Pick<Column, 'type'>,
  { type: now }: Pick<Column, 'type'>,
  column: string
): Conversion {
  const [from, to] = [typeText(was), typeText(now)]
  if (from === to) return { how: 'in place' }
  // What a domain is, and lets in, only the engine knows here.
  if (was.schema !== undefined || now.schema !== undefined) return { how: 'by copy', failsWhere: '' }
  const [fromFixed, toFixed] = [fixedOf(was), fixedOf(now)]
  if (fromFixed && toFixed)
    return betweenFixed(fromFixed, toFixed, was.name === now.name || sameKind(was.name, now.name), column)
  if (toFixed && floats.has(was.name))
    return {
      how: 'by copy',
      loses: 'digits beyond what the new type keeps are rounded away',
      failsWhere: beyond(`${column} * 1e${toFixed.scale}`, toFixed.bytes)
    }
  if (now.name === 'double precision' && was.name === 'float') return { how: 'in place' }
  if (floats.has(now.name) && (fromFixed || was.name === 'double precision'))
    return { how: 'by copy', loses: 'digits beyond what a floating number holds are lost' }
  const [fromText, toText] = [textOf(was), textOf(now)]
  const fromWords = fromText !== undefined || from === TEXT
  const toNumber = toFixed !== undefined || floats.has(now.name)
  if (from === 'boolean' && toNumber)
    return { how: 'by copy', value: `CASE WHEN ${column} THEN 1 WHEN NOT ${column} THEN 0 END` }
  if (to === 'boolean' && (fromFixed || floats.has(was.name)))
    return { how: 'by copy', value: `${column} <> 0`, loses: 'all numbers but 0 become true' }
  if (fromWords && (toNumber || valued.has(to))) return fromWord(to, toFixed, column)
  if (toText !== undefined) {
    if (fromText !== undefined) {
      if (now.name === 'varchar' && was.name === 'varchar' && fromText <= toText) return { how: 'in place' }
      const fits = fromText <= toText
      // Blanks at the end of fixed text are kept as text, and cut where they would not fit.
      return {
        how: 'by copy',
        ...(fits ? {} : { failsWhere: `char_length(trim(TRAILING FROM ${column})) > ${toText}` })
      }
    }
    if (from === TEXT) return { how: 'by copy', failsWhere: `char_length(${column}) > ${toText}` }
    const size = fromFixed ? (longest[was.name] ?? 21) : longest[was.name]
    if (size === undefined) return { how: 'none' }
    return {
      how: 'by copy',
      ...(size <= toText ? {} : { failsWhere: `char_length(CAST(${column} AS VARCHAR(40))) > ${toText}` })
    }
  }
  if (to === TEXT && (fromText !== undefined || fromFixed || longest[was.name] !== undefined))
    return { how: 'by copy', value: fromText === undefined ? `CAST(${column} AS VARCHAR(40))` : column }
  if (from === 'time' && to === 'timestamp')
    return { how: 'by copy', loses: 'the day becomes that on which the change is made' }
  if (from === 'date' && to === 'timestamp') return { how: 'by copy' }
  if (from === 'timestamp' && to === 'date') return { how: 'by copy', loses: 'the time of day is lost' }
  if (from === 'timestamp' && to === 'time') return { how: 'by copy', loses: 'the day is lost' }
  return { how: 'none' }
}

const TEXT = 'blob sub_type text'
/** What a text may be read as, besides a number. */
const valued = new Set(['date', 'time', 'timestamp', 'boolean'])

/** A text read as a value: "Explicit Data Type Conversion". */
function fromWord(to: string, fixed: Fixed | undefined, column: string): Conversion {
  const loses = 'the text is read as a value: how it was written is lost'
  const word = `trim(${column})`
  if (to === 'boolean') return { how: 'by copy', loses, failsWhere: `upper(${word}) NOT IN ('TRUE', 'FALSE')` }
  // No function tells whether a text is a moment.
  if (valued.has(to)) return { how: 'by copy', loses, failsWhere: '' }
  const number = `${word} SIMILAR TO '[\\+\\-]?([0-9]+(.[0-9]*)?|.[0-9]+)([eE][\\+\\-]?[0-9]+)?' ESCAPE '\\'`
  const value = `CAST(${word} AS DOUBLE PRECISION)`
  const edge = fixed && beyond(`${value} * 1e${fixed.scale}`, fixed.bytes)
  return {
    how: 'by copy',
    loses,
    failsWhere: `CASE WHEN ${number} THEN ${edge === undefined ? '1 = 0' : edge} ELSE ${column} IS NOT NULL END`
  }
}

const sameKind = (a: string, b: string) => a in wholes && b in wholes

function betweenFixed(from: Fixed, to: Fixed, alike: boolean, column: string): Conversion {
  const loses = from.scale > to.scale ? { loses: `digits beyond ${to.scale} after the point are rounded away` } : {}
  if (alike && to.bytes >= from.bytes && to.scale === from.scale) return { how: 'in place' }
  const fits = limit(to) >= limit(from)
  return { how: 'by copy', ...loses, ...(fits && !loses.loses ? {} : { failsWhere: outside(column, from, to) }) }
}

/** The largest value, and a bit. */
const limit = ({ bytes, scale }: Fixed) => 2 ** (bytes * 8 - 1) / 10 ** scale

const most = (bytes: number) => 2n ** BigInt(bytes * 8 - 1)
const beyond = (value: string, bytes: number) => `round(${value}) NOT BETWEEN -${most(bytes)} AND ${most(bytes) - 1n}`

/**
 * Rounded to the digits that are kept, a value must fit the bytes. It is held against an edge of no more digits behind
 * the point than it has itself: the engine would scale it up to them, which may be more than it can hold.
 */
function outside(column: string, from: Fixed, to: Fixed): string {
  const digits = String(most(to.bytes) - 1n).padStart(to.scale + 1, '0')
  const scale = Math.min(from.scale, to.scale)
  const whole = digits.slice(0, digits.length - to.scale)
  const edge = scale === 0 ? whole : `${whole}.${digits.slice(digits.length - to.scale).slice(0, scale)}`
  const value = from.scale > to.scale ? `round(${column}, ${to.scale})` : column
  return `${value} NOT BETWEEN -${edge} AND ${edge}`
}
