// What happens to the values of a column when its type changes in place: PostgreSQL manual, ALTER TABLE (SET DATA TYPE),
// 10.4 Value Storage and the catalogue `pg_cast`. Checked against the engine for every pair in the tests beside.
import { numbersOf, type DataType } from '../../catalog'

export interface Conversion {
  /** `plain` needs no words, `using` needs the expression, `none` has no way and the column is made anew. */
  readonly how: 'plain' | 'using' | 'none'
  readonly using?: string
  /** Values may be changed for good: rounded, cut, or read differently. */
  readonly loses?: string
  /** A condition, true for the values that make the change fail; `''` when it may fail but cannot be asked. */
  readonly failsWhere?: string
  /** Only the catalogue changes; the rows are not written again. */
  readonly inPlace?: boolean
}

type Family = 'text' | 'whole' | 'numeric' | 'float' | 'boolean' | 'moment' | 'json' | 'other'

const families: Readonly<Record<string, Family>> = {
  text: 'text',
  varchar: 'text',
  char: 'text',
  smallint: 'whole',
  integer: 'whole',
  bigint: 'whole',
  numeric: 'numeric',
  real: 'float',
  'double precision': 'float',
  boolean: 'boolean',
  date: 'moment',
  time: 'moment',
  timetz: 'moment',
  timestamp: 'moment',
  timestamptz: 'moment',
  interval: 'moment',
  json: 'json',
  jsonb: 'json'
}

interface Parts {
  readonly name: string
  readonly args: readonly number[]
}
const partsOf = (type: DataType): Parts => ({ name: type.name, args: numbersOf(type) })

export const familyOf = (type: DataType): Family => (type.schema === undefined && families[type.name]) || 'other'

const limits: Readonly<Record<string, readonly [low: string, high: string]>> = {
  smallint: ['-32768', '32767'],
  integer: ['-2147483648', '2147483647'],
  bigint: ['-9223372036854775808', '9223372036854775807']
}
const sizes: Readonly<Record<string, number>> = { smallint: 2, integer: 4, bigint: 8, real: 4, 'double precision': 8 }

interface Sides {
  readonly from: DataType
  readonly to: DataType
  /** The quoted name. */
  readonly column: string
  /** The server's major version. */
  readonly version: number
  readonly print: (type: DataType) => string
}

/** What a type is to another. */
export function conversion({ from: was, to: now, column, version, print }: Sides): Conversion {
  const [from, to] = [print(was), print(now)]
  const [source, target] = [partsOf(was), partsOf(now)]
  const [fromFamily, toFamily] = [familyOf(was), familyOf(now)]
  const explicit = (loses?: string, failsWhere?: string): Conversion => ({
    how: 'using',
    using: `${column}::${to}`,
    ...(loses === undefined ? {} : { loses }),
    ...(failsWhere === undefined ? {} : { failsWhere })
  })

  if (toFamily === 'text') return toText(source, target, fromFamily, column)
  if (fromFamily === 'text')
    return explicit('the text is read as a value: how it was written is lost', invalid(column, target, to, version))
  if (isNumber(fromFamily) && isNumber(toFamily)) return betweenNumbers(source, target, fromFamily, toFamily, column)
  const using = (expression: string, loses?: string, failsWhere?: string): Conversion => ({
    ...explicit(loses, failsWhere),
    using: expression
  })
  if (fromFamily === 'boolean' && isNumber(toFamily)) return using(`${column}::integer::${to}`)
  if (isNumber(fromFamily) && toFamily === 'boolean') return using(`${column} <> 0`, 'all numbers but 0 become true')
  if (fromFamily === 'moment' && toFamily === 'moment') return betweenMoments(source.name, target.name)
  if (from === 'jsonb' && to === 'json') return { how: 'plain' }
  if (from === 'json' && to === 'jsonb')
    return { how: 'plain', loses: 'repeated keys, order and spaces of the text are lost' }
  if (toFamily === 'json') return using(`to_${target.name}(${column})`)
  if (fromFamily === 'json' && (isNumber(toFamily) || toFamily === 'boolean')) {
    const value = `(${column} #>> '{}')`
    return using(`${value}::${to}`, 'only a plain value is kept', invalid(value, target, to, version))
  }
  if (from === 'timestamp' && to === 'timetz') return using(`${column}::timestamptz::timetz`, 'the day is lost')
  // What is no type of the standard is read and written as text: enums, networks, ranges, lists.
  if (fromFamily === 'other' && toFamily === 'other' && ![from, to].includes('uuid') && ![from, to].includes('bytea'))
    return using(
      `${column}::text::${to}`,
      'it is read as it is written',
      invalid(`${column}::text`, target, to, version)
    )
  return { how: 'none' }
}

/** True for text that is no value of a type; `''` where an older server cannot be asked without failing itself. */
function invalid(text: string, target: Parts, to: string, version: number): string {
  if (version >= 16) return `NOT pg_input_is_valid(${text}::text, '${to.replaceAll("'", "''")}')`
  const unless = (pattern: string, rest = 'false') =>
    `CASE WHEN ${text} ~* '^\\s*${pattern}\\s*$' THEN ${rest} ELSE ${text} IS NOT NULL END`
  const family = families[target.name]
  const number = '[-+]?([0-9]+\\.?[0-9]*|\\.[0-9]+)(e[-+]?[0-9]+)?'
  if (family === 'whole') {
    const [low, high] = limits[target.name] ?? ['0', '0']
    return unless('[-+]?[0-9]+', `${text}::numeric NOT BETWEEN ${low} AND ${high}`)
  }
  if (family === 'numeric') {
    const [precision, scale = 0] = target.args
    if (precision === undefined) return unless(`(${number}|nan)`)
    return unless(`(${number}|nan)`, `abs(round(nullif(${text}::numeric, 'NaN'), ${scale})) >= 1e${precision - scale}`)
  }
  if (family === 'float') return unless(`(${number}|nan|[-+]?inf(inity)?)`)
  if (family === 'boolean') return unless('(t|tr|tru|true|f|fa|fal|fals|false|y|ye|yes|n|no|on|of|off|1|0)')
  if (to === 'uuid') return unless('\\{?([0-9a-f]{4}-?){8}\\}?')
  return ''
}

const isNumber = (family: Family) => family === 'whole' || family === 'numeric' || family === 'float'

function toText(source: Parts, target: Parts, fromFamily: Family, column: string): Conversion {
  const [size] = target.args
  const [had] = source.args
  const unlimited = target.name === 'text' || size === undefined
  // Fixed text drops its blanks on the way; the length that counts is without them, as char_length has it.
  // Blanks that would not fit are cut without a word.
  const failsWhere = `char_length(rtrim(${fromFamily === 'text' ? column : column + '::text'}, ' ')) > ${size ?? 0}`
  if (fromFamily === 'text') {
    const grows = unlimited || (had !== undefined && had <= size)
    const inPlace = source.name !== 'char' && target.name !== 'char' && grows
    return { how: 'plain', ...(grows ? {} : { failsWhere }), inPlace }
  }
  return { how: 'plain', ...(unlimited ? {} : { failsWhere }) }
}

function betweenNumbers(
  source: Parts,
  target: Parts,
  fromFamily: Family,
  toFamily: Family,
  column: string
): Conversion {
  if (toFamily === 'whole') {
    const [low, high] = limits[target.name] ?? ['0', '0']
    const narrower = fromFamily !== 'whole' || (sizes[source.name] ?? 0) > (sizes[target.name] ?? 0)
    // Unreadable as a whole number: NaN and the infinities fail too, and they compare above every number.
    // Half a unit beyond the limit still rounds into it.
    const failsWhere = `${column}::numeric NOT BETWEEN ${low}.49 AND ${high}.49`
    const scale = source.args[1] ?? (source.args.length ? 0 : 1)
    return {
      how: 'plain',
      ...(narrower ? { failsWhere } : {}),
      ...(fromFamily === 'float' || (fromFamily === 'numeric' && scale > 0)
        ? { loses: 'digits after the point are rounded away' }
        : {})
    }
  }
  if (toFamily === 'float') {
    const fits =
      fromFamily === 'float' ? source.name === 'real' || target.name === source.name : source.name === 'smallint'
    const exact = fits || (target.name === 'double precision' && source.name === 'integer')
    // Beyond the largest number that still rounds to a finite one, and below the smallest that does not round to none.
    const [least, most] =
      target.name === 'real' ? ['7.0065e-46', '3.40282356e38'] : ['2.4704e-324', '1.7976931348623158e308']
    const cast = fromFamily === 'numeric' ? '::numeric' : ''
    return {
      how: 'plain',
      ...(exact ? {} : { loses: 'digits beyond what a floating number holds are lost' }),
      ...(exact || fromFamily === 'whole'
        ? {}
        : {
            failsWhere:
              `(abs(${column}) > ${most}${cast} AND abs(${column}) < 'Infinity') ` +
              `OR (${column} <> 0 AND abs(${column}) < ${least}${cast})`
          })
    }
  }
  if (target.args.length === 0)
    return {
      how: 'plain',
      ...(fromFamily === 'float'
        ? { loses: 'the digits that a floating number prints are kept, the rest is lost' }
        : {})
    }
  const [precision = 0, scale = 0] = target.args
  const [hadPrecision, hadScale = 0] = source.args
  const grows =
    fromFamily === 'numeric' &&
    hadPrecision !== undefined &&
    hadPrecision - hadScale <= precision - scale &&
    hadScale <= scale
  const wholeDigits: Readonly<Record<string, number>> = { smallint: 5, integer: 10, bigint: 19 }
  const needs =
    fromFamily === 'whole'
      ? (wholeDigits[source.name] ?? 19)
      : hadPrecision === undefined
        ? Infinity
        : hadPrecision - hadScale
  const rounds =
    fromFamily === 'float' || (fromFamily === 'numeric' && (hadPrecision === undefined || hadScale > scale))
  // Rounding may carry into one more digit before the point.
  const mayOverflow = !grows && (needs > precision - scale || (rounds && needs === precision - scale))
  const isNumberValue = fromFamily === 'whole' ? '' : ` AND ${column}::numeric <> 'NaN'`
  return {
    how: 'plain',
    ...(rounds ? { loses: `digits beyond ${scale} after the point are rounded away` } : {}),
    ...(mayOverflow
      ? {
          failsWhere: `abs(round(${column}::numeric, ${scale})) >= ${'1' + '0'.repeat(precision - scale)}${isNumberValue}`
        }
      : {}),
    ...(grows && hadScale === scale ? { inPlace: true } : {})
  }
}

function betweenMoments(from: string, to: string): Conversion {
  const zone = 'the zone of the session decides how a clock time is read'
  const plain: Readonly<Record<string, Conversion>> = {
    'date timestamp': { how: 'plain' },
    'date timestamptz': { how: 'plain', loses: zone },
    'timestamp date': { how: 'plain', loses: 'the time of day is lost' },
    'timestamp time': { how: 'plain', loses: 'the day is lost' },
    'timestamp timestamptz': { how: 'plain', loses: zone },
    'timestamptz date': { how: 'plain', loses: 'the time of day is lost' },
    'timestamptz time': { how: 'plain', loses: 'the day is lost' },
    'timestamptz timetz': { how: 'plain', loses: 'the day is lost' },
    'timestamptz timestamp': { how: 'plain', loses: zone },
    'time timetz': { how: 'plain', loses: zone },
    'time interval': { how: 'plain' },
    'timetz time': { how: 'plain', loses: 'the zone is lost' },
    'interval time': { how: 'plain', loses: 'days and months are lost' }
  }
  return plain[`${from} ${to}`] ?? { how: 'none' }
}
