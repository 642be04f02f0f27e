// What a change of a table costs: whether every row is written again, and whether others may write meanwhile. "InnoDB Online DDL
// Overview" and its pages by algorithm; of MySQL "Online DDL Operations". What runs here is asked (`mariadb-costs.test.ts`).
import type { Column, DataType, Key, Table } from '../../catalog'
import type { Hazard } from '../dialect'
import { hazard } from '../standard'
import type { Member } from './family'
import { ENGINE } from './words'

/** The table is made again beside itself: who writes waits. */
export const copied = (): Hazard => hazard('rewrites table', 'every row is written again while nobody can write')
/** The same, but for a moment at its beginning and end. */
export const rebuilt = (): Hazard =>
  hazard('rewrites table', 'every row is written again; others read and write meanwhile')

/** Of changes that are carried out together: one that keeps all others from writing does so for all. */
export function dearest(hazards: readonly Hazard[]): Hazard[] {
  const [light, heavy] = [rebuilt(), copied()]
  const isHeavy = hazards.some(({ sentence }) => sentence === heavy.sentence)
  return hazards.filter(({ sentence }) => !isHeavy || sentence !== light.sentence)
}

/** Other engines copy for whatever is changed; compressed rows are written again. */
const isPlain = ({ options = {} }: Table): boolean =>
  (options[ENGINE] ?? 'InnoDB') === 'InnoDB' && options['row_format'] !== 'COMPRESSED'

export function costOfAdding(table: Table, column: Column, { addsAtOnce }: Member): readonly Hazard[] {
  if ((column.generated !== undefined && !column.virtual) || column.identity) return [copied()]
  if (column.generated !== undefined) return []
  return addsAtOnce && isPlain(table) ? [] : [rebuilt()]
}

export function costOfDropping(table: Table, column: Column, { dropsAtOnce }: Member): readonly Hazard[] {
  if (column.virtual) return []
  return dropsAtOnce && isPlain(table) ? [] : [rebuilt()]
}

/** "A NULL value", "Changing the Data Type of a Column", "Extending VARCHAR Column Size". */
export function costOfChange(from: Column, to: Column): readonly Hazard[] {
  const isConverted = from.collation !== to.collation || !fits(from.type, to.type)
  if (isConverted) return [copied()]
  return from.nullable === to.nullable ? [] : [rebuilt()]
}

/** Characters of the widest character set. */
const BYTES = 4
const SHORT = 255

/** Whether what is there is, as it is kept, of the new type. */
function fits(from: DataType, to: DataType): boolean {
  if (from.name !== to.name || from.more !== to.more) return false
  const [was, now] = [from.args ?? [], to.args ?? []]
  if (was.join() === now.join()) return true
  if (from.name === 'varchar') {
    // How long a text is stands before it, in one byte or two.
    const [before, after] = [Number(was[0]) * BYTES, Number(now[0]) * BYTES]
    return after >= before && before <= SHORT === after <= SHORT
  }
  const isLonger = was.every((value, i) => value === now[i])
  const sizes = from.name === 'enum' ? [SHORT] : from.name === 'set' ? [8, 16, 24, 32] : undefined
  return sizes !== undefined && isLonger && sizes.every((size) => was.length <= size === now.length <= size)
}

export function costOfKey(table: Table, kind: 'primaryKey' | 'unique', { columns }: Key): readonly Hazard[] {
  if (kind === 'primaryKey') return [rebuilt()]
  // "Clustered and Secondary Indexes": where there is no primary key, the rows are kept by the first unique one of columns never empty.
  const isFilled = (name: string) => table.columns.some((column) => column.name === name && !column.nullable)
  const isFirst = !table.primaryKey && !table.uniques.some((key) => key.columns.every(isFilled))
  return isFirst && columns.every(isFilled) ? [rebuilt()] : []
}
