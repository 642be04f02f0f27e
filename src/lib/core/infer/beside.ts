// Tables that are in a database and not of its own: what another program keeps there for itself.
import { tableKey, type Catalog, type Relation } from '../catalog'
import { MADE_BY } from '../dialects'
import { commonPrefix, singular, wordsOf } from './words'

export interface Beside {
  readonly table: Relation
  readonly why: string
}

/** What tells how far a database's schema has come, as its whole name or at the end of it: common practice, no source. */
const WHOLE = /^(version|changelog|upgrade)$/
const END =
  /^((schema|db|database)(version|changelog|history|info|log|upgrade|migration)|migration)(lock|history|log|info|record)?$/

/** More columns than these, and it is about something else. */
const FEW = 10

/** Each with its reason; they are left out unless a person wants them. */
export function besideTheModel({ tables }: Catalog): Beside[] {
  const linked = new Set(
    tables.flatMap(({ foreignKeys }) => foreignKeys.map(({ references: { schema, table } }) => tableKey(schema, table)))
  )
  const prefix = commonPrefix(tables.map(({ name }) => name))
  const names = new Set(tables.map(({ name }) => name))
  return tables.flatMap(({ schema, name, columns, foreignKeys, options }): Beside[] => {
    const table = { schema, name }
    const maker = options?.[MADE_BY]
    if (maker !== undefined && names.has(maker)) return [{ table, why: `${maker} makes it and keeps it for itself` }]
    const words = wordsOf(name).filter((word, i) => i > 0 || word !== prefix)
    const alone = foreignKeys.length === 0 && !linked.has(tableKey(schema, name))
    const record =
      WHOLE.test(words.map(singular).join('')) || words.some((_, i) => END.test(words.slice(i).map(singular).join('')))
    return alone && record && columns.length <= FEW
      ? [{ table, why: 'it tells how far the schema has come, for a program that changes it' }]
      : []
  })
}
