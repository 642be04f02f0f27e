// What stands on what, which the server does not tell.
import type { Catalog, Column } from '../../catalog'
import { refsByWords } from '../standard'
import { mariadbLexis } from './lexis'

/** What each text stands on, by its words; a default only where it counts by a sequence, which is there before it. */
export function withRefs(catalog: Catalog): Catalog {
  const { views, routines, sequences = [], tables } = catalog
  const refsOf = refsByWords(catalog, mariadbLexis)
  const counts = refsByWords({ defaultSchema: catalog.defaultSchema, tables: [], sequences }, mariadbLexis)
  const column = (one: Column): Column =>
    one.default === undefined || sequences.length === 0 ? one : { ...one, ...counts(one.name, one.default) }
  return {
    ...catalog,
    tables: tables.map((table) => ({
      ...table,
      ...(sequences.length > 0 ? { columns: table.columns.map(column) } : {}),
      ...(table.triggers
        ? {
            triggers: table.triggers.map((one) => {
              const refs = [...(one.refs ?? []), ...(refsOf(one.name, one.definition).refs ?? [])]
              return refs.length > 0 ? { ...one, refs } : one
            })
          }
        : {})
    })),
    ...(views ? { views: views.map((one) => ({ ...one, ...refsOf(one.name, one.query) })) } : {}),
    ...(routines ? { routines: routines.map((one) => ({ ...one, ...refsOf(one.name, one.definition) })) } : {})
  }
}
