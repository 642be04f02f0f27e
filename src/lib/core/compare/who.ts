// Who changed what: each difference held against what both sides last agreed on.
import {
  FREE_KINDS,
  MEMBER_KINDS,
  PROPERTIES,
  find,
  members,
  objectsOf,
  propertyOf,
  renameIn,
  renamesOf,
  withMembers,
  namesOf,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change,
  type Kind,
  type Origin
} from '../catalog'
import type { Dialect } from '../dialects'
import { compareProperty } from './property'
import { displaced, match } from './match'

/** `not known`: the two sides have never agreed on this. */
export type Who = 'design' | 'database' | 'both' | 'not known'

export interface Difference {
  /** The same for the same difference, however often it is found. */
  readonly key: string
  readonly change: Change
  readonly who: Who
  /** What was last agreed: the value of an altered property, a whole object, or a name; nothing where it was not there. */
  readonly agreed: unknown
}

export const differenceKey = (change: Change): string => {
  const more = change.action === 'alter' ? change.property : change.action === 'rename' ? change.to : ''
  return [change.action, change.address.kind, ...change.address.path, more].map(encodeURIComponent).join('/')
}

interface Sides {
  readonly wanted: Catalog
  readonly live: Catalog
  readonly agreed?: Catalog | undefined
}

type Rename = Change & { action: 'rename' }

/** Each change with who made it. `renames` are those among the changes. */
export function attribute(changes: readonly Change[], sides: Sides, dialect: Dialect): Difference[] {
  if (changes.length === 0) return []
  const { wanted, live } = sides
  // In an empty database, all that differs is what the design has made.
  const agreed = sides.agreed ?? (live.tables.length === 0 ? { ...live, tables: [] } : undefined)
  if (!agreed)
    return changes.map((change) => ({ key: differenceKey(change), change, who: 'not known', agreed: undefined }))
  const renames = changes.filter((change): change is Rename => change.action === 'rename')
  // All three in the names that are wanted.
  const liveNamed = inWantedNames(live, renames, dialect)
  const agreedNamed = inWantedNames(agreed, match({ wanted, live: agreed, agreed }, dialect).renames, dialect)
  const madeFrom = byOrigin(agreed)
  const same = (a: CatalogObject | undefined, b: CatalogObject | undefined) => sameObject(a, b, dialect)

  const judge = (change: Change): Pick<Difference, 'who' | 'agreed'> => {
    const { address } = change
    switch (change.action) {
      case 'rename': {
        const was = madeFrom(change)?.value.name ?? nameIn(agreed, address)
        if (was === undefined) return { who: 'not known', agreed: undefined }
        return { who: was === namesOf(address).name ? 'design' : was === change.to ? 'database' : 'both', agreed: was }
      }
      case 'drop': {
        const was = objectAt(agreed, address)
        if (!was) return { who: 'database', agreed: undefined }
        return { who: same(was, change.object) ? 'design' : 'both', agreed: was.value }
      }
      case 'create': {
        const was = objectAt(agreedNamed, address)
        // What stands on a column that goes is dropped and made again: it is there on both sides.
        const now = objectAt(liveNamed, address)
        if (!was) return { who: now ? 'not known' : 'design', agreed: undefined }
        if (now) return { who: threeWay(same(was, change.object), same(was, now)), agreed: was.value }
        return { who: same(was, change.object) ? 'database' : 'both', agreed: was.value }
      }
      case 'alter': {
        const was = objectAt(agreedNamed, address)
        if (!was) return { who: 'not known', agreed: undefined }
        const value = propertyOf(was.value, change.property)
        const is = (other: unknown) => compareProperty(address.kind, change.property, value, other, dialect) === 'equal'
        return { who: threeWay(is(change.to), is(change.from)), agreed: value }
      }
    }
  }
  return changes.map((change) => ({ key: differenceKey(change), change, ...judge(change) }))
}

/** A catalogue after renames, without what only happens to have a name that something else is renamed to. */
function inWantedNames(catalog: Catalog, renames: readonly Rename[], dialect: Dialect): Catalog {
  const named = renameIn(catalog, renamesOf(renames), dialect.write)
  const isDisplaced = displaced(renames)
  const tables = named.tables.flatMap((table, i) => {
    const before = catalog.tables[i] ?? table
    if (isDisplaced('table', before, before.name, table.name)) return []
    return MEMBER_KINDS.reduce((result, kind) => {
      const old: readonly { readonly name: string }[] = members(before, kind)
      const kept = members(table, kind).filter(
        (member, n) => !isDisplaced(kind, before, old[n]?.name ?? '', member.name)
      )
      return withMembers(result, kind, kept as never)
    }, table)
  })
  return { ...named, tables }
}

function threeWay(designKept: boolean, databaseKept: boolean): Who {
  if (databaseKept) return 'design'
  return designKept ? 'database' : 'both'
}

function sameObject(a: CatalogObject | undefined, b: CatalogObject | undefined, dialect: Dialect): boolean {
  if (!a || !b || a.kind !== b.kind) return false
  const own = PROPERTIES[a.kind].every(
    (property) =>
      compareProperty(a.kind, property, propertyOf(a.value, property), propertyOf(b.value, property), dialect) ===
      'equal'
  )
  if (!own || a.kind !== 'table' || b.kind !== 'table') return own
  return MEMBER_KINDS.every((kind) => {
    const [left, right] = [members(a.value, kind), members(b.value, kind)]
    if (left.length !== right.length) return false
    return left.every((member) => {
      const other = right.find((candidate) => candidate.name === member.name)
      return sameObject(
        { kind, value: member } as CatalogObject,
        other && ({ kind, value: other } as CatalogObject),
        dialect
      )
    })
  })
}

/** The object that stands at an address. */
function objectAt(catalog: Catalog, address: Address): CatalogObject | undefined {
  const value = find(catalog, address)
  return value && ({ kind: address.kind, value } as CatalogObject)
}

const nameIn = (catalog: Catalog, address: Address) => objectAt(catalog, address)?.value.name

/** Objects by kind and by what they were made from. */
function byOrigin(agreed: Catalog): (change: Change) => CatalogObject | undefined {
  const found = new Map<string, CatalogObject>()
  const key = (kind: Kind, { id, part }: Origin) => JSON.stringify([kind, id, part])
  const add = (kind: Kind, value: { readonly origin?: Origin }) => {
    if (value.origin) found.set(key(kind, value.origin), { kind, value } as CatalogObject)
  }
  for (const kind of FREE_KINDS) for (const object of objectsOf(agreed, kind)) add(kind, object)
  for (const home of [...agreed.tables, ...(agreed.views ?? [])])
    for (const kind of MEMBER_KINDS) for (const member of members(home, kind)) add(kind, member)
  return ({ origin, address: { kind } }) => origin && found.get(key(kind, origin))
}
