// A sheet as SVG 1.1, which any browser, office program or drawing program shows.
import { colourOf, type Palette } from './palette'
import type { Sheet } from './sheet'
import type { Shape } from './shapes'
import type { Face } from './text'

/** What the shipped fonts are called, and what stands in for them. */
export const FAMILIES: Readonly<Record<Face, string>> = {
  sans: "'Atkinson Hyperlegible Next', ui-sans-serif, sans-serif",
  bold: "'Atkinson Hyperlegible Next', ui-sans-serif, sans-serif",
  mono: "'Atkinson Hyperlegible Mono', ui-monospace, monospace"
}

export interface SvgOptions {
  readonly palette: Palette
  /** How large it is shown, against its own pixels. */
  readonly scale?: number
  /** Rules of CSS that bring the fonts along. */
  readonly fonts?: string
}

const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;')

export function svgOf({ width, height, pieces }: Sheet, { palette, scale = 1, fonts }: SvgOptions): string {
  const element = (shape: Shape, tint: number | undefined): string => {
    if (shape.kind === 'path') {
      const { d, fill, stroke, dash } = shape
      const drawn = stroke
        ? ` stroke="${colourOf(palette, stroke, tint)}" stroke-width="${shape.width ?? 1}"${dash ? ` stroke-dasharray="${dash}"` : ''}`
        : ''
      return `<path d="${d}" fill="${fill ? colourOf(palette, fill, tint) : 'none'}"${drawn}/>`
    }
    const { x, y, text, face, size, ink, anchor, underlined } = shape
    const more = [
      face === 'bold' ? ' font-weight="700"' : '',
      anchor ? ` text-anchor="${anchor}"` : '',
      underlined ? ' text-decoration="underline"' : ''
    ].join('')
    return `<text x="${x}" y="${y}" font-family="${escaped(FAMILIES[face])}" font-size="${size}"${more} fill="${colourOf(palette, ink, tint)}">${escaped(text)}</text>`
  }
  const groups = pieces.map(({ x, y, shapes, tint }) => {
    const inside = shapes.map((shape) => element(shape, tint)).join('')
    return x === 0 && y === 0 ? inside : `<g transform="translate(${x} ${y})">${inside}</g>`
  })
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width * scale}" height="${height * scale}" viewBox="0 0 ${width} ${height}">`,
    ...(fonts === undefined ? [] : [`<style>${fonts}</style>`]),
    `<rect width="${width}" height="${height}" fill="${colourOf(palette, 'ground')}"/>`,
    ...groups,
    '</svg>',
    ''
  ].join('\n')
}
