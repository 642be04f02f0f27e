// A drawing as a file, with the fonts in it: SVG as text, PNG by way of the browser's own drawing, PDF by its library.
import boldExtended from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-700-normal.woff?url'
import boldPlain from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff?url'
import monoExtended from '@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-ext-400-normal.woff?url'
import monoPlain from '@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-400-normal.woff?url'
import sansExtended from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-400-normal.woff?url'
import sansPlain from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff?url'
import { fontRules, svgOf, type Palette, type Sheet } from '../../core/picture'
import type { Fonts, Paper } from '../../core/picture/pdf'

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

let loaded: Promise<Fonts> | undefined

const bytesOf = async (url: string) => new Uint8Array(await (await fetch(url)).arrayBuffer())
const both = (...urls: readonly [string, string]) => Promise.all([bytesOf(urls[0]), bytesOf(urls[1])])

const fonts = (): Promise<Fonts> =>
  (loaded ??= Promise.all([
    both(sansPlain, sansExtended),
    both(boldPlain, boldExtended),
    both(monoPlain, monoExtended)
  ]).then(
    ([sans, bold, mono]) => ({ sans, bold, mono }),
    (error: unknown) => {
      // What could not be fetched is asked for again.
      loaded = undefined
      throw error
    }
  ))

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
      fonts: await fonts(),
      title,
      ...(paper === undefined ? {} : { paper })
    })
    return new Blob([new Uint8Array(bytes)], { type: 'application/pdf' })
  }
  const svg = svgOf(first, { palette, fonts: fontRules(await fonts(), base64) })
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
