// What is agreed after a run, as the desk has it.
import type { Catalog, Change } from '../../src/lib/core/catalog'
import type { Dialect } from '../../src/lib/core/dialects'
import type { Migration } from '../../src/lib/core/plan'
import { catalogSession } from '../../src/lib/core/session'

interface Sides {
  readonly wanted: Catalog
  readonly live: Catalog
  readonly agreed?: Catalog | undefined
}

/** The differences that are left once a whole plan has run and what it has made is agreed on. */
export function leftAfter(migration: Migration, { wanted, live, agreed }: Sides, dialect: Dialect): Change[] {
  const session = catalogSession(wanted, {}, dialect)
  const now = session.beside({ live, agreed }).agree(migration.steps.flatMap((step) => step.effects))
  return session.beside({ live, agreed: now }).differences.map((difference) => difference.change)
}
