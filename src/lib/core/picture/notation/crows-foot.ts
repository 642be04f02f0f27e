// Crow's foot: the foot is for many; a bar beside it, or alone, for one; a ring for none. Common practice since G. Everest, "Basic Data
// Structure Models Explained with a Common Example" (1976), from memory; no standard fixes the sizes. What it has no sign for is ours: a
// dashed line where the parent's key is not part of the child's, and for subtypes the circle of R. Elmasri and S. Navathe, "Fundamentals of
// Database Systems" (from memory): d for at most one of them, o for several, a double line where every row is of one; a sign of "part of" at each.
import { HEAD, NAME_X, ROW, type Card } from '../card'
import { boxPath, fromSide, linePath, ovalPath, round, type Point, type Shape, type Side } from '../shapes'
import { atChild, atParent, type Bounds, type Notation } from './notation'
import { circled, partOf, sample } from './parts'

/** SVG path of an end's marks at a point of a card's side. They reach 18 pixels out. */
export function foot(at: Point, side: Side, end: Bounds): string {
  const out = fromSide(at, side)
  const bar = (away: number) => linePath(out(away, -5), out(away, 5))
  const ring = (away: number) => ovalPath(out(away), 3.5)
  const inner = end.least === 0
  if (end.many) return linePath(out(10), out(0, -6)) + linePath(out(10), out(0, 6)) + (inner ? ring(14) : bar(13))
  return bar(6) + (inner ? ring(13) : bar(11))
}

const mark = (at: Point, side: Side, end: Bounds): Shape => ({
  kind: 'path',
  d: foot(at, side, end),
  stroke: 'ink',
  fill: 'ground',
  width: 1.4
})

function ground(card: Card): Shape[] {
  const { width, height, keyBottom } = card
  return [
    {
      kind: 'path',
      d: boxPath(0, 0, width, height, 3),
      fill: 'sheet',
      stroke: card.view ? 'soft' : 'line',
      ...(card.view ? { dash: '2 3' } : {})
    },
    ...(keyBottom > HEAD
      ? [{ kind: 'path', d: boxPath(1, HEAD, width - 2, keyBottom - HEAD), fill: 'key' } as const]
      : []),
    ...(card.view ? [] : [{ kind: 'path', d: boxPath(0, 0, 5, HEAD), fill: 'edge' } as const]),
    { kind: 'path', d: linePath([0, HEAD], [width, HEAD]), stroke: 'line' }
  ]
}

function shapes(card: Card): Shape[] {
  const { width, rows, keyBottom, title, dbName } = card
  const isSplit = keyBottom > HEAD && rows.some((row) => !row.key)
  return [
    { kind: 'text', x: 14, y: 21, text: title, face: 'bold', size: 14, ink: 'ink' },
    { kind: 'text', x: width - 12, y: 20.5, text: dbName, face: 'mono', size: 11.5, ink: 'soft', anchor: 'end' },
    ...rows.flatMap((row): Shape[] => [
      ...(card.view
        ? [{ kind: 'path', d: arrow(12, row.y + 10.5, 10), stroke: 'soft', width: 1.3, dash: '1.5 2' } as const]
        : []),
      ...(row.key ? [{ kind: 'path', d: boxPath(9, row.y + 5, 4.5, 11), fill: 'ink' } as const] : []),
      ...(row.depth > 0 && !row.continued
        ? [
            {
              kind: 'path',
              d: linePath([row.x - 9, row.y], [row.x - 9, row.y + 10.5], [row.x - 4, row.y + 10.5]),
              stroke: 'line'
            } as const
          ]
        : []),
      ...(row.link && !row.continued
        ? [{ kind: 'path', d: bent(row.key ? 16 : 12, row.y + 6), stroke: 'sea', width: 1.6 } as const]
        : []),
      { kind: 'text', x: row.x, y: row.y + 15, text: row.name, face: 'sans', size: 13, ink: 'ink' },
      { kind: 'text', x: row.typeX, y: row.y + 15, text: row.type, face: 'mono', size: 11.5, ink: 'soft' }
    ]),
    ...(isSplit
      ? [{ kind: 'path', d: linePath([4, keyBottom], [width - 4, keyBottom]), stroke: 'line', dash: '3 3' } as const]
      : [])
  ]
}

const head = (x: number, y: number): string => linePath([x - 3, y - 3], [x, y], [x - 3, y + 3])
const arrow = (x: number, y: number, length: number): string => linePath([x, y], [x + length, y]) + head(x + length, y)
const bent = (x: number, y: number): string =>
  linePath([x, y], [x, y + 4.5], [x + 7, y + 4.5]) + head(round(x + 7), y + 4.5)

const parentMark: Bounds = { least: 1, many: false }

export const crowsFoot: Notation = {
  id: 'crows foot',
  label: 'Crow’s foot',
  source: 'Everest 1976 and common practice; no standard',
  form: {
    head: HEAD,
    row: ROW,
    foot: 4,
    left: NAME_X,
    name: ({ name, optional }) => name + (optional ? '?' : ''),
    type: ({ type }) => type,
    ground,
    shapes
  },
  lines: ({ link, points }) => [{ points, ...(link.identifying ? {} : { dash: '6 4' }) }],
  marks: ({ link, parent, child }) => [
    mark(parent.at, parent.side, atParent(link)),
    mark(child.at, child.side, atChild(link))
  ],
  group: (at) => circled(at, at.group.exclusive ? 'd' : 'o'),
  subtype: partOf,
  legend: [
    { shapes: [{ kind: 'path', d: boxPath(13, 2, 4.5, 11), fill: 'ink' }], text: 'key' },
    { shapes: [{ kind: 'path', d: bent(10, 3), stroke: 'sea', width: 1.6 }], text: 'link' },
    { shapes: [], text: 'name? may be empty' },
    { shapes: [sample({}), mark([30, 7], 'left', { least: 0, many: true })], text: 'none, one or many' },
    { shapes: [sample({}), mark([30, 7], 'left', parentMark)], text: 'just one' },
    { shapes: [sample({})], text: 'identifying' },
    { shapes: [sample({ dash: '5 3' })], text: 'not' }
  ]
}
