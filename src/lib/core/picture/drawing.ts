// All that a picture is drawn of, from back to front, each piece with the place that it is drawn at.
import { isFront } from './notes'
import type { Picture } from './picture'
import type { Route } from './route'
import type { PathShape, Shape } from './shapes'

export interface Piece {
  readonly x: number
  readonly y: number
  readonly shapes: readonly Shape[]
  /** The area whose colours it has, or its own tint. */
  readonly area?: string
  readonly tint?: number
}

/** Two lines beside each other are one broad line whose middle is taken out. */
const lineShapes = ({ lines, read, grey }: Route): PathShape[] =>
  lines.flatMap(({ path: d, dash = read ? '1.5 4' : undefined, double }) => [
    {
      kind: 'path',
      d,
      stroke: grey ? 'line' : 'soft',
      width: double ? 4.2 : 1.4,
      ...(dash === undefined ? {} : { dash })
    },
    ...(double ? [{ kind: 'path', d, stroke: 'ground', width: 1.6 } as const] : [])
  ])

export function drawing({ cards, routes, groups, areas, notes }: Picture): Piece[] {
  // Lines to cards within others pass over those.
  const holders = new Set(cards.flatMap(({ id, within }) => (within === undefined ? [] : [within, id])))
  const cardPieces = (isHolder: boolean): Piece[] =>
    cards
      .filter(({ id }) => holders.has(id) === isHolder)
      .map(({ x, y, ground, shapes, area }) => ({
        x,
        y,
        shapes: [...ground, ...shapes],
        ...(area === undefined ? {} : { area })
      }))
  const plain = (shapes: readonly Shape[]): Piece => ({ x: 0, y: 0, shapes })
  const notePieces = (front: boolean): Piece[] =>
    notes
      .filter((note) => isFront(note) === front)
      .flatMap(({ x, y, shapes, lead, tint }) => [...(lead.length > 0 ? [plain(lead)] : []), { x, y, shapes, tint }])
  return [
    ...areas.map(({ id, name, path, label }): Piece => ({
      x: 0,
      y: 0,
      area: id,
      shapes: [
        { kind: 'path', d: path, fill: 'area' },
        { kind: 'text', ...label, text: name.toUpperCase(), face: 'sans', size: 12, ink: 'soft' }
      ]
    })),
    ...notePieces(false),
    ...cardPieces(true),
    ...routes.map((route) => plain([...lineShapes(route), ...route.marks])),
    ...groups.map(({ shapes }) => plain(shapes)),
    ...cardPieces(false),
    ...notePieces(true)
  ]
}
