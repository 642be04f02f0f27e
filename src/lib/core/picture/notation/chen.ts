// P. Chen, "The Entity-Relationship Model: Toward a Unified View of Data", ACM TODS 1 (1976): boxes for entities, double where they are weak,
// diamonds for relationships with 1, N and M at their lines. Attributes in ovals, keys underlined, a double line where all take part, a double
// diamond where a relationship identifies, and the circle of subtypes are as in R. Elmasri and S. Navathe, "Fundamentals of Database
// Systems"; both from memory.
import { parted } from '../along'
import { type Card } from '../card'
import { boxPath, closedPath, linePath, ovalPath, type Point, type Shape } from '../shapes'
import { clip } from '../text'
import { atChild, atParent, type LinkAt, type Notation } from './notation'
import { atEnd, circled, LINE, partOf } from './parts'

const NAME = 34
const GAP = 8
const OVAL = 22

const boxOf = ({ width, dependent }: Card): Shape[] => [
  { kind: 'path', d: boxPath(0, 0, width, NAME), fill: 'sheet', stroke: 'ink', width: 1.4 },
  ...(dependent ? [{ kind: 'path', d: boxPath(3, 3, width - 6, NAME - 6), stroke: 'ink' } as const] : [])
]

/** A stem from the box, and an oval at it for each attribute. */
function ground(card: Card): Shape[] {
  const last = card.rows.at(-1)
  const middle = (y: number) => y + GAP / 2 + OVAL / 2
  return [
    ...(last ? [{ kind: 'path', d: linePath([6, NAME], [6, middle(last.y)]), ...LINE } as const] : []),
    ...card.rows.map(({ y }): Shape => ({ kind: 'path', d: linePath([6, middle(y)], [18, middle(y)]), ...LINE })),
    ...boxOf(card),
    ...card.rows.map(({ y }): Shape => ({
      kind: 'path',
      d: ovalPath([(18 + card.width) / 2, middle(y)], (card.width - 18) / 2, OVAL / 2),
      fill: 'sheet',
      stroke: 'ink'
    }))
  ]
}

const shapes = (card: Card): Shape[] => [
  { kind: 'text', x: card.width / 2, y: 22, text: card.title, face: 'bold', size: 14, ink: 'ink', anchor: 'middle' },
  ...card.rows.map((row): Shape => ({
    kind: 'text',
    x: (18 + card.width) / 2,
    y: row.y + GAP / 2 + 15.5,
    text: row.name,
    face: 'sans',
    size: 13,
    ink: 'ink',
    anchor: 'middle',
    ...(row.key ? { underlined: true } : {})
  }))
]

const [WIDE, HIGH] = [46, 18]

function marks({ link, points, share, parent, child }: LinkAt): Shape[] {
  const [x, y] = parted(points, share)[1][0] ?? [0, 0]
  const diamond = (by: number): string => {
    const at: readonly Point[] = [
      [x - WIDE + by * 2, y],
      [x, y - HIGH + by],
      [x + WIDE - by * 2, y],
      [x, y + HIGH - by]
    ]
    return closedPath(...at)
  }
  const name = link.phrase?.down ?? link.role ?? ''
  const letters = link.kind === 'many-to-many' ? ['M', 'N'] : ['1', atChild(link).many ? 'N' : '1']
  return [
    { kind: 'path', d: diamond(0), fill: 'sheet', stroke: 'ink', width: 1.4 },
    ...(link.identifying ? [{ kind: 'path', d: diamond(3), stroke: 'ink' } as const] : []),
    {
      kind: 'text',
      x,
      y: y + 4,
      text: clip(name, 'sans', 11.5, WIDE * 1.4),
      face: 'sans',
      size: 11.5,
      ink: 'ink',
      anchor: 'middle'
    },
    atEnd(parent, letters[0] ?? ''),
    atEnd(child, letters[1] ?? '')
  ]
}

export const chen: Notation = {
  id: 'chen',
  label: 'Chen',
  source: 'Chen 1976; Elmasri and Navathe; from memory',
  form: {
    head: NAME + GAP / 2,
    row: OVAL + GAP,
    foot: 2,
    left: 30,
    shows: ({ link }) => !link,
    name: ({ name }) => name,
    type: () => '',
    ground,
    shapes,
    outline: ({ x, y, width }) => ({ x, y, width, height: NAME }),
    hasBelow: true
  },
  // A half is double where all that is at its end take part.
  lines: ({ link, points, share }) => {
    const [first, second] = parted(points, share)
    return [
      { points: first, ...(atChild(link).least === 1 ? { double: true } : {}) },
      { points: second, ...(atParent(link).least === 1 ? { double: true } : {}) }
    ]
  },
  marks,
  group: (at) => circled(at, at.group.exclusive ? 'd' : 'o'),
  subtype: partOf,
  symbol: { width: 2 * WIDE, height: 2 * HIGH },
  legend: [
    {
      shapes: [{ kind: 'path', d: closedPath([2, 7], [15, 1], [28, 7], [15, 13]), stroke: 'ink', fill: 'sheet' }],
      text: 'relationship'
    },
    {
      shapes: [
        { kind: 'path', d: boxPath(2, 1, 26, 12), stroke: 'ink', fill: 'sheet' },
        { kind: 'path', d: boxPath(4.5, 3.5, 21, 7), stroke: 'ink' }
      ],
      text: 'weak: told from others by what it belongs to'
    },
    {
      shapes: [{ kind: 'path', d: ovalPath([15, 7], 13, 6), stroke: 'ink', fill: 'sheet' }],
      text: 'attribute, underlined in the key'
    },
    {
      shapes: [{ kind: 'path', d: linePath([0, 5.6], [30, 5.6]) + linePath([0, 8.4], [30, 8.4]), ...LINE }],
      text: 'all take part'
    }
  ]
}
