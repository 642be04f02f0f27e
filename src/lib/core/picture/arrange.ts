// Places by the layered layout of Dagre, fed with the card sizes that were worked out: in a worker, or on the command line.
import dagre from '@dagrejs/dagre'
import type { LayoutRequest, Places } from './layout'

export function inLayers({ cards, links, room }: LayoutRequest): Places {
  const graph = new dagre.graphlib.Graph({ multigraph: true })
  graph.setGraph({ rankdir: 'LR', nodesep: 36, ranksep: 90 + room, marginx: 20, marginy: 20 })
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
