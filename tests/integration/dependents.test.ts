// Views and triggers that stand in the way of a plan are taken away and put back, on every engine that runs here.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readType, type Catalog, type Column } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { plan } from '../../src/lib/core/plan'
import { withOrigins } from '../support/catalogs'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

const scripts: Readonly<Record<string, { make: readonly string[]; trigger: string; widen: Partial<Column> }>> = {
  postgres: {
    make: [
      `CREATE TABLE vessel (imo integer PRIMARY KEY, name varchar(40), seen integer DEFAULT 0)`,
      `INSERT INTO vessel VALUES (1, 'Grey Heron')`,
      `CREATE VIEW named AS SELECT imo, upper(name) AS name FROM vessel`,
      `COMMENT ON VIEW named IS 'in capitals'`,
      `GRANT SELECT ON named TO PUBLIC`,
      `CREATE VIEW first_named AS SELECT min(name) AS name FROM named`,
      `CREATE FUNCTION count_it() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN NEW.seen := NEW.seen + 1; RETURN NEW; END $$`
    ],
    trigger: `CREATE TRIGGER counted BEFORE UPDATE OF name ON vessel FOR EACH ROW EXECUTE FUNCTION count_it()`,
    widen: { type: readType('varchar(90)') }
  },
  sqlite: {
    make: [
      `CREATE TABLE vessel (imo integer PRIMARY KEY, name varchar(40), seen integer DEFAULT 0)`,
      `INSERT INTO vessel VALUES (1, 'Grey Heron', 0)`,
      `CREATE VIEW named AS SELECT imo, upper(name) AS name FROM vessel`,
      `CREATE VIEW first_named AS SELECT min(name) AS name FROM named`
    ],
    trigger: `CREATE TRIGGER counted AFTER UPDATE OF name ON vessel BEGIN UPDATE vessel SET seen = seen + 1 WHERE imo = NEW.imo; END`,
    widen: { type: readType('varchar(90)') }
  },
  firebird: {
    make: [
      `CREATE TABLE vessel (imo integer NOT NULL PRIMARY KEY, name varchar(40), seen integer DEFAULT 0)`,
      `INSERT INTO vessel VALUES (1, 'Grey Heron', 0)`,
      `CREATE VIEW named (imo, name) AS SELECT imo, upper(name) FROM vessel`,
      `COMMENT ON VIEW named IS 'in capitals'`,
      `GRANT SELECT ON named TO PUBLIC`,
      `CREATE VIEW first_named (name) AS SELECT min(name) FROM named`
    ],
    trigger: `CREATE TRIGGER counted FOR vessel ACTIVE BEFORE UPDATE POSITION 0 AS BEGIN IF (NEW.name <> OLD.name) THEN NEW.seen = NEW.seen + 1; END`,
    // The values are written to a new column, which then takes the old one's place.
    widen: { type: readType('char(60)') }
  }
}

describe.each(ENGINES_UNDER_TEST.filter((engine) => scripts[engine.engine]))('$label', (engine) => {
  let db: Playground
  beforeAll(async () => {
    if (!engine.lacking) db = await engine.open()
  })
  afterAll(() => db?.close())

  it.skipIf(engine.lacking)('work after the plan as before it, with their rights and comments', async () => {
    const { make, trigger, widen } = scripts[engine.engine] ?? { make: [], trigger: '', widen: {} }
    await db.reset()
    for (const sql of [...make, trigger]) await db.exec(sql)
    const live = await db.live.catalog()
    expect(live.views?.map((o) => o.name.toLowerCase()).sort()).toEqual(['first_named', 'named'])
    expect(live.tables[0]?.triggers?.map((o) => o.name.toLowerCase())).toEqual(['counted'])
    const wanted: Catalog = {
      ...live,
      tables: live.tables.map((t) => ({
        ...t,
        columns: t.columns.map((c) => (c.name.toLowerCase() === 'name' ? { ...c, ...widen, nullable: false } : c))
      }))
    }
    const migration = plan(live, compare({ wanted, live }, db.dialect).changes, db.dialect)
    for (const group of migration.groups) {
      const outcomes = await db.live.run(migration.steps.filter((s) => s.group === group.id).map((s) => s.statement))
      expect(outcomes.flatMap((o) => o.error?.message ?? [])).toEqual([])
    }
    const after = await db.live.catalog()
    expect(compare({ wanted, live: after }, db.dialect).changes).toEqual([])
    expect([after.views, after.tables[0]?.triggers]).toEqual([live.views, live.tables[0]?.triggers])
    await db.exec(`UPDATE vessel SET name = 'Sturdy' WHERE imo = 1`)
    const [[first]] = (await db.live.query('SELECT name FROM first_named')).rows as [[string]]
    expect(first.trim()).toBe('STURDY')
    expect((await db.live.query('SELECT seen FROM vessel')).rows).toEqual([[1]])
  })

  it.skipIf(engine.lacking)(
    'keep their meaning when a column they do not name gets a new name beside one they do',
    async () => {
      const upper = db.dialect.profile.names.fold === 'upper'
      const fold = (name: string) => (upper ? name.toUpperCase() : name)
      await db.reset()
      for (const sql of [
        'CREATE TABLE a (id integer NOT NULL PRIMARY KEY, name varchar(9), code varchar(3))',
        'CREATE TABLE b (id integer NOT NULL PRIMARY KEY, name varchar(9))',
        `INSERT INTO a VALUES (1, 'of a', 'x')`,
        `INSERT INTO b VALUES (1, 'of b')`,
        'CREATE VIEW v (aname, bname, code) AS SELECT a.name, b.name AS bname, a.code FROM a JOIN b ON b.id = a.id',
        'CREATE VIEW w AS SELECT v.bname, a.name FROM v JOIN a ON a.name = v.aname'
      ])
        await db.exec(sql)
      const live = await db.live.catalog()
      // What nobody designed was never agreed on.
      const { views: _views, ...agreed } = withOrigins(live)
      const wanted: Catalog = {
        ...agreed,
        // What a design does not say is left as it is.
        partial: true,
        tables: agreed.tables.map((t) =>
          t.name !== fold('a')
            ? t
            : {
                ...t,
                columns: t.columns.map((c) => {
                  if (c.name === fold('name')) return { ...c, name: fold('title') }
                  // Another family, so that the view is in the way on every engine.
                  return c.name === fold('code')
                    ? { ...c, type: db.dialect.types.fromNeutral({ kind: 'text' }).type }
                    : c
                })
              }
        )
      }
      const migration = plan(live, compare({ wanted, live, agreed }, db.dialect).changes, db.dialect)
      expect(migration.steps.some((step) => /title/i.test(step.statement) && /create view/i.test(step.statement))).toBe(
        true
      )
      for (const group of migration.groups) {
        const outcomes = await db.live.run(migration.steps.filter((s) => s.group === group.id).map((s) => s.statement))
        expect(outcomes.flatMap((o) => o.error?.message ?? [])).toEqual([])
      }
      expect((await db.live.query('SELECT aname, bname FROM v')).rows).toEqual([['of a', 'of b']])
      expect((await db.live.query('SELECT bname, name FROM w')).rows).toEqual([['of b', 'of a']])
    }
  )
})

it('SQLite: a view lets go of a column that is dropped in place, and is put back where it can be', async () => {
  const engine = ENGINES_UNDER_TEST.find(({ id }) => id === 'sqlite')
  const db = await engine?.open()
  if (!db) throw new Error('SQLite runs everywhere')
  for (const sql of [
    'CREATE TABLE vessel (imo integer PRIMARY KEY, name text, fax text, note text)',
    'CREATE VIEW named AS SELECT imo, name FROM vessel WHERE note IS NULL',
    'CREATE VIEW faxed AS SELECT imo, fax FROM vessel',
    `CREATE UNIQUE INDEX ix_name ON vessel (name)\n  WHERE\n  name <> ' where '`
  ])
    await db.exec(sql)
  const live = await db.live.catalog()
  expect(live.tables[0]?.indexes).toMatchObject([{ name: 'ix_name', where: `name <> ' where '` }])
  const without = (...names: string[]): Catalog => ({
    ...live,
    tables: live.tables.map((t) => ({ ...t, columns: t.columns.filter((c) => !names.includes(c.name)) }))
  })
  const migration = plan(live, compare({ wanted: without('fax'), live }, db.dialect).changes, db.dialect)
  const statements = migration.steps.map((step) => step.statement)
  // In place, and only the view that names the column is touched.
  expect(statements.slice(0, 2)).toEqual(['DROP VIEW faxed', 'ALTER TABLE vessel DROP COLUMN fax'])
  expect(statements.join()).not.toContain('named')
  const last = migration.steps.at(-1)
  expect(last?.hazards.map((hazard) => hazard.sentence)).toEqual([
    expect.stringContaining('it names fax, which is gone')
  ])
  expect((await db.live.run(statements.slice(0, 2))).every((outcome) => outcome.ok)).toBe(true)
  await db.close()
})
