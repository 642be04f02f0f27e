import type { Check } from '../check'

export const noKey: Check = {
  id: 'no-key',
  title: 'Nothing but a number tells rows apart',
  why: 'The same thing can be written down twice, each time under a number of its own, and nobody notices.',
  grade: 'info',
  find: ({ entities, design, logical }) => {
    const named = new Set(Object.values(design.subtypes).flatMap(({ subtypes }) => subtypes))
    return entities
      .filter((entity) => {
        const key = logical(entity.id)?.key ?? []
        const numbered = key.length === 1 && key[0]?.path === '#'
        return numbered && entity.attributes.length > 0 && entity.uniques.length === 0 && !named.has(entity.id)
      })
      .filter(({ indexes }) => !indexes.some(({ unique }) => unique))
      .map(({ id, name }) => ({
        at: id,
        message: `${name} has no key and no unique columns: the same ${name.toLowerCase()} can be there twice.`
      }))
  }
}
