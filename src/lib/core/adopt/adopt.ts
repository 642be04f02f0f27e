// A whole catalogue as a design and a target that wants just what is there: what a design can say, for every engine; what is
// this engine's own, as departures of the target; what no design says, beside it. The law: the target's catalogue is the one
// that was adopted.
import {
  applied,
  findTable,
  KINDS,
  madeFrom,
  MEMBER_KINDS,
  members,
  propertyOf,
  sameValue,
  tableKey,
  type Catalog,
  type Change,
  type ForeignKey,
  type Kind,
  type Origin,
  type Relation,
  type Table
} from '../catalog'
import { compare, inScope } from '../compare'
import { derive } from '../derive'
import {
  IDENTIFIER,
  Draft,
  edit,
  Names,
  newDesign,
  newTarget,
  type Departure,
  type Design,
  type Edit,
  type Entity,
  type Ignored,
  type Link,
  type Target
} from '../design'
import type { Dialect } from '../dialects'
import type { Abbreviations } from '../naming'
import { asManyToMany } from './between'
import { Domains, type ColumnGroup } from './domains'
import { entityOf, linkOf, linkSays, roleOf, withoutGiven, type KeyColumn } from './entity'
import { identifierOf, numberedKey, usualKind } from './identifier'
import { asSubtypes } from './special'
import { callsOwn, neutralAttribute, plainly } from './neutral'
import { takeHere } from './take'

export interface Adopted {
  readonly design: Design
  /** The design's only target: where it came from. */
  readonly target: Target
  /** What neither says: changes that would be needed for the target to want what is there. */
  readonly left: readonly Change[]
}

interface Adopting {
  /** What the design is called. */
  readonly name: string
  /** What the target is called. */
  readonly target: string
  /** What the design says beyond what is there: links, keys and indexes that somebody accepted. The target does without. */
  readonly also?: readonly Change[]
  /** Columns that are of one domain, beside those that the database itself has so. */
  readonly domains?: readonly ColumnGroup[]
  /** Tables that are many-to-many links, as far as a link says all of them. */
  readonly between?: readonly Relation[]
  /** Tables that are subtypes of another one, as far as that says all of how they are linked. */
  readonly special?: readonly { readonly parent: Relation; readonly tables: readonly Relation[] }[]
  /** Short words that names are made of, and what people say for them. */
  readonly abbreviations?: Abbreviations
  /** What is not brought in; the target does not compare it. */
  readonly ignored?: readonly Ignored[]
}

export function adopt(whole: Catalog, dialect: Dialect, adopting: Adopting): Adopted {
  const { name, target: called, also = [], domains = [], abbreviations = {}, ignored = [] } = adopting
  const catalog = inScope(whole, ignored)
  const said = withoutGiven(applied(also, catalog, dialect.write), dialect)
  const made = designOf(said, dialect, named(name, abbreviations), domains)
  const design = withShapes(made, adopting, dialect)
  const { id, versions, version } = dialect.profile
  const known = catalog.serverVersion && versions.find((v) => isOf(catalog.serverVersion ?? '', v))
  let target = newTarget(called, {
    engine: id,
    version: known ?? version,
    connection: 'none',
    ...(ignored.length ? { ignored: [...ignored] } : {})
  })
  const given = derive(design, target, dialect).catalog
  let wanted = given
  let left = differences(catalog, wanted, dialect)
  // What departs may bring something else with it: until nothing more comes of it.
  for (let round = 0; round < ROUNDS && left.length > 0; round++) {
    const { edit } = takeHere({ target, changes: left })
    if (edit.kind === 'object.set' && edit.collection === 'targets') target = edit.object
    const before = left.length
    wanted = derive(design, target, dialect).catalog
    left = differences(catalog, wanted, dialect)
    if (left.length >= before) break
  }
  target = { ...target, departures: asLongAs([...(target.departures ?? []), ...unsaid(catalog, wanted)], given) }
  return { design: { ...design, targets: { [target.id]: target } }, target, left }
}

/** With many-to-many links in the place of the tables that are such, and with subtypes. */
function withShapes(
  design: Design,
  { between = [], special = [] }: Pick<Adopting, 'between' | 'special'>,
  dialect: Dialect
): Design {
  if (between.length + special.length === 0) return design
  const { tables } = derive(design, { subtypeTables: {}, schemas: {} }, dialect).catalog
  const origins = new Map(tables.map(({ schema, name, origin }) => [tableKey(schema, name), origin?.id]))
  const at = ({ schema, name }: Relation) => origins.get(tableKey(schema, name)) ?? ''
  // All of them are told by the design as it was read, and made as one edit: each alone would cost the whole design.
  const pairs = new Set<string>()
  const isFirst = (change: Edit) => {
    const link = change.kind === 'all' ? change.edits.find((one) => one.kind === 'link.add') : undefined
    if (!link) return true
    const pair = [link.link.parent, link.link.child].sort().join()
    return !pairs.has(pair) && pairs.add(pair) !== undefined
  }
  const changes = [
    ...between.flatMap((table) => asManyToMany(design, at(table)) ?? []),
    ...special.flatMap(({ parent, tables }) => asSubtypes(design, at(parent), tables.map(at)) ?? [])
  ]
  // A second link between the same two is told apart from the first, and is made behind it.
  const once = edit(design, { kind: 'all', edits: changes.filter(isFirst) })
  const places = between.map(at).filter((id) => once.entities[id])
  return places.reduce((now, id) => {
    const change = asManyToMany(now, id)
    return change ? edit(now, change) : now
  }, once)
}

/** What is there in other words, and what is kept of objects and is no difference, as a table that somebody has written. */
function unsaid(catalog: Catalog, wanted: Catalog): Departure[] {
  const departures: Departure[] = []
  const keep = (kind: Kind, object: { readonly origin?: Origin }, there: object) => {
    const { origin } = object
    if (!origin) return
    const { properties, silent = [] } = KINDS[kind]
    for (const property of [...properties, ...silent]) {
      const value = propertyOf(there, property)
      if (!sameValue(propertyOf(object, property), value))
        departures.push({ ...origin, property, ...(value === undefined ? {} : { value }) })
    }
  }
  for (const table of wanted.tables) {
    const there = findTable(catalog, table.schema, table.name)
    if (!there) continue
    keep('table', table, there)
    for (const kind of MEMBER_KINDS) {
      const live = new Map(members(there, kind).map((member) => [member.name, member]))
      for (const member of members(table, kind) as readonly { readonly name: string; readonly origin?: Origin }[]) {
        const other = live.get(member.name)
        if (other) keep(kind, member, other)
      }
    }
  }
  return departures
}

/** How this engine has what the design gives, for as long as it gives that: the design comes first. */
function asLongAs(departures: readonly Departure[], given: Catalog): Departure[] {
  const made = madeFrom(given)
  return departures.map((departure) => {
    const found = made(departure)
    if (!found || 'absent' in departure) return departure
    const value = propertyOf(found.object.value, departure.property)
    return { ...departure, instead: value === undefined ? {} : { value } }
  })
}

const ROUNDS = 4

const isOf = (server: string, version: string) => server === version || server.startsWith(`${version}.`)

/** What is wanted otherwise than it is there, in all that either says. */
const differences = (live: Catalog, { partial: _partial, ...wanted }: Catalog, dialect: Dialect): readonly Change[] =>
  compare({ wanted, live }, dialect).changes

function named(name: string, abbreviations: Abbreviations): Design {
  const design = newDesign(name)
  return Object.keys(abbreviations).length > 0 ? { ...design, settings: { ...design.settings, abbreviations } } : design
}

/** All that a design can say of a catalogue, for any engine. */
function designOf(catalog: Catalog, dialect: Dialect, empty: Design, groups: readonly ColumnGroup[]): Design {
  const draft = new Draft(empty)
  const usual = usualKind(catalog, dialect)
  if (usual === 'integer' || usual === 'big') draft.set({ settings: { ...draft.now.settings, identifier: usual } })
  const names = new Names()
  const domains = new Domains(catalog, { dialect, settings: draft.now.settings }, draft, groups)
  const made = new Map<string, Made>()
  for (const table of catalog.tables) {
    const home = madeOf(table, { catalog, dialect, names, domains, design: draft.now })
    made.set(tableKey(table.schema, table.name), home)
    draft.put('entities', home.entity)
  }
  for (const table of catalog.tables) for (const fk of table.foreignKeys) addLink(fk, table, { made, draft, dialect })
  return draft.done()
}

interface Made {
  readonly table: Table
  readonly entity: Entity
  readonly rows: ReadonlyMap<string, string>
  /** The parent's key columns by name, as a link finds them. */
  readonly keyColumn: (column: string) => KeyColumn | undefined
}

interface Making {
  readonly catalog: Catalog
  readonly dialect: Dialect
  readonly names: Names
  readonly domains: Domains
  readonly design: Design
}

function madeOf(table: Table, { catalog, dialect, names, domains, design }: Making): Made {
  const numbered = numberedKey(table, catalog)
  const identifier = numbered && identifierOf(numbered, design, dialect)
  // How this engine says a rule is for its target to say.
  const checks = table.checks
    .filter((check) => !callsOwn(check))
    .map((check) => ({ ...check, expression: plainly(check.expression, dialect) }))
  const { entity, rows } = entityOf(
    { ...table, checks },
    {
      dialect,
      settings: design.settings,
      attribute: (column, called) => {
        const plain = neutralAttribute(column, catalog, { dialect, settings: design.settings }, called)
        const attribute = domains.joined(table, column, plain)
        // What tells rows apart is there, but for engines that make an exception.
        return table.primaryKey?.columns.includes(column.name) ? { ...attribute, required: true } : attribute
      },
      names,
      identifier
    }
  )
  const attributes = new Map(entity.attributes.map((attribute) => [attribute.id, attribute]))
  const keyColumn = (column: string): KeyColumn | undefined => {
    if (column === identifier?.column.name) return { path: IDENTIFIER, dbName: column, type: { kind: identifier.kind } }
    const attribute = attributes.get(rows.get(column) ?? '')
    return attribute && { path: attribute.id, dbName: column, type: attribute.type }
  }
  return { table, entity, rows, keyColumn }
}

interface Linking {
  readonly made: ReadonlyMap<string, Made>
  readonly draft: Draft
  readonly dialect: Dialect
}

/** The link for a foreign key; none where the design cannot say it: then it stays the target's own. */
function addLink(fk: ForeignKey, table: Table, { made, draft }: Linking): void {
  const own = made.get(tableKey(table.schema, table.name))
  const there = made.get(tableKey(fk.references.schema, fk.references.table))
  const child = own && draft.now.entities[own.entity.id]
  const parent = there && draft.now.entities[there.entity.id]
  if (!own || !there || !child || !parent) return
  const key = keyOf(fk, there, parent)
  if (!key) return
  const columns = fk.references.columns.map(there.keyColumn)
  const attributes = fk.columns.map((column) => child.attributes.find((a) => a.id === own.rows.get(column)))
  const paired = columns.flatMap((column, i) => {
    const attribute = attributes[i]
    return column && attribute ? [{ column, attribute }] : []
  })
  if (paired.length < fk.columns.length || paired.length === 0) return
  const [first] = paired
  const links = Object.fromEntries(draft.linksAt(child.id).map((link) => [link.id, link]))
  const required = paired.every(({ attribute }) => attribute.required)
  const said = paired.some(({ attribute }) => attribute.required) ? lenient(fk) : fk
  const alone =
    paired.length === 1 && first && !own.table.foreignKeys.some((other) => other !== fk && sharesColumn(other, fk))
  const role = alone
    ? roleOf(fk.columns[0] ?? '', first.attribute, first.column, { parent, child, settings: draft.now.settings })
    : undefined
  if (role && first) {
    const link = linkOf(draft.now, links, parent, child, {
      ...linkSays(said, required, key.parentKey),
      ...role
    })
    draft.put('links', link)
    draft.entity(child.id, (entity) => inPlaceOf(entity, first.attribute.id, link))
    return
  }
  const held = Object.fromEntries(paired.map(({ column, attribute }) => [column.path, attribute.id]))
  draft.put(
    'links',
    linkOf(draft.now, links, parent, child, {
      ...linkSays(said, required, key.parentKey),
      columns: held
    })
  )
}

/** Nothing is put where a value must be: where the engine allows to say so all the same, it is for its target to say. */
const lenient = (fk: ForeignKey): ForeignKey => ({
  ...fk,
  onDelete: fk.onDelete === 'set null' ? 'restrict' : fk.onDelete,
  onUpdate: fk.onUpdate === 'set null' ? 'no action' : fk.onUpdate
})

const sharesColumn = (a: ForeignKey, b: ForeignKey) => a.columns.some((column) => b.columns.includes(column))

/** The row of a link where an attribute was. */
const inPlaceOf = (entity: Entity, attribute: string, link: Link): Entity => ({
  ...entity,
  attributes: entity.attributes.filter((a) => a.id !== attribute),
  order: entity.order.map((row) => (row === attribute ? link.id : row))
})

/** The parent's key that a foreign key goes to: its primary key, or a unique one, with all of its columns. */
function keyOf(fk: ForeignKey, { table, rows }: Made, parent: Entity): { readonly parentKey?: string } | undefined {
  const { columns } = fk.references
  const same = (list: readonly string[]) => list.length === columns.length && list.every((c) => columns.includes(c))
  if (same(table.primaryKey?.columns ?? [])) return {}
  const unique = table.uniques.find((key) => same(key.columns))
  const ids = unique?.columns.map((column) => rows.get(column))
  const parentKey = ids && parent.uniques.find(({ parts }) => parts.join() === ids.join())?.id
  return parentKey === undefined ? undefined : { parentKey }
}
