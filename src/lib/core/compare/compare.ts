// What must change so that a live database is as wanted: object by object and property by property.
import {
  MEMBER_KINDS,
  PROPERTIES,
  memberAddress,
  members,
  propertyOf,
  renameIn,
  renamesOf,
  tableAddress,
  tableKey,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change,
  type MemberKind,
  type ObjectKind,
  type Origin,
  type Printed,
  type Table
} from '../catalog'
import type { Dialect } from '../dialects'
import { doomed, doomedColumns, tablesThatGo, type Gone } from './doomed'
import { match, type ConfirmedRename, type LikelyRename } from './match'
import { knownAsPrinted } from './printed'
import { compareProperty } from './property'
import { attribute, type Difference } from './who'

type Rename = Change & { action: 'rename' }

export interface Comparison {
  /** In the order `apply` needs: drops in live names, renames, then the rest in wanted names. */
  readonly changes: readonly Change[]
  /** The same changes, each with who made it. */
  readonly differences: readonly Difference[]
  readonly likely: readonly LikelyRename[]
}

export interface CompareInput {
  readonly wanted: Catalog
  readonly live: Catalog
  /** What both sides held when they last agreed, with origins; it tells a rename from a drop and a create. */
  readonly agreed?: Catalog | undefined
  readonly confirmed?: readonly ConfirmedRename[] | undefined
}

/**
 * `apply(compare(…).changes, live)` is `wanted`, up to the order of columns, for all that is certain.
 * Tables that moved to another schema count as dropped and created.
 */
export function compare(input: CompareInput, dialect: Dialect): Comparison {
  const { renames, likely } = match(input, dialect)
  // What is known to be printed so is held against the live texts in the names that are wanted.
  const printed =
    input.agreed?.printed && renameIn({ ...input.agreed, tables: [] }, renamesOf(renames), dialect.write).printed
  const changes = difference(input.live, input.wanted, renames, dialect, printed)
  return { changes, differences: attribute(changes, input, dialect), likely }
}

/** The changes from one catalogue to another, with what is renamed already known. */
export function difference(
  live: Catalog,
  wanted: Catalog,
  renames: readonly Rename[],
  dialect: Dialect,
  printed: readonly Printed[] = []
): Change[] {
  const known = knownAsPrinted(printed)
  const named = renameIn(live, renamesOf(renames), dialect.write)

  // Tables stand at the same place in `live` and `named`, and so do their members: places pair old and new names.
  const renamedTables = new Set(
    renames.filter((r) => r.address.kind === 'table').map((r) => tableKey(r.address.schema, r.to))
  )
  const wantedByName = new Map(wanted.tables.map((table) => [tableKey(table.schema, table.name), table]))
  const pairs: Pair[] = []
  const drops: Change[] = []
  named.tables.forEach((table, i) => {
    const before = live.tables[i] ?? table
    const other = wantedByName.get(tableKey(table.schema, table.name))
    // A table that stays under its name while another is renamed to it is not the wanted one.
    const displaced = before.name === table.name && renamedTables.has(tableKey(table.schema, table.name))
    if (other && !displaced) pairs.push({ before, table, wanted: other })
    else drops.push({ action: 'drop', address: tableAddress(before), object: { kind: 'table', value: before } })
  })

  const rest = pairs.flatMap(({ table, wanted: other }) =>
    alters({ kind: 'table', address: tableAddress(other), from: table, to: other, dialect, known })
  )
  const goneColumns = new Map<string, Set<string>>()
  const gone: Gone = {
    tables: tablesThatGo(
      drops.flatMap((c) => (c.action === 'drop' && c.object.kind === 'table' ? c.object.value : [])),
      wanted,
      dialect
    ),
    columns: goneColumns
  }
  // Columns first: what speaks of one that goes cannot be altered, only made anew.
  for (const kind of MEMBER_KINDS)
    for (const pair of pairs) {
      const found = compareMembers({ ...pair, kind, renames, gone, dialect, known })
      drops.push(...found.drops)
      rest.push(...found.rest)
      if (kind === 'column')
        goneColumns.set(tableKey(pair.before.schema, pair.before.name), new Set(found.drops.map((d) => d.address.name)))
    }
  const matched = new Set(pairs.map((pair) => pair.wanted))
  for (const table of wanted.tables)
    if (!matched.has(table))
      rest.push({
        action: 'create',
        address: tableAddress(table),
        object: { kind: 'table', value: table },
        ...(table.origin ? { origin: table.origin } : {})
      })
  return [...drops, ...renames, ...rest]
}

/** A table as it is, with its new names, and as it is wanted. */
interface Pair {
  readonly before: Table
  readonly table: Table
  readonly wanted: Table
}

interface MemberInput extends Pair {
  readonly kind: MemberKind
  readonly renames: readonly Rename[]
  readonly gone: Gone
  readonly dialect: Dialect
  readonly known: ReturnType<typeof knownAsPrinted>
}

interface Member {
  readonly name: string
  readonly origin?: Origin
}

function compareMembers({ before, table, wanted, kind, renames, gone, dialect, known }: MemberInput) {
  const drops: Change[] = []
  const rest: Change[] = []
  const old = members(before, kind)
  const now: readonly Member[] = members(table, kind)
  const want = new Map((members(wanted, kind) as readonly Member[]).map((member) => [member.name, member]))
  const newNames = new Set(
    renames
      .filter((r) => r.address.kind === kind && r.address.schema === before.schema && r.address.table === before.name)
      .map((r) => r.to)
  )
  const found = new Set<string>()
  const { lexis } = dialect.write
  const partners = old.map((was, i) => {
    const name = now[i]?.name ?? was.name
    const displaced = was.name === name && newNames.has(name)
    return displaced || doomed(before, kind, was, gone, lexis) ? undefined : want.get(name)
  })
  const alone = new Set(old.filter((_, i) => !partners[i]).map((was) => was.name))
  if (kind === 'column') for (const name of doomedColumns(before, wanted, alone, lexis)) alone.add(name)
  old.forEach((was, i) => {
    const [member, other] = [now[i] ?? was, partners[i]]
    if (!other || alone.has(was.name)) {
      drops.push({
        action: 'drop',
        address: memberAddress(before, kind, was),
        object: { kind, value: was } as CatalogObject
      })
      return
    }
    found.add(member.name)
    rest.push(...alters({ kind, address: memberAddress(wanted, kind, other), from: member, to: other, dialect, known }))
  })
  for (const member of want.values())
    if (!found.has(member.name))
      rest.push({
        action: 'create',
        address: memberAddress(wanted, kind, member),
        object: { kind, value: member } as CatalogObject,
        ...(member.origin ? { origin: member.origin } : {})
      })
  return { drops, rest }
}

interface Sides {
  readonly kind: ObjectKind
  readonly address: Address
  readonly from: object
  readonly to: { readonly origin?: Origin }
  readonly dialect: Dialect
  readonly known: ReturnType<typeof knownAsPrinted>
}

/** The properties of one object that are otherwise, or cannot be told. */
const alters = ({ kind, address, from: live, to: wanted, dialect, known }: Sides): Change[] =>
  PROPERTIES[kind].flatMap((property): Change[] => {
    const [from, to] = [propertyOf(live, property), propertyOf(wanted, property)]
    const same = compareProperty(kind, property, from, to, dialect)
    const { origin } = wanted
    if (same === 'equal' || (same === 'cannot tell' && known(origin, property, to, from))) return []
    const certain = same === 'different'
    return [{ action: 'alter', address, property, from, to, certain, ...(origin ? { origin } : {}) }]
  })
