// What a text had not long ago, and has no more: it may come back.
import { allAttributes, type Attribute, type Design, type Edit, type Entity, type Link } from '../design'

/** What was in a text not long ago; the newest stands last. */
export interface Gone {
  readonly entities: readonly Entity[]
  readonly attributes: readonly Attribute[]
  readonly links: readonly Link[]
}

export const NOTHING_GONE: Gone = { entities: [], attributes: [], links: [] }
/** So many of a kind are remembered. */
const MOST = 500

/** What is gone once an edit has been made of a design, which it leads on from. */
export function goneAfter(gone: Gone, base: Design, edit: Edit): Gone {
  const [entities, attributes, links]: [Entity[], Attribute[], Link[]] = [[], [], []]
  for (const one of edit.kind === 'all' ? edit.edits : [edit]) {
    if (one.kind !== 'object.set' && one.kind !== 'object.remove') continue
    const id = one.kind === 'object.set' ? one.object.id : one.id
    const [entity, link] = [base.entities[id], base.links[id]]
    if (one.collection === 'entities' && entity) {
      const left = one.kind === 'object.set' ? new Set(allAttributes(one.object).map((each) => each.id)) : new Set()
      attributes.push(...allAttributes(entity).filter((each) => !left.has(each.id)))
      if (one.kind === 'object.remove') entities.push(entity)
    } else if (one.kind === 'object.remove' && one.collection === 'links' && link) links.push(link)
  }
  if (entities.length + attributes.length + links.length === 0) return gone
  const add = <T>(list: readonly T[], more: readonly T[]) => [...list, ...more].slice(-MOST)
  return {
    entities: add(gone.entities, entities),
    attributes: add(gone.attributes, attributes),
    links: add(gone.links, links)
  }
}
