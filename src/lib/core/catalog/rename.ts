// Carrying new names through a whole catalogue: a column's new name reaches its keys, indexes, checks and the
// foreign keys of other tables, as it does in an engine that renames.
import { renameNames, type Lexis } from '../sql'
import type { Catalog, MemberKind, Printed, Table } from './shapes'
import { members, withMembers } from './walk'

/** New names by what they rename; all are meant at once, so that two objects may swap names. */
export interface Renames {
  /** `schema, old name` → new name. */
  readonly tables: ReadonlyMap<string, string>
  /** `schema, old table name` → kind → old name → new name. */
  readonly members: ReadonlyMap<string, ReadonlyMap<MemberKind, ReadonlyMap<string, string>>>
}

/** What naming needs to know of an engine to carry a new name into expressions. */
export interface NameRule {
  readonly lexis: Lexis
  readonly quote: (name: string) => string
}

export const tableKey = (schema: string, table: string): string => JSON.stringify([schema, table])

const none: ReadonlyMap<string, string> = new Map()

export function renameIn(catalog: Catalog, renames: Renames, { lexis, quote }: NameRule): Catalog {
  const tableName = (schema: string, name: string) => renames.tables.get(tableKey(schema, name)) ?? name
  const columnsOf = (schema: string, name: string) => renames.members.get(tableKey(schema, name))?.get('column') ?? none

  const renameTable = (table: Table): Table => {
    const own = renames.members.get(tableKey(table.schema, table.name))
    const columns = columnsOf(table.schema, table.name)
    const column = (name: string) => columns.get(name) ?? name
    const text = (sql: string) => renameNames(sql, columns, lexis, quote)
    let result: Table = {
      ...table,
      name: tableName(table.schema, table.name),
      columns: table.columns.map((c) => (c.generated === undefined ? c : { ...c, generated: text(c.generated) })),
      uniques: table.uniques.map((key) => ({ ...key, columns: key.columns.map(column) })),
      checks: table.checks.map((check) => ({ ...check, expression: text(check.expression) })),
      indexes: table.indexes.map((index) => ({
        ...index,
        parts: index.parts.map((part) => ({
          ...part,
          ...(part.column === undefined ? {} : { column: column(part.column) }),
          ...(part.expression === undefined ? {} : { expression: text(part.expression) })
        })),
        ...(index.include ? { include: index.include.map(column) } : {}),
        ...(index.where === undefined ? {} : { where: text(index.where) })
      })),
      foreignKeys: table.foreignKeys.map((fk) => {
        const { schema, table: parent, columns: keys } = fk.references
        const parentColumns = columnsOf(schema, parent)
        return {
          ...fk,
          columns: fk.columns.map(column),
          references: {
            schema,
            table: tableName(schema, parent),
            columns: keys.map((name) => parentColumns.get(name) ?? name)
          }
        }
      })
    }
    if (table.primaryKey)
      result = { ...result, primaryKey: { ...table.primaryKey, columns: table.primaryKey.columns.map(column) } }
    for (const [kind, names] of own ?? [])
      result = withMembers(
        result,
        kind,
        members(result, kind).map((member) => ({ ...member, name: names.get(member.name) ?? member.name }))
      )
    return result
  }
  const renamePrinted = (item: Printed): Printed => {
    const columns = columnsOf(item.schema, item.table)
    const text = (value: unknown) => (typeof value === 'string' ? renameNames(value, columns, lexis, quote) : value)
    const table = tableName(item.schema, item.table)
    return { ...item, table, wanted: text(item.wanted), printed: text(item.printed) }
  }
  return {
    ...catalog,
    tables: catalog.tables.map(renameTable),
    ...(catalog.printed ? { printed: catalog.printed.map(renamePrinted) } : {})
  }
}
