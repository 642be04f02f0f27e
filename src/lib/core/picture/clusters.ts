// Large diagrams in parts: what belongs together is laid out by itself, and the parts are packed into the shape of the pane. What belongs
// together is an area; where there are none, or a large one, what is linked more among itself than with the rest (label propagation: U.
// Raghavan, R. Albert, S. Kumara, 2007, from memory; here in a fixed order, so that the same design is laid out the same).
import type { Place } from '../design'
import type { LayoutRequest, Places } from './layout'

type Card = LayoutRequest['cards'][number]
type Links = LayoutRequest['links']

/** Cards that one layout takes at most, unless they cannot be told apart by their links. */
const MOST = 40
const LEAST = 3
const BETWEEN = 110

/** The cards that stand together, each once. */
export function clustersOf(cards: readonly Card[], links: Links): Card[][] {
  const byArea = new Map<string, Card[]>()
  for (const card of cards) {
    const key = card.area ?? ''
    const list = byArea.get(key)
    if (list) list.push(card)
    else byArea.set(key, [card])
  }
  return [...byArea].flatMap(([area, own]) => (area !== '' && own.length <= MOST ? [own] : communities(own, links)))
}

function communities(cards: readonly Card[], links: Links): Card[][] {
  if (cards.length <= MOST / 2) return [[...cards]]
  const near = new Map<string, string[]>(cards.map(({ id }) => [id, []]))
  for (const { from, to } of links) {
    if (!near.has(from) || !near.has(to)) continue
    near.get(from)?.push(to)
    near.get(to)?.push(from)
  }
  const label = new Map(cards.map(({ id }) => [id, id]))
  const size = new Map(cards.map(({ id }) => [id, 1]))
  /** What has few links decides first: a hub is of nobody. */
  const order = [...cards].sort((a, b) => (near.get(a.id)?.length ?? 0) - (near.get(b.id)?.length ?? 0))
  for (let round = 0; round < 12; round++) {
    let moved = 0
    for (const { id } of order) {
      const own = label.get(id) ?? id
      const votes = new Map<string, number>()
      for (const other of near.get(id) ?? []) {
        const theirs = label.get(other) ?? other
        // One with many others speaks less for each.
        votes.set(theirs, (votes.get(theirs) ?? 0) + 1 / Math.sqrt(near.get(other)?.length ?? 1))
      }
      let [best, most] = [own, votes.get(own) ?? 0]
      for (const [theirs, count] of votes)
        if (count > most + 1e-9 && (size.get(theirs) ?? 0) < MOST) [best, most] = [theirs, count]
      if (best === own) continue
      label.set(id, best)
      size.set(own, (size.get(own) ?? 1) - 1)
      size.set(best, (size.get(best) ?? 0) + 1)
      moved++
    }
    if (moved === 0) break
  }
  const groups = new Map<string, Card[]>()
  for (const card of cards) {
    const key = label.get(card.id) ?? card.id
    const list = groups.get(key)
    if (list) list.push(card)
    else groups.set(key, [card])
  }
  return merged([...groups.values()], near)
}

/** Groups of hardly anybody join the one that they are linked with most, or each other. */
function merged(groups: Card[][], near: ReadonlyMap<string, readonly string[]>): Card[][] {
  const home = new Map(groups.flatMap((group, i) => group.map(({ id }) => [id, i] as const)))
  const result = groups.map((group) => [...group])
  for (const [i, group] of result.entries()) {
    if (group.length >= LEAST || group.length === 0) continue
    const votes = new Map<number, number>()
    for (const { id } of group)
      for (const other of near.get(id) ?? []) {
        const theirs = home.get(other) ?? i
        if (theirs !== i) votes.set(theirs, (votes.get(theirs) ?? 0) + 1)
      }
    const [found] = [...votes].sort((a, b) => b[1] - a[1])
    if (!found || (result[found[0]]?.length ?? 0) >= MOST) continue
    result[found[0]]?.push(...group)
    for (const { id } of group) home.set(id, found[0])
    result[i] = []
  }
  const few = result.filter((group) => group.length > 0 && group.length < LEAST).flat()
  const chunks = Array.from({ length: Math.ceil(few.length / MOST) }, (_, i) => few.slice(i * MOST, (i + 1) * MOST))
  return [...result.filter((group) => group.length >= LEAST), ...chunks]
}

export interface Part {
  readonly places: Places
  readonly width: number
  readonly height: number
}

/** A part with its top left corner at nought. */
export function part(cards: readonly Card[], places: Places): Part {
  if (cards.length === 0) return { places: {}, width: 0, height: 0 }
  const boxes = cards.map((card) => ({ ...card, ...(places[card.id] ?? { x: 0, y: 0 }) }))
  const [left, top] = [Math.min(...boxes.map(({ x }) => x)), Math.min(...boxes.map(({ y }) => y))]
  return {
    places: Object.fromEntries(boxes.map(({ id, x, y }) => [id, { x: x - left, y: y - top }])),
    width: Math.max(...boxes.map(({ x, width }) => x + width)) - left,
    height: Math.max(...boxes.map(({ y, height }) => y + height)) - top
  }
}

/** Parts in shelves, tall ones first, as wide as makes the whole most like the shape: its width against its height. */
export function packed(parts: readonly Part[], shape: number): Places {
  const tallest = [...parts].sort((a, b) => b.height - a.height)
  const room = parts.reduce((sum, { width, height }) => sum + (width + BETWEEN) * (height + BETWEEN), 0)
  const widest = Math.max(0, ...parts.map(({ width }) => width))
  const even = Math.sqrt(room * shape)
  const tries = [0.8, 0.9, 1, 1.1, 1.25, 1.45].map((factor) => inShelves(tallest, Math.max(widest, even * factor)))
  const scale = ({ width, height }: Shelves) => Math.min(shape / width, 1 / height)
  const [first, ...more] = tries
  if (!first) return {}
  return more.reduce((best, one) => (scale(one) > scale(best) ? one : best), first).places
}

interface Shelves extends Part {
  readonly places: Record<string, Place>
}

function inShelves(parts: readonly Part[], most: number): Shelves {
  const places: Record<string, Place> = {}
  let [x, y, tall, width] = [0, 0, 0, 0]
  for (const one of parts) {
    if (x > 0 && x + one.width > most) {
      x = 0
      y += tall + BETWEEN
      tall = 0
    }
    for (const [id, at] of Object.entries(one.places)) places[id] = { x: Math.round(x + at.x), y: Math.round(y + at.y) }
    tall = Math.max(tall, one.height)
    width = Math.max(width, x + one.width)
    x += one.width + BETWEEN
  }
  return { places, width: Math.max(1, width), height: Math.max(1, y + tall) }
}
