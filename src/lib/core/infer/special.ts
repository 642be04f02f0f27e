// Tables whose rows are rows of another one: their key is what leads to it.
import { foreignKeysTo, tableKey, type Catalog, type Relation, type Table } from '../catalog'

export interface SpecialTables {
  readonly parent: Relation
  readonly tables: readonly Relation[]
}

/** By the table that they are rows of; those that others lead to are left out. */
export function specialTables(catalog: Catalog): SpecialTables[] {
  const keys = new Map(catalog.tables.map((t) => [tableKey(t.schema, t.name), t.primaryKey?.columns ?? []]))
  const groups = new Map<string, { parent: Relation; tables: Relation[] }>()
  for (const table of catalog.tables) {
    const fk = upOf(table)
    if (!fk || foreignKeysTo(catalog, table.schema, table.name).length > 0) continue
    const { schema, table: name, columns } = fk.references
    const key = tableKey(schema, name)
    if (key === tableKey(table.schema, table.name) || keys.get(key)?.join() !== columns.join()) continue
    const group = groups.get(key) ?? { parent: { schema, name }, tables: [] }
    group.tables.push({ schema: table.schema, name: table.name })
    groups.set(key, group)
  }
  return [...groups.values()]
}

/** The foreign key whose columns are the table's key, come first, and are called as those that they lead to. */
function upOf({ primaryKey, foreignKeys, columns, partition, inherits, module }: Table) {
  const key = primaryKey?.columns ?? []
  const leading = columns.slice(0, key.length)
  const isPlain = leading.every((one) => one.default === undefined && !one.identity && one.generated === undefined)
  if (key.length === 0 || partition || inherits || module !== undefined || !isPlain) return undefined
  if (leading.map(({ name }) => name).join() !== key.join()) return undefined
  return foreignKeys.find((fk) => fk.columns.join() === key.join() && fk.references.columns.join() === key.join())
}
