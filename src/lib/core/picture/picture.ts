// A whole diagram as numbers: cards with places, routes, areas. No DOM.
import { logical, plainTable } from '../derive'
import { leads, referencesIn, type Design, type Diagram, type Entity, type Place, type View } from '../design'
import { card, viewCard, type Card } from './card'
import { hull } from './hull'
import { freePlace } from './layout'
import { routes, type Box, type Route, type RoutedLink } from './route'

export interface PlacedCard extends Card {
  readonly x: number
  readonly y: number
}

export interface AreaShape {
  readonly id: string
  readonly name: string
  readonly tint: number
  readonly path: string
  readonly label: Place
}

export interface Picture {
  readonly cards: readonly PlacedCard[]
  readonly routes: readonly Route[]
  readonly areas: readonly AreaShape[]
  readonly box: Box
  /** Entities and views that no place is known for yet: they stand somewhere, and a layout would do better. */
  readonly unplaced: readonly string[]
}

/** The entities that a diagram shows. */
export const shown = (design: Design, diagram: Diagram): Entity[] =>
  Object.values(design.entities).filter(shownIn(diagram))

function shownIn({ area, only }: Diagram): (object: Entity | View) => boolean {
  const ids = only && new Set(only)
  return (object) => (area === undefined || object.area === area) && (!ids || ids.has(object.id))
}

/** An entity or a view, and all that a line leads to from it. */
export function neighbourhood(design: Design, id: string): ReadonlySet<string> {
  const found = new Set([id])
  for (const { parent, child } of drawnLinks(design)) {
    if (parent === id) found.add(child)
    if (child === id) found.add(parent)
  }
  return found
}

/**
 * Works out a diagram. `moved` are places for the time being, of cards that are being dragged; of what is not in `only`,
 * where that is given, nothing is drawn.
 */
export function picture(
  design: Design,
  diagram: Diagram,
  moved: Readonly<Record<string, Place>> = {},
  only?: ReadonlySet<string>
): Picture {
  const cards: PlacedCard[] = []
  const unplaced: string[] = []
  const model = logical(design)
  for (const entity of shown(design, diagram)) {
    if (only && !only.has(entity.id)) continue
    const made = cardOf(entity, design, model, diagram.columns)
    if (!made) continue
    const place = moved[entity.id] ?? diagram.places[entity.id]
    if (!place) unplaced.push(entity.id)
    cards.push({ ...made, ...(place ?? freePlace(cards)) })
  }
  for (const view of Object.values(design.views).filter(shownIn(diagram))) {
    if (only && !only.has(view.id)) continue
    const place = moved[view.id] ?? diagram.places[view.id]
    if (!place) unplaced.push(view.id)
    const name = plainTable(view, design.settings)
    cards.push({ ...viewCard(view, name, readBy(view, design)), ...(place ?? freePlace(cards)) })
  }
  const boxes = new Map<string, Box>(cards.map((c) => [c.id, c]))
  return {
    cards,
    routes: routes(drawnLinks(design), boxes),
    areas: diagram.area === undefined && !diagram.only && !only ? areaShapes(design, cards) : [],
    box: around(cards),
    unplaced
  }
}

const known = { all: new WeakMap<object, Card>(), keys: new WeakMap<object, Card>() }

/** A card is worked out anew only when its columns are. */
function cardOf(
  entity: Entity,
  design: Design,
  model: ReturnType<typeof logical>,
  columns: 'all' | 'keys' = 'all'
): Card | undefined {
  const made = model.entity(entity.id)
  if (!made) return undefined
  const before = known[columns].get(made)
  // What a field leads to may have another name.
  if (before && !leads(design)) return before
  const result = card(made, plainTable(entity, design.settings), design, columns)
  known[columns].set(made, result)
  return result
}

/** The entities and views that a view's text names as what it reads, each once. */
function readBy(view: View, design: Design): { readonly id: string; readonly name: string }[] {
  const ids = new Set(referencesIn(view.text).flatMap(({ id, part }) => (part === undefined ? [id] : [])))
  return [...ids].flatMap((id) => {
    const read = design.entities[id] ?? (id === view.id ? undefined : design.views[id])
    return read ? [{ id, name: read.name }] : []
  })
}

/** Links, subtypes drawn as identifying one-to-one links, and what views read. */
export function drawnLinks(design: Design): RoutedLink[] {
  const subtypes = Object.values(design.subtypes).flatMap((group) =>
    group.subtypes.map((child): RoutedLink => ({
      id: `${group.id} ${child}`,
      parent: group.supertype,
      child,
      kind: 'one-to-one',
      identifying: true,
      parentRequired: true,
      childRequired: false
    }))
  )
  const reads = Object.values(design.views).flatMap((view) =>
    readBy(view, design).map(({ id }): RoutedLink => ({
      id: `${view.id} ${id}`,
      parent: id,
      child: view.id,
      kind: 'one-to-many',
      identifying: true,
      parentRequired: true,
      childRequired: false,
      read: true
    }))
  )
  return [...Object.values(design.links), ...subtypes, ...reads]
}

function areaShapes(design: Design, cards: readonly PlacedCard[]): AreaShape[] {
  return Object.values(design.areas).flatMap((area) => {
    const own = cards.filter((c) => c.area === area.id)
    if (own.length === 0) return []
    const box = around(own)
    return [
      {
        id: area.id,
        name: area.name,
        tint: area.tint,
        path: hull(own, 34),
        label: { x: box.x + 6, y: box.y + box.height + 24 }
      }
    ]
  })
}

/** The box around boxes. */
export function around(boxes: readonly Box[]): Box {
  if (boxes.length === 0) return { x: 0, y: 0, width: 0, height: 0 }
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity]
  for (const b of boxes) {
    left = Math.min(left, b.x)
    top = Math.min(top, b.y)
    right = Math.max(right, b.x + b.width)
    bottom = Math.max(bottom, b.y + b.height)
  }
  return { x: left, y: top, width: right - left, height: bottom - top }
}
