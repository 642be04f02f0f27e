// What a layout is asked for, and places for cards that nobody lays out.
import type { Place } from '../design'
import type { Picture } from './picture'

export interface LayoutRequest {
  readonly cards: readonly {
    readonly id: string
    readonly width: number
    readonly height: number
    readonly area?: string
  }[]
  readonly links: readonly { readonly from: string; readonly to: string }[]
  /** Pixels between cards, beside the usual, for what stands on lines. */
  readonly room: number
  /** The width of the place that it is for, against its height. */
  readonly shape: number
}

export type Places = Readonly<Record<string, Place>>

/** What a layout is asked for: cards that stand in others go where those go. */
export function layoutRequest(
  { cards, notation }: Picture,
  links: readonly { parent: string; child: string }[],
  shape = 1.5
): LayoutRequest {
  const outer = new Map(cards.map(({ id, within }) => [id, within ?? id]))
  return {
    cards: cards
      .filter(({ within }) => within === undefined)
      .map(({ id, width, height, area }) => ({ id, width, height, ...(area === undefined ? {} : { area }) })),
    links: links.flatMap(({ parent, child }) => {
      const [from, to] = [outer.get(parent), outer.get(child)]
      return from === undefined || to === undefined || from === to ? [] : [{ from, to }]
    }),
    room: notation.symbol?.width ?? 0,
    shape
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
