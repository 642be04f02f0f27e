// Two states of a design held against each other, and three merged: object by object and field by field, by identity.
import { danglingReferences, type Dangling } from './check'
import { inDomains } from './domains'
import { COLLECTIONS, type CollectionName, type Design } from './schema'

/** One field of one object, or a whole object, that is otherwise. `path` goes into lists of objects by their ids. */
export interface DesignChange {
  readonly collection: CollectionName | 'design'
  readonly id: string
  /** Empty for an object that came or went. */
  readonly path: readonly string[]
  /** Nothing where it was not there. */
  readonly before?: unknown
  readonly after?: unknown
}

export interface Conflict {
  readonly ours: DesignChange
  readonly theirs: DesignChange
}

export interface Merged {
  /** The base with what both sides changed; where they are in conflict, it is as ours has it. */
  readonly design: Design
  readonly conflicts: readonly Conflict[]
}

const collections = Object.keys(COLLECTIONS) as CollectionName[]
type Fields = Readonly<Record<string, unknown>>

/** What it takes from one state to another, in the order of collections and ids. */
export function diff(before: Design, after: Design): DesignChange[] {
  const found: DesignChange[] = []
  for (const field of ['name', 'settings'] as const)
    compareValues({ collection: 'design', id: before.id }, [field], before[field], after[field], found)
  for (const collection of collections) {
    const [was, now]: [Fields, Fields] = [before[collection], after[collection]]
    for (const id of [...new Set([...Object.keys(was), ...Object.keys(now)])].sort()) {
      if (was[id] === now[id]) continue
      const at = { collection, id }
      if (was[id] === undefined || now[id] === undefined)
        found.push({
          ...at,
          path: [],
          ...(was[id] === undefined ? {} : { before: was[id] }),
          ...(now[id] === undefined ? {} : { after: now[id] })
        })
      else compareValues(at, [], was[id], now[id], found)
    }
  }
  return found
}

/** `apply(diff(a, b), a) = b`, up to fields that are not set. */
export const applyChanges = (changes: readonly DesignChange[], design: Design): Design =>
  changes.reduce<Design>((result, { collection, id, path, after }) => {
    if (collection === 'design') return setIn(result, path, after) as Design
    return setIn(result, [collection, id, ...path], after) as Design
  }, design)

/**
 * What two people made of one state, together. Where both changed the same thing otherwise, or one points at what the other
 * removed, that is a conflict, and as ours has it; all else of both sides is in it.
 */
export function merge(base: Design, ours: Design, theirs: Design): Merged {
  const [mine, yours] = [diff(base, ours), diff(base, theirs)]
  const conflicts: Conflict[] = []
  const byObject = new Map<string, DesignChange[]>()
  for (const our of mine) byObject.set(objectKey(our), [...(byObject.get(objectKey(our)) ?? []), our])
  let taken = yours.flatMap((their): DesignChange[] => {
    const mineToo = byObject.get(objectKey(their))?.find((our) => touches(our, their))
    if (!mineToo) return [their]
    if (same(mineToo, their)) return []
    const together = mergedList(mineToo, their)
    if (together) return [{ ...their, after: together }]
    conflicts.push({ ours: mineToo, theirs: their })
    return []
  })
  // A column whose type stays ours does not join a domain of theirs.
  for (const { ours, theirs: type } of [...conflicts])
    for (const their of taken.filter((one) => followsDomain(one, type))) {
      conflicts.push({ ours, theirs: their })
      taken = taken.filter((one) => one !== their)
    }
  // What one side removed and the other came to point at: of theirs, what points there, or else the removal, is left out.
  for (;;) {
    const design = applyChanges(taken, ours)
    const [loose] = danglingReferences(design)
    if (!loose) return { design: inDomains(design), conflicts }
    const blamed = taken.find((their) => points(their, loose)) ?? taken.find((their) => removes(their, loose.missing))
    const other = taken.find((their) => their.id === loose.holder)
    const left = blamed ?? other ?? taken[0]
    if (!left) return { design: ours, conflicts }
    const our = mine.find((change) => removes(change, loose.missing) || points(change, loose)) ?? mine[0]
    const gone = taken.filter((their) => their === left || followsDomain(left, their))
    if (our) conflicts.push(...gone.map((their) => ({ ours: our, theirs: their })))
    taken = taken.filter((their) => !gone.includes(their))
  }
}

const objectKey = ({ collection, id }: DesignChange) => `${collection} ${id}`

/** Whether a change is in the object that holds a reference, and brings it. */
const points = (change: DesignChange, { holder, missing }: Dangling): boolean =>
  change.id === holder &&
  change.after !== undefined &&
  [JSON.stringify(missing), `{${missing}`].some((name) => JSON.stringify(change.after).includes(name))

/** A column that does not join a domain does not take its type. */
const followsDomain = (domain: DesignChange, type: DesignChange): boolean =>
  domain.id === type.id &&
  domain.path.at(-1) === 'domain' &&
  type.path.join() === [...domain.path.slice(0, -1), 'type'].join()

const removes = ({ id, path, before, after }: DesignChange, missing: string): boolean =>
  after === undefined && before !== undefined && (path.length === 0 ? id === missing : path.at(-1) === missing)

/** Lists of ids that only say an order: what either side put in or took out, in an order that both can have. */
function mergedList(our: DesignChange, their: DesignChange): string[] | undefined {
  const field = our.path.at(-1)
  if (our.path.join('/') !== their.path.join('/') || (field !== 'order' && field !== ORDER)) return undefined
  const [base, mine, yours] = [our.before, our.after, their.after].map((list) =>
    Array.isArray(list) ? list.map(String) : []
  )
  if (!base || !mine || !yours) return undefined
  const common = base.filter((id) => mine.includes(id) && yours.includes(id))
  const order = (list: readonly string[]) => list.filter((id) => common.includes(id)).join()
  const moved = (list: readonly string[]) => order(list) !== common.join()
  if (moved(mine) && moved(yours) && order(mine) !== order(yours)) return undefined
  const [first, second] = moved(yours) ? [yours, mine] : [mine, yours]
  const result = first.filter((id) => second.includes(id) || !base.includes(id))
  second.forEach((id, i) => {
    if (result.includes(id) || base.includes(id)) return
    // Behind the one that it stands behind on its own side.
    const before = second
      .slice(0, i)
      .reverse()
      .find((other) => result.includes(other))
    result.splice(before === undefined ? 0 : result.indexOf(before) + 1, 0, id)
  })
  return result
}

/** Whether two changes are about one field, or one about an object that the other is inside of. */
function touches(a: DesignChange, b: DesignChange): boolean {
  if (a.collection !== b.collection || a.id !== b.id) return false
  const shorter = Math.min(a.path.length, b.path.length)
  return a.path.slice(0, shorter).every((part, i) => part === b.path[i])
}

const same = (a: DesignChange, b: DesignChange) =>
  a.path.length === b.path.length && JSON.stringify(sorted(a.after)) === JSON.stringify(sorted(b.after))

const isFields = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** Lists of objects that have ids are compared object by object; all other lists are one value. */
const byId = (value: unknown): Map<string, Fields> | undefined => {
  if (!Array.isArray(value)) return undefined
  const items = value.filter(
    (item): item is Fields & { id: string } => isFields(item) && typeof item['id'] === 'string'
  )
  return items.length === value.length ? new Map(items.map((item) => [item.id, item])) : undefined
}

function compareValues(
  at: Pick<DesignChange, 'collection' | 'id'>,
  path: readonly string[],
  before: unknown,
  after: unknown,
  found: DesignChange[]
): void {
  if (before === after) return
  const [was, now] = [byId(before), byId(after)]
  if (was && now && (was.size > 0 || now.size > 0)) {
    for (const id of [...new Set([...was.keys(), ...now.keys()])])
      compareValues(at, [...path, id], was.get(id), now.get(id), found)
    // What stays keeps its order, and what is new comes last, unless it is said otherwise.
    const usual = [...[...was.keys()].filter((id) => now.has(id)), ...[...now.keys()].filter((id) => !was.has(id))]
    if (usual.join() !== [...now.keys()].join())
      found.push({ ...at, path: [...path, ORDER], before: [...was.keys()], after: [...now.keys()] })
    return
  }
  // A value of a kind, a type say, is one thing; all other objects are as many things as they have fields.
  const isValue = (value: Fields) => 'kind' in value && !('id' in value) && path.length > 0
  if (isFields(before) && isFields(after) && !isValue(before) && !isValue(after) && before['id'] === after['id']) {
    for (const field of [...new Set([...Object.keys(before), ...Object.keys(after)])].sort())
      compareValues(at, [...path, field], before[field], after[field], found)
    return
  }
  if (JSON.stringify(sorted(before)) === JSON.stringify(sorted(after))) return
  found.push({ ...at, path, ...(before === undefined ? {} : { before }), ...(after === undefined ? {} : { after }) })
}

/** In a path: the order of a list of objects. */
const ORDER = '(order)'

function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted)
  if (!isFields(value)) return value
  const entries = Object.entries(value).filter(([, inner]) => inner !== undefined)
  return Object.fromEntries(entries.sort(([a], [b]) => (a < b ? -1 : 1)).map(([key, inner]) => [key, sorted(inner)]))
}

function setIn(value: unknown, path: readonly string[], after: unknown): unknown {
  const [head, ...rest] = path
  if (head === undefined) return after
  if (Array.isArray(value)) {
    const items = value as readonly { readonly id: string }[]
    if (head === ORDER) {
      const wanted = after as readonly string[]
      const place = (id: string) => (wanted.includes(id) ? wanted.indexOf(id) : wanted.length)
      return [...items].sort((a, b) => place(a.id) - place(b.id))
    }
    const at = items.findIndex((item) => item.id === head)
    const next = setIn(items[at], rest, after) as { readonly id: string } | undefined
    if (next === undefined) return items.filter((item) => item.id !== head)
    return at < 0 ? [...items, next] : items.map((item, i) => (i === at ? next : item))
  }
  const fields = isFields(value) ? value : {}
  const next = setIn(fields[head], rest, after)
  const others = Object.entries(fields).filter(([key]) => key !== head)
  return Object.fromEntries(next === undefined ? others : [...others, [head, next]])
}
