// The fonts of a drawing, from the packages that ship them.
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { inflateSync } from 'node:zlib'
import type { Fonts } from '../lib/core/picture/pdf'
import { fontRules } from '../lib/core/picture/fonts'

const NEXT = 'atkinson-hyperlegible-next'
const MONO = 'atkinson-hyperlegible-mono'
const require = createRequire(import.meta.url)

const file = (family: string, subset: string, weight: number, kind: 'woff' | 'woff2'): Promise<Uint8Array> =>
  readFile(require.resolve(`@fontsource/${family}/files/${family}-${subset}-${weight}-normal.${kind}`))

const both = async (family: string, weight: number, kind: 'woff' | 'woff2') =>
  Promise.all([file(family, 'latin', weight, kind), file(family, 'latin-ext', weight, kind)])

export async function fonts(kind: 'woff' | 'woff2' = 'woff'): Promise<Fonts> {
  const [sans, bold, mono] = await Promise.all([both(NEXT, 400, kind), both(NEXT, 700, kind), both(MONO, 400, kind)])
  return { sans, bold, mono }
}

/** Rules of CSS with the fonts in them. */
export async function embeddedFonts(): Promise<string> {
  const base64 = (bytes: Uint8Array) => Buffer.from(bytes).toString('base64')
  return fontRules(await fonts('woff2'), base64)
}

/** The fonts as files that a drawing library reads, for as long as they are needed. */
export async function withFontFiles<T>(work: (files: string[]) => T): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), 'ramblet-fonts-'))
  try {
    const { sans, bold, mono } = await fonts()
    const files = await Promise.all(
      [...sans, ...bold, ...mono].map(async (woff, i) => {
        const name = join(folder, `${i}.ttf`)
        await writeFile(name, unpacked(woff))
        return name
      })
    )
    return work(files)
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
