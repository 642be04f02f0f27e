// The fonts of a drawing as rules of CSS, for a file that brings them along.
import type { Fonts } from './pdf'

const FACES = { sans: ['Next', 400], bold: ['Next', 700], mono: ['Mono', 400] } as const

/** "CSS Fonts": the extended letters are looked for in the second file of each. */
export function fontRules(fonts: Fonts, base64: (bytes: Uint8Array) => string): string {
  return (['sans', 'bold', 'mono'] as const)
    .flatMap((face) => {
      const [family, weight] = FACES[face]
      return fonts[face].map((bytes, i) => {
        // "WOFF File Format 2.0": it begins with wOF2, the older one with wOFF.
        const kind = bytes[3] === 0x32 ? 'woff2' : 'woff'
        const range = i === 0 ? '' : 'unicode-range:U+100-130,U+132-151,U+154-2ba,U+1e00-1eff;'
        return `@font-face{font-family:'Atkinson Hyperlegible ${family}';font-weight:${weight};${range}src:url(data:font/${kind};base64,${base64(bytes)}) format('${kind}')}`
      })
    })
    .join('')
}
