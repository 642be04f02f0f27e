// Plans for an engine that makes a table again to change it. Names are changed in place first, so that the engine
// carries them into all that speaks of them; what goes is moved out of the way of names; then each table that differs
// is made again; what holds rows goes last. If any table is made again, all of it is one transaction.
import {
  emptyCatalog,
  findTable,
  inTable,
  isCarried,
  memberAddress,
  members,
  namesOf,
  propertyOf,
  sameValue,
  tableAddress,
  type Address,
  type Catalog,
  type Change,
  type Index,
  type Table
} from '../catalog'
import { difference } from '../compare'
import { MADE_BY, nameKey, type Dialect, type Rebuilder, type RebuildNames, type StepDraft } from '../dialects'
import type { Builder } from './builder'
import { renameNames } from '../sql'
import { emit } from './emit'
import { hasColumn, orderRenames, temporaryName } from './names'
import type { Alter, Create } from './altered'
import { byWantedPlace, planCarried, putBack, takeAway } from './carried'

type Rename = Change & { action: 'rename' }

interface Input {
  readonly live: Catalog
  readonly to: Catalog
  readonly changes: readonly Change[]
  readonly renames: readonly Rename[]
  readonly rebuild: Rebuilder
  readonly builder: Builder
}

export function planByRebuilding({ live, to, changes, renames, rebuild, builder }: Input): void {
  const { dialect } = builder
  const removed = changes.filter((c): c is Change & { action: 'drop' } => c.action === 'drop')
  const dropped = removed.filter((c) => c.address.kind === 'table')
  const named = renames.filter(({ address: { kind } }) => kind === 'table' || kind === 'column')
  const evicted = evictions(removed, live, to, named, dialect)
  const moves = [...named, ...evicted]
  const tableNow = (name: string) =>
    moves.find((m) => m.address.kind === 'table' && namesOf(m.address).name === name)?.to ?? name

  // The state once names are changed: found out first, on a plan that is thrown away.
  const goneIndexes = indexesInTheWay(live, to, dropped, tableNow, dialect)
  const after = (make: Builder) => {
    for (const index of goneIndexes) make.make(index)
    for (const rename of orderRenames(moves, live, dialect)) make.make(rename)
  }
  const trial = builder.fresh()
  after(trial)
  const pairs = to.tables.flatMap((table) => {
    const now = trial.state.table(table.schema, table.name)
    const taken = dropped.some((d) => tableNow(namesOf(d.address).name) === table.name)
    return now && !taken ? [{ now, table, changes: changesWithin(now, table, builder) }] : []
  })
  const made = to.tables.filter((table) => !pairs.some((pair) => pair.table === table))
  const must = pairs.filter((pair) => pair.changes.some((change) => !rebuild.inPlace(pair.now, change)))
  // Before one transaction for all, only the making of a table anew can ask of a column that is yet to come.
  const again =
    must.length === 0
      ? []
      : pairs.filter((pair) => must.includes(pair) || pair.changes.some((c) => mayFail(c) && !asked(c, pair.now)))
  /** What is asked beforehand is asked in the names that are there then. */
  function asked(change: Change, now: Table): StepDraft['preflight'] {
    const was = findTable(live, now.schema, liveTableOf(now.name, moves))
    if (change.action !== 'create' || change.object.kind !== 'index' || !was) return undefined
    const old = liveNames(now.name, live, moves, []).live(now.name)
    const columns = new Map(now.columns.map((c) => [c.name, old?.column(c.name)]))
    const index = change.object.value
    const parts = index.parts.map((part) => ({ ...part, column: part.column && columns.get(part.column) }))
    if (parts.some((part) => part.column === undefined)) return undefined
    const renamed = new Map([...columns].flatMap(([name, before]) => (before === undefined ? [] : [[name, before]])))
    const { lexis, quote } = dialect.write
    const where = index.where === undefined ? {} : { where: renameNames(index.where, renamed, lexis, quote) }
    const own: Index = { ...index, parts: parts as Index['parts'], ...where }
    return dialect.alter.addMember(was, 'index', own).find((draft) => draft.preflight)?.preflight
  }

  const names = [...moves.map((move) => move.to), ...to.tables.map((table) => table.name)]
  const work = () => {
    const touched = [
      ...again.map((pair) => liveTableOf(pair.now.name, moves)),
      ...dropped.map((d) => namesOf(d.address).name)
    ]
    // A column cannot go while a view or trigger names it, though its table stays.
    const going = pairs
      .filter((pair) => !again.includes(pair))
      .flatMap((pair) =>
        pair.changes.flatMap(({ action, address }) =>
          action === 'drop' && address.kind === 'column'
            ? [{ table: liveTableOf(pair.now.name, moves), columns: [liveColumnOf(address, moves)] }]
            : []
        )
      )
    const carried = planCarried({
      live,
      to,
      removed,
      added: changes.filter((c): c is Create => c.action === 'create'),
      alters: changes.filter((c): c is Alter => c.action === 'alter'),
      renames: moves,
      dialect,
      changing: [...touched.map((table) => ({ table })), ...going].map((item) => ({
        schema: live.defaultSchema,
        ...item
      })),
      inLiveNames: (address) => inTable(address, liveTableOf(namesOf(address).table, moves))
    })
    builder.add(takeAway(carried.away, dialect))
    after(builder)
    for (const table of made)
      if (!isMadeBy(table, made)) builder.add(withOwn(dialect.alter.createTable(table), table, made, 'create'))
    for (const table of made) {
      for (const index of table.indexes) builder.add(dialect.alter.addMember(table, 'index', index).map(withoutRisk))
    }
    for (const pair of again) {
      const now = builder.state.table(pair.now.schema, pair.now.name) ?? pair.now
      const drafts = rebuild.steps(now, pair.table, liveNames(pair.table.name, live, moves, names))
      const undo = rebuild.steps(pair.table, now, liveNames(pair.table.name, to, [], names))
      builder.makesAgain(pair.now)
      builder.add(withEffects(drafts, changesWithin(now, pair.table, builder), tableAddress(pair.table), undo))
    }
    for (const pair of pairs)
      if (!again.includes(pair)) {
        const late = pair.changes.filter((c) => c.action === 'drop' && c.address.kind === 'column')
        for (const change of pair.changes) {
          if (late.includes(change)) continue
          const test = must.length > 0 && mayFail(change) ? asked(change, pair.now) : undefined
          const drafts = emit(change, builder.state, dialect)
          builder.add(test ? drafts.map((draft) => (draft.preflight ? { ...draft, preflight: test } : draft)) : drafts)
        }
        for (const change of late) builder.make(change)
      }
    // Tables that go may name each other: they go together.
    builder.together(() => {
      const going = dropped.flatMap(({ object }) => (object.kind === 'table' ? object.value : []))
      for (const change of dropped) {
        if (change.object.kind === 'table' && isMadeBy(change.object.value, going)) continue
        const table = builder.state.table(namesOf(change.address).schema, tableNow(namesOf(change.address).name))
        if (table) builder.add(withOwn(dialect.alter.dropTable(table), table, going, 'drop'))
      }
    })
    const back = { live, to, renames: moves, dialect, before: byWantedPlace(carried.away, moves) }
    for (const drafts of putBack([...carried.early, ...carried.late], back)) builder.add(drafts)
    for (const change of [...carried.altersEarly, ...carried.altersLate]) builder.make(change)
  }
  if (again.length > 0) builder.together(work)
  else work()
}

/** Whether a table comes and goes with another that makes it for itself. */
const isMadeBy = (table: Table, tables: readonly Table[]): boolean =>
  table.options?.[MADE_BY] !== undefined && tables.some(({ name }) => name === table.options?.[MADE_BY])

/** The making or removal of a table, with those of the tables that it makes for itself. */
function withOwn(
  drafts: readonly StepDraft[],
  table: Table,
  tables: readonly Table[],
  action: 'create' | 'drop'
): StepDraft[] {
  const own = tables.filter(({ options }) => options?.[MADE_BY] === table.name)
  return drafts.map((draft, i) =>
    i > 0
      ? draft
      : {
          ...draft,
          effects: [
            ...draft.effects,
            ...own.map((value): Change => ({
              action,
              address: tableAddress(value),
              object: { kind: 'table', value: action === 'create' ? { ...value, indexes: [] } : value }
            }))
          ]
        }
  )
}

const mayFail = (change: Change) =>
  change.action === 'create' && change.object.kind === 'index' && change.object.value.unique

const withoutRisk = ({ preflight: _, ...draft }: StepDraft): StepDraft => ({ ...draft, hazards: [] })

/** What is dropped gives way to what has its name from now on. */
function evictions(
  removed: readonly (Change & { action: 'drop' })[],
  live: Catalog,
  to: Catalog,
  renames: readonly Rename[],
  dialect: Dialect
): Rename[] {
  const key = (name: string) => nameKey('table', name, dialect)
  const wantedTables = new Set(to.tables.map((table) => key(table.name)))
  const newName = (table: string) =>
    renames.find((r) => r.address.kind === 'table' && namesOf(r.address).name === table)?.to ?? table
  const taken: string[] = []
  const away = (address: Address): Rename => {
    const name = temporaryName(namesOf(address).name, live, taken)
    taken.push(name)
    return { action: 'rename', address, to: name }
  }
  return removed.flatMap(({ address }) => {
    if (address.kind === 'table') return wantedTables.has(key(namesOf(address).name)) ? [away(address)] : []
    if (address.kind !== 'column') return []
    const wanted = findTable(to, namesOf(address).schema, newName(namesOf(address).table))
    return hasColumn(wanted, namesOf(address).name, dialect) ? [away(address)] : []
  })
}

/** Indexes whose names are wanted elsewhere, or which differ: an index is dropped and made again. */
function indexesInTheWay(
  live: Catalog,
  to: Catalog,
  dropped: readonly Change[],
  newName: (table: string) => string,
  dialect: Dialect
): Change[] {
  const key = (name: string) => nameKey('index', name, dialect)
  const wanted = new Set(to.tables.flatMap((table) => [table.name, ...table.indexes.map((i) => i.name)].map(key)))
  const going = new Set(dropped.map((change) => namesOf(change.address).name))
  return live.tables.flatMap((table) =>
    table.indexes
      .filter((index) => {
        if (!wanted.has(key(index.name))) return false
        const home = to.tables.find((t) => t.indexes.some((i) => i.name === index.name))
        const same = home?.indexes.find((i) => i.name === index.name)
        const alike =
          same && ['unique', 'parts', 'where'].every((p) => sameValue(propertyOf(index, p), propertyOf(same, p)))
        return going.has(table.name) || home?.name !== newName(table.name) || !alike
      })
      .map((index): Change => ({
        action: 'drop',
        address: memberAddress(table, 'index', index),
        object: { kind: 'index', value: index }
      }))
  )
}

function changesWithin(now: Table, wanted: Table, builder: Builder): Change[] {
  const { profile } = builder.dialect
  const only = (table: Table): Catalog => ({
    ...emptyCatalog(profile.id, profile.defaultSchema),
    tables: [table]
  })
  // Views and triggers are not the table's own to make.
  return difference(only(now), only(wanted), [], builder.dialect).filter(
    (change) => !isCarried(change.address.kind) && (change.action !== 'alter' || change.certain)
  )
}

/** The last step of the making shows what has changed: all of it runs together or not at all. */
function withEffects(
  drafts: readonly StepDraft[],
  effects: readonly Change[],
  about: Address,
  undo: readonly StepDraft[]
): StepDraft[] {
  return drafts.map((draft, i) =>
    i < drafts.length - 1
      ? { ...draft, about, undo: [] }
      : { ...draft, about, effects, undo: undo.map((step) => step.statement) }
  )
}

const liveTableOf = (name: string, moves: readonly Rename[]): string => {
  const move = moves.find((m) => m.address.kind === 'table' && m.to === name)
  return move ? namesOf(move.address).name : name
}

/** The name that a column has before all renames, where its table is spoken of by its new one. */
function liveColumnOf(address: Address, moves: readonly Rename[]): string {
  const { table, name } = namesOf(address)
  const was = liveTableOf(table, moves)
  const own = moves.find((m) => m.address.kind === 'column' && namesOf(m.address).table === was && m.to === name)
  return own ? namesOf(own.address).name : name
}

function liveNames(table: string, live: Catalog, moves: readonly Rename[], taken: readonly string[]): RebuildNames {
  return {
    // A name that is free for good: of moved tables too.
    temporary: temporaryName(table, live, taken),
    live: (name) => {
      const was = liveTableOf(name, moves)
      const found = live.tables.find((t) => t.name === was)
      const displaced =
        was === name && moves.some((m) => m.address.kind === 'table' && namesOf(m.address).name === name)
      if (!found || displaced) return undefined
      return {
        table: was,
        column: (column) => {
          const own = moves.filter((m) => m.address.kind === 'column' && namesOf(m.address).table === was)
          const renamed = own.find((m) => m.to === column)
          const old = renamed ? namesOf(renamed.address).name : column
          if (old === column && own.some((m) => namesOf(m.address).name === column)) return undefined
          return members(found, 'column').some((c) => c.name === old) ? old : undefined
        }
      }
    }
  }
}
