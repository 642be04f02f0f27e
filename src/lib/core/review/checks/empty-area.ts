import type { Check } from '../check'

export const emptyArea: Check = {
  id: 'empty-area',
  title: 'Area without entities',
  why: 'It stands in lists and on diagrams, and holds nothing.',
  grade: 'info',
  find: ({ entities, design }) => {
    const used = new Set([...entities, ...Object.values(design.views)].flatMap(({ area }) => area ?? []))
    return Object.values(design.areas)
      .filter(({ id }) => !used.has(id))
      .map(({ id, name }) => ({
        at: id,
        message: `The area ${name} is empty.`,
        fix: { label: 'Remove the area', edit: { kind: 'object.remove', collection: 'areas', id } }
      }))
  }
}
