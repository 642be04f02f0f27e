import type { Check, Found } from '../check'

export const uniqueInKey: Check = {
  id: 'unique-in-key',
  title: 'Unique columns that hold the whole key',
  why: 'The key is unique already: the rule is kept up, and says nothing, unless a link goes to it.',
  grade: 'info',
  find: ({ entities, design }) => {
    const used = new Set(Object.values(design.links).flatMap(({ parentKey }) => parentKey ?? []))
    return entities.flatMap((entity): Found[] => {
      const key = entity.primaryKey.length > 0 ? entity.primaryKey : ['#']
      return entity.uniques
        .filter(({ id, parts }) => !used.has(id) && key.every((part) => parts.includes(part)))
        .map(({ id }) => ({
          at: id,
          message: `${entity.name}: what is said to be unique holds the whole key.`,
          fix: { label: 'Remove the rule', edit: { kind: 'part.remove', list: 'uniques', entity: entity.id, id } }
        }))
    })
  }
}
