// A step: one statement, and how to tell from the live catalogue whether it has been done.
import {
  addressKey,
  apply,
  findMember,
  findTable,
  memberAddress,
  PROPERTIES,
  propertyOf,
  tableKey,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change
} from '../catalog'
import { compareProperty, difference } from '../compare'
import type { Dialect, Hazard, Preflight, Shown, StepDraft } from '../dialects'

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
  /** Statements that bring the structure back to what it was before this step. */
  readonly undo: readonly string[]
  readonly shows?: Shown
  /** The id of the step of a person's own that this is. */
  readonly hand?: string
}

/** What runs in one transaction, and how to tell from the live catalogue whether it has been done. */
export interface Group {
  readonly id: number
  readonly before: readonly Fact[]
  readonly after: readonly Fact[]
}

/** The facts before and after a draft's effects. */
export function facts(
  draft: StepDraft,
  before: Catalog,
  dialect: Dialect
): { before: Fact[]; after: Fact[]; state: Catalog } {
  const state = apply(draft.effects, before, dialect.write)
  if (draft.effects.length > 1) return { state, ...netFacts(draft.effects, before, state, dialect) }
  return {
    state,
    before: draft.effects.flatMap((change) => factsOf(change, 'before')),
    after: draft.effects.flatMap((change) => factsOf(change, 'after'))
  }
}

/** What several changes come to in all: what is made and taken away again within is nothing. */
export function netFacts(
  changes: readonly Change[],
  from: Catalog,
  to: Catalog,
  dialect: Dialect
): { before: Fact[]; after: Fact[] } {
  const touched = new Set(changes.flatMap(tablesOf))
  const some = (catalog: Catalog): Catalog => ({
    ...catalog,
    tables: catalog.tables.filter((table) => touched.has(tableKey(table.schema, table.name)))
  })
  const net = difference(some(from), some(to), [], dialect)
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

const tablesOf = (change: Change): string[] => [
  tableKey(change.address.schema, change.address.table),
  ...(change.action === 'rename' ? [tableKey(change.address.schema, change.to)] : [])
]

function factsOf(change: Change, side: 'before' | 'after'): Fact[] {
  const { address } = change
  switch (change.action) {
    case 'create':
    case 'drop': {
      const there = (change.action === 'create') === (side === 'after')
      return [{ address, present: there, ...(there ? { like: change.object } : {}) }]
    }
    case 'rename': {
      const renamed = { ...address, name: change.to, ...(address.kind === 'table' ? { table: change.to } : {}) }
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
  live: Catalog,
  dialect: Dialect
): 'done' | 'to do' | 'unknown' {
  if (step.after.length === 0) return 'to do'
  if (step.after.every((fact) => holds(fact, live, dialect))) return 'done'
  return step.before.every((fact) => holds(fact, live, dialect)) ? 'to do' : 'unknown'
}

function holds(fact: Fact, live: Catalog, dialect: Dialect): boolean {
  const { address } = fact
  const found =
    address.kind === 'table' ? findTable(live, address.schema, address.name) : findMember(live, address, address.kind)
  if (!found) return !fact.present
  if (!fact.present) return false
  const same = (name: string, value: unknown) =>
    compareProperty(address.kind, name, propertyOf(found, name), value, dialect) !== 'different'
  if (fact.property && !same(fact.property.name, fact.property.value)) return false
  const { like } = fact
  if (!like) return true
  if (like.kind === 'table')
    return like.value.columns.every(
      (column) => findMember(live, memberAddress(like.value, 'column', column), 'column') !== undefined
    )
  return PROPERTIES[like.kind].every((name) => name === 'comment' || same(name, propertyOf(like.value, name)))
}
