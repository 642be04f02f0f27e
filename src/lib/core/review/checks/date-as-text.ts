import { called, columnsOf, type Check } from '../check'

export const dateAsText: Check = {
  id: 'date-as-text',
  title: 'A date or time as words',
  why: 'Any word is taken for a day, sorting goes by letters, and no length of time can be worked out.',
  grade: 'warning',
  find: (subject) =>
    columnsOf(subject)
      .filter(([, { name, type }]) => {
        const words = type.kind === 'text' || type.kind === 'char'
        return words && /(^|[\s_])(date|day of \w+|time|timestamp)$|[\s_](at|on)$/i.test(name)
      })
      .map(([entity, attribute]) => ({
        at: attribute.id,
        message: `${called(entity, attribute)} sounds like a date or a time, and is held as text.`
      }))
}
