// Areas for a design that was brought in, each with a diagram of its own: one a schema, or one around whatever is most linked.
import { newId, type Area, type Design, type Diagram, type Entity } from '../design'

export type AreasBy = 'schema' | 'links'

/** Fewer make no area. */
const LEAST = 3
const TINTS = 6

/** The same design with areas beside those that it has, for what is in none; what fits in none of them stays so. */
export function withAreas(design: Design, by: AreasBy): Design {
  const groups = by === 'schema' ? bySchema(design) : byLinks(design)
  const areas: Record<string, Area> = { ...design.areas }
  const diagrams: Record<string, Diagram> = { ...design.diagrams }
  const entities: Record<string, Entity> = { ...design.entities }
  for (const [i, [name, members]] of [...groups].entries()) {
    const area: Area = { id: newId('are'), name, tint: i % TINTS }
    areas[area.id] = area
    const diagram: Diagram = { id: newId('dia'), name, area: area.id, places: {} }
    diagrams[diagram.id] = diagram
    for (const entity of members) entities[entity.id] = { ...entity, area: entity.area ?? area.id }
  }
  return { ...design, areas, diagrams, entities }
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
