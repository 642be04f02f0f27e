// How wide text is, without a DOM.
import { bold, mono, sans } from './widths'

export type Face = 'sans' | 'bold' | 'mono'

/** Width in pixels at a font size. Letters beyond ASCII count as an average one; wide scripts as a full square. */
export function textWidth(text: string, face: Face, size: number): number {
  if (face === 'mono') return (([...text].length * mono) / 1000) * size
  const table = face === 'sans' ? sans : bold
  let sum = 0
  for (const letter of text) {
    const code = letter.codePointAt(0) ?? 0
    sum += code < 127 ? (table[code - 32] ?? 600) : code > 0x2e80 ? 1000 : 600
  }
  return (sum / 1000) * size
}

/** The text, or its beginning and an ellipsis where it is wider than there is room. */
export function clip(text: string, face: Face, size: number, room: number): string {
  if (textWidth(text, face, size) <= room) return text
  let end = text.length
  while (end > 1 && textWidth(text.slice(0, end) + '…', face, size) > room) end--
  return text.slice(0, end).trimEnd() + '…'
}

/** The text in lines that are no wider than the room, broken between words, or within one that is wider than it. */
export function wrap(text: string, face: Face, size: number, room: number): string[] {
  const lines: string[] = []
  for (const paragraph of text.split('\n')) {
    let line = ''
    for (const word of paragraph.split(' ')) {
      const longer = line === '' ? word : `${line} ${word}`
      if (textWidth(longer, face, size) <= room) {
        line = longer
        continue
      }
      if (line !== '') lines.push(line)
      line = ''
      for (const letter of word) {
        if (line !== '' && textWidth(line + letter, face, size) > room) {
          lines.push(line)
          line = ''
        }
        line += letter
      }
    }
    lines.push(line)
  }
  return lines
}
