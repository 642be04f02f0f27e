// Keys of what has no limit, for engines that take nothing so long into one: a column that is in a key gets a limit, as long as there
// is room, so that rows are told apart by all of it; an index, which tells nothing apart, is as the engine can have one.
import type { Column, DataType, Index, IndexPart, Key, Table } from '../../catalog'
import type { KeyRoom } from '../dialect'

/** What a key takes of one without a limit, where there is room for it: common practice, no source. */
const USUAL = 255

export type KeyPart = Pick<IndexPart, 'column' | 'length'>

export interface KeyHabits {
  /** Of some parts of a key; nothing where the size of one is not known. Of no parts, what there is room for. */
  room(table: Table, parts: readonly KeyPart[], ofKey: readonly KeyPart[]): Pick<KeyRoom, 'bytes' | 'most'> | undefined
  /** It has no limit, and no key takes all of it. */
  isLong(type: DataType): boolean
  /** Bytes in such a key of each character or byte. */
  unit(type: DataType, ofKey: readonly KeyPart[]): number
  limited(type: DataType, most: number): DataType
  /** An index as the engine can have it; nothing where it cannot. */
  index(index: Index, table: Table): Index | undefined
}

/** A table of which the engine can make every key and index. */
export function limitedInKeys(table: Table, habits: KeyHabits): Table {
  const limits = new Map<string, number>()
  for (const parts of keysOf(table)) {
    const long = parts.filter((part) => part.length === undefined && habits.isLong(typeIn(table, part)))
    const most = shareOf(long, parts, table, habits)
    for (const { column = '' } of long) if (most > 0) limits.set(column, Math.min(most, limits.get(column) ?? most))
  }
  const limited: Table = {
    ...table,
    columns: table.columns.map((column): Column => {
      const most = limits.get(column.name)
      return most === undefined ? column : { ...column, type: habits.limited(column.type, most) }
    })
  }
  return {
    ...limited,
    indexes: table.indexes.flatMap((one) => (one.unique ? one : (habits.index(one, limited) ?? [])))
  }
}

const keysOf = ({ primaryKey, uniques, foreignKeys, indexes }: Table): (readonly KeyPart[])[] => [
  ...[...(primaryKey ? [primaryKey] : []), ...uniques].map(({ columns, parts = [] }: Key) =>
    columns.map((column, i) => ({ column, ...parts[i] }))
  ),
  ...foreignKeys.map(({ columns }) => columns.map((column) => ({ column }))),
  ...indexes.flatMap(({ unique, parts }) => (unique ? [parts] : []))
]

/** How many characters or bytes some parts of a key may have each, beside the others; 0 where nothing is left, or nothing known. */
export function shareOf(
  some: readonly KeyPart[],
  parts: readonly KeyPart[],
  table: Table,
  { room, unit }: Pick<KeyHabits, 'room' | 'unit'>
): number {
  const others = some.length === 0 ? undefined : room(table, without(parts, some), parts)
  if (!others) return 0
  const units = some.reduce((sum, part) => sum + unit(typeIn(table, part), parts), 0)
  return Math.max(0, Math.min(USUAL, Math.floor((others.most - others.bytes) / units)))
}

export const without = (parts: readonly KeyPart[], some: readonly KeyPart[]): KeyPart[] =>
  parts.filter((part) => !some.includes(part))

/** Of an expression, a type without a name. */
export const typeIn = (table: Table, part: KeyPart): DataType =>
  table.columns.find(({ name }) => name === part.column)?.type ?? { name: '' }
