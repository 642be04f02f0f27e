// The agreed state of a target: what both sides hold alike, object by object and property by property, with the
// identity of the design object that each came from.
import {
  FREE_KINDS,
  KINDS,
  addressKey,
  addressOf,
  MEMBER_KINDS,
  find,
  findFree,
  findTable,
  freeAddress,
  inTable,
  isFree,
  members,
  namesOf,
  objectsOf,
  propertyOf,
  renameIn,
  renamedTo,
  renamesOf,
  Standing,
  tableKey,
  withMembers,
  withObjects,
  withProperty,
  sameOrigin,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change,
  type MemberKind,
  type MemberOf,
  type Origin,
  type Table
} from '../catalog'
import type { Dialect } from '../dialects'
import type { CompareInput } from './compare'
import { displaced, match } from './match'
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
  const agreement = new Agreement(identified(input, renames, dialect), input.agreed, renames)
  for (const change of changes) agreement.keepOld(change)
  return agreement.done()
}

/**
 * The older agreement in the names that a run has given, and without what it has taken away: a key or check that was only
 * to be out of the way is missing because of us, not because of somebody behind our back.
 */
export function afterRun(agreed: Catalog, effects: readonly Change[], dialect: Dialect): Catalog {
  const moves = effects.filter((change) => change.action === 'drop' || change.action === 'rename')
  const state = new Standing(agreed, dialect.write)
  // What was never agreed on has no part in this.
  const isKnown = (change: Change) => state.find(change.address) !== undefined
  for (const batch of batches(moves)) {
    if (batch[0]?.action === 'drop') {
      for (const change of batch) if (isKnown(change)) state.apply([change])
      continue
    }
    const known = batch.filter(isKnown)
    const leaving = new Set(known.map((change) => addressKey(change.address)))
    // What somebody took away gives its name to what has it now.
    for (const change of known) {
      const address = change.action === 'rename' ? renamedTo(change.address, change.to) : change.address
      const value = leaving.has(addressKey(address)) ? undefined : state.find(address)
      if (value) state.apply([{ action: 'drop', address, object: { kind: address.kind, value } as CatalogObject }])
    }
    state.apply(known)
  }
  return state.catalog()
}

/** One after the other, in as few lists as may be meant at once: a name that was given in a list is not taken in it. */
function batches(changes: readonly Change[]): Change[][] {
  const lists: Change[][] = []
  let given = new Set<string>()
  let kind = ''
  for (const change of changes) {
    const now = change.action === 'drop' ? 'drop' : change.address.kind === 'table' ? 'table' : 'member'
    if (now !== kind || given.has(namesOf(change.address).name)) {
      lists.push([])
      given = new Set()
      kind = now
    }
    lists.at(-1)?.push(change.action === 'rename' ? { ...change, turn: 0 } : change)
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
  const made = new Set(changes.filter((c) => c.action === 'create').map((c) => addressKey(c.address)))
  const strangers = changes.filter((c) => c.action === 'drop' && !made.has(addressKey(c.address)))
  const agreement = new Agreement(identified(input, renames, dialect), undefined, [])
  for (const change of strangers) agreement.keepOld(change)
  return agreement.done()
}

type Rename = Change & { action: 'rename' }

/**
 * `live` with the origins of the wanted objects that its own are matched with; objects nobody designed have none. What is
 * only carried is agreed on where it is wanted.
 */
function identified(input: CompareInput, renames: readonly Rename[], dialect: Dialect): Catalog {
  const named = renameIn(input.live, renamesOf(renames), dialect.write)
  const isDisplaced = displaced(renames)
  const tables = input.live.tables.map((table, i) => {
    const now = named.tables[i] ?? table
    const other = findTable(input.wanted, now.schema, now.name)
    if (!other || isDisplaced('table', table, table.name, now.name)) return withoutCarried(table)
    const withMemberOrigins = MEMBER_KINDS.reduce((t, kind) => mark(t, now, other, kind, isDisplaced), table)
    return {
      ...withMemberOrigins,
      ...(other.origin ? { origin: other.origin } : {}),
      ...(other.joins ? { joins: other.joins } : {})
    }
  })
  return FREE_KINDS.reduce<Catalog>(
    (result, kind) => {
      if (kind === 'table') return result
      const wanted = (object: object) => {
        const { schema, name } = namesOf(freeAddress(kind, object as never))
        return findFree(input.wanted, kind, schema, name) !== undefined
      }
      return withObjects(result, kind, objectsOf(input.live, kind).filter(wanted) as never)
    },
    { ...input.live, tables }
  )
}

/** Nobody designed the table: nothing that is only carried in it is agreed on. */
const withoutCarried = (table: Table): Table =>
  MEMBER_KINDS.reduce((t, kind) => (KINDS[kind].designed ? t : withMembers(t, kind, [])), table)

function mark<K extends MemberKind>(
  table: Table,
  named: Table,
  wanted: Table,
  kind: K,
  isDisplaced: ReturnType<typeof displaced>
): Table {
  const own = members(table, kind)
  if (own.length === 0) return table
  const names = members(named, kind)
  const others = new Map(members(wanted, kind).map((member) => [member.name, member]))
  const marked = own.flatMap((member, i): MemberOf[K][] => {
    const name = names[i]?.name ?? member.name
    if (isDisplaced(kind, table, member.name, name)) return [member]
    const other = others.get(name)
    if (!other && !KINDS[kind].designed) return []
    return [other?.origin ? { ...member, origin: other.origin } : member]
  })
  return withMembers(table, kind, marked)
}

/** What both sides hold alike, on the way to be agreed on. */
class Agreement {
  private readonly tables: Map<string, Table>
  private others: Catalog
  private readonly oldByOrigin = new Map<string, Table>()
  /** Where something wanted stands under the name that the database has. */
  private readonly back: ReadonlyMap<string, Address>

  constructor(
    alike: Catalog,
    private readonly old: Catalog | undefined,
    renames: readonly Rename[]
  ) {
    this.others = alike
    this.tables = new Map(alike.tables.map((table) => [tableKey(table.schema, table.name), table]))
    for (const table of old?.tables ?? []) if (table.origin) this.oldByOrigin.set(originKey(table, table.origin), table)
    const names = renamesOf(renames).tables
    this.back = new Map(
      renames.map(({ address, to }) => {
        const { schema, table } = namesOf(address)
        const now = inTable(address, names.get(tableKey(schema, table)) ?? table)
        return [addressKey(renamedTo(now, to)), address]
      })
    )
  }

  done(): Catalog {
    return { ...this.others, tables: [...this.tables.values()] }
  }

  /** What a difference speaks of is as it was agreed on before. */
  keepOld(change: Change): void {
    const { address } = change
    if (change.action === 'rename') return
    if (isFree(address.kind) && address.kind !== 'table') this.keepOther(change)
    else this.keepInTable(change)
  }

  private keepOther(change: Exclude<Change, { action: 'rename' }>) {
    const { kind } = change.address
    if (!isFree(kind)) return
    const was = this.old && find(this.old, change.address)
    const now = find(this.others, change.address)
    const list: readonly object[] = objectsOf(this.others, kind)
    const kept =
      change.action === 'alter' && was && now
        ? withProperty(now, change.property, propertyOf(was, change.property))
        : was
    const without = list.filter((object) => object !== now)
    this.others = withObjects(this.others, kind, (kept ? [...without, kept] : without) as never)
  }

  private keepInTable(change: Exclude<Change, { action: 'rename' }>) {
    const { address } = change
    const { schema, table } = namesOf(address)
    const home =
      change.action === 'drop'
        ? table
        : namesOf(this.back.get(addressKey(addressOf('table', schema, table))) ?? address).table
    const key = tableKey(schema, home)
    const now = this.tables.get(key)
    const isTable = address.kind === 'table'
    const old = this.oldTable(now, schema, home, isTable ? change.origin : undefined)
    if (isTable && change.action === 'alter') {
      if (now && old) this.tables.set(key, withProperty(now, change.property, propertyOf(old, change.property)))
    } else if (isTable) {
      if (old) this.tables.set(tableKey(schema, old.name), old)
      else this.tables.delete(key)
    } else if (now) {
      const name =
        change.action === 'drop' ? namesOf(address).name : namesOf(this.back.get(addressKey(address)) ?? address).name
      this.tables.set(key, memberAsBefore(now, address.kind as MemberKind, name, change, old))
    }
  }

  /** The same table in the older agreement: by identity, else by name. */
  private oldTable(now: Table | undefined, schema: string, name: string, made: Origin | undefined): Table | undefined {
    const origin = made ?? now?.origin
    // A table that moved to another schema counts as another table.
    const same = origin && this.oldByOrigin.get(originKey({ schema }, origin))
    return same ?? (this.old && findTable(this.old, schema, name))
  }
}

const originKey = ({ schema }: { readonly schema: string }, { id, part }: Origin) => JSON.stringify([schema, id, part])

function memberAsBefore<K extends MemberKind>(
  table: Table,
  kind: K,
  name: string,
  change: Exclude<Change, { action: 'rename' }>,
  oldTable: Table | undefined
): Table {
  const list = members(table, kind)
  const olds = oldTable ? members(oldTable, kind) : []
  const was = olds.find((m) => sameOrigin(m.origin, change.origin)) ?? olds.find((m) => m.name === name)
  const without = list.filter((member) => member.name !== name && member.name !== was?.name)
  if (change.action !== 'alter') return withMembers(table, kind, was ? [...without, was] : without)
  if (!was) return withMembers(table, kind, without)
  return withMembers(
    table,
    kind,
    list.map((m) => (m.name === name ? withProperty(m, change.property, propertyOf(was, change.property)) : m))
  )
}
