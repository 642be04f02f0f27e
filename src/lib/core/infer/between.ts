// Tables that hold nothing but what leads to two others: rows of many to many.
import { foreignKeysTo, type Catalog, type Relation, type Table } from '../catalog'

export interface TableBetween {
  readonly table: Relation
  readonly ends: readonly [Relation, Relation]
}

export function tablesBetween(catalog: Catalog): TableBetween[] {
  return catalog.tables.flatMap((table) => {
    const [first, second, more] = table.foreignKeys
    if (!first || !second || more || !isBare(table)) return []
    const leading = [...first.columns, ...second.columns]
    const columns = table.columns.map(({ name }) => name)
    const same = (list: readonly string[]) =>
      list.length === leading.length && leading.every((name) => list.includes(name))
    if (!same(columns) || !same(table.primaryKey?.columns ?? [])) return []
    if (foreignKeysTo(catalog, table.schema, table.name).length > 0) return []
    const end = ({ references: { schema, table: name } }: typeof first): Relation => ({ schema, name })
    return [{ table: { schema: table.schema, name: table.name }, ends: [end(first), end(second)] }]
  })
}

const isBare = ({ uniques, checks, columns, module, partition, inherits, indexes, foreignKeys }: Table): boolean =>
  uniques.length + checks.length === 0 &&
  // An index that an engine makes for a foreign key is called as that is.
  indexes.every(({ name, unique, parts }) =>
    foreignKeys.some((fk) => fk.name === name && !unique && fk.columns.join() === parts.map((p) => p.column).join())
  ) &&
  module === undefined &&
  !partition &&
  !inherits &&
  columns.every((column) => column.default === undefined && !column.identity && column.generated === undefined)
