// Notes and frames: what people write on a diagram.
import type { Note, Place } from '../design'
import { boxPath, linePath, type Shape, type TextShape } from './shapes'
import type { Box } from './route'
import { clip, textWidth, wrap } from './text'

export interface PlacedNote extends Note {
  readonly shapes: readonly Shape[]
  /** The line to what it is about, in the plane. */
  readonly lead: readonly Shape[]
}

const FONT = 13
const LINE = 17
const PAD = 10

export const isFront = ({ kind, front = kind === 'note' }: Note): boolean => front

/** `moved` are places for the time being; `boxes` where cards stand; `names` what diagrams are called. */
export function placedNotes(
  notes: readonly Note[],
  moved: Readonly<Record<string, Place>>,
  boxes: ReadonlyMap<string, Box>,
  names: (diagram: string) => string | undefined
): PlacedNote[] {
  return notes.map((note) => {
    const at = { ...note, ...moved[note.id] }
    const about = at.about === undefined ? undefined : boxes.get(at.about)
    const leads = at.leadsTo === undefined ? undefined : names(at.leadsTo)
    return {
      ...at,
      shapes: at.kind === 'frame' ? frameShapes(at, leads) : noteShapes(at, leads),
      lead: about ? [leadLine(at, about)] : []
    }
  })
}

/** The name of the diagram that it leads to. */
const linkText = (x: number, y: number, name: string): TextShape => ({
  kind: 'text',
  x,
  y,
  text: `to ${name}`,
  face: 'sans',
  size: FONT,
  ink: 'sea',
  underlined: true
})

/** A label in the lower left corner, where an area has its name, on a ground of its tint. */
function frameShapes({ width, height, text }: Note, leads: string | undefined): Shape[] {
  const shapes: Shape[] = [
    { kind: 'path', d: boxPath(0, 0, width, height, 10), fill: 'area', stroke: 'edge', width: 1.4, dash: '9 4' }
  ]
  const room = text === '' ? 0 : Math.min(textWidth(text, 'bold', FONT) + 2 * PAD, width)
  if (room > 0)
    shapes.push(
      { kind: 'path', d: boxPath(0, height - 24, room, 24, 6), fill: 'sheet', stroke: 'edge' },
      {
        kind: 'text',
        x: PAD,
        y: height - 7.5,
        text: clip(text, 'bold', FONT, width - PAD),
        face: 'bold',
        size: FONT,
        ink: 'ink'
      }
    )
  if (leads !== undefined) shapes.push(linkText(room + PAD, height - 7.5, leads))
  return shapes
}

/** Text on a ground of its tint, with an edge at its right; what does not fit is not drawn. */
function noteShapes({ width, height, text, about }: Note, leads: string | undefined): Shape[] {
  const most = Math.max(1, Math.floor((height - 2 * PAD + 4) / LINE) - (leads === undefined ? 0 : 1))
  const lines = wrap(text, 'sans', FONT, width - 2 * PAD - 4)
  const cut = lines.length > most ? [...lines.slice(0, most - 1), `${lines[most - 1] ?? ''} …`] : lines
  const words = cut.map((line, i): TextShape => ({
    kind: 'text',
    x: PAD,
    y: PAD + 12 + i * LINE,
    text: line,
    face: 'sans',
    size: FONT,
    ink: 'ink'
  }))
  const shapes: Shape[] = [
    { kind: 'path', d: boxPath(0, 0, width, height), fill: 'sheet', stroke: 'line' },
    { kind: 'path', d: boxPath(0, 0, width, height), fill: 'area' },
    { kind: 'path', d: boxPath(width - 4, 0, 4, height), fill: 'edge' },
    ...words.filter((line) => line.text !== '')
  ]
  if (leads !== undefined) shapes.push(linkText(PAD, height - PAD, leads))
  if (about !== undefined) shapes.push({ kind: 'path', d: boxPath(-3, height / 2 - 3, 6, 6), fill: 'edge' })
  return shapes
}

/** From the nearest edge to the nearest edge. */
function leadLine(note: Note, about: Box): Shape {
  const between = (low: number, size: number, other: number, otherSize: number): readonly [number, number] => {
    if (low > other + otherSize) return [low, other + otherSize]
    if (low + size < other) return [low + size, other]
    const middle = (Math.max(low, other) + Math.min(low + size, other + otherSize)) / 2
    return [middle, middle]
  }
  const [x1, x2] = between(note.x, note.width, about.x, about.width)
  const [y1, y2] = between(note.y, note.height, about.y, about.height)
  return { kind: 'path', d: linePath([x1, y1], [x2, y2]), stroke: 'soft', width: 1.2, dash: '1.5 4' }
}
