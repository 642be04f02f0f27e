// What all engines' spellings of types have in common.
import { readType, typeText, type DataType } from '../../catalog'
import { flatType, isPlain, type NeutralType, type StoredType } from '../../types'
import type { Grade, TypeSystem } from '../dialect'

/** What an engine's type is for a neutral one, as it is written. */
export interface Carried {
  readonly type: string
  readonly grade: Grade
  readonly note?: string
}

/** An engine's tables of types, which speak of them as they are written, in one spelling for each. */
interface Spellings {
  fromNeutral(type: StoredType): Carried
  /** What a list of plain values is called, where the engine holds such in a column. */
  list?(of: Carried): Carried
  toNeutral(type: DataType, text: string): NeutralType
  /** The one spelling; of an unknown type its text, trimmed and in small letters. */
  canonical(text: string): string
  describe(type: DataType, text: string): { readonly range: string; readonly bytes: string }
  /** Where it is not just the text. */
  print?(type: DataType): string
  /** What a text alone does not say of a type. */
  whole?(type: DataType): DataType
}

/** Databases have few types and many columns. */
const KNOWN = 1000

export function typeSystem({ print = typeText, whole = (type) => type, ...spellings }: Spellings): TypeSystem {
  const known = new Map<string, DataType>()
  const read = (text: string): DataType => {
    const found = known.get(text)
    if (found) return found
    const type = whole(readType(spellings.canonical(text)))
    if (known.size < KNOWN) known.set(text, type)
    return type
  }
  const carried = (neutral: NeutralType): Carried => {
    if (neutral.kind === 'list' && isPlain(neutral.of) && spellings.list) return spellings.list(carried(neutral.of))
    const made = spellings.fromNeutral(flatType(neutral))
    if (!isPlain(neutral)) return { ...made, grade: 'emulated', note: 'kept as a document' }
    return neutral.kind === 'object id' ? { ...made, grade: 'emulated', note: 'kept as its 24 digits' } : made
  }
  return {
    read,
    same: (a, b) => a === b || print(a) === print(b),
    fromNeutral: (neutral) => {
      const { type, ...rest } = carried(neutral)
      return { ...rest, type: read(type) }
    },
    toNeutral: (type) => spellings.toNeutral(type, print(type)),
    describe: (type) => spellings.describe(type, print(type))
  }
}

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
export function oneOfAsText(values: readonly string[]): Carried {
  const longest = Math.max(20, ...values.map((value) => [...value].length))
  return { type: `varchar(${longest})`, grade: 'emulated', note: 'allowed values are kept by a check' }
}
