// "Date and Time Functions" (14.7) of MySQL's manual, 8.4. Moments are those of UTC.
import { asClock, asDay, asMoment } from '../moments'
import { number, text, whole, type Func, type Given } from './given'

const now = (places = 0): string => asMoment(new Date().toISOString().replace('Z', ''), undefined, places) ?? ''

const UNITS: Readonly<Record<string, number>> = {
  microsecond: 1e-3,
  second: 1e3,
  minute: 6e4,
  hour: 36e5,
  day: 864e5,
  week: 6048e5
}
const MONTHS: Readonly<Record<string, number>> = { month: 1, quarter: 3, year: 12 }

const stamp = (value: Given): Date | undefined => {
  const said = value === null ? undefined : asMoment(value, undefined, 6)
  const at = said === undefined ? NaN : Date.parse(`${said.replace(' ', 'T').slice(0, 23)}Z`)
  return Number.isNaN(at) ? undefined : new Date(at)
}
const written = (at: Date, withTime: boolean): string =>
  at
    .toISOString()
    .slice(0, withTime ? 19 : 10)
    .replace('T', ' ')

function added(value: Given, by: Given, unit: Given, way: Given): Given {
  const at = stamp(value)
  if (!at || by === null) return null
  const sort = text(unit)
  const count = number(by) * number(way)
  const months = MONTHS[sort]
  if (months !== undefined) {
    const day = at.getUTCDate()
    at.setUTCDate(1)
    at.setUTCMonth(at.getUTCMonth() + months * count)
    at.setUTCDate(Math.min(day, new Date(Date.UTC(at.getUTCFullYear(), at.getUTCMonth() + 1, 0)).getUTCDate()))
  } else if (sort in UNITS) at.setTime(at.getTime() + (UNITS[sort] ?? 0) * count)
  else throw new Error(`This stand-in adds no ${sort.toUpperCase()}`)
  return written(at, text(value).length > 10 || ['hour', 'minute', 'second'].includes(sort))
}

/** Of a day that is none there is nothing. */
const ofDay =
  (take: (at: Date, said: string) => number): Func =>
  (value) => {
    const at = stamp(value)
    return at ? take(at, text(value)) : null
  }
const ofClock =
  (place: number): Func =>
  (value) => {
    const said = value === null ? undefined : asClock(value, undefined, 6)
    return said === undefined ? null : Math.abs(Number(said.replace('-', '').split(':')[place]?.split('.')[0]))
  }

/** "DATE_FORMAT()". */
const FORMATS: Readonly<Record<string, (at: Date) => string>> = {
  Y: (at) => String(at.getUTCFullYear()).padStart(4, '0'),
  y: (at) => String(at.getUTCFullYear()).slice(-2),
  m: (at) => String(at.getUTCMonth() + 1).padStart(2, '0'),
  c: (at) => String(at.getUTCMonth() + 1),
  d: (at) => String(at.getUTCDate()).padStart(2, '0'),
  e: (at) => String(at.getUTCDate()),
  H: (at) => String(at.getUTCHours()).padStart(2, '0'),
  i: (at) => String(at.getUTCMinutes()).padStart(2, '0'),
  s: (at) => String(at.getUTCSeconds()).padStart(2, '0'),
  S: (at) => String(at.getUTCSeconds()).padStart(2, '0'),
  f: (at) => String(at.getUTCMilliseconds() * 1000).padStart(6, '0'),
  T: (at) => at.toISOString().slice(11, 19),
  '%': () => '%'
}

/** "Date and Time Functions" (14.7). */
export const TIMES: Readonly<Record<string, Func>> = {
  ...Object.fromEntries(
    'now sysdate current_timestamp localtime localtimestamp utc_timestamp'
      .split(' ')
      .map((name) => [name, (n: Given = 0) => now(number(n))])
  ),
  ...Object.fromEntries('curdate current_date utc_date'.split(' ').map((name) => [name, () => now().slice(0, 10)])),
  ...Object.fromEntries('curtime current_time utc_time'.split(' ').map((name) => [name, () => now().slice(11)])),
  date: whole((a) => asDay(a as string, undefined) ?? null),
  time: whole((a) => asClock(a as string, undefined, 0) ?? null),
  year: ofDay((at, said) => (/^\s*0000/.test(said) ? 0 : at.getUTCFullYear())),
  month: ofDay((at) => at.getUTCMonth() + 1),
  day: ofDay((at) => at.getUTCDate()),
  dayofmonth: ofDay((at) => at.getUTCDate()),
  dayofweek: ofDay((at) => at.getUTCDay() + 1),
  weekday: ofDay((at) => (at.getUTCDay() + 6) % 7),
  quarter: ofDay((at) => Math.floor(at.getUTCMonth() / 3) + 1),
  hour: ofClock(0),
  minute: ofClock(1),
  second: ofClock(2),
  last_day: (a) => {
    const at = stamp(a)
    return at ? written(new Date(Date.UTC(at.getUTCFullYear(), at.getUTCMonth() + 1, 0)), false) : null
  },
  date_add: added,
  datediff: (a, b) => {
    const [first, second] = [stamp(a), stamp(b)]
    return first && second ? Math.floor(first.getTime() / 864e5) - Math.floor(second.getTime() / 864e5) : null
  },
  timestampdiff: (unit, a, b) => {
    const [first, second, sort] = [stamp(a), stamp(b), text(unit)]
    if (!first || !second) return null
    const months = MONTHS[sort]
    if (months === undefined) return Math.trunc((second.getTime() - first.getTime()) / (UNITS[sort] ?? 1))
    const apart = (second.getUTCFullYear() - first.getUTCFullYear()) * 12 + second.getUTCMonth() - first.getUTCMonth()
    const isShort =
      apart > 0 ? second.getUTCDate() < first.getUTCDate() : apart < 0 && second.getUTCDate() > first.getUTCDate()
    return Math.trunc((apart - (isShort ? Math.sign(apart) : 0)) / months)
  },
  date_format: whole((a, format) => {
    const at = stamp(a)
    return at ? text(format).replace(/%(.)/g, (_, sign: string) => FORMATS[sign]?.(at) ?? sign) : null
  }),
  unix_timestamp: (a = now()) => {
    const at = stamp(a)
    const seconds = at ? Math.floor(at.getTime() / 1000) : null
    // "UNIX_TIMESTAMP()": of what is out of range, nought.
    return seconds === null ? null : seconds < 0 || seconds > 32_536_771_199 ? 0 : seconds
  },
  from_unixtime: whole((a) => written(new Date(number(a) * 1000), true))
}
