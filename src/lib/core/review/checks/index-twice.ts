import type { Check, Found } from '../check'

export const indexTwice: Check = {
  id: 'index-twice',
  title: 'An index that another one makes needless',
  why: 'It is kept up with each change, and no query needs it.',
  grade: 'warning',
  find: ({ entities, logical }) =>
    entities.flatMap((entity): Found[] => {
      // A subtype has the key of what it is a kind of, whatever it says of its own.
      const key = logical(entity.id)?.subtypeOf ? [] : entity.primaryKey
      const leads = [
        ...[key, ...entity.uniques.map(({ parts }) => parts)].map((parts, i) => ({
          id: `key ${i}`,
          what: i === 0 ? 'the key' : 'what is unique',
          some: false,
          parts: parts.map((id) => `${id} +`).join('\n')
        })),
        ...entity.indexes.map(({ id, parts, where }) => ({
          id,
          what: 'another index',
          some: where !== undefined,
          parts: parts.map((part) => `${part.id} ${part.descending ? '-' : '+'}`).join('\n')
        }))
      ]
      return entity.indexes.flatMap(({ id, unique, name }, at): Found[] => {
        const own = leads.find((lead) => lead.id === id)?.parts ?? ''
        if (unique || own === '') return []
        const other = leads.find((lead) => {
          const later = entity.indexes.findIndex((index) => index.id === lead.id) > at
          // One of some rows only is none of the others.
          return lead.id !== id && !lead.some && (lead.parts === own ? !later : lead.parts.startsWith(`${own}\n`))
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
