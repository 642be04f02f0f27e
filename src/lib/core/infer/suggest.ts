// What a database leaves unsaid: links, keys and indexes that it could say, domains, and words that are written short, each
// with its reason. A design takes those that a person accepts; the database stays as it is until somebody runs a script.
import {
  applied,
  memberAddress,
  tableKey,
  type Catalog,
  type Change,
  type ForeignKey,
  type Index,
  type MemberOf,
  type Relation,
  type Table
} from '../catalog'
import type { Dialect } from '../dialects'
import { tablesBetween, type TableBetween } from './between'
import { likelyAbbreviations, type LikelyAbbreviation } from './abbreviations'
import { likelyDomains, type LikelyDomain } from './domains'
import { likelyLinks, SURE } from './links'
import { specialTables, type SpecialTables } from './special'
import { singular, stem, wordsOf } from './words'

export interface Suggestion {
  readonly kind: 'field' | 'link' | 'key' | 'index' | 'domain' | 'word' | 'between' | 'special'
  /** The tables that it is about: it makes sense where all of them are; a domain, where one of them is. */
  readonly about: readonly Relation[]
  /** What would be said: `visit.berth_code → berth.code`. */
  readonly says: string
  readonly why: string
  /** From 0 to 1. */
  readonly sure: number
  /** It is taken unless somebody says otherwise. */
  readonly usual: boolean
  /** What would be there then. */
  readonly changes: readonly Change[]
  readonly domain?: Pick<LikelyDomain, 'name' | 'columns'>
  /** The table that is no more than a many-to-many link. */
  readonly between?: Relation
  /** Tables that are subtypes of another one. */
  readonly special?: SpecialTables
  readonly word?: { readonly short: string; readonly long: string }
}

/** Links first, then keys and indexes, each by its table; then domains and words, by how often they are there. */
export function suggestions(catalog: Catalog, dialect: Dialect): Suggestion[] {
  return [
    ...links(catalog, dialect),
    ...catalog.tables.flatMap(keysOf),
    ...(dialect.profile.features.indexesForeignKeys ? [] : catalog.tables.flatMap(indexesOf)),
    ...tablesBetween(catalog).map(betweenOf),
    ...specialTables(catalog).map(specialOf),
    ...likelyDomains(catalog, dialect).map(domainOf),
    ...likelyAbbreviations(catalog).map(wordOf)
  ]
}

/** What was accepted, as a design takes it: of keys, the first for each table. */
export function accepted(chosen: readonly Suggestion[]) {
  const keyed = new Set<string>()
  const taken = chosen.filter(({ kind, about: [table] }) => {
    if (kind !== 'key' || !table) return true
    const place = tableKey(table.schema, table.name)
    if (keyed.has(place)) return false
    keyed.add(place)
    return true
  })
  return {
    also: taken.flatMap(({ changes }) => changes),
    domains: taken.flatMap(({ domain }) => domain ?? []),
    between: taken.flatMap(({ between }) => between ?? []),
    special: taken.flatMap(({ special }) => special ?? []),
    abbreviations: Object.fromEntries(taken.flatMap(({ word }) => (word ? [[word.short, word.long]] : [])))
  }
}

const betweenOf = ({ table, ends: [a, b] }: TableBetween): Suggestion => ({
  kind: 'between',
  about: [table, a, b],
  says: `${a.name} and ${b.name}, by ${table.name}`,
  why: 'it holds nothing but what leads to the two',
  sure: 0.9,
  usual: false,
  changes: [],
  between: table
})

const specialOf = (special: SpecialTables): Suggestion => ({
  kind: 'special',
  about: [special.parent, ...special.tables],
  says: `${special.tables.map(({ name }) => name).join(', ')}: kinds of ${special.parent.name}`,
  why: 'the key of each is what leads there',
  sure: special.tables.length > 1 ? 0.7 : 0.4,
  usual: false,
  changes: [],
  special
})

function domainOf({ name, type, columns, sure }: LikelyDomain): Suggestion {
  return {
    kind: 'domain',
    about: columns,
    says: `${name}: ${type}`,
    why: `${columns.length} columns: ${columns
      .slice(0, 4)
      .map((place) => `${place.name}.${place.column}`)
      .join(', ')}${columns.length > 4 ? ' …' : ''}`,
    sure,
    usual: false,
    changes: [],
    domain: { name, columns }
  }
}

const wordOf = ({ short, long, sure, why, count }: LikelyAbbreviation): Suggestion => ({
  kind: 'word',
  about: [],
  says: short,
  why: `${why}; in ${count === 1 ? 'one name' : `${count} names`}`,
  sure,
  usual: sure >= SURE,
  changes: [],
  word: { short, long }
})

/** The catalogue as it would be with some of what is suggested for it. */
export const withSuggestions = (catalog: Catalog, chosen: readonly Suggestion[], dialect: Dialect): Catalog =>
  applied(accepted(chosen).also, catalog, dialect.write)

const placeOf = ({ schema, name }: Table): Relation => ({ schema, name })

const made = <K extends 'primaryKey' | 'foreignKey' | 'index'>(table: Table, kind: K, value: MemberOf[K]): Change =>
  ({ action: 'create', address: memberAddress(table, kind, value), object: { kind, value } }) as Change

function links(catalog: Catalog, dialect: Dialect): Suggestion[] {
  return likelyLinks(catalog, dialect).map(({ child, column, parent, key, sure, why }): Suggestion => {
    const fk: ForeignKey = {
      name: freeIn(child.foreignKeys, `fk_${child.name}_${column}`),
      columns: [column],
      references: { schema: parent.schema, table: parent.name, columns: [key] },
      onDelete: 'no action',
      onUpdate: 'no action',
      deferrable: 'no'
    }
    return {
      kind: 'link',
      about: [placeOf(child), placeOf(parent)],
      says: `${child.name}.${column} → ${parent.name}.${key}`,
      why,
      sure,
      usual: sure >= SURE,
      changes: [made(child, 'foreignKey', fk)]
    }
  })
}

const freeIn = (list: readonly { readonly name: string }[], name: string): string => {
  const taken = new Set(list.map((other) => other.name))
  let [free, n] = [name, 1]
  while (taken.has(free)) free = `${name}_${++n}`
  return free
}

/** Keys for a table that has none, the likeliest first: what is unique and always there; what is called like one; what rows may tell. */
function keysOf(table: Table): Suggestion[] {
  if (table.primaryKey || table.module !== undefined || table.partition || table.inherits) return []
  const required = table.columns.filter(({ nullable, generated }) => !nullable && generated === undefined)
  const always = (names: readonly string[]) => names.every((name) => required.some((column) => column.name === name))
  const unique = [
    ...table.uniques.map(({ name, columns }) => ({ name, columns })),
    ...table.indexes
      .filter(
        (index) => index.unique && index.where === undefined && index.parts.every((part) => part.column !== undefined)
      )
      .map(({ name, parts }) => ({ name, columns: parts.map((part) => part.column ?? '') }))
  ]
    .filter(({ columns }) => always(columns))
    .sort((a, b) => a.columns.length - b.columns.length)
  const own = stem(wordsOf(table.name))
  const named = required.filter(({ name }) => {
    const words = wordsOf(name).map(singular).join('')
    return words === 'id' || words === `${own}id` || words === `${own}code`
  })
  // A table between others is told apart by what it leads to.
  const leading = table.foreignKeys.length > 1 ? table.foreignKeys.flatMap(({ columns }) => columns) : []
  const found = [
    ...unique.map(({ name, columns }) => ({
      columns,
      sure: 0.9,
      why: `no two rows are alike in it, by ${name}, and it is never empty`
    })),
    ...named.map(({ name }) => ({ columns: [name], sure: 0.6, why: 'it is called like a key, and never empty' })),
    ...(leading.length > 0 && always(leading)
      ? [{ columns: [...new Set(leading)], sure: 0.5, why: 'it stands between the tables that it leads to' }]
      : []),
    ...required.map(({ name }) => ({ columns: [name], sure: 0.2, why: 'it is never empty: ask the rows' }))
  ]
  const once = new Map(found.toReversed().map((key) => [[...key.columns].sort().join('\0'), key]))
  return [...once.values()]
    .toReversed()
    .slice(0, MOST_KEYS)
    .map(({ columns, sure, why }) => ({
      kind: 'key',
      about: [placeOf(table)],
      says: `${table.name} (${columns.join(', ')})`,
      why,
      sure,
      usual: false,
      changes: [made(table, 'primaryKey', { name: `pk_${table.name}`, columns })]
    }))
}
/** Whether it is worth no more than a question to the rows. */
export const isGuess = ({ kind, sure }: Suggestion): boolean => kind === 'key' && sure < 0.5
/** More to choose from is no help. */
const MOST_KEYS = 3

/** An index for a foreign key that none begins with: without it, each change of a parent looks through the whole table. */
function indexesOf(table: Table): Suggestion[] {
  const leads = [
    ...[table.primaryKey, ...table.uniques].flatMap((key) => (key ? [key.columns] : [])),
    ...table.indexes.map(({ parts }) => parts.map(({ column }) => column ?? ''))
  ]
  const isLed = (columns: readonly string[]) =>
    leads.some((lead) => columns.every((column) => lead.slice(0, columns.length).includes(column)))
  const seen = new Set<string>()
  return table.foreignKeys.flatMap(({ columns, references }): Suggestion[] => {
    const key = [...columns].sort().join('\0')
    if (isLed(columns) || seen.has(key)) return []
    seen.add(key)
    const index: Index = {
      name: freeIn(table.indexes, `ix_${table.name}_${columns.join('_')}`),
      unique: false,
      parts: columns.map((column) => ({ column, descending: false }))
    }
    return [
      {
        kind: 'index',
        about: [placeOf(table)],
        says: `${table.name} (${columns.join(', ')})`,
        why: `it leads to ${references.table}, and no index begins with it`,
        sure: 0.7,
        usual: false,
        changes: [made(table, 'index', index)]
      }
    ]
  })
}
