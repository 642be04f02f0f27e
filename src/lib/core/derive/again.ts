// A catalogue after an edit: what the edit does not reach is taken from the catalogue before. It is always what deriving all of it
// anew gives; where that is not certain, all is derived anew.
import type { Address, Catalog, Origin, Table } from '../catalog'
import { leads, ownerOf, type Design } from '../design'
import type { Dialect } from '../dialects'
import type { Notice } from '../notice'
import { derived, traceOf, type DeriveTarget, type Worked } from './derive'
import { homes } from './layout'
import { groupsOf } from './logical'
import { flattened } from './nested'
import { otherIn } from './keys-reached'
import { reach } from './reach'
import { Told } from './told'
import { UniqueNames } from './unique-names'

/** A derived catalogue, and what is remembered of how it came about. */
export interface Standing {
  readonly catalog: Catalog
  readonly notices: readonly Notice[]
  trace(): ReadonlyMap<string, readonly Address[]>
  readonly design: Design
  readonly target: DeriveTarget
  readonly dialect: Dialect
  /** The design with what is nested in tables of its own. */
  readonly flat: Design
  /** Kept up from one state to the next: the state before has them no more. */
  readonly names: UniqueNames
  readonly told: Told
  /** The ids of what was done again; nothing where all was. */
  readonly redone?: ReadonlySet<string>
}

/** What of a target another catalogue hangs on. */
const OF_TARGET = ['subtypeTables', 'schemas', 'nested', 'departures', 'extras', 'naming'] as const

/**
 * Derives a design after an edit, with the help of what was derived before it: that is used up, and must not be given again.
 */
export function deriveAgain(
  design: Design,
  target: DeriveTarget,
  dialect: Dialect,
  before: Standing | undefined
): Standing {
  const same =
    before && before.dialect === dialect && OF_TARGET.every((field) => before.target[field] === target[field])
  if (same && before.design === design) return before
  return (same ? partly(design, target, before) : undefined) ?? wholly(design, target, dialect)
}

function standing(
  catalog: Catalog,
  told: Told,
  rest: Omit<Standing, 'catalog' | 'notices' | 'told' | 'trace'>
): Standing {
  let trace: ReadonlyMap<string, readonly Address[]> | undefined
  return { ...rest, catalog, told, notices: told.all(), trace: () => (trace ??= traceOf(catalog)) }
}

function wholly(design: Design, target: DeriveTarget, dialect: Dialect): Standing {
  const { catalog, notices, flat, names } = derived(design, target, dialect)
  const told = new Told(notices, (where) => homeOf(where, flat))
  return standing(catalog, told, { design, target, dialect, flat, names: new UniqueNames(catalog, names, dialect) })
}

function partly(design: Design, target: DeriveTarget, before: Standing): Standing | undefined {
  const { dialect, told, names } = before
  // What a target leaves out takes others along.
  if (target.departures?.some((departure) => 'absent' in departure)) return undefined
  if (target.extras?.some(({ kind }) => kind === 'table')) return undefined
  if (told.isTangled) return undefined
  // What a field leads to says its type.
  if ([before.design, design].some(leads)) return undefined
  // Documents of one entity in those of another.
  if (dialect.profile.features.fields && [before.design, design].some(embeds)) return undefined
  const { design: flat, notices: lost } = flattened(design, target)
  const reached = lost.length > 0 ? undefined : reach(before.flat, flat, dialect.profile.id)
  if (!reached) return undefined
  const { ids, part } = reached
  const extras = target.extras?.filter(({ kind }) => MEMBERS.has(kind))
  const here = { ...target, nested: {}, ...(extras ? { extras } : {}) }
  const done = derived(part, here, dialect)
  const fresh = new Told(done.notices, (where) => homeOf(where, part))
  if (fresh.isTangled || keepsOtherwise(before, done, flat)) return undefined

  const isIn = (origin: Origin | undefined, of: Design) => origin !== undefined && ids.has(homeOf(origin.id, of))
  const of = (catalog: Catalog, flatDesign: Design): Pick<Catalog, 'tables' | 'views'> => ({
    tables: catalog.tables.filter(({ origin }) => isIn(origin, flatDesign)),
    views: (catalog.views ?? []).filter(({ origin }) => isIn(origin, flatDesign))
  })
  const [old, now] = [of(before.catalog, before.flat), of(done.catalog, flat)]
  if (!names.replace(old, now, done.names)) return undefined
  told.replace(ids, fresh)
  const tables = spliced(before, flat, target, old.tables, now.tables)
  const { views: _views, ...rest } = before.catalog
  const catalog = { ...rest, tables, ...viewsAfter(before, done, flat, ids) }
  return standing(catalog, told, { design, target, dialect, flat, names, redone: ids })
}

const embeds = ({ links }: Design): boolean => Object.values(links).some(({ embedded }) => embedded)

/** A routine that keeps columns up is there as long as some table of its schema has one. */
function keepsOtherwise(before: Standing, { catalog }: Worked, flat: Design): boolean {
  if (!before.catalog.routines?.length && !catalog.routines?.length) return false
  return otherIn(before.flat.entities, flat.entities).some((id) => {
    const [was, is] = [before.flat.entities[id], flat.entities[id]]
    return !was || !is || (was.without ?? []).join() !== (is.without ?? []).join()
  })
}

const MEMBERS: ReadonlySet<string> = new Set([
  'column',
  'primaryKey',
  'unique',
  'foreignKey',
  'check',
  'exclusion',
  'index',
  'trigger',
  'policy',
  'rule'
])

/** The entity, the link with a table of its own, or the view that an object of a design is of. */
function homeOf(id: string, flat: Design): string {
  if (flat.entities[id] ?? flat.views[id]) return id
  const link = flat.links[id]
  if (link?.kind === 'many-to-many') return id
  return flat.subtypes[id]?.supertype ?? ownerOf(flat, id).entity?.id ?? id
}

/** The tables in the order that deriving all of them gives. */
function spliced(
  { catalog, flat: old }: Standing,
  flat: Design,
  target: DeriveTarget,
  olds: readonly Table[],
  news: readonly Table[]
): Table[] {
  const id = ({ origin }: Table) => origin?.id ?? ''
  const made = new Map(news.map((table) => [id(table), table]))
  const gone = new Set(olds.map(id))
  const isPlaced = olds.length === news.length && olds.every((table) => made.has(id(table)))
  if (isPlaced && olds.every((table) => old.entities[id(table)]?.name === flat.entities[id(table)]?.name))
    return catalog.tables.map((table) => made.get(id(table)) ?? table)
  const all = new Map(catalog.tables.filter((table) => !gone.has(id(table))).map((table) => [id(table), table]))
  for (const [key, table] of made) all.set(key, table)
  const order = [
    ...homes(flat, target, groupsOf(flat)).map((entity) => entity.id),
    ...Object.values(flat.links).flatMap((link) => (link.kind === 'many-to-many' ? [link.id] : []))
  ]
  return order.flatMap((key) => all.get(key) ?? [])
}

function viewsAfter(before: Standing, done: Worked, flat: Design, ids: ReadonlySet<string>): Pick<Catalog, 'views'> {
  const old = before.catalog.views ?? []
  const made = new Map((done.catalog.views ?? []).map((view) => [view.origin?.id ?? '', view]))
  const kept = new Map(old.map((view) => [view.origin?.id ?? '', view]))
  const order = Object.values(flat.views).sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0))
  const own = old.filter(({ origin }) => !origin)
  if (own.length === 0 && (order.length === 0 || !before.dialect.carry.kinds.has('view'))) return {}
  return { views: [...order.flatMap(({ id }) => (ids.has(id) ? made.get(id) : kept.get(id)) ?? []), ...own] }
}
