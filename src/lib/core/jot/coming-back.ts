// What leaves a text and comes back is the same: a line cut here and put in there. It is known by its name and type; what is typed
// anew under another name is something new.
import { sameValue } from '../catalog'
import { allAttributes, fieldsOf, linksAt, ownerOf, type Attribute, type Entity, type Link } from '../design'
import type { Draft, Reading } from './reading'
import { linkOf } from './rows'

/** The blocks with those lines that are new in them, but stood there or in one of these entities before, as what they were. */
export function comeBack(reading: Reading, drafts: readonly Draft[], entities: readonly Entity[]): readonly Draft[] {
  if (reading.fresh.size === 0) return drafts
  const left = leftOf(reading, drafts, entities)
  if (left.attributes.length + left.links.length === 0) return drafts
  const free = new Map<string, Attribute[]>()
  for (const one of left.attributes) {
    const key = one.name.toLowerCase()
    free.set(key, [...(free.get(key) ?? []), one])
  }
  const taken = new Set<string>()
  const parents = new Map([...reading.shells.values()].map((one) => [one.id, one]))
  const attribute = (now: Attribute): Attribute | undefined =>
    free.get(now.name.toLowerCase())?.findLast(({ id, type }) => !taken.has(id) && sameValue(type, now.type))
  const link = (now: Link): Link | undefined =>
    left.links.findLast(
      ({ id, parent, role, identifying, kind }) =>
        !taken.has(id) &&
        parent === now.parent &&
        role === now.role &&
        identifying === now.identifying &&
        kind === now.kind
    )
  const moved = (id: string, to: string) => {
    taken.add(to)
    const line = reading.lines.get(id)
    reading.lines.delete(id)
    if (line !== undefined) reading.lines.set(to, line)
    return to
  }
  /** With the fields in it, as far as they are called the same. */
  const asOld = (now: Attribute, old: Attribute): Attribute => {
    const fields = fieldsOf(now).map((field) => {
      const same = fieldsOf(old).find(({ id, name }) => name === field.name && !taken.has(id))
      return same ? asOld(field, same) : field
    })
    return { ...now, id: moved(now.id, old.id), ...(fields.length > 0 ? { fields } : {}) }
  }
  return drafts.map((draft) => {
    const ids = new Map<string, string>()
    const attributes = draft.entity.attributes.map((now) => {
      const old = reading.fresh.has(now.id) ? attribute(now) : undefined
      if (!old) return now
      ids.set(now.id, old.id)
      return asOld(now, old)
    })
    const says = new Map(draft.rows.map((row) => [row.id, row.says]))
    const links = draft.links.map((now) => {
      const old = reading.fresh.has(now.id) ? link(now) : undefined
      const [parent, said] = [parents.get(now.parent), says.get(now.id)]
      if (!old || !parent || !said) return now
      ids.set(now.id, moved(now.id, old.id))
      // Columns of its own that it holds are those of the entity where it was.
      const like = old.child === now.child ? old : { ...old, columns: {} }
      return linkOf(reading, draft.entity, parent, said, { ...now, role: now.role, dbName: now.dbName, old: like })
    })
    if (ids.size === 0) return draft
    const renamed = (id: string) => ids.get(id) ?? id
    const { entity } = draft
    return {
      ...draft,
      links,
      rows: draft.rows.map((row) => ({ ...row, id: renamed(row.id) })),
      entity: {
        ...entity,
        attributes,
        order: entity.order.map(renamed),
        primaryKey: entity.primaryKey.map(renamed)
      }
    }
  })
}

/** What a text lately had and has no more, and what it no longer has of these entities, whose lines are all read. */
function leftOf(reading: Reading, drafts: readonly Draft[], entities: readonly Entity[]) {
  const { base, lines, gone } = reading
  const there = new Set(drafts.flatMap(({ entity }) => allAttributes(entity).map(({ id }) => id)))
  const isLeft = ({ id }: { readonly id: string }) => !lines.has(id) && !there.has(id)
  const links = entities.flatMap(({ id }) => linksAt(base, id).filter(({ child }) => child === id))
  return {
    attributes: [
      ...gone.attributes.filter(({ id }) => !ownerOf(base, id).attribute && isLeft({ id })),
      ...entities.flatMap(allAttributes).filter(isLeft)
    ],
    links: [...gone.links.filter(({ id }) => !base.links[id]), ...links].filter(isLeft)
  }
}
