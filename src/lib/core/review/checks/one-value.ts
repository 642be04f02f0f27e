import { called, columnsOf, type Check } from '../check'

export const oneValue: Check = {
  id: 'one-value',
  title: 'One value to choose from',
  why: 'A column that can hold one value alone says nothing.',
  grade: 'info',
  find: (subject) =>
    columnsOf(subject)
      .filter(([, { type, required }]) => type.kind === 'oneOf' && type.values.length === 1 && required)
      .map(([entity, attribute]) => ({
        at: attribute.id,
        message: `${called(entity, attribute)} is always the same value.`
      }))
}
