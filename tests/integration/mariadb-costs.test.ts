// What changes of a table cost, asked of a server by a rehearsal: each is carried out there in the way that is foretold ("InnoDB Online
// DDL Overview", "ALTER TABLE, ALGORITHM").
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { plan, rehearsal, type Rehearsal } from '../../src/lib/core/plan'
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

const ways = ({ ways }: Rehearsal['steps'][number]) => ways.map(({ sql }) => sql)

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
    const migration = plan(live, compare({ wanted, live, confirmed }, db.dialect).changes, db.dialect)
    const { steps } = migration
    expect(steps.length).toBeGreaterThan(0)
    const trial = rehearsal(live, migration, db.dialect)
    const said = (await db.live.rehearse?.(trial?.before ?? [], (trial?.steps ?? []).map(ways)))?.map(
      (one, i) => ('way' in one ? trial?.steps[i]?.ways[one.way]?.how : one.error.message) ?? ''
    )
    expect(said).toHaveLength(steps.length)
    for (const [i, { statement, hazards }] of steps.entries()) {
      const [rewrites] = hazards.filter(({ kind }) => kind === 'rewrites table')
      // What is foretold from the manual is what the server does; a name that changes by a statement of its own says nothing of it.
      const foretold = !rewrites ? /no row|^$/ : rewrites.sentence.endsWith('meanwhile') ? /^in place: / : /^by copying/
      expect(said?.[i], statement).toMatch(foretold)
      await db.exec(statement)
    }
    expect((await db.live.query("SHOW DATABASES LIKE 'ramblet%'")).rows).toEqual([])
  })

  it('tells what is refused there, and takes its database away whatever happens', async () => {
    await db.reset()
    for (const sql of START) await db.exec(sql)
    const tried = await db.live.rehearse?.(START, [['ALTER TABLE visit ADD COLUMN tons int'], ['DROP TABLE visit']])
    expect(tried).toMatchObject([{ error: { message: "Duplicate column name 'tons'" } }])
    await expect(db.live.rehearse?.(['CREATE TABLE x (y nothing)'], [])).rejects.toThrow('Unknown data type')
    const long = db.live.rehearse?.([], [['SELECT sleep(60)'], ['SELECT sleep(60)']])
    const stopped = expect(long).rejects.toThrow('Stopped')
    await expect.poll(() => db.live.cancel?.().then(() => db.live.query('SELECT 1'))).toBeTruthy()
    await db.live.cancel?.()
    await stopped
    expect((await db.live.query("SHOW DATABASES LIKE 'ramblet%'")).rows).toEqual([])
    expect((await db.live.catalog()).tables.map(({ name }) => name)).toEqual(['berth', 'visit'])
  })
})
