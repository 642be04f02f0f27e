// What happens to the values of a column when MariaDB restates its type, in strict mode ("SQL_MODE"): values that do not
// fit make the statement fail, digits after the point are rounded away.
import type { Column } from '../../catalog'
import { partsOfType } from './types'

export interface Conversion {
  /** `none` has no way that keeps what the values mean: the column is made anew. */
  readonly how: 'plain' | 'none'
  readonly loses?: string
  /** True for the values that make the change fail. */
  readonly failsWhere?: string
}

type Family = 'text' | 'whole' | 'decimal' | 'float' | 'moment' | 'other'

const families: Readonly<Record<string, Family>> = {
  char: 'text',
  varchar: 'text',
  tinytext: 'text',
  text: 'text',
  mediumtext: 'text',
  longtext: 'text',
  tinyint: 'whole',
  smallint: 'whole',
  mediumint: 'whole',
  int: 'whole',
  bigint: 'whole',
  decimal: 'decimal',
  float: 'float',
  double: 'float',
  date: 'moment',
  datetime: 'moment',
  timestamp: 'moment'
}
/** Bits of whole numbers, and the characters that their longest value has. */
const bits: Readonly<Record<string, number>> = { tinyint: 8, smallint: 16, mediumint: 24, int: 32, bigint: 64 }
const unlimited = new Set(['text', 'mediumtext', 'longtext', 'tinytext'])

export function conversion(from: Pick<Column, 'type'>, to: Pick<Column, 'type'>, column: string): Conversion {
  if (from.type === to.type) return { how: 'plain' }
  const [source, target] = [partsOfType(from.type), partsOfType(to.type)]
  if (/unsigned|zerofill/.test(from.type + to.type)) return { how: 'none' }
  const [was, now] = [families[source.name] ?? 'other', families[target.name] ?? 'other']
  const [size = Infinity] = unlimited.has(target.name) ? [] : target.args
  if (now === 'text' && was === 'text') {
    const [had = Infinity] = unlimited.has(source.name) ? [] : source.args
    // Blanks at the end of fixed text go without a word; those of variable text are kept as long as they fit.
    return had <= size ? { how: 'plain' } : { how: 'plain', failsWhere: `char_length(${column}) > ${size}` }
  }
  if (now === 'text' && (was === 'whole' || was === 'decimal' || was === 'moment'))
    return { how: 'plain', ...(size >= 70 ? {} : { failsWhere: `char_length(CAST(${column} AS char)) > ${size}` }) }
  const numbers: readonly Family[] = ['whole', 'decimal', 'float']
  if (numbers.includes(was) && now === 'whole') {
    const size = bits[target.name] ?? 64
    const most = 2n ** BigInt(size - 1)
    const narrower = was !== 'whole' || (bits[source.name] ?? 64) > size
    const rounds = was === 'float' || (was === 'decimal' && (source.args[1] ?? 0) > 0)
    return {
      how: 'plain',
      ...(narrower ? { failsWhere: `round(${column}) NOT BETWEEN -${most} AND ${most - 1n}` } : {}),
      ...(rounds ? { loses: 'digits after the point are rounded away' } : {})
    }
  }
  if (numbers.includes(was) && now === 'decimal') {
    const [precision = 10, scale = 0] = target.args
    const [hadPrecision = 19, hadScale = 0] =
      was === 'decimal' ? source.args : [was === 'float' ? Infinity : 19, was === 'float' ? Infinity : 0]
    const [rounded, bound] = [`round(${column}, ${scale})`, `1${'0'.repeat(precision - scale)}`]
    const fits = hadPrecision - hadScale <= precision - scale && hadScale <= scale
    return {
      how: 'plain',
      // Without abs(): it fails itself for the least whole number.
      ...(fits ? {} : { failsWhere: `(${rounded} >= ${bound} OR ${rounded} <= -${bound})` }),
      ...(hadScale > scale ? { loses: `digits beyond ${scale} after the point are rounded away` } : {})
    }
  }
  if (numbers.includes(was) && target.name === 'double')
    return {
      how: 'plain',
      ...(was === 'float' ? {} : { loses: 'digits beyond what a floating number holds are lost' })
    }
  if (source.name === 'date' && target.name === 'datetime') return { how: 'plain' }
  if (source.name === 'datetime' && target.name === 'date') return { how: 'plain', loses: 'the time of day is lost' }
  if (source.name === 'datetime' && target.name === 'datetime')
    return {
      how: 'plain',
      ...((source.args[0] ?? 0) > (target.args[0] ?? 0) ? { loses: 'parts of seconds are lost' } : {})
    }
  return { how: 'none' }
}
