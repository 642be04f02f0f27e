// Short words of database names, and the words that people say for them.

/** What each short word stands for, both in small letters: `{ qty: 'quantity' }`. */
export type Abbreviations = Readonly<Record<string, string>>

interface Known {
  readonly long: ReadonlyMap<string, string>
  readonly short: ReadonlyMap<string, string>
}

const known = new WeakMap<Abbreviations, Known>()

function both(abbreviations: Abbreviations): Known {
  const before = known.get(abbreviations)
  if (before) return before
  // Of two short words for one, the first in the alphabet is written: whatever order they were said in.
  const sorted = Object.entries(abbreviations).sort(([a], [b]) => (a < b ? 1 : -1))
  const made = { long: new Map(sorted), short: new Map(sorted.map(([short, long]) => [long, short])) }
  known.set(abbreviations, made)
  return made
}

const NONE: Abbreviations = {}

/** Words as a database name has them. */
export function shortened(words: readonly string[], abbreviations: Abbreviations = NONE): string[] {
  const { short } = both(abbreviations)
  return short.size === 0 ? [...words] : words.map((word) => short.get(word.toLowerCase()) ?? word)
}

/** Words of a database name as people say them. */
export function spelledOut(words: readonly string[], abbreviations: Abbreviations = NONE): string[] {
  const { long } = both(abbreviations)
  return long.size === 0 ? [...words] : words.map((word) => long.get(word.toLowerCase()) ?? word)
}
