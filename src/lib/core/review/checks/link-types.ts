import { sameValue } from '../../catalog'
import { printType } from '../../types'
import { called, settingOf, type Check, type Found } from '../check'

export const linkTypes: Check = {
  id: 'link-types',
  title: 'A link’s columns are of different types',
  why: 'Some engines refuse such a foreign key, others convert each value whenever they compare.',
  grade: 'warning',
  find: ({ design, logical }) =>
    Object.values(design.entities).flatMap((child) =>
      (logical(child.id)?.foreignKeys ?? []).flatMap(({ link, pairs }): Found[] =>
        pairs.flatMap(({ parent, child: own }): Found[] => {
          const { attribute } = own
          const there = design.entities[link.parent]
          if (!attribute || !there || sameValue(own.type, parent.type)) return []
          const to = printType(parent.type)
          return [
            {
              at: attribute.id,
              message: `${called(child, attribute)} is ${printType(own.type)}, and ${parent.name} of ${there.name}, to which it leads, is ${to}.`,
              ...(attribute.domain === undefined
                ? { fix: settingOf(child, attribute, { type: parent.type }, `Make it ${to}`) }
                : {})
            } as Found
          ]
        })
      )
    )
}
