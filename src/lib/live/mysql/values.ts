// A value as a column of a type holds it, or why it does not, in strict mode: "Data Types" (13), "Out-of-Range and Overflow Handling"
// (13.1.7), "Server SQL Modes" (7.1.11) and "Date and Time Literals" (11.1.3) of MySQL's manual, 8.4.
import type { DataType } from '../../core/catalog'
import { dialect, type Dialect } from '../../core/dialects'
import { significant, textOf } from '../../core/sql'
import { Refused } from '../refused'
import { asClock, asDay, asMoment, digitsOf } from './moments'

/** What the embedded engine keeps: whole numbers to 64 bits, floating numbers, texts, bytes. */
export type Value = null | bigint | number | string | Uint8Array

export type Family =
  'whole' | 'decimal' | 'float' | 'bit' | 'year' | 'text' | 'bytes' | 'json' | 'list' | 'date' | 'time' | 'moment'

const FAMILIES: readonly (readonly [RegExp, Family])[] = [
  [/^(tinyint|smallint|mediumint|int|bigint)$/, 'whole'],
  [/^decimal$/, 'decimal'],
  [/^(float|double)$/, 'float'],
  [/^bit$/, 'bit'],
  [/^year$/, 'year'],
  [/blob$|binary$/, 'bytes'],
  [/^json$/, 'json'],
  [/^(enum|set)$/, 'list'],
  [/^date$/, 'date'],
  [/^time$/, 'time'],
  [/^(datetime|timestamp)$/, 'moment']
]

/** A type's name without what is said behind it: `int unsigned` is one name where it has no width. */
export const plainName = ({ name }: DataType): string => name.split(' ')[0] ?? name

export const familyOf = (type: DataType): Family =>
  FAMILIES.find(([pattern]) => pattern.test(plainName(type)))?.[1] ?? 'text'

const BITS: Readonly<Record<string, bigint>> = { tinyint: 8n, smallint: 16n, mediumint: 24n, int: 32n, bigint: 64n }
/** "String Type Storage Requirements", in bytes. */
const ROOM: Readonly<Record<string, number>> = {
  tinytext: 255,
  tinyblob: 255,
  text: 65_535,
  blob: 65_535,
  mediumtext: 16_777_215,
  mediumblob: 16_777_215
}

const { lexis } = (dialect('mysql') as Dialect).write
/** What an enum or a set allows. */
export const listedIn = ({ args = [] }: DataType): string[] =>
  args.flatMap((arg) => significant(arg, lexis).flatMap((token) => textOf(token, lexis) ?? []))

const utf8 = new TextEncoder()
const NUMBER = /^\s*([-+]?)(\d*)\.?(\d*)(?:[eE]([-+]?\d+))?\s*$/
const WHOLE = /^\s*[-+]?\d+\s*$/

/** How a type is told in an error. */
const called = (column: string) => `for column '${column}'`
const outOfRange = (column: string) => new Refused(`Out of range value ${called(column)}`, 1264)
const tooLong = (column: string) => new Refused(`Data too long ${called(column)}`, 1406)
const truncated = (column: string) => new Refused(`Data truncated ${called(column)}`, 1265)
const incorrect = (what: string, value: Value, column: string, code = 1366) =>
  new Refused(`Incorrect ${what} value: '${String(value).slice(0, 60)}' ${called(column)}`, code)

/** A number in decimal digits: `mantissa` over ten to the power of `scale`. */
interface Digits {
  readonly mantissa: bigint
  readonly scale: number
}

function digits(text: string): Digits | undefined {
  const [, sign, before = '', after = '', power = '0'] = NUMBER.exec(text) ?? []
  if (sign === undefined || before + after === '') return undefined
  const scale = after.length - Number(power)
  if (Math.abs(scale) > 400) return undefined
  const mantissa = BigInt(before + after) * (sign === '-' ? -1n : 1n)
  return scale < 0 ? { mantissa: mantissa * 10n ** BigInt(-scale), scale: 0 } : { mantissa, scale }
}

/** A number in words with so many digits behind its point; nothing where it is none. */
export function rounded(text: string, places: number): string | undefined {
  const found = digits(text)
  return found && pointed(atPlace(found, places), places)
}

/** With so many digits behind the point; half is rounded away from nought ("Rounding Behavior"). */
function atPlace({ mantissa, scale }: Digits, to: number): bigint {
  if (scale <= to) return mantissa * 10n ** BigInt(to - scale)
  const by = 10n ** BigInt(scale - to)
  const [size, half] = [mantissa < 0n ? -mantissa : mantissa, by / 2n]
  const whole = (size + half) / by
  return mantissa < 0n ? -whole : whole
}

const pointed = (value: bigint, scale: number): string => {
  const text = String(value < 0n ? -value : value).padStart(scale + 1, '0')
  const sign = value < 0n ? '-' : ''
  return scale === 0 ? sign + text : `${sign}${text.slice(0, -scale)}.${text.slice(-scale)}`
}

/** A floating number as it is printed: fifteen digits, or six. */
export function printed(value: number, single = false): string {
  const short = Number(value.toPrecision(single ? 6 : 17))
  const text =
    Math.abs(short) >= 1e15 || (short !== 0 && Math.abs(short) < 1e-15) ? short.toExponential() : String(short)
  return text.replace('e+', 'e')
}

/** A value in words, as a column of its type shows it. */
export function textIn(value: Exclude<Value, null>, from: DataType | undefined): string {
  if (value instanceof Uint8Array) return new TextDecoder().decode(value)
  const family = from && familyOf(from)
  if (family === 'decimal' && from) {
    const scale = Number(from.args?.[1] ?? 0)
    const found = digits(String(value))
    return found ? pointed(atPlace(found, scale), scale) : String(value)
  }
  if (family === 'year') return String(value).padStart(4, '0')
  if (typeof value === 'number') return printed(value, from && plainName(from) === 'float')
  return String(value)
}

/** A value as a number in words; what is no number stays what it is. */
export function numberIn(value: Exclude<Value, null>, from: DataType | undefined): string {
  const family = from && familyOf(from)
  if (from && family === 'list') {
    const listed = listedIn(from)
    if (from.name === 'enum') return String(listed.indexOf(String(value)) + 1)
    const own = String(value).split(',')
    return String(listed.reduce((sum, one, i) => (own.includes(one) ? sum + (1n << BigInt(i)) : sum), 0n))
  }
  if (family === 'date' || family === 'time' || family === 'moment') return digitsOf(String(value))
  // All of a whole number's digits, where it is printed with fewer.
  if (typeof value === 'number')
    return Number.isInteger(value) && Math.abs(value) < 1e40 ? String(BigInt(value)) : String(value)
  return textIn(value, from)
}

/**
 * What a column keeps of a value, which came out of a column of another type or was said. Throws `Refused` for what it does not take.
 */
export function heldAs(type: DataType, value: Value, column: string, from?: DataType): Value {
  if (value === null) return null
  const was = from && familyOf(from)
  switch (familyOf(type)) {
    case 'whole':
      return wholeOf(type, value, column, from)
    case 'bit': {
      // What is said is bytes; what comes out of another column is its number.
      const bytes = from
        ? undefined
        : value instanceof Uint8Array
          ? value
          : typeof value === 'string'
            ? utf8.encode(value)
            : undefined
      const number = bytes
        ? bytes.reduce((sum, byte) => (sum << 8n) + BigInt(byte), 0n)
        : outOfColumn(value, column, from)
      if (was === 'decimal' && Number(value) < 0) throw outOfRange(column)
      if (number < 0n || number >= 1n << BigInt(type.args?.[0] ?? 1)) throw tooLong(column)
      return number
    }
    case 'decimal': {
      const [precision, scale] = [Number(type.args?.[0] ?? 10), Number(type.args?.[1] ?? 0)]
      const text = numberIn(value, from)
      const found = digits(text)
      if (!found) throw incorrect('decimal', text, column)
      const number = atPlace(found, scale)
      const most = 10n ** BigInt(precision)
      if (number >= most || number <= -most || (number < 0n && isUnsigned(type))) throw outOfRange(column)
      return pointed(number, scale)
    }
    case 'float': {
      const text = numberIn(value, from)
      if (!digits(text)) throw typeof value === 'string' ? truncated(column) : outOfRange(column)
      const number = plainName(type) === 'float' ? Math.fround(Number(text)) : Number(text)
      if (!Number.isFinite(number) || (number < 0 && isUnsigned(type))) throw outOfRange(column)
      return number
    }
    case 'year':
      return yearOf(value, column, from)
    case 'list':
      return listedOf(type, value, column, from)
    case 'date':
      return asDay(value, was) ?? fail(incorrect('date', value, column, 1292))
    case 'moment': {
      const found = asMoment(value, was, Number(type.args?.[0] ?? 0))
      if (found === undefined || (plainName(type) === 'timestamp' && !isStamp(found)))
        throw incorrect('datetime', value, column, 1292)
      return found
    }
    case 'time':
      return asClock(value, was, Number(type.args?.[0] ?? 0)) ?? fail(incorrect('time', value, column, 1292))
    case 'bytes':
      return bytesOf(type, value, column, from)
    case 'json':
      return jsonOf(value, column, from)
    case 'text':
      return wordsOf(type, value, column, from)
  }
}

/** "The DATE, DATETIME, and TIMESTAMP Types" (13.2.2): seconds from 1970 to 2038, or nought. */
const isStamp = (moment: string): boolean =>
  moment.startsWith('0000-00-00 00:00:00') ||
  (!/^\d+-(00|\d+-00)/.test(moment) && moment >= '1970-01-01 00:00:01' && moment < '2038-01-19 03:14:08')

function fail(error: Refused): never {
  throw error
}

export const isUnsigned = ({ more = '', name }: DataType): boolean => /unsigned|zerofill/.test(`${name} ${more}`)

function asWhole(text: string, column: string): bigint {
  const found = digits(text)
  if (!found) throw incorrect('integer', text, column)
  return atPlace(found, 0)
}

/** What comes out of a column of text must be a whole number as it stands. */
function outOfColumn(value: Exclude<Value, null>, column: string, from: DataType | undefined): bigint {
  const text = numberIn(value, from)
  const isText = from && ['text', 'bytes', 'json'].includes(familyOf(from))
  if (isText && !WHOLE.test(text)) throw digits(text) ? truncated(column) : incorrect('integer', text, column)
  return asWhole(text, column)
}

function wholeOf(type: DataType, value: Exclude<Value, null>, column: string, from: DataType | undefined): bigint {
  const bits = BITS[plainName(type)] ?? 64n
  const [least, most] = isUnsigned(type) ? [0n, (1n << bits) - 1n] : [-(1n << (bits - 1n)), (1n << (bits - 1n)) - 1n]
  const number = outOfColumn(value, column, from)
  // A decimal below nought is none without a sign, though it would be rounded to nought.
  if (least === 0n && from && familyOf(from) === 'decimal' && Number(value) < 0) throw outOfRange(column)
  // What is beyond 64 bits with a sign is kept as a floating number: the nearest to the greatest stands for it.
  if (typeof value === 'number' && most === (1n << 64n) - 1n && number === 1n << 64n) return most
  // Beyond what eight bytes hold a floating number is set to the nearest that they do.
  if (from && plainName(from) === 'float' && plainName(type) === 'bigint')
    return number < least ? least : number > most ? most : number
  if (number < least || number > most) throw outOfRange(column)
  return number
}

function yearOf(value: Exclude<Value, null>, column: string, from: DataType | undefined): bigint {
  const text = numberIn(value, from)
  const number = asWhole(text, column)
  if (text.trim().startsWith('-')) throw outOfRange(column)
  // "The YEAR Type": one or two digits stand for 1970 to 2069; '0' as a text for 2000.
  if (number === 0n) return typeof value === 'string' && !/^\s*0000\s*$/.test(value) ? 2000n : 0n
  if (number >= 1n && number <= 69n) return 2000n + number
  if (number >= 70n && number <= 99n) return 1900n + number
  if (number < 1901n || number > 2155n) throw outOfRange(column)
  return number
}

function listedOf(type: DataType, value: Exclude<Value, null>, column: string, from: DataType | undefined): string {
  const listed = listedIn(type)
  const was = from && familyOf(from)
  const isNumber = typeof value === 'number' || typeof value === 'bigint' || was === 'decimal'
  if (isNumber) {
    // Of what is said, what stands behind its point is passed over; what comes out of a column is rounded.
    const number = from ? asWhole(String(value), column) : BigInt(Math.trunc(Number(value)))
    const count = BigInt(listed.length)
    if (type.name === 'enum') {
      const found = number >= 1n && number <= count ? listed[Number(number) - 1] : undefined
      return found ?? fail(truncated(column))
    }
    if (number < 0n || number >= 1n << count) throw truncated(column)
    return listed.filter((_, i) => (number >> BigInt(i)) & 1n).join(',')
  }
  const text = textIn(value, from)
  const find = (one: string) => listed.find((own) => own.toLowerCase() === one.replace(/ +$/, '').toLowerCase())
  // "The ENUM Type" (13.3.5): a number in quotes is one of the list, or where there is none, its place.
  if (type.name === 'enum')
    return find(text) ?? (/^[1-9]\d*$/.test(text) ? listed[Number(text) - 1] : undefined) ?? fail(truncated(column))
  if (text === '') return ''
  const own = text.split(',').map(find)
  if (own.includes(undefined)) throw truncated(column)
  return listed.filter((one) => own.includes(one)).join(',')
}

/** Bits as the bytes that they are kept in. */
export function bitsIn(value: Exclude<Value, null>, { args }: DataType): Uint8Array {
  let bits = BigInt(String(value))
  const bytes: number[] = []
  for (let left = Math.ceil(Number(args?.[0] ?? 1) / 8); left > 0; left--, bits >>= 8n)
    bytes.unshift(Number(bits & 255n))
  return Uint8Array.from(bytes)
}

function wordsOf(type: DataType, value: Exclude<Value, null>, column: string, from: DataType | undefined): string {
  const was = from && familyOf(from)
  let text: string
  if (from && was === 'bit' && type.name.endsWith('text')) text = decoded(bitsIn(value, from), column)
  else text = value instanceof Uint8Array ? decoded(value, column) : textIn(value, from)
  const room = ROOM[type.name]
  const [size] = type.args ?? []
  // "The CHAR and VARCHAR Types": blanks at the end are not kept, or are passed over where they are too many.
  const cut = type.name === 'char' ? text.replace(/ +$/, '') : text
  if (room !== undefined && utf8.encode(cut).length > room) throw tooLong(column)
  if (room === undefined && size !== undefined && [...cut].length > Number(size)) {
    const short = [...cut].slice(0, Number(size)).join('')
    if (!from && /^ *$/.test(cut.slice(short.length))) return short
    throw tooLong(column)
  }
  return cut
}

function decoded(bytes: Uint8Array, column: string): string {
  try {
    return new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(bytes)
  } catch {
    throw incorrect(
      'string',
      [...bytes].map((byte) => `\\x${byte.toString(16).padStart(2, '0').toUpperCase()}`).join(''),
      column
    )
  }
}

function bytesOf(type: DataType, value: Exclude<Value, null>, column: string, from: DataType | undefined): Uint8Array {
  const bytes = value instanceof Uint8Array ? value : utf8.encode(textIn(value, from))
  const size = ROOM[type.name] ?? (type.args?.[0] === undefined ? Infinity : Number(type.args[0]))
  if (bytes.length > size) throw tooLong(column)
  if (type.name !== 'binary') return bytes
  // "The BINARY and VARBINARY Types": filled up with zero bytes.
  const filled = new Uint8Array(size)
  filled.set(bytes)
  return filled
}

function jsonOf(value: Exclude<Value, null>, column: string, from: DataType | undefined): string {
  const own = from && familyOf(from) === 'bit' ? bitsIn(value, from) : value
  const text = own instanceof Uint8Array ? decoded(own, column) : textIn(own, from)
  try {
    JSON.parse(text)
  } catch (error) {
    throw new Refused(`Invalid JSON text: "${(error as Error).message}" in value ${called(column)}`, 3140)
  }
  return text
}
