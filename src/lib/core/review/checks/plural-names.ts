import type { Check } from '../check'

/** As far as that can be told of a word: `vessels`, not `status` or `address`. */
const isPlural = (name: string) => /[^aious]s$/i.test(name) && !/(news|series|species|lens|gas)$/i.test(name)

export const pluralNames: Check = {
  id: 'plural-names',
  title: 'Some names are plural, most are not',
  why: 'Where names follow no rule, each has to be looked up.',
  grade: 'info',
  find: ({ entities }) => {
    const plural = entities.filter(({ name }) => isPlural(name))
    const few = plural.length * 2 <= entities.length ? plural : entities.filter(({ name }) => !isPlural(name))
    if (entities.length < 4 || few.length > entities.length / 4) return []
    const word = few === plural ? 'plural' : 'singular'
    return few.map(({ id, name }) => ({ at: id, message: `${name} is ${word}, unlike most entities here.` }))
  }
}
