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
  /** Draw everything; else the ground alone. */
  readonly far: boolean
}

export function drawFar(canvas: HTMLCanvasElement, { picture, view, colours, tints, selected, far }: FarInput) {
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
  if (!far) return
  context.strokeStyle = colours.soft
  context.lineWidth = 1.2
  context.beginPath()
  for (const route of picture.routes)
    route.points.forEach(([x, y], i) => (i === 0 ? context.moveTo(x, y) : context.lineTo(x, y)))
  context.stroke()
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
    // Names stay readable for as long as they fit.
    const size = Math.min(30, Math.max(14, 8 / view.k))
    context.font = `600 ${size}px 'Atkinson Hyperlegible Next Variable'`
    context.fillStyle = colours.ink
    context.fillText(card.title, card.x + 12, card.y + Math.max(HEAD, size * 1.4) / 2, card.width - 18)
  }
  if (view.k < 0.3) {
    context.fillStyle = colours.soft
    for (const area of picture.areas) {
      context.font = `600 ${14 / view.k}px 'Atkinson Hyperlegible Next Variable'`
      context.fillText(area.name.toUpperCase(), area.label.x, area.label.y + 8 / view.k)
    }
  }
}
