// Whether a design's objects point at objects that exist. A file or a merge may break this; edits never do.
import type { Notice } from '../notice'
import type { Design } from './schema'

/** One error for each reference that leads nowhere; `where` is the id of the object that holds it. */
export function dangling(design: Design): Notice[] {
  const notices: Notice[] = []
  const miss = (where: string, what: string, id: string) =>
    notices.push({
      code: 'file-reference',
      severity: 'error',
      where,
      message: `${where} names ${what} ${id}, which is not there.`
    })

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
  return notices
}
