import { called, columnsOf, settingOf, type Check } from '../check'

/** Codes are shorter; common practice, no source. */
const CODE = 16

export const longChar: Check = {
  id: 'long-char',
  title: 'Long text of a fixed length',
  why: 'Shorter values are filled up with blanks, which come back with them, or are not told apart from none.',
  grade: 'info',
  find: (subject) =>
    columnsOf(subject).flatMap(([entity, attribute]) => {
      const { type, domain } = attribute
      if (type.kind !== 'char' || type.length <= CODE || domain !== undefined) return []
      const { length } = type
      return [
        {
          at: attribute.id,
          message: `${called(entity, attribute)} is always ${length} characters long.`,
          fix: settingOf(entity, attribute, { type: { kind: 'text', length } }, `Make it text(${length})`)
        }
      ]
    })
}
