// Days, times and moments as texts and numbers say them: "Date and Time Literals" (11.1.3), "The TIME Type" (13.2.3), "Conversion
// Between Date and Time Types" (13.2.8) of MySQL's manual, 8.4. A day may be nought, or lack its month or day: our sessions let it.
import type { Family, Value } from './values'

interface Day {
  readonly year: number
  readonly month: number
  readonly day: number
}

/** A time of day, or a span; in microseconds. */
type Span = bigint

const SECOND = 1_000_000n
const pad = (value: number | bigint, size = 2): string => String(value).padStart(size, '0')

function isDay({ year, month, day }: Day): boolean {
  if (year > 9999 || month > 12 || day > 31) return false
  if (year === 0 && month === 0 && day === 0) return true
  if (month === 0 || day === 0) return true
  return day <= new Date(Date.UTC(2000 + (year % 400), month, 0)).getUTCDate()
}

/** "Two-Digit Years in Dates" (13.2.9). */
const wide = (year: string): number =>
  year.length > 2 ? Number(year) : Number(year) + (Number(year) < 70 ? 2000 : 1900)

interface Moment extends Day {
  readonly span: Span
}

const spanOf = (hour: string, minute: string, second: string, fraction: string): Span | undefined => {
  const [h, m, s] = [Number(hour), Number(minute), Number(second)]
  if (m > 59 || s > 59) return undefined
  return BigInt(h * 3600 + m * 60 + s) * SECOND + micro(fraction)
}

/** Digits behind a second's point, half of the last one away from nought. */
const micro = (fraction: string): bigint => {
  const seven = BigInt(fraction.padEnd(7, '0').slice(0, 7))
  return (seven + 5n) / 10n
}

function momentIn(text: string): Moment | undefined {
  const said =
    /^\s*(\d{1,4})[-/.:^@](\d{1,2})[-/.:^@](\d{1,2})(?:(?:[T ]+|$)(?:(\d{1,2}):(\d{1,2})(?::(\d{1,2})(?:\.(\d*))?)?)?)?\s*$/.exec(
      text
    ) ?? /^\s*(\d{4}|\d{2})(\d{2})(\d{2})(?:T?(\d{2})(\d{2})(\d{2})(?:\.(\d*))?)?\s*$/.exec(text)
  if (!said) return undefined
  const [, year = '', month = '', day = '', hour = '0', minute = '0', second = '0', fraction = ''] = said
  const span = Number(hour) > 23 ? undefined : spanOf(hour, minute, second, fraction)
  const found = { year: wide(year), month: Number(month), day: Number(day) }
  if (span === undefined || !isDay(found)) return undefined
  return { ...found, span }
}

function clockIn(text: string): Span | undefined {
  const said =
    /^\s*(-?)(?:(\d{1,2}) )?(\d{1,3}):(\d{1,2})(?::(\d{1,2})(?:\.(\d*))?)?\s*$/.exec(text) ??
    /^\s*(-?)()(\d{0,3}?)(\d{0,2}?)(\d{1,2})(?:\.(\d*))?\s*$/.exec(text)
  if (!said) return undefined
  const [, sign, days = '0', hour = '0', minute = '0', second = '0', fraction = ''] = said
  const span = spanOf(String(Number(days) * 24 + Number(hour)), minute, second, fraction)
  if (span === undefined || span > MOST) return undefined
  return sign === '-' ? -span : span
}

/** 838:59:59. */
const MOST = 3_020_399n * SECOND

function dayText({ year, month, day }: Day): string {
  return `${pad(year, 4)}-${pad(month)}-${pad(day)}`
}

function spanText(span: Span, places: number): string {
  const size = span < 0n ? -span : span
  const [seconds, rest] = [size / SECOND, size % SECOND]
  const fraction = places === 0 ? '' : `.${pad(rest, 6).slice(0, places)}`
  return `${span < 0n ? '-' : ''}${pad(seconds / 3600n)}:${pad((seconds / 60n) % 60n)}:${pad(seconds % 60n)}${fraction}`
}

/** "Fractional Seconds in Time Values" (13.2.6): rounded to as many digits as the column has. */
function roundedTo(span: Span, places: number): Span {
  const by = 10n ** BigInt(6 - places)
  const size = span < 0n ? -span : span
  const whole = ((size + by / 2n) / by) * by
  return span < 0n ? -whole : whole
}

/** A moment whose time was rounded up to another day. */
function settled({ span, ...day }: Moment, places: number): Moment {
  const at = roundedTo(span, places)
  if (at < 86_400n * SECOND) return { ...day, span: at }
  const next = new Date(Date.UTC(day.year, day.month - 1, day.day + 1))
  next.setUTCFullYear(next.getUTCFullYear())
  return {
    year: next.getUTCFullYear(),
    month: next.getUTCMonth() + 1,
    day: next.getUTCDate(),
    span: at - 86_400n * SECOND
  }
}

/** A number says a day or a moment by its digits. */
function asText(value: Exclude<Value, null>): string {
  if (value instanceof Uint8Array) return new TextDecoder().decode(value)
  if (typeof value !== 'string' && Number(value) === 0) return '0000-00-00'
  const text = String(value)
  if (typeof value === 'string') return text
  const [whole = '', fraction] = text.split('.')
  // The least is the first of January 2000, 101; below it there is none.
  if (Number(value) < 101) return ''
  const full =
    whole.length <= 6
      ? whole.padStart(6, '0')
      : whole.length <= 8
        ? whole.padStart(8, '0')
        : whole.length <= 12
          ? whole.padStart(12, '0')
          : whole.padStart(14, '0')
  return fraction === undefined ? full : `${full}.${fraction}`
}

const today = (): string => new Date().toISOString().slice(0, 10)

/** What a column of moments has of a value. */
export function asMoment(value: Exclude<Value, null>, was: Family | undefined, places: number): string | undefined {
  const text = was === 'time' ? undefined : asText(value)
  let moment: Moment | undefined
  if (text === undefined) {
    // A time is one of today.
    const span = clockIn(String(value))
    const day = momentIn(today())
    if (span !== undefined && day) {
      const at = new Date(Date.UTC(day.year, day.month - 1, day.day) + Number(span / 1000n))
      const rest = ((span % (86_400n * SECOND)) + 86_400n * SECOND) % (86_400n * SECOND)
      moment = { year: at.getUTCFullYear(), month: at.getUTCMonth() + 1, day: at.getUTCDate(), span: rest }
    }
  } else moment = momentIn(text)
  if (!moment) return undefined
  const found = settled(moment, places)
  return `${dayText(found)} ${spanText(found.span, places)}`
}

/** What a column of days has of a value; its time is not kept. */
export function asDay(value: Exclude<Value, null>, was: Family | undefined): string | undefined {
  return asMoment(value, was, 6)?.slice(0, 10)
}

/** What a column of times has of a value. */
export function asClock(value: Exclude<Value, null>, was: Family | undefined, places: number): string | undefined {
  const text = value instanceof Uint8Array ? new TextDecoder().decode(value) : String(value)
  const isNumber = typeof value === 'bigint' || typeof value === 'number'
  const isMoment = was === 'date' || was === 'moment' || /^\s*\d{2,4}-\d+-\d+[T ]/.test(text)
  // A number beyond all times is a moment's digits.
  const isBeyond = isNumber && Math.abs(Number(value)) >= 8_385_960
  const digits = text.replace(/^-/, '').split('.')[0]?.length
  if (isBeyond && digits !== 8 && digits !== 14) return undefined
  const moment = isMoment ? momentIn(text) : isBeyond ? momentIn(asText(value)) : undefined
  const span = moment ? moment.span : clockIn(text)
  return span === undefined ? undefined : spanText(roundedTo(span, places), places)
}

/** A day, a time or a moment as a number, by its digits. */
export function digitsOf(text: string): string {
  const [whole = '', fraction] = text.split('.')
  const number = String(BigInt(whole.replace(/\D/g, '') || '0'))
  return (whole.startsWith('-') ? '-' : '') + (fraction === undefined ? number : `${number}.${fraction}`)
}
