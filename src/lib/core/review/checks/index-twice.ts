import type { Check, Found } from '../check'

export const indexTwice: Check = {
  id: 'index-twice',
  title: 'An index that another one makes needless',
  why: 'It is kept up with each change, and no query needs it.',
  grade: 'warning',
  find: ({ entities }) =>
    entities.flatMap((entity): Found[] => {
      const leads = [
        ...[entity.primaryKey, ...entity.uniques.map(({ parts }) => parts)].map((parts, i) => ({
          id: `key ${i}`,
          what: i === 0 ? 'the key' : 'what is unique',
          parts: parts.map((id) => `${id} +`).join('\n')
        })),
        ...entity.indexes.map(({ id, parts }) => ({
          id,
          what: 'another index',
          parts: parts.map((part) => `${part.id} ${part.descending ? '-' : '+'}`).join('\n')
        }))
      ]
      return entity.indexes.flatMap(({ id, unique, name }, at): Found[] => {
        const own = leads.find((lead) => lead.id === id)?.parts ?? ''
        if (unique || own === '') return []
        const other = leads.find((lead) => {
          const later = entity.indexes.findIndex((index) => index.id === lead.id) > at
          return lead.id !== id && (lead.parts === own ? !later : lead.parts.startsWith(`${own}\n`))
        })
        if (!other) return []
        return [
          {
            at: id,
            message: `${entity.name}: the index${name === undefined ? '' : ` ${name}`} says no more than ${other.what} does.`,
            fix: { label: 'Remove the index', edit: { kind: 'part.remove', list: 'indexes', entity: entity.id, id } }
          }
        ]
      })
    })
}
