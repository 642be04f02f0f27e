// How many bytes a key takes of those that it may have: "InnoDB Limitations", "CREATE INDEX, Index Prefixes"; of MySQL "InnoDB Limits".
import type { Column, DataType, IndexPart, Table } from '../../catalog'
import type { KeyRoom } from '../dialect'
import { COLLATION, ENGINE } from './words'

/** "Supported Character Sets and Collations": bytes that a character may take. */
const CHARACTER: Readonly<Record<string, number>> = {
  utf8mb4: 4,
  utf16: 4,
  utf16le: 4,
  utf32: 4,
  gb18030: 4,
  utf8: 3,
  utf8mb3: 3,
  ujis: 3,
  eucjpms: 3,
  ucs2: 2,
  big5: 2,
  gbk: 2,
  gb2312: 2,
  euckr: 2,
  sjis: 2,
  cp932: 2
}
const bytesOf = (collation: string): number => CHARACTER[collation.split('_', 1).join()] ?? 1

/** "Data Type Storage Requirements". */
const FIXED: Readonly<Record<string, number>> = {
  tinyint: 1,
  smallint: 2,
  mediumint: 3,
  int: 4,
  bigint: 8,
  float: 4,
  double: 8,
  date: 3,
  year: 1,
  uuid: 16,
  inet6: 16,
  inet4: 4
}
const fractionOf = (digits: number): number => Math.ceil(digits / 2)
/** Nine digits in four bytes, and what is left over in as few as hold them. */
const digitsOf = (digits: number): number => Math.floor(digits / 9) * 4 + ([0, 1, 1, 2, 2, 3, 3, 4, 4][digits % 9] ?? 4)

function sizeOf({ name, args = [] }: DataType, character: number, length: number | undefined): number | undefined {
  const plain = name.replace(/ (unsigned|zerofill).*$/, '')
  const [first = 1, second = 0] = args.map(Number)
  const fixed = FIXED[plain]
  if (fixed !== undefined) return fixed
  switch (plain) {
    case 'char':
    case 'varchar':
      return (length ?? first) * character
    case 'binary':
    case 'varbinary':
      return length ?? first
    case 'decimal':
      return digitsOf(first - second) + digitsOf(second)
    case 'time':
      return 3 + fractionOf(args.length > 0 ? first : 0)
    case 'datetime':
      return 5 + fractionOf(args.length > 0 ? first : 0)
    case 'timestamp':
      return 4 + fractionOf(args.length > 0 ? first : 0)
    case 'bit':
      return Math.ceil(first / 8)
    case 'enum':
      return args.length > 255 ? 2 : 1
    case 'set':
      return args.length > 32 ? 8 : Math.ceil(args.length / 8)
    default:
      // Of long texts and bytes, only a beginning is in a key.
      return length === undefined ? undefined : length * (/text$/.test(plain) ? character : 1)
  }
}

/** "InnoDB Limitations": of one column, by how rows are kept; of all together. Of other engines, all together. */
const MOST = 3072
const OLD = 767
const OTHERS: Readonly<Record<string, number>> = { MyISAM: 1000, Aria: 2000, MEMORY: 3072 }

/** Nothing where a part is no column whose size is known. */
export function keyRoom(
  { columns, options = {} }: Table,
  parts: readonly Pick<IndexPart, 'column' | 'length'>[],
  usual: string
): KeyRoom | undefined {
  const sizes = parts.flatMap((part) => {
    const column: Column | undefined = columns.find(({ name }) => name === part.column)
    const character = bytesOf(column?.collation ?? options[COLLATION] ?? usual)
    return (column && sizeOf(column.type, character, part.length)) ?? []
  })
  if (sizes.length < parts.length) return undefined
  const other = OTHERS[options[ENGINE] ?? '']
  const isOld = other === undefined && /^(COMPACT|REDUNDANT)$/.test(options['row_format'] ?? '')
  return {
    bytes: sizes.reduce((sum, size) => sum + size, 0),
    most: other ?? MOST,
    widest: Math.max(0, ...sizes),
    mostOfOne: isOld ? OLD : (other ?? MOST)
  }
}
