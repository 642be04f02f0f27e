// What a database leaves unsaid: links, keys and indexes that it could say, domains, and words that are written short, each with its reason. A design takes those that a
// person accepts; the database stays as it is until somebody runs a script.
import {
  applied,
  memberAddress,
  type Catalog,
  type Change,
  type ForeignKey,
  type Index,
  type Key,
  type MemberOf,
  type Relation,
  type Table
} from '../catalog'
import type { Dialect } from '../dialects'
import { likelyAbbreviations, type LikelyAbbreviation } from './abbreviations'
import { likelyDomains, type LikelyDomain } from './domains'
import { likelyLinks, SURE } from './links'
import { singular, stem, wordsOf } from './words'

export interface Suggestion {
  readonly kind: 'link' | 'key' | 'index' | 'domain' | 'word'
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
  readonly word?: { readonly short: string; readonly long: string }
}

/** Links first, then keys and indexes, each by its table; then domains and words, by how often they are there. */
export function suggestions(catalog: Catalog, dialect: Dialect): Suggestion[] {
  return [
    ...links(catalog, dialect),
    ...catalog.tables.flatMap(keyOf),
    ...catalog.tables.flatMap(indexesOf),
    ...likelyDomains(catalog, dialect).map(domainOf),
    ...likelyAbbreviations(catalog).map(wordOf)
  ]
}

/** What was accepted, as a design takes it. */
export const accepted = (chosen: readonly Suggestion[]) => ({
  also: chosen.flatMap(({ changes }) => changes),
  domains: chosen.flatMap(({ domain }) => domain ?? []),
  abbreviations: Object.fromEntries(chosen.flatMap(({ word }) => (word ? [[word.short, word.long]] : [])))
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
  applied(
    chosen.flatMap(({ changes }) => changes),
    catalog,
    dialect.write
  )

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

/** A key for a table that has none: what is unique and always there, or a column that is called like one. */
function keyOf(table: Table): Suggestion[] {
  if (table.primaryKey || table.module !== undefined || table.partition || table.inherits) return []
  const column = (name: string) => table.columns.find((other) => other.name === name)
  const always = (names: readonly string[]) => names.every((name) => column(name)?.nullable === false)
  const unique = [
    ...table.uniques.map(({ name, columns }) => ({ name, columns })),
    ...table.indexes
      .filter(
        (index) => index.unique && index.where === undefined && index.parts.every((part) => part.column !== undefined)
      )
      .map(({ name, parts }) => ({ name, columns: parts.map((part) => part.column ?? '') }))
  ]
    .filter(({ columns }) => always(columns))
    .sort((a, b) => a.columns.length - b.columns.length)[0]
  const own = stem(wordsOf(table.name))
  const named = table.columns.find(({ name, nullable }) => {
    const words = wordsOf(name).map(singular).join('')
    return !nullable && (words === 'id' || words === `${own}id` || words === `${own}code`)
  })
  const columns = unique?.columns ?? (named ? [named.name] : undefined)
  if (!columns) return []
  const key: Key = { name: `pk_${table.name}`, columns }
  return [
    {
      kind: 'key',
      about: [placeOf(table)],
      says: `${table.name} (${columns.join(', ')})`,
      why: unique
        ? `no two rows are alike in it, by ${unique.name}, and it is never empty`
        : 'it is called like a key, and never empty',
      sure: unique ? 0.9 : 0.6,
      usual: false,
      changes: [made(table, 'primaryKey', key)]
    }
  ]
}

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
