// Whether a design's objects point at objects that exist, and each has an id of its own. A file or a merge may break this;
// edits never do.
import { sameValue } from '../catalog'
import type { Notice } from '../notice'
import { referencesIn } from './references'
import { COLLECTIONS, IDENTIFIER, type CollectionName, type Design } from './schema'
import { allAttributes } from './tree'

/** A reference that leads nowhere: the object that holds it, what it names, and the name. */
export interface Dangling {
  readonly holder: string
  readonly what: string
  readonly missing: string
}

/** One error for each reference that leads nowhere; `where` is the id of the object that holds it. */
export const dangling = (design: Design): Notice[] =>
  danglingReferences(design).map(({ holder, what, missing }) => ({
    code: 'file-reference',
    severity: 'error',
    where: holder,
    message: `${holder} names ${what} ${missing}, which is not there.`
  }))

export function danglingReferences(design: Design): Dangling[] {
  const found: Dangling[] = []
  const miss = (holder: string, what: string, missing: string) => found.push({ holder, what, missing })

  for (const entity of Object.values(design.entities)) {
    const own = new Set(entity.attributes.map((attribute) => attribute.id))
    const ends = (id: string) =>
      id === IDENTIFIER || own.has(id) || design.commons[id] !== undefined || design.links[id]?.child === entity.id
    if (entity.area !== undefined && !design.areas[entity.area]) miss(entity.id, 'the area', entity.area)
    const parts = [
      ...entity.primaryKey,
      ...entity.uniques.flatMap((key) => key.parts),
      ...entity.indexes.flatMap((index) => index.parts.map((part) => part.id))
    ]
    for (const part of parts) if (!ends(part)) miss(entity.id, 'the column or link', part)
    for (const { domain, leadsTo } of allAttributes(entity)) {
      if (domain !== undefined && !design.domains[domain]) miss(entity.id, 'the domain', domain)
      if (leadsTo !== undefined && !design.entities[leadsTo]) miss(entity.id, 'the entity', leadsTo)
    }
    for (const id of entity.without ?? []) if (!design.commons[id]) miss(entity.id, 'the column of every entity', id)
    const conditions = [
      ...entity.rules.map(({ condition }) => condition),
      ...entity.indexes.map(({ where = '' }) => where),
      ...entity.attributes.map(({ computed = '' }) => computed)
    ]
    for (const condition of conditions)
      for (const part of namedInRule(condition))
        if (!/^[#^]/.test(part) && !ends(part.split('/', 1).join())) miss(entity.id, 'in a rule the column', part)
  }
  for (const link of Object.values(design.links)) {
    for (const end of [link.parent, link.child]) if (!design.entities[end]) miss(link.id, 'the entity', end)
    const child = design.entities[link.child]
    const { parentKey } = link
    if (parentKey !== undefined && !design.entities[link.parent]?.uniques.some((key) => key.id === parentKey))
      miss(link.id, 'the unique key', parentKey)
    for (const id of Object.values(link.columns))
      if (child && !child.attributes.some((attribute) => attribute.id === id)) miss(link.id, 'the column', id)
  }
  const named = everything(design)
  for (const view of Object.values(design.views)) {
    if (view.area !== undefined && !design.areas[view.area]) miss(view.id, 'the area', view.area)
    for (const text of [view.text, ...Object.values(view.texts)])
      for (const { id } of referencesIn(text)) if (id !== '' && !named.has(id)) miss(view.id, 'in its text', id)
  }
  for (const group of Object.values(design.subtypes))
    for (const id of [group.supertype, ...group.subtypes]) if (!design.entities[id]) miss(group.id, 'the entity', id)
  for (const diagram of Object.values(design.diagrams))
    if (diagram.area !== undefined && !design.areas[diagram.area]) miss(diagram.id, 'the area', diagram.area)
  return found
}

/** The ids of all that a view's text may name. */
const everything = ({ entities, links, subtypes, views }: Design): ReadonlySet<string> =>
  new Set([
    ...[entities, links, subtypes, views].flatMap((collection) => Object.keys(collection)),
    ...Object.values(entities).flatMap((entity) => allAttributes(entity).map(({ id }) => id))
  ])

/**
 * The columns that a rule names as `{id}`. What stands in quotes is text, and `{3}` or `{1,4}` is no name.
 */
function namedInRule(condition: string): string[] {
  const bare = condition.replace(/'(?:[^']|'')*'/g, "''")
  return [...bare.matchAll(/\{([\p{L}\p{N}_.:#^/-]+)\}/gu)].flatMap(([, name = '']) =>
    /^\d+$/.test(name) ? [] : [name]
  )
}

/** One error for each attribute that is of a domain and has another type. */
export const unlikeDomain = (design: Design): Notice[] =>
  Object.values(design.entities).flatMap((entity) =>
    allAttributes(entity).flatMap(({ id, name, type, domain }): Notice[] => {
      const of = domain === undefined ? undefined : design.domains[domain]
      if (!of || sameValue(of.type, type)) return []
      return [
        {
          code: 'file-shape',
          severity: 'error',
          where: id,
          message: `${name} is of the domain ${of.name} and has another type than that.`
        }
      ]
    })
  )

/** One error for each id that two things have: what is known by it could be either. */
export function doubled(design: Design): Notice[] {
  const seen = new Set<string>()
  const twice = new Set<string>()
  const meet = (things: Iterable<{ readonly id: string }>, among = seen) => {
    for (const { id } of things) (among.has(id) ? twice : among).add(id)
  }
  for (const name of Object.keys(COLLECTIONS) as CollectionName[]) meet(Object.values(design[name]))
  for (const entity of Object.values(design.entities))
    for (const things of [allAttributes(entity), entity.uniques, entity.indexes, entity.rules]) meet(things)
  for (const { handSteps = [], queries = [] } of Object.values(design.targets))
    for (const things of [handSteps, queries]) meet(things, new Set())
  return [...twice].map((id) => ({
    code: 'file-shape',
    severity: 'error',
    where: id,
    message: `Two things have the id ${id}.`
  }))
}
