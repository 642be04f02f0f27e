// Facts and dimensions, as a design's links and columns suggest them: what has measures and leads to several others is a fact, and what it
// leads to are dimensions. R. Kimball, "The Data Warehouse Toolkit": facts are measurements, dimensions their context, and a dimension that
// several facts share is conformed; from memory. How much is enough of either is our own rule.
import type { Design, Entity, Link } from '../design'
import { isNumber } from '../types'

export interface StarRole {
  readonly entity: string
  readonly as: 'fact' | 'dimension'
  /** A dimension that several facts share. */
  readonly conformed: boolean
  /** Why, as the rest of a sentence that begins with its name. */
  readonly why: string
}

const LEAST_LINKS = 2

/** Facts first, those with most measures first of all; then what they lead to, near before far. */
export function starRoles(design: Design): StarRole[] {
  const out = new Map<string, Link[]>()
  const back = new Map<string, number>()
  for (const link of Object.values(design.links)) {
    if (link.kind === 'many-to-many' || link.parent === link.child) continue
    out.set(link.child, [...(out.get(link.child) ?? []), link])
    back.set(link.parent, (back.get(link.parent) ?? 0) + 1)
  }
  /** Where its own links lead, and those of what it is a part of. */
  const context = (id: string, seen: ReadonlySet<string> = new Set()): readonly string[] =>
    seen.has(id)
      ? []
      : (out.get(id) ?? []).flatMap(({ parent, identifying }) => [
          parent,
          ...(identifying ? context(parent, new Set([...seen, id])) : [])
        ])
  const facts = Object.values(design.entities)
    .map((entity) => ({ entity, measures: measuresOf(entity), leads: [...new Set(context(entity.id))] }))
    .filter(
      ({ entity, measures, leads }) =>
        measures.length > 0 && leads.length >= LEAST_LINKS && leads.length > (back.get(entity.id) ?? 0)
    )
    .sort((a, b) => b.measures.length - a.measures.length || (a.entity.name < b.entity.name ? -1 : 1))
  const isFact = new Set(facts.map(({ entity }) => entity.id))
  const readers = new Map<string, string[]>()
  for (const { entity, leads } of facts)
    for (const id of leads) if (!isFact.has(id)) readers.set(id, [...(readers.get(id) ?? []), entity.name])
  const roles: StarRole[] = facts.map(({ entity, measures, leads }) => ({
    entity: entity.id,
    as: 'fact',
    conformed: false,
    why: `has ${said(measures, 'measure', 'measures')} (${measures.slice(0, 3).join(', ')}) and leads to ${leads.length} others`
  }))
  for (const [entity, names] of readers)
    roles.push({ entity, as: 'dimension', conformed: names.length > 1, why: `says more of ${listed(names)}` })
  // A snowflake's: what dimensions lead to.
  const seen = new Set(roles.map(({ entity }) => entity))
  for (let at = 0; at < roles.length; at++) {
    const role = roles[at]
    if (role?.as !== 'dimension') continue
    for (const { parent } of out.get(role.entity) ?? []) {
      if (seen.has(parent)) continue
      seen.add(parent)
      const why = `says more of ${design.entities[role.entity]?.name ?? ''}`
      roles.push({ entity: parent, as: 'dimension', conformed: false, why })
    }
  }
  return roles
}

/** Numbers that tell rows apart measure nothing. */
function measuresOf({ attributes, primaryKey, uniques }: Entity): string[] {
  const telling = new Set([...primaryKey, ...uniques.flatMap(({ parts }) => parts)])
  return attributes.filter(({ id, type }) => isNumber(type) && !telling.has(id)).map(({ name }) => name)
}

const said = (list: readonly string[], one: string, many: string) => `${list.length} ${list.length === 1 ? one : many}`
const listed = (names: readonly string[]) =>
  names.length < 3 ? names.join(' and ') : `${names.slice(0, 2).join(', ')} and ${names.length - 2} more`
