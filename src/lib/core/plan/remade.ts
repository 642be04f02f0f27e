// Keys, checks, indexes and foreign keys that go until what they stand on has changed, and whole tables that do.
import {
  addressKey as place,
  CONSTRAINED,
  find,
  findMember,
  findTable,
  foreignKeysTo,
  freeAddress,
  inTable,
  isConstrained,
  looksBeyond,
  memberAddress,
  members,
  namesOf,
  refsOf,
  renamedTo,
  sameSet,
  tableAddress,
  usersOfColumn,
  type Address,
  type Kind,
  type Catalog,
  type CatalogObject,
  type Change,
  type Check,
  type Constrained,
  type Placed,
  type Table
} from '../catalog'
import type { TypeAgain, TypeUser } from '../dialects'
import type { Rename, Work } from './altered'
import { inNeededOrder } from './carried'
import type { Computed } from './computed'

export interface Remade {
  readonly table: Table
  readonly kind: Constrained
  readonly member: { readonly name: string }
}

/** Tables that the engine makes again, for a new name or for a column that it cannot change otherwise. */
export function tablesMadeAgain({ live, added, columns, renames, dialect, inLiveNames }: Work): Table[] {
  const found = new Set<Table>()
  const add = (address: Address) => {
    const { schema, table } = namesOf(address)
    const home = findTable(live, schema, table)
    if (home) found.add(home)
  }
  if (!dialect.profile.features.renameTable)
    for (const { address } of renames) if (address.kind === 'table') add(address)
  for (const { live: column, liveTable, wanted } of columns)
    if (dialect.alter.inTheWay(column, wanted) === 'all of the table') found.add(liveTable)
  for (const { address, object } of added)
    if (object.kind === 'column' && dialect.alter.addedByRemaking?.(object.value)) add(inLiveNames(address))
  return [...found]
}

/** Keys, checks, indexes and foreign keys of the live database that go, for good or until their table is changed. */
export function membersToRemake(
  { live, removed, alters, columns, renames, dialect, inLiveNames }: Work,
  remadeTables: readonly Table[],
  computed: readonly Computed[],
  { types, gone }: { readonly types: readonly TypeAgain[]; readonly gone: ReadonlySet<string> }
): Remade[] {
  const result = new Map<string, Remade>()
  const add = (table: Table, kind: Constrained, member: { readonly name: string }) =>
    result.set(place(memberAddress(table, kind, member)), { table, kind, member })
  const addAt = (address: Address) => {
    if (!isConstrained(address.kind)) return
    const [table, member] = [
      findTable(live, namesOf(address).schema, namesOf(address).table),
      findMember(live, address, address.kind)
    ]
    if (table && member) add(table, address.kind, member)
  }
  /** What uses a column; or only what is of some kinds, where others may stay. */
  const usersOf = (table: Table, column: string, kinds: readonly Kind[] = CONSTRAINED) => {
    for (const { table: home, kind, member } of usersOfColumn(live, table, column, dialect.write.lexis))
      if (isConstrained(kind) && kinds.includes(kind)) add(home, kind, member)
  }
  removed.forEach((change) => addAt(change.address))
  alters.filter((c) => c.property !== 'comment').forEach((change) => addAt(inLiveNames(change.address)))
  if (!dialect.profile.features.renameConstraint)
    renames.filter((c) => c.address.kind !== 'index').forEach((change) => addAt(change.address))
  if (!dialect.profile.features.renameIndex)
    renames.filter((c) => c.address.kind === 'index').forEach((change) => addAt(change.address))

  for (const { live: column, liveTable, wanted } of columns) {
    const way = dialect.alter.inTheWay(column, wanted)
    if (way !== 'nothing')
      usersOf(liveTable, column.name, way === 'checks and foreign keys' ? ['check', 'foreignKey'] : CONSTRAINED)
  }
  for (const { table, column } of computed) usersOf(table, column.name)
  for (const { users } of types) for (const { table, column } of users) usersOf(table, column.name)
  if (gone.size > 0)
    for (const table of live.tables)
      for (const kind of CONSTRAINED)
        for (const member of members(table, kind)) if (standsOn({ table, kind, member }, gone)) add(table, kind, member)
  for (const table of remadeTables) {
    for (const kind of CONSTRAINED) for (const member of members(table, kind)) add(table, kind, member)
    for (const { child, fk } of foreignKeysTo(live, table.schema, table.name)) add(child, 'foreignKey', fk)
  }
  const { renameUsedColumn } = dialect.profile.features
  if (renameUsedColumn !== true)
    for (const { address } of renames) {
      const table = address.kind === 'column' && findTable(live, namesOf(address).schema, namesOf(address).table)
      if (table) usersOf(table, namesOf(address).name, renameUsedColumn === false ? CONSTRAINED : ['check'])
    }
  // A foreign key stands on a key of its parent, and goes when that goes; tables that go together let go of each other.
  for (const { table, kind, member } of [...result.values()])
    if (kind === 'primaryKey' || kind === 'unique' || kind === 'index')
      for (const { child, fk } of foreignKeysTo(live, table.schema, table.name)) {
        const key = kind === 'index' ? indexColumns(table, member.name) : findKey(table, kind, member.name)
        if (sameSet(fk.references.columns, key)) add(child, 'foreignKey', fk)
      }
  // Where a foreign key stands on an index of its own table, it goes before any of them does.
  if (dialect.profile.features.foreignKeysNeedIndex)
    for (const { table, kind } of [...result.values()])
      if (kind !== 'check' && kind !== 'foreignKey') for (const fk of table.foreignKeys) add(table, 'foreignKey', fk)
  const going = new Set(removed.filter((c) => c.address.kind === 'table').map((c) => place(c.address)))
  for (const table of live.tables)
    for (const fk of table.foreignKeys) {
      const parent = { schema: fk.references.schema, name: fk.references.table }
      const itself = parent.schema === table.schema && parent.name === table.name
      if (!itself && going.has(place(tableAddress(parent)))) add(table, 'foreignKey', fk)
    }
  // Columns that go take away only what uses them alone: the rest is taken away by name.
  for (const change of removed)
    if (change.address.kind === 'column') {
      const table = findTable(live, namesOf(change.address).schema, namesOf(change.address).table)
      if (table) usersOf(table, namesOf(change.address).name)
    }
  return [...result.values()].filter(
    ({ table, kind, member }) =>
      !going.has(place(tableAddress(table))) ||
      kind === 'foreignKey' ||
      (kind === 'check' && looksBeyond(member as Check))
  )
}

const findKey = (table: Table, kind: 'primaryKey' | 'unique', name: string) =>
  members(table, kind).find((key) => key.name === name)?.columns ?? []
const indexColumns = (table: Table, name: string) =>
  table.indexes.find((index) => index.name === name && index.unique)?.parts.flatMap((part) => part.column ?? []) ?? []
/** Whether a member calls a routine that is made again. */
export const standsOn = ({ kind, member }: Remade, routines: ReadonlySet<string>): boolean =>
  refsOf(kind, member).some(({ to }) => routines.has(place(to)))

/** Types that the engine cannot change in place, with those that are made of them; each after what it is made of. */
export function typesMadeAgain({ live, to, alters, removed, dialect, inLiveNames }: Work): TypeAgain[] {
  const { carry } = dialect
  const changing = alters.filter((change) => change.address.kind === 'type')
  if (!carry.replaced || changing.length === 0) return []
  const going = new Set(removed.map((change) => place(change.address)))
  const columns = new Map<string, TypeUser[]>()
  for (const table of live.tables)
    for (const column of table.columns) {
      if (going.has(place(memberAddress(table, 'column', column)))) continue
      for (const ref of refsOf('column', column)) {
        const list = columns.get(place(ref.to)) ?? []
        columns.set(place(ref.to), [...list, { table, column }])
      }
    }
  const madeOf = new Map<string, Address[]>()
  for (const type of live.types ?? [])
    for (const ref of refsOf('type', type)) {
      const list = madeOf.get(place(ref.to)) ?? []
      madeOf.set(place(ref.to), [...list, freeAddress('type', type)])
    }
  /** A type with all that is made of it, each once. */
  const withMade = (addresses: readonly Address[]): Address[] => {
    const all = new Map(addresses.map((address) => [place(address), address]))
    for (const [key] of all) for (const address of madeOf.get(key) ?? []) all.set(place(address), address)
    return [...all.values()]
  }
  const isHeld = (address: Address) => withMade([address]).some((made) => columns.has(place(made)))
  const refused = changing.flatMap((change) => {
    const address = inLiveNames(change.address)
    const value = find(live, address)
    if (!value) return []
    const object = { kind: 'type', value, address } as Placed
    return carry.alter(object, change.property, change.to, isHeld(address)) ? [] : [address]
  })
  const again = withMade(refused).flatMap((address): TypeAgain[] => {
    const [was, now] = [find(live, address), find(to, address)]
    if (!was || !now || going.has(place(address))) return []
    const of = (value: object) => ({ kind: 'type', value, address }) as Placed
    return [{ was: of(was), now: of(now), users: columns.get(place(address)) ?? [] }]
  })
  const byKey = new Map(again.map((type) => [place(type.now.address), type]))
  return inNeededOrder(
    again.map(({ now }) => now),
    to
  ).flatMap(({ address }) => byKey.get(place(address)) ?? [])
}

/** The wanted form of a member that was taken away, if it is still wanted. */
export function remakeIn(to: Catalog, { table, kind, member }: Remade, renames: readonly Rename[]): Change[] {
  const named = (address: Address, kindOf: Address['kind']) =>
    renames.find((r) => r.address.kind === kindOf && place(r.address) === place(address))?.to
  const address = memberAddress(table, kind, member)
  const newTable = named(tableAddress(table), 'table') ?? table.name
  const wanted = renamedTo(inTable(address, newTable), named(address, kind) ?? member.name)
  const found = findMember(to, wanted, kind)
  return found ? [{ action: 'create', address: wanted, object: { kind, value: found } as CatalogObject }] : []
}
