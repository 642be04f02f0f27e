// Blobs in keys and indexes: the engine takes none. "Firebird 3.0 Language Reference", "CREATE INDEX", "Limits on Indexes".
import { numbersOf, type DataType, type Table } from '../../catalog'
import { limitedInKeys, typeIn, type KeyHabits, type KeyPart } from '../standard'

/** "Maximum indexable (VAR)CHAR length", of a page of 8,192 bytes, which is what a database has when nothing is said. */
const MOST = 2039
/** UTF8, which texts are in when nothing is said. */
const WIDEST = 4

const isOctets = ({ more }: DataType) => more === 'character set octets'
const isLong = ({ name }: DataType) => name === 'blob' || name.startsWith('blob ')
/** Of more than one column, each is kept in pieces of four bytes, and a byte with each: found by trying, no source. */
const [PIECE, WITH_IT] = [4, 1]

const perCharacter = (type: DataType) => (isOctets(type) || type.name === 'blob' ? 1 : WIDEST)
const unit = (type: DataType, ofKey: readonly KeyPart[]) =>
  perCharacter(type) * (ofKey.length > 1 ? 1 + WITH_IT / PIECE : 1)

function sizeOf(type: DataType): number | undefined {
  if (type.name === 'varchar' || type.name === 'char') return (numbersOf(type)[0] ?? 1) * perCharacter(type)
  // All numbers are kept as one of eight bytes, or of twice as many where these do not hold them.
  return type.name === '' || isLong(type) ? undefined : 16
}

function room(table: Table, parts: readonly KeyPart[], ofKey: readonly KeyPart[]) {
  const sizes = parts.flatMap((part) => sizeOf(typeIn(table, part)) ?? [])
  if (sizes.length < parts.length) return undefined
  const taken = (size: number) => (ofKey.length > 1 ? Math.ceil(size / PIECE) * (PIECE + WITH_IT) : size)
  return { bytes: sizes.reduce((sum, size) => sum + taken(size), 0), most: MOST }
}

const habits: KeyHabits = {
  room,
  isLong,
  unit,
  limited: (type, most) => ({
    name: 'varchar',
    args: [String(most)],
    ...(type.name === 'blob' ? { more: 'character set octets' } : {})
  }),
  index: (index, table) => {
    const { bytes = 0, most = MOST } = room(table, index.parts, index.parts) ?? {}
    return index.parts.some((part) => isLong(typeIn(table, part))) || bytes > most ? undefined : index
  }
}

export const inKeys = (table: Table): Table => limitedInKeys(table, habits)
