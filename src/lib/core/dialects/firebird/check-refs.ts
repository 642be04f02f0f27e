// What checks stand on beside their own tables: "CHECK", a rule may look into others, which are there before it.
import type { Catalog, Check, Ref } from '../../catalog'
import type { Lexis } from '../../sql'
import { refsByWords } from '../standard'

/** Of all that a check stands on, what is of other tables than its own. */
export function beyond(table: string, all: readonly Ref[] = []): { readonly refs?: readonly Ref[] } {
  const refs = all.filter(({ to }) => to.path[1] !== table)
  return refs.length > 0 ? { refs } : {}
}

/** By its words, where nobody tells. */
export function withCheckRefs(catalog: Catalog, lexis: Lexis): Catalog {
  const looks = ({ expression }: Check) => /\bselect\b/i.test(expression)
  if (!catalog.tables.some(({ checks }) => checks.some(looks))) return catalog
  const refsOf = refsByWords(catalog, lexis)
  return {
    ...catalog,
    tables: catalog.tables.map((table) => ({
      ...table,
      checks: table.checks.map((check) =>
        looks(check) ? { ...check, ...beyond(table.name, refsOf(table.name, check.expression).refs) } : check
      )
    }))
  }
}
