import { parseDefault } from '../../derive'
import { called, columnsOf, settingOf, type Check, type Found } from '../check'

export const defaultOutside: Check = {
  id: 'default-outside',
  title: 'A default that the column itself refuses',
  why: 'Each row that leaves the column out is refused.',
  grade: 'warning',
  find: (subject) =>
    columnsOf(subject).flatMap(([entity, attribute]): Found[] => {
      const { default: text, type, min, max } = attribute
      if (text === undefined) return []
      const read = parseDefault(text, type)
      const number = Number(text)
      const isNumber = text.trim() !== '' && !Number.isNaN(number)
      const why = !read.ok
        ? 'is no value of its type'
        : isNumber && min !== undefined && number < min
          ? `is less than ${min}`
          : isNumber && max !== undefined && number > max
            ? `is more than ${max}`
            : undefined
      if (why === undefined) return []
      const fix = settingOf(entity, attribute, { default: undefined }, 'Take the default out')
      return [
        {
          at: attribute.id,
          message: `${called(entity, attribute)}: the default ${text} ${why}.`,
          ...(fix ? { fix } : {})
        }
      ]
    })
}
