// A plan tried before it is run: on the tables that it changes, made again without rows in a database beside. What an engine is asked for
// there is how it would carry each step out, and it shows whether it takes them at all. Views, triggers and programs are not made, nor
// steps of a person's own: what they reach is not known.
import { namesOf, tableKey, type Address, type Catalog, type Kind, type Table } from '../catalog'
import type { Dialect, Way } from '../dialects'
import type { Migration } from './plan'
import { writeScript } from './script'
import type { Step } from './step'

export interface Rehearsal {
  /** Statements that make what the steps change. */
  readonly before: readonly string[]
  /** How each step may be carried out, from what disturbs others least on. */
  readonly steps: readonly { readonly id: string; readonly ways: readonly Way[] }[]
}

const OF_TABLES: ReadonlySet<Kind> = new Set<Kind>([
  'table',
  'column',
  'primaryKey',
  'unique',
  'foreignKey',
  'check',
  'index',
  'sequence'
])
const isOfTables = ({ hand, about, effects }: Step): boolean =>
  hand === undefined && [about, ...effects.map(({ address }) => address)].every(({ kind }) => OF_TABLES.has(kind))

/** Nothing for an engine that is not asked so, or a plan that changes no table. */
export function rehearsal(live: Catalog, { steps }: Migration, dialect: Dialect): Rehearsal | undefined {
  const { waysOf } = dialect
  const tried = steps.filter(isOfTables)
  if (!waysOf || tried.length === 0) return undefined
  const tables = around(live, tried).map(({ triggers: _triggers, ...table }) => table)
  const { views: _views, routines: _routines, ...plain } = live
  return {
    before: writeScript({ ...plain, tables, unread: [] }, dialect).map(({ sql }) => sql),
    steps: tried.map(({ id, statement }) => ({ id, ways: waysOf(statement) }))
  }
}

/** The tables that steps change, those that their keys lead to, and those whose keys lead to them. */
function around(live: Catalog, steps: readonly Step[]): Table[] {
  const touched = new Set<string>()
  const leads = ({ references }: Table['foreignKeys'][number]) => tableKey(references.schema, references.table)
  const touch = (address: Address) => {
    const { schema, table } = namesOf(address)
    touched.add(tableKey(schema, table))
  }
  for (const { about, effects } of steps) {
    touch(about)
    for (const change of effects) {
      touch(change.address)
      if (change.action !== 'create') continue
      if (change.object.kind === 'foreignKey') touched.add(leads(change.object.value))
      if (change.object.kind === 'table') change.object.value.foreignKeys.map(leads).forEach((key) => touched.add(key))
    }
  }
  const isTouched = (table: Table) => touched.has(tableKey(table.schema, table.name))
  const parents = new Set(live.tables.filter(isTouched).flatMap(({ foreignKeys }) => foreignKeys.map(leads)))
  return live.tables.filter(
    (table) =>
      isTouched(table) ||
      parents.has(tableKey(table.schema, table.name)) ||
      table.foreignKeys.some((fk) => touched.has(leads(fk)))
  )
}
