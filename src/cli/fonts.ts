// The fonts of a drawing, from the packages that ship them.
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { inflateSync } from 'node:zlib'
import { fontRules, lettersOf, type Fonts, type Subset, type Sheet } from '../lib/core/picture'
import type { Face } from '../lib/core/picture/text'

const require = createRequire(import.meta.url)

type Kind = 'woff' | 'woff2'
/** Latin letters in the app's own fonts, others in one that goes with them. */
const familyOf = (face: Face, subset: Subset): string =>
  subset.startsWith('latin')
    ? `atkinson-hyperlegible-${face === 'mono' ? 'mono' : 'next'}`
    : `noto-sans${face === 'mono' ? '-mono' : ''}`

async function files(face: Face, subsets: ReadonlySet<Subset>, kind: Kind) {
  const weight = face === 'bold' ? 700 : 400
  return Object.fromEntries(
    await Promise.all(
      [...subsets].map(async (subset) => {
        const family = familyOf(face, subset)
        const path = `@fontsource/${family}/files/${family}-${subset}-${weight}-normal.${kind}`
        return [subset, new Uint8Array(await readFile(require.resolve(path)))] as const
      })
    )
  )
}

/** The files that these drawings need. */
export async function fonts(sheets: readonly Sheet[], kind: Kind = 'woff'): Promise<Fonts> {
  const { subsets } = lettersOf(sheets)
  const [sans, bold, mono] = await Promise.all([
    files('sans', subsets, kind),
    files('bold', subsets, kind),
    files('mono', subsets, kind)
  ])
  return { sans, bold, mono }
}

/** Rules of CSS with the fonts in them. */
export async function embeddedFonts(sheets: readonly Sheet[]): Promise<string> {
  const base64 = (bytes: Uint8Array) => Buffer.from(bytes).toString('base64')
  return fontRules(await fonts(sheets, 'woff2'), base64)
}

/** The fonts as files that a drawing library reads, for as long as they are needed. */
export async function withFontFiles<T>(sheets: readonly Sheet[], work: (files: string[]) => T): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), 'ramblet-fonts-'))
  try {
    const all = Object.values(await fonts(sheets)).flatMap((face) => Object.values(face))
    const paths = await Promise.all(
      all.map(async (woff, i) => {
        const name = join(folder, `${i}.ttf`)
        await writeFile(name, unpacked(woff))
        return name
      })
    )
    return work(paths)
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

/**
 * A WOFF file as the OpenType file that it packs: tables by their directory, each unpacked where it is packed ("WOFF File Format 1.0", W3C
 * Recommendation, 2012).
 */
function unpacked(woff: Uint8Array): Uint8Array {
  const from = new DataView(woff.buffer, woff.byteOffset, woff.byteLength)
  const count = from.getUint16(12)
  const tables = Array.from({ length: count }, (_, i) => {
    const at = 44 + i * 20
    const [offset, packed, length] = [from.getUint32(at + 4), from.getUint32(at + 8), from.getUint32(at + 12)]
    const data = woff.subarray(offset, offset + packed)
    return { tag: from.getUint32(at), sum: from.getUint32(at + 16), bytes: packed < length ? inflateSync(data) : data }
  })
  const padded = (length: number) => (length + 3) & ~3
  const head = 12 + count * 16
  const all = new Uint8Array(head + tables.reduce((size, { bytes }) => size + padded(bytes.length), 0))
  const to = new DataView(all.buffer)
  const steps = Math.floor(Math.log2(count))
  to.setUint32(0, from.getUint32(4))
  to.setUint16(4, count)
  to.setUint16(6, 2 ** steps * 16)
  to.setUint16(8, steps)
  to.setUint16(10, count * 16 - 2 ** steps * 16)
  let offset = head
  tables.forEach(({ tag, sum, bytes }, i) => {
    const at = 12 + i * 16
    to.setUint32(at, tag)
    to.setUint32(at + 4, sum)
    to.setUint32(at + 8, offset)
    to.setUint32(at + 12, bytes.length)
    all.set(bytes, offset)
    offset += padded(bytes.length)
  })
  return all
}
