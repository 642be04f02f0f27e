import type { Check } from '../check'

/** Common practice, no source. */
const MANY = 40

export const wideEntity: Check = {
  id: 'wide-entity',
  title: 'Entity with very many columns',
  why: 'It is most often several things in one; each change locks and copies all of them.',
  grade: 'info',
  find: ({ entities }) =>
    entities
      .filter(({ attributes }) => attributes.length > MANY)
      .map(({ id, name, attributes }) => ({ at: id, message: `${name} has ${attributes.length} columns.` }))
}
