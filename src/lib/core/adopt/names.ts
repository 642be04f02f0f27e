// From the name a database has to the one people say, keeping the first where the rules would not give it back.
import type { Settings } from '../design'
import type { Dialect } from '../dialects'
import { databaseName, inNumber, join, spelledOut, tableWords, wordsOf } from '../naming'

/** What names follow from: the engine that they are of, and the design's own words. */
export interface Naming {
  readonly dialect: Dialect
  readonly settings: Settings
}

/** `tide_reading` → `Tide reading` for an entity, `taken at` for an attribute. */
export function businessName(
  name: string,
  { dialect: { profile }, settings: { abbreviations, tables } }: Naming,
  capital: boolean
): { name: string; dbName?: string } {
  const spelled = spelledOut(wordsOf(name), abbreviations)
  // Where tables are called by many, people speak of one.
  const one =
    capital && tables === 'plural'
      ? spelled.map((word, i) => (i === spelled.length - 1 ? inNumber(word, 'singular') : word))
      : spelled
  const words = one.join(' ').toLowerCase()
  const said = words === '' ? name : capital ? words.charAt(0).toUpperCase() + words.slice(1) : words
  const rules = { ...profile.names, tablePrefix: '', abbreviations, tables }
  const back = capital ? join(tableWords(said, rules), rules) : databaseName(said, rules)
  return back === name ? { name: said } : { name: said, dbName: name }
}
