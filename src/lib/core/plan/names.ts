// Names that are in each other's way: swaps, chains, and names that something on its way out still holds.
import {
  addressKey as place,
  findTable,
  inTable,
  MEMBER_KINDS,
  members,
  namesOf,
  renamedTo,
  tableAddress,
  type Catalog,
  type Change,
  type Kind,
  type Table
} from '../catalog'
import { nameKey, sameName, type Dialect } from '../dialects'

type Rename = Change & { action: 'rename' }

/** A table's name, and those of its members that are one in the schema: all of them in one space, to be safe. */
const namesInSchema = (table: Table, dialect: Dialect): string[] => [
  nameKey('table', table.name, dialect),
  ...dialect.profile.features.namesInSchema.flatMap((kind) =>
    members(table, kind).map(({ name }) => nameKey(kind, name, dialect))
  )
]

/** Whether a table has a column whose name the engine takes for the one given. */
export const hasColumn = (table: Table | undefined, name: string, dialect: Dialect): boolean =>
  table?.columns.some((column) => sameName('column', column.name, name, dialect)) ?? false

/** Tells whether what is dropped must go before the rest, since its name is wanted for something else. */
export function takesName(
  live: Catalog,
  to: Catalog,
  renames: readonly Rename[],
  dialect: Dialect
): (change: Change & { action: 'drop' }) => boolean {
  // Gone through once, not for each that is dropped.
  const wanted = new Map<string, Set<string>>()
  for (const table of to.tables) {
    const names = wanted.get(table.schema) ?? new Set()
    wanted.set(table.schema, names)
    for (const name of namesInSchema(table, dialect)) names.add(name)
  }
  const called = namesOfTables(renames)
  return ({ address }) => {
    const { kind, schema, table, name } = namesOf(address)
    if (kind === 'column') return hasColumn(findTable(to, schema, called(schema, table)), name, dialect)
    const dropped = findTable(live, schema, table)
    return dropped !== undefined && namesInSchema(dropped, dialect).some((own) => wanted.get(schema)?.has(own))
  }
}

/** What tables are called after renames. */
function namesOfTables(renames: readonly Rename[]): (schema: string, table: string) => string {
  const called = new Map(
    renames.flatMap(({ address, to }) => (address.kind === 'table' ? [[place(address), to] as const] : []))
  )
  return (schema, table) => called.get(place(tableAddress({ schema, name: table }))) ?? table
}

/**
 * Renames in an order in which no name is taken twice: tables, then their members in the tables' new names. A circle is
 * opened with a name for the time being.
 */
export function orderRenames(renames: readonly Rename[], live: Catalog, dialect: Dialect): Rename[] {
  const tables = renames.filter((r) => r.address.kind === 'table')
  const called = namesOfTables(tables)
  const inNewTable = renames
    .filter((r) => r.address.kind !== 'table')
    .map((r): Rename => ({
      ...r,
      address: inTable(r.address, called(namesOf(r.address).schema, namesOf(r.address).table))
    }))
  return [...untangle(tables, live, dialect), ...untangle(inNewTable, live, dialect)]
}

function untangle(renames: readonly Rename[], live: Catalog, dialect: Dialect): Rename[] {
  const pending = [...renames]
  const result: Rename[] = []
  const blocks = (a: Rename, b: Rename) =>
    a !== b &&
    sameName(a.address.kind, namesOf(b.address).name, a.to, dialect) &&
    scope(a, dialect) === scope(b, dialect)
  while (pending.length > 0) {
    const free = pending.findIndex((rename) => !pending.some((other) => blocks(rename, other)))
    if (free >= 0) {
      result.push(...pending.splice(free, 1))
      continue
    }
    const [first] = pending
    if (!first) break
    const away = temporary(first, live)
    result.push({ ...first, to: away })
    pending[0] = { ...first, address: renamedTo(first.address, away) }
  }
  return result
}

function scope(rename: Rename, dialect: Dialect): string {
  const { kind, schema, table } = namesOf(rename.address)
  if (kind === 'table' || (dialect.profile.features.namesInSchema as readonly Kind[]).includes(kind)) return schema
  return `${schema}\0${table}\0${kind === 'column' ? 'column' : 'constraint'}`
}

const temporary = (rename: Rename, live: Catalog): string => temporaryName(namesOf(rename.address).name, live, [])

/** A name nobody has, in any case of its letters: short, so that it fits every engine. */
export function temporaryName(like: string, live: Catalog, taken: readonly string[]): string {
  const text = JSON.stringify([
    taken,
    live.tables.map((table) => [table.name, MEMBER_KINDS.map((kind) => members(table, kind).map(({ name }) => name))])
  ]).toLowerCase()
  const base = like.slice(0, 20)
  for (let n = 1; ; n++) {
    const name = `${base}_t${n}`
    if (!text.includes(JSON.stringify(name).toLowerCase())) return name
  }
}
