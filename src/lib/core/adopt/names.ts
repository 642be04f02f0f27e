// From the name a database has to the one people say, keeping the first where the rules would not give it back.
import type { EngineProfile } from '../dialects'
import { databaseName, wordsOf } from '../naming'

/** `tide_reading` → `Tide reading` for an entity, `taken at` for an attribute. */
export function businessName(
  name: string,
  profile: EngineProfile,
  capital: boolean
): { name: string; dbName?: string } {
  const words = wordsOf(name).join(' ').toLowerCase()
  const said = words === '' ? name : capital ? words.charAt(0).toUpperCase() + words.slice(1) : words
  const back = databaseName(said, { ...profile.names, tablePrefix: '' })
  return back === name ? { name: said } : { name: said, dbName: name }
}
