// Names in letters of one habit: what words are joined by, and which of their letters are large.
import type { NamingRules } from './database-name'

export const LETTERS = ['lower', 'upper', 'camel', 'pascal'] as const
export type Letters = (typeof LETTERS)[number]

/** A name of words joined by `_`, as the rules have names; as it is where they say nothing. */
export function inLetters(
  name: string,
  { letters, separator = '_' }: Pick<NamingRules, 'letters' | 'separator'>
): string {
  if (letters === undefined && separator === '_') return name
  const words = name.split('_').filter((word) => word !== '')
  const large = (word: string) => word.slice(0, 1).toUpperCase() + word.slice(1).toLowerCase()
  const cased = words.map((word, i) => {
    if (letters === 'upper') return word.toUpperCase()
    if (letters === 'pascal' || (letters === 'camel' && i > 0)) return large(word)
    return letters === undefined ? word : word.toLowerCase()
  })
  // Words that run into each other are told apart by their letters, or not at all.
  return cased.join(letters === 'camel' || letters === 'pascal' ? '' : separator)
}
