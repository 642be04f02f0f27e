// Pictures by the command line, read again by packages that know nothing of ours: XML by fast-xml-parser, PDF by pdf.js.
import { execFileSync, spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { XMLParser } from 'fast-xml-parser'
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { harbour } from '../../demo/harbour'
import { edit, newDesign, newEntity, printDesign } from '../../src/lib/core/design'
import { NOTATIONS } from '../../src/lib/core/picture'

const root = fileURLToPath(new URL('../..', import.meta.url))
const folder = mkdtempSync(join(tmpdir(), 'pictures-'))
const file = (name: string) => join(folder, name)
const design = harbour()
const names = Object.values(design.entities).map(({ name }) => name)

function drawn(name: string, ...options: string[]): Uint8Array {
  execFileSync(process.execPath, [
    join(root, 'bin/ramblet'),
    'picture',
    file('h.ramblet'),
    '-o',
    file(name),
    ...options
  ])
  return new Uint8Array(readFileSync(file(name)))
}

beforeAll(() => {
  execFileSync(process.execPath, [join(root, 'scripts/build-cli.mjs')])
  writeFileSync(file('h.ramblet'), printDesign(design))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

interface Element {
  readonly ':@'?: Readonly<Record<string, string>>
  readonly [tag: string]: unknown
}

/** Every text and every number pair of a path, in the plane of the whole. */
function inSvg(bytes: Uint8Array): { width: number; height: number; texts: string[]; points: [number, number][] } {
  const parser = new XMLParser({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    trimValues: false
  })
  const tree = parser.parse(new TextDecoder().decode(bytes)) as Element[]
  const texts: string[] = []
  const points: [number, number][] = []
  let size: [number, number] = [0, 0]
  const walk = (list: readonly Element[], dx: number, dy: number) => {
    for (const element of list) {
      const { ':@': attributes = {}, ...tags } = element
      for (const [tag, inner] of Object.entries(tags)) {
        if (tag === '#text') continue
        const children = inner as Element[]
        const [, x = '0', y = '0'] = /translate\((\S+) (\S+)\)/.exec(attributes['transform'] ?? '') ?? []
        const [left, top] = [dx + Number(x), dy + Number(y)]
        if (tag === 'svg') {
          const [, , width = 0, height = 0] = (attributes['viewBox'] ?? '').split(' ').map(Number)
          size = [width, height]
        }
        if (tag === 'text') {
          texts.push(children.map((child) => String(child['#text'] ?? '')).join(''))
          points.push([left + Number(attributes['x']), top + Number(attributes['y'])])
        }
        for (const [, , rest = ''] of (attributes['d'] ?? '').matchAll(/([MLQA])([^MLQAZ]*)/g)) {
          const numbers = rest
            .trim()
            .split(/[\s,]+/)
            .map(Number)
          points.push([left + (numbers.at(-2) ?? 0), top + (numbers.at(-1) ?? 0)])
        }
        walk(children, left, top)
      }
    }
  }
  walk(tree, 0, 0)
  return { width: size[0], height: size[1], texts, points }
}

async function inPdf(bytes: Uint8Array) {
  const doc = await getDocument({ data: bytes, verbosity: 0 }).promise
  const pages: { view: number[]; items: { text: string; x: number; y: number }[] }[] = []
  for (let i = 1; i <= doc.numPages; i++) {
    const page = await doc.getPage(i)
    const { items } = await page.getTextContent()
    pages.push({
      view: page.view,
      items: items.flatMap((item) =>
        'str' in item && item.str.trim() !== ''
          ? [{ text: item.str, x: Number(item.transform[4]), y: Number(item.transform[5]) }]
          : []
      )
    })
  }
  return pages
}

describe.each(NOTATIONS.map(({ id }) => id))('%s', (notation) => {
  it('is an SVG whose texts can be read, and nothing of which is outside of it', () => {
    const { width, height, texts, points } = inSvg(drawn('one.svg', '--notation', notation))
    const plain = texts.map((text) => text.toLowerCase())
    for (const name of names) expect(plain).toContain(name.toLowerCase())
    for (const { text } of NOTATIONS.find(({ id }) => id === notation)?.legend ?? []) expect(texts).toContain(text)
    expect(points.length).toBeGreaterThan(300)
    for (const [x, y] of points) {
      expect(x >= 0 && x <= width, `${x} in ${width}`).toBe(true)
      expect(y >= 0 && y <= height, `${y} in ${height}`).toBe(true)
    }
  })

  it('is a PDF of one page with its letters as letters, all of them on it', async () => {
    const [page, ...more] = await inPdf(drawn('one.pdf', '--notation', notation))
    expect(more).toEqual([])
    const [, , width = 0, height = 0] = page?.view ?? []
    const texts = page?.items.map(({ text }) => text.toLowerCase()) ?? []
    for (const name of names) expect(texts.join(' ')).toContain(name.toLowerCase())
    for (const { x, y, text } of page?.items ?? [])
      expect(x >= 0 && x <= width && y >= 0 && y <= height, text).toBe(true)
  })
})

it('is tiled over paper, each part on a page and each page with its place', async () => {
  const pages = await inPdf(drawn('tiled.pdf', '--paper', 'A4'))
  expect(pages.length).toBeGreaterThan(1)
  for (const { view } of pages)
    // ISO 216: 210 by 297 millimetres, in points.
    expect(
      view
        .slice(2)
        .sort((a, b) => a - b)
        .map(Math.round)
    ).toEqual([595, 842])
  const all = pages.flatMap(({ items }) => items.map(({ text }) => text)).join(' ')
  for (const name of names) expect(all).toContain(name)
  const placed = pages.map(({ items }) => items.find(({ text }) => /^\d+\.\d+ of \d+\.\d+$/.test(text))?.text)
  expect(new Set(placed).size).toBe(pages.length)
})

it('is a PNG as large as it is asked for', () => {
  const size = (bytes: Uint8Array) => {
    const view = new DataView(bytes.buffer)
    // "Portable Network Graphics", 11.2.1: the header says width and height first.
    return [view.getUint32(16), view.getUint32(20)] as const
  }
  const [once, twice] = [size(drawn('one.png')), size(drawn('two.png', '--scale', '2', '--dark'))]
  expect(twice).toEqual(once.map((length) => length * 2))
  const { width, height } = inSvg(drawn('one.svg'))
  expect(once).toEqual([width, height])
})

it('has Greek and Cyrillic letters as letters, and says which no font has', async () => {
  const run = (kind: string, ...names: readonly string[]) => {
    const design = names.reduce(
      (now, name) => edit(now, { kind: 'object.set', collection: 'entities', object: newEntity(name) }),
      newDesign('Letters')
    )
    writeFileSync(file('letters.ramblet'), printDesign(design))
    const options = ['picture', file('letters.ramblet'), '-o', file(`letters.${kind}`)]
    const { stderr } = spawnSync(process.execPath, [join(root, 'bin/ramblet'), ...options], { encoding: 'utf8' })
    return { stderr, bytes: new Uint8Array(readFileSync(file(`letters.${kind}`))) }
  }
  const named = ['Λιμάνι', 'Причал', 'Łódź', 'Ґанок']
  const { stderr, bytes } = run('pdf', ...named, '港')
  expect(stderr).toContain('the letters 港')
  const [page] = await inPdf(bytes)
  // A name of letters from two files is two pieces.
  const texts = page?.items.map(({ text }) => text.replaceAll(' ', '')).join('')
  for (const name of named) expect(texts).toContain(name)
  // What no font has is one box like another; other letters are other shapes.
  const drawnAs = (name: string) => Buffer.from(run('png', name).bytes).toString('base64')
  for (const [one, other] of [
    ['ΛΛΛ', 'ΜΜΜ'],
    ['Прил', 'Дрил'],
    ['ҖҖҖ', 'ҚҚҚ']
  ] as const)
    expect(drawnAs(one)).not.toBe(drawnAs(other))
  expect(drawnAs('港')).toBe(drawnAs('船'))
})

it('says what there is, where something else is asked for', () => {
  const refused = (...options: string[]) => {
    try {
      execFileSync(process.execPath, [join(root, 'bin/ramblet'), 'picture', file('h.ramblet'), ...options], {
        stdio: 'pipe',
        encoding: 'utf8'
      })
      return ''
    } catch (error) {
      return String((error as { stderr?: string }).stderr)
    }
  }
  expect(refused('-o', file('x.gif'))).toContain('FILE.svg, FILE.pdf or FILE.png')
  expect(refused('-o', file('x.svg'), '--diagram', 'nowhere')).toContain('There are: Whole harbour')
  expect(refused('-o', file('x.svg'), '--notation', 'runes')).toContain('Known: crows foot, idef1x, uml, barker, chen')
  expect(refused('-o', file('x.svg'), '--paper', 'A4')).toContain('--paper is for a PDF')
})
