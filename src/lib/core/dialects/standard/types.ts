// What all engines' spellings of types have in common.
import type { TypeSystem } from '../dialect'

/** A type in lower case, without blanks that mean nothing: `VARCHAR ( 20 )` is `varchar(20)`. */
export const tidyType = (type: string): string =>
  type
    .trim()
    // What stands in quotes is a value, not a word.
    .split(/('(?:[^'\\]|''|\\.)*')/)
    .map((part, i) => (i % 2 ? part : tidy(part)))
    .join('')

const tidy = (words: string): string =>
  words
    .toLowerCase()
    .replace(/\s+/g, ' ')
    .replace(/ ?\( ?/g, '(')
    .replace(/ ?\)/g, ')')
    .replace(/ ?, ?/g, ',')

/** A list of allowed values where the engine has no type of its own for it: text, and a check beside it. */
export function oneOfAsText(values: readonly string[]): ReturnType<TypeSystem['fromNeutral']> {
  const longest = Math.max(20, ...values.map((value) => [...value].length))
  return { type: `varchar(${longest})`, grade: 'emulated', note: 'allowed values are kept by a check' }
}
