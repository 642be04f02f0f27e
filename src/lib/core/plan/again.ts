// A script after an edit: statements about tables that are the same objects as before are the same statements. It is always what
// writing all of it anew gives; where that is not certain, all is written anew.
import { tableKey, type Catalog, type Table } from '../catalog'
import type { Dialect } from '../dialects'
import { writeScript, type ScriptOptions, type Statement } from './script'

/** A script, and what is remembered of how it is put together. */
export interface Written {
  readonly statements: readonly Statement[]
  readonly catalog: Catalog
  readonly dialect: Dialect
  readonly options: ScriptOptions
  /** Nothing where its statements do not stand in parts, one after the other, each in the order of tables. */
  readonly parts?: readonly Part[]
  /** Most of it was there before. */
  readonly kept?: true
}

/** Statements of one kind: tables, keys of a sort, indexes … By table where they are about such. */
interface Part {
  readonly kind: string
  readonly byTable: ReadonlyMap<string, readonly Statement[]>
  /** Tables are there in the order of the catalogue. */
  readonly inOrder: boolean
}

export function writeAgain(
  catalog: Catalog,
  dialect: Dialect,
  options: ScriptOptions,
  before: Written | undefined
): Written {
  return (before && partly(catalog, dialect, options, before)) ?? wholly(catalog, dialect, options)
}

function wholly(catalog: Catalog, dialect: Dialect, options: ScriptOptions): Written {
  const statements = writeScript(catalog, dialect, options)
  const parts = options.make === undefined && options.only === undefined ? partsOf(statements, catalog) : undefined
  return { statements, catalog, dialect, options, ...(parts ? { parts } : {}) }
}

const keyOf = ({ schema, name }: { readonly schema: string; readonly name: string }) => tableKey(schema, name)

/** The table that a statement is about; nothing where it is about none. */
const homeOf = ({ about }: Statement): string | undefined => {
  const [schema, table] = about?.path ?? []
  return schema === undefined || table === undefined || about?.kind === undefined || FREE.has(about.kind)
    ? undefined
    : tableKey(schema, table)
}
const FREE: ReadonlySet<string> = new Set(['schema', 'extension', 'type', 'sequence', 'routine', 'view'])

const kindOf = (statement: Statement): string => {
  const kind = statement.about?.kind ?? ''
  // What is said of a column stands with its table.
  return kind === 'column' ? 'table' : kind
}

function partsOf(statements: readonly Statement[], catalog: Pick<Catalog, 'tables'>): Part[] | undefined {
  const rank = new Map(catalog.tables.map((table, i) => [keyOf(table), i]))
  const parts: { kind: string; byTable: Map<string, Statement[]>; inOrder: boolean; last: number }[] = []
  const seen = new Set<string>()
  let key: string | undefined
  for (const statement of statements) {
    const [kind, home] = [kindOf(statement), homeOf(statement) ?? '']
    let part = parts.at(-1)
    if (part?.kind !== kind) {
      if (seen.has(kind)) return undefined
      seen.add(kind)
      part = { kind, byTable: new Map(), inOrder: true, last: -1 }
      parts.push(part)
      key = undefined
    }
    const own = part.byTable.get(home)
    if (own && key !== home) return undefined
    if (own) own.push(statement)
    else {
      part.byTable.set(home, [statement])
      const at = rank.get(home) ?? -1
      if (at < part.last) part.inOrder = false
      part.last = at
    }
    key = home
  }
  return parts
}

const sameList = <T>(a: readonly T[] = [], b: readonly T[] = []) =>
  a === b || (a.length === b.length && a.every((one, i) => one === b[i]))

/** What is other in two lists of tables. */
function otherTables(before: readonly Table[], now: readonly Table[]): { gone: Table[]; made: Table[] } {
  // Most edits leave each table in its place.
  if (before.length === now.length) {
    const at = now.flatMap((table, i) => (table === before[i] ? [] : [i]))
    if (at.every((i) => keyOf(now[i] as Table) === keyOf(before[i] as Table)))
      return { gone: at.map((i) => before[i] as Table), made: at.map((i) => now[i] as Table) }
  }
  const [known, there] = [new Set(before), new Set(now)]
  return { gone: before.filter((table) => !there.has(table)), made: now.filter((table) => !known.has(table)) }
}

function partly(catalog: Catalog, dialect: Dialect, options: ScriptOptions, before: Written): Written | undefined {
  const { parts, catalog: old } = before
  if (!parts || before.dialect !== dialect || JSON.stringify(before.options) !== JSON.stringify(options))
    return undefined
  const isBeside = (name: string) =>
    ['tables', 'views', 'unread'].includes(name) || Reflect.get(catalog, name) === Reflect.get(old, name)
  if (![...Object.keys(catalog), ...Object.keys(old)].every(isBeside) || !sameList(catalog.views, old.views))
    return undefined
  const { gone, made } = otherTables(old.tables, catalog.tables)
  if (made.length === 0 && gone.length === 0) return { ...before, catalog, kept: true }
  // Triggers and the like stand on each other by their texts; and a schema is made for its first table.
  if ([...made, ...gone].some(hasTexts)) return undefined
  if (!sameSchemas(old.tables, gone, made)) return undefined

  const keys = new Set(gone.map(keyOf))
  const isPlaced = made.length === keys.size && made.every((table) => keys.has(keyOf(table)))
  const inOrder = parts.every((part) => part.inOrder)
  if (!inOrder && !(isPlaced && sameParents(made, gone))) return undefined
  const fresh = partsOf(writeScript({ ...catalog, tables: made, views: [] }, dialect, options), { tables: made })
  if (!fresh) return undefined
  const byKind = new Map(fresh.map((part) => [part.kind, part.byTable]))
  for (const { kind, byTable } of fresh)
    if (!parts.some((part) => part.kind === kind) && [...byTable.keys()].some((key) => key !== '')) return undefined
  let order: readonly string[] | undefined
  const next = parts.map((part): Part => {
    const own = byKind.get(part.kind) ?? new Map<string, readonly Statement[]>()
    const touched = [...new Set([...keys, ...own.keys()])].filter((key) => key !== '')
    if (touched.every((key) => part.byTable.has(key) === own.has(key))) {
      // Each in its place.
      if (!touched.some((key) => own.has(key))) return part
      const byTable = new Map(part.byTable)
      for (const key of touched) byTable.set(key, own.get(key) ?? [])
      return { ...part, byTable: withoutNone(byTable) }
    }
    if (inOrder) order ??= catalog.tables.map(keyOf)
    return { ...part, byTable: merged(part.byTable, own, keys, order) }
  })
  return { statements: inOneList(next), catalog, dialect, options, parts: next, kept: true }
}

const withoutNone = (byTable: Map<string, readonly Statement[]>) => {
  for (const [key, list] of byTable) if (list.length === 0) byTable.delete(key)
  return byTable
}

function inOneList(parts: readonly Part[]): Statement[] {
  const all: Statement[] = []
  for (const { byTable } of parts)
    for (const list of byTable.values()) for (const statement of list) all.push(statement)
  return all
}

const hasTexts = ({ triggers, policies, rules }: Table) =>
  Boolean(triggers?.length ?? policies?.length ?? rules?.length)

/** The same schemas have tables, as far as some go and others come. */
function sameSchemas(all: readonly Table[], gone: readonly Table[], made: readonly Table[]): boolean {
  const [before, now] = [gone, made].map((list) => new Set(list.map(({ schema }) => schema)))
  const odd = [...(before ?? [])]
    .filter((schema) => !now?.has(schema))
    .concat([...(now ?? [])].filter((schema) => !before?.has(schema)))
  if (odd.length === 0) return true
  const left = new Set(gone)
  return odd.every((schema) => all.some((table) => table.schema === schema && !left.has(table)))
}

/** Where tables stand in an order of need, it is by what they refer to. */
function sameParents(made: readonly Table[], gone: readonly Table[]): boolean {
  const before = new Map(gone.map((table) => [keyOf(table), table]))
  const parents = ({ foreignKeys = [] }: Partial<Pick<Table, 'foreignKeys'>>) =>
    foreignKeys.map(({ references }) => tableKey(references.schema, references.table)).join()
  return made.every((table) => parents(table) === parents(before.get(keyOf(table)) ?? {}))
}

/** Statements of what is gone left out, and those of what is new or other in its place. */
function merged(
  old: ReadonlyMap<string, readonly Statement[]>,
  fresh: ReadonlyMap<string, readonly Statement[]>,
  gone: ReadonlySet<string>,
  order: readonly string[] | undefined
): Map<string, readonly Statement[]> {
  const next = new Map<string, readonly Statement[]>()
  const put = (key: string) => {
    const now = key === '' ? old.get(key) : (fresh.get(key) ?? (gone.has(key) ? undefined : old.get(key)))
    if (now) next.set(key, now)
  }
  if (order) ['', ...order].forEach(put)
  else [...old.keys()].forEach(put)
  return next
}
