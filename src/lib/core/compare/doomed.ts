// What cannot outlive the columns and tables that go: it is dropped and made again, never altered, since its old and its
// new form may speak of different columns by one name.
import {
  tableKey,
  usesColumn,
  worksFrom,
  type Catalog,
  type ForeignKey,
  type MemberKind,
  type MemberOf,
  type Relation,
  type Table
} from '../catalog'
import type { Dialect } from '../dialects'
import type { Lexis } from '../sql'

/** Tables of the live database that go, and those of which columns go, by `tableKey`. */
export interface Gone {
  readonly tables: ReadonlySet<string>
  readonly columns: ReadonlyMap<string, ReadonlySet<string>>
}

/**
 * The live tables that go and take along what points at them. Where a foreign key may name a table that is not there, it
 * stays as it is unless another table comes in the place of the one that goes.
 */
export function tablesThatGo(tables: readonly Table[], wanted: Catalog, { profile }: Dialect): Set<string> {
  const keys = tables.map((table) => tableKey(table.schema, table.name))
  if (!profile.features.foreignKeysInTable) return new Set(keys)
  const coming = new Set(wanted.tables.map((table) => tableKey(table.schema, table.name)))
  return new Set(keys.filter((key) => coming.has(key)))
}

const none: ReadonlySet<string> = new Set()

/**
 * The computed columns of a live table (by their live names) that are worked out from one that goes, where another column
 * has that name from then on: what the text says would be another thing. `gone` are the columns that go for other reasons.
 */
export function doomedColumns(live: Table, wanted: Table, gone: ReadonlySet<string>, lexis: Lexis): Set<string> {
  const computed = live.columns.filter((column) => column.generated !== undefined)
  const doomed = new Set<string>()
  if (computed.length === 0) return doomed
  const names = new Set(wanted.columns.map((column) => column.name))
  const misleading = new Set([...gone].filter((name) => names.has(name)))
  for (const name of misleading)
    for (const column of computed)
      if (!misleading.has(column.name) && worksFrom(column, name, lexis)) {
        doomed.add(column.name)
        // What is worked out from it goes with it; the set grows while it is walked.
        misleading.add(column.name)
      }
  return doomed
}

export function doomed<K extends MemberKind>(
  table: Relation,
  kind: K,
  member: MemberOf[K],
  gone: Gone,
  lexis: Lexis
): boolean {
  if (kind === 'column' || gone.tables.size + gone.columns.size === 0) return false
  const own = gone.columns.get(tableKey(table.schema, table.name)) ?? none
  if ([...own].some((column) => usesColumn(kind, member, column, lexis))) return true
  if (kind !== 'foreignKey') return false
  const { references } = member as ForeignKey
  const parent = tableKey(references.schema, references.table)
  return gone.tables.has(parent) || references.columns.some((column) => gone.columns.get(parent)?.has(column))
}
