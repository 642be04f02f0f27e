// What an edit of a design reaches in a target's catalogue: the entities whose tables may be other ones, and all that it takes to
// work these out.
import {
  linksAt,
  own,
  ownerOf,
  referencesIn,
  type CollectionName,
  type Design,
  type Entity,
  type Link
} from '../design'
import { otherIn } from './keys-reached'
import { logical, type LogicalColumn } from './logical'

/** Parts of a design that many tables hang on: another one, and all is done again. */
const OF_ALL = ['domains', 'commons'] as const

export interface Reach {
  /** Entities, links with a table of their own, and views, by their ids. */
  readonly ids: ReadonlySet<string>
  /** As much of the design as it takes to work these out as in the whole. */
  readonly part: Design
}

/** Nothing where all must be done again. Both designs are flat: what is nested in tables of its own is entities. */
export function reach(before: Design, after: Design, engine: string): Reach | undefined {
  if (before.settings !== after.settings || OF_ALL.some((name) => before[name] !== after[name])) return undefined
  const changed = <C extends CollectionName>(name: C): string[] => otherIn<unknown>(before[name], after[name])
  const entities = changed('entities')
  // Rows go by schema in more than one place.
  if (entities.some((id) => before.entities[id]?.namespace !== after.entities[id]?.namespace)) return undefined
  const reached = new Reached(before, after, engine)
  for (const id of entities) reached.entity(id)
  for (const id of changed('links'))
    for (const link of [before.links[id], after.links[id]]) if (link) reached.link(link)
  for (const id of changed('subtypes'))
    for (const design of [before, after]) reached.family(design.subtypes[id]?.supertype)
  for (const id of changed('views')) reached.view(id)
  reached.readers()
  return { ids: reached.ids, part: reached.part() }
}

const hasTable = ({ kind, drawnOnly }: Link) => kind === 'many-to-many' && !drawnOnly

class Reached {
  readonly ids = new Set<string>()
  /** Supertypes and subtypes that may live in one table, by each of them. */
  private readonly families: ReadonlyMap<string, ReadonlySet<string>>

  constructor(
    private readonly before: Design,
    private readonly after: Design,
    private readonly engine: string
  ) {
    this.families = familiesOf(before.subtypes === after.subtypes ? [after] : [before, after])
  }

  entity(id: string): void {
    const open = [id]
    for (let at = open.pop(); at !== undefined; at = open.pop()) {
      if (this.ids.has(at)) continue
      this.ids.add(at)
      open.push(...(this.families.get(at) ?? []))
      const isSame = face(this.before, at) === face(this.after, at)
      if (isSame) continue
      // What leads to one of a family may lead to the table of another.
      for (const own of this.families.get(at) ?? [at])
        for (const design of [this.before, this.after])
          for (const link of linksAt(design, own))
            if (hasTable(link)) this.ids.add(link.id)
            else if (link.parent === own) open.push(link.child)
    }
  }

  link(link: Link): void {
    if (hasTable(link)) this.ids.add(link.id)
    this.entity(link.child)
  }

  family(supertype: string | undefined): void {
    if (supertype !== undefined) this.entity(supertype)
  }

  view(id: string): void {
    this.ids.add(id)
  }

  /** The views that name something of what is reached, or read from one that does; and all that these name. */
  readers(): void {
    const views = Object.values(this.after.views)
    if (views.length === 0) return
    const named = new Map(views.map((view) => [view.id, namedIn(view, this.engine)]))
    const owner = (id: string) => this.ownerOf(id)
    for (let size = -1; size < this.ids.size;) {
      size = this.ids.size
      for (const { id } of views) {
        const owners = named.get(id)?.map(owner) ?? []
        if (!this.ids.has(id) && !owners.some((one) => this.ids.has(one))) continue
        this.ids.add(id)
        for (const one of owners) if (this.after.views[one]) this.ids.add(one)
        for (const one of owners) if (this.after.entities[one]) this.entity(one)
      }
    }
  }

  private ownerOf(id: string): string {
    const design = this.after
    if (design.entities[id] ?? design.views[id]) return id
    const link = design.links[id]
    if (link) return hasTable(link) ? id : link.child
    return design.subtypes[id]?.supertype ?? ownerOf(design, id).entity?.id ?? ownerOf(this.before, id).entity?.id ?? id
  }

  /** What is reached, what its keys come from, and the links between these. */
  part(): Design {
    const { after, ids } = this
    const entities: Record<string, Entity> = {}
    const links: Record<string, Link> = {}
    const subtypes: Record<string, Design['subtypes'][string]> = {}
    const views: Record<string, Design['views'][string]> = {}
    const whole: string[] = []
    const keyed: string[] = []
    for (const id of ids) {
      const link = after.links[id]
      if (after.entities[id]) whole.push(id)
      else if (link) {
        links[id] = link
        keyed.push(link.parent, link.child)
      } else if (after.views[id]) views[id] = after.views[id]
    }
    for (const id of whole) {
      entities[id] = after.entities[id] as Entity
      for (const link of linksAt(after, id))
        if (link.child === id && !hasTable(link)) {
          links[link.id] = link
          keyed.push(link.parent)
        }
    }
    // Of what they lead to, only what its keys are made of.
    const seen = new Set<string>()
    for (let id = keyed.pop(); id !== undefined; id = keyed.pop()) {
      const entity = after.entities[id]
      if (seen.has(id) || !entity) continue
      seen.add(id)
      entities[id] = entity
      for (const other of this.families.get(id) ?? []) keyed.push(other)
      const inKeys = new Set([...entity.primaryKey, ...entity.uniques.flatMap(({ parts }) => parts)])
      for (const link of linksAt(after, id))
        if (link.child === id && !hasTable(link) && (link.identifying || inKeys.has(link.id))) {
          links[link.id] = link
          keyed.push(link.parent)
        }
    }
    for (const [id, group] of Object.entries(after.subtypes))
      if (entities[group.supertype] ?? group.subtypes.some((one) => entities[one])) subtypes[id] = group
    return {
      ...after,
      entities: inOrderOf(after.entities, entities),
      links: inOrderOf(after.links, links),
      subtypes,
      views
    }
  }
}

function familiesOf(designs: readonly Design[]): Map<string, Set<string>> {
  const families = new Map<string, Set<string>>()
  for (const { subtypes: groups } of designs)
    for (const { supertype, subtypes } of Object.values(groups)) {
      const all = new Set([supertype, ...subtypes].flatMap((id) => [id, ...(families.get(id) ?? [])]))
      for (const id of all) families.set(id, all)
    }
  return families
}

/** Names that are counted are given in the order of objects. */
const inOrderOf = <T>(all: Readonly<Record<string, T>>, some: Readonly<Record<string, T>>): Record<string, T> => {
  const ids = Object.keys(some)
  if (ids.length < 2) return { ...some }
  const wanted = new Set(ids)
  const found: Record<string, T> = {}
  for (const id in all) if (wanted.has(id)) found[id] = all[id] as T
  return found
}

const refs = new WeakMap<object, Map<string, string[]>>()

/** What a view names, by ids. */
function namedIn(view: Design['views'][string], engine: string): string[] {
  const known = refs.get(view) ?? new Map<string, string[]>()
  refs.set(view, known)
  const before = known.get(engine)
  if (before) return before
  const ids = referencesIn(own(view.texts, engine) ?? view.text).map(({ id }) => id)
  known.set(engine, ids)
  return ids
}

/** Whether all that others have of an entity is as it was. */
export const sameFace = (before: Design, after: Design, id: string): boolean => face(before, id) === face(after, id)

/** All that other tables have of an entity: what it is called, and the columns of its keys. */
function face(design: Design, id: string): string {
  const entity = design.entities[id]
  const columns = logical(design).entity(id)?.columns ?? []
  if (!entity) return ''
  const inUniques = new Set(entity.uniques.flatMap(({ parts }) => parts))
  const told = ({ path, name, dbName, fixed, type, key, row, required }: LogicalColumn) =>
    key || (row !== undefined && inUniques.has(row)) ? [[path, name, dbName, fixed, type, key, required]] : []
  return JSON.stringify([
    entity.name,
    entity.dbName,
    entity.namespace,
    entity.uniques.map(({ id: key, parts }) => [key, parts]),
    columns.flatMap(told)
  ])
}
