import type { Check } from '../check'

export const isolated: Check = {
  id: 'isolated',
  title: 'Entity without links',
  why: 'What is linked to nothing is found by nobody: a link was forgotten, or the entity belongs elsewhere.',
  grade: 'info',
  find: ({ entities, design }) => {
    if (entities.length < 2) return []
    const linked = new Set([
      ...Object.values(design.links).flatMap(({ parent, child }) => [parent, child]),
      ...Object.values(design.subtypes).flatMap(({ supertype, subtypes }) => [supertype, ...subtypes])
    ])
    return entities
      .filter(({ id }) => !linked.has(id))
      .map(({ id, name }) => ({ at: id, message: `${name} is linked to nothing.` }))
  }
}
