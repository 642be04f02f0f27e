// What stands in a database of documents, as a design: brought in whole, and taken change by change.
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { edits } from '../../../../tests/support/designs'
import { DOCUMENTS, emptyStandIn } from '../../../../tests/support/documents'
import { adopt, take } from '../../core/adopt'
import { compare } from '../../core/compare'
import { derive } from '../../core/derive'
import { allAttributes, branches, edit, newTarget } from '../../core/design'
import { dialect as dialectOf, type Dialect } from '../../core/dialects'
import { writeScript } from '../../core/plan'

const dialect = dialectOf('mongodb') as Dialect
const HERE = { subtypeTables: {}, schemas: {} }
const target = newTarget('archive', { engine: 'mongodb' })

it('is brought in as what it holds, to any depth, and is wanted as it is', async () => {
  await fc.assert(
    fc.asyncProperty(edits, async (makes) => {
      const design = makes.reduce((now, make) => edit(now, make(now)), DOCUMENTS)
      const { catalog } = derive(design, HERE, dialect)
      const live = await emptyStandIn()
      await live.run(writeScript(catalog, dialect).map(({ sql }) => sql))
      const there = await live.catalog()
      const brought = adopt(there, dialect, { name: 'Archive', target: 'archive' }).design
      const [own] = Object.values(brought.targets)
      const wanted = derive(brought, own ?? HERE, dialect).catalog
      expect(compare({ wanted, live: there }, dialect).changes).toEqual([])
      const depths = (one: typeof design) =>
        Object.values(one.entities)
          .flatMap((entity) => branches(entity).filter(({ depth }) => depth > 0))
          .map(({ attribute, depth }) => `${depth} ${attribute.dbName ?? attribute.name}`).length
      const shown = there.tables.flatMap(({ columns }) => columns.filter(({ name }) => name.includes('.'))).length
      expect(depths(brought)).toBe(shown)
    }),
    { numRuns: 100 }
  )
}, 120_000)

it('that was changed there is taken into the design, but for what it has no words for', async () => {
  let [taken, refused] = [0, 0]
  await fc.assert(
    fc.asyncProperty(edits, edits, async (first, then) => {
      const before = first.slice(0, 3).reduce((now, make) => edit(now, make(now)), DOCUMENTS)
      const after = then.slice(0, 3).reduce((now, make) => edit(now, make(now)), before)
      const wanted = derive(before, HERE, dialect).catalog
      const live = await emptyStandIn()
      await live.run(writeScript(derive(after, HERE, dialect).catalog, dialect).map(({ sql }) => sql))
      const there = await live.catalog()
      const { changes } = compare({ wanted, live: there, agreed: wanted }, dialect)
      const result = take({ design: before, target, changes, wanted }, dialect)
      const now = derive(edit(before, result.edit), HERE, dialect).catalog
      const left = compare({ wanted: now, live: there }, dialect).changes
      // What is not taken is all that still differs.
      expect(left.length === 0 || result.refused.length > 0).toBe(true)
      taken += result.taken.length
      refused += result.refused.length
      expect(Object.values(before.entities).flatMap(allAttributes).length).toBeGreaterThan(0)
    }),
    { numRuns: 100 }
  )
  expect(taken).toBeGreaterThan(refused)
}, 120_000)
