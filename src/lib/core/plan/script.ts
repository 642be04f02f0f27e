// A whole catalogue as one script: the plan that leads there from an empty database.
import {
  carriedIn,
  emptyCatalog,
  find,
  isConstrained,
  tableAddress,
  withoutComments,
  type Address,
  type Catalog,
  type Origin,
  type Table
} from '../catalog'
import { difference } from '../compare'
import type { ScriptSettings } from '../design'
import type { Dialect } from '../dialects'
import { inNeededOrder } from './carried'
import { plan } from './plan'

/** One statement of a script and the object it is about. */
export interface Statement {
  readonly sql: string
  readonly about?: Address
  readonly origin?: Origin
}

export interface ScriptOptions extends Pick<ScriptSettings, 'make' | 'without'> {
  /** Only these tables (by name); all that there is when absent. */
  readonly only?: ReadonlySet<string>
}
type Part = NonNullable<ScriptSettings['without']>[number]

/** What something stands on is made before it; foreign keys last, so that tables may point at each other in a circle. */
export function writeScript(whole: Catalog, dialect: Dialect, options: ScriptOptions = {}): Statement[] {
  const { only, make, without = [] } = options
  const left = new Set(without)
  const catalog = withoutParts(only ? tablesOnly(whole, only) : whole, left)
  const wanted = ({ about }: Statement) => about === undefined || !left.has(partOf(about))
  const gone = make === undefined ? [] : removal(catalog, dialect).filter(wanted)
  if (make === 'drop') return gone
  const start = emptyCatalog(catalog.engine, catalog.defaultSchema)
  const { steps } = plan(start, difference(start, catalog, [], dialect), dialect, { bare: true })
  const opening = dialect.opening?.(catalog) ?? []
  return [
    ...opening.map((sql) => ({ sql })),
    ...gone,
    ...steps.map(({ statement, about }) => ({ sql: statement, ...said(catalog, about) })).filter(wanted)
  ]
}

/** The part of a script that a statement about something is of. */
function partOf({ kind }: Address): Part {
  if (kind === 'foreignKey') return 'foreign keys'
  if (kind === 'index') return 'indexes'
  if (kind === 'view') return 'views'
  return kind === 'table' || kind === 'column' || kind === 'schema' || isConstrained(kind) ? 'tables' : 'others'
}

/** Without what stands in statements of others: a foreign key in its table's, and what is said of anything. */
function withoutParts(catalog: Catalog, left: ReadonlySet<Part>): Catalog {
  if (left.size === 0) return catalog
  const bare = {
    ...catalog,
    tables: catalog.tables.map((table) => ({
      ...table,
      ...(left.has('foreign keys') ? { foreignKeys: [] } : {}),
      ...(left.has('indexes') ? { indexes: [] } : {})
    }))
  }
  return left.has('comments') ? withoutComments(bare) : bare
}

function said(catalog: Catalog, about: Address): Pick<Statement, 'about' | 'origin'> {
  const origin = find(catalog, about)?.origin
  return { about, ...(origin ? { origin } : {}) }
}

/** Tables, and nothing that stands beside them or on them by its text. */
const tablesOnly = ({ engine, defaultSchema, tables }: Catalog, only: ReadonlySet<string>): Catalog => ({
  ...emptyCatalog(engine, defaultSchema),
  tables: tables
    .filter((table) => only.has(table.name))
    .map(({ triggers: _triggers, policies: _policies, rules: _rules, ...table }) => table)
})

function removal(catalog: Catalog, dialect: Dialect): Statement[] {
  const { write, carry, profile } = dialect
  const { ifExists, foreignKeysInTable, dropCascade } = profile.features
  const statements: Statement[] = []
  const free = inNeededOrder(carriedIn(catalog), catalog).reverse()
  const others = (kinds: readonly string[]) => {
    if (ifExists)
      for (const object of free)
        if (kinds.includes(object.kind))
          for (const { statement } of carry.drop(object))
            statements.push({ sql: `${ifThere(statement)}${dropCascade ? ' CASCADE' : ''}`, about: object.address })
  }
  others(['view'])
  for (const table of catalog.tables)
    for (const fk of table.foreignKeys)
      if (!ifExists && !foreignKeysInTable)
        statements.push({ sql: write.dropConstraint(table, fk.name, true), ...said(catalog, tableAddress(table)) })
  for (const table of childrenFirst(catalog)) {
    const sql = write.dropTable(table.schema, table.name, true)
    // Where the engine can, dependents that the script will not make again stop it no longer.
    statements.push({ sql: dropCascade ? `${sql} CASCADE` : sql, ...said(catalog, tableAddress(table)) })
  }
  others(['routine', 'sequence', 'type'])
  return statements
}

const ifThere = (statement: string) =>
  statement.replace(/^DROP (MATERIALIZED VIEW|[A-Z]+)/, (words) => `${words} IF EXISTS`)

function childrenFirst({ tables }: Catalog): Table[] {
  const key = (schema: string, name: string) => `${schema}\0${name}`
  const byName = new Map(tables.map((table) => [key(table.schema, table.name), table]))
  const done = new Set<Table>()
  const order: Table[] = []
  const visit = (table: Table) => {
    if (done.has(table)) return
    done.add(table)
    for (const { references } of table.foreignKeys) {
      const parent = byName.get(key(references.schema, references.table))
      if (parent) visit(parent)
    }
    order.push(table)
  }
  tables.forEach(visit)
  return order.reverse()
}
