// The agreed state of a target: what both sides hold alike, object by object and property by property, with the
// identity of the design object that each came from.
import {
  MEMBER_KINDS,
  apply,
  findTable,
  members,
  propertyOf,
  renameIn,
  renamesOf,
  tableKey,
  withMembers,
  withProperty,
  withTable,
  type Address,
  type Catalog,
  type Change,
  type MemberKind,
  type MemberOf,
  type Origin,
  type Table
} from '../catalog'
import type { Dialect } from '../dialects'
import type { CompareInput } from './compare'
import { displaced, match, sameOrigin } from './match'
import { printedNow } from './printed'

/**
 * What is agreed from now on, after a run that had the effects given. Where the two sides are alike, that is agreed, in the live database's words; where they
 * differ (`changes` are their differences) the old agreement stands, and where there was none there is none still.
 */
export function agree(
  input: CompareInput,
  changes: readonly Change[],
  dialect: Dialect,
  effects: readonly Change[] = []
): Catalog {
  const known = printedNow(input, changes, effects, dialect)
  // What we made ourselves a moment ago is as wanted, in whatever words.
  const left = changes.filter((change) => !known.made.has(change))
  const agreed = agreeOn(input, left, dialect)
  return known.printed.length ? { ...agreed, printed: known.printed } : agreed
}

function agreeOn(input: CompareInput, changes: readonly Change[], dialect: Dialect): Catalog {
  const { renames } = match(input, dialect)
  const result = identified(input, renames, dialect)
  const old = input.agreed
  /** Where something wanted stands under the name the database has. */
  const tables = renamesOf(renames).tables
  const back = new Map(
    renames.map(({ address, to }) => {
      const table = tables.get(tableKey(address.schema, address.table)) ?? address.table
      return [placeOf({ ...address, table, name: to }), address]
    })
  )
  return changes.reduce((agreed, change) => keepOld(agreed, change, old, back), result)
}

/**
 * The older agreement in the names that a run has given, and without what it has taken away: a key or check that was only
 * to be out of the way is missing because of us, not because of somebody behind our back.
 */
export function afterRun(agreed: Catalog, effects: readonly Change[], dialect: Dialect): Catalog {
  const moves = effects.filter((change) => change.action === 'drop' || change.action === 'rename')
  return batches(moves).reduce((state, batch) => apply(batch, state, dialect.write), agreed)
}

/** One after the other, in as few lists as may be meant at once: a name that was given in a list is not taken in it. */
function batches(changes: readonly Change[]): Change[][] {
  const lists: Change[][] = []
  let given = new Set<string>()
  let kind = ''
  for (const change of changes) {
    const now = change.action === 'drop' ? 'drop' : change.address.kind === 'table' ? 'table' : 'member'
    if (now !== kind || given.has(change.address.name)) {
      lists.push([])
      given = new Set()
      kind = now
    }
    lists.at(-1)?.push(change)
    if (change.action === 'rename') given.add(change.to)
  }
  return lists
}

/**
 * Takes the database as it is for agreed, and runs nothing: all differences are then the design's. What nobody
 * designed is not agreed on: it stays a stranger, and no plan will remove it by itself.
 */
export function baseline(input: Omit<CompareInput, 'agreed'>, changes: readonly Change[], dialect: Dialect): Catalog {
  const { renames } = match(input, dialect)
  const made = new Set(changes.filter((c) => c.action === 'create').map((c) => placeOf(c.address)))
  const strangers = changes.filter((c) => c.action === 'drop' && !made.has(placeOf(c.address)))
  return strangers.reduce(
    (agreed, change) => keepOld(agreed, change, undefined, new Map()),
    identified(input, renames, dialect)
  )
}

const placeOf = (a: Address) => [a.kind, a.schema, a.table, a.kind === 'table' ? '' : a.name].join('\0')

type Rename = Change & { action: 'rename' }

/** `live` with the origins of the wanted objects that its own are matched with; objects nobody designed have none. */
function identified(input: CompareInput, renames: readonly Rename[], dialect: Dialect): Catalog {
  const named = renameIn(input.live, renamesOf(renames), dialect.write)
  const isDisplaced = displaced(renames)
  const wanted = new Map(input.wanted.tables.map((table) => [tableKey(table.schema, table.name), table]))
  return {
    ...input.live,
    tables: input.live.tables.map((table, i) => {
      const now = named.tables[i] ?? table
      const other = wanted.get(tableKey(now.schema, now.name))
      if (!other || isDisplaced('table', table, table.name, now.name)) return table
      const withMemberOrigins = MEMBER_KINDS.reduce((t, kind) => mark(t, now, other, kind, isDisplaced), table)
      return other.origin ? { ...withMemberOrigins, origin: other.origin } : withMemberOrigins
    })
  }
}

function mark<K extends MemberKind>(
  table: Table,
  named: Table,
  wanted: Table,
  kind: K,
  isDisplaced: ReturnType<typeof displaced>
): Table {
  const names = members(named, kind)
  const marked = members(table, kind).map((member, i): MemberOf[K] => {
    const name = names[i]?.name ?? member.name
    if (isDisplaced(kind, table, member.name, name)) return member
    const other = members(wanted, kind).find((m) => m.name === name)
    return other?.origin ? { ...member, origin: other.origin } : member
  })
  return withMembers(table, kind, marked)
}

/** The catalogue with what a difference speaks of as it was agreed on before. */
function keepOld(
  agreed: Catalog,
  change: Change,
  old: Catalog | undefined,
  back: ReadonlyMap<string, Address>
): Catalog {
  const { address } = change
  const tableName =
    change.action === 'drop' || change.action === 'rename'
      ? address.table
      : (back.get(placeOf({ ...address, kind: 'table', name: '' }))?.table ?? address.table)
  const name =
    change.action === 'create' || change.action === 'alter'
      ? (back.get(placeOf(address))?.name ?? address.name)
      : address.name
  const at = { ...address, table: tableName, name: address.kind === 'table' ? tableName : name }
  const oldTable = old && oldTableOf(old, agreed, at, address.kind === 'table' ? change.origin : undefined)
  if (at.kind === 'table') {
    if (change.action === 'alter') {
      const table = findTable(agreed, at.schema, at.table)
      if (!table || !oldTable) return agreed
      return withTable(
        agreed,
        at.schema,
        at.table,
        withProperty(table, change.property, propertyOf(oldTable, change.property))
      )
    }
    return change.action === 'rename' ? agreed : withTable(agreed, at.schema, oldTable?.name ?? at.table, oldTable)
  }
  const table = findTable(agreed, at.schema, at.table)
  return table ? withTable(agreed, at.schema, at.table, memberAsBefore(table, at, change, oldTable)) : agreed
}

function memberAsBefore(table: Table, at: Address, change: Change, oldTable: Table | undefined): Table {
  if (at.kind === 'table' || change.action === 'rename') return table
  const kind: MemberKind = at.kind
  const list = members(table, kind) as readonly MemberOf[MemberKind][]
  const olds = oldTable ? (members(oldTable, kind) as readonly MemberOf[MemberKind][]) : []
  const was = olds.find((m) => sameOrigin(m.origin, change.origin)) ?? olds.find((m) => m.name === at.name)
  const without = list.filter((member) => member.name !== at.name && member.name !== was?.name)
  const put = (next: readonly MemberOf[MemberKind][]) => withMembers(table, kind, next as never)
  if (change.action === 'alter') {
    if (!was) return put(without)
    return put(
      list.map((m) => (m.name === at.name ? withProperty(m, change.property, propertyOf(was, change.property)) : m))
    )
  }
  return put(was ? [...without, was] : without)
}

/** The same table in the older agreement: by identity, else by name. */
function oldTableOf(old: Catalog, agreed: Catalog, at: Address, made: Origin | undefined): Table | undefined {
  const origin = made ?? findTable(agreed, at.schema, at.table)?.origin
  // A table that moved to another schema counts as another table.
  const same = old.tables.find((t) => sameOrigin(t.origin, origin) && t.schema === at.schema)
  return same ?? findTable(old, at.schema, at.table)
}
