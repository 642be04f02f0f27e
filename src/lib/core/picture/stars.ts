// Facts amid their dimensions: those of one fact in a ring around it, those that several share between these, and what says more of a
// dimension beyond it.
import type { Place } from '../design'
import { Taken } from './taken'
import type { LayoutRequest, Places } from './layout'

type Card = LayoutRequest['cards'][number]
export interface StarRequest extends Pick<LayoutRequest, 'cards' | 'links'> {
  readonly isFact: (id: string) => boolean
  /** The facts that lead to a dimension, by themselves or by what they are a part of. */
  readonly factsOf: (id: string) => readonly string[]
}

const GAP = 60
const STEP = 24

export function starPlaces({ cards, links, isFact, factsOf }: StarRequest): Places {
  const byId = new Map(cards.map((card) => [card.id, card]))
  const near = new Map<string, string[]>()
  for (const { from, to } of links) {
    if (!byId.has(from) || !byId.has(to)) continue
    near.set(from, [...(near.get(from) ?? []), to])
    near.set(to, [...(near.get(to) ?? []), from])
  }
  const taken = new Taken()
  const middles = new Map<string, Place>()
  /** As near to a place as there is room, away from `from`. */
  const put = (card: Card, wanted: Place, from: Place) => {
    const [dx, dy] = [wanted.x - from.x, wanted.y - from.y]
    const length = Math.hypot(dx, dy) || 1
    for (let step = 0; ; step++) {
      const at = { x: wanted.x + (dx / length) * step * STEP, y: wanted.y + ((dy || 1) / length) * step * STEP }
      const box = { x: at.x - card.width / 2 - GAP / 3, y: at.y - card.height / 2 - GAP / 4 }
      const size = { width: card.width + (GAP * 2) / 3, height: card.height + GAP / 2 }
      if (step < 400 && !taken.isFree({ ...box, ...size })) continue
      taken.add({ ...box, ...size })
      middles.set(card.id, at)
      return
    }
  }
  const facts = cards.filter(({ id }) => isFact(id))
  const ring = (fact: Card) => {
    const own = cards.filter(({ id }) => !isFact(id) && factsOf(id).join() === fact.id)
    const round = own.reduce((sum, card) => sum + card.width + card.height / 2 + GAP, 0) / (2 * Math.PI)
    return { own, radius: Math.max(fact.width / 2 + 200, fact.height / 2 + 140, round) }
  }
  let x = 0
  for (const fact of facts) {
    const { radius } = ring(fact)
    const shared = x === 0 ? 0 : 220
    x += x === 0 ? radius : radius + shared
    put(fact, { x, y: 0 }, { x, y: -1 })
    x += radius
  }
  for (const fact of facts) {
    const { own, radius } = ring(fact)
    const centre = middles.get(fact.id) ?? { x: 0, y: 0 }
    own.forEach((card, i) => {
      // From the top on; an ellipse, as panes are wider than high.
      const turn = ((i + 0.5) / own.length) * 2 * Math.PI - Math.PI / 2
      put(card, { x: centre.x + Math.cos(turn) * radius, y: centre.y + Math.sin(turn) * radius * 0.8 }, centre)
    })
  }
  const level = cards.filter(({ id }) => !isFact(id) && !middles.has(id) && factsOf(id).length > 1)
  for (const card of level) {
    const of = factsOf(card.id).flatMap((id) => middles.get(id) ?? [])
    const at = of.reduce((sum, place) => sum + place.x, 0) / of.length
    put(card, { x: at, y: -1 }, { x: at, y: 0 })
  }
  // What is left stands beyond what it is linked with, as far out as it takes.
  for (let left = cards.filter(({ id }) => !middles.has(id)); left.length > 0;) {
    const reached = left.filter(({ id }) => (near.get(id) ?? []).some((other) => middles.has(other)))
    for (const card of reached.length > 0 ? reached : left) {
      const next = (near.get(card.id) ?? []).find((id) => middles.has(id))
      const from = (next !== undefined && middles.get(next)) || { x, y: 0 }
      const centre = nearest(facts, middles, from)
      const away = { x: from.x + (from.x - centre.x || 1) * 0.01, y: from.y + (from.y - centre.y || 1) * 0.01 }
      put(card, away, from.x === centre.x && from.y === centre.y ? { x: from.x, y: from.y - 1 } : centre)
    }
    left = left.filter(({ id }) => !middles.has(id))
  }
  return Object.fromEntries(
    cards.map(({ id, width, height }) => {
      const at = middles.get(id) ?? { x: 0, y: 0 }
      return [id, { x: Math.round(at.x - width / 2), y: Math.round(at.y - height / 2) }]
    })
  )
}

function nearest(facts: readonly Card[], middles: ReadonlyMap<string, Place>, to: Place): Place {
  const far = facts.flatMap(({ id }) => middles.get(id) ?? [])
  return far.sort((a, b) => Math.hypot(a.x - to.x, a.y - to.y) - Math.hypot(b.x - to.x, b.y - to.y))[0] ?? to
}
