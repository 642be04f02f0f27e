// The fonts of a drawing: which letters stand in which file, and the files as rules of CSS for a drawing that brings them along.
import type { Sheet } from './sheet'
import type { Face } from './text'

/** The files of a face, by the letters that they have: ranges of Unicode, the last one included, the first that fits. All others are in the first file. */
export const SUBSETS = {
  latin: [],
  'latin-ext': [
    [0x100, 0x130],
    [0x132, 0x151],
    [0x154, 0x2ba],
    [0x1e00, 0x1eff]
  ],
  greek: [[0x370, 0x3ff]],
  cyrillic: [
    [0x400, 0x45f],
    [0x490, 0x491],
    [0x4b0, 0x4b1]
  ],
  'cyrillic-ext': [[0x460, 0x52f]]
} as const satisfies Record<string, readonly (readonly [number, number])[]>
export type Subset = keyof typeof SUBSETS
const subsets = Object.entries(SUBSETS) as readonly [Subset, readonly (readonly [number, number])[]][]

/** WOFF or TrueType files. */
export type Fonts = Readonly<Record<Face, Readonly<Partial<Record<Subset, Uint8Array>>>>>

export function subsetOf(letter: string): Subset {
  const code = letter.codePointAt(0) ?? 0
  return subsets.find(([, ranges]) => ranges.some(([from, to]) => code >= from && code <= to))?.[0] ?? 'latin'
}

/** Pieces of a text that one file has the letters of. */
export function runsOf(text: string): { readonly text: string; readonly subset: Subset }[] {
  const runs: { text: string; subset: Subset }[] = []
  for (const letter of text) {
    const subset = subsetOf(letter)
    const last = runs.at(-1)
    if (last?.subset === subset) last.text += letter
    else runs.push({ text: letter, subset })
  }
  return runs
}

/** The files that the texts of drawings need, and the letters that no file has. */
export function lettersOf(sheets: readonly Sheet[]): {
  readonly subsets: ReadonlySet<Subset>
  readonly lacking: string
} {
  const letters = new Set<string>()
  for (const { pieces } of sheets)
    for (const { shapes } of pieces)
      for (const shape of shapes) if (shape.kind === 'text') for (const letter of shape.text) letters.add(letter)
  const all = [...letters]
  return {
    subsets: new Set<Subset>(['latin', ...all.map(subsetOf)]),
    lacking: all.filter((letter) => subsetOf(letter) === 'latin' && !isLatin(letter)).join('')
  }
}

/** What the first file of a face has beside Latin-1: as the package of the font says of its Latin file. */
const ALSO_LATIN: ReadonlySet<number> = new Set([
  0x131, 0x152, 0x153, 0x2bb, 0x2bc, 0x2c6, 0x2da, 0x2dc, 0x20ac, 0x2122, 0x2191, 0x2193, 0x2212, 0x2215, 0xfeff, 0xfffd
])
function isLatin(letter: string): boolean {
  const code = letter.codePointAt(0) ?? 0
  return code < 0x100 || (code >= 0x2000 && code <= 0x206f) || ALSO_LATIN.has(code)
}

const FACES = { sans: ['Next', 400], bold: ['Next', 700], mono: ['Mono', 400] } as const

/** "CSS Fonts": which letters are looked for in which file. */
export function fontRules(fonts: Fonts, base64: (bytes: Uint8Array) => string): string {
  const hex = (code: number) => code.toString(16)
  return (['sans', 'bold', 'mono'] as const)
    .flatMap((face) => {
      const [family, weight] = FACES[face]
      return subsets.flatMap(([subset, ranges]) => {
        const bytes = fonts[face][subset]
        if (!bytes) return []
        // "WOFF File Format 2.0": it begins with wOF2, the older one with wOFF.
        const kind = bytes[3] === 0x32 ? 'woff2' : 'woff'
        const list = ranges.map(([from, to]) => `U+${hex(from)}-${hex(to)}`).join(',')
        const range = list === '' ? '' : `unicode-range:${list};`
        return [
          `@font-face{font-family:'Atkinson Hyperlegible ${family}';font-weight:${weight};${range}src:url(data:font/${kind};base64,${base64(bytes)}) format('${kind}')}`
        ]
      })
    })
    .join('')
}
