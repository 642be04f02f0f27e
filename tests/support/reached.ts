// A database brought to what a design wants, by the plan of what differs.
import { expect } from 'vitest'
import { compose, type Catalog } from '../../src/lib/core/catalog'
import { afterRun, agree, compare } from '../../src/lib/core/compare'
import { derive, type DeriveTarget } from '../../src/lib/core/derive'
import type { Design } from '../../src/lib/core/design'
import { plan, type Migration } from '../../src/lib/core/plan'
import type { Playground } from './engines'

/** From where the database is to what a design wants: nothing differs then. Gives what is agreed. */
export async function reached(
  db: Playground,
  design: Design,
  target: DeriveTarget,
  agreed?: Catalog
): Promise<Catalog> {
  const { dialect } = db
  const { catalog: wanted, notices } = derive(design, target, dialect)
  expect(notices.filter(({ severity }) => severity === 'error')).toEqual([])
  const now = await db.live.catalog()
  const migration: Migration = plan(now, compare({ wanted, live: now, agreed }, dialect).changes, dialect)
  expect(migration.left ?? []).toEqual([])
  for (const step of migration.steps)
    await db.exec(step.statement).catch((error: unknown) => {
      throw new Error(`${step.statement}: ${String(error)}`, { cause: error })
    })
  const effects = compose(...migration.steps.map((step) => step.effects))
  const input = { wanted, live: await db.live.catalog(), agreed: agreed && afterRun(agreed, effects, dialect) }
  const next = agree(input, compare(input, dialect).changes, dialect, effects)
  expect(compare({ ...input, agreed: next }, dialect).changes).toEqual([])
  return next
}
