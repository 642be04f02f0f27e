// Names of tables and columns taken apart, so that `berth_codes`, `BerthCode` and `berthcode` can be held against each other.

/** The words of a name, in small letters: parted at what is no letter, and where a capital begins one. */
export const wordsOf = (name: string): string[] =>
  name
    .replace(/(\p{Ll}|\d)(\p{Lu})/gu, '$1 $2')
    .replace(/(\p{Lu})(\p{Lu}\p{Ll})/gu, '$1 $2')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== '')

/** One of many, by the commonest rules of English: common practice, no source. */
export function singular(word: string): string {
  if (word.length < 4 || /(ss|us|is)$/.test(word)) return word
  if (word.endsWith('ies')) return `${word.slice(0, -3)}y`
  if (/(ses|xes|zes|ches|shes)$/.test(word)) return word.slice(0, -2)
  return word.endsWith('s') ? word.slice(0, -1) : word
}

/** A name with nothing between its words, the last of them as one of many. */
export function stem(words: readonly string[]): string {
  const last = words.at(-1)
  return last === undefined ? '' : [...words.slice(0, -1), singular(last)].join('')
}

/** The word that most names of a database begin with, if any does: it tells none of them from the others. */
export function commonPrefix(names: readonly string[]): string | undefined {
  const counts = new Map<string, number>()
  for (const name of names) {
    const [first, second] = wordsOf(name)
    if (first !== undefined && second !== undefined) counts.set(first, (counts.get(first) ?? 0) + 1)
  }
  const [most] = [...counts].sort((a, b) => b[1] - a[1])
  return most && names.length > 3 && most[1] > names.length * 0.6 ? most[0] : undefined
}
