import { isNumber } from '../../types'
import { called, columnsOf, settingOf, type Check, type Found } from '../check'

export const limitOnWords: Check = {
  id: 'limit-on-words',
  title: 'Limits of a column that is no number',
  why: 'Words are compared letter by letter: “9” is more than “10”.',
  grade: 'warning',
  find: (subject) =>
    columnsOf(subject)
      .filter(([, { type, min, max }]) => (min !== undefined || max !== undefined) && !isNumber(type))
      .filter(([, { type }]) => type.kind !== 'native')
      .map(([entity, attribute]) => {
        const fix = settingOf(entity, attribute, { min: undefined, max: undefined }, 'Take the limits out')
        return {
          at: attribute.id,
          message: `${called(entity, attribute)} has limits, and is no number.`,
          ...(fix ? { fix } : {})
        } satisfies Found
      })
}
