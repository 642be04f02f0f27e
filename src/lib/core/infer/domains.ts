// Columns that are called alike and are of one type, in several tables: what could be a domain.
import { tableKey, type Catalog, type Column, type Relation, type Table } from '../catalog'
import type { Dialect } from '../dialects'
import { printType, type NeutralType } from '../types'
import { commonPrefix, wordsOf } from './words'

export interface LikelyDomain {
  readonly name: string
  readonly type: string
  readonly columns: readonly (Relation & { readonly column: string })[]
  /** From 0 to 1. */
  readonly sure: number
}

/** Fewer columns than these are no habit. */
const FEW = 3

/** What says nothing of a sort of values: `name`, `code` of this and that. */
const VAGUE = new Set(
  'id key code type name value no nr number text data state status flag seq order version'.split(' ')
)

/** A type that says something of its values: how long, how exact, which. */
const isTelling = (type: NeutralType): boolean =>
  type.kind === 'oneOf' ||
  type.kind === 'decimal' ||
  ('length' in type && type.length !== undefined && type.length !== 255)

interface Place {
  readonly table: Table
  readonly column: Column
  readonly words: readonly string[]
  readonly type: NeutralType
}

/** The largest first. What is a key, or leads to one, is no domain: it is what it leads to. */
export function likelyDomains({ tables }: Catalog, { types }: Dialect): LikelyDomain[] {
  const places = tables.flatMap((table) => {
    const prefix = commonPrefix(table.columns.map(({ name }) => name))
    const keys = new Set([table.primaryKey, ...table.foreignKeys].flatMap((key) => key?.columns ?? []))
    return table.columns.flatMap((column): Place[] => {
      if (keys.has(column.name) || column.generated !== undefined || column.type.schema !== undefined) return []
      const words = wordsOf(column.name)
      const own = words.length > 1 && words[0] === prefix ? words.slice(1) : words
      return own.length > 0 ? [{ table, column, words: own, type: types.toNeutral(column.type) }] : []
    })
  })
  // By their whole names, then what is left by the last word: `landing_amount`, `amount`.
  const whole = grouped(places, ({ words }) => words.join(' '))
  const grown = new Set(whole.flat())
  const left = places.filter((place) => !grown.has(place))
  const ends = grouped(left, ({ words }) => words.at(-1) ?? '')
  const counts = {
    whole: countBy(places, ({ words }) => words.join(' ')),
    end: countBy(places, ({ words }) => words.at(-1) ?? '')
  }
  const taken = new Set<string>()
  return [...whole, ...ends]
    .sort((a, b) => b.length - a.length)
    .flatMap((group): LikelyDomain[] => {
      const [first] = group
      if (!first) return []
      const alike = group.every(({ words }) => words.join() === first.words.join())
      const said = (alike ? first.words : first.words.slice(-1)).join(' ')
      const name = said.charAt(0).toUpperCase() + said.slice(1)
      if (VAGUE.has(said) || taken.has(name)) return []
      taken.add(name)
      // How many of those that are called so have another type.
      const named = (alike ? counts.whole : counts.end).get(said) ?? group.length
      const sure = Math.min(0.95, (0.7 + 0.04 * group.length) * (group.length / named))
      return [
        {
          name,
          type: printType(first.type),
          columns: group.map(({ table: { schema, name: table }, column }) => ({
            schema,
            name: table,
            column: column.name
          })),
          sure
        }
      ]
    })
}

function countBy(places: readonly Place[], key: (place: Place) => string): ReadonlyMap<string, number> {
  const counts = new Map<string, number>()
  for (const place of places) counts.set(key(place), (counts.get(key(place)) ?? 0) + 1)
  return counts
}

function grouped(places: readonly Place[], key: (place: Place) => string): Place[][] {
  const groups = new Map<string, Place[]>()
  for (const place of places) {
    if (!isTelling(place.type)) continue
    const at = `${key(place)} ${printType(place.type)}`
    const group = groups.get(at)
    if (group) group.push(place)
    else groups.set(at, [place])
  }
  return [...groups.values()].filter(
    (group) =>
      group.length >= FEW && new Set(group.map(({ table: { schema, name } }) => tableKey(schema, name))).size > 1
  )
}
