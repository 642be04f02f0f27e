import { wordsOf } from '../../naming'
import { alike, type Check } from '../check'

/** `Vessels` and `vessel` are one word to most readers. */
const spoken = (name: string) =>
  wordsOf(name)
    .map((word) =>
      word
        .toLowerCase()
        .replace(/(?<=[a-z]{3})(?:ies)$/, 'y')
        .replace(/(?<=[a-z]{2}[^s])s$/, '')
    )
    .join('')

export const similarNames: Check = {
  id: 'similar-names',
  title: 'Names that are nearly the same',
  why: 'Two things of nearly one name are mistaken for each other, in talk and in queries.',
  grade: 'warning',
  find: ({ entities, design }) => [
    ...alike([...entities, ...Object.values(design.views)], ({ name }) => spoken(name)).flatMap(([first, ...others]) =>
      others.map(({ id, name }) => ({ at: id, message: `${name} is called nearly as ${first?.name ?? ''} is.` }))
    ),
    ...entities.flatMap((entity) =>
      alike(entity.attributes, ({ name }) => spoken(name)).flatMap(([first, ...others]) =>
        others.map(({ id, name }) => ({
          at: id,
          message: `${entity.name} has ${first?.name ?? ''} and ${name}: they are called nearly the same.`
        }))
      )
    )
  ]
}
