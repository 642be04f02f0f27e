// The way of a link from card to card: right-angled, its ends spread along the sides so that no two share a point.
import { placeOnLines } from './along'
import { AWAY, type GroupSide } from './groups'
import type { DrawnLink, GroupAt, LineShape, Notation } from './notation'
import { fromSide, linePath, round as n, type Point, type Shape, type Side } from './shapes'

export interface Box {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

export interface Route {
  readonly id: string
  /** The cards at its ends. */
  readonly parent: string
  readonly child: string
  readonly points: readonly Point[]
  /** SVG paths of the line: one, or as many as it is drawn in. */
  readonly lines: readonly (LineShape & { readonly path: string })[]
  /** What stands on it and at its ends. */
  readonly marks: readonly Shape[]
  /** A view reads what it comes from: dotted, and without marks. */
  readonly read?: true
  /** An end of it is beside the matter. */
  readonly grey?: true
}

interface Placed {
  readonly link: RoutedLink
  readonly from: Side
  readonly to: Side
}

/** What a line is drawn of, and what stands at it. */
export interface RoutedLink extends DrawnLink {
  readonly read?: true
  /** A line from the symbol of a group, which `parent` is, to a subtype; `supertype` is the card that it is of. */
  readonly supertype?: string
}

/** How lines go: right-angled, with round corners or without; straight between where they leave cards; or in a bow. */
export type LineWay = 'rounded' | 'right-angled' | 'straight' | 'curved'

export interface Routed {
  readonly routes: Route[]
  readonly groups: GroupAt[]
}

/**
 * Routes all links whose two cards are there, and puts the symbols of groups where lines to them find room. `cards` are what lines lead to;
 * `obstacles` what nothing may stand on.
 */
export function routes(
  links: readonly RoutedLink[],
  cards: ReadonlyMap<string, Box>,
  notation: Notation,
  {
    groups,
    obstacles,
    lines = 'rounded'
  }: { readonly groups: readonly GroupSide[]; readonly obstacles: Iterable<Box>; readonly lines?: LineWay }
): Routed {
  const boxes = new Map(cards)
  const put = (id: string, [x, y]: Point) => boxes.set(id, { x, y, width: 0, height: 0 })
  for (const { group, about } of groups) put(group.id, about)
  const placed = links.flatMap((link): Placed[] => {
    const [a, b] = [boxes.get(link.parent), boxes.get(link.child)]
    if (!a || !b) return []
    const [from, to] = link.parent === link.child ? (['right', 'top'] as const) : sides(a, b, notation)
    return [{ link, from, to }]
  })
  const own = groups.map(({ group, side }): Placed => ({
    link: { ...NOTHING, id: group.id, parent: group.supertype, child: group.id },
    from: side,
    to: side
  }))
  const ports = spread([...placed, ...own], boxes)
  const symbols = groups.map(({ group, side }): GroupAt => {
    const at = ports.get(endKey(group.id, 'parent')) ?? [0, 0]
    return { group, at: fromSide(at, side)(AWAY), supertype: { at, side } }
  })
  for (const { group, at } of symbols) put(group.id, at)
  const starts = new Map(symbols.map(({ group, at }) => [group.id, at]))
  const ways = placed.map((p) => wayOf(p, ports, boxes, starts.get(p.link.parent), lines))
  const isNamed = ({ placed: { link } }: Way) => !link.read && link.supertype === undefined
  const named = notation.symbol ? ways.filter(isNamed) : []
  const shares = notation.symbol
    ? placeOnLines(
        named.map(({ points }) => points),
        notation.symbol,
        obstacles
      )
    : []
  const shareOf = new Map(named.map((way, i) => [way, shares[i]]))
  return { routes: ways.map((way) => draw(way, notation, shareOf.get(way), lines)), groups: symbols }
}

const NOTHING = { kind: 'one-to-one', identifying: true, parentRequired: true, childRequired: false } as const

const GAP = 34
/** No line meets a card nearer to its corner. */
const CORNER = 8

function sides(a: Box, b: Box, { form }: Notation): readonly [Side, Side] {
  if (b.x - (a.x + a.width) >= GAP) return ['right', 'left']
  if (a.x - (b.x + b.width) >= GAP) return ['left', 'right']
  // What stands below the box that lines lead to is in their way.
  if (form.hasBelow) return ['right', 'right']
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
      const step = list.length > 1 ? Math.min(28, (length - 2 * CORNER) / (list.length - 1)) : 0
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

interface Way {
  readonly placed: Placed
  readonly start: Point
  readonly end: Point
  readonly points: readonly Point[]
}

function wayOf(
  placed: Placed,
  ports: Ends,
  boxes: ReadonlyMap<string, Box>,
  symbol: Point | undefined,
  lines: LineWay
): Way {
  const { link, from, to } = placed
  const start = symbol ?? ports.get(endKey(link.id, 'parent')) ?? [0, 0]
  const end = ports.get(endKey(link.id, 'child')) ?? [0, 0]
  const box = boxes.get(link.parent)
  const isLoop = link.parent === link.child && box
  const isBent = lines === 'straight' || lines === 'curved'
  const points = isLoop
    ? loop(start, end, box)
    : isBent
      ? across(start, end, from, to, lines === 'curved')
      : elbow(start, end, from, to, boxes, link)
  return { placed, start, end, points }
}

/** The route that each link had last, and what it was made of: most stay as they are. */
const drawn = new WeakMap<RoutedLink, { readonly of: string; readonly route: Route }>()

function draw(way: Way, notation: Notation, share: number | undefined, lines: LineWay): Route {
  const { link } = way.placed
  const of = `${way.points.join(' ')} ${notation.id} ${share} ${lines}`
  const known = drawn.get(link)
  if (known?.of === of) return known.route
  const route = drawAnew(way, notation, share, lines)
  drawn.set(link, { of, route })
  return route
}

function drawAnew(
  { placed, start, end, points }: Way,
  notation: Notation,
  share: number | undefined,
  way: LineWay
): Route {
  const { link, from, to } = placed
  const at = {
    link,
    points,
    parent: { at: start, side: from },
    child: { at: end, side: to },
    ...(share === undefined ? {} : { share })
  }
  const isPlain = link.read ?? link.supertype !== undefined
  const lines = isPlain ? [{ points }] : notation.lines(at)
  const marks = link.read
    ? []
    : link.supertype === undefined
      ? notation.marks(at)
      : (notation.subtype?.(at.child) ?? [])
  return {
    id: link.id,
    parent: link.supertype ?? link.parent,
    child: link.child,
    points,
    lines: lines.map((line) => ({
      ...line,
      path: way === 'right-angled' ? linePath(...line.points) : rounded(line.points)
    })),
    marks,
    ...(link.read ? { read: true as const } : {})
  }
}

function loop(start: Point, end: Point, box: Box): Point[] {
  const [x, y] = [box.x + box.width + 30, box.y - 30]
  return [start, [x, start[1]], [x, y], [end[0], y], end]
}

/** How far a line leaves a card at a right angle: as far as marks reach. */
const STUB = 20
const STEPS = 12

/** From what stands at one end to what stands at the other: straight, or as a cubic curve that leaves both at right angles. */
function across(start: Point, end: Point, from: Side, to: Side, isCurved: boolean): Point[] {
  const [a, b] = [fromSide(start, from)(STUB), fromSide(end, to)(STUB)]
  if (!isCurved) return [start, a, b, end]
  const reach = Math.max(30, distance(a, b) / 2)
  const [c, d] = [fromSide(a, from)(reach), fromSide(b, to)(reach)]
  const at = (t: number): Point => {
    const [p, q, r, s] = [(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t ** 3]
    const on = (axis: 0 | 1) => n(p * a[axis] + q * c[axis] + r * d[axis] + s * b[axis])
    return [on(0), on(1)]
  }
  return [start, ...Array.from({ length: STEPS + 1 }, (_, i) => at(i / STEPS)), end]
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
 * The path of a line, its points kept inside a window. Where all of it is upright or level, what is seen through the
 * window stays as it is; dashes are not drawn where nobody looks, which is what makes a long line slow.
 */
export function pathWithin(line: Route['lines'][number], window: Box): string {
  const isSquare = line.points.every(([x, y], i) => {
    const [bx, by] = line.points[i - 1] ?? [x, y]
    return Math.abs(x - bx) < 0.01 || Math.abs(y - by) < 0.01
  })
  if (!isSquare) return line.path
  const [right, bottom] = [window.x + window.width, window.y + window.height]
  const within = line.points.map(([x, y]): Point => [
    Math.min(right, Math.max(window.x, x)),
    Math.min(bottom, Math.max(window.y, y))
  ])
  return within.every(([x, y], i) => x === line.points[i]?.[0] && y === line.points[i]?.[1])
    ? line.path
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

const distance = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1])
const toward = (from: Point, to: Point, length: number): Point => {
  const d = distance(from, to) || 1
  return [from[0] + ((to[0] - from[0]) * length) / d, from[1] + ((to[1] - from[1]) * length) / d]
}
