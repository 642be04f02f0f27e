// One form for catalogues that mean the same, for laws and for storage. Expressions and types are the dialect's to judge.
import type { Catalog, Table } from './shapes'

const byName = <T extends { readonly name: string }>(list: readonly T[]): T[] =>
  [...list].sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0))

/** Tables by schema and name, constraints and indexes by name, no origins. Column order means something and stays. */
export function canonical(catalog: Catalog): Catalog {
  const tables = catalog.tables.map((table): Table => ({
    ...table,
    uniques: byName(table.uniques),
    foreignKeys: byName(table.foreignKeys),
    checks: byName(table.checks),
    indexes: byName(table.indexes)
  }))
  tables.sort((a, b) => (a.schema + '\0' + a.name < b.schema + '\0' + b.name ? -1 : 1))
  return withoutOrigins({ ...catalog, tables })
}

function withoutOrigins<T>(value: T): T {
  return JSON.parse(JSON.stringify(value, (key, inner: unknown) => (key === 'origin' ? undefined : inner)))
}

/** Deep equality of plain data; the order of an object's fields does not count, absent equals `undefined`. */
export function sameValue(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false
  if (Array.isArray(a) !== Array.isArray(b)) return false
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((item, i) => sameValue(item, b[i]))
  const own = (object: object, key: string): unknown =>
    Object.hasOwn(object, key) ? Reflect.get(object, key) : undefined
  const [left, right] = [Object.keys(a), Object.keys(b)]
  return (
    left.every((key) => sameValue(own(a, key), own(b, key))) &&
    right.every((key) => Object.hasOwn(a, key) || own(b, key) === undefined)
  )
}
