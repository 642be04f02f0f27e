import { alike, type Check } from '../check'

export const numberedColumns: Check = {
  id: 'numbered-columns',
  title: 'Columns that are numbered through',
  why: 'Phone 1, phone 2, phone 3: the fourth has no place, and each query asks three times. They are rows of another entity.',
  grade: 'info',
  find: ({ entities }) =>
    entities.flatMap((entity) => {
      const numbered = entity.attributes.filter(({ name }) => /\D\s*\d{1,2}$/.test(name))
      return alike(numbered, ({ name }) => name.replace(/\s*\d+$/, '').toLowerCase())
        .filter((lot) => lot.length > 2)
        .map(([first, ...others]) => ({
          at: first?.id ?? entity.id,
          message: `${entity.name} has ${[first, ...others].map((one) => one?.name ?? '').join(', ')}.`
        }))
    })
}
