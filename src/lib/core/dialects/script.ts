// A whole catalogue as one script, in an order that runs.
import type { Address, Catalog, Origin, Table } from '../catalog'
import { memberAddress, tableAddress } from '../catalog'
import type { Dialect } from './dialect'

/** One statement of a script and the object it is about. */
export interface Statement {
  readonly sql: string
  readonly about?: Address
  readonly origin?: Origin
}

export interface ScriptOptions {
  /** Remove each table first, where it exists. */
  readonly drop?: boolean
  /** Only these tables (by name); all when absent. */
  readonly only?: ReadonlySet<string>
}

/** Tables first, then indexes, then foreign keys, so that tables may point at each other in a circle. */
export function writeScript(catalog: Catalog, dialect: Dialect, options: ScriptOptions = {}): Statement[] {
  const { write, alter, profile } = dialect
  const tables = catalog.tables.filter((table) => !options.only || options.only.has(table.name))
  const about = (table: Table) => ({ about: tableAddress(table), ...(table.origin ? { origin: table.origin } : {}) })
  const schemas = new Set(tables.map((table) => table.schema).filter((schema) => schema !== profile.defaultSchema))

  const statements: Statement[] = []
  if (options.drop) {
    for (const table of tables)
      for (const fk of table.foreignKeys)
        if (!profile.features.ifExists && !profile.features.foreignKeysInTable)
          statements.push({ sql: write.dropConstraint(table, fk.name, true), ...about(table) })
    for (const table of childrenFirst(tables)) statements.push({ sql: dropWhole(dialect, table), ...about(table) })
  }
  if (profile.features.schemas) for (const schema of schemas) statements.push({ sql: write.createSchema(schema) })
  for (const table of tables)
    for (const draft of alter.createTable(table)) statements.push({ sql: draft.statement, ...about(table) })
  for (const kind of profile.features.foreignKeysInTable ? (['index'] as const) : (['index', 'foreignKey'] as const))
    for (const table of tables)
      for (const member of kind === 'index' ? table.indexes : table.foreignKeys)
        for (const draft of alter.addMember(table, kind, member))
          statements.push({
            sql: draft.statement,
            about: memberAddress(table, kind, member),
            ...(member.origin ? { origin: member.origin } : {})
          })
  return statements
}

/** Where the engine can, dependents that the script will not make again stop it no longer. */
function dropWhole(dialect: Dialect, table: Table): string {
  const sql = dialect.write.dropTable(table.schema, table.name, true)
  return dialect.profile.features.dropCascade ? `${sql} CASCADE` : sql
}

function childrenFirst(tables: readonly Table[]): Table[] {
  const done = new Set<string>()
  const result: Table[] = []
  const key = (schema: string, name: string) => `${schema}\0${name}`
  const visit = (table: Table) => {
    if (done.has(key(table.schema, table.name))) return
    done.add(key(table.schema, table.name))
    for (const fk of table.foreignKeys) {
      const parent = tables.find((t) => t.schema === fk.references.schema && t.name === fk.references.table)
      if (parent) visit(parent)
    }
    result.unshift(table)
  }
  tables.forEach(visit)
  return result
}

/** The text of a script: each statement ended, a blank line between statements. */
export const printScript = (statements: readonly { readonly sql: string }[], dialect: Dialect): string =>
  statements.map(({ sql }) => `${printStatement(sql, dialect)}\n`).join('\n')

/** A statement with its end, as it stands in a script. */
export const printStatement = (sql: string, { write }: Dialect): string => write.inScript?.(sql) ?? `${sql};`
