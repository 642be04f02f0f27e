// Layout by the two libraries for it, fed with the card sizes that the core has worked out.
import ELK from 'elkjs/lib/elk-api.js'
import elkWorkerUrl from 'elkjs/lib/elk-worker.min.js?url'
import { inRows, type LayoutRequest, type Places } from '../core/picture'
import { inLayers } from '../core/picture/arrange'

const MANY = 300

export async function layout(request: LayoutRequest): Promise<Places> {
  const linked = new Set(request.links.flatMap(({ from, to }) => [from, to]))
  const cards = request.cards.filter((card) => linked.has(card.id))
  const alone = request.cards.filter((card) => !linked.has(card.id))
  const places = cards.length > MANY ? await withElk({ ...request, cards }) : inLayers({ ...request, cards })
  const sizes = new Map(cards.map((card) => [card.id, card]))
  const boxes = Object.entries(places).map(([id, place]) => ({
    ...place,
    width: sizes.get(id)?.width ?? 0,
    height: sizes.get(id)?.height ?? 0
  }))
  const bottom = Math.max(0, ...boxes.map((box) => box.y + box.height))
  const right = Math.max(1200, ...boxes.map((box) => box.x + box.width))
  return { ...places, ...inRows(alone, cards.length ? bottom + 60 : 0, right) }
}

async function withElk({ cards, links, room }: LayoutRequest): Promise<Places> {
  const elk = new ELK({ workerUrl: elkWorkerUrl })
  const result = await elk.layout({
    id: 'root',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.layered.nodePlacement.strategy': 'SIMPLE',
      'elk.layered.thoroughness': '1',
      'elk.edgeRouting': 'POLYLINE',
      'elk.layered.spacing.nodeNodeBetweenLayers': String(90 + room),
      'elk.spacing.nodeNode': '36'
    },
    children: cards.map(({ id, width, height }) => ({ id, width, height })),
    edges: links.map(({ from, to }, i) => ({ id: String(i), sources: [from], targets: [to] }))
  })
  elk.terminateWorker()
  return Object.fromEntries(
    (result.children ?? []).map((node) => [node.id, { x: Math.round(node.x ?? 0), y: Math.round(node.y ?? 0) }])
  )
}
