// How good a layout is: its shape against the pane's, how much of it is cards, how far its lines go and how often they cross; and how much
// longer it takes than reading the design as plain JSON.
import { harbour } from '../demo/harbour'
import type { Design } from '../src/lib/core/design'
import { printDesign } from '../src/lib/core/design'
import { drawnLinks, layoutRequest, picture } from '../src/lib/core/picture'
import { arrange } from '../src/lib/core/picture/arrange'
import { large } from './design'
import { median } from './median'

const PANE = 1.6

type Segment = readonly [number, number, number, number]

/** Where upright and level pieces of lines meet, counted from left to right. */
function crossings(segments: readonly Segment[]): number {
  const upright = segments.filter(([x1, , x2]) => x1 === x2).sort((a, b) => a[0] - b[0])
  let count = 0
  for (const [x1, y, x2, y2] of segments) {
    if (y !== y2) continue
    const [left, right] = [Math.min(x1, x2), Math.max(x1, x2)]
    let at = 0
    for (let high = upright.length; at < high;) {
      const middle = (at + high) >> 1
      if ((upright[middle]?.[0] ?? 0) <= left) at = middle + 1
      else high = middle
    }
    for (let next = upright[at]; next && next[0] < right; next = upright[++at])
      if (Math.min(next[1], next[3]) < y && y < Math.max(next[1], next[3])) count++
  }
  return count
}

function measured(name: string, design: Design) {
  const [diagram] = Object.values(design.diagrams)
  if (!diagram) return
  const bare = { ...diagram, places: {} }
  const request = layoutRequest(picture(design, bare), drawnLinks(design), PANE)
  const places = arrange(request)
  const text = printDesign(design)
  const time = median(() => arrange(request), 3) / median(() => JSON.parse(text))
  const { cards, routes } = picture(design, { ...bare, places })
  const [left, top] = [Math.min(...cards.map(({ x }) => x)), Math.min(...cards.map(({ y }) => y))]
  const width = Math.max(...cards.map((card) => card.x + card.width)) - left
  const height = Math.max(...cards.map((card) => card.y + card.height)) - top
  const area = cards.reduce((sum, card) => sum + card.width * card.height, 0)
  const segments = routes.flatMap(({ points }) =>
    points.slice(1).map(([x, y], i): Segment => [points[i]?.[0] ?? 0, points[i]?.[1] ?? 0, x, y])
  )
  const length =
    segments.reduce((sum, [x1, y1, x2, y2]) => sum + Math.hypot(x2 - x1, y2 - y1), 0) / (routes.length || 1)
  const sorted = [...cards].sort((a, b) => a.x - b.x)
  let overlaps = 0
  for (const [i, a] of sorted.entries())
    for (let j = i + 1, b = sorted[j]; b && b.x < a.x + a.width; b = sorted[++j])
      if (a.y < b.y + b.height && b.y < a.y + a.height) overlaps++
  console.log(
    `  ${name.padEnd(14)} shape ${(width / height / PANE).toFixed(2)} × the pane’s, ${Math.round((area / (width * height)) * 100)} % cards, ` +
      `${overlaps} overlaps, a line ${(length / (area / cards.length) ** 0.5).toFixed(1)} cards long and crossed ${((2 * crossings(segments)) / (routes.length || 1)).toFixed(1)} times, ` +
      `${time.toFixed(0)} × JSON.parse`
  )
}

console.log('layouts:')
measured('the demo', harbour())
for (const tables of [100, 300, 1000]) measured(`${tables} tables`, large(tables))
