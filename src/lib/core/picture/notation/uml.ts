// UML class diagrams: OMG "Unified Modeling Language" 2.5.1: 11.4 Classes, 11.5 Associations (multiplicities), 9.5 Properties ("{id}" at an
// association's end: it is part of what tells its owner from others), 9.7 Generalization Sets; from memory.
import { type Card } from '../card'
import { boxPath, closedPath, fromSide, linePath, type Shape } from '../shapes'
import { atChild, atParent, type Bounds, type GroupAt, type Notation } from './notation'
import { atEnd, LINE, sample } from './parts'

const NAME = 30

const times = ({ least, many }: Bounds): string => (many ? `${least}..*` : least === 1 ? '1' : '0..1')

function ground(card: Card): Shape[] {
  const { width, height } = card
  return [
    {
      kind: 'path',
      d: boxPath(0, 0, width, height),
      fill: 'sheet',
      stroke: 'ink',
      ...(card.view ? { dash: '2 3' } : {})
    },
    { kind: 'path', d: linePath([0, NAME], [width, NAME]), stroke: 'ink' }
  ]
}

const shapes = ({ title, width, rows }: Card): Shape[] => [
  { kind: 'text', x: width / 2, y: 20, text: title, face: 'bold', size: 14, ink: 'ink', anchor: 'middle' },
  ...rows.flatMap((row): Shape[] => [
    { kind: 'text', x: row.x, y: row.y + 15, text: row.name, face: 'sans', size: 13, ink: 'ink' },
    { kind: 'text', x: row.typeX, y: row.y + 15, text: row.type, face: 'mono', size: 11.5, ink: 'soft' }
  ])
]

const TIP = 14

function generalization({ group, at, supertype }: GroupAt): Shape[] {
  const out = fromSide(supertype.at, supertype.side)
  const words = [group.complete ? 'complete' : 'incomplete', group.exclusive ? 'disjoint' : 'overlapping']
  return [
    { kind: 'path', d: linePath(out(TIP), at), ...LINE },
    {
      kind: 'path',
      d: closedPath(out(0), out(TIP, -8), out(TIP, 8)),
      stroke: 'ink',
      fill: 'sheet',
      width: 1.4
    },
    {
      kind: 'text',
      x: at[0] + 8,
      y: at[1] - 8,
      text: `${group.discriminator} {${words.join(', ')}}`,
      face: 'sans',
      size: 11.5,
      ink: 'soft'
    }
  ]
}

export const uml: Notation = {
  id: 'uml',
  label: 'UML classes',
  source: 'OMG UML 2.5.1, from memory',
  form: {
    head: NAME,
    row: 21,
    foot: 6,
    left: 10,
    // What a link brings stands at the association's end.
    shows: ({ link }) => !link,
    name: ({ name, type }) => name + (type === '' ? '' : ':'),
    type: ({ type, optional, key }) => type + (optional ? ' [0..1]' : '') + (key ? ' {id}' : ''),
    ground,
    shapes
  },
  lines: ({ points }) => [{ points }],
  marks: ({ link, parent, child }) => [
    atEnd(parent, times(atParent(link)) + (link.identifying ? ' {id}' : '')),
    atEnd(child, times(atChild(link))),
    ...(link.role === undefined ? [] : [atEnd(parent, link.role, { beside: 13 })]),
    ...(link.childRole === undefined ? [] : [atEnd(child, link.childRole, { beside: 13 })])
  ],
  group: generalization,
  legend: [
    { shapes: [], text: '0..1 one at most · 1 just one · 0..* any number · 1..* one or more' },
    { shapes: [], text: '{id} tells it from others' },
    {
      shapes: [
        sample({}),
        { kind: 'path', d: closedPath([0, 7], [13, 1], [13, 13]), stroke: 'ink', fill: 'sheet', width: 1.4 }
      ],
      text: 'more general at the tip'
    }
  ]
}
