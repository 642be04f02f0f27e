// The soft ground under an area's cards, like a shoal on a chart.
import type { Box } from './route'

/** An SVG path around boxes, at a distance, with its corners rounded off; empty for none. */
export function hull(boxes: readonly Box[], margin: number): string {
  const corners = boxes.flatMap((b): [number, number][] => [
    [b.x - margin, b.y - margin],
    [b.x + b.width + margin, b.y - margin],
    [b.x + b.width + margin, b.y + b.height + margin],
    [b.x - margin, b.y + b.height + margin]
  ])
  const points = convex(corners)
  if (points.length < 3) return ''
  // Each corner is cut off and becomes the control point of a curve.
  let path = `M${point(cut(points, 0, -1))}`
  points.forEach((corner, i) => {
    path += `L${point(cut(points, i, -1))}Q${point(corner)} ${point(cut(points, i, 1))}`
  })
  return path + 'Z'
}

const point = ([x, y]: readonly [number, number]) => `${Math.round(x)} ${Math.round(y)}`

/** A point 70 pixels, or almost half the side, before or behind a corner. */
function cut(points: readonly (readonly [number, number])[], i: number, way: 1 | -1): [number, number] {
  const n = points.length
  const [corner, other] = [points[i % n], points[(i + way + n) % n]]
  if (!corner || !other) return [0, 0]
  const length = Math.hypot(other[0] - corner[0], other[1] - corner[1]) || 1
  const share = Math.min(70, length * 0.48) / length
  return [corner[0] + (other[0] - corner[0]) * share, corner[1] + (other[1] - corner[1]) * share]
}

/** The convex hull, by Andrew's monotone chain. */
function convex(points: readonly [number, number][]): [number, number][] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1])
  const half = (list: readonly [number, number][]) => {
    const chain: [number, number][] = []
    for (const p of list) {
      while (chain.length > 1 && cross(chain.at(-2), chain.at(-1), p) <= 0) chain.pop()
      chain.push(p)
    }
    return chain.slice(0, -1)
  }
  return [...half(sorted), ...half(sorted.reverse())]
}

const cross = (o: [number, number] | undefined, a: [number, number] | undefined, b: [number, number]) =>
  o && a ? (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]) : 0
