// What of a diagram is in sight, and how it is drawn: near, by elements; far out, all of it by one canvas, and among very many cards the lines
// that only pass by at any distance.
import { pathWithin, type Box, type Route } from '../../core/picture'
import type { Board, PlacedCard } from './board.svelte'

/** Below this, names are all that can be read; where there are many cards, one canvas draws everything. */
const FAR = 0.42
const FEW = 60

export class Sight {
  constructor(private readonly board: Board) {}

  private readonly crowded = $derived.by(() => this.board.picture.cards.length > FEW)
  readonly far = $derived.by(() => this.board.plane.view.k < (this.crowded ? FAR : FAR / 2))
  /** Not all of it is in view. */
  readonly isPart = $derived.by(() => {
    const { view, size } = this.board.plane
    const { width, height } = this.board.picture.box
    return width * view.k > size.width || height * view.k > size.height
  })

  private readonly parts = $derived.by(
    (): { cards: readonly PlacedCard[]; routes: readonly Route[]; passing: readonly Route[] } => {
      if (this.far) return { cards: [], routes: [], passing: [] }
      const { picture, plane } = this.board
      const [x = 0, y = 0, width = 0, height = 0] = plane.seen.split(' ').map(Number)
      const window: Box = { x, y, width, height }
      const inside = (box: Box) =>
        box.x < x + width && box.y < y + height && box.x + box.width > x && box.y + box.height > y
      const cards = picture.cards.filter(inside)
      const ids = new Set(cards.map((card) => card.id))
      const routes: Route[] = []
      const passing: Route[] = []
      for (const route of picture.routes) {
        if (!inside(boxOf(route))) continue
        if (this.crowded && !ids.has(route.parent) && !ids.has(route.child)) passing.push(route)
        else routes.push(cutTo(route, window))
      }
      return { cards, routes, passing }
    }
  )
  get cards() {
    return this.parts.cards
  }
  get routes() {
    return this.parts.routes
  }
  get passing() {
    return this.parts.passing
  }
}

const boxes = new WeakMap<Route, Box>()
function boxOf(route: Route): Box {
  const known = boxes.get(route)
  if (known) return known
  const [xs, ys] = [route.points.map(([x]) => x), route.points.map(([, y]) => y)]
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  const box = { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y }
  boxes.set(route, box)
  return box
}

const cut = new WeakMap<Route, Route>()
/** The route with its lines as far as they are seen; the same object as before where that is as it was, so that nothing is drawn anew. */
function cutTo(route: Route, window: Box): Route {
  const before = cut.get(route) ?? route
  const paths = route.lines.map((line) => pathWithin(line, window))
  if (before.lines.every(({ path }, i) => path === paths[i])) return before
  const now = { ...route, lines: route.lines.map((line, i) => ({ ...line, path: paths[i] ?? line.path })) }
  cut.set(route, now)
  return now
}
