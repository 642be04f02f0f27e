import type { Check } from '../check'

/** In how many of a hundred entities a column must be before it is missed in the others. */
const USUAL = 80

export const missingFromOne: Check = {
  id: 'missing-from-one',
  title: 'A column that nearly every entity has',
  why: 'What all tables but one can say, somebody will ask of that one too.',
  grade: 'info',
  find: ({ entities }) => {
    if (entities.length < 5) return []
    const having = new Map<string, number>()
    for (const { attributes } of entities)
      for (const name of new Set(attributes.map((one) => one.name.toLowerCase())))
        having.set(name, (having.get(name) ?? 0) + 1)
    const usual = [...having].filter(([, n]) => n < entities.length && n * 100 >= entities.length * USUAL)
    return usual.flatMap(([name, n]) =>
      entities
        .filter(({ attributes }) => !attributes.some((one) => one.name.toLowerCase() === name))
        .map((entity) => ({
          at: entity.id,
          message: `${entity.name} has no ${name}, which ${n} of ${entities.length} entities have.`
        }))
    )
  }
}
