import type { Check, Found } from '../check'

export const reservedName: Check = {
  id: 'reserved-name',
  title: 'A word that the engine has for itself',
  why: 'Each query must quote it, and the one that does not is refused.',
  grade: 'warning',
  find: ({ derived, design, engine }) => {
    const names = new Map<string, { readonly word: string; readonly better: string }>()
    const meet = (id: string | undefined, word: string, better: string) => {
      if (id !== undefined && engine.profile.names.reserved.has(word.toLowerCase())) names.set(id, { word, better })
    }
    for (const { origin, name, columns } of derived.catalog.tables) {
      meet(origin?.id, name, `${name}_list`)
      for (const column of columns) meet(column.origin?.id, column.name, `${name}_${column.name}`)
    }
    return [...names].flatMap(([at, { word, better }]): Found[] =>
      design.links[at]
        ? []
        : [
            {
              at,
              message: `“${word}” is a word of ${engine.profile.label}’s own: ${better} would not be.`
            }
          ]
    )
  }
}
