// Changes to ordered steps. The order: take foreign keys, checks, keys and indexes out of the way; free the names that
// are needed; rename; make tables and columns; alter columns; put keys, indexes, checks and foreign keys back; and only
// then remove what holds rows, so that nothing is lost before all that can fail has not.
import {
  addressKey as place,
  apply,
  findMember,
  findTable,
  memberAddress,
  members,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change,
  type Column,
  type MemberKind,
  type Table,
  withProperty
} from '../catalog'
import { difference, shownAlike } from '../compare'
import type { Dialect, StepDraft } from '../dialects'
import {
  alteredColumns,
  namesBetween,
  noLongerComputed,
  type Alter,
  type AlteredColumn,
  type Create,
  type Drop,
  type Rename
} from './altered'
import { Builder } from './builder'
import { computedThatGo, computedToMake } from './computed'
import { dependentsOf, putBack, takeAway } from './dependents'
import { emit } from './emit'
import { orderRenames, takesName } from './names'
import { planByRebuilding } from './rebuild'
import { constrained, membersToRemake, remakeIn, tablesMadeAgain, type Constrained } from './remade'
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
  const script = migration.groups.flatMap((group) => {
    const own = byGroup.get(group.id) ?? []
    if (!around || own.length < 2) return own
    return [...around.before.map((sql) => ({ sql })), ...own, ...around.after.map((sql) => ({ sql }))]
  })
  const { session = [], profile } = dialect
  const opening = profile.features.transactionalDdl || script.length === 0 ? [] : session
  return [...opening.map((sql) => ({ sql })), ...script]
}

/**
 * Orders changes (as `compare` finds them, or a choice of them) into steps for a live database. Changes that could
 * not be told for certain are left out. `invert(changes)` planned on `to` is the way back.
 */
export function plan(live: Catalog, changes: readonly Change[], dialect: Dialect): Migration {
  const isCertain = (change: Change) => change.action !== 'alter' || change.certain
  // What is shown alike makes no step of its own; but a column that is stated anew is so in the words that are wanted.
  const isStated = (change: Change) =>
    change.action === 'alter' && shownAlike(change.address.kind, change.property, change.from, change.to, dialect)
  const to = apply(
    changes.filter((change) => isCertain(change) || isStated(change)),
    live,
    dialect.write
  )
  const renames = changes.filter((c): c is Rename => c.action === 'rename')
  // Found again between the two ends, so that any list of changes, an inverted one too, speaks in the same names.
  const certain = difference(live, to, renames, dialect).filter(isCertain)
  const builder = new Builder(live, dialect)
  const done = () => ({ steps: builder.steps, groups: builder.groups(), from: live, to })
  if (dialect.rebuild) {
    planByRebuilding({ live, to, changes: certain, renames, rebuild: dialect.rebuild, builder })
    return done()
  }

  const removed = certain.filter((c): c is Drop => c.action === 'drop')
  const added = certain.filter((c): c is Create => c.action === 'create')
  const alters = certain.filter((c): c is Alter => c.action === 'alter')
  const { inLiveNames, inTableOf } = namesBetween(renames)
  const columns = alteredColumns(alters, live, to, inLiveNames)
  const work = { live, removed, added, alters, columns, renames, dialect, inLiveNames }
  const remadeTables = tablesMadeAgain(work)
  const computed = computedThatGo(work)
  const remade = membersToRemake(work, remadeTables, computed)

  const moved = dialect.profile.features.renameUsedColumn
    ? []
    : renames.flatMap(({ address: { kind, schema, table, name } }) =>
        kind === 'column' ? [{ schema, table, columns: [name] }] : []
      )
  const dependents = dependentsOf(live, [
    ...standingInTheWay(removed, columns, dialect),
    ...remadeTables.map(({ schema, name }) => ({ schema, table: name })),
    ...computed.map(({ table, column }) => ({ schema: table.schema, table: table.name, columns: [column.name] })),
    ...moved
  ])
  builder.add(takeAway(dependents, dialect))
  for (const kind of constrained)
    for (const { table, member } of remade.filter((item) => item.kind === kind))
      builder.make(dropOf(table, kind, member))
  for (const { table, column } of computed) builder.make(dropOf(table, 'column', column))
  for (const { live: column, liveTable } of columns.filter(noLongerComputed)) {
    const plain = withProperty<Column>(withProperty<Column>(column, 'generated', undefined), 'virtual', undefined)
    const table = findTable(builder.state, liveTable.schema, liveTable.name)
    if (table) builder.add(dialect.alter.alterColumn(table, column, plain))
  }
  const holders = removed.filter((c) => c.address.kind === 'table' || c.address.kind === 'column')
  const early = holders.filter((change) => takesName(change, live, to, renames, dialect))
  for (const change of early) builder.make(change)

  const gone = new Set([
    ...remade.map(({ kind, table, member }) => place(memberAddress(table, kind, member))),
    ...computed.map(({ table, column }) => place(memberAddress(table, 'column', column)))
  ])
  const kept = renames.filter((change) => !gone.has(place(change.address)))
  for (const change of orderRenames(kept, live, dialect)) builder.make(change)

  const schemas = new Set(live.tables.map((table) => table.schema).concat(live.defaultSchema))
  for (const change of added)
    if (change.address.kind === 'table' && !schemas.has(change.address.schema)) {
      schemas.add(change.address.schema)
      builder.addPlain(dialect.write.createSchema(change.address.schema), `makes the schema ${change.address.schema}`)
    }
  for (const change of added) if (change.address.kind === 'table') builder.make(change)
  for (const change of added)
    if (change.object.kind === 'column' && change.object.value.generated === undefined) builder.make(change)
  // What becomes computed is so once all that it is worked out from has its form.
  for (const { address, wanted } of [...columns].sort((a, b) => Number(becomes(a)) - Number(becomes(b)))) {
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
    if (now && !says(comment, builder.state)) builder.make(comment)
  }
  for (const change of computedToMake(to, builder.state, dialect.write.lexis)) builder.make(change)

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
  for (const change of holders)
    if (!early.includes(change)) builder.make({ ...change, address: inTableOf(change.address) })
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

const becomes = ({ wanted }: AlteredColumn) => wanted.generated !== undefined

const ownTable = (address: Address): Address => ({ ...address, kind: 'table', name: address.table })

/** A table made a moment ago has no rows that could be in the way. */
const harmless = ({ preflight: _, ...draft }: StepDraft): StepDraft => ({ ...draft, hazards: [] })

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
function says(change: Alter, state: Catalog): boolean {
  const { address } = change
  const found =
    address.kind === 'table' ? findTable(state, address.schema, address.name) : findMember(state, address, address.kind)
  return found?.comment === change.to
}
