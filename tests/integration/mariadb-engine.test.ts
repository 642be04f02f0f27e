// What MariaDB has of its own in a table is read, written and kept when something else of it changes, asked of the server.
import { afterAll, beforeAll, expect, it } from 'vitest'
import { readType, type Catalog } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { writeScript, plan } from '../../src/lib/core/plan'
import { throughDesign } from '../support/adopted'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

const engine = ENGINES_UNDER_TEST.find(({ id }) => id === 'mariadb')
let db: Playground
beforeAll(async () => {
  if (engine && !engine.lacking) db = await engine.open()
}, 60_000)
afterAll(() => db?.close())

const vessel = `CREATE TABLE vessel (
  id int PRIMARY KEY,
  path varchar(20) NOT NULL DEFAULT 'x\\\\',
  quoted varchar(20) NOT NULL DEFAULT 'it''s \\"so\\"',
  code varchar(20) CHARACTER SET latin1 COLLATE latin1_bin,
  kind enum('Bulk','Tanker') COLLATE utf8mb4_bin,
  seen varchar(20) AS (concat(code, '!')) VIRTUAL,
  kept varchar(20) AS (concat(code, '?')) STORED,
  notes text,
  FULLTEXT KEY words (notes),
  KEY begins (notes(10))
)`
const shown = async () => String((await db.live.query('SHOW CREATE TABLE vessel')).rows[0]?.[1])

it.skipIf(engine?.lacking)('a table is the same when it is written again', async () => {
  await db.reset()
  await db.exec(vessel)
  const before = await shown()
  const live = await db.live.catalog()
  expect(live.tables[0]?.columns.find((c) => c.name === 'path')?.default).toBe(`'x\\\\'`)
  await db.reset()
  for (const { sql } of writeScript(live, db.dialect)) await db.exec(sql)
  expect(await shown()).toBe(before)
  expect(compare({ wanted: live, live: await db.live.catalog() }, db.dialect).changes).toEqual([])
})

it.skipIf(engine?.lacking)(
  'bytes that a default is filled up with, and the beginning of a column in a key, are kept, by way of a design file too',
  async () => {
    const token = `CREATE TABLE token (id tinyblob NOT NULL, no int, value binary(5) NOT NULL DEFAULT 'a', PRIMARY KEY (no, id(100)))`
    await db.reset()
    await db.exec(token)
    const live = await db.live.catalog()
    const wanted = throughDesign(live, db.dialect)
    expect(compare({ wanted, live }, db.dialect).changes).toEqual([])
    await db.reset()
    for (const { sql } of writeScript(wanted, db.dialect)) await db.exec(sql)
    expect(compare({ wanted: live, live: await db.live.catalog() }, db.dialect).changes).toEqual([])
  }
)

it.skipIf(engine?.lacking)('what a column is compared by stays when its type changes', async () => {
  await db.reset()
  await db.exec(vessel)
  await db.exec(`INSERT INTO vessel (id, code, kind) VALUES (1, 'N1', 'Bulk')`)
  const live = await db.live.catalog()
  const wanted: Catalog = {
    ...live,
    partial: true,
    tables: live.tables.map((t) => ({
      ...t,
      // A design says nothing of collations.
      columns: t.columns.map(({ collation: _, ...c }) => ({
        ...c,
        type: c.name === 'code' ? readType('varchar(30)') : c.type,
        ...(c.name === 'kept' ? { generated: undefined } : {})
      }))
    })) as Catalog['tables']
  }
  const migration = plan(live, compare({ wanted, live }, db.dialect).changes, db.dialect)
  for (const { statement } of migration.steps) await db.exec(statement)
  const now = await db.live.catalog()
  expect(now.tables[0]?.columns.find((c) => c.name === 'code')).toMatchObject({
    type: readType('varchar(30)'),
    collation: 'latin1_bin'
  })
  expect(compare({ wanted, live: now }, db.dialect).changes).toEqual([])
  // A stored column that is no longer computed keeps what it had.
  expect((await db.live.query('SELECT kept, seen FROM vessel')).rows).toEqual([['N1?', 'N1!']])
})

it.skipIf(engine?.lacking)('a run is strict whatever the session was told, and leaves it as it was', async () => {
  await db.reset()
  await db.exec(`CREATE TABLE vessel (id int NOT NULL, name varchar(40))`)
  await db.exec(`INSERT INTO vessel VALUES (0, 'Grey Heron'), (5, 'Sturdy')`)
  const live = await db.live.catalog()
  const wantedWith = (name: string, set: object): Catalog => ({
    ...live,
    tables: live.tables.map((t) => ({
      ...t,
      primaryKey: { name: 'PRIMARY', columns: ['id'] },
      columns: t.columns.map((c) => (c.name === name ? { ...c, ...set } : c))
    }))
  })
  const steps = (wanted: Catalog) =>
    plan(live, compare({ wanted, live }, db.dialect).changes, db.dialect).steps.map((step) => step.statement)
  await db.live.query(`SET SESSION sql_mode = 'NO_BACKSLASH_ESCAPES'`)
  const refused = (await db.live.run(steps(wantedWith('name', { type: readType('varchar(5)') })))).find((o) => o.error)
  expect(refused?.error?.message).toMatch(/truncated/i)
  expect((await db.live.query('SELECT name FROM vessel')).rows).toContainEqual(['Grey Heron'])
  expect((await db.live.query('SELECT @@SESSION.sql_mode')).rows).toEqual([['NO_BACKSLASH_ESCAPES']])
  // The row called 0 is called 0 still, now that the engine gives the numbers.
  await db.reset()
  await db.exec(`CREATE TABLE vessel (id int NOT NULL, name varchar(40))`)
  await db.exec(`INSERT INTO vessel VALUES (0, 'Grey Heron'), (5, 'Sturdy')`)
  const outcomes = await db.live.run(steps(wantedWith('id', { identity: 'by default' })))
  expect(outcomes.flatMap((outcome) => outcome.error?.message ?? [])).toEqual([])
  expect((await db.live.query('SELECT id FROM vessel ORDER BY id')).rows).toEqual([[0], [5]])
})
