// From the name people say to the name an engine gets.
import { shortened, type Abbreviations } from './abbreviations'
import type { Letters } from './letters'
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
  /** Which letters are large; as the engine has names without quotes when absent. */
  readonly letters?: Letters | undefined
  /** What stands between words; `_` when absent. */
  readonly separator?: '_' | '' | undefined
  /** How things are called, where not as usual. */
  readonly patterns?: NamePatterns | undefined
}

export type NamePrefix = 'pk' | 'fk' | 'uq' | 'ck' | 'ix'
/** What a pattern can be of. */
export type PatternOf = NamePrefix | 'table' | 'view' | 'column' | 'bridge'
export type NamePatterns = { readonly [K in PatternOf]?: string | undefined }

/** As names are made where no pattern says otherwise. */
export const USUAL_PATTERNS: Readonly<Record<PatternOf, string>> = {
  table: '{name}',
  view: '{name}',
  column: '{name}',
  bridge: '{parent}_{child}',
  pk: 'pk_{table}',
  fk: 'fk_{table}_{columns}',
  uq: 'uq_{table}_{columns}',
  ck: 'ck_{table}_{columns}',
  ix: 'ix_{table}_{columns}'
}

/** The parts that a name is made of; without those that are needed, names would be the same. */
const PLACES: Readonly<Record<PatternOf, { readonly needed: readonly string[]; readonly also?: readonly string[] }>> = {
  table: { needed: ['{name}'] },
  view: { needed: ['{name}'] },
  column: { needed: ['{name}'] },
  bridge: { needed: ['{parent}', '{child}'] },
  pk: { needed: ['{table}'], also: ['{columns}'] },
  fk: { needed: ['{table}'], also: ['{columns}'] },
  uq: { needed: ['{table}'], also: ['{columns}'] },
  ck: { needed: ['{table}'], also: ['{columns}'] },
  ix: { needed: ['{table}'], also: ['{columns}'] }
}

/** Why a text is no pattern for names; nothing where it is one. */
export function whyNoPattern(of: PatternOf, text: string): string | undefined {
  const { needed, also = [] } = PLACES[of]
  const missing = needed.find((place) => !text.includes(place))
  if (missing !== undefined) return `A pattern has ${missing} in it: names would be the same otherwise.`
  const rest = [...needed, ...also].reduce((left, place) => left.replace(place, ''), text)
  const odd = /[^\p{L}\p{N}_]/u.exec(rest)?.[0]
  if (odd === undefined) return undefined
  return `“${odd}” cannot stand in a name: write letters, digits and _${also.length ? ` beside {table} and {columns}` : ''}.`
}

/** A name of parts, as a pattern has it. */
export const patterned = (
  of: PatternOf,
  parts: Readonly<Record<string, string>>,
  patterns: NamePatterns | undefined
): string => (patterns?.[of] ?? USUAL_PATTERNS[of]).replace(/\{(\w+)\}/g, (whole, name: string) => parts[name] ?? whole)

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
