// Whether a design's objects point at objects that exist. A file or a merge may break this; edits never do.
import type { Notice } from '../notice'
import type { Design } from './schema'

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
    const ends = (id: string) => own.has(id) || design.links[id]?.child === entity.id
    if (entity.area !== undefined && !design.areas[entity.area]) miss(entity.id, 'the area', entity.area)
    const parts = [
      ...entity.primaryKey,
      ...entity.uniques.flatMap((key) => key.parts),
      ...entity.indexes.flatMap((index) => index.parts.map((part) => part.id))
    ]
    for (const part of parts) if (!ends(part)) miss(entity.id, 'the column or link', part)
  }
  for (const link of Object.values(design.links)) {
    for (const end of [link.parent, link.child]) if (!design.entities[end]) miss(link.id, 'the entity', end)
    const child = design.entities[link.child]
    for (const id of Object.values(link.columns))
      if (child && !child.attributes.some((attribute) => attribute.id === id)) miss(link.id, 'the column', id)
  }
  for (const group of Object.values(design.subtypes))
    for (const id of [group.supertype, ...group.subtypes]) if (!design.entities[id]) miss(group.id, 'the entity', id)
  for (const diagram of Object.values(design.diagrams))
    if (diagram.area !== undefined && !design.areas[diagram.area]) miss(diagram.id, 'the area', diagram.area)
  return found
}
