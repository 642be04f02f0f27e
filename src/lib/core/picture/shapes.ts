// What a drawing is made of: paths and texts, their colours by what they are for. Screen, SVG, PDF and PNG draw these and nothing else.
import type { Face } from './text'

/** What a colour is for; `edge` and `area` are those of the area that the thing is in. */
export type Ink = 'ink' | 'soft' | 'line' | 'sheet' | 'ground' | 'key' | 'sea' | 'edge' | 'area'

export interface PathShape {
  readonly kind: 'path'
  /** SVG path data: absolute M, L, H, V, Q, A and Z. */
  readonly d: string
  readonly stroke?: Ink
  readonly fill?: Ink
  /** Pixels; 1 where nothing is said. */
  readonly width?: number
  /** Lengths of strokes and gaps. */
  readonly dash?: string
}

export interface TextShape {
  readonly kind: 'text'
  readonly x: number
  /** The line that letters stand on. */
  readonly y: number
  readonly text: string
  readonly face: Face
  readonly size: number
  readonly ink: Ink
  readonly anchor?: 'middle' | 'end'
  readonly underlined?: true
}

export type Shape = PathShape | TextShape
export type Point = readonly [number, number]

export const round = (value: number): number => Math.round(value * 10) / 10
const p = ([x, y]: Point): string => `${round(x)} ${round(y)}`

/** A box, its corners rounded by `r`. */
export function boxPath(x: number, y: number, width: number, height: number, r = 0): string {
  const [right, bottom] = [x + width, y + height]
  if (r === 0) return `M${p([x, y])}L${p([right, y])}L${p([right, bottom])}L${p([x, bottom])}Z`
  const arc = (to: Point) => `A${r} ${r} 0 0 1 ${p(to)}`
  return (
    `M${p([x + r, y])}L${p([right - r, y])}${arc([right, y + r])}L${p([right, bottom - r])}${arc([right - r, bottom])}` +
    `L${p([x + r, bottom])}${arc([x, bottom - r])}L${p([x, y + r])}${arc([x + r, y])}Z`
  )
}

export const linePath = (...points: readonly Point[]): string =>
  points.map((point, i) => `${i === 0 ? 'M' : 'L'}${p(point)}`).join('')

export const closedPath = (...points: readonly Point[]): string => `${linePath(...points)}Z`

export const ovalPath = ([x, y]: Point, rx: number, ry = rx): string =>
  `M${p([x - rx, y])}A${rx} ${ry} 0 1 1 ${p([x + rx, y])}A${rx} ${ry} 0 1 1 ${p([x - rx, y])}Z`

export type Side = 'left' | 'right' | 'top' | 'bottom'

const OUT: Readonly<Record<Side, Point>> = { left: [-1, 0], right: [1, 0], top: [0, -1], bottom: [0, 1] }

/** Points by how far they are out of a card's side, and how far along it. */
export function fromSide([x, y]: Point, side: Side): (away: number, along?: number) => Point {
  const [dx, dy] = OUT[side]
  return (away, along = 0) => [x + dx * away + dy * along, y + dy * away + dx * along]
}
