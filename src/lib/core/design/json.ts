// JSON as it is read from a file. Beside what is no JSON, what JSON allows and no reader keeps as it stands is refused with
// its place: a key twice in one object, a number out of range, half of a character (RFC 8259, sections 4, 6 and 8.2).
import { failed, ok, type Result } from '../notice'

/** Reads a JSON text. Errors: `file-not-json`, `file-shape`; `where` is `line:column`. */
export function readJson(given: string): Result<unknown> {
  const text = given.startsWith('\ufeff') ? given.slice(1) : given
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch (error) {
    const where = place(text, offsetOf(error) ?? text.length)
    const [line, column] = where.split(':')
    return failed(
      'file-not-json',
      `This is not a design file: it cannot be read as JSON at line ${line}, column ${column}.`,
      where
    )
  }
  const lost = isKept(text, value) ? undefined : whatIsLost(text)
  return lost ? failed('file-shape', lost.message, place(text, lost.at)) : ok(value)
}

/** `line:column` of a character, both from 1. */
export function place(text: string, at: number): string {
  const before = text.slice(0, at).split('\n')
  return `${before.length}:${(before.at(-1)?.length ?? 0) + 1}`
}

/** Engines say an offset, or nothing at all when the text ends too early. */
function offsetOf(error: unknown): number | undefined {
  const offset = /position (\d+)/.exec(error instanceof Error ? error.message : '')?.[1]
  return offset === undefined ? undefined : Number(offset)
}

/** Whether a value holds all of its text, told in a hurry: it has as many keys, finite numbers, and whole characters. */
function isKept(text: string, value: unknown): boolean {
  if (/\p{Surrogate}/u.test(text) || /\\u[dD]/.test(text)) return false
  let keys = 0
  const left = [value]
  while (left.length > 0) {
    const next = left.pop()
    if (typeof next === 'number' && !Number.isFinite(next)) return false
    if (typeof next !== 'object' || next === null) continue
    const values: readonly unknown[] = Array.isArray(next) ? next : Object.values(next)
    if (values !== next) keys += values.length
    for (const inner of values) left.push(inner)
  }
  return keys === colonsIn(text)
}

/** How many colons stand outside of texts: one for each key. */
function colonsIn(text: string): number {
  let colons = 0
  let inText = false
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i)
    if (c === QUOTE) inText = !inText
    else if (inText) i += c === BACKSLASH ? 1 : 0
    else if (c === COLON) colons++
  }
  return colons
}
const [QUOTE, BACKSLASH, COLON] = ['"', '\\', ':'].map((c) => c.charCodeAt(0))

/** The first thing in a text, which is JSON, that its value does not hold as it stands there. */
function whatIsLost(text: string): { message: string; at: number } | undefined {
  /** The keys of each object that is open; nothing for a list. */
  const open: (Set<string> | undefined)[] = []
  let keyNext = false
  for (const match of text.matchAll(/"(?:[^"\\]|\\.)*"|-?\d[\d.eE+-]*|[{}[\],:]/gs)) {
    const [token] = match
    const at = match.index
    if (token === '{' || token === '[') open.push(token === '{' ? new Set() : undefined)
    if (token === '}' || token === ']') open.pop()
    if (token === '{' || token === ',') keyNext = open.at(-1) !== undefined
    if (token.length > 1 && token.startsWith('"')) {
      const word = token.includes('\\') ? String(JSON.parse(token)) : token.slice(1, -1)
      if (/\p{Surrogate}/u.test(word)) return { message: 'Half of a character stands in a text.', at }
      const keys = open.at(-1)
      if (keyNext && keys) {
        if (keys.has(word)) return { message: `“${word}” stands twice in one object.`, at }
        keys.add(word)
        keyNext = false
      }
    } else if (!Number.isFinite(Number(token)) && /^[-\d]/.test(token))
      return { message: `${token} is a number too large to be kept.`, at }
  }
  return undefined
}
