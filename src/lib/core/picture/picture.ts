// A whole diagram as numbers: cards with places, routes, areas. No DOM.
import type { Catalog } from '../catalog'
import { logical, plainTable } from '../derive'
import {
  leads,
  referencesIn,
  type Design,
  type Diagram,
  type Entity,
  type Link,
  type Place,
  type Subtypes,
  type View
} from '../design'
import { card, cardOf, greyed, inGrey, PLAIN_STYLE, tagged, viewCard, type Card, type CardStyle } from './card'
import { sidesOfGroups } from './groups'
import { hull } from './hull'
import { freePlace } from './layout'
import { nest } from './nest'
import { notationOf, type Notation } from './notation'
import { placedNotes, type PlacedNote } from './notes'
import { routes, type Box, type Route, type RoutedLink } from './route'
import type { Shape } from './shapes'
import { tablesOf } from './tables'
import { Taken } from './taken'

export interface PlacedCard extends Card {
  readonly x: number
  readonly y: number
  /** The outermost card that it stands in, and moves with. */
  readonly within?: string
  /** The entity, or the link, that a table was made from; nothing where it is the target's own. */
  readonly of?: string
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
  readonly notes: readonly PlacedNote[]
  readonly box: Box
  /** Entities and views that no place is known for yet: they stand somewhere, and a layout would do better. */
  readonly unplaced: readonly string[]
  readonly notation: Notation
}

/** The entities that a diagram shows. */
export const shown = (design: Design, diagram: Diagram): Entity[] =>
  Object.values(design.entities).filter(shownIn(diagram))

function shownIn({ area, only, hidden }: Diagram): (object: Entity | View) => boolean {
  const [ids, not] = [only && new Set(only), new Set(hidden)]
  return ({ id, area: own }) => (area === undefined || own === area) && (!ids || ids.has(id)) && !not.has(id)
}

/** An entity or a view, and all that lines lead to from it in so many steps. */
export function neighbourhood(design: Design, id: string, steps = 1): ReadonlySet<string> {
  const found = new Set([id])
  const links = drawnLinks(design)
  for (let step = 0; step < steps; step++) {
    const before = new Set(found)
    for (const { parent, child } of links) {
      if (before.has(parent)) found.add(child)
      if (before.has(child)) found.add(parent)
    }
  }
  return found
}

export interface PictureOptions {
  /** Places for the time being, of cards that are being dragged. */
  readonly moved?: Readonly<Record<string, Place>>
  /** Of what is not in it, nothing is drawn. */
  readonly only?: ReadonlySet<string> | undefined
  /** What the design makes for the target that a physical diagram is of; entities are drawn in its place until it is known. */
  readonly catalog?: Catalog | undefined
}

/** Works out a diagram. */
export function picture(design: Design, diagram: Diagram, { moved = {}, only, catalog }: PictureOptions = {}): Picture {
  const cards: PlacedCard[] = []
  const unplaced: string[] = []
  const notation = notationOf(diagram.notation)
  const { form } = notation
  const [grey, style] = [new Set(diagram.grey), styleOf(diagram)]
  const next = roomAfter(cards)
  const facts = factsByDimension(design, diagram)
  const put = (made: Card, of?: string) => {
    const { id } = made
    const place = moved[id] ?? diagram.places[id]
    if (!place) unplaced.push(id)
    const origin = of === undefined ? {} : { of }
    const role = diagram.stars?.[id]
    const told = role ? tagged(made, role, (facts.get(id)?.size ?? 0) > 1) : made
    cards.push({ ...(grey.has(id) ? greyed(told) : told), ...origin, ...(place ?? next()) })
  }
  const isShown = shownIn(diagram)
  const isWanted = (object: Entity | View) => isShown(object) && (!only || only.has(object.id))
  const tables = diagram.level === 'physical' && catalog ? tablesOf(catalog, design, style) : undefined
  if (tables) {
    // A bridge table stands where both sides of its link do; what the target has of its own, where all is shown.
    const isThere = (id: string): boolean => {
      const [entity, link] = [design.entities[id], design.links[id]]
      if (entity) return isWanted(entity)
      return link ? isThere(link.parent) && isThere(link.child) : diagram.area === undefined && !diagram.only && !only
    }
    const bridges: { readonly made: Card; readonly of: string }[] = []
    for (const { of, ...content } of tables.cards) {
      if (!isThere(of)) continue
      const made = cardOf(form, sized(style, diagram, content.id), content)
      if (design.links[of] && !diagram.places[made.id]) bridges.push({ made, of })
      else put(made, of)
    }
    const between = roomBetween(cards)
    for (const { made, of } of bridges) {
      const link = design.links[of]
      const place = moved[made.id] ?? (link && between(link.parent, link.child, made))
      if (!place) unplaced.push(made.id)
      cards.push({ ...(grey.has(made.id) ? greyed(made) : made), of, ...(place ?? next()) })
    }
  } else {
    const model = logical(design)
    for (const entity of Object.values(design.entities)) {
      if (!isWanted(entity)) continue
      const made = entityCard(entity, design, model, notation, sized(style, diagram, entity.id))
      if (made) put(made)
    }
  }
  for (const view of Object.values(design.views).filter(isWanted))
    put(viewCard(view, plainTable(view, design.settings), readBy(view, design), form, sized(style, diagram, view.id)))
  const groups = tables ? [] : Object.values(design.subtypes)
  const nested = notation.nests ? nest(cards, groups, form) : { cards, groups: [] }
  const outline = form.outline ?? ((card: Box) => card)
  const boxes = new Map<string, Box>(nested.cards.map((c) => [c.id, outline(c)]))
  const inside = new Set(nested.groups)
  const all = tables ? [...tables.links, ...reads(design)] : lines(design)
  const routed = routes(
    all.filter(({ id }) => !inside.has(id.split(' ')[0] ?? '')),
    boxes,
    notation,
    {
      groups: sidesOfGroups(
        groups.filter(({ id }) => !inside.has(id)),
        boxes,
        form
      ),
      obstacles: nested.cards,
      lines: diagram.lines ?? 'rounded'
    }
  )
  const housed = new Set(nested.cards.flatMap(({ id, within }) => (within === undefined ? [] : [id])))
  const notes = only ? [] : placedNotes(diagram.notes ?? [], moved, boxes, (id) => design.diagrams[id]?.name)
  const isGrey = ({ parent, child }: Route) => grey.has(parent) || grey.has(child)
  return {
    cards: nested.cards,
    routes:
      grey.size === 0
        ? routed.routes
        : routed.routes.map((route) => (isGrey(route) ? { ...route, grey: true, marks: inGrey(route.marks) } : route)),
    groups: routed.groups.map((at) => ({ id: at.group.id, shapes: notation.group(at) })),
    areas: diagram.area === undefined && !diagram.only && !only ? areaShapes(design, nested.cards) : [],
    notes,
    box: around([...nested.cards, ...notes, ...routed.routes.map((route) => reach(route, notation))]),
    unplaced: unplaced.filter((id) => !housed.has(id)),
    notation
  }
}

/** The facts that lead to each dimension, by themselves or by what they are a part of. */
export function factsByDimension({ links }: Design, { stars }: Diagram): ReadonlyMap<string, ReadonlySet<string>> {
  const found = new Map<string, Set<string>>()
  if (!stars) return found
  const parents = new Map<string, Link[]>()
  for (const link of Object.values(links)) parents.set(link.child, [...(parents.get(link.child) ?? []), link])
  for (const [fact, role] of Object.entries(stars)) {
    if (role !== 'fact') continue
    const seen = new Set<string>()
    const reach = (id: string) => {
      if (seen.has(id)) return
      seen.add(id)
      for (const { parent, identifying } of parents.get(id) ?? []) {
        if (stars[parent] === 'dimension') found.set(parent, (found.get(parent) ?? new Set()).add(fact))
        if (identifying) reach(parent)
      }
    }
    reach(fact)
  }
  return found
}

/** Places for cards that have none, each beside the one before: the others are looked at once. */
function roomAfter(cards: readonly PlacedCard[]): () => Place {
  let at: Place | undefined
  let seen = 0
  return () => {
    if (at === undefined) at = freePlace(cards)
    else {
      const last = cards.slice(seen).reduce((right, card) => Math.max(right, card.x + card.width), 0)
      at = { x: Math.max(at.x, Math.round(last + 60)), y: at.y }
    }
    seen = cards.length
    return at
  }
}

/** Places between two cards, as near to the middle as there is room. */
function roomBetween(cards: readonly PlacedCard[]): (one: string, other: string, size: Card) => Place | undefined {
  const taken = new Taken()
  const byId = new Map(cards.map((card) => [card.id, card]))
  for (const card of cards) taken.add(card)
  return (one, other, { width, height }) => {
    const [a, b] = [byId.get(one), byId.get(other)]
    if (!a || !b) return undefined
    const x = Math.round((a.x + a.width / 2 + b.x + b.width / 2 - width) / 2)
    const y = Math.round((a.y + a.height / 2 + b.y + b.height / 2 - height) / 2)
    // Row by row, alternately below and above.
    for (let step = 0; step < 30; step++) {
      const place = { x, y: y + (step % 2 === 0 ? 1 : -1) * Math.ceil(step / 2) * 30 }
      if (!taken.isFree({ ...place, width, height })) continue
      taken.add({ ...place, width, height })
      return place
    }
    return undefined
  }
}

function styleOf({ level, columns, shows, folded = [], wrapped = false }: Diagram): CardStyle {
  const said = shows ? new Set(shows) : PLAIN_STYLE.shows
  // Conceptual: names and links alone.
  if (level === 'conceptual') return { ...PLAIN_STYLE, columns: 'names', shows: new Set() }
  return { columns: columns ?? 'all', shows: said, folded: new Set(folded), wrapped }
}

const sized = (style: CardStyle, { widths }: Diagram, id: string): CardStyle =>
  widths?.[id] === undefined ? style : { ...style, width: widths[id] }

const known = new WeakMap<object, Map<string, Card>>()

/** A card is worked out anew only when its columns are. */
function entityCard(
  entity: Entity,
  design: Design,
  model: ReturnType<typeof logical>,
  { id, form }: Notation,
  style: CardStyle
): Card | undefined {
  const made = model.entity(entity.id)
  if (!made) return undefined
  const forms = known.get(made) ?? new Map<string, Card>()
  known.set(made, forms)
  const own = entity.attributes.some((attribute) => attribute.fields) ? [...style.folded].join(' ') : ''
  const key = `${id} ${style.columns} ${[...style.shows].join(' ')} ${style.wrapped} ${style.width} ${own}`
  const before = forms.get(key)
  // What a field leads to may have another name.
  if (before && !leads(design)) return before
  const result = card(made, plainTable(entity, design.settings), design, form, style)
  forms.set(key, result)
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

export function areaShapes(design: Pick<Design, 'areas'>, cards: readonly PlacedCard[]): AreaShape[] {
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
