// What must change so that a live database is as wanted: object by object and property by property.
import {
  addressKey,
  FREE_KINDS,
  KINDS,
  MEMBER_KINDS,
  PROPERTIES,
  VIEW_MEMBER_KINDS,
  find,
  findFree,
  findTable,
  freeAddress,
  memberAddress,
  members,
  namesOf,
  objectsOf,
  propertyOf,
  printedIn,
  renameIn,
  renamedTo,
  renamesOf,
  tableAddress,
  tableKey,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change,
  type FreeKind,
  type Kind,
  type MemberKind,
  type Origin,
  type Printed,
  type Table,
  type View
} from '../catalog'
import type { Dialect } from '../dialects'
import { doomed, doomedColumns, tablesThatGo, type Gone } from './doomed'
import { isGiven, match, type ConfirmedRename, type LikelyRename } from './match'
import { knownAsPrinted } from './printed'
import { compareProperty, isLeftUnsaid } from './property'
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
 * `apply(compare(…).changes, live)` is `wanted`, up to the order of columns, for all that is certain and that `wanted`
 * speaks of. Tables that moved to another schema count as dropped and created.
 */
export function compare(input: CompareInput, dialect: Dialect): Comparison {
  const { renames, likely } = match(input, dialect)
  // What is known to be printed so is held against the live texts in the names that are wanted.
  const printed = input.agreed?.printed && printedIn(input.agreed, renamesOf(renames), dialect.write)
  const changes = difference(input.live, input.wanted, renames, dialect, {
    ...(printed ? { printed } : {}),
    ...(input.agreed ? { agreed: input.agreed } : {})
  })
  return { changes, differences: attribute(changes, input, dialect), likely }
}

const NONE: readonly Rename[] = []

interface Known {
  readonly printed?: readonly Printed[]
  /** What was agreed on, in live names: what a design once had is its own to take away. */
  readonly agreed?: Catalog
}

/** The changes from one catalogue to another, with what is renamed already known. */
export function difference(
  live: Catalog,
  wanted: Catalog,
  renames: readonly Rename[],
  dialect: Dialect,
  { printed = [], agreed }: Known = {}
): Change[] {
  const known = knownAsPrinted(printed)
  const named = renameIn(live, renamesOf(renames), dialect.write)
  /** Whether what only the database has is left as it is. */
  const isLeft = (address: Address) =>
    wanted.partial === true && !KINDS[address.kind].designed && !(agreed && find(agreed, address))
  const say = { dialect, known, partial: wanted.partial === true }

  // Objects stand at the same place in `live` and `named`, and so do their members: places pair old and new names.
  const renamedTables = new Set(
    renames.flatMap(({ address, to }) => (address.kind === 'table' ? [tableKey(namesOf(address).schema, to)] : []))
  )
  const pairs: Pair[] = []
  const drops: Change[] = []
  named.tables.forEach((table, i) => {
    const before = live.tables[i] ?? table
    const other = findTable(wanted, table.schema, table.name)
    // A table that stays under its name while another is renamed to it is not the wanted one.
    const displaced = before.name === table.name && renamedTables.has(tableKey(table.schema, table.name))
    if (other && !displaced) pairs.push({ before, table, wanted: other })
    else drops.push({ action: 'drop', address: tableAddress(before), object: { kind: 'table', value: before } })
  })

  const rest = pairs.flatMap(({ table, wanted: other }) =>
    alters({ kind: 'table', address: () => tableAddress(other), from: table, to: other, ...say })
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
  const renamesIn = new Map<string, Rename[]>()
  for (const change of renames) {
    const { kind, schema, table } = namesOf(change.address)
    const key = JSON.stringify([kind, schema, table])
    renamesIn.set(key, [...(renamesIn.get(key) ?? []), change])
  }
  const within = (pair: Pair, kind: MemberKind) => {
    if (members(pair.before, kind).length + members(pair.wanted, kind).length === 0) return undefined
    const own = renamesIn.size
      ? (renamesIn.get(JSON.stringify([kind, pair.before.schema, pair.before.name])) ?? NONE)
      : NONE
    const found = compareMembers({ ...pair, kind, renames: own, gone, isLeft, ...say })
    drops.push(...found.drops)
    rest.push(...found.rest)
    return found
  }
  // Columns first: what speaks of one that goes cannot be altered, only made anew.
  for (const kind of MEMBER_KINDS)
    for (const pair of pairs) {
      const found = within(pair, kind)
      if (kind === 'column' && found?.drops.length)
        goneColumns.set(
          tableKey(pair.before.schema, pair.before.name),
          new Set(found.drops.map((d) => namesOf(d.address).name))
        )
    }
  const goneTables = new Set(drops.flatMap(({ address }) => (address.kind === 'table' ? [addressKey(address)] : [])))
  /** A sequence goes with the column that it numbers, whether or not somebody says so. */
  const goesAlong = ({ kind, path: [schema = '', name = ''] }: Address): boolean => {
    const by = kind === 'sequence' ? findFree(live, 'sequence', schema, name)?.ownedBy : undefined
    if (!by) return false
    const table = { schema: by.schema, name: by.table }
    return (
      goneTables.has(addressKey(tableAddress(table))) ||
      (goneColumns.get(tableKey(by.schema, by.table))?.has(by.column) ?? false)
    )
  }
  const matched = new Set(pairs.map((pair) => pair.wanted))
  for (const table of wanted.tables) if (!matched.has(table)) rest.push(creation({ kind: 'table', value: table }))
  for (const kind of FREE_KINDS)
    if (kind !== 'table') {
      const other = compareFree({ kind, live, named, wanted, isLeft: (a) => isLeft(a) && !goesAlong(a), ...say })
      drops.push(...other.drops)
      rest.push(...other.rest)
      if (kind === 'view') for (const inner of VIEW_MEMBER_KINDS) for (const pair of other.views) within(pair, inner)
    }
  if (!dialect.profile.names.given || renames.length === 0) return [...drops, ...renames, ...rest]
  const touched = new Set([...drops, ...rest].map(({ address }) => addressKey(address)))
  // A name that the engine gave is as good as another, unless something is said by it.
  const isIdle = ({ address, to }: Rename) =>
    [namesOf(address).name, to].some((name) => isGiven(name, dialect)) &&
    !touched.has(addressKey(renamedTo(address, to)))
  return [...drops, ...renames.filter((change) => !isIdle(change)), ...rest]
}

/** A table or view as it is, with its new names, and as it is wanted. */
interface Pair {
  readonly before: Table | View
  readonly table: Table | View
  readonly wanted: Table | View
}

interface Say {
  readonly dialect: Dialect
  readonly known: ReturnType<typeof knownAsPrinted>
  /** What is wanted says only what was designed. */
  readonly partial: boolean
}

interface FreeInput extends Say {
  readonly kind: FreeKind
  readonly live: Catalog
  readonly named: Catalog
  readonly wanted: Catalog
  readonly isLeft: (address: Address) => boolean
}

/** What stands by itself and is told by its name alone. */
function compareFree({ kind, live, named, wanted, isLeft, ...say }: FreeInput) {
  const drops: Change[] = []
  const rest: Change[] = []
  const views: Pair[] = []
  const found = new Set<object>()
  const before = objectsOf(live, kind)
  objectsOf(named, kind).forEach((object, i) => {
    const was = before[i] ?? object
    const { schema, name } = namesOf(freeAddress(kind, object))
    const other = findFree(wanted, kind, schema, name)
    if (other) {
      found.add(other)
      rest.push(...alters({ kind, address: () => freeAddress(kind, other), from: object, to: other, ...say }))
      if (kind === 'view') views.push({ before: was as View, table: object as View, wanted: other as View })
    } else if (!isLeft(freeAddress(kind, was)))
      drops.push({ action: 'drop', address: freeAddress(kind, was), object: { kind, value: was } as CatalogObject })
  })
  for (const object of objectsOf(wanted, kind))
    if (!found.has(object)) rest.push(creation({ kind, value: object } as CatalogObject & { kind: FreeKind }))
  return { drops, rest, views }
}

const creation = (object: CatalogObject & { readonly kind: FreeKind }): Change => ({
  action: 'create',
  address: freeAddress(object.kind, object.value),
  object,
  ...(object.value.origin ? { origin: object.value.origin } : {})
})

interface MemberInput extends Pair, Say {
  readonly kind: MemberKind
  readonly renames: readonly Rename[]
  readonly gone: Gone
  readonly isLeft: (address: Address) => boolean
}

interface Member {
  readonly name: string
  readonly origin?: Origin
}

function compareMembers({ before, table, wanted, kind, renames, gone, isLeft, ...say }: MemberInput) {
  const drops: Change[] = []
  const rest: Change[] = []
  const old = members(before, kind)
  const now: readonly Member[] = members(table, kind)
  const want = new Map((members(wanted, kind) as readonly Member[]).map((member) => [member.name, member]))
  const newNames = new Set(renames.map((r) => r.to))
  const found = new Set<string>()
  const { lexis } = say.dialect.write
  const partners = old.map((was, i) => {
    const name = now[i]?.name ?? was.name
    const displaced = was.name === name && newNames.has(name)
    return displaced || doomed(before, kind, was, gone, lexis) ? undefined : want.get(name)
  })
  const alone = new Set(old.filter((_, i) => !partners[i]).map((was) => was.name))
  if (kind === 'column' && 'columns' in before && 'columns' in wanted)
    for (const name of doomedColumns(before as Table, wanted as Table, alone, lexis)) alone.add(name)
  old.forEach((was, i) => {
    const [member, other] = [now[i] ?? was, partners[i]]
    if (!other || alone.has(was.name)) {
      const address = memberAddress(before, kind, was)
      if (!isLeft(address)) drops.push({ action: 'drop', address, object: { kind, value: was } as CatalogObject })
      return
    }
    found.add(member.name)
    rest.push(...alters({ kind, address: () => memberAddress(wanted, kind, other), from: member, to: other, ...say }))
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

interface Sides extends Say {
  readonly kind: Kind
  readonly address: () => Address
  readonly from: object
  readonly to: { readonly origin?: Origin }
}

/** The properties of one object that are otherwise, or cannot be told. */
function alters({ kind, address, from: live, to: wanted, dialect, known, partial }: Sides): Change[] {
  const changes: Change[] = []
  for (const property of PROPERTIES[kind]) {
    const [from, to] = [propertyOf(live, property), propertyOf(wanted, property)]
    if (from === to || (partial && isLeftUnsaid(property, to))) continue
    const same = compareProperty(kind, property, from, to, dialect)
    const { origin } = wanted
    if (same === 'equal' || known(origin, property, to, from)) continue
    const certain = same === 'different'
    changes.push({ action: 'alter', address: address(), property, from, to, certain, ...(origin ? { origin } : {}) })
  }
  return changes
}
