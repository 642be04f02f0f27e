// Text of other character sets comes to have all of Unicode, on a real MariaDB: by one edit of the target, with what would be cut counted
// beforehand, and every letter kept.
import { afterAll, beforeAll, expect, it } from 'vitest'
import { adopt } from '../../src/lib/core/adopt'
import { edit, targetOf, type Design } from '../../src/lib/core/design'
import { notUnicode, session } from '../../src/lib/core/session'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

const engine = ENGINES_UNDER_TEST.find(({ id }) => id === 'mariadb')
let db: Playground
beforeAll(async () => {
  if (engine && !engine.lacking) db = await engine.open()
}, 60_000)
afterAll(() => db?.close())

const OLD = [
  `CREATE TABLE berth (code char(4) NOT NULL PRIMARY KEY, mark varchar(9) COLLATE latin2_bin) DEFAULT CHARSET=latin2`,
  `CREATE TABLE vessel (id int NOT NULL PRIMARY KEY, name varchar(40) NOT NULL, log text, note text CHARACTER SET latin2, sign varchar(9) COLLATE utf8mb4_bin) DEFAULT CHARSET=latin1`,
  `INSERT INTO berth VALUES ('É1', 'Ő'), ('É2', 'ő')`,
  // 40,000 letters are as many bytes there, and twice as many in Unicode.
  `INSERT INTO vessel VALUES (1, 'Møwe', repeat('é', 40000), 'Ő', '⚓'), (2, 'Dogger', 'é', NULL, NULL)`
]

it.skipIf(engine?.lacking)('what is kept in other character sets is kept in Unicode', async () => {
  await db.reset()
  for (const sql of OLD) await db.exec(sql)
  const rows = async () => [
    ...(await db.live.query('SELECT * FROM berth ORDER BY mark')).rows,
    ...(await db.live.query('SELECT * FROM vessel ORDER BY id')).rows
  ]
  const before = await rows()
  const live = await db.live.catalog()
  const { design } = adopt(live, db.dialect, { name: 'Old', target: 'here' })
  const [id = ''] = Object.keys(design.targets)
  const found = notUnicode(design, id)
  expect(found).toMatchObject({ many: 4, collations: ['latin1_swedish_ci', 'latin2_bin', 'latin2_general_ci'] })
  const after: Design = found ? edit(design, found.edit) : design
  expect(notUnicode(after, id)).toBeUndefined()

  const here = session(after, targetOf(after, id), db.dialect)
  const { migration } = here.beside({ live, agreed: live }).plan()
  const counted = await Promise.all(
    migration.steps.map(async ({ preflight }) => (preflight ? (await db.live.query(preflight.count)).rows[0]?.[0] : 0))
  )
  // The long log is told; shortened, all goes through.
  expect(counted.map(Number).reduce((sum, n) => sum + n, 0)).toBe(1)
  const run = async () => {
    for (const { statement } of migration.steps) await db.exec(statement)
  }
  await expect(run()).rejects.toThrow(/too long/)
  await db.exec(`UPDATE vessel SET log = repeat('é', 20000) WHERE id = 1`)
  const again = here.beside({ live: await db.live.catalog() }).plan()
  for (const { statement } of again.migration.steps) await db.exec(statement)
  expect(here.beside({ live: await db.live.catalog() }).differences).toEqual([])
  const now = await rows()
  expect(now.map((row) => row.map((cell) => (String(cell).length > 1000 ? 'long' : cell)))).toEqual(
    before.map((row) => row.map((cell) => (String(cell).length > 1000 ? 'long' : cell)))
  )
})
