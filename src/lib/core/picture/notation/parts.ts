// What several notations draw alike.
import { fromSide, linePath, ovalPath, round, type PathShape, type Point, type Shape } from '../shapes'
import type { EndAt, GroupAt } from './notation'

export const LINE = { stroke: 'soft', width: 1.4 } as const

/** Two lines beside each other: a broad one whose middle is taken out. */
export const doubled = (d: string): PathShape[] => [
  { kind: 'path', d, stroke: 'soft', width: 4.2 },
  { kind: 'path', d, stroke: 'ground', width: 1.6 }
]

/** A piece of a line, for a legend. */
export const sample = (more: Partial<PathShape>): PathShape => ({
  kind: 'path',
  d: linePath([0, 7], [30, 7]),
  ...LINE,
  ...more
})

export const RADIUS = 9

/** A circle with a letter between a supertype and its subtypes; the line to it is double where every row is of one of them. */
export function circled({ group, at, supertype }: GroupAt, letter: string): Shape[] {
  const line = linePath(supertype.at, at)
  return [
    ...(group.complete ? doubled(line) : [{ kind: 'path', d: line, ...LINE } as const]),
    { kind: 'path', d: ovalPath(at, RADIUS), stroke: 'ink', fill: 'ground', width: 1.4 },
    { kind: 'text', x: at[0], y: at[1] + 4, text: letter, face: 'sans', size: 12, ink: 'ink', anchor: 'middle' }
  ]
}

/** A sign of “part of” on the line to a subtype, open to its supertype. */
export function partOf({ at, side }: EndAt): Shape[] {
  const out = fromSide(at, side)
  const curve = (to: Point, corner: Point) => `Q${corner.map(round).join(' ')} ${to.map(round).join(' ')}`
  const d = `M${out(22, -5).map(round).join(' ')}${curve(out(14), out(14, -5))}${curve(out(22, 5), out(14, 5))}`
  return [{ kind: 'path', d, stroke: 'ink', width: 1.4 }]
}

/** A text at an end of a line: so far out of the card, and so far beside the line. */
export function atEnd(
  end: EndAt,
  text: string,
  {
    away = 8,
    beside = -5,
    size = 11.5
  }: { readonly away?: number; readonly beside?: number; readonly size?: number } = {}
): Shape {
  const flat = end.side === 'left' || end.side === 'right'
  const [x, y] = fromSide(end.at, end.side)(away)
  return {
    kind: 'text',
    x: flat ? x : x - beside,
    y: flat ? y + beside : y + (end.side === 'top' ? 0 : size),
    text,
    face: 'sans',
    size,
    ink: 'ink',
    ...(end.side === 'left' ? { anchor: 'end' as const } : {})
  }
}
