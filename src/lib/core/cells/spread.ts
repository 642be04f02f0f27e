// What the columns of a pasted table are, where they are not those of the sheet: by their headings, else by what stands in them.
import type { Design } from '../design'
import { spokenType } from '../types'
import { inKey, rowsOf, type ColumnName } from './cells'

/** What a column of a pasted table says: a cell of the sheet, its contrary, or a part of one. */
export const MEANINGS = [
  'name',
  'type',
  'length',
  'filled',
  'nullable',
  'default',
  'rules',
  'meaning',
  'database',
  'key'
] as const
export type Meaning = (typeof MEANINGS)[number]

type Fields = readonly (readonly string[])[]

export interface Reading {
  /** The first line says what the columns are. */
  readonly headed: boolean
  /** Of each column; nothing for one that is left out. */
  readonly meanings: readonly (Meaning | undefined)[]
}

const HEADINGS: readonly (readonly [Meaning, RegExp])[] = [
  ['database', /^(data ?base|physical|db|sql|technical)[ _]?(column[ _]?)?(name)?$/i],
  [
    'name',
    /^((logical|business|column|field|attribute|property)[ _]?)?name$|^(column|field|attribute|property|columns)$/i
  ],
  ['type', /^((data|column|field|sql)[ _]?)?type$|^domain$|^format$/i],
  ['length', /^(max[ _]?)?(length|len|size|width|precision)$/i],
  ['nullable', /^(null|nulls|nullable|is[ _]null(able)?|optional|may be empty|allow[ _]nulls?)\??$/i],
  ['filled', /^(required|mandatory|not[ _]null|obligatory)\??$/i],
  ['default', /^default([ _]value)?$/i],
  ['rules', /^(rules?|constraints?|unique|checks?)$/i],
  ['meaning', /^(meaning|description|comments?|remarks?|notes?|definition)$/i],
  ['key', /^(key|pk|primary[ _]?key|is[ _](pk|key))\??$/i]
]

const headingOf = (text: string): Meaning | undefined => HEADINGS.find(([, word]) => word.test(text.trim()))?.[0]

const YES = /^(yes|y|true|1|x|✓|✔|pk|key|required|mandatory|not null)$/i
const NO = /^(no|n|false|0|-|–|null|optional|nullable|may be empty|)$/i

/**
 * How a table is read, by its headings or its contents. Nothing where its columns are those of the sheet from a cell on, or
 * where there is only one: it is pasted as it stands.
 */
export function readTable(lines: Fields, shown: readonly ColumnName[]): Reading | undefined {
  const width = Math.max(0, ...lines.map((fields) => fields.length))
  if (width < 2) return undefined
  const headings = (lines[0] ?? []).map(headingOf)
  const headed = headings.includes('name') && headings.filter((one) => one !== undefined).length > 1
  if (headed) return { headed, meanings: once(headings, width) }
  const share = (column: number, test: (text: string) => boolean) =>
    lines.filter((fields) => test(fields[column] ?? '')).length / lines.length
  const isType = (text: string) => text !== '' && spokenType(text).ok
  const second = shown[shown.indexOf('name') + 1]
  // As the sheet has them: names, then types.
  if (width <= shown.length && (second !== 'type' || share(1, (text) => text === '' || isType(text)) > 0.5))
    return undefined
  const guessed = Array.from({ length: width }, (_, i): Meaning | undefined => {
    if (share(i, isType) > 0.5) return 'type'
    if (share(i, (text) => /^\d{1,5}(,\d+)?$/.test(text)) > 0.5) return undefined
    if (share(i, (text) => YES.test(text) || NO.test(text)) > 0.9) return 'filled'
    const texts = lines.map((fields) => fields[i] ?? '')
    const different = new Set(texts).size > lines.length * 0.8
    if (different && share(i, (text) => text !== '' && text.length < 40 && !/[.;]/.test(text)) > 0.9) return 'name'
    return share(i, (text) => text.includes(' ')) > 0.3 ? 'meaning' : undefined
  })
  return { headed, meanings: once(guessed, width) }
}

/** No two columns say the same. */
function once(meanings: readonly (Meaning | undefined)[], width: number): (Meaning | undefined)[] {
  const seen = new Set<Meaning>()
  return Array.from({ length: width }, (_, i) => {
    const meaning = meanings[i]
    if (meaning === undefined || seen.has(meaning)) return undefined
    seen.add(meaning)
    return meaning
  })
}

/** The cells that a pasted table comes to, from the name on. */
export const SPREAD = [
  'name',
  'type',
  'filled',
  'default',
  'rules',
  'meaning',
  'database'
] as const satisfies readonly ColumnName[]

export interface Spread {
  /** Along `SPREAD`. */
  readonly lines: Fields
  /** The names of what is in the key. */
  readonly keys: readonly string[]
}

/** A table's lines as the sheet has them. */
export function spread(lines: Fields, { headed, meanings }: Reading): Spread {
  const at = (meaning: Meaning) => meanings.indexOf(meaning)
  const keys: string[] = []
  const rows = (headed ? lines.slice(1) : lines).flatMap((fields) => {
    const field = (meaning: Meaning) => (at(meaning) < 0 ? '' : (fields[at(meaning)] ?? '').trim())
    const name = field('name')
    if (name === '') return []
    if (YES.test(field('key'))) keys.push(name)
    const length = field('length').replace(/\s/g, '')
    const type = length !== '' && !field('type').includes('(') ? `${field('type')}(${length})` : field('type')
    // A number without a length, as many tables have it beside types that take none.
    const plain = length !== '' && !spokenType(type).ok && spokenType(field('type')).ok ? field('type') : type
    const asked =
      field('filled') !== '' ? YES.test(field('filled')) : at('nullable') >= 0 && !YES.test(field('nullable'))
    const said = field('filled') !== '' || at('nullable') >= 0
    const rules = YES.test(field('rules')) ? 'unique' : NO.test(field('rules')) ? '' : field('rules')
    const texts = { type: plain, filled: said ? (asked ? 'required' : 'may be empty') : '', rules }
    return [
      SPREAD.map((column) =>
        column === 'name' ? name : column in texts ? texts[column as 'type'] : field(column as Meaning)
      )
    ]
  })
  return { lines: rows, keys }
}

/** The rows of an entity that the names are of and that are not in its key yet. */
export function outsideKey(design: Design, entity: string, names: readonly string[]): string[] {
  const there = design.entities[entity]
  if (!there) return []
  return rowsOf(design, there).flatMap((row) =>
    row.attribute && names.includes(row.attribute.name) && !inKey(there, row) ? [row.id] : []
  )
}
