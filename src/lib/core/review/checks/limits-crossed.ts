import { called, columnsOf, type Check } from '../check'

export const limitsCrossed: Check = {
  id: 'limits-crossed',
  title: 'No value lies between the limits',
  why: 'Each row is refused.',
  grade: 'warning',
  find: (subject) =>
    columnsOf(subject)
      .filter(([, { min, max }]) => min !== undefined && max !== undefined && min > max)
      .map(([entity, attribute]) => ({
        at: attribute.id,
        message: `${called(entity, attribute)}: the least is ${attribute.min ?? ''}, the most ${attribute.max ?? ''}.`
      }))
}
