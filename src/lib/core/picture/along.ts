// Places on lines: how far along they are, and where what stands on one has room.
import type { Box } from './route'
import type { Point } from './shapes'
import { Taken } from './taken'

/** A line in two, at a share of its length from 0 to 1. */
export function parted(points: readonly Point[], share = 0.5): readonly [Point[], Point[]] {
  const lengths = points.slice(1).map(([x, y], i) => Math.hypot(x - (points[i]?.[0] ?? 0), y - (points[i]?.[1] ?? 0)))
  let left = lengths.reduce((sum, length) => sum + length, 0) * share
  for (const [i, length] of lengths.entries()) {
    const [a, b] = [points[i], points[i + 1]]
    if (a && b && left <= length) {
      const part = length === 0 ? 0 : left / length
      const middle: Point = [a[0] + (b[0] - a[0]) * part, a[1] + (b[1] - a[1]) * part]
      return [
        [...points.slice(0, i + 1), middle],
        [middle, ...points.slice(i + 1)]
      ]
    }
    left -= length
  }
  return [[...points], [...points.slice(-1)]]
}

/** From the middle outwards. */
const SHARES = [0.5, 0.42, 0.58, 0.34, 0.66, 0.26, 0.74]

/**
 * How far along each line its symbol stands: as near to the middle as it is free of cards and of the symbols before it; in the middle where
 * there is no such place. Boxes are looked up by where they are.
 */
export function placeOnLines(
  lines: readonly (readonly Point[])[],
  size: { readonly width: number; readonly height: number },
  cards: Iterable<Box>
): number[] {
  const taken = new Taken()
  for (const card of cards) if (card.width > 0) taken.add(card)
  return lines.map((points) => {
    const boxAt = (share: number): Box => {
      const [x, y] = parted(points, share)[1][0] ?? [0, 0]
      return { x: x - size.width / 2, y: y - size.height / 2, ...size }
    }
    const share = SHARES.find((one) => taken.isFree(boxAt(one))) ?? 0.5
    taken.add(boxAt(share))
    return share
  })
}
