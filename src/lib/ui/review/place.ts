// From what something is said of to where it is changed.
import { ownerOf } from '../../core/design'
import type { Desk } from '../desk/desk.svelte'

/** Selects what an id is of, on every lens; nothing where it stands on none. */
export function goTo(desk: Desk, id: string) {
  const { entity, attribute, link } = ownerOf(desk.design, id)
  if (link) desk.select({ kind: 'link', link: link.id })
  else if (entity && attribute) desk.select({ kind: 'row', entity: entity.id, row: attribute.id })
  else if (entity) desk.select({ kind: 'entity', entity: entity.id })
  else if (desk.design.views[id]) desk.select({ kind: 'view', view: id })
  else if (desk.design.domains[id] || desk.design.commons[id]) desk.select({ kind: 'word', word: id })
}
