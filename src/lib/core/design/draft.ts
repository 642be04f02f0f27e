// A design that is being changed: each collection is copied at its first change, and changed in place from then on.
import type { CollectionName, Design, Entity, Link } from './schema'

export class Draft {
  private readonly own = new Set<CollectionName>()
  /** The links at each entity, at either end, by their ids; worked out when first asked for. */
  private links: Map<string, Map<string, Link>> | undefined

  constructor(private design: Design) {}

  /** As it stands by now; to be read, and not to be kept. */
  get now(): Design {
    return this.design
  }

  /** As it stands, for good: what is changed later is changed in a copy. */
  done(): Design {
    if (this.own.has('links')) drafts.delete(this.design.links)
    this.own.clear()
    return this.design
  }

  set(values: Partial<Pick<Design, 'name' | 'settings'>>): void {
    this.design = { ...this.design, ...values }
  }

  put<C extends CollectionName>(collection: C, object: Design[C][string]): void {
    const all = this.writable(collection)
    if (collection === 'links') this.relink(this.design.links[object.id], object as Link)
    all[object.id] = object
  }

  remove(collection: CollectionName, id: string): void {
    if (!(id in this.design[collection])) return
    const all = this.writable(collection)
    if (collection === 'links') this.relink(this.design.links[id], undefined)
    Reflect.deleteProperty(all, id)
  }

  entity(id: string, change: (entity: Entity) => Entity): void {
    const entity = this.design.entities[id]
    if (entity) this.put('entities', change(entity))
  }

  /** The links that an entity is an end of. */
  linksAt(entity: string): Link[] {
    this.links ??= atEntities(Object.values(this.design.links))
    return [...(this.links.get(entity)?.values() ?? [])]
  }

  private writable<C extends CollectionName>(collection: C): Record<string, Design[C][string]> {
    if (!this.own.has(collection)) {
      this.design = { ...this.design, [collection]: { ...this.design[collection] } }
      this.own.add(collection)
      if (collection === 'links') drafts.set(this.design.links, this)
    }
    return this.design[collection] as Record<string, Design[C][string]>
  }

  private relink(before: Link | undefined, after: Link | undefined): void {
    if (!this.links) return
    const ends = new Set([before, after].flatMap((link) => (link ? [link.parent, link.child] : [])))
    for (const end of ends) {
      const list = this.links.get(end) ?? new Map<string, Link>()
      this.links.set(end, list)
      if (after && (after.parent === end || after.child === end)) list.set(after.id, after)
      else if (before) list.delete(before.id)
    }
  }
}

function atEntities(links: readonly Link[]): Map<string, Map<string, Link>> {
  const found = new Map<string, Map<string, Link>>()
  for (const link of links)
    for (const end of new Set([link.parent, link.child])) {
      const list = found.get(end)
      if (list) list.set(link.id, link)
      else found.set(end, new Map([[link.id, link]]))
    }
  return found
}

/**
 * The rows of an entity in order: its attributes, and the links that bring it a parent's key. Links that were
 * never placed come first when they identify, else last.
 */
export const rowsOf = (draft: Draft, entity: Entity): string[] => inOrder(entity, draft.linksAt(entity.id))

/** The same for a design; its links are looked through once. */
export const rowIds = (design: Design, entity: Entity): string[] => rowsOf(draftOf(design), entity)

/** The links that an entity is an end of. */
export const linksAt = (design: Design, entity: string): Link[] => draftOf(design).linksAt(entity)

/** Of a set of links, the draft that has looked through them, or is changing them. */
const drafts = new WeakMap<Design['links'], Draft>()
function draftOf(design: Design): Draft {
  let draft = drafts.get(design.links)
  if (!draft) drafts.set(design.links, (draft = new Draft(design)))
  return draft
}

function inOrder(entity: Entity, links: readonly Link[]): string[] {
  const bringing = links.filter((link) => link.child === entity.id && link.kind !== 'many-to-many')
  const known = new Set([...entity.attributes.map((a) => a.id), ...bringing.map((l) => l.id)])
  const placed = entity.order.filter((id) => known.delete(id))
  const leading = new Set(bringing.filter((link) => link.identifying).map((link) => link.id))
  const left = [...known]
  return [...left.filter((id) => leading.has(id)), ...placed, ...left.filter((id) => !leading.has(id))]
}
