// What RDB$FIELDS says of a type: of a column's, a domain's, or of what a program is called with.
import { num, str, type Row } from './rows'

/** What is asked of a field `f`, whose character set is `c`. */
export const FIELD = `f.RDB$FIELD_TYPE AS kind, coalesce(f.RDB$FIELD_SUB_TYPE, 0) AS sub, f.RDB$FIELD_LENGTH AS bytes,
    f.RDB$CHARACTER_LENGTH AS chars, coalesce(f.RDB$FIELD_PRECISION, 0) AS digits, coalesce(f.RDB$FIELD_SCALE, 0) AS scale,
    trim(c.RDB$CHARACTER_SET_NAME) AS charset, trim(c.RDB$DEFAULT_COLLATE_NAME) AS usual, iif(f.RDB$DIMENSIONS > 0, (SELECT list(d.RDB$LOWER_BOUND || ':' || d.RDB$UPPER_BOUND, ',')
      FROM (SELECT x.RDB$FIELD_NAME, x.RDB$LOWER_BOUND, x.RDB$UPPER_BOUND FROM RDB$FIELD_DIMENSIONS x ORDER BY x.RDB$DIMENSION) d
      WHERE d.RDB$FIELD_NAME = f.RDB$FIELD_NAME), NULL) AS bounds`

/** "RDB$FIELDS": the numbers that stand for types. */
const plainTypes: Readonly<Record<number, string>> = {
  10: 'float',
  12: 'date',
  13: 'time',
  23: 'boolean',
  27: 'double precision',
  28: 'time with time zone',
  29: 'timestamp with time zone',
  35: 'timestamp',
  24: 'decfloat(16)',
  25: 'decfloat(34)'
}
const wholeTypes: Readonly<Record<number, readonly [string, number]>> = {
  7: ['smallint', 4],
  8: ['integer', 9],
  16: ['bigint', 18],
  26: ['int128', 38]
}

/** A field's type as it is written; text of another character set than the database's says so. */
export function typeOf(row: Row, usual: string): string {
  const bounds = str(row, 'bounds')
  // "Array": of each dimension, the least and the greatest place.
  return valueOf(row, usual) + (bounds === '' ? '' : ` [${bounds}]`)
}

function valueOf(row: Row, usual: string): string {
  const [kind, sub, digits, scale] = [num(row, 'kind'), num(row, 'sub'), num(row, 'digits'), -num(row, 'scale')]
  const whole = wholeTypes[kind]
  if (whole) {
    if (sub === 0 && scale === 0) return whole[0]
    return `${sub === 2 ? 'decimal' : 'numeric'}(${digits || whole[1]},${scale})`
  }
  const set = str(row, 'charset')
  const text = set === usual || set === '' ? '' : ` character set ${set.toLowerCase()}`
  if (kind === 14 || kind === 37)
    return `${kind === 14 ? 'char' : 'varchar'}(${set === 'OCTETS' ? num(row, 'bytes') : num(row, 'chars')})${text}`
  if (kind === 261) return sub === 1 ? `blob sub_type text${text}` : sub === 0 ? 'blob' : `blob sub_type ${sub}`
  return plainTypes[kind] ?? `type ${kind}`
}
