// A key that rows are numbered by: the design adds it by itself.
import { findFree, type Catalog, type Column, type Table } from '../catalog'
import type { Design, Entity } from '../design'
import type { Dialect } from '../dialects'
import { businessName } from './names'

type Kind = 'small' | 'integer' | 'big'
const KINDS: readonly Kind[] = ['integer', 'big', 'small']

export interface Identifier {
  readonly column: Column
  readonly kind: Kind
  /** What an entity must say so that the engine's numbered key is it. */
  readonly said: Pick<Entity, 'identifier'>
}

/** What a numbered key is in a design; nothing for a type that it does not number. */
export function identifierOf(column: Column, { settings }: Design, dialect: Dialect): Identifier | undefined {
  const kind = kindOf(column, dialect)
  if (!kind) return undefined
  const { identifier: usually } = settings
  const isUsual = usually === kind
  const { name, dbName } = businessName(column.name, { dialect, settings }, false)
  const identifier = {
    ...(name === 'id' && dbName === undefined ? {} : { name, ...(dbName === undefined ? {} : { dbName }) }),
    ...(isUsual ? {} : { kind })
  }
  return { column, kind, said: Object.keys(identifier).length > 0 ? { identifier } : {} }
}

/** Where an engine has one type for several kinds, the one that a column of it would have. */
function kindOf({ type }: Column, { types }: Pick<Dialect, 'types'>): Kind | undefined {
  const near = types.toNeutral(type).kind
  const fitting = KINDS.filter((kind) => types.same(types.fromNeutral({ kind }).type, type))
  return fitting.find((kind) => kind === near) ?? fitting[0]
}

/** The kind that most numbered keys are of. */
export function usualKind(catalog: Catalog, dialect: Dialect): Kind | undefined {
  const counts = new Map<Kind, number>()
  for (const table of catalog.tables) {
    const numbered = numberedKey(table, catalog)
    const kind = numbered && kindOf(numbered, dialect)
    if (kind) counts.set(kind, (counts.get(kind) ?? 0) + 1)
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0]
}

/** The column that numbers a table's rows, where it is its whole key, leads it, and is nothing else. */
export function numberedKey(table: Table, catalog: Catalog): Column | undefined {
  const [first] = table.columns
  const key = table.primaryKey?.columns
  if (!first || key?.length !== 1 || key[0] !== first.name) return undefined
  if (table.foreignKeys.some((fk) => fk.columns.includes(first.name))) return undefined
  return first.identity || isRowNumber(first, table) || countsByItself(first, table, catalog) ? first : undefined
}

/** "ROWIDs and the INTEGER PRIMARY KEY" (sqlite.org/lang_createtable.html#rowid). */
const isRowNumber = (column: Column, table: Table): boolean =>
  column.neverEmpty === true && column.default === undefined && !table.partition && !table.inherits

/** Its default takes the next number of a sequence that goes with it. */
const countsByItself = ({ name, default: preset, refs = [] }: Column, table: Table, catalog: Catalog): boolean =>
  preset !== undefined &&
  refs.some(({ to: { kind, path } }) => {
    const [schema = '', sequence = ''] = path
    const by = kind === 'sequence' ? findFree(catalog, 'sequence', schema, sequence)?.ownedBy : undefined
    return by?.schema === table.schema && by.table === table.name && by.column === name
  })
