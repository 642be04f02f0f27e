import { typeText } from '../../catalog'
import { printType } from '../../types'
import { called, columnsOf, type Check, type Found } from '../check'

export const narrowerType: Check = {
  id: 'narrower-type',
  title: 'The engine’s type holds less',
  why: 'Values that the design allows are cut or refused there.',
  grade: 'warning',
  find: (subject) => {
    const { engine } = subject
    return columnsOf(subject).flatMap(([entity, attribute]): Found[] => {
      const { grade, type, note } = engine.types.fromNeutral(attribute.type)
      if (grade !== 'narrower' && grade !== 'impossible') return []
      const own = `${printType(attribute.type)} is ${typeText(type)} in ${engine.profile.label}`
      return [{ at: attribute.id, message: `${called(entity, attribute)}: ${own}${note ? `; ${note}` : ''}.` }]
    })
  }
}
