// Defaults as people write them, read for the type they stand beside.
import type { DefaultValue } from '../dialects'
import { failed, ok, type Result } from '../notice'
import { isPlain, type NeutralType } from '../types'

const numbers = ['tiny', 'small', 'integer', 'big', 'decimal', 'float', 'double']
const moments = ['date', 'time', 'timestamp']

/** The standard's words for the clock, and those that everybody types (ISO/IEC 9075-2, 6.32, from memory). */
const clocks =
  /^(now(\(\s*\))?|current[_ ](date|time|timestamp)|local(time|timestamp)|getdate\(\)|sysdate|today)(\(\d?\))?$/

/**
 * Reads `0`, `ferry`, `"in port"`, `now`, `current_date`, `new` (a fresh uuid), `true`, `(expression)`.
 * Errors: `default-not-number`, `default-not-boolean`, `default-not-allowed`, `default-not-moment`, `default-not-uuid`,
 * `default-too-long`, `default-not-json`.
 */
export function parseDefault(text: string, type: NeutralType): Result<DefaultValue> {
  const source = text.trim()
  const expression = /^\(([\s\S]+)\)$/.exec(source)?.[1]
  if (expression !== undefined) return ok({ kind: 'expression', text: expression.trim() })
  const quoted = /^"([\s\S]*)"$/.exec(source)?.[1] ?? /^'([\s\S]*)'$/.exec(source)?.[1]
  const word = source.toLowerCase()
  const value = quoted ?? source
  if (quoted === undefined) {
    if (clocks.test(word) && moments.includes(type.kind)) return ok({ kind: 'now' })
    if (/^(new|uuid\(\)|gen_random_uuid\(\)|newid\(\))$/.test(word) && type.kind === 'uuid')
      return ok({ kind: 'new uuid' })
  }
  if (type.kind === 'boolean') {
    if (['true', 'yes', '1'].includes(value.toLowerCase())) return ok({ kind: 'boolean', value: true })
    if (['false', 'no', '0'].includes(value.toLowerCase())) return ok({ kind: 'boolean', value: false })
    return failed('default-not-boolean', `The default “${source}” is neither true nor false.`)
  }
  if (numbers.includes(type.kind)) return numberOf(value, type)
  if (moments.includes(type.kind) && !isMoment(value, type.kind))
    return failed(
      'default-not-moment',
      `The default “${source}” is no ${type.kind}: write ${examples[type.kind] ?? ''}, or now.`
    )
  if (type.kind === 'uuid' && !/^\{?[0-9a-f]{8}-?([0-9a-f]{4}-?){3}[0-9a-f]{12}\}?$/i.test(value))
    return failed('default-not-uuid', `The default “${source}” is no uuid: write one in full, or new for a fresh one.`)
  if (type.kind === 'oneOf' && !type.values.includes(value))
    return failed('default-not-allowed', `The default “${value}” is none of ${type.values.join(', ')}.`)
  if ((type.kind === 'text' || type.kind === 'char') && type.length !== undefined && [...value].length > type.length)
    return failed('default-too-long', `The default “${value}” is longer than ${type.length} characters.`)
  if ((type.kind === 'json' || !isPlain(type)) && !isJson(value))
    return failed('default-not-json', `The default “${source}” is no JSON: write {} or [], or a value in quotes.`)
  return ok({ kind: 'text', text: value })
}

/** The least and the greatest whole number of a type. */
const ranges: Readonly<Record<string, bigint>> = { tiny: 7n, small: 15n, integer: 31n, big: 63n }

function numberOf(text: string, type: NeutralType): Result<DefaultValue> {
  const not = (why: string) => failed('default-not-number', `The default “${text}” ${why}.`)
  if (!/^-?\d+(\.\d+)?$/.test(text)) return not('is not a number')
  const bits = ranges[type.kind]
  const [whole = '', digits = ''] = text.replace('-', '').split('.')
  if (bits !== undefined) {
    if (/[1-9]/.test(digits)) return not('is no whole number')
    const most = 2n ** bits
    const value = BigInt(text.split('.')[0] ?? '0')
    if (value < -most || value >= most) return not(`does not fit: ${type.kind} holds −${most} to ${most - 1n}`)
  }
  if (type.kind === 'decimal') {
    if (whole.replace(/^0+/, '').length > type.precision - type.scale)
      return not(`has more digits before the point than decimal(${type.precision},${type.scale}) holds`)
    if (digits.replace(/0+$/, '').length > type.scale)
      return not(`has more digits after the point than decimal(${type.precision},${type.scale}) holds`)
  }
  return ok({ kind: 'number', text })
}

const examples: Readonly<Record<string, string>> = {
  date: '2026-03-01',
  time: '06:10',
  timestamp: '2026-03-01 06:10'
}

/** A day, a time of day or both, as ISO 8601 writes them, that there is in the calendar. */
function isMoment(text: string, kind: string): boolean {
  const [, day, clock] =
    /^(\d{4,}-\d{2}-\d{2})?(?:(?:^|[T ])(\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?(?:\s?(?:Z|[+-]\d{2}(?::?\d{2})?))?))?$/i.exec(
      text
    ) ?? []
  if (kind === 'date' ? !day || clock : kind === 'time' ? day || !clock : !day) return false
  if (day) {
    const [year = 0, month = 0, date = 0] = day.split('-').map(Number)
    const last = new Date(Date.UTC(2000 + (year % 400), month, 0)).getUTCDate()
    if (year < 1 || month < 1 || month > 12 || date < 1 || date > last) return false
  }
  const [hour = 0, minute = 0, second = 0] = (clock ?? '').split(/[:Z+\s-]/i).map(Number)
  return hour <= 23 && minute <= 59 && second < 60
}

function isJson(text: string): boolean {
  try {
    JSON.parse(text)
    return true
  } catch {
    return false
  }
}
