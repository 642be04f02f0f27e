// Choosing a difference chooses what it needs: a foreign key brings its column, a column that goes takes along what
// stands on it. Where it is in doubt, more is brought rather than less: a plan of half a change would be refused.
import {
  CONSTRAINED,
  addressKey,
  find,
  findTable,
  foreignKeysTo,
  inTable,
  inversePairs,
  isWithin,
  isCarried,
  isFree,
  members,
  namesOf,
  refsOf,
  refsOfTable,
  sameSet,
  standingOn,
  tableKey,
  usersOfColumn,
  usesColumn,
  worksFrom,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change,
  type Column,
  type Constrained,
  type ForeignKey,
  type Kind,
  type MemberKind,
  type Ref,
  type Table
} from '../catalog'
import type { Dialect } from '../dialects'
import type { DocumentMove } from './documents'

export interface Closure {
  /** What was chosen and what it needs, in the order of all changes. */
  readonly changes: readonly Change[]
  /** What was not chosen but is needed, with the change that needs it. */
  readonly needed: ReadonlyMap<Change, Change>
}

export interface ClosureInput {
  readonly chosen: Iterable<Change>
  /** All differences between `live` and `wanted`, as `compare` found them. */
  readonly all: readonly Change[]
  readonly live: Catalog
  readonly wanted: Catalog
  /** Documents that come to be in others, or out of them: what they were in goes only with what they come to be in. */
  readonly moves?: readonly DocumentMove[]
}

/** The least set of changes that holds the chosen ones and can be carried out. `closure(closure(x)) = closure(x)`. */
export function closure(input: ClosureInput, dialect: Dialect): Closure {
  const needs = new Needs(input, dialect)
  const taken = new Set(input.chosen)
  const needed = new Map<Change, Change>()
  const queue = [...taken]
  for (let change = queue.pop(); change; change = queue.pop())
    for (const other of needs.of(change))
      if (!taken.has(other)) {
        taken.add(other)
        needed.set(other, change)
        queue.push(other)
      }
  return { changes: input.all.filter((change) => taken.has(change)), needed }
}

/** The same for changes that are taken into the design: what the design can follow only together. */
export function closureOfTaking({ chosen, all, live, wanted }: ClosureInput, dialect: Dialect): Closure {
  const pairs = inversePairs(all)
  const inverse = new Map(pairs.map((pair) => [pair.change, pair.inverse]))
  const forward = new Map(pairs.map((pair) => [pair.inverse, pair.change]))
  const turned = (change: Change, map: ReadonlyMap<Change, Change>) => map.get(change) ?? change
  const found = closure(
    {
      chosen: [...chosen].map((change) => turned(change, inverse)),
      all: pairs.map((pair) => pair.inverse),
      live: wanted,
      wanted: live
    },
    dialect
  )
  const taken = new Set(found.changes.map((change) => turned(change, forward)))
  return {
    changes: all.filter((change) => taken.has(change)),
    needed: new Map([...found.needed].map(([a, b]) => [turned(a, forward), turned(b, forward)]))
  }
}

const isSamePlace = (a: Address, b: Address): boolean => addressKey(a) === addressKey(b)

type Of<A extends Change['action']> = Change & { action: A }
const constrained: readonly Constrained[] = [...CONSTRAINED].reverse()
const keys: readonly Constrained[] = ['primaryKey', 'unique', 'index']
/** Properties of a column that an engine sets together or not at all. */
const tied = new Set(['type', 'default', 'identity', 'generated', 'virtual', 'collation'])

class Needs {
  /** Changes by the table they are about, in the live names and in the wanted ones. */
  private readonly byLive = new Map<string, Change[]>()
  private readonly byWanted = new Map<string, Change[]>()
  private readonly byPlace = new Map<string, Change[]>()
  /** Changes that let go of a name. */
  private readonly leaving: readonly (Of<'drop'> | Of<'rename'>)[]
  /** Names of tables: wanted → live, and live → wanted. */
  private readonly oldNames = new Map<string, string>()
  private readonly newNames = new Map<string, string>()
  /** Who stands on what, in the live database. */
  private users: ReturnType<typeof standingOn> | undefined

  constructor(
    private readonly input: ClosureInput,
    private readonly dialect: Dialect
  ) {
    this.leaving = input.all.filter((c): c is Of<'drop'> | Of<'rename'> => c.action === 'drop' || c.action === 'rename')
    for (const change of this.leaving) {
      if (change.action !== 'rename' || change.address.kind !== 'table') continue
      const { schema, name } = namesOf(change.address)
      this.oldNames.set(tableKey(schema, change.to), name)
      this.newNames.set(tableKey(schema, name), change.to)
    }
    for (const change of input.all) {
      push(this.byPlace, addressKey(change.address), change)
      const { schema, table } = namesOf(change.address)
      const before = change.action === 'drop' || change.action === 'rename'
      push(this.byLive, tableKey(schema, before ? table : this.liveTable(schema, table)), change)
      push(this.byWanted, tableKey(schema, before ? this.wantedTable(schema, table) : table), change)
    }
  }

  *of(change: Change): Iterable<Change> {
    const { address } = change
    yield* this.carriedNeeds(change)
    yield* this.movedAlong(change)
    if (isCarried(address.kind)) return
    if (address.kind === 'primaryKey' && change.action !== 'rename' && !isComment(change)) yield* this.numbering(change)
    switch (change.action) {
      case 'rename':
        yield* this.freeing(change.to, change)
        return
      case 'drop':
        if (address.kind === 'table') yield* this.foreignKeysTo(namesOf(address).schema, namesOf(address).table)
        else yield* this.goneWith(change)
        return
      case 'create':
        yield* this.freeing(namesOf(address).name, change)
        if (change.object.kind === 'table') {
          const table = change.object.value
          for (const kind of constrained.filter((kind) => this.isNamedInSchema(kind)))
            for (const { name } of members(table, kind)) yield* this.freeing(name, change)
          yield* this.needsOfTable(table)
        } else {
          yield* this.naming(address)
          yield* this.needsOfMember(this.wanted(address), change.object)
          if (change.object.kind === 'column' && change.object.value.identity) yield* this.keyChanges(address)
        }
        return
      case 'alter':
        yield* this.naming(address)
        // Half of what changes of an index may make another kind of thing of it: one without a comment is a unique rule.
        if (address.kind === 'index') for (const other of this.at(address)) if (other.action === 'alter') yield other
        yield* this.needsOfAlter(change)
    }
  }

  /** What documents are moved out of goes with what they come to be in, and all that they bring. */
  private *movedAlong(change: Change): Iterable<Change> {
    for (const { source, target } of this.input.moves ?? []) {
      const isSource = change.action === 'drop' && isSamePlace(change.address, source)
      if (!isSource && !(change.action === 'create' && isSamePlace(change.address, target))) continue
      for (const other of this.at(target)) if (other.action === 'create') yield other
      const { schema, table, name } = namesOf(target)
      if (target.kind !== 'column') continue
      for (const other of this.around(schema, table))
        if (other.action === 'create' && other.address.kind === 'column' && isWithin(namesOf(other.address).name, name))
          yield other
    }
  }

  /** What a thing names must be there first; what names a thing that goes, goes or changes before it. */
  private *carriedNeeds(change: Change): Iterable<Change> {
    const { address } = change
    if (change.action === 'rename') return
    if (change.action === 'drop') {
      for (const user of this.usersOf(address)) yield* this.goingAt(user)
      if (address.kind === 'schema')
        for (const other of this.leaving)
          if (other.action === 'drop' && namesOf(other.address).schema === address.path[0]) yield other
      return
    }
    if (isCarried(address.kind)) {
      yield* this.naming(address)
      // A form is made again as a whole.
      for (const other of this.at(address)) if (other !== change && !isComment(other)) yield other
    }
    const object = find(this.input.wanted, address)
    if (!object) return
    const refs: readonly Ref[] = address.kind === 'table' ? refsOfTable(object as Table) : refsOf(address.kind, object)
    for (const { to } of refs) {
      for (const other of this.at(to)) if (other.action === 'create') yield other
      const { schema, table } = namesOf(to)
      if (to.path.length > 2)
        for (const kind of ['table', 'view'] as const)
          for (const other of this.at({ kind, path: [schema, table] })) if (other.action === 'create') yield other
    }
    const [schema] = address.path
    if (schema !== undefined && address.path.length > 1)
      for (const other of this.at({ kind: 'schema', path: [schema] })) if (other.action === 'create') yield other
  }

  /** What changes of an object that stands on something that goes: itself, or with the table or view that it is in. */
  private *goingAt(address: Address): Iterable<Change> {
    yield* this.at(address)
    const { schema, table } = namesOf(address)
    if (address.path.length > 2)
      for (const kind of ['table', 'view'] as const)
        for (const other of this.at({ kind, path: [schema, table] })) if (other.action === 'drop') yield other
  }

  private at = (address: Address): readonly Change[] => this.byPlace.get(addressKey(address)) ?? []

  private usersOf(address: Address): readonly Address[] {
    this.users ??= standingOn(this.input.live)
    return this.users(address)
  }

  private liveTable = (schema: string, table: string) => this.oldNames.get(tableKey(schema, table)) ?? table
  private wantedTable = (schema: string, table: string) => this.newNames.get(tableKey(schema, table)) ?? table

  private wanted = (address: Address) => findTable(this.input.wanted, namesOf(address).schema, namesOf(address).table)
  private around = (schema: string, table: string) => this.byWanted.get(tableKey(schema, table)) ?? []

  /** What gives a place its wanted name: it cannot be spoken of before. */
  private *naming(address: Address): Iterable<Change> {
    const { kind, schema, table, name } = namesOf(address)
    for (const other of this.around(schema, table)) {
      if (other.action === 'rename' && other.address.kind === 'table') yield other
      if (other.action === 'rename' && other.address.kind === kind && other.to === name) yield other
      if (other.action === 'create' && other.address.kind === 'table') yield other
    }
  }

  /** What holds a name that is wanted for something else. */
  private *freeing(name: string, by: Change): Iterable<Change> {
    const { schema, table, kind } = namesOf(by.address)
    if (isCarried(kind)) return
    const withinTable = kind !== 'table' && !this.isNamedInSchema(kind)
    const others: readonly Change[] = withinTable
      ? (this.byLive.get(tableKey(schema, by.action === 'rename' ? table : this.liveTable(schema, table))) ?? [])
      : this.leaving
    for (const other of others) {
      if (other === by || (other.action !== 'drop' && other.action !== 'rename')) continue
      if (namesOf(other.address).schema !== schema || isCarried(other.address.kind)) continue
      const columns = (kind === 'column') === (other.address.kind === 'column')
      if (columns && (namesOf(other.address).name === name || this.holdsName(other, name))) yield other
    }
  }

  /** Whether a name stands once in a schema: what an exclusion makes is an index. */
  private isNamedInSchema = (kind: Kind): boolean =>
    kind === 'exclusion' || (this.dialect.profile.features.namesInSchema as readonly Kind[]).includes(kind)

  /** A table that goes lets go of the names of its keys and indexes. */
  private holdsName(other: Change, name: string): boolean {
    if (other.action !== 'drop' || other.object.kind !== 'table') return false
    const table = other.object.value
    return constrained.some((kind) => members(table, kind).some((member) => member.name === name))
  }

  private *needsOfTable(table: Table): Iterable<Change> {
    for (const fk of table.foreignKeys) yield* this.needsOfForeignKey(table, fk)
  }

  private *needsOfMember(table: Table | undefined, object: CatalogObject): Iterable<Change> {
    if (!table || isFree(object.kind) || isCarried(object.kind)) return
    if (object.kind === 'column') {
      yield* this.needsOfComputed(table, object.value)
      return
    }
    yield* this.changesOfColumnsUsed(table, object.kind as MemberKind, object.value)
    // What an action may change must not be checked: neither can come before the other lets go.
    if (this.dialect.profile.features.actionsBarChecks)
      for (const other of this.around(table.schema, table.name)) {
        if (object.kind === 'check' && isAction(other)) yield other
        if (object.kind === 'foreignKey' && lessensCheck(other)) yield other
      }
    // There is one primary key at a time.
    if (object.kind === 'primaryKey')
      for (const other of this.around(table.schema, table.name))
        if (other.action === 'drop' && other.address.kind === 'primaryKey') yield other
    if (object.kind === 'foreignKey') yield* this.needsOfForeignKey(table, object.value)
  }

  private *needsOfComputed(table: Table, column: Column): Iterable<Change> {
    if (column.generated === undefined) return
    yield* this.changesOfColumnsUsed(table, 'column', column)
  }

  private *changesOfColumnsUsed(table: Table, kind: MemberKind, member: { readonly name: string }): Iterable<Change> {
    for (const change of this.around(table.schema, table.name))
      if (change.address.kind === 'column' && change.action !== 'drop' && !isComment(change)) {
        const name = change.action === 'rename' ? change.to : namesOf(change.address).name
        if (usesColumn(kind, member as never, name, this.dialect.write.lexis)) yield change
      }
  }

  private *needsOfForeignKey(table: Table, fk: ForeignKey): Iterable<Change> {
    yield* this.changesOfColumnsUsed(table, 'foreignKey', fk)
    const { schema, table: parent, columns } = fk.references
    for (const change of this.around(schema, parent)) {
      if (change.address.kind === 'table' && (change.action === 'create' || change.action === 'rename')) yield change
      const name = change.action === 'rename' ? change.to : namesOf(change.address).name
      if (change.address.kind === 'column' && change.action !== 'drop' && columns.includes(name) && !isComment(change))
        yield change
      if (this.makesKey(change, columns)) yield change
    }
  }

  private makesKey(change: Change, columns: readonly string[]): boolean {
    if (!(keys as readonly string[]).includes(change.address.kind)) return false
    if (change.action === 'alter') return !isComment(change)
    if (change.action !== 'create') return false
    return sameSet(columnsOf(change.object), columns)
  }

  /** What stands on a column, key or index that goes, and its new form where it has one. */
  private *goneWith(change: Of<'drop'>): Iterable<Change> {
    const { address, object } = change
    const table = findTable(this.input.live, namesOf(address).schema, namesOf(address).table)
    if (!table) return
    const own = this.byLive.get(tableKey(namesOf(address).schema, namesOf(address).table)) ?? []
    if (address.kind === 'column') {
      for (const inner of usersOfColumn(this.input.live, table, namesOf(address).name, this.dialect.write.lexis)) {
        const { schema, name } = inner.table
        yield* this.changesOf(this.byLive.get(tableKey(schema, name)) ?? [], inner.kind, inner.member.name)
      }
      // No engine keeps a table without columns.
      const stays = table.columns.some(
        (c) =>
          !own.some((o) => o.action === 'drop' && o.address.kind === 'column' && namesOf(o.address).name === c.name)
      )
      if (!stays) for (const other of own) if (other.action === 'create' && other.address.kind === 'column') yield other
      return
    }
    // Taken away to be made again.
    for (const other of own)
      if (
        other.action === 'create' &&
        other.address.kind === address.kind &&
        namesOf(other.address).name === namesOf(address).name
      )
        yield other
    if ((keys as readonly string[]).includes(address.kind)) yield* this.standingOnKey(address, columnsOf(object))
  }

  /** A foreign key stands on a key: with the key goes the foreign key, or another key comes. */
  private *standingOnKey(address: Address, columns?: readonly string[]): Iterable<Change> {
    yield* this.foreignKeysTo(namesOf(address).schema, namesOf(address).table, columns)
    const wanted = this.wantedTable(namesOf(address).schema, namesOf(address).table)
    for (const other of this.around(namesOf(address).schema, wanted))
      if (other.action === 'create' && (keys as readonly string[]).includes(other.address.kind)) yield other
  }

  /** Changes of a live key, check or index; those that alter it speak of it by its new name. */
  private *changesOf(own: readonly Change[], kind: MemberKind, name: string): Iterable<Change> {
    const renamed = own.find(
      (c): c is Of<'rename'> => c.action === 'rename' && c.address.kind === kind && namesOf(c.address).name === name
    )
    for (const other of own)
      if (other.address.kind === kind && other.action !== 'rename' && !isComment(other)) {
        const now = other.action === 'drop' ? name : (renamed?.to ?? name)
        if (namesOf(other.address).name === now) yield other
      }
  }

  /** Several engines number only what is a key: what is numbered changes with the key. */
  private *numbering({ action, address }: Change): Iterable<Change> {
    const table =
      action === 'drop' ? this.wantedTable(namesOf(address).schema, namesOf(address).table) : namesOf(address).table
    for (const other of this.around(namesOf(address).schema, table))
      if (other.action === 'alter' ? other.property === 'identity' : isNumbered(other)) yield other
  }

  private *keyChanges(address: Address): Iterable<Change> {
    const { schema, table } = namesOf(address)
    for (const other of this.around(schema, table))
      if (other.address.kind === 'primaryKey' && other.action !== 'rename' && !isComment(other)) yield other
  }

  private liveColumn(address: Address): string {
    const { schema, table, name } = namesOf(address)
    const own = this.around(schema, table)
    const renamed = own.find((c) => c.action === 'rename' && c.address.kind === 'column' && c.to === name)
    return renamed ? namesOf(renamed.address).name : name
  }

  /** Changes of the live foreign keys that go to a table, or to some of its columns. */
  private *foreignKeysTo(schema: string, table: string, columns?: readonly string[]): Iterable<Change> {
    for (const { child, fk } of foreignKeysTo(this.input.live, schema, table)) {
      if (columns && !columns.some((column) => fk.references.columns.includes(column))) continue
      const own = this.byLive.get(tableKey(child.schema, child.name)) ?? []
      yield* this.changesOf(own, 'foreignKey', fk.name)
      const gone = own.find((other) => other.action === 'drop' && other.address.kind === 'table')
      if (gone) yield gone
    }
  }

  private *needsOfAlter(change: Of<'alter'>): Iterable<Change> {
    const { address, property } = change
    const { kind, schema, table: home, name } = namesOf(address)
    if (property === 'comment' || isFree(kind)) return
    const table = this.wanted(address)
    if (!table) return
    const own = this.around(schema, home)
    if (kind !== 'column') {
      // All of a key, check or index is made again at once.
      for (const other of own)
        if (other.action === 'alter' && addressKey(other.address) === addressKey(address)) yield other
      const member = members(table, kind).find((m) => m.name === name)
      if (member) yield* this.needsOfMember(table, { kind, value: member } as CatalogObject)
      if ((keys as readonly MemberKind[]).includes(kind))
        yield* this.standingOnKey(inTable(address, this.liveTable(schema, home)))
      return
    }
    for (const other of own) {
      if (other === change) continue
      const same =
        other.address.kind === 'column' &&
        namesOf(other.address).name === namesOf(address).name &&
        other.action === 'alter'
      if (same && !isComment(other) && (tied.has(property) || tied.has(other.property))) yield other
      if (other.address.kind === 'table' || isComment(other)) continue
      if (property === 'nullable' && other.address.kind !== 'primaryKey') continue
      const name = other.action === 'drop' ? this.liveColumn(address) : namesOf(address).name
      if (this.speaksOf(other, name)) yield other
    }
    if (property === 'type') yield* this.pairedTypes(address)
    const column = table.columns.find((c) => c.name === namesOf(address).name)
    if (column && tied.has(property)) yield* this.needsOfComputed(table, column)
  }

  /** Whether a changed key, check or index uses a column (by its wanted name), as it was or as it will be. */
  private speaksOf(other: Change, column: string): boolean {
    const { kind, name } = namesOf(other.address)
    if (isFree(kind) || isCarried(kind) || other.action === 'rename') return false
    if (kind === 'column') return this.worksFrom(other, column)
    const uses = (member: object) => usesColumn(kind, member as never, column, this.dialect.write.lexis)
    if (other.action === 'create' || other.action === 'drop') return uses(other.object.value)
    const table = this.wanted(other.address)
    const member = table && members(table, kind).find((m) => m.name === name)
    return (member !== undefined && uses(member)) || uses({ name: '', [other.property]: other.from })
  }

  /** Whether a changed column is worked out from another, as it was or as it will be. */
  private worksFrom(other: Exclude<Change, { action: 'rename' }>, column: string): boolean {
    const forms =
      other.action === 'alter'
        ? other.property === 'generated'
          ? [other.from, other.to]
          : []
        : [(other.object.value as Partial<Column>).generated]
    return forms.some((generated) =>
      worksFrom({ generated: generated as string } as Column, column, this.dialect.write.lexis)
    )
  }

  /** Both ends of a foreign key change their types together. */
  private *pairedTypes(address: Address): Iterable<Change> {
    const { schema, table, name } = namesOf(address)
    for (const { columns, references } of this.wanted(address)?.foreignKeys ?? [])
      for (const [i, column] of columns.entries())
        if (column === name) yield* this.typeChanges(references.schema, references.table, references.columns[i])
    for (const { child, fk } of foreignKeysTo(this.input.wanted, schema, table))
      for (const [i, column] of fk.references.columns.entries()) {
        if (column !== name) continue
        yield* this.typeChanges(child.schema, child.name, fk.columns[i])
        yield* this.around(child.schema, child.name).filter(
          (c) => c.address.kind === 'foreignKey' && namesOf(c.address).name === fk.name && !isComment(c)
        )
      }
    // A foreign key that goes, or goes elsewhere, holds its columns until then.
    const [live, column] = [this.liveTable(schema, table), this.liveColumn(address)]
    yield* this.foreignKeysTo(schema, live, [column])
    for (const fk of findTable(this.input.live, schema, live)?.foreignKeys ?? [])
      if (fk.columns.includes(column))
        yield* this.changesOf(this.byLive.get(tableKey(schema, live)) ?? [], 'foreignKey', fk.name)
  }

  private *typeChanges(schema: string, table: string, column: string | undefined): Iterable<Change> {
    for (const change of this.around(schema, table))
      if (change.action === 'alter' && change.property === 'type' && namesOf(change.address).name === column)
        yield change
  }
}

const isAction = (change: Change) =>
  change.action === 'alter' && (change.property === 'onUpdate' || change.property === 'onDelete')

const lessensCheck = (change: Change) =>
  change.address.kind === 'check' && (change.action === 'drop' || (change.action === 'alter' && !isComment(change)))

const isNumbered = (change: Change) =>
  change.action === 'drop' && change.object.kind === 'column' && change.object.value.identity !== undefined

const isComment = (change: Change) => change.action === 'alter' && change.property === 'comment'

const columnsOf = (object: CatalogObject): readonly string[] =>
  object.kind === 'primaryKey' || object.kind === 'unique'
    ? object.value.columns
    : object.kind === 'index'
      ? object.value.parts.flatMap((part) => part.column ?? [])
      : []

function push(map: Map<string, Change[]>, key: string, change: Change) {
  const list = map.get(key)
  if (list) list.push(change)
  else map.set(key, [change])
}
