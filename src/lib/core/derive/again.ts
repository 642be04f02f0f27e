// A catalogue after an edit: what the edit does not reach is taken from the catalogue before. It is always what deriving all of it
// anew gives; where that is not certain, all is derived anew.
import { tableKey, type Catalog, type Origin, type Table } from '../catalog'
import { ownerOf, type Design } from '../design'
import type { Dialect } from '../dialects'
import type { Notice } from '../notice'
import { namesIn } from './clashes'
import { derived, traceOf, type DeriveTarget, type Worked } from './derive'
import { groupsOf, homes } from './layout'
import { flattened } from './nested'
import { otherIn, reach } from './reach'

/** A derived catalogue, and what is remembered of how it came about. */
export interface Standing extends Worked {
  readonly design: Design
  readonly target: DeriveTarget
  readonly dialect: Dialect
  /** Every name that must be the only one where it is, and how often it is given. */
  readonly given: ReadonlyMap<string, number>
  /** The ids of what was done again; nothing where all was. */
  readonly redone?: ReadonlySet<string>
}

/** What of a target another catalogue hangs on. */
const OF_TARGET = ['subtypeTables', 'schemas', 'nested', 'departures', 'extras', 'naming'] as const

/** Derives a design after an edit, with the help of what was derived before it. */
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

function wholly(design: Design, target: DeriveTarget, dialect: Dialect): Standing {
  const worked = derived(design, target, dialect)
  return { ...worked, design, target, dialect, given: counted(worked.catalog, dialect) }
}

function counted(catalog: Catalog, dialect: Dialect): Map<string, number> {
  const given = new Map<string, number>()
  for (const name of namesIn(catalog, dialect)) given.set(name, (given.get(name) ?? 0) + 1)
  return given
}

function partly(design: Design, target: DeriveTarget, before: Standing): Standing | undefined {
  const { dialect } = before
  // What a target leaves out takes others along.
  if (target.departures?.some((departure) => 'absent' in departure)) return undefined
  if (target.extras?.some(({ kind }) => kind === 'table')) return undefined
  if (isTangled(before.notices)) return undefined
  const { design: flat, notices: flatNotices } = flattened(design, target)
  if (flatNotices.length > 0) return undefined
  const reached = reach(before.flat, flat, dialect.profile.id)
  if (!reached) return undefined
  const { ids, part } = reached
  const here = { ...target, nested: {}, extras: target.extras?.filter((extra) => dialect && !isOfItself(extra.kind)) }
  const done = derived(part, here as DeriveTarget, dialect)
  if (isTangled(done.notices) || keepsOtherwise(before, done, flat)) return undefined
  const isIn = (origin: Origin | undefined, of: Design) => origin !== undefined && ids.has(homeOf(origin.id, of))

  const [olds, news] = [
    before.catalog.tables.filter(({ origin }) => isIn(origin, before.flat)),
    done.catalog.tables.filter(({ origin }) => isIn(origin, flat))
  ]
  const places = (of: Catalog) =>
    [...of.tables, ...(of.views ?? [])].filter(({ origin }) => isIn(origin, of === done.catalog ? flat : before.flat))
  const names = namesAfter(before, done, places(before.catalog), places(done.catalog))
  if (!names) return undefined
  const tables = spliced(before, flat, target, olds, news)
  const { views: _views, ...rest } = before.catalog
  const catalog = { ...rest, tables, ...viewsAfter(before, done, flat, ids) }
  const given = namesGiven(before, olds, news, done.catalog, ids)
  if (!given) return undefined
  const told = noticesAfter(before, done.notices, flat, ids)
  if (!told) return undefined
  let trace: ReturnType<Worked['trace']> | undefined
  return {
    catalog,
    notices: told,
    trace: () => (trace ??= traceOf(catalog)),
    flat,
    names,
    design,
    target,
    dialect,
    given,
    redone: ids
  }
}

/** Things of one name, and keys that go round, are told of one table for the sake of another. */
const TANGLED: ReadonlySet<string> = new Set(['name-twice', 'entity-circular-key', 'entity-key-too-wide'])
const isTangled = (notices: readonly Notice[]) => notices.some(({ code }) => TANGLED.has(code))

/** A routine that keeps columns up is there as long as some table of its schema has one. */
function keepsOtherwise(before: Standing, { catalog }: Worked, flat: Design): boolean {
  if (!before.catalog.routines?.length && !catalog.routines?.length) return false
  return otherIn(before.flat.entities, flat.entities).some((id) => {
    const [was, is] = [before.flat.entities[id], flat.entities[id]]
    return !was || !is || (was.without ?? []).join() !== (is.without ?? []).join()
  })
}

const isOfItself = (kind: string) => !MEMBERS.has(kind)
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

type Place = { readonly schema: string; readonly name: string }

/** The names that are claimed now; nothing where one is wanted by two, or was: then it may be counted otherwise. */
function namesAfter(
  before: Standing,
  done: Worked,
  olds: readonly Place[],
  news: readonly Place[]
): Worked['names'] | undefined {
  if (done.names.wantedTwice.size > 0) return undefined
  const [old, now] = [olds, news].map((list) => new Set(list.map(({ schema, name }) => tableKey(schema, name))))
  const { claims: all, wantedTwice } = before.names
  const claims = new Map(all)
  // Those of few tables are found among those of all: this is as long as the design is large, and does nothing else.
  for (const [claim, home] of all)
    if (old?.has(home)) {
      if (wantedTwice.has(claim)) return undefined
      claims.delete(claim)
    }
  for (const [claim, home] of done.names.claims) {
    if (!now?.has(home)) continue
    if (claims.has(claim) || wantedTwice.has(claim)) return undefined
    claims.set(claim, home)
  }
  return { claims, wantedTwice }
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
  const made = new Map((done.catalog.views ?? []).map((view) => [view.origin?.id ?? '', view]))
  const kept = new Map((before.catalog.views ?? []).map((view) => [view.origin?.id ?? '', view]))
  const order = Object.values(flat.views).sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0))
  const own = (before.catalog.views ?? []).filter(({ origin }) => !origin)
  if (own.length === 0 && (order.length === 0 || !before.dialect.carry.kinds.has('view'))) return {}
  return { views: [...order.flatMap(({ id }) => (ids.has(id) ? made.get(id) : kept.get(id)) ?? []), ...own] }
}

/** How often each name is given now; nothing where one is given twice. */
function namesGiven(
  before: Standing,
  olds: readonly Table[],
  news: readonly Table[],
  part: Catalog,
  ids: ReadonlySet<string>
): Map<string, number> | undefined {
  const given = new Map(before.given)
  const some = (list: readonly Table[], of: Catalog): Catalog => ({
    ...of,
    tables: [...list],
    views: (of.views ?? []).filter(({ origin }) => origin && ids.has(origin.id))
  })
  for (const name of namesIn(some(olds, before.catalog), before.dialect)) given.set(name, (given.get(name) ?? 0) - 1)
  for (const name of namesIn(some(news, part), before.dialect)) {
    const count = (given.get(name) ?? 0) + 1
    if (count > 1) return undefined
    given.set(name, count)
  }
  return given
}

/** What is said of what was done again is new; the rest stays. Nothing where something is said of nothing. */
function noticesAfter(
  before: Standing,
  told: readonly Notice[],
  flat: Design,
  ids: ReadonlySet<string>
): Notice[] | undefined {
  if ([...before.notices, ...told].some(({ where }) => where === undefined)) return undefined
  const isOf = (where: string, design: Design) => ids.has(homeOf(where, design))
  const isOfAll = (where: string) => flat.commons[where] !== undefined
  return [
    ...before.notices.filter(({ where = '' }) => !isOf(where, before.flat) && !isOf(where, flat)),
    ...told.filter(({ where = '' }) => isOf(where, flat) && !isOfAll(where))
  ]
}
