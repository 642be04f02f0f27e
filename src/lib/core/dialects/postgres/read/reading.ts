// What a script has made so far, where its names are looked for, and which names are taken.
import {
  addressKey,
  addressOf,
  emptyCatalog,
  freeAddress,
  isFree,
  isView,
  members,
  namesOf,
  Standing,
  standingOn,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change,
  type FreeKind,
  type FreeOf,
  type MemberKind,
  type MemberOf,
  type ObjectOf,
  type Relation,
  type Table,
  type View
} from '../../../catalog'
import { Cursor, NotUnderstood, type Lexis, type Token } from '../../../sql'
import type { Writer } from '../../dialect'
import { DEFAULT_SCHEMA } from '../profile'
import { reserved } from '../words'
import { asName, freeName } from './names'

const EXACT = { reserved }

/** What has a name that is one among all tables and the like of its schema: manual, 52.11 pg_class. */
const INDEXED: readonly MemberKind[] = ['primaryKey', 'unique', 'exclusion', 'index']
const NAMED: readonly MemberKind[] = ['primaryKey', 'unique', 'exclusion', 'check', 'foreignKey']
const RELATIONS: readonly FreeKind[] = ['table', 'view', 'sequence', 'type']

/** An index, or a key that has one, and where it stands. */
export interface Indexed extends Relation {
  readonly kind: MemberKind
}

export class Reading {
  standing: Standing
  readonly lexis: Lexis
  /** The schemas that a bare name is looked for in; the first gets what is made. */
  path: readonly string[] = [DEFAULT_SCHEMA]
  private taken: Taken | undefined
  /** Some table inherits from another, or is a part of it. */
  hasChildren = false
  /** What the catalogue has no place for. */
  readonly unread: { readonly kind: string; readonly name: string }[] = []

  constructor(
    readonly write: Writer,
    readonly version: number
  ) {
    const empty = emptyCatalog('postgres', DEFAULT_SCHEMA)
    this.standing = new Standing({ ...empty, schemas: [{ name: DEFAULT_SCHEMA }] }, write)
    this.lexis = { ...write.lexis, fold: (name, quoted) => asName(write.lexis.fold(name, quoted)) }
  }

  catalog = (): Catalog => ({ ...this.standing.catalog(), unread: this.unread })

  cursor = (sql: string, tokens?: readonly Token[]): Cursor => new Cursor(sql, this.lexis, EXACT, tokens)

  private remarks: string[] = []

  /** Something to say of the statement that is being read. */
  remark(sentence: string): void {
    this.remarks.push(sentence)
  }

  /** What there is to say of a statement, once it is read. */
  told(): string | undefined {
    const told = this.remarks.join(' ')
    this.remarks = []
    return told === '' ? undefined : told
  }

  // A statement is carried out whole or not at all: what it has touched so far, as it was.

  private touched = new Map<string, { readonly address: Address; readonly was: ObjectOf[FreeKind] | undefined }>()
  /** The catalogue before names or places changed. */
  private before: Catalog | undefined

  private remember({ kind, path }: Address): void {
    const homes: readonly FreeKind[] = isFree(kind) ? [kind] : ['table', 'view']
    for (const home of homes) {
      const address = { kind: home, path: isFree(kind) ? path : path.slice(0, 2) }
      const key = addressKey(address)
      if (this.touched.has(key)) continue
      this.touched.set(key, { address, was: this.standing.find(address) as ObjectOf[FreeKind] | undefined })
    }
  }

  /** The statement is done: what it did stays. */
  keep(): void {
    if (this.touched.size > 0) this.touched = new Map()
    this.before = undefined
  }

  /** The statement came to nothing: all is as it was before it. */
  undo(): void {
    const [touched, before] = [[...this.touched.values()], this.before]
    this.keep()
    this.remarks = []
    if (touched.length === 0 && !before) return
    if (before) this.standing = new Standing(before, this.write)
    for (const { address, was } of touched) {
      const now = this.standing.find(address)
      if (now === was) continue
      if (now) this.drop(address)
      if (was) this.create(address.kind as FreeKind, was)
    }
    this.taken = undefined
    this.keep()
  }

  // What is made, changed and taken away.

  apply(...changes: readonly Change[]): void {
    const touched = changes.some(({ action }) => action === 'rename')
    if (touched) this.before ??= this.standing.catalog()
    else for (const { address } of changes) this.remember(address)
    this.standing.apply(changes)
    if (touched) this.taken = undefined
    else for (const change of changes) this.taken?.take(change)
  }

  create<K extends FreeKind>(kind: K, value: FreeOf[K]): void {
    if (kind === 'table') this.hasChildren ||= 'inherits' in value || 'partition' in value
    this.apply({ action: 'create', address: freeAddress(kind, value), object: { kind, value } as CatalogObject })
  }

  add<K extends MemberKind>(home: Relation, kind: K, value: MemberOf[K]): void {
    const address = addressOf(kind, home.schema, home.name, value.name)
    this.apply({ action: 'create', address, object: { kind, value } as unknown as CatalogObject })
  }

  drop(address: Address): void {
    const value = this.standing.find(address)
    if (value)
      this.apply({ action: 'drop', address, object: { kind: address.kind, value } as unknown as CatalogObject })
  }

  set(address: Address, property: string, to: unknown): void {
    this.apply({ action: 'alter', address, property, from: undefined, to, certain: true })
  }

  rename(address: Address, to: string): void {
    this.apply({ action: 'rename', address, to })
  }

  /** Takes something that stands by itself to another schema, with all that names it by its place. */
  move(address: Address, to: string): void {
    this.schema(to)
    const { schema, name } = namesOf(address)
    if (this.standing.find({ ...address, path: [to, name] }))
      throw new NotUnderstood(`There is one of that name in ${to} already.`)
    this.mustBeUnnamed(address)
    this.before ??= this.standing.catalog()
    this.standing = new Standing(moved(this.standing.catalog(), address.kind, schema, name, to), this.write)
    this.taken = undefined
    if (address.kind === 'table') this.moveNumbers(to, name)
  }

  /** What names it by its text would have to be said anew. */
  private mustBeUnnamed(address: Address): void {
    const { schema, name } = namesOf(address)
    const catalog = this.standing.catalog()
    const users = standingOn(catalog)
    const table = address.kind === 'table' ? this.standing.table(schema, name) : undefined
    const columns = (table?.columns ?? []).map((column) => addressOf('column', schema, name, column.name))
    const by = [address, ...columns]
      .flatMap((place) => users(place))
      .find(({ kind }) => ['view', 'trigger', 'rule', 'policy', 'routine'].includes(kind))
    const inside = [...(table?.triggers ?? []), ...(table?.rules ?? []), ...(table?.policies ?? [])][0]
    const text = by ? namesOf(by).name : inside?.name
    if (text !== undefined)
      throw new NotUnderstood(`${text} names ${name} in its text: where it is from now on is not read.`)
  }

  /** The sequences of a table that moved go with it, and its defaults call them there. */
  private moveNumbers(schema: string, name: string): void {
    const { quote } = this.write
    const own = (this.standing.catalog().sequences ?? []).filter(
      ({ ownedBy }) => ownedBy?.schema === schema && ownedBy.table === name
    )
    for (const sequence of own) {
      this.move(freeAddress('sequence', sequence), schema)
      const { column } = sequence.ownedBy ?? { column: '' }
      const address = addressOf('column', schema, name, column)
      const preset = this.standing.member(address, 'column')?.default
      if (preset?.startsWith('nextval(') !== true) continue
      const place = (schema === DEFAULT_SCHEMA ? '' : `${quote(schema)}.`) + quote(sequence.name)
      this.set(address, 'default', `nextval('${place.replaceAll("'", "''")}'::regclass)`)
    }
  }

  /** A whole table, view, type … in the place of the one of its name. */
  replace<K extends FreeKind>(kind: K, value: FreeOf[K]): void {
    this.drop(freeAddress(kind, value))
    this.create(kind, value)
  }

  // Where a name leads.

  /** Where something of that name is made. */
  home(path: readonly string[]): { readonly schema: string; readonly name: string } {
    const name = path.at(-1) ?? ''
    const schema = path.at(-2) ?? this.path[0]
    if (name === '') throw new NotUnderstood('It has no name.')
    if (schema === undefined) throw new NotUnderstood(`In which schema ${name} is to be is not said.`)
    this.schema(schema)
    return { schema, name }
  }

  /** A schema that nothing has made is there all the same: a script may be a part of what makes a database. */
  private schema(name: string): void {
    if (!this.standing.free('schema', '', name)) this.create('schema', { name })
  }

  /** The schemas that a name is looked for in. */
  private within = (path: readonly string[]): readonly string[] => {
    const schema = path.at(-2)
    return schema === undefined ? this.path : [schema]
  }

  lookFor<K extends FreeKind>(kind: K, path: readonly string[]): FreeOf[K] | undefined {
    for (const schema of this.within(path)) {
      const found = this.standing.free(kind, schema, path.at(-1) ?? '')
      if (found) return found as FreeOf[K]
    }
    return undefined
  }

  relation(path: readonly string[]): Table | View | undefined {
    for (const schema of this.within(path)) {
      const found = this.standing.relation(schema, path.at(-1) ?? '')
      if (found) return found
    }
    return undefined
  }

  table(path: readonly string[]): Table {
    const found = this.relation(path)
    if (!found || isView(found)) throw new NotUnderstood(`There is no table ${path.join('.')}.`)
    return found
  }

  /** An index, or a key by its index. */
  indexed(path: readonly string[]): Indexed | undefined {
    const name = path.at(-1) ?? ''
    for (const schema of this.within(path)) {
      const found = this.names().indexes.get(key(schema, name))
      if (found) return found
    }
    return undefined
  }

  /** Functions, procedures and aggregates of a name. */
  routines(path: readonly string[]): readonly Address[] {
    const name = path.at(-1) ?? ''
    for (const schema of this.within(path)) {
      const found = this.names().routines.get(key(schema, name))
      if (found?.length) return found
    }
    return []
  }

  hasRoutines = (): boolean => this.names().routines.size > 0

  // Names that the server makes.

  /** A name for an index, key or sequence; `also`: names that are yet to be made. */
  relationName(schema: string, first: string, second: string, label: string, also: ReadonlySet<string> = NONE): string {
    const { constraints } = this.names()
    // A key's name is a constraint's too.
    const isKey = label === 'pkey' || label === 'key' || label === 'excl'
    const taken = (name: string) =>
      also.has(name) || this.isTaken(schema, name) || (isKey && constraints.has(key(schema, name)))
    return freeName(first, second, label, taken)
  }

  isTaken(schema: string, name: string): boolean {
    if (this.names().indexes.has(key(schema, name))) return true
    return RELATIONS.some((kind) => this.standing.free(kind, schema, name) !== undefined)
  }

  /** A name for a check or foreign key; `also`: names that are yet to be made. */
  constraintName(schema: string, first: string, second: string, label: string, also: ReadonlySet<string>): string {
    const { constraints } = this.names()
    return freeName(first, second, label, (name) => constraints.has(key(schema, name)) || also.has(name))
  }

  private names(): Taken {
    if (!this.taken) this.taken = new Taken(this.standing.catalog())
    return this.taken
  }
}

const NONE: ReadonlySet<string> = new Set()

const key = (schema: string, name: string): string => `${schema}\0${name}`

/** The bare name in a routine's own, which has its types: `twice(n integer)`. */
export function bareRoutine(name: string): string {
  const bare = name.startsWith('"') ? (/^"(?:[^"]|"")*"/.exec(name)?.[0] ?? name) : name.slice(0, name.indexOf('('))
  return bare.startsWith('"') ? bare.slice(1, -1).replaceAll('""', '"') : bare
}

/** A copy in which whatever is at a place is in another schema. Texts stay as they are. */
function moved<T>(value: T, kind: Address['kind'], schema: string, name: string, to: string): T {
  const isRelation = kind === 'table' || kind === 'view'
  const walk = (part: unknown): unknown => {
    if (Array.isArray(part)) return part.map(walk)
    if (typeof part !== 'object' || part === null) return part
    const object = Object.fromEntries(Object.entries(part).map(([key, inner]) => [key, walk(inner)])) as Record<
      string,
      unknown
    >
    const { path, schema: home, name: own, table } = object
    if (Array.isArray(path) && path[0] === schema && path[1] === name)
      return { ...object, path: [to, ...path.slice(1)] }
    if (home !== schema) return object
    const isIt = own === name || (isRelation && table === name)
    return isIt ? { ...object, schema: to } : object
  }
  return walk(value) as T
}

/** Names by the schema that they are in. */
class Taken {
  readonly indexes = new Map<string, Indexed>()
  readonly constraints = new Map<string, number>()
  readonly routines = new Map<string, Address[]>()

  constructor(catalog: Catalog) {
    for (const table of catalog.tables) this.home(table, true)
    for (const view of catalog.views ?? []) this.home(view, true)
    for (const routine of catalog.routines ?? []) this.routine(freeAddress('routine', routine), true)
  }

  take(change: Change): void {
    if (change.action !== 'create' && change.action !== 'drop') return
    const { address, object } = change
    const there = change.action === 'create'
    if (object.kind === 'table' || object.kind === 'view') this.home(object.value, there)
    else if (object.kind === 'routine') this.routine(address, there)
    else if (!isFree(object.kind)) {
      const { schema, table, name } = namesOf(address)
      this.member({ schema, name: table }, object.kind, name, there)
    }
  }

  private home(home: Table | View, there: boolean) {
    for (const kind of new Set([...INDEXED, ...NAMED]))
      for (const { name } of members(home, kind)) this.member(home, kind, name, there)
  }

  private member({ schema, name: home }: Relation, kind: MemberKind, name: string, there: boolean) {
    const place = key(schema, name)
    if (INDEXED.includes(kind)) {
      if (there) this.indexes.set(place, { kind, schema, name: home })
      else this.indexes.delete(place)
    }
    if (!NAMED.includes(kind)) return
    const count = (this.constraints.get(place) ?? 0) + (there ? 1 : -1)
    if (count > 0) this.constraints.set(place, count)
    else this.constraints.delete(place)
  }

  private routine(address: Address, there: boolean) {
    const { schema, name } = namesOf(address)
    const place = key(schema, bareRoutine(name))
    const others = (this.routines.get(place) ?? []).filter((other) => addressKey(other) !== addressKey(address))
    this.routines.set(place, there ? [...others, address] : others)
  }
}
