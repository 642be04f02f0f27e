// What stands on what: one graph of references over all that a catalogue holds.
import type { CatalogObject } from './change'
import type { DataType } from './data-type'
import { FREE_KINDS, isCarried, MEMBER_KINDS } from './kinds'
import type {
  Address,
  Catalog,
  Column,
  DefaultRights,
  Extension,
  ForeignKey,
  Kind,
  Ref,
  Sequence,
  Table,
  TypeObject,
  View
} from './shapes'
import {
  addressKey,
  addressOf,
  freeAddress,
  isView,
  memberAddress,
  members,
  namesOf,
  objectsOf,
  tableAddress
} from './walk'

/** An object and where it stands. */
export type Placed = CatalogObject & { readonly address: Address }

/** What an object says itself that it stands on, and what follows from its shape. */
export function refsOf(kind: Kind, object: object): readonly Ref[] {
  const { refs = [] } = object as { readonly refs?: readonly Ref[] }
  switch (kind) {
    case 'foreignKey': {
      const { schema, table } = (object as ForeignKey).references
      return [{ to: addressOf('table', schema, table) }]
    }
    case 'table': {
      const { inherits = [], partition } = object as Table
      const parents = [...inherits, ...(partition ? [partition.of] : [])]
      return [...parents.map((parent) => ({ to: tableAddress(parent) })), ...refs]
    }
    case 'column':
      return [...refsOfType((object as Column).type), ...refs]
    case 'type': {
      const { base, fields = [] } = object as TypeObject
      return [...[...(base ? [base] : []), ...fields.map((field) => field.type)].flatMap(refsOfType), ...refs]
    }
    case 'extension':
    case 'defaultRights': {
      const { schema } = object as DefaultRights | Extension
      return schema === undefined ? refs : [{ to: addressOf('schema', schema) }, ...refs]
    }
    case 'sequence': {
      const { ownedBy } = object as Sequence
      if (!ownedBy) return refs
      return [{ to: addressOf('column', ownedBy.schema, ownedBy.table, ownedBy.column), owned: true }, ...refs]
    }
    default:
      return refs
  }
}

/** A type of the database's own. */
const refsOfType = ({ name, schema, of }: DataType): Ref[] =>
  of ? refsOfType(of) : schema === undefined ? [] : [{ to: addressOf('type', schema, name) }]

/** All that a table stands on before its foreign keys: its parents, types, and what its defaults and conditions call. */
export const refsOfTable = (table: Table): Ref[] => [
  ...refsOf('table', table),
  ...table.columns.flatMap((column: Column) => refsOf('column', column)),
  ...table.checks.flatMap((check) => refsOf('check', check))
]

/** The same, with all that stands in it by its own text: what must be there for it to be whole, and holds fast what it names. */
export const refsOfAll = (table: Table): Ref[] => [
  ...refsOfTable(table),
  ...MEMBER_KINDS.flatMap((kind) =>
    kind === 'column' || kind === 'check' || kind === 'foreignKey'
      ? []
      : members(table, kind).flatMap((member) => refsOf(kind, member))
  )
]

/** Every object that is carried: it stands by itself, or in a table or view by its own text. */
export function carriedIn(catalog: Catalog): Placed[] {
  const free = FREE_KINDS.filter(isCarried).flatMap((kind) =>
    objectsOf(catalog, kind).map((value) => ({ kind, value, address: freeAddress(kind, value) }) as Placed)
  )
  const inside = (home: Table | View) =>
    // The index of a view is no part of what holds rows for good.
    MEMBER_KINDS.filter((kind) => isCarried(kind) || (kind === 'index' && isView(home))).flatMap((kind) =>
      members(home, kind).map((value) => ({ kind, value, address: memberAddress(home, kind, value) }) as Placed)
    )
  return [...free, ...catalog.tables.flatMap(inside), ...(catalog.views ?? []).flatMap(inside)]
}

/** Part of a table or view: some of its columns, or all that it is. */
export interface Ground {
  readonly schema: string
  readonly table: string
  readonly columns?: readonly string[]
}

/** Who stands on what, among what is carried. */
export class Graph {
  readonly all: readonly Placed[]
  private readonly users = new Map<string, Placed[]>()

  constructor(catalog: Catalog) {
    this.all = carriedIn(catalog)
    for (const object of this.all) {
      const places = new Set<string>()
      for (const { to, owned } of refsOf(object.kind, object.value)) {
        if (owned) continue
        places.add(addressKey(to))
        // Whoever names a column names its table.
        const { schema, table } = namesOf(to)
        if (to.path.length > 2) places.add(ground(schema, table))
        else if (to.kind === 'table' || to.kind === 'view') places.add(ground(schema, table))
      }
      // What is in a table or view stands on it.
      if (object.address.path.length > 2) {
        const { schema, table } = namesOf(object.address)
        places.add(ground(schema, table))
      }
      for (const place of places) {
        const list = this.users.get(place)
        if (list) list.push(object)
        else this.users.set(place, [object])
      }
    }
  }

  /** What stands on an object. */
  usersOf(address: Address): readonly Placed[] {
    const { kind, schema, table } = namesOf(address)
    return this.at(kind === 'table' || kind === 'view' ? ground(schema, table) : addressKey(address))
  }

  /** What stands on a table or view, or on some of its columns. */
  usersOfGround({ schema, table, columns }: Ground): readonly Placed[] {
    if (!columns) return this.at(ground(schema, table))
    return columns.flatMap((column) => this.at(addressKey(addressOf('column', schema, table, column))))
  }

  /** Objects and all that stand on them, users before what they use. */
  withUsers(objects: Iterable<Placed>): Placed[] {
    const order: Placed[] = []
    const seen = new Set<string>()
    const visit = (object: Placed) => {
      const key = addressKey(object.address)
      if (seen.has(key)) return
      seen.add(key)
      for (const user of this.usersOf(object.address)) visit(user)
      order.push(object)
    }
    for (const object of objects) visit(object)
    return order
  }

  private at = (place: string): readonly Placed[] => this.users.get(place) ?? []
}

const ground = (schema: string, table: string) => JSON.stringify([schema, table])

/** Everything that stands on a place, tables and what is in them included; whoever names a column names its table. */
export function standingOn(catalog: Catalog): (address: Address) => readonly Address[] {
  const users = new Map<string, Address[]>()
  const put = (key: string, by: Address) => {
    const list = users.get(key)
    if (list) list.push(by)
    else users.set(key, [by])
  }
  const add = (refs: readonly Ref[], by: Address) => {
    for (const { to } of refs) {
      put(addressKey(to), by)
      const { schema, table } = namesOf(to)
      if (to.path.length > 2) for (const kind of HOMES) put(addressKey(addressOf(kind, schema, table)), by)
    }
  }
  for (const object of carriedIn(catalog)) add(refsOf(object.kind, object.value), object.address)
  for (const table of catalog.tables) {
    add(refsOf('table', table), tableAddress(table))
    for (const kind of MEMBER_KINDS)
      if (!isCarried(kind) && kind !== 'foreignKey')
        for (const member of members(table, kind)) add(refsOf(kind, member), memberAddress(table, kind, member))
  }
  return (address) => users.get(addressKey(address)) ?? []
}
const HOMES = ['table', 'view'] as const

/** A foreign key and the table that it is of. */
export interface ChildKey {
  readonly child: Table
  readonly fk: ForeignKey
}

const byParent = new WeakMap<readonly Table[], ReadonlyMap<string, readonly ChildKey[]>>()

/** The foreign keys that go to a table; found once for each catalogue. */
export function foreignKeysTo({ tables }: Pick<Catalog, 'tables'>, schema: string, table: string): readonly ChildKey[] {
  let found = byParent.get(tables)
  if (!found) {
    const made = new Map<string, ChildKey[]>()
    for (const child of tables)
      for (const fk of child.foreignKeys) {
        const key = ground(fk.references.schema, fk.references.table)
        const list = made.get(key)
        if (list) list.push({ child, fk })
        else made.set(key, [{ child, fk }])
      }
    byParent.set(tables, (found = made))
  }
  return found.get(ground(schema, table)) ?? []
}
