import type { Key, Table } from '../../catalog'
import type { KeyRoom } from '../../dialects'
import type { Check, Found } from '../check'

const partsOf = ({ columns, parts = [] }: Key) => columns.map((column, i) => ({ column, ...parts[i] }))

/** What is kept in order by its bytes: keys, indexes, and what an engine keeps for a foreign key. */
const keysOf = ({ primaryKey, uniques, indexes, foreignKeys }: Table) => [
  ...(primaryKey ? [{ ...primaryKey, kind: 'primaryKey' as const, parts: partsOf(primaryKey) }] : []),
  ...uniques.map((key) => ({ ...key, kind: 'unique' as const, parts: partsOf(key) })),
  ...indexes.flatMap((index) =>
    index.method === 'fulltext' || index.method === 'spatial' ? [] : [{ ...index, kind: 'index' as const }]
  ),
  ...foreignKeys.map((fk) => ({ ...fk, kind: 'foreignKey' as const, parts: fk.columns.map((column) => ({ column })) }))
]

const count = (bytes: number): string => bytes.toLocaleString('en')

const said = ({ bytes, most, widest, mostOfOne }: KeyRoom): string | undefined => {
  if (bytes > most) return `takes ${count(bytes)} bytes of the ${count(most)} that a key may have`
  return widest > mostOfOne
    ? `has a column of ${count(widest)} bytes, of ${count(mostOfOne)} that one may have in a key here`
    : undefined
}

export const keyTooLong: Check = {
  id: 'key-too-long',
  title: 'A key of too many bytes',
  why: 'The engine refuses it, and whoever makes the table or the index hears of it only then.',
  grade: 'error',
  find: ({ derived, engine }) =>
    derived.catalog.tables.flatMap((table) =>
      keysOf(table).flatMap(({ name, origin, kind, parts }): Found[] => {
        const room = engine.keyRoom?.(table, parts, kind)
        const what = room && said(room)
        const at = origin?.id ?? table.origin?.id
        if (what === undefined || at === undefined) return []
        return [
          { at, message: `${table.name}: ${name} ${what}. Shorter columns, or only the beginning of one, take less.` }
        ]
      })
    )
}
