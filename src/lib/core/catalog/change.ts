// Changes between catalogues and their algebra:
//   apply(changes, A) = B,   apply(invert(changes), B) = A   (up to the order of columns and of named things),
// for changes that `compare` found between A and B.
import type { Address, Catalog, MemberKind, MemberOf, ObjectKind, Origin, Table } from './shapes'
import { renameIn, tableKey, type NameRule, type Renames } from './rename'
import { findTable, members, withMembers, withTable } from './walk'

/** A whole object as it stands in a catalogue. */
export type CatalogObject =
  | { readonly kind: 'table'; readonly value: Table }
  | { [K in MemberKind]: { readonly kind: K; readonly value: MemberOf[K] } }[MemberKind]

interface Placed {
  /** Where the object stands. After a run of renames, places are spoken of by their new names. */
  readonly address: Address
  readonly origin?: Origin
}

export type Change = Placed &
  (
    | { readonly action: 'create'; readonly object: CatalogObject }
    | { readonly action: 'drop'; readonly object: CatalogObject }
    | { readonly action: 'rename'; readonly to: string }
    | {
        readonly action: 'alter'
        readonly property: string
        readonly from: unknown
        readonly to: unknown
        /** False where two expressions could not be told apart for sure. */
        readonly certain: boolean
      }
  )

/** The properties that are compared and changed one by one, for each kind of object. */
export const PROPERTIES: { readonly [K in ObjectKind]: readonly string[] } = {
  table: ['comment'],
  column: ['type', 'nullable', 'default', 'identity', 'generated', 'virtual', 'collation', 'comment'],
  primaryKey: ['columns', 'comment'],
  unique: ['columns', 'comment'],
  foreignKey: ['columns', 'references', 'onDelete', 'onUpdate', 'deferrable', 'comment'],
  check: ['expression', 'comment'],
  index: ['unique', 'parts', 'include', 'where', 'method', 'comment']
}

/** Applies changes in order. Renames that follow one another are meant at once, so that names may be swapped. */
export function apply(changes: readonly Change[], catalog: Catalog, names: NameRule): Catalog {
  let result = catalog
  for (let i = 0; i < changes.length;) {
    const run = renameRun(changes, i)
    if (run.length > 0) {
      result = renameIn(result, renamesOf(run), names)
      i += run.length
    } else {
      const change = changes[i++]
      if (change) result = applyOne(change, result)
    }
  }
  return result
}

export const invert = (changes: readonly Change[]): Change[] => inversePairs(changes).map(({ inverse }) => inverse)

/** The changes that lead back, in their order, each with the one it turns round. */
export function inversePairs(changes: readonly Change[]): { readonly change: Change; readonly inverse: Change }[] {
  const result: { change: Change; inverse: Change }[] = []
  for (let i = 0; i < changes.length;) {
    const run = renameRun(changes, i)
    if (run.length > 0) {
      const inverses = invertRenames(run)
      result.unshift(...run.map((change, n) => ({ change, inverse: inverses[n] ?? change })))
      i += run.length
    } else {
      const change = changes[i++]
      if (change) result.unshift({ change, inverse: invertOne(change) })
    }
  }
  return result
}

function renameRun(changes: readonly Change[], from: number) {
  const run: (Change & { action: 'rename' })[] = []
  for (let i = from; i < changes.length; i++) {
    const change = changes[i]
    if (change?.action !== 'rename') break
    run.push(change)
  }
  return run
}

function invertOne(change: Change): Change {
  switch (change.action) {
    case 'create':
      return { ...change, action: 'drop' }
    case 'drop':
      return { ...change, action: 'create' }
    case 'alter':
      return { ...change, from: change.to, to: change.from }
    case 'rename':
      return { ...change, address: { ...change.address, name: change.to }, to: change.address.name }
  }
}

/** Members are addressed in their table's old name going there, and in its new name coming back. */
function invertRenames(run: readonly (Change & { action: 'rename' })[]): Change[] {
  const tables = renamesOf(run).tables
  return run.map((change) => {
    const { address } = change
    const table = tables.get(tableKey(address.schema, address.table)) ?? address.table
    return { ...change, address: { ...address, table, name: change.to }, to: address.name }
  })
}

/** The new names in a list of changes, by what they rename. */
export function renamesOf(changes: readonly Change[]): Renames {
  const tables = new Map<string, string>()
  const inTables = new Map<string, Map<MemberKind, Map<string, string>>>()
  for (const change of changes) {
    if (change.action !== 'rename') continue
    const { kind, schema, table, name } = change.address
    const key = tableKey(schema, table)
    if (kind === 'table') {
      tables.set(key, change.to)
      continue
    }
    const kinds = inTables.get(key) ?? new Map<MemberKind, Map<string, string>>()
    inTables.set(key, kinds.set(kind, (kinds.get(kind) ?? new Map<string, string>()).set(name, change.to)))
  }
  return { tables, members: inTables }
}

function applyOne(change: Change, catalog: Catalog): Catalog {
  const { kind, schema, table: tableName, name } = change.address
  if (change.action === 'rename') return catalog
  const table = findTable(catalog, schema, tableName)
  if (kind === 'table') {
    if (change.action === 'create')
      return withTable(catalog, schema, name, change.object.kind === 'table' ? change.object.value : undefined)
    if (change.action === 'drop') return withTable(catalog, schema, name, undefined)
    return table ? withTable(catalog, schema, name, withProperty(table, change.property, change.to)) : catalog
  }
  if (!table) return catalog
  return withTable(catalog, schema, tableName, changeMember(table, kind, change))
}

function changeMember<K extends MemberKind>(
  table: Table,
  kind: K,
  change: Exclude<Change, { action: 'rename' }>
): Table {
  const list = members(table, kind)
  const { name } = change.address
  if (change.action === 'create') return withMembers(table, kind, [...list, change.object.value as MemberOf[K]])
  if (change.action === 'drop')
    return withMembers(
      table,
      kind,
      list.filter((member) => member.name !== name)
    )
  return withMembers(
    table,
    kind,
    list.map((member) => (member.name === name ? withProperty(member, change.property, change.to) : member))
  )
}

/** A copy with one property set, or without it when the value is `undefined`. */
export function withProperty<T extends object>(object: T, property: string, value: unknown): T {
  const entries = Object.entries(object).filter(([key]) => key !== property)
  return Object.fromEntries(value === undefined ? entries : [...entries, [property, value]]) as T
}

/** One property of a catalogue object by name. */
export const propertyOf = (object: object, property: string): unknown => Reflect.get(object, property)
