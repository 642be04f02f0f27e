// Places by the layered layout of Dagre, fed with the card sizes that were worked out: in a worker, or on the command line.
import dagre from '@dagrejs/dagre'
import { clustersOf, packed, part, type Part } from './clusters'
import { inRows, type LayoutRequest, type Places } from './layout'

/** Below this, one layout has all of it, unless areas keep it apart. */
const FEW = 30

/** A whole diagram: parts that belong together, each laid out by itself, packed into the shape that is asked for. */
export function arrange(request: LayoutRequest): Places {
  const { cards, links, shape } = request
  const linked = new Set(links.flatMap(({ from, to }) => [from, to]))
  const leading = new Map<string, (typeof links)[number][]>()
  for (const link of links) {
    const list = leading.get(link.from)
    if (list) list.push(link)
    else leading.set(link.from, [link])
  }
  const areas = new Set(cards.map(({ area }) => area))
  const clusters =
    cards.length <= FEW && areas.size < 2 ? [[...cards]] : clustersOf(cards, links).filter(({ length }) => length > 0)
  const parts = clusters.map((own) => {
    const ids = new Set(own.map(({ id }) => id))
    const joined = own.filter(({ id }) => linked.has(id))
    const alone = own.filter(({ id }) => !linked.has(id))
    const inside = own.flatMap(({ id }) => (leading.get(id) ?? []).filter(({ to }) => ids.has(to)))
    const laid = inShape({ ...request, cards: joined, links: inside })
    const below = joined.length > 0 ? laid.height + 60 : 0
    const width = Math.max(laid.width, Math.sqrt(alone.reduce((sum, one) => sum + one.width * one.height, 0) * 2), 600)
    return part(own, { ...laid.places, ...inRows(alone, below, width) })
  })
  return packed(parts, shape)
}

/** From left to right; or from top to bottom, where that is nearer to the shape. */
function inShape(request: LayoutRequest): Part {
  const off = ({ width, height }: Part) => Math.abs(Math.log(width / height / request.shape))
  const across = part(request.cards, inLayers(request, 'LR'))
  if (request.cards.length < 4 || off(across) < Math.LN2) return across
  const down = part(request.cards, inLayers(request, 'TB'))
  return off(down) < off(across) ? down : across
}

function inLayers({ cards, links, room }: LayoutRequest, rankdir: 'LR' | 'TB'): Places {
  const graph = new dagre.graphlib.Graph({ multigraph: true })
  graph.setGraph({ rankdir, nodesep: 36, ranksep: 90 + room, marginx: 20, marginy: 20 })
  graph.setDefaultEdgeLabel(() => ({}))
  for (const { id, width, height } of cards) graph.setNode(id, { width, height })
  links.forEach(({ from, to }, i) => graph.setEdge(from, to, {}, String(i)))
  dagre.layout(graph)
  return Object.fromEntries(
    cards.map(({ id, width, height }) => {
      const node = graph.node(id)
      return [id, { x: Math.round((node.x ?? 0) - width / 2), y: Math.round((node.y ?? 0) - height / 2) }]
    })
  )
}
