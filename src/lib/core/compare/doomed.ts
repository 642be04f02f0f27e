// What cannot outlive the columns and tables that go: it is dropped and made again, never altered, since its old and its
// new form may speak of different columns by one name.
import { tableKey, usesColumn, type ForeignKey, type MemberKind, type MemberOf, type Table } from '../catalog'
import type { Lexis } from '../sql'

/** Tables and columns of the live database that go, by `tableKey`. */
export interface Gone {
  readonly tables: ReadonlySet<string>
  readonly columns: ReadonlyMap<string, ReadonlySet<string>>
}

const none: ReadonlySet<string> = new Set()

export function doomed<K extends MemberKind>(
  table: Table,
  kind: K,
  member: MemberOf[K],
  gone: Gone,
  lexis: Lexis
): boolean {
  if (kind === 'column') return false
  const own = gone.columns.get(tableKey(table.schema, table.name)) ?? none
  if ([...own].some((column) => usesColumn(kind, member, column, lexis))) return true
  if (kind !== 'foreignKey') return false
  const { references } = member as ForeignKey
  const parent = tableKey(references.schema, references.table)
  return gone.tables.has(parent) || references.columns.some((column) => gone.columns.get(parent)?.has(column))
}
