// One or many, of an English word.
import pluralize from 'pluralize'

export type GrammaticalNumber = 'singular' | 'plural'

export const inNumber = (word: string, number: GrammaticalNumber): string =>
  number === 'plural' ? pluralize.plural(word) : pluralize.singular(word)
