import type { Check } from '../check'

export const optionalUnique: Check = {
  id: 'optional-unique',
  title: 'Unique, and may be empty',
  why: 'Engines do not agree on empty values: in most, any number of rows may be without one all the same.',
  grade: 'info',
  find: ({ entities, design }) =>
    entities.flatMap((entity) =>
      entity.uniques.flatMap(({ id, parts }) => {
        const names = parts.flatMap((part) => {
          const attribute = entity.attributes.find((one) => one.id === part)
          if (attribute) return attribute.required ? [] : [attribute.name]
          const link = design.links[part]
          return link && !link.parentRequired && !link.identifying
            ? [link.role ?? design.entities[link.parent]?.name.toLowerCase() ?? '']
            : []
        })
        return names.length === 0
          ? []
          : [{ at: id, message: `${entity.name}: ${names.join(', ')} may be empty, and is part of what is unique.` }]
      })
    )
}
