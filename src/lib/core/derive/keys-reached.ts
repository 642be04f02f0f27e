// Which entities an edit may give other columns, told from the two designs alone.
import { linksAt, type Design, type Entity, type Link } from '../design'

/** The ids of what is other, new or gone. */
export function otherIn<T>(before: Readonly<Record<string, T>>, after: Readonly<Record<string, T>>): string[] {
  if (before === after) return []
  const found: string[] = []
  for (const id in after) if (before[id] !== after[id]) found.push(id)
  for (const id in before) if (!(id in after)) found.push(id)
  return found
}

/** Nothing where it may be any. */
export function keysReached(before: Design, after: Design): ReadonlySet<string> | undefined {
  if (before.settings !== after.settings || before.commons !== after.commons || before.subtypes !== after.subtypes)
    return undefined
  const reached = new Set<string>()
  /** Entities of which others may have other columns. */
  const open: string[] = []
  for (const id of otherIn(before.entities, after.entities)) {
    reached.add(id)
    if (givesOther(before.entities[id], after.entities[id])) open.push(id)
  }
  for (const id of otherIn(before.links, after.links))
    for (const [design, link] of [
      [before, before.links[id]],
      [after, after.links[id]]
    ] as const) {
      if (!link) continue
      reached.add(link.child)
      if (isInKeys(design.entities[link.child], link)) open.push(link.child)
    }
  const subtypes = new Map<string, readonly string[]>()
  for (const group of Object.values(after.subtypes))
    subtypes.set(group.supertype, [...(subtypes.get(group.supertype) ?? []), ...group.subtypes])
  const seen = new Set<string>()
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    if (seen.has(id)) continue
    seen.add(id)
    for (const subtype of subtypes.get(id) ?? []) {
      reached.add(subtype)
      open.push(subtype)
    }
    for (const design of [before, after])
      for (const link of linksAt(design, id))
        if (link.parent === id) {
          reached.add(link.child)
          if (isInKeys(design.entities[link.child], link)) open.push(link.child)
        }
  }
  return reached
}

const isInKeys = (entity: Entity | undefined, { id, identifying }: Link): boolean =>
  identifying ||
  entity === undefined ||
  entity.primaryKey.includes(id) ||
  entity.uniques.some(({ parts }) => parts.includes(id))

/** Whether an entity gives those that lead to it other columns: by its name, or by what its keys are made of. */
function givesOther(before: Entity | undefined, after: Entity | undefined): boolean {
  if (!before || !after) return true
  if (before.name !== after.name || before.identifier !== after.identifier || before.uniques !== after.uniques)
    return true
  if (before.primaryKey !== after.primaryKey && before.primaryKey.join() !== after.primaryKey.join()) return true
  if (before.attributes === after.attributes) return false
  const own = ({ attributes }: Entity) => new Map(attributes.map((one) => [one.id, one]))
  const [was, is] = [own(before), own(after)]
  const parts = [...after.primaryKey, ...after.uniques.flatMap((key) => key.parts)]
  return parts.some((id) => was.get(id) !== is.get(id))
}
