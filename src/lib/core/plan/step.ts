// A step: one statement, and how to tell from the live catalogue whether it has been done.
import {
  addressKey,
  emptyCatalog,
  find,
  isFree,
  isView,
  memberAddress,
  PROPERTIES,
  propertyOf,
  renamedTo,
  Standing,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change,
  type Table,
  type View
} from '../catalog'
import { compareProperty, difference, isLeftUnsaid } from '../compare'
import type { Dialect, Hazard, Preflight, StepDraft } from '../dialects'

/** Something that the live catalogue shows, or does not. */
export interface Fact {
  readonly address: Address
  readonly present: boolean
  /** Besides being there, the object is like this one. */
  readonly like?: CatalogObject
  /** Besides being there, one property has this value. */
  readonly property?: { readonly name: string; readonly value: unknown }
}

export interface Step {
  readonly id: string
  /** Steps of one group run together or, where the engine can, not at all. */
  readonly group: number
  readonly statement: string
  readonly why: string
  readonly about: Address
  readonly effects: readonly Change[]
  /** What holds before the step, and what after it. Both empty for a step that may be repeated freely. */
  readonly before: readonly Fact[]
  readonly after: readonly Fact[]
  readonly hazards: readonly Hazard[]
  readonly preflight?: Preflight
  readonly changed?: Preflight
  /** What was cut off may be sent again. */
  readonly repeatable?: true
  /** Statements that bring the structure back to what it was before this step. */
  readonly undo: readonly string[]
  /** The id of the step of a person's own that this is. */
  readonly hand?: string
}

/** What runs in one transaction, and how to tell from the live catalogue whether it has been done. */
export interface Group {
  readonly id: number
  readonly before: readonly Fact[]
  readonly after: readonly Fact[]
}

/** The tables and views that changes touch, as they were before them, by `tableKey`. */
type Before = ReadonlyMap<string, Table | View | undefined>

/** The facts before and after a draft's effects; `state` is what stands after them. */
export function facts(
  { effects }: Pick<StepDraft, 'effects'>,
  before: Before,
  state: Standing,
  dialect: Dialect
): { before: Fact[]; after: Fact[] } {
  if (effects.length > 1) return netFacts(effects, before, state, dialect)
  return {
    before: effects.flatMap((change) => factsOf(change, 'before')),
    after: effects.flatMap((change) => factsOf(change, 'after'))
  }
}

/** What several changes come to in all: what is made and taken away again within is nothing. */
export function netFacts(
  changes: readonly Change[],
  from: Before,
  state: Standing,
  dialect: Dialect
): { before: Fact[]; after: Fact[] } {
  const inTables = changes.some(({ address: { kind } }) => kind === 'table' || kind === 'view' || !isFree(kind))
  const [old, now] = [some([...from.values()], dialect), some(standingAt([...from.keys()], state), dialect)]
  const others = changes.filter(({ address: { kind } }) => isFree(kind) && kind !== 'table' && kind !== 'view')
  const net = [...(inTables ? difference(old, now, [], dialect) : []), ...netOf(others)]
  // What is taken away and made again under its name is there before and after.
  const at = (action: 'create' | 'drop') =>
    new Set(net.filter((change) => change.action === action).map((change) => addressKey(change.address)))
  const [made, gone] = [at('create'), at('drop')]
  const before = net.filter((change) => change.action !== 'create' || !gone.has(addressKey(change.address)))
  const after = net.filter((change) => change.action !== 'drop' || !made.has(addressKey(change.address)))
  return {
    before: before.flatMap((change) => factsOf(change, 'before')),
    after: after.flatMap((change) => factsOf(change, 'after'))
  }
}

/** Of things that stand by themselves: what is made and taken away again is nothing. */
function netOf(changes: readonly Change[]): Change[] {
  const left: Change[] = []
  for (const change of changes) {
    const key = addressKey(change.address)
    const made = left.findIndex((other) => other.action === 'create' && addressKey(other.address) === key)
    if (change.action !== 'drop' || made < 0) left.push(change)
    else left.splice(made, left.length - made, ...left.slice(made + 1).filter((o) => addressKey(o.address) !== key))
  }
  return left
}

const standingAt = (keys: readonly string[], state: Standing) =>
  keys.map((key) => {
    const [schema = '', name = ''] = JSON.parse(key) as string[]
    return state.relation(schema, name)
  })

const some = (homes: readonly (Table | View | undefined)[], { profile }: Dialect): Catalog => ({
  ...emptyCatalog(profile.id, profile.defaultSchema),
  tables: homes.filter((home): home is Table => home !== undefined && !isView(home)),
  views: homes.filter((home): home is View => home !== undefined && isView(home))
})

function factsOf(change: Change, side: 'before' | 'after'): Fact[] {
  const { address } = change
  switch (change.action) {
    case 'create':
    case 'drop': {
      const there = (change.action === 'create') === (side === 'after')
      return [{ address, present: there, ...(there ? { like: change.object } : {}) }]
    }
    case 'rename': {
      const renamed = renamedTo(address, change.to)
      return [
        { address, present: side === 'before' },
        { address: renamed, present: side === 'after' }
      ]
    }
    case 'alter': {
      const value = side === 'before' ? change.from : change.to
      return [{ address, present: true, property: { name: change.property, value } }]
    }
  }
}

/**
 * Whether a step, or a group of steps, has been done, judged by what the database shows: its `after` holds, its `before` holds, or
 * neither, and then somebody must look. A step without facts may be repeated and counts as to do.
 */
export function stepState(
  step: Pick<Step, 'before' | 'after'>,
  live: Catalog | Standing,
  dialect: Dialect
): 'done' | 'to do' | 'unknown' {
  if (step.after.length === 0) return 'to do'
  if (step.after.every((fact) => holds(fact, live, dialect))) return 'done'
  return step.before.every((fact) => holds(fact, live, dialect)) ? 'to do' : 'unknown'
}

/** What is said of an object by statements of its own, or printed otherwise than it was given. */
const DESCRIBED: ReadonlySet<string> = new Set(['comment', 'rights', 'owner', 'definition', 'query', 'notes'])

function holds(fact: Fact, live: Catalog | Standing, dialect: Dialect): boolean {
  const { address } = fact
  const at = (place: Address) => (live instanceof Standing ? live.find(place) : find(live, place))
  const found = at(address)
  if (!found) return !fact.present
  if (!fact.present) return false
  const same = (name: string, value: unknown) =>
    compareProperty(address.kind, name, propertyOf(found, name), value, dialect) !== 'different'
  if (fact.property && !same(fact.property.name, fact.property.value)) return false
  const { like } = fact
  if (!like) return true
  if (like.kind === 'table')
    return like.value.columns.every((column) => at(memberAddress(like.value, 'column', column)) !== undefined)
  // How an engine prints a text that it was given is its own affair: there it is.
  return PROPERTIES[like.kind].every((name) => {
    const value = propertyOf(like.value, name)
    return DESCRIBED.has(name) || isLeftUnsaid(name, value) || same(name, value)
  })
}
