// Sheets as PDF, drawn as lines and letters with the fonts in it: one page each, or tiled over paper.
import PDFDocument from 'pdfkit'
import { runsOf, type Fonts } from './fonts'
import { colourOf, type Palette } from './palette'
import type { Sheet } from './sheet'
import type { Shape } from './shapes'

export type Paper = 'A4' | 'A3' | 'LETTER'

export interface PdfOptions {
  readonly palette: Palette
  readonly fonts: Fonts
  /** Tiled over sheets of this; one page as large as the drawing when absent. */
  readonly paper?: Paper
  readonly title?: string
}

/** Points to a pixel: 96 pixels are an inch, and 72 points. */
const POINT = 0.75
/** Points: about a centimetre. */
const MARGIN = 28
/** What a page shows twice, so that pages can be glued. */
const OVERLAP = 14

export async function pdfOf(
  sheets: readonly Sheet[],
  { palette, fonts, paper, title }: PdfOptions
): Promise<Uint8Array> {
  const doc = new PDFDocument({
    autoFirstPage: false,
    // No font but those that are brought along.
    font: '',
    ...(title === undefined ? {} : { info: { Title: title } })
  })
  const chunks: Uint8Array[] = []
  const whole = new Promise<void>((resolve, reject) => {
    doc.on('data', (chunk: Uint8Array) => chunks.push(chunk))
    doc.on('end', resolve)
    doc.on('error', reject)
  })
  for (const [face, files] of Object.entries(fonts))
    for (const [subset, bytes] of Object.entries(files)) doc.registerFont(`${face} ${subset}`, bytes as Buffer)
  for (const one of sheets) {
    if (paper === undefined) {
      doc.addPage({ size: [one.width * POINT, one.height * POINT], margin: 0 })
      doc.save().scale(POINT)
      draw(doc, one, palette)
      doc.restore()
    } else tile(doc, one, palette, paper)
  }
  doc.end()
  await whole
  const all = new Uint8Array(chunks.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const chunk of chunks) {
    all.set(chunk, at)
    at += chunk.length
  }
  return all
}

/** Pages in rows, each with marks at the corners of what it shows and its place among them. */
function tile(doc: PDFKit.PDFDocument, one: Sheet, palette: Palette, paper: Paper) {
  const [width, height] = [one.width * POINT, one.height * POINT]
  const pages = (['portrait', 'landscape'] as const).map((layout) => {
    const size = SIZES[paper]
    const [w, h] = layout === 'portrait' ? size : [size[1], size[0]]
    const [roomX, roomY] = [w - 2 * MARGIN, h - 2 * MARGIN]
    const count = (length: number, room: number) => Math.max(1, Math.ceil((length - OVERLAP) / (room - OVERLAP)))
    return { layout, roomX, roomY, columns: count(width, roomX), rows: count(height, roomY) }
  })
  const [upright, lying] = pages
  if (!upright || !lying) return
  const { layout, roomX, roomY, columns, rows } =
    lying.columns * lying.rows < upright.columns * upright.rows ? lying : upright
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      doc.addPage({ size: paper, layout, margin: 0 })
      doc.save()
      doc.rect(MARGIN, MARGIN, roomX, roomY).clip()
      doc.translate(MARGIN - column * (roomX - OVERLAP), MARGIN - row * (roomY - OVERLAP)).scale(POINT)
      draw(doc, one, palette)
      doc.restore()
      if (columns * rows === 1) continue
      const [left, top, right, bottom] = [MARGIN, MARGIN, MARGIN + roomX, MARGIN + roomY]
      doc.lineWidth(0.5).strokeColor(palette.inks.soft)
      for (const [x, y, dx, dy] of [
        [left, top, -1, -1],
        [right, top, 1, -1],
        [left, bottom, -1, 1],
        [right, bottom, 1, 1]
      ] as const) {
        doc
          .moveTo(x + dx * 3, y)
          .lineTo(x + dx * 12, y)
          .stroke()
        doc
          .moveTo(x, y + dy * 3)
          .lineTo(x, y + dy * 12)
          .stroke()
      }
      doc.font('sans latin').fontSize(8).fillColor(palette.inks.soft)
      doc.text(`${row + 1}.${column + 1} of ${rows}.${columns}`, left + 18, bottom + 8, { lineBreak: false })
    }
}

/** ISO 216; ANSI/ASME Y14.1: points, upright. */
const SIZES: Readonly<Record<Paper, readonly [number, number]>> = {
  A4: [595.28, 841.89],
  A3: [841.89, 1190.55],
  LETTER: [612, 792]
}

function draw(doc: PDFKit.PDFDocument, { width, height, pieces }: Sheet, palette: Palette) {
  doc.rect(0, 0, width, height).fill(colourOf(palette, 'ground'))
  for (const { x, y, shapes, tint } of pieces) {
    doc.save().translate(x, y)
    for (const shape of shapes) one(doc, shape, palette, tint)
    doc.restore()
  }
}

function one(doc: PDFKit.PDFDocument, shape: Shape, palette: Palette, tint: number | undefined) {
  if (shape.kind === 'path') {
    const [fill, stroke] = [shape.fill, shape.stroke].map((ink) => ink && colourOf(palette, ink, tint))
    doc.lineWidth(shape.width ?? 1)
    if (shape.dash === undefined) doc.undash()
    else {
      const [length = 1, space = 1] = shape.dash.split(' ').map(Number)
      doc.dash(length, { space })
    }
    doc.path(shape.d)
    if (fill && stroke) doc.fillAndStroke(fill, stroke)
    else if (fill) doc.fill(fill)
    else if (stroke) doc.stroke(stroke)
    return
  }
  const { text, face, size, ink, anchor, y, underlined } = shape
  const runs = runsOf(text).map((run) => {
    const font = `${face} ${run.subset}`
    return { ...run, font, width: doc.font(font).fontSize(size).widthOfString(run.text) }
  })
  const width = runs.reduce((sum, run) => sum + run.width, 0)
  let x = shape.x - (anchor === 'end' ? width : anchor === 'middle' ? width / 2 : 0)
  doc.fillColor(colourOf(palette, ink, tint))
  for (const run of runs) {
    doc.font(run.font).fontSize(size)
    doc.text(run.text, x, y, { lineBreak: false, baseline: 'alphabetic', ...(underlined ? { underline: true } : {}) })
    x += run.width
  }
}
