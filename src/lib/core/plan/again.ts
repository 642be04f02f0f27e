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

function partsOf(statements: readonly Statement[], catalog: Catalog): Part[] | undefined {
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

const sameViews = (a: Catalog['views'] = [], b: Catalog['views'] = []) =>
  a.length === b.length && a.every((view, i) => view === b[i])

function partly(catalog: Catalog, dialect: Dialect, options: ScriptOptions, before: Written): Written | undefined {
  const { parts, catalog: old } = before
  if (!parts || before.dialect !== dialect || JSON.stringify(before.options) !== JSON.stringify(options))
    return undefined
  const { tables, views, ...rest } = catalog
  const { tables: oldTables, views: oldViews, ...oldRest } = old
  const isBeside = (name: string) => Reflect.get(rest, name) === Reflect.get(oldRest, name)
  if (![...Object.keys(rest), ...Object.keys(oldRest)].every((name) => name === 'unread' || isBeside(name)))
    return undefined
  if (!sameViews(views, oldViews)) return undefined
  const known = new Set(oldTables)
  const changed = tables.filter((table) => !known.has(table))
  const there = new Set(tables)
  const gone = new Set(oldTables.filter((table) => !there.has(table)).map(keyOf))
  // Triggers and the like stand on each other by their texts; and a schema is made for its first table.
  if ([...changed, ...oldTables.filter((table) => gone.has(keyOf(table)))].some(hasTexts)) return undefined
  const schemas = (list: readonly Table[]) => [...new Set(list.map(({ schema }) => schema))].sort().join()
  if (schemas(tables) !== schemas(oldTables)) return undefined
  if (changed.length === 0 && gone.size === 0) return { ...before, catalog, kept: true }

  const isPlaced = changed.length === gone.size && changed.every((table) => gone.has(keyOf(table)))
  const made = partsOf(writeScript({ ...catalog, tables: changed, views: [] }, dialect, options), catalog)
  if (!made) return undefined
  const fresh = new Map(made.map((part) => [part.kind, part.byTable]))
  if (made.some(({ kind, byTable }) => !parts.some((part) => part.kind === kind) && [...byTable.keys()].some(Boolean)))
    return undefined
  const inOrder = parts.every((part) => part.inOrder)
  if (!inOrder && !(isPlaced && sameParents(changed, oldTables))) return undefined
  const order = inOrder ? tables.map(keyOf) : undefined
  const next = parts.map((part): Part => {
    const own = fresh.get(part.kind)
    const touched = [...gone, ...(own?.keys() ?? [])].some(
      (key) => key !== '' && (part.byTable.has(key) || own?.has(key))
    )
    return touched ? { ...part, byTable: merged(part.byTable, own, gone, order) } : part
  })
  const statements = next.flatMap(({ byTable }) => [...byTable.values()].flat())
  return { statements, catalog, dialect, options, parts: next, kept: true }
}

const hasTexts = ({ triggers, policies, rules }: Table) =>
  Boolean(triggers?.length ?? policies?.length ?? rules?.length)

/** Where tables stand in an order of need, it is by what they refer to. */
function sameParents(changed: readonly Table[], old: readonly Table[]): boolean {
  const before = new Map(old.map((table) => [keyOf(table), table]))
  const parents = ({ foreignKeys = [] }: Partial<Pick<Table, 'foreignKeys'>>) =>
    foreignKeys.map(({ references }) => tableKey(references.schema, references.table)).join()
  return changed.every((table) => parents(table) === parents(before.get(keyOf(table)) ?? {}))
}

/** Statements of what is gone left out, and those of what is new or other in its place. */
function merged(
  old: ReadonlyMap<string, readonly Statement[]>,
  fresh: ReadonlyMap<string, readonly Statement[]> | undefined,
  gone: ReadonlySet<string>,
  order: readonly string[] | undefined
): Map<string, readonly Statement[]> {
  const own = (key: string) => (key === '' ? undefined : fresh?.get(key))
  const next = new Map<string, readonly Statement[]>()
  if (!order) {
    for (const [key, list] of old) {
      const now = own(key) ?? (gone.has(key) ? undefined : list)
      if (now) next.set(key, now)
    }
    return next
  }
  const beside = old.get('')
  if (beside) next.set('', beside)
  for (const key of order) {
    const now = own(key) ?? (gone.has(key) ? undefined : old.get(key))
    if (now) next.set(key, now)
  }
  return next
}
