// A design's catalogue as MongoDB holds it: a key is an index that lets nothing stand twice, `_id` has its own, and what leads from one
// collection to another, or is computed, is for whoever writes.
import {
  dotted,
  EACH,
  holderOf,
  withProperty,
  type Catalog,
  type Column,
  type Index,
  type Key,
  type Table
} from '../../catalog'

/** The name of the field that every document has, and of its index. */
export const ROW_ID = '_id'
export const ROW_ID_INDEX = '_id_'

const asIndex = ({ name, columns, origin }: Key): Index => ({
  name,
  unique: true,
  parts: columns.map((column) => ({ column, descending: false })),
  ...(origin ? { origin } : {})
})

/**
 * "Unique Indexes", "Missing Document Field": what is not there counts as a value, of which one may be. A key lets any number lack it:
 * its index is of those that have it.
 */
function amongThose(index: Index, columns: ReadonlyMap<string, Column>): Index {
  if (!index.unique || index.where !== undefined) return index
  const mayLack = (path: string): boolean => {
    const holder = holderOf(path)
    return path.includes(EACH) || columns.get(path)?.nullable !== false || (holder !== undefined && mayLack(holder))
  }
  const lacking = index.parts.flatMap(({ column }) => (column !== undefined && mayLack(column) ? [dotted(column)] : []))
  if (lacking.length === 0) return index
  return { ...index, where: JSON.stringify(Object.fromEntries(lacking.map((path) => [path, { $exists: true }]))) }
}

/** A condition that is no filter of this engine's cannot be kept; unique of all would be another rule. */
const asFilter = (index: Index): Index =>
  index.where === undefined || isFilter(index.where)
    ? index
    : { ...withProperty<Index>(index, 'where', undefined), unique: false }

export const isRowId = ({ columns }: Key): boolean => columns.length === 1 && columns[0] === ROW_ID

function settleTable(table: Table): Table {
  const { primaryKey, uniques, indexes } = table
  const key = primaryKey && !isRowId(primaryKey) ? [asIndex(primaryKey)] : []
  const columns = new Map(table.columns.map((column) => [column.name, column]))
  const rest = withProperty<Table>(table, 'primaryKey', undefined)
  const plain = (column: Column): Column =>
    ['default', 'identity', 'counting', 'generated', 'virtual', 'collation'].reduce(
      (one, property) => withProperty<Column>(one, property, undefined),
      column
    )
  return {
    ...rest,
    ...(primaryKey && isRowId(primaryKey) ? { primaryKey: { ...primaryKey, name: ROW_ID_INDEX } } : {}),
    columns: table.columns.map(plain),
    uniques: [],
    foreignKeys: [],
    checks: [],
    indexes: once([...key, ...uniques.map(asIndex), ...indexes.map(asFilter)]).map((index) =>
      amongThose(index, columns)
    )
  }
}

/** "createIndexes": of one key there is one index; that of `_id` is there by itself. One that lets nothing stand twice does for both. */
function once(indexes: readonly Index[]): Index[] {
  const keyOf = ({ parts, where = '' }: Index) =>
    JSON.stringify([parts.map(({ column, descending }) => [dotted(column ?? ''), descending]), where])
  const first = new Map<string, Index>()
  for (const index of [...indexes.filter(({ unique }) => unique), ...indexes])
    if (!first.has(keyOf(index))) first.set(keyOf(index), index)
  const isId = ({ parts }: Index) => parts.length === 1 && parts[0]?.column === ROW_ID
  return indexes.filter((index) => first.get(keyOf(index)) === index && !isId(index))
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}
const isFilter = (text: string): boolean => typeof parsed(text) === 'object'
const isPipeline = (query: string): boolean =>
  typeof (parsed(query) as { readonly viewOn?: unknown } | undefined)?.viewOn === 'string'

export const settle = ({ views = [], ...catalog }: Catalog): Catalog => {
  const kept = views.filter(({ query }) => isPipeline(query))
  return { ...catalog, tables: catalog.tables.map(settleTable), ...(kept.length > 0 ? { views: kept } : {}) }
}
