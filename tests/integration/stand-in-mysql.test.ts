// The stand-in for MySQL beside the MariaDB that runs here, wherever their rules are shared: what is refused, by which number, and what
// is kept of a value. MySQL's own numbers are those of its “Server Error Message Reference”.
import fc from 'fast-check'
import mysql from 'mysql2/promise'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { typeText, type Catalog, type Change } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { plan, writeScript } from '../../src/lib/core/plan'
import { MARIADB_PACKAGES } from '../foreign/packages'
import { throughDesign } from '../support/adopted'
import { catalogs, valuesOf, withOrigins } from '../support/catalogs'
import { packagedScript } from '../support/packaged'
import { isOther } from '../support/shown'
import { SAMPLES } from '../support/conversions'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'
import { servers } from '../support/servers'

const engineOf = (id: string) => ENGINES_UNDER_TEST.find((engine) => engine.id === id)
const dialect = dialectOf('mysql', '8.4') as Dialect
const told = (change: Change) => {
  const at = `${change.action} ${change.address.kind} ${change.address.path.join('.')}`
  return change.action === 'alter'
    ? `${at} ${change.property}: ${JSON.stringify(change.from)} → ${JSON.stringify(change.to)}`
    : at
}
const numberOf = async ({ live }: Playground, sql: string) => (await live.run([sql], { later: true }))[0]?.error

/** Where the two are not alike, by type and value, and why. */
const OTHERWISE: readonly (readonly [RegExp, RegExp, string])[] = [
  [/^bigint unsigned$/, /^18446744073709551615$/, 'the stand-in counts to 64 bits with a sign'],
  [/^decimal\(30,10\)$/, /\d{20}/, 'the stand-in computes decimals with fifteen digits'],
  [
    /^bit|binary|blob/,
    /^(b'11111111'|x'.*ff.*')$/,
    'bytes that are no characters: nothing in MySQL 8 (from memory), question marks in MariaDB'
  ],
  [/^time$/, /1\.[56]/, 'manual of MySQL, 13.2.6: a fraction of a second is rounded; MariaDB cuts it']
]

/** A row that leads to itself by the same column is refused by some servers, by the order of their indexes. */
const withoutItself = (catalog: Catalog): Catalog => ({
  ...catalog,
  tables: catalog.tables.map((table) => ({
    ...table,
    foreignKeys: table.foreignKeys.filter(
      ({ columns, references }) => references.table !== table.name || columns.join() !== references.columns.join()
    )
  }))
})

/** What is said otherwise to MariaDB: “ALTER TABLE” of each. */
const inMariadb = (sql: string): string => sql.replaceAll(' DROP CHECK ', ' DROP CONSTRAINT ')

const PORT = 'CREATE TABLE port (id int NOT NULL PRIMARY KEY, name varchar(20) NULL, UNIQUE KEY uq (name))'
const BERTH =
  'CREATE TABLE berth (id int NOT NULL PRIMARY KEY, port int NOT NULL, CONSTRAINT fk_port FOREIGN KEY (port) REFERENCES port (id))'

/** What is refused, after which statements, by which number of MySQL's; and by which of MariaDB's where that is another, 0 where it is not. */
const REFUSALS: readonly [what: string, before: readonly string[], sql: string, number: number, its?: number][] = [
  ['a table that is there', [PORT], PORT, 1050],
  ['a table that is not there', [], 'DROP TABLE port', 1051],
  ['a change of a table that is not there', [], 'ALTER TABLE port ADD COLUMN a int', 1146],
  ['a query of a table that is not there', [], 'SELECT * FROM port', 1146],
  ['a column that is there', [PORT], 'ALTER TABLE port ADD COLUMN name int', 1060],
  ['a column that is not there', [PORT], 'ALTER TABLE port MODIFY COLUMN depth int', 1054],
  ['a column that goes and is not there', [PORT], 'ALTER TABLE port DROP COLUMN depth', 1091],
  ['the last column', ['CREATE TABLE t (a int)'], 'ALTER TABLE t DROP COLUMN a', 1090],
  ['a query of a column that is not there', [PORT], 'SELECT depth FROM port', 1054],
  ['an index that is there', [PORT], 'CREATE INDEX uq ON port (id)', 1061],
  ['an index that is not there', [PORT], 'DROP INDEX ix ON port', 1091],
  ['a second primary key', [PORT], 'ALTER TABLE port ADD PRIMARY KEY (name)', 1068],
  ['a key of a column that is not there', [PORT], 'CREATE INDEX ix ON port (depth)', 1072],
  ['a key of a long text', [PORT], 'CREATE TABLE t (a text, KEY k (a))', 1170, 0],
  ['a key that is too long', [], 'CREATE TABLE t (a varchar(2000), PRIMARY KEY (a)) DEFAULT CHARSET=utf8mb4', 1071],
  ['two numbered columns', [], 'CREATE TABLE t (a int AUTO_INCREMENT PRIMARY KEY, b int AUTO_INCREMENT UNIQUE)', 1075],
  ['a numbered column without a key', [], 'CREATE TABLE t (a int AUTO_INCREMENT)', 1075],
  ['a name that is too long', [], `CREATE TABLE ${'t'.repeat(65)} (a int)`, 1059, 1103],
  ['a decimal of too many digits', [], 'CREATE TABLE t (a decimal(66,2))', 1426],
  ['a decimal with more digits behind its point than it has', [], 'CREATE TABLE t (a decimal(4,6))', 1427],
  ['a default for a text', [], "CREATE TABLE t (a text DEFAULT 'x')", 1101, 0],
  ['a link to a table that is not there', [], BERTH, 1824, 1005],
  ['a link to a column that is not there', [PORT], BERTH.replace('port (id)', 'port (number)'), 3734, 1005],
  ['a link to what is no key', ['CREATE TABLE port (id int)'], BERTH, 1822, 1005],
  ['a link between types that are not alike', [PORT], BERTH.replace('port int', 'port bigint'), 3780, 1005],
  [
    'a link that would set what must be there to nothing',
    [PORT],
    BERTH.replace('(id))', '(id) ON DELETE SET NULL)'),
    1830,
    1005
  ],
  ['a table that something leads to', [PORT, BERTH], 'DROP TABLE port', 3730, 1451],
  ['a column that something leads to', [PORT, BERTH], 'ALTER TABLE port DROP COLUMN id', 1829],
  ['a column that leads to something', [PORT, BERTH], 'ALTER TABLE berth DROP COLUMN port', 1828, 1553],
  ['the index that a link stands on', [PORT, BERTH], 'DROP INDEX fk_port ON berth', 1553],
  [
    'another type for what something leads to',
    [PORT, BERTH],
    'ALTER TABLE port MODIFY COLUMN id bigint NOT NULL',
    3780,
    1833
  ],
  [
    'another name for a column that a check speaks of',
    ['CREATE TABLE t (a int, b int, CONSTRAINT c CHECK (a > b))'],
    'ALTER TABLE t RENAME COLUMN a TO d',
    3959,
    0
  ],
  [
    'another name for a column that another is worked out from',
    ['CREATE TABLE t (a int, b int AS (a + 1) STORED)'],
    'ALTER TABLE t RENAME COLUMN a TO d',
    3108,
    0
  ],
  ['a row that has no port', [PORT, BERTH], 'INSERT INTO berth VALUES (1, 7)', 1452],
  [
    'a port that a row has',
    [PORT, BERTH, 'INSERT INTO port VALUES (1, NULL)', 'INSERT INTO berth VALUES (1, 1)'],
    'DELETE FROM port',
    1451
  ],
  [
    'a link that a row does not keep',
    [PORT, 'CREATE TABLE berth (id int, port int)', 'INSERT INTO berth VALUES (1, 7)'],
    'ALTER TABLE berth ADD CONSTRAINT fk FOREIGN KEY (port) REFERENCES port (id)',
    1452
  ],
  [
    'a key that rows do not keep',
    ['CREATE TABLE t (a int)', 'INSERT INTO t VALUES (1), (1)'],
    'ALTER TABLE t ADD UNIQUE KEY u (a)',
    1062
  ],
  [
    'a value that stands twice',
    [PORT, "INSERT INTO port VALUES (1, 'Mole')"],
    "INSERT INTO port VALUES (2, 'MOLE')",
    1062
  ],
  ['nothing where something must be', [PORT], 'INSERT INTO port (id, name) VALUES (NULL, NULL)', 1048],
  ['a row that lacks what must be', [PORT], "INSERT INTO port (name) VALUES ('Mole')", 1364],
  ['a number that is too great', ['CREATE TABLE t (a tinyint)'], 'INSERT INTO t VALUES (128)', 1264],
  ['a text that is too long', ['CREATE TABLE t (a varchar(3))'], "INSERT INTO t VALUES ('Mole')", 1406],
  ['a text that is no number', ['CREATE TABLE t (a int)'], "INSERT INTO t VALUES ('Mole')", 1366],
  ['a day that is none', ['CREATE TABLE t (a date)'], "INSERT INTO t VALUES ('2026-02-30')", 1292],
  [
    'a value that is not among those listed',
    ["CREATE TABLE t (a enum('in','out'))"],
    "INSERT INTO t VALUES ('by')",
    1265
  ],
  ['a document that is none', ['CREATE TABLE t (a json)'], "INSERT INTO t VALUES ('{')", 3140, 4025],
  [
    'a row that does not meet a check',
    ['CREATE TABLE t (a int, CONSTRAINT c CHECK (a > 0))'],
    'INSERT INTO t VALUES (-1)',
    3819,
    4025
  ],
  [
    'a check that rows do not meet',
    ['CREATE TABLE t (a int)', 'INSERT INTO t VALUES (-1)'],
    'ALTER TABLE t ADD CONSTRAINT c CHECK (a > 0)',
    3819,
    4025
  ],
  ['too few values', [PORT], 'INSERT INTO port VALUES (1)', 1136],
  ['a function that is not known', [PORT], 'SELECT moored(id) FROM port', 1305],
  ['what is no statement', [], 'SELECT FROM WHERE', 1064]
]

describe.skipIf(servers.mariadb.lacking)('the stand-in for MySQL beside MariaDB', () => {
  let here: Playground
  let there: Playground
  let url: string
  beforeAll(async () => {
    ;[here, there] = (await Promise.all(['mysql', 'mariadb'].map((id) => engineOf(id)?.open()))) as [
      Playground,
      Playground
    ]
    url = there.url ?? ''
  }, 60_000)
  afterAll(async () => {
    await here?.close()
    await there?.close()
  })

  it('keeps the same of a value, or refuses it', async () => {
    const odd = [
      "''",
      "'x'",
      "'1.6'",
      "'-1.5'",
      '1.6',
      '-1',
      '300',
      "'2024-2-9'",
      "'2024-13-01'",
      "'24:00:00'",
      "'-12:30'",
      '101500',
      '0',
      "'a,b'",
      "'\u00e9\u00e9\u00e9\u00e9\u00e9\u00e9\u00e9'",
      "'  12'",
      "'1e3'"
    ]
    let [kept, refused] = [0, 0]
    for (const [type, own] of Object.entries(SAMPLES['mysql'] ?? {})) {
      for (const db of [here, there]) {
        await db.reset()
        await db.exec(`CREATE TABLE t (id int NOT NULL AUTO_INCREMENT PRIMARY KEY, c ${type} NULL)`)
      }
      for (const value of [...own, ...odd]) {
        const sql = `INSERT INTO t (c) VALUES (${value})`
        const [mine, its] = [await numberOf(here, sql), await numberOf(there, sql)]
        expect
          .soft(mine ? 'refused' : 'kept', `${type}: ${value}: ${mine?.message ?? ''} / ${its?.message ?? ''}`)
          .toBe(its ? 'refused' : 'kept')
        if (mine || its) {
          refused++
          continue
        }
        kept++
        const text = 'SELECT CAST(c AS char) AS c FROM t ORDER BY id DESC LIMIT 1'
        const [a, b] = await Promise.all(
          [here, there].map(async ({ live }) => String((await live.query(text)).rows[0]?.[0]))
        )
        const known = OTHERWISE.find(([types, values]) => types.test(type) && values.test(value))
        if (known) expect.soft(a, `${type}: ${value} is known for: ${known[2]}`).not.toBe(b)
        else expect.soft(a, `${type}: ${value}`).toBe(b)
      }
    }
    console.log(`${kept} values kept alike, ${refused} refused alike`)
  })

  it.each(REFUSALS)('refuses %s by its number', async (_, before, sql, number, its) => {
    for (const db of [here, there]) {
      await db.reset()
      for (const one of before) await db.exec(one)
    }
    const mine = await numberOf(here, sql)
    expect(mine?.code, mine?.message).toBe(String(number))
    // The driver's refusals have words in the place of numbers.
    const line = await mysql.createConnection(url)
    const said = await line.query(sql).then(
      () => ({ errno: 0, message: '' }),
      (error: unknown) => error as { errno: number; message: string }
    )
    await line.end()
    expect(said.errno, said.message).toBe(its ?? number)
  })

  it('keeps an expression for the default of a text', async () => {
    await here.reset()
    await here.exec("CREATE TABLE t (id int PRIMARY KEY, a text DEFAULT ('x, y'), b varchar(3) DEFAULT 'z')")
    await here.exec('INSERT INTO t (id) VALUES (1)')
    expect((await here.live.query('SELECT a, b FROM t')).rows).toEqual([['x, y', 'z']])
  })

  it('carries the same plans out to the same rows', async () => {
    let [done, refused] = [0, 0]
    const move = fc.tuple(catalogs(dialect), catalogs(dialect))
    await fc.assert(
      fc.asyncProperty(move, async ([from, to]) => {
        const [live, wanted] = [withoutItself(withOrigins(from)), withoutItself(to)]
        const made = writeScript(live, dialect).map(({ sql }) => sql)
        const filled = live.tables.flatMap((table) =>
          [0, 1, 2].map((n) => {
            const columns = table.columns.filter(({ generated }) => generated === undefined)
            const values = columns.map(({ type }) => {
              const all = valuesOf(dialect, typeText(type))
              return all[n % all.length] ?? 'NULL'
            })
            return `INSERT INTO ${dialect.write.quote(table.name)} (${columns.map(({ name }) => dialect.write.quote(name)).join(', ')}) VALUES (${values.join(', ')})`
          })
        )
        const { steps } = plan(live, compare({ wanted, live }, dialect).changes, dialect)
        for (const db of [here, there]) await db.reset()
        /** Whether both have done it. */
        const both = async (sql: string) => {
          const [mine, its] = [await numberOf(here, sql), await numberOf(there, inMariadb(sql))]
          expect(mine ? 'refused' : 'done', `${sql}: ${mine?.message ?? ''} / ${its?.message ?? ''}`).toBe(
            its ? 'refused' : 'done'
          )
          if (mine) refused++
          else done++
          return !mine
        }
        for (const sql of [...made, ...filled]) await both(sql)
        // What comes after a step that was refused was planned for what it would have made.
        for (const { statement } of steps) if (!(await both(statement))) break
        for (const { name, columns } of (await here.live.catalog()).tables) {
          const list = columns.map((column) => `CAST(${dialect.write.quote(column.name)} AS char)`).join(', ')
          const rows = ({ live: own }: Playground) =>
            own
              .query(`SELECT ${list} FROM ${dialect.write.quote(name)}`)
              .then((answer) => answer.rows.map((row) => JSON.stringify(row)).sort())
          const isOfNow = columns.some((column) => /cur|now/i.test(column.default ?? ''))
          if (!isOfNow) expect(await rows(here), name).toEqual(await rows(there))
        }
      }),
      { numRuns: Number(process.env['CASES'] ?? 10) }
    )
    console.log(`${done} statements carried out by both, ${refused} refused by both`)
  }, 600_000)
})

describe('the stand-in for MySQL', () => {
  let here: Playground
  beforeAll(async () => {
    here = (await engineOf('mysql')?.open()) as Playground
  })
  afterAll(() => here?.close())

  // What other people’s programs make: each statement that is written for it is carried out, and what it shows of itself is what was wanted.
  it.for(MARIADB_PACKAGES)('$package $files', { timeout: 120_000 }, async (script, { skip }) => {
    const found = packagedScript(script)
    if ('lacking' in found) return skip(found.lacking)
    const read = dialect.readScript?.(found.text)
    if (!read) throw new Error('scripts are read')
    const wanted = throughDesign(read.catalog, dialect)
    await here.reset()
    const refused: string[] = []
    for (const { sql } of writeScript(wanted, dialect)) {
      const error = await numberOf(here, sql)
      if (error) refused.push(`${error.message} — ${sql}`)
    }
    expect(refused).toEqual([])
    const { changes } = compare({ wanted, live: await here.live.catalog() }, dialect)
    expect(changes.flatMap((change) => (isOther(change) ? [told(change)] : []))).toEqual([])
    // Kept, and opened again.
    await here.live.keep?.()
    await here.lose?.()
    expect((await here.live.catalog()).tables.length).toBe(wanted.tables.length)
  })
})
