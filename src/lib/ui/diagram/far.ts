// The canvas under the plane: the ground of the areas at any distance and, far out, all cards and links too, since one
// canvas keeps its pace where a thousand elements would not.
import { HEAD, type Picture } from '../../core/picture'

export interface View {
  readonly k: number
  readonly x: number
  readonly y: number
}

interface Colours {
  readonly sheet: string
  readonly ink: string
  readonly line: string
  readonly soft: string
  readonly primary: string
  readonly edges: readonly string[]
  readonly areas: readonly string[]
}

export function coloursOf(node: Element): Colours {
  const style = getComputedStyle(node)
  const of = (name: string) => style.getPropertyValue(name).trim()
  return {
    sheet: of('--color-base-100'),
    ink: of('--color-base-content'),
    line: of('--line'),
    soft: of('--soft'),
    primary: of('--color-primary'),
    edges: [0, 1, 2, 3, 4, 5].map((i) => of(`--edge-${i}`)),
    areas: [0, 1, 2, 3, 4, 5].map((i) => of(`--area-${i}`))
  }
}

export interface FarInput {
  readonly picture: Picture
  readonly view: View
  readonly colours: Colours
  readonly tints: ReadonlyMap<string, number>
  readonly selected: string | undefined
  /** Draw everything; else the ground alone, and the lines that only pass by. */
  readonly far: boolean
  readonly passing: Picture['routes']
}

export function drawFar(
  canvas: HTMLCanvasElement,
  { picture, view, colours, tints, selected, far, passing }: FarInput
) {
  const context = canvas.getContext('2d')
  if (!context) return
  const scale = devicePixelRatio
  const [width, height] = [canvas.clientWidth, canvas.clientHeight]
  if (canvas.width !== width * scale || canvas.height !== height * scale) {
    canvas.width = width * scale
    canvas.height = height * scale
  }
  context.setTransform(scale, 0, 0, scale, 0, 0)
  context.clearRect(0, 0, width, height)
  context.setTransform(scale * view.k, 0, 0, scale * view.k, scale * view.x, scale * view.y)
  for (const area of picture.areas) {
    context.fillStyle = colours.areas[area.tint] ?? colours.line
    context.fill(new Path2D(area.path))
  }
  if (far)
    for (const { kind, x, y, width: w, height: h, tint } of picture.notes) {
      context.fillStyle = (kind === 'frame' ? colours.areas[tint] : colours.edges[tint]) ?? colours.line
      context.fillRect(x, y, w, h)
    }
  context.strokeStyle = far ? colours.soft : colours.line
  context.lineWidth = far ? 1.2 : 1
  context.beginPath()
  for (const route of far ? picture.routes : passing)
    route.points.forEach(([x, y], i) => (i === 0 ? context.moveTo(x, y) : context.lineTo(x, y)))
  context.stroke()
  if (!far) return
  const [left, top] = [-view.x / view.k, -view.y / view.k]
  const [right, bottom] = [left + width / view.k, top + height / view.k]
  context.textBaseline = 'middle'
  for (const card of picture.cards) {
    if (card.x > right || card.y > bottom || card.x + card.width < left || card.y + card.height < top) continue
    context.fillStyle = colours.sheet
    context.fillRect(card.x, card.y, card.width, card.height)
    context.strokeStyle = card.id === selected ? colours.primary : colours.line
    context.lineWidth = card.id === selected ? 3 / view.k : 1
    context.strokeRect(card.x, card.y, card.width, card.height)
    context.fillStyle = colours.edges[tints.get(card.area ?? '') ?? 0] ?? colours.primary
    context.fillRect(card.x, card.y, 5, HEAD)
    // Columns as strokes: how many there are shows, what they say does not.
    if (view.k > 0.15) {
      context.fillStyle = colours.line
      for (const row of card.rows)
        context.fillRect(
          card.x + row.x - 16,
          card.y + row.y + 8,
          Math.max(4, Math.min(row.typeX, card.width) - row.x + 6),
          5
        )
    }
  }
  context.setTransform(scale, 0, 0, scale, 0, 0)
  drawNames(context, { picture, view, colours, width, height })
}

/** Pixels, however far out: what is smaller is not read. */
const SMALLEST = 11
const LARGEST = 15
const AREA_NAME = 13

interface NamesInput extends Pick<FarInput, 'picture' | 'view' | 'colours'> {
  readonly width: number
  readonly height: number
}

/** Names of areas, and then of as many cards as there is room for, those with most lines and columns first; none over another. */
function drawNames(context: CanvasRenderingContext2D, { picture, view, colours, width, height }: NamesInput) {
  const taken = new Map<string, true>()
  const [cellX, cellY] = [24, 8]
  /** Whether a box on the screen is free, which is taken then. */
  const take = (x: number, y: number, w: number, h: number): boolean => {
    const cells: string[] = []
    for (let i = Math.floor(x / cellX); i * cellX <= x + w; i++)
      for (let j = Math.floor(y / cellY); j * cellY <= y + h; j++) cells.push(`${i} ${j}`)
    if (cells.some((cell) => taken.has(cell))) return false
    for (const cell of cells) taken.set(cell, true)
    return true
  }
  const write = (text: string, x: number, y: number, size: number, ink: string) => {
    context.font = `600 ${size}px 'Atkinson Hyperlegible Next Variable'`
    const room = context.measureText(text).width
    if (x > width || y > height || x + room < 0 || y + size < 0 || !take(x, y, room, size)) return
    context.lineWidth = 3
    context.lineJoin = 'round'
    context.strokeStyle = colours.sheet
    context.strokeText(text, x, y + size * 0.5)
    context.fillStyle = ink
    context.fillText(text, x, y + size * 0.5)
  }
  if (view.k < 0.3)
    for (const { name, label } of picture.areas)
      write(name.toUpperCase(), label.x * view.k + view.x, label.y * view.k + view.y, AREA_NAME, colours.soft)
  for (const { kind, text, x, y, height: h } of picture.notes)
    if (kind === 'frame')
      write(text, (x + 10) * view.k + view.x, (y + h) * view.k + view.y - AREA_NAME - 4, AREA_NAME, colours.soft)
  for (const card of byWeight(picture)) {
    const size = Math.min(LARGEST, Math.max(SMALLEST, 14 * view.k))
    write(
      card.title,
      (card.x + 12) * view.k + view.x,
      (card.y + HEAD / 2) * view.k + view.y - size / 2,
      size,
      colours.ink
    )
  }
}

const ordered = new WeakMap<Picture, Picture['cards']>()

function byWeight(picture: Picture): Picture['cards'] {
  const known = ordered.get(picture)
  if (known) return known
  const weight = new Map(picture.cards.map(({ id, rows }) => [id, rows.length]))
  for (const { parent, child } of picture.routes)
    for (const id of [parent, child]) weight.set(id, (weight.get(id) ?? 0) + 4)
  const cards = [...picture.cards].sort((a, b) => (weight.get(b.id) ?? 0) - (weight.get(a.id) ?? 0))
  ordered.set(picture, cards)
  return cards
}
