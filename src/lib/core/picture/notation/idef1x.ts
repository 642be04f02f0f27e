// IDEF1X: FIPS Publication 184, "Integration Definition for Information Modeling" (1993), appendix A "Graphics": from memory. An entity whose
// key has another's in it has round corners; keys stand above a line; a dot is at the child's end, with P, Z or 1 where it is not "none, one or
// many"; a diamond at the parent's end where there may be none. Ours, since it has no such: a letter o in the circle of subtypes of which a
// row may be of several.
import { type Card } from '../card'
import { boxPath, closedPath, fromSide, linePath, ovalPath, type Point, type Shape, type Side } from '../shapes'
import { atChild, type GroupAt, type Notation } from './notation'
import { atEnd, LINE, RADIUS, sample } from './parts'

/** The name stands above its box. */
const NAME = 20
const ROUND = 9

const dot = (at: Point, side: Side): Shape => ({ kind: 'path', d: ovalPath(fromSide(at, side)(4.5), 4.5), fill: 'ink' })
const diamond = (at: Point, side: Side): Shape => {
  const out = fromSide(at, side)
  return {
    kind: 'path',
    d: closedPath(out(0), out(6, -5), out(12), out(6, 5)),
    stroke: 'ink',
    fill: 'ground',
    width: 1.4
  }
}

function ground(card: Card): Shape[] {
  const { width, height, keyBottom, dependent } = card
  const isKeyed = keyBottom > NAME
  return [
    {
      kind: 'path',
      d: boxPath(0, NAME, width, height - NAME, dependent ? ROUND : 0),
      fill: 'sheet',
      stroke: 'ink',
      width: 1.2,
      ...(card.view ? { dash: '2 3' } : {})
    },
    ...(isKeyed ? [{ kind: 'path', d: linePath([0, keyBottom], [width, keyBottom]), stroke: 'ink' } as const] : [])
  ]
}

const shapes = ({ title, rows }: Card): Shape[] => [
  { kind: 'text', x: 2, y: 14, text: title, face: 'bold', size: 14, ink: 'ink' },
  ...rows.flatMap((row): Shape[] => [
    { kind: 'text', x: row.x, y: row.y + 15, text: row.name, face: 'sans', size: 13, ink: 'ink' },
    { kind: 'text', x: row.typeX, y: row.y + 15, text: row.type, face: 'mono', size: 11.5, ink: 'soft' }
  ])
]

/** A circle on one line, or on two where every row is of one of the subtypes. */
function category({ group, at, supertype }: GroupAt): Shape[] {
  const out = fromSide(at, supertype.side)
  const under = (away: number): string => linePath(out(away, -RADIUS - 3), out(away, RADIUS + 3))
  return [
    { kind: 'path', d: linePath(supertype.at, at), ...LINE },
    { kind: 'path', d: ovalPath(at, RADIUS), stroke: 'ink', fill: 'ground', width: 1.4 },
    { kind: 'path', d: under(RADIUS + 1) + (group.complete ? under(RADIUS + 4) : ''), stroke: 'ink', width: 1.4 },
    ...(group.exclusive
      ? []
      : [
          {
            kind: 'text',
            x: at[0],
            y: at[1] + 4,
            text: 'o',
            face: 'sans',
            size: 12,
            ink: 'ink',
            anchor: 'middle'
          } as const
        ]),
    {
      kind: 'text',
      x: at[0] + RADIUS + 6,
      y: at[1] - RADIUS,
      text: group.discriminator,
      face: 'sans',
      size: 11.5,
      ink: 'soft'
    }
  ]
}

export const idef1x: Notation = {
  id: 'idef1x',
  label: 'IDEF1X',
  source: 'FIPS 184 (1993), from memory',
  form: {
    head: NAME,
    row: 21,
    foot: 6,
    least: 1,
    left: 10,
    name: ({ name, link, alternates }) =>
      name + [...(link ? [' (FK)'] : []), ...alternates.map((n) => ` (AK${n})`)].join(''),
    type: ({ type }) => type,
    ground,
    shapes,
    outline: ({ x, y, width, height }) => ({ x, y: y + NAME, width, height: height - NAME })
  },
  // A link of many to many is not specific: it identifies nothing, and its line is solid.
  lines: ({ link, points }) => [
    { points, ...(link.identifying || link.kind === 'many-to-many' ? {} : { dash: '6 4' }) }
  ],
  marks: ({ link, parent, child }) => {
    const { least, many } = atChild(link)
    const letter = many ? (least === 1 ? 'P' : '') : least === 1 ? '1' : 'Z'
    const isMany = link.kind === 'many-to-many'
    return [
      dot(child.at, child.side),
      ...(letter === '' ? [] : [atEnd(child, letter, { away: 13 })]),
      ...(isMany ? [dot(parent.at, parent.side)] : []),
      ...(!isMany && !link.parentRequired ? [diamond(parent.at, parent.side)] : []),
      ...(link.phrase?.down === undefined ? [] : [atEnd(parent, link.phrase.down, { away: 18 })])
    ]
  },
  group: category,
  legend: [
    {
      shapes: [{ kind: 'path', d: boxPath(4, 1, 22, 12, 5), stroke: 'ink', fill: 'sheet' }],
      text: 'its key has another’s in it'
    },
    { shapes: [sample({}), dot([30, 7], 'left')], text: 'identifying, child at the dot' },
    { shapes: [sample({ dash: '5 3' }), dot([30, 7], 'left')], text: 'not identifying' },
    { shapes: [sample({ dash: '5 3' }), diamond([0, 7], 'right')], text: 'there may be no parent' },
    { shapes: [], text: 'P one or more · Z one at most · 1 just one' }
  ]
}
