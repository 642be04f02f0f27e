import type { Check } from '../check'

export const noColumns: Check = {
  id: 'no-columns',
  title: 'Entity without columns',
  why: 'A table of numbers alone holds nothing: it was begun and not finished, or it is a list of values.',
  grade: 'warning',
  find: ({ entities, design, logical }) => {
    const named = new Set(Object.values(design.subtypes).flatMap(({ subtypes }) => subtypes))
    return entities
      .filter(({ id, attributes }) => {
        const brought = logical(id)?.foreignKeys.length ?? 0
        return attributes.length === 0 && brought === 0 && !named.has(id)
      })
      .map(({ id, name }) => ({ at: id, message: `${name} has no column yet.` }))
  }
}
