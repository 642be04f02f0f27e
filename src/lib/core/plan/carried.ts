// What is no table and stands by its own text: taken out of the way before what it stands on changes, made once that is
// there, changed in place where the engine can.
import {
  addressKey,
  carriedIn,
  find,
  findTable,
  Graph,
  inTable,
  isFree,
  isView,
  memberAddress,
  namesOf,
  propertyOf,
  refsOf,
  refsOfTable,
  renamedTo,
  renamesOf,
  tableKey,
  TextRenames,
  type Address,
  type Catalog,
  type Column,
  type Ground,
  type Kind,
  type Placed,
  type Ref,
  type Standing,
  type Table,
  type View
} from '../catalog'
import type { Dialect, Hazard, StepDraft, TypeAgain } from '../dialects'
import type { Alter, Create, Drop, Rename } from './altered'

/** Kinds that go early and come late: nothing that holds rows stands on them. */
const LATE: ReadonlySet<Kind> = new Set<Kind>(['view', 'trigger', 'policy', 'rule'])

export interface CarriedWork {
  readonly live: Catalog
  readonly to: Catalog
  readonly removed: readonly Drop[]
  readonly added: readonly Create[]
  readonly alters: readonly Alter[]
  readonly renames: readonly Rename[]
  /** What of tables and views changes in a way that nothing may stand on. */
  readonly changing: readonly Ground[]
  /** Types that are made again beside the old ones. */
  readonly types?: readonly TypeAgain[]
  readonly dialect: Dialect
  inLiveNames(address: Address): Address
}

export interface CarriedPlan {
  /** Live objects that go before anything else, users first: for good, or to be made again. */
  readonly away: readonly Placed[]
  /** Objects as they are wanted that are to be made: those that tables may stand on, and the rest; each after what it needs. */
  readonly early: readonly Placed[]
  readonly late: readonly Placed[]
  /** Changes in place. */
  readonly altersEarly: readonly Alter[]
  readonly altersLate: readonly Alter[]
  /** What goes for good once nothing stands on it any more, users first. */
  readonly last: readonly Placed[]
}

export function planCarried(work: CarriedWork): CarriedPlan {
  const { live, to, removed, added, alters, changing, types = [], dialect, inLiveNames } = work
  const graph = new Graph(live)
  const byKey = new Map(graph.all.map((object) => [addressKey(object.address), object]))
  const goneTables = new Set(
    removed.flatMap(({ address }) => {
      const { kind, schema, table } = namesOf(address)
      return kind === 'table' ? [tableKey(schema, table)] : []
    })
  )
  /** What goes with its table needs no word of its own. */
  const goesWithTable = ({ kind, value, address }: Placed) => {
    const { schema, table } = namesOf(address)
    if (isFree(kind) || !goneTables.has(tableKey(schema, table))) return false
    // What names other tables than its own would hold them fast.
    return refsOf(kind, value).every(({ to }) => {
      const other = namesOf(to)
      return to.kind === 'routine' || (other.schema === schema && other.table === table)
    })
  }
  const carriedAlters = alters.filter(({ address }) => isCarriedPlace(address, to))
  const beside = new Set(types.map(({ was }) => addressKey(was.address)))
  const inPlace = (change: Alter) => {
    // A type stays until its columns have another; nothing else is held up by it.
    if (change.address.kind === 'type' && dialect.carry.replaced)
      return !beside.has(addressKey(inLiveNames(change.address)))
    const value = find(live, inLiveNames(change.address))
    if (!value) return true
    const object = { address: change.address, kind: change.address.kind, value } as Placed
    return dialect.carry.alter(object, change.property, change.to) !== undefined
  }
  const remadeAlters = carriedAlters.filter((change) => !inPlace(change))
  const dropped = removed.flatMap(({ address }) => byKey.get(addressKey(address)) ?? [])
  const remade = remadeAlters.flatMap((change) => byKey.get(addressKey(inLiveNames(change.address))) ?? [])
  const going = graph
    .withUsers([
      ...changing.flatMap((place) => graph.usersOfGround(place)),
      ...dropped.filter(({ kind }) => LATE.has(kind)),
      ...remade.filter(({ address }) => !beside.has(addressKey(address))),
      ...types.flatMap(({ was }) => graph.usersOf(was.address))
    ])
    .filter((object) => !goesWithTable(object) && (LATE.has(object.kind) || object.kind === 'routine'))
  const goingKeys = new Set(going.map(({ address }) => addressKey(address)))
  const last = graph
    .withUsers(dropped.filter((object) => !goingKeys.has(addressKey(object.address)) && !goesWithTable(object)))
    .filter((object) => dropped.includes(object) && !goingKeys.has(addressKey(object.address)))

  const wantedNow = (address: Address): Address => wantedName(address, work.renames)
  const pending = [
    ...added.flatMap((change): Placed[] =>
      isCarriedPlace(change.address, to) ? [{ ...change.object, address: change.address } as Placed] : []
    ),
    ...added.flatMap(({ object }) =>
      object.kind === 'table' ? carriedWithin(object.value) : object.kind === 'view' ? carriedWithin(object.value) : []
    ),
    ...going.flatMap((object): Placed[] => {
      const address = wantedNow(object.address)
      const value = find(to, address)
      if (!value) return []
      const again = { kind: object.kind, value, address } as Placed
      return again.kind === 'view' ? [again, ...carriedWithin(again.value)] : [again]
    })
  ]
  const make = new Map(pending.map((object) => [addressKey(object.address), object]))
  const made = inNeededOrder([...make.values()], to)
  const isMade = (change: Alter) => make.has(addressKey(change.address))
  const rest = carriedAlters.filter((change) => !isMade(change) && !remadeAlters.includes(change))
  // What stands on something late is late itself; so is a routine that stands on tables, which may change yet, or on types that are made
  // again with their columns, and no table on it.
  const late = new Set<string>()
  const called = calledByTables(made, to)
  const madeAgain = new Set(types.map(({ now }) => addressKey(now.address)))
  for (const object of made) {
    const key = addressKey(object.address)
    const stands = object.kind === 'routine' && !called.has(key) ? refsOf('routine', object.value) : []
    const waits = stands.some((ref) => isOfTable(ref) || madeAgain.has(addressKey(ref.to)))
    if (waits || !EARLY.has(object.kind) || [...needsOf(object, to)].some((need) => late.has(need))) late.add(key)
  }
  const isLate = ({ address }: Placed) => late.has(addressKey(address))
  const owned = made.flatMap((object): Alter[] =>
    object.kind === 'sequence' && object.value.ownedBy
      ? [
          {
            action: 'alter',
            address: object.address,
            property: 'ownedBy',
            from: undefined,
            to: object.value.ownedBy,
            certain: true
          }
        ]
      : []
  )
  return {
    away: going,
    early: made.filter((object) => !isLate(object)),
    late: made.filter(isLate),
    altersEarly: rest.filter(({ address, property }) => EARLY.has(address.kind) && property !== 'ownedBy'),
    altersLate: [
      ...rest.filter(({ address, property }) => !EARLY.has(address.kind) || property === 'ownedBy'),
      ...owned
    ],
    last
  }
}

const isOfTable = ({ to }: Ref): boolean => ['table', 'column', 'view'].includes(to.kind)

/** The routines among what is made that tables call, with those that these call in turn. */
function calledByTables(made: readonly Placed[], to: Catalog): ReadonlySet<string> {
  const routines = new Map(
    made.flatMap((object) => (object.kind === 'routine' ? [[addressKey(object.address), object] as const] : []))
  )
  const called = new Set<string>()
  if (routines.size === 0) return called
  const open = to.tables.flatMap((table) => refsOfTable(table).map((ref) => addressKey(ref.to)))
  for (let key = open.pop(); key !== undefined; key = open.pop()) {
    const routine = routines.get(key)
    if (!routine || called.has(key)) continue
    called.add(key)
    open.push(...refsOf('routine', routine.value).map((ref) => addressKey(ref.to)))
  }
  return called
}

/** Changes of these are wanted before tables speak of them. */
const EARLY: ReadonlySet<Kind> = new Set<Kind>(['schema', 'extension', 'type', 'sequence', 'routine'])

/** Whether a place is one of what is carried; an index is, in a view. */
export function isCarriedPlace(address: Address, catalog: Catalog): boolean {
  const { kind, schema, table } = namesOf(address)
  if (kind === 'table' || kind === 'column') return false
  return isCarriedKind(kind) || (kind === 'index' && findTable(catalog, schema, table) === undefined)
}
const isCarriedKind = (kind: Kind) => LATE.has(kind) || EARLY.has(kind) || kind === 'defaultRights'

const carriedWithin = (home: Table | View): Placed[] =>
  carriedIn({
    engine: '',
    defaultSchema: '',
    unread: [],
    tables: [],
    ...(isView(home) ? { views: [home] } : { tables: [home] })
  }).filter(({ address }) => address.path.length > 2)

/** A live place in the names that are wanted. */
function wantedName(address: Address, renames: readonly Rename[]): Address {
  const { schema, table } = namesOf(address)
  const names = renamesOf(renames)
  const now = names.tables.get(tableKey(schema, table)) ?? table
  return isFree(address.kind)
    ? address.kind === 'table' || address.kind === 'view'
      ? renamedTo(address, now)
      : address
    : inTable(address, now)
}

/** Each after what it stands on, as far as that is among them. */
export function inNeededOrder(objects: readonly Placed[], to: Catalog, tableRefs = refsOfTable): Placed[] {
  const byKey = new Map(objects.map((object) => [addressKey(object.address), object]))
  const order: Placed[] = []
  const seen = new Set<string>()
  const visit = (object: Placed) => {
    const key = addressKey(object.address)
    if (seen.has(key)) return
    seen.add(key)
    for (const need of needsOf(object, to, tableRefs)) {
      const other = byKey.get(need)
      if (other) visit(other)
    }
    order.push(object)
  }
  for (const object of objects) visit(object)
  return order
}

/** The places that an object stands on, its own home among them. */
function* needsOf(object: Placed, to: Catalog, tableRefs = refsOfTable): Iterable<string> {
  const { schema, table } = namesOf(object.address)
  const refs: readonly Ref[] = object.kind === 'table' ? tableRefs(object.value) : refsOf(object.kind, object.value)
  const homes = (s: string, t: string) => [key('view', s, t), key('table', s, t)]
  if (object.address.path.length > 2) yield* homes(schema, table)
  else if (object.address.path.length > 1) yield key('schema', schema)
  for (const { to: address, owned } of refs) {
    if (owned) continue
    yield addressKey(address)
    if (address.path.length > 2) yield* homes(namesOf(address).schema, namesOf(address).table)
  }
  // What a text of unknown references needs most likely: that all extensions are there.
  if (object.kind === 'type' || object.kind === 'routine' || object.kind === 'table')
    for (const extension of to.extensions ?? []) yield key('extension', extension.name)
}

const key = (kind: Kind, ...path: string[]) => addressKey({ kind, path })

/** Live objects out of the way. */
export function takeAway(objects: readonly Placed[], dialect: Dialect): StepDraft[] {
  return objects.flatMap((object) =>
    dialect.carry.drop(object).map((draft) => ({ ...draft, why: draft.why.replace(/^removes/, 'takes away') }))
  )
}

interface Back {
  readonly live: Catalog
  readonly to: Catalog
  readonly renames: readonly Rename[]
  readonly dialect: Dialect
  /** What was there before, by its wanted place: its owner is given back. */
  readonly before: ReadonlyMap<string, Placed>
}

export const byWantedPlace = (away: readonly Placed[], renames: readonly Rename[]): Map<string, Placed> =>
  new Map(away.map((object) => [addressKey(wantedName(object.address, renames)), object]))

/** Makes objects, or makes them again, and says where their texts name what is gone. */
export function putBack(objects: readonly Placed[], back: Back): StepDraft[][] {
  const { live, to, renames, dialect, before } = back
  const texts = new TextRenames(live, renamesOf(renames), dialect.write)
  return objects.map((object) => {
    const was = before.get(addressKey(object.address))
    const drafts = dialect.carry.create(object)
    if (!was) return drafts
    const owner = propertyOf(was.value, 'owner')
    const owned = typeof owner === 'string' ? (dialect.carry.alter(object, 'owner', owner) ?? []) : []
    const risks = risksOf(object, was, live, to, texts)
    return [...drafts.map((draft) => ({ ...draft, why: draft.why.replace(/^makes/, 'puts back') })), ...owned].map(
      (draft, i) => (i === 0 && risks.length ? { ...draft, hazards: [...draft.hazards, ...risks] } : draft)
    )
  })
}

/** What an object names that is not there any more. */
function risksOf(object: Placed, was: Placed, live: Catalog, to: Catalog, texts: TextRenames): Hazard[] {
  const lost = new Set<string>()
  for (const { to: address } of refsOf(object.kind, object.value)) {
    const { kind, schema, table, name } = namesOf(address)
    if (kind === 'column') {
      const home = findTable(to, schema, table)
      if (home ? !home.columns.some((c: Column) => c.name === name) : findTable(live, schema, table))
        lost.add(home ? name : table)
    } else if (kind === 'table' && !find(to, address) && find(live, address)) lost.add(table)
  }
  const said = ['definition', 'query'].map((property) => propertyOf(was.value, property))
  const joined = said.flatMap((text) => (typeof text === 'string' ? texts.read(text).joined : []))
  const risk = (sentence: string): Hazard => ({ kind: 'may fail', sentence })
  return [
    ...(lost.size ? [risk(`it names ${[...lost].join(', ')}, which is gone: change it by hand`)] : []),
    ...(joined.length
      ? [risk(`it joins tables by ${joined.join(', ')}, which is called otherwise now: change it by hand`)]
      : [])
  ]
}

/** Rights and owners that a table or column of the plan should have and has lost, or not yet. */
export function rightsLeft(tables: Iterable<Table>, state: Standing, { carry }: Dialect): StepDraft[] {
  const drafts: StepDraft[] = []
  for (const wanted of tables) {
    const now = state.table(wanted.schema, wanted.name)
    if (!now) continue
    const give = (object: Placed, has: unknown, wants: unknown) => {
      if (wants !== undefined && JSON.stringify(has) !== JSON.stringify(wants))
        drafts.push(...(carry.alter(object, 'rights', wants) ?? []))
    }
    const address: Address = { kind: 'table', path: [wanted.schema, wanted.name] }
    give({ kind: 'table', value: now, address }, now.rights, wanted.rights)
    const columns = new Map(now.columns.map((column) => [column.name, column]))
    for (const column of wanted.columns) {
      const own = columns.get(column.name)
      if (own && column.rights)
        give(
          { kind: 'column', value: own, address: memberAddress(wanted, 'column', column) },
          own.rights,
          column.rights
        )
    }
  }
  return drafts
}
