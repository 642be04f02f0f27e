// What the engine does to the children of a table by itself when their parent changes: no statement of a plan says it again.
import {
  sameValue,
  addressKey,
  addressOf,
  findTable,
  namesOf,
  propertyOf,
  type Catalog,
  type Change,
  type Options,
  type Relation,
  type Table
} from '../catalog'

/** The same for the same change, whatever table it is in. */
const keyOf = (change: Change): string =>
  `${change.action} ${addressKey(change.address)} ${change.action === 'alter' ? change.property : ''}`

/** Properties of a column that go down to the children's. */
const HANDED_DOWN: ReadonlySet<string> = new Set(['type', 'collation', 'nullable', 'generated'])

export interface Implied {
  /** What the plan has to say itself. */
  readonly own: readonly Change[]
  /** What comes about with a change. */
  with(change: Change): readonly Change[]
}

/** Tells changes of parents from those that follow from them: columns, checks, and the parts of keys and indexes. */
export function impliedByParents(changes: readonly Change[], live: Catalog, to: Catalog): Implied {
  const known = new Map(changes.map((change) => [keyOf(change), change]))
  const following = new Map<string, Change[]>()
  const own = changes.filter((change) => {
    const cause = causeOf(change, known, live, to)
    if (!cause) return true
    const key = keyOf(cause)
    following.set(key, [...(following.get(key) ?? []), change])
    return false
  })
  if (following.size === 0) return { own: changes, with: () => [] }
  const withAll = (change: Change): readonly Change[] => {
    const next = following.get(keyOf(change)) ?? []
    return next.flatMap((other) => [other, ...withAll(other)])
  }
  return { own, with: withAll }
}

export const parentsOf = (table: Table | undefined): readonly Relation[] =>
  table?.partition ? [table.partition.of] : (table?.inherits ?? [])

function causeOf(change: Change, known: ReadonlyMap<string, Change>, live: Catalog, to: Catalog): Change | undefined {
  const { kind, schema, table, name } = namesOf(change.address)
  if (change.action === 'rename') return undefined
  if (kind !== 'column' && kind !== 'check' && kind !== 'index' && kind !== 'primaryKey' && kind !== 'unique')
    return undefined
  if (change.action === 'alter' && (kind !== 'column' || !HANDED_DOWN.has(change.property))) return undefined
  const isPart = kind !== 'column' && kind !== 'check'
  // A part of a key or index is made before the whole, which then takes it in.
  if (isPart && change.action !== 'drop') return undefined
  // Only where it was a child before, and stays one, does the engine do it.
  const [was, now] = [findTable(live, schema, table), findTable(to, schema, table)]
  const kept = (change.action === 'drop' ? parentsOf(was) : parentsOf(now)).filter(
    (parent) =>
      (!was || parentsOf(was).some((other) => sameValue(other, parent))) &&
      (!now || parentsOf(now).some((other) => sameValue(other, parent)))
  )
  for (const parent of kept) {
    const whole = isPart ? partOf(change) : name
    if (whole === undefined) return undefined
    const found = known.get(keyOf({ ...change, address: addressOf(kind, parent.schema, parent.name, whole) }))
    if (found) return found
  }
  return undefined
}

const partOf = (change: Change): string | undefined =>
  change.action === 'drop'
    ? (propertyOf(change.object.value, 'options') as Options | undefined)?.['part of']
    : undefined

/** How many tables a table is a part of, one within the other. */
export function depthOf(table: Relation, catalog: Catalog): number {
  const parent = findTable(catalog, table.schema, table.name)?.partition?.of
  return parent ? 1 + depthOf(parent, catalog) : 0
}
