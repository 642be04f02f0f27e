// Names cut to an engine's limit: the same name always gives the same short name, whatever else is in the schema.

/** How an engine counts the length of a name. */
export type LengthUnit = 'bytes' | 'characters'

const encoder = new TextEncoder()
/** Letters that are one byte and one character each. */
const PLAIN = /^[ -~]*$/

/** The length of a name in the engine's unit (bytes are those of UTF-8). */
export function nameLength(name: string, unit: LengthUnit): number {
  if (PLAIN.test(name)) return name.length
  return unit === 'bytes' ? encoder.encode(name).length : [...name].length
}

/**
 * The name itself when it fits, else its beginning plus `_` and a hash of the whole name.
 * Two different long names stay different but for a hash collision (32 bits).
 */
export function shorten(name: string, limit: number, unit: LengthUnit): string {
  if (nameLength(name, unit) <= limit) return name
  const tail = '_' + hash(name)
  let head = ''
  for (const letter of name) {
    if (nameLength(head + letter, unit) + tail.length > limit) break
    head += letter
  }
  return head.replace(/_+$/, '') + tail
}

/** FNV-1a, 32 bits, over UTF-8, as seven letters and digits. */
export function hash(text: string): string {
  let h = 0x811c9dc5
  for (const byte of encoder.encode(text)) h = Math.imul(h ^ byte, 0x01000193)
  return (h >>> 0).toString(36).padStart(7, '0')
}
