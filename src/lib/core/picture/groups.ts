// At which side of its supertype's card the symbol of a group of subtypes stands: that which most of them are at.
import type { Subtypes } from '../design'
import type { CardForm } from './notation'
import type { Box } from './route'
import { fromSide, type Point, type Side } from './shapes'

/** How far the middle of a symbol is from the card. */
export const AWAY = 30

const middle = ({ x, y, width, height }: Box): Point => [x + width / 2, y + height / 2]

function sideOf(box: Box, others: readonly Box[], hasBelow: boolean): Side {
  const [x, y] = middle(box)
  const far = others.map(middle)
  const dx = far.reduce((sum, [at]) => sum + at - x, 0) / Math.max(1, far.length)
  const dy = far.reduce((sum, [, at]) => sum + at - y, 0) / Math.max(1, far.length)
  if (Math.abs(dx) > box.width / 2 + Math.abs(dy) / 4) return dx > 0 ? 'right' : 'left'
  if (dy > 0) return hasBelow ? 'right' : 'bottom'
  return 'top'
}

export interface GroupSide {
  readonly group: Subtypes
  readonly side: Side
  /** About where its symbol will be. */
  readonly about: Point
}

/** For each group whose supertype is shown with one of its subtypes; `boxes` are what lines lead to. */
export function sidesOfGroups(
  groups: readonly Subtypes[],
  boxes: ReadonlyMap<string, Box>,
  { hasBelow }: CardForm
): GroupSide[] {
  return groups.flatMap((group): GroupSide[] => {
    const box = boxes.get(group.supertype)
    const others = group.subtypes.flatMap((id) => boxes.get(id) ?? [])
    if (!box || others.length === 0) return []
    const side = sideOf(box, others, hasBelow === true)
    const [x, y] = middle(box)
    const flat = side === 'left' || side === 'right'
    const at: Point = flat
      ? [side === 'left' ? box.x : box.x + box.width, y]
      : [x, side === 'top' ? box.y : box.y + box.height]
    return [{ group, side, about: fromSide(at, side)(AWAY) }]
  })
}
