// What changes of a table cost, asked of a server: a statement that is said to write no row again is carried out under ALGORITHM=NOCOPY, one
// that is said to do so is refused there ("InnoDB Online DDL Overview", "ALTER TABLE, ALGORITHM").
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { plan } from '../../src/lib/core/plan'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

const engine = ENGINES_UNDER_TEST.find(({ id }) => id === 'mariadb')

const START = [
  'CREATE TABLE berth (code varchar(8) NOT NULL PRIMARY KEY)',
  `CREATE TABLE visit (
    id int NOT NULL, berth varchar(8), note varchar(40) DEFAULT 'none', tons int, held int NOT NULL DEFAULT 1, state enum('due','in') NOT NULL,
    KEY ix_visit_tons (tons), CONSTRAINT ck_visit_tons CHECK (tons > 0), KEY ix_visit_berth (berth))`
]
/** What becomes of the table, each by itself. */
const CHANGES = [
  'ADD COLUMN mark varchar(8)',
  "ADD COLUMN first_seen date NOT NULL DEFAULT '2026-01-01' FIRST",
  'ADD COLUMN double_tons int AS (tons * 2) VIRTUAL',
  'ADD COLUMN stored_tons int AS (tons * 2) STORED',
  'DROP COLUMN note',
  'RENAME COLUMN note TO words',
  "MODIFY note varchar(40) DEFAULT 'some'",
  "MODIFY note varchar(40) DEFAULT 'none' COMMENT 'what was said'",
  "MODIFY note varchar(60) DEFAULT 'none'",
  "MODIFY note varchar(400) DEFAULT 'none'",
  "MODIFY note varchar(20) DEFAULT 'none'",
  "MODIFY note varchar(40) NOT NULL DEFAULT 'none'",
  'MODIFY held int NULL DEFAULT 1',
  'MODIFY tons bigint',
  'MODIFY tons int unsigned',
  "MODIFY state enum('due','in','gone') NOT NULL",
  "MODIFY state enum('in','due') NOT NULL",
  'ADD KEY ix_visit_held (held)',
  'ADD UNIQUE KEY uq_visit_held (held)',
  'DROP KEY ix_visit_tons',
  'ADD PRIMARY KEY (id)',
  'ADD CONSTRAINT fk_visit_berth FOREIGN KEY (berth) REFERENCES berth (code)',
  'ADD CONSTRAINT ck_visit_held CHECK (held > 0)',
  'DROP CONSTRAINT ck_visit_tons',
  "COMMENT = 'who comes and goes'",
  'ROW_FORMAT = COMPACT',
  'DEFAULT CHARACTER SET latin1'
] as const

describe.skipIf(engine?.lacking)('MariaDB', () => {
  let db: Playground
  beforeAll(async () => {
    if (engine) db = await engine.open()
  }, 60_000)
  afterAll(() => db?.close())

  it.for(CHANGES)('%s', async (change) => {
    const fresh = async () => {
      await db.reset()
      for (const sql of START) await db.exec(sql)
    }
    await fresh()
    const live: Catalog = await db.live.catalog()
    await db.exec(`ALTER TABLE visit ${change}`)
    const wanted = await db.live.catalog()
    await fresh()
    const isRename = change.startsWith('RENAME')
    const confirmed = isRename ? [{ schema: 'main', table: 'visit', column: 'note', to: 'words' }] : []
    const { steps } = plan(live, compare({ wanted, live, confirmed }, db.dialect).changes, db.dialect)
    expect(steps.length).toBeGreaterThan(0)
    for (const { statement, hazards } of steps) {
      const rewrites = hazards.some(({ kind }) => kind === 'rewrites table')
      const [, index] = /^DROP INDEX (\S+) ON visit$/.exec(statement) ?? []
      const asked =
        index !== undefined
          ? `ALTER TABLE visit DROP INDEX ${index}, ALGORITHM=NOCOPY`
          : // Statements that stand by themselves have it behind, without a comma.
            `${statement}${statement.startsWith('ALTER') ? ',' : ''} ALGORITHM=NOCOPY`
      const refused = await db.exec(asked).then(
        () => undefined,
        (error: Error) => error.message
      )
      if (refused !== undefined && !/ALGORITHM=NOCOPY is not supported/.test(refused))
        throw new Error(`${asked}: ${refused}`)
      expect(refused !== undefined, `${asked}: ${refused ?? 'was carried out'}`).toBe(rewrites)
      if (refused !== undefined) await db.exec(statement)
    }
  })
})
