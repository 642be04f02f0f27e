// Cards set in line with each other, or at equal distances.
import type { Place } from '../design'
import type { Box } from './route'

export const ALIGNMENTS = ['left', 'centre', 'right', 'top', 'middle', 'bottom'] as const
export type Alignment = (typeof ALIGNMENTS)[number]

type Boxes = readonly (Box & { readonly id: string })[]
type Moved = Record<string, Place>

/** Edges, or middles, on one line: that of the outermost, or of the middle of all. */
export function aligned(boxes: Boxes, how: Alignment): Moved {
  const flat = how === 'left' || how === 'centre' || how === 'right'
  const share = how === 'left' || how === 'top' ? 0 : how === 'centre' || how === 'middle' ? 0.5 : 1
  const from = Math.min(...boxes.map((box) => (flat ? box.x : box.y)))
  const to = Math.max(...boxes.map((box) => (flat ? box.x + box.width : box.y + box.height)))
  const at = from + (to - from) * share
  return Object.fromEntries(
    boxes.map(({ id, x, y, width, height }) => [
      id,
      flat ? { x: Math.round(at - width * share), y } : { x, y: Math.round(at - height * share) }
    ])
  )
}

/** The same room between each and the next, the first and the last staying; side by side where they have none between them. */
export function spaced(boxes: Boxes, way: 'across' | 'down'): Moved {
  const size = (box: Box) => (way === 'across' ? box.width : box.height)
  const place = (box: Box) => (way === 'across' ? box.x : box.y)
  const order = [...boxes].sort((a, b) => place(a) - place(b) || (a.id < b.id ? -1 : 1))
  const [first, last] = [order[0], order.at(-1)]
  if (!first || !last || order.length < 3) return {}
  const taken = order.reduce((sum, box) => sum + size(box), 0)
  const room = Math.max(LEAST, (place(last) + size(last) - place(first) - taken) / (order.length - 1))
  let at = place(first)
  return Object.fromEntries(
    order.map((box) => {
      const here = Math.round(at)
      at += size(box) + room
      return [box.id, way === 'across' ? { x: here, y: box.y } : { x: box.x, y: here }]
    })
  )
}

const LEAST = 12
