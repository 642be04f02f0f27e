// Changes to ordered steps. The order: take foreign keys, checks, keys and indexes out of the way; free the names that
// are needed; rename; make tables and columns; alter columns; put keys, indexes, checks and foreign keys back; and only
// then remove what holds rows, so that nothing is lost before all that can fail has not.
import {
  addressKey as place,
  apply,
  findMember,
  findTable,
  invert,
  memberAddress,
  members,
  tableAddress,
  usesColumn,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change,
  type Column,
  type ForeignKey,
  type MemberKind,
  type Table
} from '../catalog'
import { difference } from '../compare'
import type { Dialect, StepDraft } from '../dialects'
import { Builder } from './builder'
import { dependentsOf, putBack, takeAway } from './dependents'
import { emit } from './emit'
import { orderRenames, takesName } from './names'
import { planByRebuilding } from './rebuild'
import type { Group, Step } from './step'

export interface Migration {
  readonly steps: readonly Step[]
  /** The transactions that the steps belong to. */
  readonly groups: readonly Group[]
  /** The catalogue before the first step, and after the last. */
  readonly from: Catalog
  readonly to: Catalog
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
  return migration.groups.flatMap((group) => {
    const own = byGroup.get(group.id) ?? []
    if (!around || own.length < 2) return own
    return [...around.before.map((sql) => ({ sql })), ...own, ...around.after.map((sql) => ({ sql }))]
  })
}

type Constrained = Exclude<MemberKind, 'column'>
const constrained: readonly Constrained[] = ['foreignKey', 'check', 'index', 'unique', 'primaryKey']

/**
 * Orders changes (as `compare` finds them, or a choice of them) into steps for a live database. Changes that could
 * not be told for certain are left out. `invert(changes)` planned on `to` is the way back.
 */
export function plan(live: Catalog, changes: readonly Change[], dialect: Dialect): Migration {
  const to = apply(
    changes.filter((change) => change.action !== 'alter' || change.certain),
    live,
    dialect.write
  )
  const renames = changes.filter((c): c is Change & { action: 'rename' } => c.action === 'rename')
  // Found again between the two ends, so that any list of changes, an inverted one too, speaks in the same names.
  const certain = difference(live, to, renames, dialect)
  const builder = new Builder(live, dialect)
  const done = () => ({ steps: builder.steps, groups: builder.groups(), from: live, to })
  if (dialect.rebuild) {
    planByRebuilding({ live, to, changes: certain, renames, rebuild: dialect.rebuild, builder })
    return done()
  }

  const removed = certain.filter((c): c is Change & { action: 'drop' } => c.action === 'drop')
  const added = certain.filter((c): c is Change & { action: 'create' } => c.action === 'create')
  const alters = certain.filter((c): c is Change & { action: 'alter' } => c.action === 'alter')
  const back = invert(renames)
  /** The same place in the names the database has now. */
  const inLiveNames = (address: Address): Address => rewind(address, back)

  const columns = alteredColumns(alters, live, to, inLiveNames)
  const remadeTables = tablesMadeAgain({ live, added, columns, renames, dialect, inLiveNames })
  const remade = membersToRemake({ live, removed, alters, columns, renames, dialect, inLiveNames, remadeTables })

  const moved = dialect.profile.features.renameUsedColumn
    ? []
    : renames.flatMap(({ address: { kind, schema, table, name } }) =>
        kind === 'column' ? [{ schema, table, columns: [name] }] : []
      )
  const dependents = dependentsOf(live, [
    ...standingInTheWay(removed, columns, dialect),
    ...remadeTables.map(({ schema, name }) => ({ schema, table: name })),
    ...moved
  ])
  builder.add(takeAway(dependents, dialect))
  for (const kind of constrained)
    for (const { table, member } of remade.filter((item) => item.kind === kind))
      builder.make(dropOf(table, kind, member))
  const holders = removed.filter((c) => c.address.kind === 'table' || c.address.kind === 'column')
  const early = holders.filter((change) => takesName(change, live, to, renames, dialect))
  for (const change of early) builder.make(change)

  const gone = new Set(remade.map(({ kind, table, member }) => place(memberAddress(table, kind, member))))
  const kept = renames.filter((change) => !gone.has(place(change.address)))
  for (const change of orderRenames(kept, live, dialect)) builder.make(change)

  const schemas = new Set(live.tables.map((table) => table.schema).concat(live.defaultSchema))
  for (const change of added)
    if (change.address.kind === 'table' && !schemas.has(change.address.schema)) {
      schemas.add(change.address.schema)
      builder.addPlain(dialect.write.createSchema(change.address.schema), `makes the schema ${change.address.schema}`)
    }
  for (const change of added) if (change.address.kind === 'table') builder.make(change)
  for (const change of added) if (change.address.kind === 'column') builder.make(change)
  for (const { address, wanted } of columns) {
    const table = findTable(builder.state, address.schema, address.table)
    const now = findMember(builder.state, address, 'column')
    if (table && now) builder.add(dialect.alter.alterColumn(table, now, wanted))
    // A column that was made anew has lost its comment.
    const comment: Change = {
      action: 'alter',
      address,
      property: 'comment',
      from: now?.comment,
      to: wanted.comment,
      certain: true
    }
    if (!says(comment, builder.state)) builder.make(comment)
  }

  const fresh = new Set(added.filter((c) => c.address.kind === 'table').map((c) => place(c.address)))
  for (const kind of [...constrained].reverse()) {
    const wanted = [
      ...added.filter((c) => c.address.kind === kind),
      ...added.flatMap((c) => (c.object.kind === 'table' ? createdWith(c.object.value, kind) : [])),
      ...remade.filter((item) => item.kind === kind).flatMap((item) => remakeIn(to, item, renames))
    ]
    for (const change of new Map(wanted.map((w) => [place(w.address), w])).values()) {
      const drafts = emit(change, builder.state, dialect)
      builder.add(fresh.has(place(ownTable(change.address))) ? drafts.map(harmless) : drafts)
    }
  }
  // What the engine numbers only once it is a key.
  for (const table of to.tables)
    for (const wanted of table.columns) {
      const now = wanted.identity && findMember(builder.state, memberAddress(table, 'column', wanted), 'column')
      const home = now && !now.identity && findTable(builder.state, table.schema, table.name)
      if (home) builder.add(dialect.alter.alterColumn(home, now, { ...now, identity: wanted.identity }))
    }
  for (const change of alters) if (change.property === 'comment' && !says(change, builder.state)) builder.make(change)
  for (const change of holders) if (!early.includes(change)) builder.make(forward(change, renames))
  builder.add(putBack(dependents, { live, moves: renames, to, dialect }))
  return done()
}

/** Tables and columns that views and triggers hold fast until they are taken away. */
function standingInTheWay(
  removed: readonly Change[],
  columns: readonly AlteredColumn[],
  dialect: Dialect
): { schema: string; table: string; columns?: readonly string[] }[] {
  return [
    ...removed.flatMap(({ address: { kind, schema, table, name } }) =>
      kind === 'table' ? [{ schema, table }] : kind === 'column' ? [{ schema, table, columns: [name] }] : []
    ),
    ...columns
      .filter(({ live, wanted }) => live.type !== wanted.type || dialect.alter.inTheWay(live, wanted) !== 'nothing')
      .map(({ live, liveTable }) => ({ schema: liveTable.schema, table: liveTable.name, columns: [live.name] }))
  ]
}

const ownTable = (address: Address): Address => ({ ...address, kind: 'table', name: address.table })

/** A table made a moment ago has no rows that could be in the way. */
const harmless = ({ preflight: _, ...draft }: StepDraft): StepDraft => ({ ...draft, hazards: [] })

/** An address in names from before the renames. */
function rewind(address: Address, back: readonly Change[]): Address {
  let { table, name } = address
  for (const change of back) {
    if (change.action !== 'rename' || change.address.schema !== address.schema) continue
    const sameTable = change.address.table === address.table
    if (change.address.kind === 'table' && sameTable) table = change.to
    else if (change.address.kind === address.kind && sameTable && change.address.name === address.name) name = change.to
  }
  return { ...address, table, name: address.kind === 'table' ? table : name }
}

/** A change of a live object, spoken of in the names that hold once all renames are done. */
function forward(change: Change, renames: readonly (Change & { action: 'rename' })[]): Change {
  const { address } = change
  const moved = renames.find(
    (r) => r.address.kind === 'table' && r.address.schema === address.schema && r.address.table === address.table
  )
  return moved && address.kind !== 'table' ? { ...change, address: { ...address, table: moved.to } } : change
}

const dropOf = (table: Table, kind: MemberKind, member: { readonly name: string }): Change => ({
  action: 'drop',
  address: memberAddress(table, kind, member),
  object: { kind, value: member } as CatalogObject
})

const createdWith = (table: Table, kind: Constrained): Change[] =>
  kind !== 'index' && kind !== 'foreignKey'
    ? []
    : members(table, kind).map((member) => ({
        action: 'create' as const,
        address: memberAddress(table, kind, member),
        object: { kind, value: member } as CatalogObject
      }))

/** Whether an object already has its comment: what was made again got it then. */
function says(change: Change & { action: 'alter' }, state: Catalog): boolean {
  const { address } = change
  const found =
    address.kind === 'table' ? findTable(state, address.schema, address.name) : findMember(state, address, address.kind)
  return found?.comment === change.to
}

interface AlteredColumn {
  /** In wanted names. */
  readonly address: Address
  readonly live: Column
  readonly liveTable: Table
  readonly wanted: Column
}

/** All changes of one column together, but its name and its comment. */
function alteredColumns(
  alters: readonly (Change & { action: 'alter' })[],
  live: Catalog,
  to: Catalog,
  inLiveNames: (address: Address) => Address
): AlteredColumn[] {
  const places = new Map(
    alters
      .filter((c) => c.address.kind === 'column' && c.property !== 'comment')
      .map((c) => [place(c.address), c.address])
  )
  return [...places.values()].flatMap((address) => {
    const was = inLiveNames(address)
    const [column, liveTable] = [findMember(live, was, 'column'), findTable(live, was.schema, was.table)]
    const wanted = findMember(to, address, 'column')
    return column && liveTable && wanted ? [{ address, live: column, liveTable, wanted }] : []
  })
}

interface Remade {
  readonly table: Table
  readonly kind: Constrained
  readonly member: { readonly name: string }
}

/** Tables that the engine makes again, for a new name or for a column that it cannot change otherwise. */
function tablesMadeAgain(
  input: Omit<RemakeInput, 'removed' | 'alters' | 'remadeTables'> & {
    added: readonly (Change & { action: 'create' })[]
  }
): Table[] {
  const { live, added, columns, renames, dialect, inLiveNames } = input
  const found = new Set<Table>()
  const add = ({ schema, table }: Pick<Address, 'schema' | 'table'>) => {
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

interface RemakeInput {
  readonly live: Catalog
  readonly removed: readonly Change[]
  readonly alters: readonly (Change & { action: 'alter' })[]
  readonly columns: readonly AlteredColumn[]
  readonly renames: readonly (Change & { action: 'rename' })[]
  readonly dialect: Dialect
  readonly inLiveNames: (address: Address) => Address
  readonly remadeTables: readonly Table[]
}

/** Keys, checks, indexes and foreign keys of the live database that go, for good or until their table is changed. */
function membersToRemake(input: RemakeInput): Remade[] {
  const { live, removed, alters, columns, renames, dialect, inLiveNames, remadeTables } = input
  const result = new Map<string, Remade>()
  const add = (table: Table, kind: Constrained, member: { readonly name: string }) =>
    result.set(place(memberAddress(table, kind, member)), { table, kind, member })
  const addAt = (address: Address) => {
    if (address.kind === 'table' || address.kind === 'column') return
    const [table, member] = [findTable(live, address.schema, address.table), findMember(live, address, address.kind)]
    if (table && member) add(table, address.kind, member)
  }
  /** What uses a column; or only what says something of its values, where keys and indexes may stay. */
  const usersOf = (table: Table, column: string, rulesOnly = false) => {
    for (const kind of constrained)
      if (!rulesOnly || kind === 'check' || kind === 'foreignKey')
        for (const member of members(table, kind))
          if (usesColumn(kind, member, column, dialect.write.lexis)) add(table, kind, member)
    for (const { table: child, fk } of foreignKeysTo(live, table))
      if (fk.references.columns.includes(column)) add(child, 'foreignKey', fk)
  }
  removed.forEach((change) => addAt(change.address))
  alters.filter((c) => c.property !== 'comment').forEach((change) => addAt(inLiveNames(change.address)))
  if (!dialect.profile.features.renameConstraint)
    renames.filter((c) => c.address.kind !== 'index').forEach((change) => addAt(change.address))
  if (!dialect.profile.features.renameIndex)
    renames.filter((c) => c.address.kind === 'index').forEach((change) => addAt(change.address))

  for (const { live: column, liveTable, wanted } of columns) {
    const way = dialect.alter.inTheWay(column, wanted)
    if (way !== 'nothing') usersOf(liveTable, column.name, way === 'checks and foreign keys')
  }
  for (const table of remadeTables) {
    for (const kind of constrained) for (const member of members(table, kind)) add(table, kind, member)
    for (const { table: child, fk } of foreignKeysTo(live, table)) add(child, 'foreignKey', fk)
  }
  if (!dialect.profile.features.renameUsedColumn)
    for (const { address } of renames) {
      const table = address.kind === 'column' && findTable(live, address.schema, address.table)
      if (table) usersOf(table, address.name)
    }
  // A foreign key stands on a key of its parent, and goes when that goes; tables that go together let go of each other.
  for (const { table, kind, member } of [...result.values()])
    if (kind === 'primaryKey' || kind === 'unique' || kind === 'index')
      for (const { table: child, fk } of foreignKeysTo(live, table)) {
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
      const table = findTable(live, change.address.schema, change.address.table)
      if (table) usersOf(table, change.address.name)
    }
  return [...result.values()].filter(
    ({ table, kind }) => !going.has(place(tableAddress(table))) || kind === 'foreignKey'
  )
}

const findKey = (table: Table, kind: 'primaryKey' | 'unique', name: string) =>
  members(table, kind).find((key) => key.name === name)?.columns ?? []
const indexColumns = (table: Table, name: string) =>
  table.indexes.find((index) => index.name === name && index.unique)?.parts.flatMap((part) => part.column ?? []) ?? []
const sameSet = (a: readonly string[], b: readonly string[]) =>
  a.length === b.length && a.every((item) => b.includes(item))

function foreignKeysTo(catalog: Catalog, parent: Table): { table: Table; fk: ForeignKey }[] {
  return catalog.tables.flatMap((table) =>
    table.foreignKeys
      .filter((fk) => fk.references.schema === parent.schema && fk.references.table === parent.name)
      .map((fk) => ({ table, fk }))
  )
}

/** The wanted form of a member that was taken away, if it is still wanted. */
function remakeIn(
  to: Catalog,
  { table, kind, member }: Remade,
  renames: readonly (Change & { action: 'rename' })[]
): Change[] {
  const named = (address: Address, kindOf: Address['kind']) =>
    renames.find((r) => r.address.kind === kindOf && place(r.address) === place(address))?.to
  const address = memberAddress(table, kind, member)
  const newTable = named(tableAddress(table), 'table') ?? table.name
  const wanted = { ...address, table: newTable, name: named(address, kind) ?? member.name }
  const found = findMember(to, wanted, kind)
  return found ? [{ action: 'create', address: wanted, object: { kind, value: found } as CatalogObject }] : []
}
