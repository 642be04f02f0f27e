import type { Check } from '../check'

export const noMeaning: Check = {
  id: 'no-meaning',
  title: 'Entity without a meaning',
  why: 'In a year, nobody knows what a row of it stands for. Asked once most entities say so.',
  grade: 'info',
  find: ({ entities }) => {
    const silent = entities.filter(({ means }) => means === undefined || means.trim() === '')
    if (silent.length * 2 > entities.length) return []
    return silent.map(({ id, name }) => ({ at: id, message: `${name} does not say what it is.` }))
  }
}
