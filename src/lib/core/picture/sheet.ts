// A picture as it leaves the application: with a margin around it, and beneath it, where they are wanted, its legend and what it is.
import { drawing, type Piece } from './drawing'
import type { Picture } from './picture'
import { around } from './picture'
import { boxPath, type Shape } from './shapes'
import { textWidth } from './text'

export interface SheetOptions {
  readonly legend?: boolean
  /** What it is, most important first: the design, the diagram, a version, a date. */
  readonly title?: readonly string[]
  /** The tint of an area. */
  tintOf(area: string): number | undefined
}

/** A piece with its tint, where its area has one. */
export type TintedPiece = Piece

export interface Sheet {
  /** Pixels. */
  readonly width: number
  readonly height: number
  readonly pieces: readonly TintedPiece[]
}

const MARGIN = 28
const GAP = 18
const LINE = 22
const FONT = 12
const LEAST = 480

export function sheet(picture: Picture, { legend = false, title = [], tintOf }: SheetOptions): Sheet {
  const box = around([picture.box, ...picture.areas.map(({ box }) => box)])
  const width = Math.max(box.width, legend || title.length > 0 ? LEAST : 0)
  const [dx, dy] = [MARGIN - box.x + (width - box.width) / 2, MARGIN - box.y]
  const pieces = drawing(picture).map((piece): TintedPiece => {
    const tint = piece.tint ?? (piece.area === undefined ? undefined : tintOf(piece.area))
    return { ...piece, x: piece.x + dx, y: piece.y + dy, ...(tint === undefined ? {} : { tint }) }
  })
  let y = MARGIN + box.height + GAP
  const below: TintedPiece[] = []
  if (legend) {
    const made = legendPieces(picture, width, y)
    below.push(...made.pieces)
    y = made.bottom + GAP
  }
  if (title.length > 0) {
    below.push({ x: MARGIN, y, shapes: titleBlock(title, width) })
    y += 26 + GAP
  }
  return {
    width: Math.ceil(width + 2 * MARGIN),
    height: Math.ceil(below.length > 0 ? y - GAP + MARGIN : box.height + 2 * MARGIN),
    pieces: [...pieces, ...below]
  }
}

function legendPieces({ notation }: Picture, width: number, top: number): { pieces: TintedPiece[]; bottom: number } {
  const pieces: TintedPiece[] = []
  let [x, y] = [0, top]
  for (const { shapes, text } of notation.legend) {
    const room = (shapes.length > 0 ? 36 : 0) + textWidth(text, 'sans', FONT) + 18
    if (x > 0 && x + room > width) {
      x = 0
      y += LINE
    }
    const words: Shape = {
      kind: 'text',
      x: shapes.length > 0 ? 36 : 0,
      y: 11,
      text,
      face: 'sans',
      size: FONT,
      ink: 'ink'
    }
    pieces.push({ x: MARGIN + x, y, shapes: [...shapes, words] })
    x += room
  }
  return { pieces, bottom: y + 14 }
}

/** A line of what it is, in a frame. */
function titleBlock([first = '', ...more]: readonly string[], width: number): Shape[] {
  const rest = more.join(' · ')
  return [
    { kind: 'path', d: boxPath(0, 0, width, 26), fill: 'sheet', stroke: 'line' },
    { kind: 'text', x: 10, y: 17.5, text: first, face: 'bold', size: 13, ink: 'ink' },
    { kind: 'text', x: width - 10, y: 17.5, text: rest, face: 'sans', size: FONT, ink: 'soft', anchor: 'end' }
  ]
}
