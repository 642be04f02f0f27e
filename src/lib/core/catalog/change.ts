// Changes between catalogues and their algebra:
//   apply(changes, A) = B,   apply(invert(changes), B) = A   (up to the order of columns and of named things),
// for changes that `compare` found between A and B.
import { failed, ok, type Result } from '../notice'
import { isFree, KIND_WORDS, type ObjectOf } from './kinds'
import { renameIn, tableKey, type NameRule, type Renames } from './rename'
import type { Address, Catalog, FreeKind, Kind, MemberKind, MemberOf, Origin, Table, View } from './shapes'
import {
  addressKey,
  inTable,
  members,
  namesOf,
  nameWithin,
  objectsOf,
  renamedTo,
  withMembers,
  withObjects
} from './walk'

/** A whole object as it stands in a catalogue. */
export type CatalogObject = { [K in Kind]: { readonly kind: K; readonly value: ObjectOf[K] } }[Kind]

interface Placed {
  /** Where the object stands. After a run of renames, places are spoken of by their new names. */
  readonly address: Address
  readonly origin?: Origin
}

export type Change = Placed &
  (
    | { readonly action: 'create'; readonly object: CatalogObject }
    | { readonly action: 'drop'; readonly object: CatalogObject }
    | {
        readonly action: 'rename'
        readonly to: string
        /** Renames that follow one another in one turn are meant at once. */
        readonly turn?: number
      }
    | {
        readonly action: 'alter'
        readonly property: string
        readonly from: unknown
        readonly to: unknown
        /** False where two expressions could not be told apart for sure. */
        readonly certain: boolean
      }
  )

/** A change that meets nothing, or something where there should be nothing yet. */
export class Misfit extends Error {
  constructor(
    readonly change: Change,
    taken = change.action === 'create'
  ) {
    const { kind, path } = change.action === 'rename' && taken ? renamedTo(change.address, change.to) : change.address
    super(`There is ${taken ? 'already a' : 'no'} ${KIND_WORDS[kind]} ${path.join('.')}.`)
  }
}

/**
 * Applies changes in order. Renames that follow one another in one turn are meant at once, so that names may be swapped.
 * Throws a `Misfit` at a change that does not fit: for changes that were found between this catalogue and another.
 */
export function applied(changes: readonly Change[], catalog: Catalog, names: NameRule): Catalog {
  if (changes.length === 0) return catalog
  const standing = new Standing(catalog, names)
  standing.apply(changes)
  return standing.catalog()
}

/** The same for changes from somewhere else: none of them is applied where one does not fit, and that one is told. */
export function apply(changes: readonly Change[], catalog: Catalog, names: NameRule): Result<Catalog> {
  try {
    return ok(applied(changes, catalog, names))
  } catch (error) {
    if (error instanceof Misfit) return failed('change-not-fitting', error.message, error.change.address.path.join('.'))
    throw error
  }
}

/**
 * A catalogue that changes: what it holds is found by name, and a change costs what it changes. `catalog` writes it out as it
 * stands by then.
 */
export class Standing {
  private readonly lists = new Map<FreeKind, Map<string, ObjectOf[FreeKind]>>()
  constructor(
    private base: Catalog,
    private readonly names: NameRule
  ) {}

  apply(changes: readonly Change[]): void {
    for (let i = 0; i < changes.length;) {
      const run = renameRun(changes, i)
      if (run.length > 0) {
        this.checkNames(run)
        this.base = renameIn(this.catalog(), renamesOf(run), this.names)
        this.lists.clear()
        i += run.length
      } else {
        const change = changes[i++]
        if (change && change.action !== 'rename') this.make(change)
      }
    }
  }

  catalog(): Catalog {
    for (const [kind, list] of this.lists) this.base = withObjects(this.base, kind, [...list.values()] as never)
    return this.base
  }

  free<K extends FreeKind>(kind: K, schema: string, name: string): ObjectOf[K] | undefined {
    return this.list(kind).get(nameWithin(kind, schema, name)) as ObjectOf[K] | undefined
  }

  table(schema: string, name: string): Table | undefined {
    return this.free('table', schema, name)
  }

  relation(schema: string, name: string): Table | View | undefined {
    return this.free('table', schema, name) ?? this.free('view', schema, name)
  }

  member<K extends MemberKind>(address: Address, kind: K): MemberOf[K] | undefined {
    const { schema, table, name } = namesOf(address)
    const home = this.relation(schema, table)
    return home && members(home, kind).find((member) => member.name === name)
  }

  find(address: Address): ObjectOf[Kind] | undefined {
    const { kind, schema, name } = namesOf(address)
    return isFree(kind) ? this.free(kind, schema, name) : this.member(address, kind)
  }

  /** Every object of a run of renames is there, and nothing has its new name that keeps it. */
  private checkNames(run: readonly Rename[]): void {
    const leaving = new Set(run.map(({ address }) => addressKey(address)))
    for (const change of run) {
      if (!this.find(change.address)) throw new Misfit(change)
      const there = renamedTo(change.address, change.to)
      if (!leaving.has(addressKey(there)) && this.find(there)) throw new Misfit(change, true)
    }
  }

  private make(change: Exclude<Change, { action: 'rename' }>): void {
    const { kind } = change.address
    if (isFree(kind)) this.makeFree(kind, change)
    else this.makeMember(kind, change)
  }

  private list(kind: FreeKind): Map<string, ObjectOf[FreeKind]> {
    let list = this.lists.get(kind)
    if (!list) {
      const all: readonly ObjectOf[FreeKind][] = objectsOf(this.base, kind)
      list = new Map(all.map((object) => [placeWithin(kind, object), object]))
      this.lists.set(kind, list)
    }
    return list
  }

  private makeFree(kind: FreeKind, change: Exclude<Change, { action: 'rename' }>) {
    const { schema, name } = namesOf(change.address)
    const [list, key] = [this.list(kind), nameWithin(kind, schema, name)]
    const object = list.get(key)
    if (!!object === (change.action === 'create')) throw new Misfit(change)
    if (change.action === 'create') list.set(key, change.object.value as ObjectOf[FreeKind])
    else if (change.action === 'drop') list.delete(key)
    else if (object) list.set(key, withProperty(object, change.property, change.to))
  }

  private makeMember(kind: MemberKind, change: Exclude<Change, { action: 'rename' }>) {
    const { schema, table } = namesOf(change.address)
    for (const home of ['table', 'view'] as const) {
      const found = this.free(home, schema, table)
      if (!found) continue
      this.list(home).set(nameWithin(home, schema, table), changeMember(found, kind, change))
      return
    }
    throw new Misfit(change)
  }
}

const placeWithin = (kind: FreeKind, object: object): string =>
  nameWithin(kind, String(propertyOf(object, 'schema') ?? ''), String(propertyOf(object, 'name')))

/** One list that does what several do, one after the other: `apply(compose(a, b), A) = apply(b, apply(a, A))`. */
export function compose(...lists: readonly (readonly Change[])[]): Change[] {
  const result: Change[] = []
  for (const list of lists) {
    const last = result.at(-1)
    const leading = renameRun(list, 0).length
    for (const [i, change] of list.entries()) {
      const apart = i < leading && change.action === 'rename' && last?.action === 'rename'
      result.push(apart ? { ...change, turn: (last.turn ?? 0) + 1 } : change)
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

type Rename = Change & { action: 'rename' }

function renameRun(changes: readonly Change[], from: number): Rename[] {
  const run: Rename[] = []
  for (let i = from; i < changes.length; i++) {
    const change = changes[i]
    if (change?.action !== 'rename' || change.turn !== (run[0] ?? change).turn) break
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
      return { ...change, address: renamedTo(change.address, change.to), to: namesOf(change.address).name }
  }
}

/** Members are addressed in their table's old name going there, and in its new name coming back. */
function invertRenames(run: readonly Rename[]): Change[] {
  const tables = renamesOf(run).tables
  return run.map((change) => {
    const { schema, table, name } = namesOf(change.address)
    const now = inTable(change.address, tables.get(tableKey(schema, table)) ?? table)
    return { ...change, address: renamedTo(now, change.to), to: name }
  })
}

/** The new names in a list of changes, by what they rename. */
export function renamesOf(changes: readonly Change[]): Renames {
  const tables = new Map<string, string>()
  const inTables = new Map<string, Map<MemberKind, Map<string, string>>>()
  const others = new Map<string, string>()
  for (const change of changes) {
    if (change.action !== 'rename') continue
    const { kind, schema, table, name } = namesOf(change.address)
    const key = tableKey(schema, table)
    if (kind === 'table' || kind === 'view') {
      tables.set(key, change.to)
      continue
    }
    if (isFree(kind)) {
      others.set(addressKey(change.address), change.to)
      continue
    }
    const kinds = inTables.get(key) ?? new Map<MemberKind, Map<string, string>>()
    inTables.set(key, kinds.set(kind, (kinds.get(kind) ?? new Map<string, string>()).set(name, change.to)))
  }
  return { tables, members: inTables, others }
}

function changeMember<K extends MemberKind>(
  home: Table | View,
  kind: K,
  change: Exclude<Change, { action: 'rename' }>
): Table | View {
  const list = members(home, kind)
  const { name } = namesOf(change.address)
  if (list.some((member) => member.name === name) === (change.action === 'create')) throw new Misfit(change)
  if (change.action === 'create') return withMembers(home, kind, [...list, change.object.value as MemberOf[K]])
  if (change.action === 'drop')
    return withMembers(
      home,
      kind,
      list.filter((member) => member.name !== name)
    )
  return withMembers(
    home,
    kind,
    list.map((member) => (member.name === name ? withProperty(member, change.property, change.to) : member))
  )
}

/** A copy with one property set, or without it when the value is `undefined`. */
export function withProperty<T extends object>(object: T, property: string, value: unknown): T {
  if (value !== undefined) return { ...object, [property]: value }
  if (!(property in object)) return object
  const { [property as keyof T]: _gone, ...rest } = object
  return rest as T
}

/** One property of a catalogue object by name. */
export const propertyOf = (object: object, property: string): unknown => Reflect.get(object, property)
