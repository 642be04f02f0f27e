// "Cast Functions and Operators" (14.10) and "Type Conversion in Expression Evaluation" (14.3) of MySQL's manual, 8.4.
import { digitsOf } from '../moments'
import { typeOfText } from '../types'
import { bitsIn, familyOf, heldAs, numberIn, rounded, textIn } from '../values'
import { bytes, decoded, number, text, valueOf, whole, type Func, type Given } from './given'

/** What the statements are given in their words there. */
export const CASTS: Readonly<Record<string, Func>> = {
  cast: (sort, value, type) => cast(sort, value, text(type)),
  /** What a column's value is beside a number. */
  number: (type, sort, value) => {
    const held = valueOf(sort ?? null, value ?? null)
    return held === null ? null : numberIn(held, typeOfText(text(type ?? '')))
  },
  /** A column's value as text or bytes: how many digits it prints, and what its bits are, its type says. */
  shown: (type, sort, value, as) => {
    const from = typeOfText(text(type ?? ''))
    const held = valueOf(sort ?? null, value ?? null)
    if (held === null) return null
    const isBits = familyOf(from) === 'bit'
    const said = isBits ? bitsIn(held, from) : held instanceof Uint8Array ? held : textIn(held, from)
    return cast('text', isBits && /char/.test(text(as ?? '')) ? (decoded(said) ?? null) : said, text(as ?? ''))
  },
  digits: (sort, value) => (value === null || sort !== 'text' ? value : asDigits(text(value))),
  charset: whole((a, charset) => (text(charset) === 'binary' ? bytes(a) : text(a)))
}
/** What “+ 0” makes of a text: a day or a moment is its digits, and all else what it begins with. */
const asDigits = (said: string): string =>
  /^-?\d+(-\d+-\d+|:\d+:\d+)/.test(said) ? digitsOf(said) : String(number(said))

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
