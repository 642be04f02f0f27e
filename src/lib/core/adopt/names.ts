// From the name a database has to the one people say, keeping the first where the rules would not give it back.
import type { Settings } from '../design'
import type { Dialect } from '../dialects'
import { databaseName, spelledOut, wordsOf } from '../naming'

/** What names follow from: the engine that they are of, and the design's own words. */
export interface Naming {
  readonly dialect: Dialect
  readonly settings: Settings
}

/** `tide_reading` → `Tide reading` for an entity, `taken at` for an attribute. */
export function businessName(
  name: string,
  { dialect: { profile }, settings: { abbreviations } }: Naming,
  capital: boolean
): { name: string; dbName?: string } {
  const words = spelledOut(wordsOf(name), abbreviations).join(' ').toLowerCase()
  const said = words === '' ? name : capital ? words.charAt(0).toUpperCase() + words.slice(1) : words
  const back = databaseName(said, { ...profile.names, tablePrefix: '', abbreviations })
  return back === name ? { name: said } : { name: said, dbName: name }
}
