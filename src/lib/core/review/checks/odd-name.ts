import type { Check } from '../check'

export const oddName: Check = {
  id: 'odd-name',
  title: 'A database name that must be quoted',
  why: 'A name with blanks, marks or large letters is only found when it is quoted, in each query, for ever.',
  grade: 'info',
  find: ({ derived: { catalog }, engine }) => {
    const { quote } = engine.write
    const isOdd = (name: string) => quote(name) !== name && !engine.profile.names.reserved.has(name.toLowerCase())
    return catalog.tables.flatMap(({ name, origin, columns }) => [
      ...(origin && isOdd(name) ? [{ at: origin.id, message: `The table is called ${quote(name)}.` }] : []),
      ...columns.flatMap((column) =>
        column.origin && isOdd(column.name)
          ? [{ at: column.origin.id, message: `A column of ${name} is called ${quote(column.name)}.` }]
          : []
      )
    ])
  }
}
