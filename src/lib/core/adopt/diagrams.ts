// Diagrams for a design that was brought in: one a schema, one around whatever is most linked, one of the keys alone.
import { newId, type Area, type Design, type Diagram, type Entity } from '../design'

export type DiagramsBy = 'schema' | 'links' | 'keys'

/** Fewer make no area. */
const LEAST = 3
const TINTS = 6

/**
 * The same design with more diagrams, of each sort that is asked for. Whole schemas become areas; so do groups of what is
 * linked, where schemas do not. What fits in no group is in none.
 */
export function withDiagrams(design: Design, sorts: ReadonlySet<DiagramsBy>): Design {
  let made = design
  if (sorts.has('schema')) made = withAreas(made, bySchema(design))
  if (sorts.has('links'))
    made = sorts.has('schema') ? withGroups(made, byLinks(design)) : withAreas(made, byLinks(design))
  if (sorts.has('keys')) made = withDiagram(made, { name: 'Keys', columns: 'keys' })
  return made
}

type Groups = ReadonlyMap<string, readonly Entity[]>

function withDiagram(design: Design, says: Omit<Diagram, 'id' | 'places'>): Design {
  const diagram: Diagram = { id: newId('dia'), places: {}, ...says }
  return { ...design, diagrams: { ...design.diagrams, [diagram.id]: diagram } }
}

const withGroups = (design: Design, groups: Groups): Design =>
  [...groups].reduce((made, [name, members]) => withDiagram(made, { name, only: members.map(({ id }) => id) }), design)

/** With an area for each group, beside those that the design has, for what is in none. */
function withAreas(design: Design, groups: Groups): Design {
  const areas: Record<string, Area> = { ...design.areas }
  const entities: Record<string, Entity> = { ...design.entities }
  let made = design
  for (const [i, [name, members]] of [...groups].entries()) {
    const area: Area = { id: newId('are'), name, tint: i % TINTS }
    areas[area.id] = area
    made = withDiagram(made, { name, area: area.id })
    for (const entity of members) entities[entity.id] = { ...entity, area: entity.area ?? area.id }
  }
  return { ...made, areas, entities }
}

function bySchema(design: Design): Map<string, Entity[]> {
  const groups = new Map<string, Entity[]>()
  for (const entity of Object.values(design.entities)) {
    if (entity.namespace === undefined) continue
    groups.set(entity.namespace, [...(groups.get(entity.namespace) ?? []), entity])
  }
  return groups
}

/**
 * Each goes with the most linked of its neighbours, and so on up: what has no neighbour that is more linked is the middle of an
 * area, and gives it its name. What nearly everything leads to, as a list of countries, holds nothing together.
 */
function byLinks(design: Design): Map<string, Entity[]> {
  const neighbours = new Map<string, Set<string>>(Object.keys(design.entities).map((id) => [id, new Set()]))
  for (const { parent, child } of Object.values(design.links)) {
    if (parent === child) continue
    neighbours.get(parent)?.add(child)
    neighbours.get(child)?.add(parent)
  }
  const weight = (id: string) => neighbours.get(id)?.size ?? 0
  const called = (id: string) => `${design.entities[id]?.name ?? ''} ${id}`
  const most = Math.max(6, neighbours.size * 0.12)
  const isMore = (a: string, b: string) => weight(a) > weight(b) || (weight(a) === weight(b) && called(a) < called(b))
  const up = (id: string): string | undefined => {
    let best: string | undefined
    for (const other of neighbours.get(id) ?? []) if (weight(other) <= most && isMore(other, best ?? id)) best = other
    return best
  }
  const groups = new Map<string, Entity[]>()
  for (const entity of Object.values(design.entities)) {
    let middle = entity.id
    for (let next = up(middle); next !== undefined; next = up(middle)) middle = next
    groups.set(middle, [...(groups.get(middle) ?? []), entity])
  }
  return new Map(
    [...groups]
      .filter(([, members]) => members.length >= LEAST)
      .sort((a, b) => b[1].length - a[1].length)
      .map(([middle, members]) => [`Around ${design.entities[middle]?.name ?? ''}`, members])
  )
}
