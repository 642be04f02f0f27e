import { printType } from '../../types'
import { alike, called, columnsOf, type Check } from '../check'

export const sameNameOtherType: Check = {
  id: 'same-name-other-type',
  title: 'One name, different types',
  why: 'Columns of one name are compared and copied into each other: a longer value is cut, or a join converts each row.',
  grade: 'info',
  find: (subject) => {
    const known = columnsOf(subject).filter(([, { type }]) => type.kind !== 'oneOf' && type.kind !== 'native')
    return alike(known, ([, { name }]) => name.toLowerCase()).flatMap((lot) => {
      const count = new Map<string, number>()
      for (const [, { type }] of lot) count.set(printType(type), (count.get(printType(type)) ?? 0) + 1)
      const [[usual, most] = ['', 0], [, next] = ['', 0]] = [...count].sort((a, b) => b[1] - a[1])
      // Where no type is the usual one, there is no odd one out.
      if (count.size < 2 || most === next) return []
      return lot
        .filter(([, { type }]) => printType(type) !== usual)
        .map(([entity, attribute]) => ({
          at: attribute.id,
          message: `${called(entity, attribute)} is ${printType(attribute.type)}; ${most} others of that name are ${usual}.`
        }))
    })
  }
}
