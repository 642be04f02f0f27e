// A whole diagram as numbers: cards with places, routes, areas. No DOM.
import { logical, plainTable } from '../derive'
import {
  leads,
  referencesIn,
  type Design,
  type Diagram,
  type Entity,
  type Place,
  type Subtypes,
  type View
} from '../design'
import { card, viewCard, type Card } from './card'
import { sidesOfGroups } from './groups'
import { hull } from './hull'
import { freePlace } from './layout'
import { nest } from './nest'
import { notationOf, type Notation } from './notation'
import { routes, type Box, type Route, type RoutedLink } from './route'
import type { Shape } from './shapes'

export interface PlacedCard extends Card {
  readonly x: number
  readonly y: number
  /** The outermost card that it stands in, and moves with. */
  readonly within?: string
}

export interface AreaShape {
  readonly id: string
  readonly name: string
  readonly tint: number
  readonly path: string
  readonly label: Place
  /** What it covers, with its name. */
  readonly box: Box
}

export interface Picture {
  /** What stands in another comes after it. */
  readonly cards: readonly PlacedCard[]
  readonly routes: readonly Route[]
  /** The symbols of subtypes' groups, with the lines from their supertypes. */
  readonly groups: readonly { readonly id: string; readonly shapes: readonly Shape[] }[]
  readonly areas: readonly AreaShape[]
  readonly box: Box
  /** Entities and views that no place is known for yet: they stand somewhere, and a layout would do better. */
  readonly unplaced: readonly string[]
  readonly notation: Notation
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
  const notation = notationOf(diagram.notation)
  for (const entity of shown(design, diagram)) {
    if (only && !only.has(entity.id)) continue
    const made = cardOf(entity, design, model, notation, diagram.columns)
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
    cards.push({ ...viewCard(view, name, readBy(view, design), notation.form), ...(place ?? freePlace(cards)) })
  }
  const nested = notation.nests ? nest(cards, Object.values(design.subtypes), notation.form) : { cards, groups: [] }
  const outline = notation.form.outline ?? ((card: Box) => card)
  const boxes = new Map<string, Box>(nested.cards.map((c) => [c.id, outline(c)]))
  const inside = new Set(nested.groups)
  const routed = routes(
    lines(design).filter(({ id }) => !inside.has(id.split(' ')[0] ?? '')),
    boxes,
    notation,
    {
      groups: sidesOfGroups(
        Object.values(design.subtypes).filter(({ id }) => !inside.has(id)),
        boxes,
        notation.form
      ),
      obstacles: nested.cards
    }
  )
  return {
    cards: nested.cards,
    routes: routed.routes,
    groups: routed.groups.map((at) => ({ id: at.group.id, shapes: notation.group(at) })),
    areas: diagram.area === undefined && !diagram.only && !only ? areaShapes(design, nested.cards) : [],
    box: around([...nested.cards, ...routed.routes.map((route) => reach(route, notation))]),
    unplaced: unplaced.filter((id) => !nested.cards.some((card) => card.id === id && card.within !== undefined)),
    notation
  }
}

const known = new WeakMap<object, Map<string, Card>>()

/** A card is worked out anew only when its columns are. */
function cardOf(
  entity: Entity,
  design: Design,
  model: ReturnType<typeof logical>,
  { id, form }: Notation,
  columns: 'all' | 'keys' | 'names' = 'all'
): Card | undefined {
  const made = model.entity(entity.id)
  if (!made) return undefined
  const forms = known.get(made) ?? new Map<string, Card>()
  known.set(made, forms)
  const before = forms.get(`${id} ${columns}`)
  // What a field leads to may have another name.
  if (before && !leads(design)) return before
  const result = card(made, plainTable(entity, design.settings), design, form, columns)
  forms.set(`${id} ${columns}`, result)
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

/** Links, subtypes and what views read, from card to card. */
export function drawnLinks(design: Design): RoutedLink[] {
  const subtypes = Object.values(design.subtypes).flatMap((group) =>
    group.subtypes.map((child): RoutedLink => ({ ...ofGroup(group, child), parent: group.supertype }))
  )
  return [...Object.values(design.links), ...subtypes, ...reads(design)]
}

/** The same, where subtypes are led to from the symbols of their groups. */
const lines = (design: Design): RoutedLink[] => [
  ...Object.values(design.links),
  ...Object.values(design.subtypes).flatMap((group) =>
    group.subtypes.map((child): RoutedLink => ({ ...ofGroup(group, child), supertype: group.supertype }))
  ),
  ...reads(design)
]

const ofGroup = (group: Subtypes, child: string): RoutedLink => ({
  ...PLAIN,
  id: `${group.id} ${child}`,
  parent: group.id,
  child,
  kind: 'one-to-one'
})
const PLAIN = { identifying: true, parentRequired: true, childRequired: false } as const

const reads = (design: Design): RoutedLink[] =>
  Object.values(design.views).flatMap((view) =>
    readBy(view, design).map(({ id }): RoutedLink => ({
      ...PLAIN,
      id: `${view.id} ${id}`,
      parent: id,
      child: view.id,
      kind: 'one-to-many',
      read: true
    }))
  )

function areaShapes(design: Design, cards: readonly PlacedCard[]): AreaShape[] {
  return Object.values(design.areas).flatMap((area) => {
    const own = cards.filter((c) => c.area === area.id)
    if (own.length === 0) return []
    const box = around(own)
    const label = { x: box.x + 6, y: box.y + box.height + 24 }
    return [
      {
        id: area.id,
        name: area.name,
        tint: area.tint,
        path: hull(own, GROUND),
        label,
        box: { x: box.x - GROUND, y: box.y - GROUND, width: box.width + 2 * GROUND, height: box.height + 2 * GROUND }
      }
    ]
  })
}

/** How far an area's ground reaches beyond its cards. */
const GROUND = 34

/** How far what stands at a line reaches from it. */
const BESIDE = 14

function reach({ points }: Route, { symbol }: Notation): Box {
  const [x, y] = [(symbol?.width ?? 0) / 2 + BESIDE, (symbol?.height ?? 0) / 2 + BESIDE]
  return around(points.map(([px, py]) => ({ x: px - x, y: py - y, width: 2 * x, height: 2 * y })))
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
