import type { Check } from '../check'

export const unusedDomain: Check = {
  id: 'unused-domain',
  title: 'Domain without columns',
  why: 'It was left behind, or its columns have a type of their own that will go another way.',
  grade: 'info',
  find: ({ entities, design }) => {
    const used = new Set(entities.flatMap(({ attributes }) => attributes.flatMap(({ domain }) => domain ?? [])))
    return Object.values(design.domains)
      .filter(({ id }) => !used.has(id))
      .map(({ id, name }) => ({
        at: id,
        message: `No column is of the domain ${name}.`,
        fix: { label: 'Remove the domain', edit: { kind: 'object.remove', collection: 'domains', id } }
      }))
  }
}
