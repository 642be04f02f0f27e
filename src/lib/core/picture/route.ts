// The way of a link from card to card: right-angled, its ends spread along the sides so that no two share a point.
import type { Link } from '../design'
import { foot, type End } from './notation'

export interface Box {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

export type Side = 'left' | 'right' | 'top' | 'bottom'

export interface Route {
  readonly id: string
  /** The cards at its ends. */
  readonly parent: string
  readonly child: string
  /** SVG path of the line. */
  readonly path: string
  /** SVG paths of the marks at both ends. */
  readonly marks: string
  readonly dashed: boolean
  /** A view reads what it comes from: dotted, and without marks. */
  readonly read?: true
  /** Where a label stands. */
  readonly middle: { readonly x: number; readonly y: number }
  readonly points: readonly (readonly [number, number])[]
}

interface Placed {
  readonly link: RoutedLink
  readonly from: Side
  readonly to: Side
}

/** What is drawn of a link or a subtype: from the parent's card to the child's. */
export type RoutedLink = Pick<
  Link,
  'id' | 'parent' | 'child' | 'kind' | 'identifying' | 'parentRequired' | 'childRequired'
> & { readonly read?: true }

/** Routes all links whose two cards are there. */
export function routes(links: readonly RoutedLink[], boxes: ReadonlyMap<string, Box>): Route[] {
  const placed = links.flatMap((link): Placed[] => {
    const [a, b] = [boxes.get(link.parent), boxes.get(link.child)]
    if (!a || !b) return []
    const [from, to] = link.parent === link.child ? (['right', 'top'] as const) : sides(a, b)
    return [{ link, from, to }]
  })
  const ports = spread(placed, boxes)
  return placed.map((p) => draw(p, ports, boxes))
}

const GAP = 34

function sides(a: Box, b: Box): readonly [Side, Side] {
  if (b.x - (a.x + a.width) >= GAP) return ['right', 'left']
  if (a.x - (b.x + b.width) >= GAP) return ['left', 'right']
  if (b.y - (a.y + a.height) >= GAP) return ['bottom', 'top']
  if (a.y - (b.y + b.height) >= GAP) return ['top', 'bottom']
  return ['right', 'right']
}

type Ends = ReadonlyMap<string, readonly [number, number]>
const endKey = (link: string, end: 'parent' | 'child') => `${link} ${end}`

/** Gives each end a point on its side, in the order of where the lines go, so that they do not cross at the card. */
function spread(placed: readonly Placed[], boxes: ReadonlyMap<string, Box>): Ends {
  const bySide = new Map<string, { key: string; toward: number; side: Side; box: Box }[]>()
  const add = (card: string, side: Side, key: string, other: string) => {
    const [box, far] = [boxes.get(card), boxes.get(other)]
    if (!box || !far) return
    const flat = side === 'left' || side === 'right'
    const toward = flat ? far.y + far.height / 2 : far.x + far.width / 2
    const at = `${card} ${side}`
    const list = bySide.get(at)
    if (list) list.push({ key, toward, side, box })
    else bySide.set(at, [{ key, toward, side, box }])
  }
  for (const { link, from, to } of placed) {
    add(link.parent, from, endKey(link.id, 'parent'), link.child)
    add(link.child, to, endKey(link.id, 'child'), link.parent)
  }
  const points = new Map<string, readonly [number, number]>()
  for (const list of bySide.values()) {
    list.sort((a, b) => a.toward - b.toward || (a.key < b.key ? -1 : 1))
    list.forEach(({ key, side, box }, i) => {
      const flat = side === 'left' || side === 'right'
      const length = flat ? box.height : box.width
      const step = Math.min(28, length / (list.length + 1))
      const along = length / 2 + (i - (list.length - 1) / 2) * step
      points.set(
        key,
        flat
          ? [side === 'left' ? box.x : box.x + box.width, box.y + along]
          : [box.x + along, side === 'top' ? box.y : box.y + box.height]
      )
    })
  }
  return points
}

/** The route that each link had last, and between which points: most stay as they are. */
const drawn = new WeakMap<RoutedLink, { readonly between: string; readonly route: Route }>()

function draw(placed: Placed, ports: Ends, boxes: ReadonlyMap<string, Box>): Route {
  const { link, from, to } = placed
  const start = ports.get(endKey(link.id, 'parent')) ?? [0, 0]
  const end = ports.get(endKey(link.id, 'child')) ?? [0, 0]
  const edge = (id: string) => (boxes.get(id)?.x ?? 0) + (boxes.get(id)?.width ?? 0)
  const between = `${start} ${end} ${from} ${to} ${edge(link.parent)} ${edge(link.child)} ${boxes.get(link.parent)?.y}`
  const known = drawn.get(link)
  if (known?.between === between) return known.route
  const route = drawAnew(placed, start, end, boxes)
  drawn.set(link, { between, route })
  return route
}

function drawAnew({ link, from, to }: Placed, start: Point, end: Point, boxes: ReadonlyMap<string, Box>): Route {
  const box = boxes.get(link.parent)
  const points = link.parent === link.child && box ? loop(start, end, box) : elbow(start, end, from, to, boxes, link)
  const middle = points[Math.floor(points.length / 2)] ?? start
  const many = link.kind === 'many-to-many'
  const parentEnd: End = { many, optional: many ? true : !link.parentRequired }
  const childEnd: End = { many: link.kind !== 'one-to-one', optional: !link.childRequired }
  return {
    id: link.id,
    parent: link.parent,
    child: link.child,
    path: rounded(points),
    marks: link.read ? '' : foot(start, from, parentEnd) + foot(end, to, childEnd),
    dashed: !link.identifying,
    ...(link.read ? { read: true as const } : {}),
    middle: { x: middle[0], y: middle[1] },
    points
  }
}

type Point = readonly [number, number]

function loop(start: Point, end: Point, box: Box): Point[] {
  const [x, y] = [box.x + box.width + 30, box.y - 30]
  return [start, [x, start[1]], [x, y], [end[0], y], end]
}

function elbow(
  start: Point,
  end: Point,
  from: Side,
  to: Side,
  boxes: ReadonlyMap<string, Box>,
  link: RoutedLink
): Point[] {
  if (from === 'right' && to === 'right') {
    const [a, b] = [boxes.get(link.parent), boxes.get(link.child)]
    const x = Math.max((a?.x ?? 0) + (a?.width ?? 0), (b?.x ?? 0) + (b?.width ?? 0)) + 36
    return [start, [x, start[1]], [x, end[1]], end]
  }
  const flat = from === 'left' || from === 'right'
  if (flat) {
    if (Math.abs(start[1] - end[1]) < 1) return [start, end]
    const x = (start[0] + end[0]) / 2
    return [start, [x, start[1]], [x, end[1]], end]
  }
  if (Math.abs(start[0] - end[0]) < 1) return [start, end]
  const y = (start[1] + end[1]) / 2
  return [start, [start[0], y], [end[0], y], end]
}

/**
 * The path of a route, its points kept inside a window. Lines are upright or level, so what is seen through the window
 * stays as it is; dashes are not drawn where nobody looks, which is what makes a long line slow.
 */
export function pathWithin(route: Route, window: Box): string {
  const [right, bottom] = [window.x + window.width, window.y + window.height]
  const within = route.points.map(([x, y]): Point => [
    Math.min(right, Math.max(window.x, x)),
    Math.min(bottom, Math.max(window.y, y))
  ])
  return within.every(([x, y], i) => x === route.points[i]?.[0] && y === route.points[i]?.[1])
    ? route.path
    : rounded(within)
}

/** A path with its corners taken off. */
function rounded(points: readonly Point[]): string {
  const [first, ...rest] = points
  if (!first) return ''
  let path = `M${n(first[0])} ${n(first[1])}`
  rest.forEach((point, i) => {
    const [before, next] = [points[i] ?? point, rest[i + 1]]
    if (!next) {
      path += `L${n(point[0])} ${n(point[1])}`
      return
    }
    const r = Math.min(7, distance(before, point) / 2, distance(point, next) / 2)
    const [into, out] = [toward(point, before, r), toward(point, next, r)]
    path += `L${n(into[0])} ${n(into[1])}Q${n(point[0])} ${n(point[1])} ${n(out[0])} ${n(out[1])}`
  })
  return path
}

const n = (value: number) => Math.round(value * 10) / 10
const distance = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1])
const toward = (from: Point, to: Point, length: number): Point => {
  const d = distance(from, to) || 1
  return [from[0] + ((to[0] - from[0]) * length) / d, from[1] + ((to[1] - from[1]) * length) / d]
}
