// From the name people say to the name an engine gets.
import { shortened, type Abbreviations } from './abbreviations'
import { inNumber, type GrammaticalNumber } from './number'
import { shorten, type LengthUnit } from './shorten'

/** The rules a target names things by. `fold` is what the engine does to unquoted names. */
export interface NamingRules {
  readonly fold: 'lower' | 'upper' | 'kept'
  readonly limit: number
  readonly unit: LengthUnit
  readonly tablePrefix: string
  readonly abbreviations?: Abbreviations | undefined
  /** Whether tables are called by one or by many, whatever people say; as they say it when absent. */
  readonly tables?: GrammaticalNumber | undefined
  /** How keys, constraints and indexes are called: `{table}` and `{columns}` stand for names. */
  readonly patterns?: NamePatterns | undefined
}

export type NamePrefix = 'pk' | 'fk' | 'uq' | 'ck' | 'ix'
export type NamePatterns = { readonly [K in NamePrefix]?: string | undefined }

/** As names are made where no pattern says otherwise. */
export const USUAL_PATTERNS: Readonly<Record<NamePrefix, string>> = {
  pk: 'pk_{table}',
  fk: 'fk_{table}_{columns}',
  uq: 'uq_{table}_{columns}',
  ck: 'ck_{table}_{columns}',
  ix: 'ix_{table}_{columns}'
}

/** Why a text is no pattern for names; nothing where it is one. */
export function whyNoPattern(text: string): string | undefined {
  if (!text.includes('{table}')) return 'A pattern has {table} in it: names would be the same otherwise.'
  const rest = text.replace('{table}', '').replace('{columns}', '')
  return /^[\p{L}\p{N}_]*$/u.test(rest) ? undefined : 'A pattern is letters, digits, _ and once {table} and {columns}.'
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

/** What a table is called: `Cargo line` → `cargo_line`, or `cargo_lines` where tables are called by many. */
export function tableWords(business: string, { tables, abbreviations }: Pick<NamingRules, 'tables' | 'abbreviations'>) {
  const words = shortened(wordsOf(business), abbreviations)
  const [last, said] = [words.at(-1), wordsOf(business).at(-1)]
  // A short word is one and many.
  if (tables === undefined || last === undefined || last !== said) return words
  return [...words.slice(0, -1), inNumber(last, tables)]
}

/** A constraint's or index's name: `fk_visit_vessel`. The first part is the table. */
export function constraintName(prefix: NamePrefix, parts: readonly string[], rules: NamingRules): string {
  const pattern = rules.patterns?.[prefix]
  if (pattern === undefined) return join([prefix, ...parts], rules)
  const [table = '', ...columns] = parts
  const named = pattern.replace('{table}', table).replace('{columns}', columns.join('_'))
  // Without columns, no mark stands where they would.
  return join([columns.length > 0 ? named : named.replace(/__+/g, '_').replace(/^_|_$/g, '')], rules)
}
