// Finding and replacing the parts of a catalogue. All functions return new values and leave their arguments alone.
import { FREE, INNER, isFree, KINDS, type ObjectOf } from './kinds'
import type { Address, Catalog, FreeKind, FreeOf, Kind, MemberKind, MemberOf, Relation, Table, View } from './shapes'

/** The same columns, in whatever order. */
export const sameSet = (a: readonly string[], b: readonly string[]): boolean =>
  a.length === b.length && a.every((item) => b.includes(item))

export const emptyCatalog = (engine: string, defaultSchema: string): Catalog => ({
  engine,
  defaultSchema,
  tables: [],
  unread: []
})

export const addressOf = (kind: Kind, ...path: readonly string[]): Address => ({ kind, path })

export const tableAddress = (table: Relation): Address => addressOf('table', table.schema, table.name)

/** A member's place; its table may be a view. */
export const memberAddress = (table: Relation, kind: MemberKind, member: { readonly name: string }): Address =>
  addressOf(kind, table.schema, table.name, member.name)

/** The place of an object that stands by itself. */
export const freeAddress = <K extends FreeKind>(kind: K, object: FreeOf[K]): Address => {
  const { schema, name } = object as { readonly schema?: string; readonly name: string }
  return KINDS[kind].inSchema ? addressOf(kind, schema ?? '', name) : addressOf(kind, name)
}

/** A text that is the same for the same place and different for different ones. */
export function addressKey({ kind, path }: Address): string {
  let key: string = kind
  for (const name of path) key += `/${PLAIN.test(name) ? name : encodeURIComponent(name)}`
  return key
}
/** What stays as it is when it is encoded. */
const PLAIN = /^[\w.-]*$/

/**
 * The names along an address: its schema, its table (or what stands by itself in a schema, or the view that it is in), and
 * its own. Empty where an object has no such.
 */
export function namesOf({ kind, path }: Address): {
  readonly kind: Kind
  readonly schema: string
  readonly table: string
  readonly name: string
} {
  const name = path.at(-1) ?? ''
  const [first = '', second = ''] = path
  if (kind === 'schema') return { kind, schema: name, table: '', name }
  return path.length < 2 ? { kind, schema: '', table: '', name } : { kind, schema: first, table: second, name }
}

/** What stands in the same place under another name. */
export const renamedTo = (address: Address, name: string): Address => ({
  ...address,
  path: [...address.path.slice(0, -1), name]
})

/** A member's place in a table of another name; what stands by itself stays. */
export const inTable = (address: Address, table: string): Address =>
  isFree(address.kind) ? address : { ...address, path: [address.path[0] ?? '', table, ...address.path.slice(2)] }

/** Objects by their names, found once for each list: a list is never changed in place. */
const indexes = new WeakMap<readonly object[], ReadonlyMap<string, object>>()
/** What tells the objects of a kind that stands by itself apart. */
export const nameWithin = (kind: FreeKind, schema: string, name: string): string =>
  KINDS[kind].inSchema ? `${schema}\0${name}` : name
const nameOfObject = (kind: FreeKind, object: object): string => {
  const { schema, name } = object as { readonly schema?: string; readonly name: string }
  return nameWithin(kind, schema ?? '', name)
}
function indexOf<T extends object>(list: readonly T[], make: (object: T) => string): ReadonlyMap<string, T> {
  let found = indexes.get(list) as ReadonlyMap<string, T> | undefined
  if (!found) {
    found = new Map([...list].reverse().map((object) => [make(object), object]))
    indexes.set(list, found)
  }
  return found
}

const NONE: readonly never[] = []

/** The objects of a kind that stands by itself. */
export const objectsOf = <K extends FreeKind>(catalog: Catalog, kind: K): readonly FreeOf[K][] =>
  (catalog[FREE[kind].list] ?? NONE) as readonly FreeOf[K][]

/** One object of a kind that stands by itself; `schema` is empty for what stands in none. */
export const findFree = <K extends FreeKind>(
  catalog: Catalog,
  kind: K,
  schema: string,
  name: string
): FreeOf[K] | undefined =>
  indexOf(objectsOf(catalog, kind), (object) => nameOfObject(kind, object)).get(nameWithin(kind, schema, name))

export const findTable = (catalog: Catalog, schema: string, name: string): Table | undefined =>
  findFree(catalog, 'table', schema, name)

/** The table or view of a name: no engine has both. */
export const findRelation = (catalog: Catalog, schema: string, name: string): Table | View | undefined =>
  findTable(catalog, schema, name) ?? findFree(catalog, 'view', schema, name)

export const isView = (relation: Table | View): relation is View => 'query' in relation

/** The members of one kind; the primary key is a list of none or one. */
export function members<K extends MemberKind>(home: Table | View, kind: K): readonly MemberOf[K][] {
  const { list, single } = INNER[kind]
  const value: unknown = Reflect.get(home, list)
  if (value === undefined || (kind === 'column' && isView(home))) return NONE
  return (single ? [value] : value) as readonly MemberOf[K][]
}

/** The table or view with the members of one kind replaced. */
export function withMembers<H extends Table | View, K extends MemberKind>(
  home: H,
  kind: K,
  list: readonly MemberOf[K][]
): H {
  const row = INNER[kind]
  if (!row.single) {
    const always = ['columns', 'uniques', 'foreignKeys', 'checks', 'indexes'].includes(row.list) && !isView(home)
    return list.length || always ? { ...home, [row.list]: list } : without(home, row.list)
  }
  return list.length ? { ...home, [row.list]: list[0] } : without(home, row.list)
}

const without = <H extends object>(object: H, key: string): H =>
  key in object ? (Object.fromEntries(Object.entries(object).filter(([k]) => k !== key)) as H) : object

export function findMember<K extends MemberKind>(
  catalog: Catalog,
  address: Pick<Address, 'path'>,
  kind: K
): MemberOf[K] | undefined {
  const [schema = '', table = '', name] = address.path
  const home = findRelation(catalog, schema, table)
  return home && members(home, kind).find((member) => member.name === name)
}

/** The object that stands at an address. */
export function find<K extends Kind>(catalog: Catalog, address: Address & { readonly kind: K }): ObjectOf[K] | undefined
export function find(catalog: Catalog, address: Address): ObjectOf[Kind] | undefined
export function find(catalog: Catalog, address: Address): ObjectOf[Kind] | undefined {
  const { kind } = address
  if (!isFree(kind)) return findMember(catalog, address, kind)
  const { schema, name } = namesOf(address)
  return findFree(catalog, kind, schema, name)
}

/** The catalogue with the objects of one kind replaced. */
export function withObjects<K extends FreeKind>(catalog: Catalog, kind: K, list: readonly FreeOf[K][]): Catalog {
  const { list: field } = FREE[kind]
  return list.length || kind === 'table' ? { ...catalog, [field]: list } : without(catalog, field)
}

/** The catalogue with one object that stands by itself replaced, added (none of its name yet) or removed (`undefined`). */
export function withFree<K extends FreeKind>(
  catalog: Catalog,
  kind: K,
  schema: string,
  name: string,
  object: FreeOf[K] | undefined
): Catalog {
  const old = objectsOf(catalog, kind)
  const known = findFree(catalog, kind, schema, name)
  if (!known) return object ? withObjects(catalog, kind, [...old, object]) : catalog
  return withObjects(
    catalog,
    kind,
    object ? old.map((other) => (other === known ? object : other)) : old.filter((other) => other !== known)
  )
}

/** The catalogue with one table replaced, added (no such table yet) or removed (`undefined`). */
export const withTable = (catalog: Catalog, schema: string, name: string, table: Table | undefined): Catalog =>
  withFree(catalog, 'table', schema, name, table)

/** The same catalogue without what is said of anything in it. */
export const withoutComments = (catalog: Catalog): Catalog =>
  JSON.parse(JSON.stringify(catalog, (key, value: unknown) => (key === 'comment' ? undefined : value))) as Catalog
