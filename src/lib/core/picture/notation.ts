// Crow's foot: marks at the ends of a link. The foot is for many; a bar beside it or alone for one; a ring for none.
// Common practice since Everest's notation of 1976; no standard fixes the sizes.
import type { Side } from './route'

export interface End {
  readonly many: boolean
  readonly optional: boolean
}

const out: Readonly<Record<Side, readonly [number, number]>> = {
  left: [-1, 0],
  right: [1, 0],
  top: [0, -1],
  bottom: [0, 1]
}

/** SVG path of an end's marks at a point of a card's side. They reach 18 pixels out. */
export function foot(at: readonly [number, number], side: Side, end: End): string {
  const [dx, dy] = out[side]
  /** A point so far out of the card and so far along its side. */
  const p = (away: number, along: number) =>
    `${round(at[0] + dx * away + dy * along)} ${round(at[1] + dy * away + dx * along)}`
  const bar = (away: number) => `M${p(away, -5)}L${p(away, 5)}`
  const ring = (away: number) => {
    const r = 3.5
    return `M${p(away - r, 0)}A${r} ${r} 0 1 1 ${p(away + r, 0)}A${r} ${r} 0 1 1 ${p(away - r, 0)}`
  }
  if (end.many) return `M${p(10, 0)}L${p(0, -6)}M${p(10, 0)}L${p(0, 6)}` + (end.optional ? ring(14) : bar(13))
  return bar(6) + (end.optional ? ring(13) : bar(11))
}

const round = (value: number) => Math.round(value * 10) / 10
