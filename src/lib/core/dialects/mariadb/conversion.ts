// What happens to the values of a column when MariaDB restates its type (MODIFY COLUMN) in strict mode ("SQL_MODE"): what
// does not fit makes the statement fail; digits, parts of moments and the like go without a word. The manual says little of
// this ("ALTER TABLE", "Type Conversion"): each rule was asked of a 10.11 server, and the tests ask it again, pair by pair.
import { literal } from '../standard'
import { numbersOf, typeText, type DataType } from '../../catalog'
import { valuesOfType } from './types'

export interface Conversion {
  /** `none`: the engine has no way. The column is made anew, with `carried` for its values where there is such an expression. */
  readonly how: 'in place' | 'none'
  /** True for the values that make the change fail. */
  readonly failsWhere?: string
  /** What becomes of values that do not stay as they are, in words; and which are meant, where that can be asked. */
  readonly loses?: string
  readonly changesWhere?: string
  readonly carried?: string
}

type Family =
  | 'text'
  | 'bytes'
  | 'json'
  | 'whole'
  | 'decimal'
  | 'float'
  | 'bit'
  | 'year'
  | 'list'
  | 'date'
  | 'time'
  | 'moment'
  | 'own'
  | 'other'

const families: Readonly<Record<string, Family>> = {
  ...named('text', 'char varchar tinytext text mediumtext longtext'),
  ...named('bytes', 'binary varbinary tinyblob blob mediumblob longblob'),
  ...named('whole', 'tinyint smallint mediumint int bigint'),
  ...named('float', 'float double'),
  ...named('list', 'enum set'),
  ...named('moment', 'datetime timestamp'),
  ...named('own', 'uuid inet4 inet6'),
  decimal: 'decimal',
  json: 'json',
  bit: 'bit',
  year: 'year',
  date: 'date',
  time: 'time'
}

function named(family: Family, names: string): Record<string, Family> {
  return Object.fromEntries(names.split(' ').map((name) => [name, family]))
}

const bits: Readonly<Record<string, number>> = { tinyint: 8, smallint: 16, mediumint: 24, int: 32, bigint: 64 }
/** Bytes that a type without a length of its own holds: "String Data Types". */
const roomOf: Readonly<Record<string, number>> = {
  tinytext: 255,
  text: 65535,
  mediumtext: 16777215,
  tinyblob: 255,
  blob: 65535,
  mediumblob: 16777215
}

interface Parts {
  readonly name: string
  readonly family: Family
  readonly args: readonly number[]
  readonly unsigned: boolean
  /** Of an enum or set. */
  readonly values: readonly string[]
}

function partsOf(type: DataType): Parts {
  const [name = type.name] = type.name.split(' ')
  const unsigned = /unsigned|zerofill/.test(`${type.name} ${type.more ?? ''}`)
  return { name, family: families[name] ?? 'other', args: numbersOf(type), unsigned, values: valuesOfType(type) }
}

const isNumber = (family: Family) => family === 'whole' || family === 'decimal' || family === 'float'
const isWritten = (family: Family) => family === 'text' || family === 'bytes' || family === 'json'
/** Words that read as a number, and as a whole one. */
const NUMBER = `'^[[:space:]]*[-+]?([0-9]+[.]?[0-9]*|[.][0-9]+)([eE][-+]?[0-9]+)?[[:space:]]*$'`
const WHOLE = `'^[[:space:]]*[-+]?[0-9]+[[:space:]]*$'`
const MOMENT = `'^[[:space:]]*[0-9]+([-:./ T]+[0-9]+)*[[:space:]]*$'`
const CLOCK = `'^[[:space:]]*-?([0-9]+ )?[0-9]+:[0-9]+(:[0-9]+)?([.][0-9]*)?[[:space:]]*$'`
const DAY_AND_CLOCK = `'^[[:space:]]*[0-9]+-[0-9]+-[0-9]+[ T][0-9]+:[0-9]+(:[0-9]+)?([.][0-9]*)?[[:space:]]*$'`

const any = (...conditions: readonly (string | false | undefined)[]): string | undefined => {
  const list = conditions.filter((c): c is string => typeof c === 'string')
  return list.length > 1 ? list.map((c) => `(${c})`).join(' OR ') : list[0]
}

const inPlace = (failsWhere?: string, loses?: string, changesWhere?: string): Conversion => ({
  how: 'in place',
  ...(failsWhere === undefined ? {} : { failsWhere }),
  ...(loses === undefined ? {} : { loses }),
  ...(changesWhere === undefined ? {} : { changesWhere })
})

/** `column` is the quoted name. */
export function conversion(was: DataType, now: DataType, column: string): Conversion {
  const [from, to] = [typeText(was), typeText(now)]
  if (from === to) return { how: 'in place' }
  const [source, target] = [partsOf(was), partsOf(now)]
  if (source.family === 'other' || target.family === 'other') return { how: 'none' }
  // "uuid", "inet6": they are cast from and to what is written, and nothing else.
  const spoken: readonly Family[] = ['text', 'bytes', 'json', 'list']
  if (source.family === 'own' && !spoken.includes(target.family)) return { how: 'none' }
  if (target.family === 'own' && !spoken.includes(source.family)) return { how: 'none' }
  switch (target.family) {
    case 'text':
      return toText(source, target, column)
    case 'bytes':
      return toBytes(source, target, column)
    case 'json':
      return inPlace(
        source.family === 'bit'
          ? `${noCharacters(column)} OR NOT json_valid(${charactersOf(column)})`
          : `NOT json_valid(${textOf(source, column)})`
      )
    case 'whole':
    case 'bit':
      return toWhole(source, target, column)
    case 'decimal':
      return toDecimal(source, target, column)
    case 'float':
      return toFloat(source, target, column)
    case 'year':
      return toYear(source, column)
    case 'list':
      return toList(source, target, column)
    case 'date':
    case 'moment':
      return toMoment(source, target, column)
    case 'time':
      return toTime(source, target, column)
    default:
      return inPlace(`${column} IS NOT NULL AND CAST(${textOf(source, column)} AS ${target.name}) IS NULL`)
  }
}

/** A value as text, as the engine would write it. */
const textOf = ({ family }: Parts, column: string): string =>
  isWritten(family) ? column : `CAST(${family === 'bit' ? `${column} + 0` : column} AS char)`

/** A value as a number; what is written is asked first whether it is one. */
const numberOf = ({ family }: Parts, column: string): string => (isNumber(family) ? column : `(${column} + 0)`)

/** Bytes as characters, which they may not be. */
const charactersOf = (column: string) => `CONVERT(CAST(${column} AS binary) USING utf8mb4)`
/** MySQL makes nothing of what are none, MariaDB puts question marks. */
const noCharacters = (column: string) => `NOT (CAST(${charactersOf(column)} AS binary) <=> CAST(${column} AS binary))`

function toText(source: Parts, target: Parts, column: string): Conversion {
  if (source.family === 'bit' && target.name.endsWith('text'))
    return inPlace(noCharacters(column), 'the bits become the characters that have them')
  const value = textOf(source, column)
  const [size = Infinity] = target.args
  const room = roomOf[target.name]
  const had = source.family === 'text' ? (source.args[0] ?? roomOf[source.name] ?? Infinity) : longest(source)
  const tooLong =
    room !== undefined
      ? had * (source.family === 'text' ? 4 : 1) <= room || had <= (roomOf[source.name] ?? -1)
        ? undefined
        : `octet_length(${value}) > ${room}`
      : size === Infinity || had <= size
        ? undefined
        : `char_length(${value}) > ${size}`
  const noText = source.family === 'bytes' && noCharacters(column)
  const cutsBlanks = target.name === 'char' && source.name !== 'char' && isWritten(source.family)
  return inPlace(
    any(tooLong, noText),
    cutsBlanks ? 'blanks at the end are not kept' : undefined,
    cutsBlanks ? `octet_length(${column}) <> octet_length(trim(TRAILING ' ' FROM ${column}))` : undefined
  )
}

/** Characters that the longest value of a type has as text. */
function longest({ name, family, args, unsigned, values }: Parts): number {
  if (family === 'whole') return Math.ceil((bits[name] ?? 64) * Math.log10(2)) + (unsigned ? 0 : 1)
  if (family === 'decimal') return (args[0] ?? 10) + 3
  if (family === 'list')
    return name === 'enum' ? Math.max(0, ...values.map((v) => [...v].length)) : values.join(',').length
  const known: Partial<Record<Family, number>> = {
    year: 4,
    date: 10,
    time: 17,
    moment: 26,
    own: 39,
    bit: 20,
    float: 30
  }
  return known[family] ?? Infinity
}

function toBytes(source: Parts, target: Parts, column: string): Conversion {
  const size = target.args[0] ?? roomOf[target.name]
  // What has a type of its own is kept as its 4 or 16 bytes.
  const own = { uuid: 16, inet6: 16, inet4: 4 } as const
  const [bytes] = Object.entries(own).flatMap(([name, length]) => (name === source.name ? [length] : []))
  if (bytes !== undefined) return inPlace(size === undefined || size >= bytes ? undefined : `${column} IS NOT NULL`)
  const value = textOf(source, column)
  const fills = target.name === 'binary' && size !== undefined
  const sure = source.family === 'bytes' && size !== undefined && (source.args[0] ?? Infinity) <= size
  return inPlace(
    size === undefined || sure ? undefined : `octet_length(${value}) > ${size}`,
    fills ? 'shorter values are filled up with zero bytes' : undefined,
    fills ? `octet_length(${value}) < ${size}` : undefined
  )
}

/** What becomes of a value that is no number, as one. */
const asNumber: Partial<Record<Family, string>> = {
  list: 'a value becomes its number in the list',
  date: 'a day becomes a number such as 20260228',
  time: 'a time becomes a number such as 101500',
  moment: 'a moment becomes a number such as 20260228101500'
}

/** The least and the greatest number that a whole type holds. */
function rangeOf({ name, family, args, unsigned }: Parts): readonly [bigint, bigint] {
  const size = BigInt(family === 'bit' ? (args[0] ?? 1) : (bits[name] ?? 64))
  return unsigned || family === 'bit' ? [0n, 2n ** size - 1n] : [-(2n ** (size - 1n)), 2n ** (size - 1n) - 1n]
}

function toWhole(source: Parts, target: Parts, column: string): Conversion {
  const [low, high] = rangeOf(target)
  if (isWritten(source.family))
    return inPlace(
      `${column} NOT REGEXP ${WHOLE} OR CAST(${column} AS decimal(65,0)) NOT BETWEEN ${low} AND ${high}`,
      'the text is read as a number: how it was written is lost'
    )
  const value = numberOf(source, column)
  if (source.family === 'whole' || source.family === 'bit') {
    const [least, most] = rangeOf(source)
    return inPlace(least >= low && most <= high ? undefined : `${value} NOT BETWEEN ${low} AND ${high}`)
  }
  const rounds = source.family === 'float' || (source.family === 'decimal' && (source.args[1] ?? 0) > 0)
  // Beyond what eight bytes hold a floating number is set to the nearest that they do.
  const clipped = source.name === 'float' && target.name === 'bigint'
  // A decimal below nought is refused even where it would round to nought.
  const negative = low === 0n && source.family === 'decimal' ? ` OR ${value} < 0` : ''
  const tooMuch = `round(${value}) NOT BETWEEN ${low} AND ${high}${negative}`
  return inPlace(
    clipped ? undefined : tooMuch,
    clipped
      ? 'digits after the point are rounded away, and what is too much becomes the most there is'
      : rounds
        ? 'digits after the point are rounded away'
        : asNumber[source.family],
    clipped ? `round(${value}) <> ${value} OR ${tooMuch}` : rounds ? `round(${value}) <> ${value}` : undefined
  )
}

function toDecimal(source: Parts, target: Parts, column: string): Conversion {
  const [precision = 10, scale = 0] = target.args
  const bound = `1${'0'.repeat(precision - scale)}`
  const beyond = (value: string) => {
    const rounded = `round(${value}, ${scale})`
    // Without abs(): it fails itself for the least whole number.
    return target.unsigned
      ? `(${rounded} >= ${bound} OR ${rounded} < 0)`
      : `(${rounded} >= ${bound} OR ${rounded} <= -${bound})`
  }
  const away = `digits beyond ${scale} after the point are rounded away`
  if (isWritten(source.family)) {
    const value = `CAST(${column} AS decimal(65,30))`
    // What is longer than a decimal holds would be cut by the cast: it is asked as a floating number.
    return inPlace(
      `${column} NOT REGEXP ${NUMBER} OR abs(CAST(${column} AS double)) >= 1e34 OR ${beyond(value)}`,
      `the text is read as a number: how it was written is lost, and ${away}`,
      `${column} REGEXP ${NUMBER} AND round(${value}, ${scale}) <> ${value}`
    )
  }
  const value = numberOf(source, column)
  const had =
    source.family === 'decimal'
      ? ([source.args[0] ?? 10, source.args[1] ?? 0] as const)
      : source.family === 'float'
        ? ([Infinity, Infinity] as const)
        : ([
            source.family === 'whole' ? Math.ceil((bits[source.name] ?? 64) * Math.log10(2)) : 26,
            isTimed(source) ? 6 : 0
          ] as const)
  const whole = had[0] === Infinity ? Infinity : had[0] - had[1]
  const signed = !target.unsigned || source.unsigned
  const fits = whole <= precision - scale && had[1] <= scale && signed
  return inPlace(
    fits ? undefined : beyond(value),
    asNumber[source.family] ?? (had[1] > scale ? away : undefined),
    had[1] > scale ? `round(${value}, ${scale}) <> ${value}` : undefined
  )
}

const isTimed = ({ family, args }: Parts) => (family === 'time' || family === 'moment') && (args[0] ?? 0) > 0

function toFloat(source: Parts, target: Parts, column: string): Conversion {
  const digits = target.name === 'float' ? 6 : 15
  const loses = `digits beyond the first ${digits} are lost`
  if (isWritten(source.family))
    return inPlace(`${column} NOT REGEXP ${NUMBER}`, `the text is read as a number, and ${loses}`)
  const exact = source.family === 'float' && target.name === 'double'
  const small = source.family === 'whole' && (bits[source.name] ?? 64) <= (target.name === 'float' ? 16 : 32)
  return inPlace(
    target.name === 'float' && (source.name === 'double' || source.family === 'decimal')
      ? `${column} > 3.402823466e38 OR ${column} < -3.402823466e38`
      : undefined,
    exact || small ? undefined : loses
  )
}

function toYear(source: Parts, column: string): Conversion {
  if (source.family === 'date' || source.family === 'moment')
    return {
      how: 'none',
      carried: `year(${column})`,
      loses: 'only the year is kept',
      failsWhere: `year(${column}) NOT BETWEEN 1901 AND 2155 AND year(${column}) <> 0`
    }
  if (source.family === 'time') return { how: 'none' }
  const written = isWritten(source.family)
  const value = written ? `round(CAST(${column} AS decimal(65,30)))` : `round(${numberOf(source, column)})`
  return inPlace(
    any(
      written && `${column} NOT REGEXP ${NUMBER}`,
      `NOT (${value} BETWEEN 0 AND 99 OR ${value} BETWEEN 1901 AND 2155)`,
      (source.family === 'decimal' || source.family === 'float') && `${column} < 0`
    ),
    'one or two digits are taken for a year from 1970 to 2069',
    `${value} BETWEEN 1 AND 99`
  )
}

const asListed = 'a value is written and ordered as in the list'

function toList(source: Parts, target: Parts, column: string): Conversion {
  const { values } = target
  const list = values.map((value) => literal(value.replaceAll('\\', '\\\\'))).join(', ')
  const most = target.name === 'enum' ? BigInt(values.length) : 2n ** BigInt(values.length) - 1n
  const least = target.name === 'enum' ? 1 : 0
  if (isNumber(source.family) || source.family === 'bit' || source.family === 'year')
    return inPlace(
      `round(${numberOf(source, column)}) NOT BETWEEN ${least} AND ${most}`,
      'a number becomes the value that has it in the list'
    )
  const value = textOf(source, column)
  if (target.name === 'enum') {
    const grows = source.name === 'enum' && source.values.every((v) => values.includes(v))
    const numbered =
      isWritten(source.family) && `NOT (${value} REGEXP '^[0-9]+$' AND ${value} + 0 BETWEEN 1 AND ${most})`
    return inPlace(
      grows ? undefined : `${value} NOT IN (${list})${numbered ? ` AND ${numbered}` : ''}`,
      numbered ? asListed : undefined
    )
  }
  const one = values.map((v) => v.replace(/[.*+?^${}()|[\]\\]/g, '[$&]')).join('|')
  const some = literal(`^((${one})(,(${one}))*)?$`.replaceAll('\\', '\\\\'))
  const grows = source.family === 'list' && source.values.every((v) => values.includes(v))
  return inPlace(
    grows ? undefined : `trim(TRAILING ' ' FROM ${value}) NOT REGEXP ${some}`,
    grows ? undefined : asListed
  )
}

function toMoment(source: Parts, target: Parts, column: string): Conversion {
  if (source.family === 'time') return inPlace(undefined, 'the day becomes that on which the change is made')
  const dated = source.family === 'date' || source.family === 'moment'
  const written = isWritten(source.family) || source.family === 'list'
  const value = dated ? column : `CAST(${written ? textOf(source, column) : numberOf(source, column)} AS datetime(6))`
  // What a timestamp holds lies between 1970 and 2038; the zone of the session decides where.
  const outside = target.name === 'timestamp' && `${value} <> 0 AND coalesce(unix_timestamp(${value}), 0) = 0`
  const noMoment = !dated && `${column} IS NOT NULL AND ${value} IS NULL`
  const badForm = written && `${textOf(source, column)} NOT REGEXP ${MOMENT}`
  const finer = (source.args[0] ?? 0) > (target.args[0] ?? 0)
  const cuts = target.family === 'date' && source.family !== 'date'
  return inPlace(
    source.name === 'timestamp' ? undefined : any(badForm, noMoment, outside),
    cuts
      ? 'the time of day is lost'
      : dated && finer
        ? 'parts of seconds are lost'
        : dated
          ? undefined
          : 'it is read as a moment: how it was written is lost',
    cuts && dated ? `time(${column}) <> 0` : undefined
  )
}

function toTime(source: Parts, target: Parts, column: string): Conversion {
  if (source.family === 'date' || source.family === 'moment') return inPlace(undefined, 'the day is lost')
  if (source.family === 'time')
    return inPlace(undefined, (source.args[0] ?? 0) > (target.args[0] ?? 0) ? 'parts of seconds are lost' : undefined)
  // As a floating number: the least whole number has no abs().
  const off = (value: string, tooMuch = `abs(${value} + 0e0) >= 8385960`) =>
    `${tooMuch} OR (abs(${value} + 0e0) < 8385960 AND (mod(truncate(abs(${value} + 0e0) / 100, 0), 100) > 59 OR ` +
    `mod(truncate(abs(${value} + 0e0), 0), 100) > 59))`
  if (isWritten(source.family) || source.family === 'list') {
    const text = textOf(source, column)
    const number = `'^[[:space:]]*-?[0-9]+([.][0-9]*)?[[:space:]]*$'`
    return inPlace(
      `NOT (${text} REGEXP ${CLOCK} OR ${text} REGEXP ${DAY_AND_CLOCK} OR ${text} REGEXP ${number}) OR ` +
        `(${text} NOT REGEXP ${number} AND CAST(${text} AS time) IS NULL) OR ` +
        `(${text} REGEXP ${number} AND (${off(`CAST(${text} AS decimal(65,6))`)}))`,
      'it is read as a time: how it was written is lost'
    )
  }
  const value = numberOf(source, column)
  // What is too much for a time may be a day, or a moment, whose time of day is taken.
  return inPlace(
    off(
      value,
      `(abs(${value} + 0e0) >= 8385960 AND (char_length(truncate(abs(${value} + 0e0), 0)) NOT IN (8, 14) OR CAST(${value} AS datetime) IS NULL))`
    ),
    'a number such as 101500 is read as a time'
  )
}
