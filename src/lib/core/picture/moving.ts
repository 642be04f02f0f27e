// A picture while some of its cards are on their way: they and the lines at them are worked out anew, all else is as it was, so that
// a move costs what it reaches. What it would shift beyond, ends of lines at the other cards say, follows once they are let go.
import type { Design, Diagram } from '../design'
import { placedNotes } from './notes'
import { areaShapes, picture, type Picture, type PictureOptions } from './picture'

/** `base` is the picture with nothing moved. */
export function withMoved(base: Picture, design: Design, diagram: Diagram, options: PictureOptions): Picture {
  const { moved = {} } = options
  const ids = new Set(Object.keys(moved))
  if (ids.size === 0) return base
  // What stands in another moves with it.
  if (base.cards.some(({ within }) => within !== undefined)) return picture(design, diagram, options)
  // At a neighbour's side, ends stand in the order of where their lines go: to its neighbours.
  const near = reached(base, ids)
  const wide = reached(base, near)
  const places = Object.fromEntries(base.cards.flatMap(({ id, x, y }) => (wide.has(id) ? [[id, { x, y }]] : [])))
  const part = picture(design, diagram, { ...options, only: wide, moved: { ...places, ...moved } })
  const cardsNow = new Map(part.cards.map((card) => [card.id, card]))
  const routesNow = new Map(part.routes.map((route) => [route.id, route]))
  const groupsNow = new Map(part.groups.map((group) => [group.id, group]))
  const cards = base.cards.map((card) => (ids.has(card.id) ? (cardsNow.get(card.id) ?? card) : card))
  const inMotion = new Set(cards.flatMap(({ id, area }) => (ids.has(id) && area !== undefined ? [area] : [])))
  const areas = Object.fromEntries(Object.entries(design.areas).filter(([id]) => inMotion.has(id)))
  const areasNow = new Map(areaShapes({ areas }, cards).map((area) => [area.id, area]))
  const isMoved = (group: string) => {
    const { supertype = '', subtypes = [] } = design.subtypes[group] ?? {}
    return ids.has(supertype) || subtypes.some((id) => ids.has(id))
  }
  return {
    ...base,
    cards,
    routes: base.routes.map((route) =>
      ids.has(route.parent) || ids.has(route.child) ? (routesNow.get(route.id) ?? route) : route
    ),
    groups: base.groups.map((group) => (isMoved(group.id) ? (groupsNow.get(group.id) ?? group) : group)),
    areas: base.areas.map((area) => areasNow.get(area.id) ?? area),
    notes:
      base.notes.length === 0
        ? base.notes
        : placedNotes(
            base.notes,
            moved,
            new Map(cards.map((card) => [card.id, card])),
            (id) => design.diagrams[id]?.name
          )
  }
}

/** Those, and what a line leads to from them. */
function reached({ routes }: Picture, from: ReadonlySet<string>): ReadonlySet<string> {
  const found = new Set(from)
  for (const { parent, child } of routes) {
    if (from.has(parent)) found.add(child)
    if (from.has(child)) found.add(parent)
  }
  return found
}
