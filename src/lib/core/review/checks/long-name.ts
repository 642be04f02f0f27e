import type { Check } from '../check'

export const longName: Check = {
  id: 'long-name',
  title: 'A name that the engine cuts',
  why: 'What it is called there cannot be told from its name here.',
  grade: 'info',
  find: ({ derived }) =>
    derived.notices.flatMap(({ code, where, message }) =>
      code === 'name-shortened' && where !== undefined ? [{ at: where, message }] : []
    )
}
