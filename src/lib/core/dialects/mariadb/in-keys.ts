// Long texts and bytes in keys and indexes: an index takes a beginning of them, of a length that is said, and no key that rows are told
// apart by is a beginning. "CREATE INDEX, Index Prefixes", "BLOB and TEXT Data Types"; of MySQL 10.3.5 "Column Indexes".
import { numbersOf, type DataType, type Index, type IndexPart, type Table } from '../../catalog'
import { limitedInKeys, shareOf, typeIn, without, type KeyHabits, type KeyPart } from '../standard'
import { keyRoom } from './key-bytes'

/** Bytes of a character of utf8mb4, which texts are in when nothing is said. */
const WIDEST = 4

/** `collation` is that of a text of which none is said. */
export function inKeys(table: Table, collation: string): Table {
  const room = (of: Table, parts: readonly KeyPart[]) => keyRoom(of, parts, collation)
  const unit = (type: DataType) => (isBytes(type) ? 1 : WIDEST)
  const cut = (index: Index, of: Table): Index => {
    if (index.method === 'fulltext' || index.method === 'spatial') return index
    const whole = index.parts.filter(({ length }) => length === undefined)
    const long = whole.filter((part) => isLong(typeIn(of, part)))
    const rest = room(of, without(index.parts, long))
    const isTooMuch = rest !== undefined && rest.bytes > rest.most
    const parts = isTooMuch ? whole.filter((part) => isLong(typeIn(of, part)) || isShort(typeIn(of, part))) : long
    const most = shareOf(parts, index.parts, of, { room, unit })
    const fits = (part: IndexPart) => isShort(typeIn(of, part)) && (numbersOf(typeIn(of, part))[0] ?? 1) <= most
    if (most === 0) return index
    return {
      ...index,
      parts: index.parts.map((part) => (parts.includes(part) && !fits(part) ? { ...part, length: most } : part))
    }
  }
  const habits: KeyHabits = { room, isLong, unit, limited, index: cut }
  return limitedInKeys(table, habits)
}

const isBytes = ({ name }: DataType) => /(blob|binary)$/.test(name)
const isLong = ({ name }: DataType) => /(text|blob)$/.test(name)
const isShort = ({ name }: DataType) => /(char|binary)$/.test(name)

const limited = (type: DataType, most: number): DataType => ({
  name: isBytes(type) ? 'varbinary' : 'varchar',
  args: [String(most)]
})
