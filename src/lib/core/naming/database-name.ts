// From the name people say to the name an engine gets.
import { shortened, type Abbreviations } from './abbreviations'
import { shorten, type LengthUnit } from './shorten'

/** The rules a target names things by. `fold` is what the engine does to unquoted names. */
export interface NamingRules {
  readonly fold: 'lower' | 'upper' | 'kept'
  readonly limit: number
  readonly unit: LengthUnit
  readonly tablePrefix: string
  readonly abbreviations?: Abbreviations | undefined
}

/** Words of a business name: split at spaces, punctuation and camel humps; accents are kept. */
export function wordsOf(name: string): string[] {
  return name
    .replace(/([\p{Ll}\p{N}])(\p{Lu})/gu, '$1 $2')
    .replace(/['’]/g, '')
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== '')
}

/** `Cargo line` → `cargo_line`. A name that would begin with a digit gets a leading underscore. */
export function databaseName(business: string, rules: NamingRules): string {
  return join(shortened(wordsOf(business), rules.abbreviations), rules)
}

/** Joins name parts (already words or names) with underscores, folded and cut to the engine's limit. */
export function join(parts: readonly string[], rules: NamingRules): string {
  const plain = parts.filter((part) => part !== '').join('_')
  const lettered = plain === '' ? 'unnamed' : /^\p{N}/u.test(plain) ? '_' + plain : plain
  // Names in our own scripts are lower case where the engine keeps what it is given: one habit everywhere.
  const folded = rules.fold === 'upper' ? lettered.toUpperCase() : lettered.toLowerCase()
  return shorten(folded, rules.limit, rules.unit)
}

/** The column that a link makes in the child: role or parent, then the key's name: `flag_iso`, `vessel_id`. */
export function linkColumnName(roleOrParent: string, keyColumn: string, rules: NamingRules): string {
  return join([...wordsOf(roleOrParent), keyColumn], rules)
}

/** A constraint's or index's name: `fk_visit_vessel`. */
export function constraintName(
  prefix: 'pk' | 'fk' | 'uq' | 'ck' | 'ix',
  parts: readonly string[],
  rules: NamingRules
): string {
  return join([prefix, ...parts], rules)
}
