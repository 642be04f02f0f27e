// Columns that hold another table's key and do not say so: told by their names, types and the keys that there are.
import type { Catalog, Column, Table } from '../catalog'
import type { Dialect } from '../dialects'
import { commonPrefix, stem, wordsOf } from './words'

/** A link that nobody has declared. */
export interface LikelyLink {
  readonly child: Table
  readonly column: string
  readonly parent: Table
  readonly key: string
  /** From 0 to 1; of those from `SURE` on, hardly one in twenty is none. */
  readonly sure: number
  /** What it is told by, in a sentence. */
  readonly why: string
}

/** From here on a link is taken for one unless somebody says otherwise. */
export const SURE = 0.9

/** Names of keys that say nothing of whose they are. */
const GENERAL = new Set(
  'id code name key no nr num number uuid guid type value version seq status title label date state text data'.split(
    ' '
  )
)
/** Names of columns that lead to a row of their own table: common practice, no source. */
const UPWARDS = /^(parent|super|superior|up|ancestor|previous|prev|next|root|master)$/

interface Parent {
  readonly table: Table
  readonly key: Column
  /** Its name, with and without what all names begin with. */
  readonly stems: ReadonlySet<string>
  readonly keyName: string
}

/** Links for columns that belong to no foreign key yet, the surest for each. */
export function likelyLinks(catalog: Catalog, dialect: Dialect): LikelyLink[] {
  const prefix = commonPrefix(catalog.tables.map(({ name }) => name))
  const parents = catalog.tables.flatMap((table) => parentsOf(table, prefix))
  const byStem = groupBy(parents, ({ stems }) => [...stems])
  const byKey = groupBy(parents, ({ keyName }) => [keyName])
  const family = familyOf(dialect)
  const found = catalog.tables.flatMap((child) => {
    const linked = new Set(child.foreignKeys.flatMap(({ columns }) => columns))
    const own = child.primaryKey?.columns.length === 1 ? child.primaryKey.columns[0] : undefined
    return child.columns.flatMap((column) => {
      if (linked.has(column.name) || column.generated !== undefined || column.inherited) return []
      if (column.name === own && (column.identity || column.default !== undefined || column.neverEmpty)) return []
      const found = candidates(column, child, { byStem, byKey, prefix })
        .filter(({ parent }) => parent.table !== child || column.name !== parent.key.name)
        .filter(({ parent }) => family(parent.key) === family(column))
        .sort((a, b) => b.sure - a.sure)
      const [best, next] = found
      if (!best) return []
      const rivals = next !== undefined && next.parent.table !== best.parent.table && next.sure > best.sure - 0.05
      const ownKey = column.name === own ? 0.15 : 0
      const sure = best.sure - (rivals ? 0.25 : 0) - ownKey
      return [{ child, column: column.name, parent: best.parent.table, key: best.parent.key.name, sure, why: best.why }]
    })
  })
  return byCustom(found)
}

/**
 * Where nearly all columns that lead somewhere have an index that begins with them, as whoever declares a foreign key gives it
 * one, those that have none are less sure.
 */
function byCustom(links: readonly LikelyLink[]): LikelyLink[] {
  const isLed = ({ child, column }: LikelyLink) =>
    [child.primaryKey, ...child.uniques].some((key) => key?.columns[0] === column) ||
    child.indexes.some(({ parts }) => parts[0]?.column === column)
  const sure = links.filter((link) => link.sure >= SURE)
  const custom = sure.filter(isLed).length > sure.length * CUSTOM
  return links.map((link) => (custom && !isLed(link) ? { ...link, sure: link.sure - 0.1 } : link))
}
const CUSTOM = 0.75

/** A table by each of its keys of one column: what a foreign key could go to. */
function parentsOf(table: Table, prefix: string | undefined): Parent[] {
  if (table.partition) return []
  const keys = [table.primaryKey, ...table.uniques].flatMap((key) => (key?.columns.length === 1 ? key.columns : []))
  return [...new Set(keys)].flatMap((name) => {
    const key = table.columns.find((column) => column.name === name)
    return key ? [parentBy(table, key, prefix)] : []
  })
}

function parentBy(table: Table, key: Column, prefix: string | undefined): Parent {
  const words = wordsOf(table.name)
  const bare = words[0] === prefix ? words.slice(1) : words
  return {
    table,
    key,
    stems: new Set([stem(words), stem(bare)].filter((text) => text !== '')),
    keyName: wordsOf(key.name).join('')
  }
}

interface Known {
  readonly byStem: ReadonlyMap<string, readonly Parent[]>
  readonly byKey: ReadonlyMap<string, readonly Parent[]>
  readonly prefix: string | undefined
}

interface Candidate {
  readonly parent: Parent
  readonly sure: number
  readonly why: string
}

function candidates(column: Column, child: Table, { byStem, byKey, prefix }: Known): Candidate[] {
  const words = wordsOf(column.name)
  const found: Candidate[] = []
  const put = (parent: Parent, sure: number, why: string) => void found.push({ parent, sure, why })
  const named = (text: string) => byStem.get(text) ?? []
  const whole = words.join('')
  // `berth_code`, `harbour_berth_code`: a table and its key, with whose role it is before them.
  for (let from = 0; from < words.length; from++) {
    const role = from > 0
    for (let to = from + 1; to <= words.length; to++) {
      const rest = words.slice(to).join('')
      for (const parent of named(stem(words.slice(from, to)))) {
        const { name } = parent.table
        if (rest !== '' && rest === parent.keyName)
          put(parent, role ? 0.91 : 0.98, `it is called after ${name} and its key`)
        else if (/^(id|fk|key|ref|no|nr|code)$/.test(rest))
          put(parent, role ? 0.84 : 0.93, `it is called after ${name}`)
        else if (rest === '') put(parent, role ? 0.6 : 0.88, `it is called as ${name} is`)
      }
    }
  }
  // `hostid`, `parent_hostid`: a key that says whose it is.
  for (let from = 0; from < words.length; from++) {
    const name = words.slice(from).join('')
    if (GENERAL.has(name)) continue
    const all = (byKey.get(name) ?? []).filter(({ table }) => table !== child || from > 0)
    const own = all.filter(({ stems, keyName }) =>
      [...stems].some((text) => keyName.startsWith(text) || keyName.endsWith(text))
    )
    const [only] = own.length === 1 ? own : all
    if (only && (own.length === 1 || all.length === 1))
      put(
        only,
        (own.length === 1 ? 0.97 : 0.8) - (from > 0 ? 0.05 : 0),
        `it is called as the key of ${only.table.name} is`
      )
  }
  // A key that ends in what is not parted: `templatehostid`.
  for (const [name, all] of byKey) {
    const [only] = all
    if (
      all.length === 1 &&
      only &&
      name.length > 4 &&
      !GENERAL.has(name) &&
      whole.length > name.length &&
      whole.endsWith(name)
    )
      put(only, 0.86, `its name ends as the key of ${only.table.name} is called`)
  }
  const [first, last] = words
  if (
    first !== undefined &&
    UPWARDS.test(first) &&
    words.length <= 2 &&
    (last === undefined || words.length === 1 || last === 'id')
  ) {
    const [self] = parentsOf(child, prefix)
    if (self) put(self, 0.88, `it leads to another row of ${child.name}`)
  }
  return found
}

/** What types can hold the same values: whole numbers of any size are of one family. */
function familyOf({ types }: Dialect) {
  const known = new Map<string, string>()
  return ({ type }: Column): string => {
    const key = JSON.stringify(type)
    let family = known.get(key)
    if (family === undefined) {
      const neutral = types.toNeutral(type)
      const text = neutral.kind === 'native' ? neutral.text : neutral.kind
      family = /^(tiny|small|integer|big|decimal)$|\bint/i.test(text)
        ? 'number'
        : /char|text|clob/i.test(text)
          ? 'text'
          : text
      known.set(key, family)
    }
    return family
  }
}

function groupBy<T>(items: readonly T[], keys: (item: T) => readonly string[]): Map<string, T[]> {
  const groups = new Map<string, T[]>()
  for (const item of items)
    for (const key of keys(item)) {
      const group = groups.get(key)
      if (group) group.push(item)
      else groups.set(key, [item])
    }
  return groups
}
