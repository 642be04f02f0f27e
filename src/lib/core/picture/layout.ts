// Places for cards that have none: what is linked stands together, parents before children. Dagre up to about 300 cards,
// ELK's layered algorithm, which stays quick far above, beyond.
import type { Place } from '../design'
import type { Card } from './card'

export interface LayoutRequest {
  readonly cards: readonly { readonly id: string; readonly width: number; readonly height: number }[]
  readonly links: readonly { readonly from: string; readonly to: string }[]
}

export type Places = Readonly<Record<string, Place>>

export const layoutRequest = (
  cards: readonly Card[],
  links: readonly { parent: string; child: string }[]
): LayoutRequest => {
  const ids = new Set(cards.map((card) => card.id))
  return {
    cards: cards.map(({ id, width, height }) => ({ id, width, height })),
    links: links
      .filter(({ parent, child }) => parent !== child && ids.has(parent) && ids.has(child))
      .map(({ parent, child }) => ({ from: parent, to: child }))
  }
}

/** Cards without any link, in rows below the rest. */
export function inRows(cards: LayoutRequest['cards'], top: number, room: number): Places {
  const places: Record<string, Place> = {}
  let [x, y, tallest] = [0, top, 0]
  for (const card of cards) {
    if (x > 0 && x + card.width > room) {
      x = 0
      y += tallest + 40
      tallest = 0
    }
    places[card.id] = { x, y }
    x += card.width + 40
    tallest = Math.max(tallest, card.height)
  }
  return places
}

/** A free place for one more card: to the right of all others, near the top. */
export function freePlace(taken: readonly { x: number; y: number; width: number; height: number }[]): Place {
  if (taken.length === 0) return { x: 40, y: 40 }
  const right = Math.max(...taken.map((box) => box.x + box.width))
  const top = Math.min(...taken.map((box) => box.y))
  return { x: Math.round(right + 60), y: Math.round(top) }
}
