// A drawing as a file, with the fonts in it: SVG as text, PNG by way of the browser's own drawing, PDF by its library.
import { fontRules, lettersOf, svgOf, type Fonts, type Palette, type Sheet, type Subset } from '../../core/picture'
import type { Paper } from '../../core/picture/pdf'

export type PictureKind = 'svg' | 'png' | 'pdf'

export interface PictureAs {
  readonly kind: PictureKind
  readonly palette: Palette
  /** Of a PNG, against its own pixels. */
  readonly scale: number
  /** Of a PDF: one page as large as the drawing where nothing is said. */
  readonly paper?: Paper
  readonly title: string
}

/** Where the files of each face are: of Latin letters in the app's own fonts, of others in one that goes with them. */
const FILES = import.meta.glob<string>(
  [
    '/node_modules/@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin{,-ext}-{400,700}-normal.woff',
    '/node_modules/@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin{,-ext}-400-normal.woff',
    '/node_modules/@fontsource/noto-sans/files/noto-sans-{greek,cyrillic,cyrillic-ext}-{400,700}-normal.woff',
    '/node_modules/@fontsource/noto-sans-mono/files/noto-sans-mono-{greek,cyrillic,cyrillic-ext}-400-normal.woff'
  ],
  { query: '?url', import: 'default', eager: true }
)
const WEIGHTS = { sans: 400, bold: 700, mono: 400 } as const

function urlOf(face: keyof typeof WEIGHTS, subset: Subset): string {
  const isMono = face === 'mono'
  const found = Object.entries(FILES).find(
    ([path]) => path.endsWith(`-${subset}-${WEIGHTS[face]}-normal.woff`) && path.includes('-mono') === isMono
  )
  if (!found) throw new Error(`There is no file of ${subset} letters.`)
  return found[1]
}

/** Each file is fetched once; one that could not be is asked for again. */
const fetched = new Map<string, Promise<Uint8Array>>()
function bytesOf(url: string): Promise<Uint8Array> {
  const known = fetched.get(url)
  if (known) return known
  const asked = fetch(url).then(async (answer) => new Uint8Array(await answer.arrayBuffer()))
  fetched.set(url, asked)
  asked.catch(() => fetched.delete(url))
  return asked
}

async function fonts(sheets: readonly Sheet[]): Promise<Fonts> {
  const { subsets } = lettersOf(sheets)
  const face = async (of: keyof typeof WEIGHTS) =>
    Object.fromEntries(
      await Promise.all([...subsets].map(async (subset) => [subset, await bytesOf(urlOf(of, subset))] as const))
    )
  const [sans, bold, mono] = await Promise.all([face('sans'), face('bold'), face('mono')])
  return { sans, bold, mono }
}

function base64(bytes: Uint8Array): string {
  let text = ''
  for (const byte of bytes) text += String.fromCharCode(byte)
  return btoa(text)
}

/** Hands a picture to the browser's own printing, alone on its page. */
export async function printed(svg: Blob): Promise<void> {
  const image = new Image()
  image.src = `data:image/svg+xml;base64,${base64(new Uint8Array(await svg.arrayBuffer()))}`
  image.className = 'printed'
  await image.decode()
  document.body.append(image)
  window.addEventListener('afterprint', () => image.remove(), { once: true })
  window.print()
}

/** Pixels that a browser draws at once: "canvas", whose largest sides and areas no standard says. */
const MOST = 16_000

/** The file; rejects with a sentence where a browser cannot draw it. */
export async function pictureFile(
  sheets: readonly Sheet[],
  { kind, palette, scale, paper, title }: PictureAs
): Promise<Blob> {
  const [first] = sheets
  if (!first) throw new Error('There is nothing to draw.')
  if (kind === 'pdf') {
    const { pdfOf } = await import('../../core/picture/pdf')
    const bytes = await pdfOf(sheets, {
      palette,
      fonts: await fonts(sheets),
      title,
      ...(paper === undefined ? {} : { paper })
    })
    return new Blob([new Uint8Array(bytes)], { type: 'application/pdf' })
  }
  const svg = svgOf(first, { palette, fonts: fontRules(await fonts(sheets), base64) })
  if (kind === 'svg') return new Blob([svg], { type: 'image/svg+xml' })
  const [width, height] = [first.width * scale, first.height * scale]
  if (width > MOST || height > MOST)
    throw new Error(`${width} by ${height} pixels are more than a browser draws: save it smaller, or as SVG or PDF.`)
  const image = new Image()
  image.src = `data:image/svg+xml;base64,${base64(new TextEncoder().encode(svg))}`
  await image.decode()
  const canvas = Object.assign(document.createElement('canvas'), { width, height })
  canvas.getContext('2d')?.drawImage(image, 0, 0, width, height)
  return new Promise((resolve, reject) => {
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('The browser could not draw it.'))), 'image/png')
  })
}
