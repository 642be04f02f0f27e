// R. Barker, "CASE*Method: Entity Relationship Modelling" (1990), from memory: soft boxes; # * and o before what tells a row from others, must
// and may be filled; the half of a line beside an entity is whole where that must take part, and broken where it may; a foot for many; a bar
// across where the relationship is part of what tells the child from others; subtypes within their supertype, each row of just one of them. Ours,
// since it has no such: a circle, as in crow's foot, where a row may be of none or several.
import { parted } from '../along'
import { type Card } from '../card'
import { boxPath, fromSide, linePath, type Point, type Shape, type Side } from '../shapes'
import { atChild, atParent, type LineShape, type LinkAt, type Notation } from './notation'
import { atEnd, circled, partOf, sample } from './parts'

const NAME = 28
const DASH = '6 4'

const feet = (at: Point, side: Side): Shape => {
  const out = fromSide(at, side)
  return {
    kind: 'path',
    d: linePath(out(11), out(0, -6)) + linePath(out(11), out(0, 6)),
    stroke: 'ink',
    width: 1.4
  }
}
const bar = (at: Point, side: Side): Shape => {
  const out = fromSide(at, side)
  return { kind: 'path', d: linePath(out(15, -6), out(15, 6)), stroke: 'ink', width: 1.4 }
}

function lines({ link, points, share }: LinkAt): LineShape[] {
  const [first, second] = parted(points, share)
  return [
    { points: first, ...(atChild(link).least === 1 ? {} : { dash: DASH }) },
    { points: second, ...(atParent(link).least === 1 ? {} : { dash: DASH }) }
  ]
}

const ground = (card: Card): Shape[] => [
  {
    kind: 'path',
    d: boxPath(0, 0, card.width, card.height, 12),
    fill: 'sheet',
    stroke: 'ink',
    width: 1.2,
    ...(card.view ? { dash: '2 3' } : {})
  }
]

const shapes = ({ title, rows }: Card): Shape[] => [
  { kind: 'text', x: 14, y: 19, text: title.toUpperCase(), face: 'bold', size: 13, ink: 'ink' },
  ...rows.flatMap((row): Shape[] => [
    {
      kind: 'text',
      x: 14,
      y: row.y + 14,
      text: row.continued ? '' : row.key ? '#' : row.optional === undefined ? '' : row.optional ? 'o' : '*',
      face: 'mono',
      size: 12,
      ink: 'ink'
    },
    { kind: 'text', x: row.x, y: row.y + 14, text: row.name, face: 'sans', size: 13, ink: 'ink' },
    { kind: 'text', x: row.typeX, y: row.y + 14, text: row.type, face: 'mono', size: 11.5, ink: 'soft' }
  ])
]

export const barker: Notation = {
  id: 'barker',
  label: 'Barker',
  source: 'Barker, CASE*Method (1990), from memory',
  form: {
    head: NAME,
    row: 20,
    foot: 8,
    left: 30,
    shows: ({ link }) => !link,
    name: ({ name }) => name,
    type: ({ type }) => type,
    ground,
    shapes
  },
  lines,
  marks: ({ link, parent, child }) => [
    ...(atParent(link).many ? [feet(parent.at, parent.side)] : []),
    ...(atChild(link).many ? [feet(child.at, child.side)] : []),
    ...(link.identifying ? [bar(child.at, child.side)] : []),
    ...(link.phrase?.down === undefined ? [] : [atEnd(parent, link.phrase.down, { away: 18 })]),
    ...(link.phrase?.up === undefined ? [] : [atEnd(child, link.phrase.up, { away: 18 })])
  ],
  nests: true,
  // Where its halves meet no other line's do.
  symbol: { width: 16, height: 16 },
  group: (at) => circled(at, at.group.exclusive ? 'd' : 'o'),
  subtype: partOf,
  legend: [
    { shapes: [], text: '# tells it from others · * must be filled · o may be' },
    { shapes: [sample({}), feet([30, 7], 'left')], text: 'must, to many' },
    { shapes: [sample({ dash: '5 3' })], text: 'may, to one' },
    { shapes: [sample({}), feet([30, 7], 'left'), bar([30, 7], 'left')], text: 'part of what tells it from others' }
  ]
}
