// What MariaDB does with values when a column gets another type, asked of the server in its strict mode: every pair of
// types with values at their edges either keeps what the value means, says that it loses, or fails as was foretold.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { plan } from '../../src/lib/core/plan'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

const engine = ENGINES_UNDER_TEST.find(({ id }) => id === 'mariadb')

/** Values at the edges of each type. */
const types: Readonly<Record<string, readonly string[]>> = {
  tinyint: ['1', '-128', '127'],
  smallint: ['-32768', '32767'],
  int: ['70000', '-2147483648', '2147483647'],
  bigint: ['9000000000', '-9223372036854775808'],
  'decimal(4,1)': ['1.5', '999.9', '-0.4'],
  'decimal(12,4)': ['1.0005', '12345678.4321', '-0.5'],
  double: ['1.5', '2.5', '1e10', '1e300', '-0.5'],
  'varchar(6)': ["'a'", "'sixsix'", "''", "'b '"],
  'varchar(20)': ["'a longer text'", "'42'"],
  'char(6)': ["'ab'", "'sixsix'"],
  longtext: ["'any text at all, and more'"],
  date: ["'2024-02-29'"],
  'datetime(6)': ["'2024-02-29 12:30:00.25'", "'2024-02-29 00:00:00'"],
  'datetime(0)': ["'2024-02-29 12:30:00'"],
  uuid: ["'00000000-0000-4000-8000-000000000001'"]
}
const pairs = Object.keys(types).flatMap((from) => Object.keys(types).map((to) => [from, to] as const))

describe.skipIf(engine?.lacking)('MariaDB', () => {
  let db: Playground
  beforeAll(async () => {
    if (engine) db = await engine.open()
  }, 60_000)
  afterAll(() => db?.close())

  /** What stands in the column, as text. */
  const value = async () => String((await db.live.query('SELECT CAST(c AS char) FROM vessel')).rows[0]?.[0])

  it('keeps what a value means through a change of type, or says beforehand that it does not', async () => {
    const told = { kept: 0, foretold: 0, lost: 0, anew: 0 }
    await db.reset()
    for (const [from, to] of pairs.filter(([a, b]) => a !== b))
      for (const written of types[from] ?? []) {
        const what = `${written}: ${from} to ${to}`
        await db.exec(`CREATE TABLE vessel (id int PRIMARY KEY, c ${from})`)
        await db.exec(`INSERT INTO vessel VALUES (1, ${written})`)
        const before = await value()
        const live = await db.live.catalog()
        const wanted: Catalog = {
          ...live,
          tables: live.tables.map((t) => ({
            ...t,
            columns: t.columns.map((c) => (c.name === 'c' ? { ...c, type: to } : c))
          }))
        }
        const { steps } = plan(live, compare({ wanted, live }, db.dialect).changes, db.dialect)
        const hazards = steps.flatMap((step) => step.hazards.map(({ kind }) => kind))
        const anew = steps.some((step) => step.statement.includes('DROP COLUMN'))
        let failed = false
        for (const step of steps) {
          const count = step.preflight ? Number((await db.live.query(step.preflight.count)).rows[0]?.[0]) : 0
          const [outcome] = await db.live.run([step.statement])
          failed ||= outcome?.ok === false
          expect(outcome?.ok, `${what}, ${step.statement}: ${outcome?.error?.message ?? 'ran'}`).toBe(count === 0)
        }
        // A number is the same in other digits, a moment with or without noughts behind it, a text without blanks.
        const after = failed ? before : await value()
        const same =
          after === before ||
          after.trim() === before.trim() ||
          (!/char|text/.test(from + to) && !/date/.test(from + to) && Number(after) === Number(before)) ||
          (/date/.test(from + to) &&
            Date.parse(`${after}Z`.replace(' ', 'T')) === Date.parse(`${before}Z`.replace(' ', 'T')))
        if (failed) {
          told.foretold++
          expect(hazards, what).toContain('may fail')
        } else if (anew) {
          told.anew++
          expect(hazards, what).toContain('loses data')
        } else if (same) told.kept++
        else {
          told.lost++
          expect(hazards, `${what} became ${after}, was ${before}`).toContain('loses data')
        }
        await db.exec('DROP TABLE vessel')
      }
    console.log(
      `MariaDB: ${told.kept} values kept, ${told.foretold} refused as foretold, ${told.lost} lost something as was said, ${told.anew} in columns made anew`
    )
    expect(told.kept).toBeGreaterThan(100)
    expect(told.foretold).toBeGreaterThan(30)
    expect(told.lost).toBeGreaterThan(5)
  }, 300_000)
})
