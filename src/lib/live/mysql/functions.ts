// MySQL's functions for the engine that keeps the stand-in's rows, each under its name behind an underscore: "Functions and Operators"
// (14) of its manual, 8.4. One that is not here is refused by name.
import { typeOfText } from './types'
import { asClock, asDay, asMoment, digitsOf } from './moments'
import { bitsIn, familyOf, heldAs, numberIn, printed, rounded, textIn, type Value } from './values'

/** What the embedded engine hands to a function, and takes from it. */
export type Given = null | number | string | Uint8Array
type Func = (...given: Given[]) => Given | bigint | boolean

const utf8 = new TextEncoder()
export const text = (value: Given): string =>
  value instanceof Uint8Array
    ? new TextDecoder().decode(value)
    : typeof value === 'number'
      ? printed(value)
      : (value ?? '')
/** A text's number is what it begins with ("Type Conversion in Expression Evaluation", 14.3). */
export const number = (value: Given): number =>
  typeof value === 'number' ? value : Number(/^\s*[-+]?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?/.exec(text(value))?.[0] ?? 0)
const bytes = (value: Given): Uint8Array => (value instanceof Uint8Array ? value : utf8.encode(text(value)))
const hex = (value: Uint8Array): string =>
  [...value]
    .map((byte) => byte.toString(16).padStart(2, '0'))
    .join('')
    .toUpperCase()

/** Of nothing there is nothing. */
const whole =
  (func: Func): Func =>
  (...given) =>
    given.includes(null) ? null : func(...given)

const characters = (value: Given): string[] => [...text(value)]
const fill = (value: Given, length: Given, by: Given, isLeft: boolean): string => {
  const [own, filler] = [characters(value), characters(by)]
  const lacking = number(length) - own.length
  if (lacking <= 0 || filler.length === 0) return own.slice(0, number(length)).join('')
  const more = Array.from({ length: lacking }, (_, i) => filler[i % filler.length] ?? '')
  return (isLeft ? [...more, ...own] : [...own, ...more]).join('')
}

/** "String Functions" (14.8). */
const STRINGS: Readonly<Record<string, Func>> = {
  length: whole((a) => bytes(a).length),
  octet_length: whole((a) => bytes(a).length),
  bit_length: whole((a) => bytes(a).length * 8),
  upper: whole((a) => text(a).toUpperCase()),
  ucase: whole((a) => text(a).toUpperCase()),
  lower: whole((a) => text(a).toLowerCase()),
  lcase: whole((a) => text(a).toLowerCase()),
  concat: whole((...all) => all.map(text).join('')),
  concat_ws: (mark, ...all) =>
    mark === null
      ? null
      : all
          .filter((one) => one !== null)
          .map(text)
          .join(text(mark)),
  hex: whole((a) => (typeof a === 'number' ? BigInt(Math.trunc(a)).toString(16).toUpperCase() : hex(bytes(a)))),
  unhex: whole((a) => {
    const said = text(a)
    if (!/^([0-9a-fA-F]{2})*$/.test(said)) return null
    return Uint8Array.from(said.match(/../g) ?? [], (pair) => parseInt(pair, 16))
  }),
  left: whole((a, n) =>
    characters(a)
      .slice(0, Math.max(0, number(n)))
      .join('')
  ),
  right: whole((a, n) => (number(n) <= 0 ? '' : characters(a).slice(-number(n)).join(''))),
  lpad: whole((a, n, by = ' ') => fill(a, n, by, true)),
  rpad: whole((a, n, by = ' ') => fill(a, n, by, false)),
  ltrim: whole((a) => text(a).replace(/^ +/, '')),
  rtrim: whole((a) => text(a).replace(/ +$/, '')),
  trim: whole((a, what, side) => {
    let said = text(a)
    const mark = text(what ?? '')
    if (mark === '') return said
    if (side !== 'trailing') while (said.startsWith(mark)) said = said.slice(mark.length)
    if (side !== 'leading') while (said.endsWith(mark)) said = said.slice(0, -mark.length)
    return said
  }),
  locate: whole(
    (what, a, from = 1) =>
      text(a)
        .toLowerCase()
        .indexOf(text(what).toLowerCase(), number(from) - 1) + 1
  ),
  substring_index: whole((a, mark, n) => {
    const parts = text(a).split(text(mark))
    const count = number(n)
    return (count >= 0 ? parts.slice(0, count) : parts.slice(count)).join(text(mark))
  }),
  repeat: whole((a, n) => text(a).repeat(Math.max(0, number(n)))),
  reverse: whole((a) => characters(a).reverse().join('')),
  space: whole((n) => ' '.repeat(Math.max(0, number(n)))),
  ascii: whole((a) => bytes(a)[0] ?? 0),
  strcmp: whole((a, b) => text(a).localeCompare(text(b))),
  field: (a, ...list) =>
    a === null ? 0 : list.findIndex((one) => one !== null && text(one).toLowerCase() === text(a).toLowerCase()) + 1,
  elt: (n, ...list) => (n === null ? null : (list[number(n) - 1] ?? null)),
  find_in_set: whole((a, list) => text(list).split(',').indexOf(text(a)) + 1),
  regexp_like: whole((a, pattern) => regexp(pattern, a)),
  char: (...codes) => String.fromCodePoint(...codes.filter((one) => one !== null).map(number))
}

const regexp = (pattern: Given, a: Given): boolean =>
  new RegExp(
    text(pattern)
      .replace(/\[\[:space:\]\]/g, '\\s')
      .replace(/\[:space:\]/g, '\\s')
      .replace(/\[:alnum:\]/g, 'a-zA-Z0-9')
      .replace(/\[:alpha:\]/g, 'a-zA-Z')
      .replace(/\[:digit:\]/g, '0-9')
      .replace(/\[:upper:\]/g, 'A-Z')
      .replace(/\[:lower:\]/g, 'a-z')
      .replace(/\[:punct:\]/g, '!-/:-@[-`{-~'),
    'iu'
  ).test(text(a))

/** "LIKE": letters of both sorts alike, a backslash before a sign that is meant as such. */
const like = (pattern: Given, a: Given, escape: Given = '\\'): boolean => {
  const mark = text(escape)
  let said = ''
  const signs = characters(pattern)
  for (let i = 0; i < signs.length; i++) {
    const sign = signs[i] ?? ''
    if (sign === mark && i + 1 < signs.length) said += plain(signs[++i] ?? '')
    else said += sign === '%' ? '[\\s\\S]*' : sign === '_' ? '[\\s\\S]' : plain(sign)
  }
  return new RegExp(`^${said}$`, 'iu').test(text(a))
}
const plain = (sign: string): string => sign.replace(/[\\^$.*+?()[\]{}|/-]/g, '\\$&')

/** Digits after rounding, as text: the engine that keeps the rows takes as many as it can. */
function roundedText(value: Given, places: Given = 0): string {
  const to = Math.trunc(number(places))
  const said = typeof value === 'number' ? String(value) : text(value)
  return rounded(said, Math.max(to, 0)) ?? String(number(value))
}

/** "Numeric Functions" (14.6). */
const NUMBERS: Readonly<Record<string, Func>> = {
  round: whole((a, places) => roundedText(a, places ?? 0)),
  truncate: whole((a, places) => {
    const by = 10 ** number(places)
    return String(Math.trunc(number(a) * by) / by)
  }),
  floor: whole((a) => Math.floor(number(a))),
  ceil: whole((a) => Math.ceil(number(a))),
  ceiling: whole((a) => Math.ceil(number(a))),
  sign: whole((a) => Math.sign(number(a))),
  mod: whole((a, b) => (number(b) === 0 ? null : number(a) % number(b))),
  pow: whole((a, b) => number(a) ** number(b)),
  power: whole((a, b) => number(a) ** number(b)),
  sqrt: whole((a) => (number(a) < 0 ? null : Math.sqrt(number(a)))),
  exp: whole((a) => Math.exp(number(a))),
  ln: whole((a) => (number(a) <= 0 ? null : Math.log(number(a)))),
  log10: whole((a) => (number(a) <= 0 ? null : Math.log10(number(a)))),
  rand: () => Math.random(),
  greatest: whole((...all) => outermost(all, 1)),
  least: whole((...all) => outermost(all, -1)),
  isnull: (a) => (a === null ? 1 : 0)
}

const outermost = (all: readonly Given[], side: 1 | -1): Given =>
  all.reduce((best, one) => {
    const bothNumbers = typeof one === 'number' && typeof best === 'number'
    const more = bothNumbers ? one - best : text(one).localeCompare(text(best))
    return more * side > 0 ? one : best
  })

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
const TIMES: Readonly<Record<string, Func>> = {
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

const parsed = (value: Given): unknown => {
  try {
    return JSON.parse(text(value)) as unknown
  } catch {
    return undefined
  }
}

/** "JSON Functions" (14.17). */
const DOCUMENTS: Readonly<Record<string, Func>> = {
  json_valid: whole((a) => (parsed(a) === undefined ? 0 : 1)),
  json_type: whole((a) => {
    const value = parsed(a)
    if (Array.isArray(value)) return 'ARRAY'
    if (value === null) return 'NULL'
    if (typeof value === 'number') return Number.isInteger(value) ? 'INTEGER' : 'DOUBLE'
    return { object: 'OBJECT', string: 'STRING', boolean: 'BOOLEAN' }[typeof value as string] ?? null
  }),
  json_unquote: whole((a) => {
    const value = parsed(a)
    return typeof value === 'string' ? value : text(a)
  }),
  json_quote: whole((a) => JSON.stringify(text(a))),
  json_length: whole((a) => {
    const value = parsed(a)
    return value === undefined ? null : typeof value === 'object' && value !== null ? Object.keys(value).length : 1
  })
}

/** "Information Functions" (14.15) and those of this stand-in. */
const own = (version: string, database: string): Readonly<Record<string, Func>> => ({
  database: () => database,
  schema: () => database,
  version: () => version,
  user: () => 'ramblet@localhost',
  current_user: () => 'ramblet@localhost',
  connection_id: () => 1,
  // "Locking Functions" (14.14): nobody else asks for one here.
  get_lock: () => 1,
  release_lock: () => 1,
  uuid: () => crypto.randomUUID(),
  variable: (name) => ({ version, sql_mode: 'STRICT_ALL_TABLES', lower_case_table_names: 2 })[text(name)] ?? null,
  cast: (sort, value, type) => cast(sort, value, text(type)),
  number: (type, sort, value) =>
    value === null
      ? null
      : numberIn(valueOf(sort ?? null, value ?? null) as NonNullable<Value>, typeOfText(text(type ?? ''))),
  shown: (type, sort, value, as) => {
    const from = typeOfText(text(type ?? ''))
    const held = valueOf(sort ?? null, value ?? null)
    if (held === null) return null
    const said = familyOf(from) === 'bit' ? bitsIn(held, from) : held instanceof Uint8Array ? held : textIn(held, from)
    return cast(
      'text',
      familyOf(from) === 'bit' && /char/.test(text(as ?? '')) ? (decoded(said) ?? null) : said,
      text(as ?? '')
    )
  },
  digits: (sort, value) => (value === null || sort !== 'text' ? value : asDigits(text(value))),
  charset: whole((a, charset) => (text(charset) === 'binary' ? bytes(a) : text(a)))
})

/** What “+ 0” makes of a text: a day or a moment is its digits, and all else what it begins with. */
const asDigits = (said: string): string =>
  /^-?\d+(-\d+-\d+|:\d+:\d+)/.test(said) ? digitsOf(said) : String(number(said))

const decoded = (value: Given): string | undefined => {
  try {
    return value instanceof Uint8Array ? new TextDecoder('utf-8', { fatal: true }).decode(value) : text(value)
  } catch {
    return undefined
  }
}

/** A value of the engine that keeps the rows, by the sort that it has there. */
export const valueOf = (sort: Given, value: Given): Value =>
  value === null ? null : sort === 'integer' ? BigInt(text(value)) : value

/** "Cast Functions and Operators" (14.10): what does not fit is cut, and what is nothing of the sort is nothing. */
function cast(sort: Given, value: Given, said: string): Given {
  if (value === null) return null
  if (/^(signed|unsigned)/.test(said)) {
    const digits = rounded(sort === 'text' ? (/^\s*[-+]?\d+/.exec(text(value))?.[0] ?? '0') : text(value), 0)
    return digits ?? '0'
  }
  if (/^(double|float|real)/.test(said)) return String(number(value))
  if (/^(decimal|dec)/.test(said)) {
    const [, precision = '10', scale = '0'] = /\((\d+)(?:,(\d+))?\)/.exec(said) ?? []
    const begins =
      /^\s*[-+]?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?/.exec(sort === 'real' ? String(number(value)) : text(value))?.[0] ??
      '0'
    const digits = rounded(begins, Number(scale)) ?? '0'
    const room = Number(precision) - Number(scale)
    const before = digits.replace('-', '').split('.')[0] ?? ''
    return before.length > room
      ? `${digits.startsWith('-') ? '-' : ''}${'9'.repeat(room)}.${'9'.repeat(Number(scale))}`
      : digits
  }
  if (/^binary/.test(said)) return bytes(value)
  if (/^n?char/.test(said)) {
    const [, size] = /\((\d+)\)/.exec(said) ?? []
    const whole = decoded(value)
    return whole === undefined ? null : size === undefined ? whole : [...whole].slice(0, Number(size)).join('')
  }
  try {
    const held = heldAs(typeOfText(said), valueOf(sort, value), '')
    return typeof held === 'bigint' ? String(held) : held
  } catch {
    return null
  }
}

/** All functions, by the names that they have in the engine that keeps the rows. */
export function functions(version: string, database: string): ReadonlyMap<string, Func> {
  const known = { ...STRINGS, ...NUMBERS, ...TIMES, ...DOCUMENTS, ...own(version, database) }
  return new Map<string, Func>([
    ...Object.entries(known).map(([name, func]) => [`_${name}`, func] as const),
    // What its operators ask.
    ['regexp', whole(regexp)],
    ['like', whole((pattern, a, escape = '\\') => like(pattern, a, escape))]
  ])
}
