// Changes to ordered steps. The order: take foreign keys, checks, keys and indexes out of the way; free the names that
// are needed; rename; make tables and columns; alter columns; put keys, indexes, checks and foreign keys back; and only
// then remove what holds rows, so that nothing is lost before all that can fail has not.
import {
  looksBeyond,
  addressKey as place,
  applied,
  CONSTRAINED,
  findMember,
  memberAddress,
  members,
  namesOf,
  sameValue,
  tableAddress,
  withProperty,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change,
  type Column,
  type Constrained,
  type Ground,
  type Placed,
  type Relation,
  type Standing,
  type Table,
  type Check
} from '../catalog'
import { difference, shownAlike } from '../compare'
import type { Dialect, StepDraft } from '../dialects'
import {
  alteredColumns,
  Holders,
  namesBetween,
  noLongerComputed,
  unspoken,
  type Alter,
  type AlteredColumn,
  type Create,
  type Drop,
  type Rename
} from './altered'
import { Builder } from './builder'
import { computedThatGo, computedToMake } from './computed'
import { byWantedPlace, inNeededOrder, isCarriedPlace, planCarried, putBack, rightsLeft, takeAway } from './carried'
import { leftOver, moveDocuments, type DocumentMove } from './documents'
import { dropInOrder, dropOf, dropsWithSequences, emptied, ownTable } from './drops'
import { emit } from './emit'
import { depthOf, impliedByParents } from './inherited'
import { orderRenames, takesName } from './names'
import { planByRebuilding } from './rebuild'
import { membersToRemake, remakeIn, standsOn, tablesMadeAgain, typesMadeAgain } from './remade'
import type { Group, Step } from './step'

export interface Migration {
  readonly steps: readonly Step[]
  /** The transactions that the steps belong to. */
  readonly groups: readonly Group[]
  /** The catalogue before the first step, and after the last. */
  readonly from: Catalog
  readonly to: Catalog
  /** What is wanted and the engine has no statement for: it stays as it is. */
  readonly left?: readonly Change[]
}

export interface PlanOptions {
  readonly bare?: boolean
  readonly moves?: readonly DocumentMove[]
}

/** The statements of a plan as a script, with what must stand around each transaction. */
export function migrationScript(migration: Migration, dialect: Dialect): { readonly sql: string }[] {
  const { around } = dialect.write
  const byGroup = new Map<number, { readonly sql: string }[]>()
  for (const { group, statement } of migration.steps) {
    const own = byGroup.get(group)
    if (own) own.push({ sql: statement })
    else byGroup.set(group, [{ sql: statement }])
  }
  const script = migration.groups.flatMap((group) => {
    const own = byGroup.get(group.id) ?? []
    if (!around || own.length < 2) return own
    return [...around.before.map((sql) => ({ sql })), ...own, ...around.after.map((sql) => ({ sql }))]
  })
  const { session = [], profile } = dialect
  const routines = migration.steps.some(
    ({ about, statement }) => about.kind === 'routine' && /^create/i.test(statement)
  )
  const opening = [
    ...(profile.features.transactionalDdl || script.length === 0 ? [] : session),
    ...(routines ? (dialect.opening?.(migration.to) ?? []) : [])
  ]
  return [...opening.map((sql) => ({ sql })), ...script]
}

/**
 * Orders changes (as `compare` finds them, or a choice of them) into steps for a live database. Changes that could
 * not be told for certain are left out. `invert(changes)` planned on `to` is the way back. `bare`: only the statements are
 * asked for. `moves`: documents that come to be in others, or out of them, as far as the changes have them so.
 */
export function plan(
  live: Catalog,
  changes: readonly Change[],
  dialect: Dialect,
  { bare = false, moves = [] }: PlanOptions = {}
): Migration {
  const isCertain = (change: Change) => change.action !== 'alter' || change.certain
  // What is shown alike makes no step of its own; but a column that is stated anew is so in the words that are wanted.
  const isStated = (change: Change) =>
    change.action === 'alter' && shownAlike(change.address.kind, change.property, change.from, change.to, dialect)
  const said = changes.filter((change) => isCertain(change) || isStated(change))
  const spoken = applied(said, live, dialect.write)
  const to = applied(unspoken(said, spoken, dialect), spoken, dialect.write)
  const builder = new Builder(live, dialect, bare)
  const { moved, renames: within } = moveDocuments(moves, to, builder)
  const start = moved.length > 0 ? builder.state.catalog() : live
  const named = [...changes.filter((c): c is Rename => c.action === 'rename'), ...within]
  // Found again between the two ends, so that any list of changes, an inverted one too, speaks in the same names.
  const certain = difference(start, to, named, dialect).filter(isCertain)
  // What cannot outlive what it speaks of is made anew instead of being called otherwise.
  const going = new Set(certain.flatMap((c) => (c.action === 'drop' ? [place(c.address)] : [])))
  const renames = named.filter(({ address }) => !going.has(place(address)))
  if (dialect.rebuild)
    planByRebuilding({ live: start, to, changes: certain, renames, rebuild: dialect.rebuild, builder })
  else planInPlace({ live: start, to, all: certain, renames, moved, builder })
  const left = bare ? [] : difference(builder.state.catalog(), to, [], dialect).filter(isCertain)
  return { steps: builder.steps, groups: builder.groups(), from: live, to, ...(left.length ? { left } : {}) }
}

interface InPlace {
  readonly live: Catalog
  readonly to: Catalog
  readonly all: readonly Change[]
  readonly renames: readonly Rename[]
  readonly moved: readonly DocumentMove[]
  readonly builder: Builder
}

function planInPlace({ live, to, all, renames, moved, builder }: InPlace): void {
  const { dialect, state } = builder
  const { features } = dialect.profile
  const implied = impliedByParents(all, live, to)
  const certain = implied.own
  builder.implied = (change) => implied.with(change)
  const removed = certain.filter((c): c is Drop => c.action === 'drop')
  const added = certain.filter((c): c is Create => c.action === 'create')
  const alters = certain.filter((c): c is Alter => c.action === 'alter')
  const { inLiveNames, inTableOf } = namesBetween(renames, dialect)
  const columns = alteredColumns(alters, live, to, inLiveNames)
  const work = { live, to, removed, added, alters, columns, renames, dialect, inLiveNames }
  const remadeTables = tablesMadeAgain(work)
  for (const table of remadeTables) builder.makesAgain(table)
  const computed = computedThatGo(work)
  const types = typesMadeAgain(work)

  const carried = planCarried({
    ...work,
    types,
    changing: [
      ...standingInTheWay(removed, columns, dialect),
      ...remadeTables.map(({ schema, name }) => ({ schema, table: name })),
      ...computed.map(({ table, column }) => ({ schema: table.schema, table: table.name, columns: [column.name] })),
      ...types.flatMap(({ users }) =>
        users.map(({ table, column }) => ({ schema: table.schema, table: table.name, columns: [column.name] }))
      ),
      ...(features.renameUsedColumn === true && !features.wordsStay ? [] : renames.flatMap(columnsOfRename)),
      ...(features.wordsStay ? renames.flatMap(tableOfRename) : [])
    ]
  })
  const goingRoutines = new Set(
    carried.away.filter(({ kind }) => kind === 'routine').map(({ address }) => place(address))
  )
  const remade = membersToRemake(work, remadeTables, computed, { types, gone: goingRoutines })
  const defaults = defaultsOn(live, goingRoutines, removed)

  for (const { table, column } of defaults)
    builder.add(dialect.alter.alterColumn(table, column, withProperty<Column>(column, 'default', undefined)))
  for (const kind of CONSTRAINED)
    if (goingRoutines.size > 0)
      for (const { table, member } of remade.filter((item) => item.kind === kind && standsOn(item, goingRoutines)))
        builder.make(dropOf(table, kind, member))
  builder.add(takeAway(carried.away, dialect))
  for (const kind of CONSTRAINED)
    for (const item of remade.filter((item) => item.kind === kind && !standsOn(item, goingRoutines)))
      builder.make(dropOf(item.table, kind, item.member))
  for (const { table, column } of computed) builder.make(dropOf(table, 'column', column))
  for (const { live: column, liveTable } of columns.filter(noLongerComputed)) {
    const plain = withProperty<Column>(withProperty<Column>(column, 'generated', undefined), 'virtual', undefined)
    const table = state.table(liveTable.schema, liveTable.name)
    if (table) builder.add(dialect.alter.alterColumn(table, column, plain))
  }
  const holders = removed.filter((c) => c.address.kind === 'table' || c.address.kind === 'column')
  const makeDrop = dropsWithSequences(live, removed, builder, leftOver(moved, builder))
  const { fields } = features
  const isEmptied = emptied(fields ? columns : [], dialect)
  const isInTheWay = takesName(live, to, renames, dialect)
  const early = holders.filter((change) => isInTheWay(change) || isEmptied(change))
  for (const change of early) makeDrop(change)

  const gone = new Set([
    ...remade.map(({ kind, table, member }) => place(memberAddress(table, kind, member))),
    ...computed.map(({ table, column }) => place(memberAddress(table, 'column', column)))
  ])
  const kept = renames.filter((change) => !gone.has(place(change.address)))
  // What holds fields comes before what comes into it.
  const inside = ({ to: name }: Rename) => name.split('.').length
  const ordered = orderRenames(fields ? [...kept].sort((a, b) => inside(a) - inside(b)) : kept, live, dialect)
  const renamed = new Holders()
  for (const change of ordered) {
    const address = fields ? renamed.place(change.address) : change.address
    if (fields) renamed.add(change)
    // What holds it may have taken it along.
    if (namesOf(address).name !== change.to) builder.make({ ...change, address })
  }

  const back = { live, to, renames, dialect, before: byWantedPlace(carried.away, renames) }
  const { optionsFirst } = features
  for (const change of alters) {
    letGo(change, builder)
    // What its rows are parted by may be a column that changes, or goes.
    const isOfTable = ({ address }: { readonly address: Address }) =>
      sameValue(address.path.slice(0, 2), change.address.path)
    if (change.property === 'parted' && change.from !== undefined && [...columns, ...removed].some(isOfTable))
      builder.make({ ...change, to: undefined })
    if (optionsFirst && change.address.kind === 'table' && change.property === 'options') builder.make(change)
  }
  makeSchemas(live, added, builder)
  alterEarly(carried.altersEarly, builder)
  const tables = added.flatMap(({ address, object }): Placed[] =>
    object.kind === 'table' ? [{ ...object, address }] : []
  )
  for (const object of inNeededOrder([...carried.early, ...tables], to))
    if (object.kind === 'table') builder.make({ action: 'create', address: object.address, object })
    else for (const drafts of putBack([object], back)) builder.add(drafts)
  builder.add(dialect.carry.replaced?.(types) ?? [])
  for (const change of added)
    if (change.object.kind === 'column' && change.object.value.generated === undefined) builder.make(change)
  // What becomes computed is so once all that it is worked out from has its form.
  for (const { address, wanted } of [...columns].sort((a, b) => Number(becomes(a)) - Number(becomes(b)))) {
    const { schema, table: name } = namesOf(address)
    const table = state.table(schema, name)
    const now = state.member(address, 'column')
    if (table && now) builder.add(dialect.alter.alterColumn(table, now, wanted))
    // A column that was made anew has lost its comment.
    const comment: Alter = {
      action: 'alter',
      address,
      property: 'comment',
      from: now?.comment,
      to: wanted.comment,
      certain: true
    }
    if (now && !says(comment, state)) builder.make(comment)
  }
  for (const change of computedToMake(to, state, dialect.write.lexis)) builder.make(change)

  const hasParts = to.tables.some((table) => table.partition !== undefined)
  const fresh = new Set(added.filter((c) => c.address.kind === 'table').map((c) => place(c.address)))
  for (const kind of [...CONSTRAINED].reverse()) {
    const wanted = [
      ...added.filter((c) => c.address.kind === kind && !isCarriedPlace(c.address, to)),
      ...added.flatMap((c) => (c.object.kind === 'table' ? createdWith(c.object.value, kind) : [])),
      ...remade.filter((item) => item.kind === kind).flatMap((item) => remakeIn(to, item, renames))
    ]
    const depth = (change: Change) => {
      const { schema, table } = namesOf(change.address)
      return depthOf({ schema, name: table }, to)
    }
    // The parts of a key or index come before the whole.
    const once = [...new Map(wanted.map((w) => [place(w.address), w])).values()]
    for (const change of hasParts ? once.sort((a, b) => depth(b) - depth(a)) : once) {
      const drafts = emit(change, state, dialect)
      builder.add(fresh.has(place(ownTable(change.address))) ? drafts.map(harmless) : drafts)
    }
  }
  for (const { table, column } of defaults) {
    const address = inTableOf(memberAddress(table, 'column', column))
    const { schema, table: name } = namesOf(address)
    const [home, now, wanted] = [
      state.table(schema, name),
      state.member(address, 'column'),
      findMember(to, address, 'column')
    ]
    if (home && now && wanted && now.default !== wanted.default)
      builder.add(dialect.alter.alterColumn(home, now, withProperty(now, 'default', wanted.default)))
  }
  // What the engine numbers only once it is a key.
  for (const table of to.tables)
    for (const wanted of table.columns) {
      const now = wanted.identity && state.member(memberAddress(table, 'column', wanted), 'column')
      const home = now && !now.identity && state.table(table.schema, table.name)
      if (home) builder.add(dialect.alter.alterColumn(home, now, { ...now, identity: wanted.identity }))
    }
  for (const change of alters)
    if (change.property === 'comment' && !isCarriedPlace(change.address, to) && !says(change, state))
      builder.make(change)
  const late = holders
    .filter((change) => !early.includes(change))
    .map((change) => ({ ...change, address: inTableOf(change.address) }))
  dropInOrder(late, carried.last, { live, builder, makeDrop })
  // Parts of a table join it once both have what they should have, and nothing more.
  for (const change of alters)
    if (change.address.kind === 'table' && isLate(change) && !(optionsFirst && change.property === 'options'))
      builder.make(change)
  builder.add(tables.flatMap((object) => (object.kind === 'table' ? (dialect.alter.finish?.(object.value) ?? []) : [])))
  for (const change of alters)
    if (change.property === 'rights' && !isCarriedPlace(change.address, to)) builder.make(change)
  for (const drafts of putBack(carried.late, back)) builder.add(drafts)
  for (const change of carried.altersLate) builder.make(change)
  builder.add(rightsLeft(to.tables, state, dialect))
}

/** A table leaves its parents before they change, and comes to new ones once it has what they have. */
function letGo(change: Alter, builder: Builder) {
  if (change.address.kind !== 'table') return
  const { property, from, to } = change
  if (property === 'partition' && from !== undefined) builder.make({ ...change, to: undefined })
  if (property !== 'inherits' || from === undefined) return
  const staying = (from as readonly Relation[]).filter((parent) =>
    ((to as readonly Relation[] | undefined) ?? []).some((other) => sameValue(other, parent))
  )
  builder.make({ ...change, to: staying.length ? staying : undefined })
}

/** Changes in place; what an engine judges by several settings together is said together. */
function alterEarly(alters: readonly Alter[], builder: Builder) {
  const { carry } = builder.dialect
  const byPlace = new Map<string, Alter[]>()
  for (const change of alters)
    byPlace.set(place(change.address), [...(byPlace.get(place(change.address)) ?? []), change])
  for (const own of byPlace.values()) {
    const [first] = own
    const value = first && builder.state.find(first.address)
    if (!first || !value) continue
    const object = { kind: first.address.kind, value, address: first.address } as Placed
    const drafts = carry.together?.(object, own)
    if (drafts) builder.add(drafts)
    else for (const change of own) builder.make(change)
  }
}

/** Schemas that tables come to be in, where they are no objects of their own. */
function makeSchemas(live: Catalog, added: readonly Create[], builder: Builder) {
  const schemas = new Set([
    ...live.tables.map((table) => table.schema),
    live.defaultSchema,
    ...(live.schemas ?? []).map((schema) => schema.name),
    ...added.flatMap(({ address }) => (address.kind === 'schema' ? address.path : []))
  ])
  for (const { address } of added) {
    const { kind, schema } = namesOf(address)
    if (kind !== 'table' || schemas.has(schema)) continue
    schemas.add(schema)
    const statement = builder.dialect.write.createSchema(schema)
    builder.add([{ statement, why: `makes the schema ${schema}`, effects: [], hazards: [] }])
  }
}

/** Properties of a table that are changed once its columns and keys are as they should be. */
const isLate = ({ property }: Alter) => property !== 'comment' && property !== 'rights' && property !== 'owner'

/** Columns whose default calls a routine that is made again. */
function defaultsOn(
  live: Catalog,
  routines: ReadonlySet<string>,
  removed: readonly Drop[]
): { table: Table; column: Column }[] {
  if (routines.size === 0) return []
  const going = new Set(removed.map((change) => place(change.address)))
  return live.tables.flatMap((table) =>
    going.has(place(tableAddress(table)))
      ? []
      : table.columns
          .filter(
            (column) =>
              column.default !== undefined &&
              !going.has(place(memberAddress(table, 'column', column))) &&
              column.refs?.some(({ to }) => routines.has(place(to)))
          )
          .map((column) => ({ table, column }))
  )
}

const columnsOfRename = ({ address }: Rename): Ground[] => {
  const { kind, schema, table, name } = namesOf(address)
  return kind === 'column' ? [{ schema, table, columns: [name] }] : []
}

const tableOfRename = ({ address }: Rename): Ground[] => {
  const { kind, schema, table } = namesOf(address)
  return kind === 'table' ? [{ schema, table }] : []
}

/** Tables and columns that views and triggers hold fast until they are taken away. */
function standingInTheWay(removed: readonly Change[], columns: readonly AlteredColumn[], dialect: Dialect): Ground[] {
  return [
    ...removed.flatMap(({ address }): Ground[] => {
      const { kind, schema, table, name } = namesOf(address)
      if (kind === 'table') return [{ schema, table }]
      return kind === 'column' ? [{ schema, table, columns: [name] }] : []
    }),
    ...columns
      .filter(
        ({ live, wanted }) =>
          !dialect.types.same(live.type, wanted.type) || dialect.alter.inTheWay(live, wanted) !== 'nothing'
      )
      .map(({ live, liveTable }) => ({ schema: liveTable.schema, table: liveTable.name, columns: [live.name] }))
  ]
}

const becomes = ({ wanted }: AlteredColumn) => wanted.generated !== undefined

/** A table made a moment ago has no rows that could be in the way. */
const harmless = ({ preflight: _, ...draft }: StepDraft): StepDraft => ({ ...draft, hazards: [] })

const createdWith = (table: Table, kind: Constrained): Change[] =>
  (members(table, kind) as readonly { readonly name: string }[])
    .filter((member) => MADE_LATER.has(kind) || (kind === 'check' && looksBeyond(member as Check)))
    .map((member) => ({
      action: 'create' as const,
      address: memberAddress(table, kind, member),
      object: { kind, value: member } as CatalogObject
    }))
const MADE_LATER: ReadonlySet<Constrained> = new Set<Constrained>(['index', 'foreignKey', 'exclusion'])

/** Whether an object already has its comment: what was made again got it then. */
const says = (change: Alter, state: Standing): boolean => state.find(change.address)?.comment === change.to
