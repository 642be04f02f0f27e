// What MariaDB has of its own in a table is read, written and kept when something else of it changes, asked of the server.
import { afterAll, beforeAll, expect, it } from 'vitest'
import { memberAddress, readType, type Catalog, type Change } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { plan, stepState, writeScript } from '../../src/lib/core/plan'
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

/** The manual's kinds of programs, each with something of its own: "CREATE VIEW", "… TRIGGER", "… PROCEDURE", "… EVENT", "… SEQUENCE". */
const PROGRAMS = [
  `CREATE TABLE vessel (id int PRIMARY KEY, name varchar(40), gone int NOT NULL DEFAULT 0) ENGINE=InnoDB ROW_FORMAT=COMPACT DEFAULT COLLATE=latin1_swedish_ci`,
  `CREATE TABLE visit (id int PRIMARY KEY, vessel_id int NOT NULL, tons int(5) unsigned zerofill, KEY (vessel_id), CONSTRAINT fk_visit FOREIGN KEY (vessel_id) REFERENCES vessel (id))`,
  `CREATE SEQUENCE berth_no START WITH 100 INCREMENT BY 10 MAXVALUE 9000 CACHE 5 CYCLE`,
  `CREATE FUNCTION loud(t varchar(40) CHARSET latin1) RETURNS varchar(41) CHARSET latin1 DETERMINISTIC NO SQL COMMENT 'it''s so' RETURN concat(upper(t), '!')`,
  `CREATE ALGORITHM=MERGE SQL SECURITY INVOKER VIEW calls AS SELECT v.name AS who, x.tons FROM visit x JOIN vessel v ON v.id = x.vessel_id WHERE v.gone = 0`,
  `CREATE VIEW loud_calls AS SELECT loud(who) AS cry FROM calls`,
  `CREATE VIEW present AS SELECT id, name FROM vessel WHERE gone = 0 WITH LOCAL CHECK OPTION`,
  `CREATE TRIGGER named BEFORE INSERT ON vessel FOR EACH ROW SET NEW.name = trim(NEW.name)`,
  `CREATE TRIGGER named_loud BEFORE INSERT ON vessel FOR EACH ROW FOLLOWS named BEGIN IF NEW.gone > 0 THEN SET NEW.name = loud(NEW.name); END IF; END`,
  `CREATE PROCEDURE leave_all(IN since int, OUT n int) MODIFIES SQL DATA SQL SECURITY INVOKER BEGIN UPDATE vessel SET gone = since; SELECT count(*) INTO n FROM vessel; END`,
  `CREATE EVENT tidy ON SCHEDULE EVERY '1:30' HOUR_MINUTE STARTS '2030-01-01 00:00:00' ON COMPLETION PRESERVE DISABLE COMMENT 'at night' DO DELETE FROM visit WHERE tons = 0`
]
async function madeOfPrograms() {
  await db.reset()
  await db.exec('SET SESSION sql_mode = DEFAULT')
  for (const sql of PROGRAMS) await db.exec(sql)
}
const programs = async () => {
  const { rows } = await db.live
    .query(`SELECT 'view', table_name, replace(view_definition, concat('\`', database(), '\`.'), ''), check_option, security_type, algorithm FROM information_schema.views WHERE table_schema = database()
    UNION ALL SELECT 'trigger', trigger_name, action_statement, event_manipulation, action_timing, action_order FROM information_schema.triggers WHERE trigger_schema = database()
    UNION ALL SELECT routine_type, routine_name, routine_definition, concat_ws(' ', dtd_identifier, routine_comment), security_type, concat(is_deterministic, sql_data_access) FROM information_schema.routines WHERE routine_schema = database()
    UNION ALL SELECT 'parameter', specific_name, parameter_name, dtd_identifier, character_set_name, parameter_mode FROM information_schema.parameters WHERE specific_schema = database() AND ordinal_position > 0
    UNION ALL SELECT 'event', event_name, event_definition, concat(interval_value, interval_field, starts), status, on_completion FROM information_schema.events WHERE event_schema = database() ORDER BY 1, 2, 3`)
  const sequence = await db.live.query('SHOW CREATE SEQUENCE berth_no')
  return [...rows, ...sequence.rows]
}

it.skipIf(engine?.lacking)(
  'views, triggers, routines, events and sequences come again from a script, and by way of a design',
  async () => {
    await madeOfPrograms()
    const [before, live] = [await programs(), await db.live.catalog()]
    expect(live.unread).toEqual([])
    for (const wanted of [live, throughDesign(live, db.dialect)]) {
      expect(compare({ wanted, live }, db.dialect).changes).toEqual([])
      await db.reset()
      for (const { sql } of writeScript(wanted, db.dialect)) await db.exec(sql)
      expect(await programs()).toEqual(before)
      expect(compare({ wanted: live, live: await db.live.catalog() }, db.dialect).changes).toEqual([])
    }
  }
)

it.skipIf(engine?.lacking)(
  'what stands on a column is taken out of the way and put back while it changes, and takes its new name',
  async () => {
    await madeOfPrograms()
    await db.exec(`INSERT INTO vessel (id, name) VALUES (1, ' Grey Heron ')`)
    const live = await db.live.catalog()
    const vessel = memberAddress({ schema: 'main', name: 'vessel' }, 'column', { name: 'name' })
    const changes: Change[] = [
      { action: 'rename', address: vessel, to: 'title' },
      {
        action: 'alter',
        address: memberAddress({ schema: 'main', name: 'vessel' }, 'column', { name: 'gone' }),
        property: 'type',
        from: readType('int'),
        to: readType('bigint'),
        certain: true
      }
    ]
    const migration = plan(live, changes, db.dialect)
    expect(migration.left ?? []).toEqual([])
    for (const { statement } of migration.steps) await db.exec(statement)
    expect((await db.live.query('SELECT * FROM calls')).rows).toEqual([])
    await db.exec(`INSERT INTO vessel (id, title, gone) VALUES (2, ' Sturdy ', 3)`)
    expect((await db.live.query('SELECT title FROM vessel ORDER BY id')).rows).toEqual([['Grey Heron'], ['STURDY!']])
  }
)

it.skipIf(engine?.lacking)('a check that is said with its column outlasts every change of that column', async () => {
  await db.reset()
  await db.exec(
    'CREATE TABLE rating (id int PRIMARY KEY, stars int NOT NULL CHECK (stars between 1 and 5), CHECK (id > 0))'
  )
  const live = await db.live.catalog()
  const shownNow = async () => String((await db.live.query('SHOW CREATE TABLE rating')).rows[0]?.[1])
  const before = await shownNow()
  for (const wanted of [live, throughDesign(live, db.dialect)]) {
    await db.reset()
    for (const { sql } of writeScript(wanted, db.dialect)) await db.exec(sql)
    expect(await shownNow()).toBe(before)
  }
  const altered = (set: object): Catalog => ({
    ...live,
    tables: live.tables.map((t) => ({
      ...t,
      columns: t.columns.map((c) => (c.name === 'stars' ? { ...c, ...set } : c))
    }))
  })
  for (const wanted of [altered({ comment: 'of five' }), altered({ type: readType('bigint') }), live]) {
    const now = await db.live.catalog()
    const { steps } = plan(now, compare({ wanted, live: now }, db.dialect).changes, db.dialect)
    for (const { statement } of steps) await db.exec(statement)
    expect(compare({ wanted, live: await db.live.catalog() }, db.dialect).changes).toEqual([])
    await expect(db.exec('INSERT INTO rating VALUES (1, 6)')).rejects.toThrow(/CONSTRAINT/)
  }
  expect(await shownNow()).toBe(before)
})

it.skipIf(engine?.lacking)(
  'an index that the engine made for a foreign key stays when a key takes its place',
  async () => {
    await db.reset()
    await db.exec('CREATE TABLE berth (id int PRIMARY KEY)')
    await db.exec('CREATE TABLE visit (id int PRIMARY KEY, berth_id int, FOREIGN KEY (berth_id) REFERENCES berth (id))')
    const live = await db.live.catalog()
    const wanted: Catalog = {
      ...live,
      tables: live.tables.map((t) =>
        t.name === 'visit' ? { ...t, uniques: [{ name: 'once', columns: ['berth_id'] }] } : t
      )
    }
    const { steps } = plan(live, compare({ wanted, live }, db.dialect).changes, db.dialect)
    for (const { statement } of steps) await db.exec(statement)
    expect(compare({ wanted, live: await db.live.catalog() }, db.dialect).changes).toEqual([])
  }
)

/** Forms of the manual's pages "CREATE TABLE", "ALTER TABLE", "CREATE INDEX", "RENAME TABLE". */
const CHANGES = [
  `CREATE TABLE berth (code char(8) NOT NULL, depth decimal(5,2) unsigned DEFAULT 1.5, PRIMARY KEY (code)) DEFAULT CHARSET=latin1`,
  `CREATE TABLE visit (id serial, berth char(8) CHARACTER SET latin1, note varchar(200) COMMENT 'the day after tomorrow', state enum('due','in') DEFAULT 'due', FOREIGN KEY (berth) REFERENCES berth (code))`,
  `ALTER TABLE visit ADD COLUMN tons mediumint(5) unsigned NOT NULL DEFAULT '7' AFTER berth, ADD first_seen date FIRST`,
  `ALTER TABLE visit ADD (pilot int, tug int COMMENT 'comes after dark'), ADD INDEX (pilot, tug DESC), ADD CONSTRAINT many UNIQUE (tug, pilot)`,
  `ALTER TABLE visit MODIFY note text CHARACTER SET ascii NOT NULL AFTER id, CHANGE state phase enum('due','in','gone') NOT NULL DEFAULT 'in'`,
  `ALTER TABLE visit ALTER tons SET DEFAULT 9, ALTER phase DROP DEFAULT`,
  `ALTER TABLE visit RENAME COLUMN tug TO tugs, RENAME INDEX pilot TO by_pilot, ADD CHECK (tons > 0), ADD CONSTRAINT fewer CHECK (tons < 900)`,
  `CREATE FULLTEXT INDEX words ON visit (note)`,
  `CREATE UNIQUE INDEX once ON visit (first_seen, phase)`,
  `ALTER TABLE visit DROP INDEX once, DROP COLUMN first_seen, DROP INDEX many`,
  `CREATE TABLE old_visit LIKE visit`,
  `ALTER TABLE old_visit MODIFY id bigint NOT NULL, DROP INDEX id, ENGINE=MyISAM, COMMENT='gone', ROW_FORMAT=FIXED`,
  `ALTER TABLE visit DROP FOREIGN KEY visit_ibfk_1`,
  `ALTER TABLE berth CONVERT TO CHARACTER SET utf8`,
  `RENAME TABLE berth TO quay, visit TO call_at`,
  `CREATE TABLE log (at timestamp(3) NOT NULL DEFAULT current_timestamp(3) ON UPDATE current_timestamp(3), n float(30), m real, KEY (at)) ENGINE=MEMORY`,
  `CREATE TABLE tide (what json, bytes blob(70), at datetime DEFAULT now(), high bool DEFAULT true, moon bit DEFAULT b'1', size numeric(4), name national varchar(10), body text(100), tag char(3) binary, v int AS (size + 1) PERSISTENT, w int GENERATED ALWAYS AS (size) VIRTUAL)`,
  `DROP INDEX words ON call_at`,
  `DROP TABLE IF EXISTS none, old_visit`
]

it.skipIf(engine?.lacking)('what changes a table, statement by statement, is read as the server keeps it', async () => {
  await db.reset()
  await db.exec('SET SESSION sql_mode = DEFAULT')
  for (const [n, sql] of CHANGES.entries()) {
    await db.exec(sql)
    const read = db.dialect.readScript?.(CHANGES.slice(0, n + 1).join(';\n'))
    expect(read?.statements.flatMap(({ why }) => why ?? [])).toEqual([])
    const live = await db.live.catalog()
    expect(compare({ wanted: read?.catalog ?? { ...live, tables: [] }, live }, db.dialect).changes, sql).toEqual([])
  }
})

/** "SQL_MODE", of each mode that makes the same words mean something else, as a dump sets it and takes it back. */
const UNDER_MODES = [
  `SET @was = @@sql_mode`,
  `SET SESSION sql_mode = 'ANSI_QUOTES,STRICT_ALL_TABLES'`,
  `CREATE TABLE "the berth" ("a ""b""" int NOT NULL, "c\`d" varchar(9) DEFAULT 'it''s', CONSTRAINT "ck" CHECK ("a ""b""" > 0), KEY "ix" ("c\`d"))`,
  `SET sql_mode = CONCAT('NO_BACKSLASH_ESCAPES', ',ANSI_QUOTES')`,
  `CREATE TABLE "path" ("text" varchar(20) DEFAULT 'a\\b\\' COMMENT 'ends with \\')`,
  `SET sql_mode = @was`,
  `CREATE TABLE plain (said varchar(20) DEFAULT "it's\\nso", \`"\` int)`,
  `SET sql_mode = "ansi"`,
  `CREATE VIEW "seen" AS SELECT "a ""b""" AS "n" FROM "the berth"`
]

it.skipIf(engine?.lacking)('what is said under another mode of the server is read as the server keeps it', async () => {
  await db.reset()
  for (const sql of UNDER_MODES) await db.exec(sql)
  await db.exec('SET SESSION sql_mode = DEFAULT')
  const read = db.dialect.readScript?.(UNDER_MODES.join(';\n'))
  expect(read?.statements.flatMap(({ why }) => why ?? [])).toEqual([])
  const live = await db.live.catalog()
  expect(live.tables).toHaveLength(3)
  const { changes } = compare({ wanted: read?.catalog ?? { ...live, tables: [] }, live }, db.dialect)
  // A query that is read keeps its own words.
  expect(changes.map((change) => ('property' in change ? change.property : change))).toEqual(['query'])
  expect(read?.catalog.views?.[0]?.query).toMatch(/^SELECT `a "b"` +AS `n` FROM `the berth`$/)
  // What would mean something else is not taken for what it is not.
  const joined = db.dialect.readScript?.(`SET sql_mode = 'PIPES_AS_CONCAT';
CREATE TABLE fine (a int);
CREATE TABLE joined (a varchar(4), b varchar(9) AS (a || 'x'))`)
  expect(joined?.catalog.tables.map(({ name }) => name)).toEqual(['fine'])
  expect(joined?.statements.at(-1)?.why).toContain('concat()')
})

it.skipIf(engine?.lacking)('changes of one table are one statement, where none has a count of its own', async () => {
  await db.reset()
  for (const name of ['berth', 'vessel'])
    await db.exec(`CREATE TABLE ${name} (id int PRIMARY KEY, name varchar(20) NOT NULL, length int NOT NULL)`)
  const live = await db.live.catalog()
  const wanted: Catalog = {
    ...live,
    tables: live.tables.map((t) => ({
      ...t,
      columns: [
        ...t.columns.map((c) => (c.name === 'id' ? c : { ...c, comment: `the ${c.name}` })),
        { name: 'mark', type: readType('varchar(8)'), nullable: true },
        { name: 'crew', type: readType('int'), nullable: true }
      ]
    }))
  }
  const { steps } = plan(live, compare({ wanted, live }, db.dialect).changes, db.dialect)
  expect(steps.map(({ statement }) => statement)).toEqual(
    ['berth', 'vessel'].map(
      (name) =>
        `ALTER TABLE ${name} ADD COLUMN mark varchar(8) NULL, ADD COLUMN crew int NULL, MODIFY COLUMN name varchar(20) NOT NULL COMMENT 'the name', MODIFY COLUMN length int NOT NULL COMMENT 'the length'`
    )
  )
  expect(steps.map((step) => stepState(step, live, db.dialect))).toEqual(['to do', 'to do'])
  for (const { statement } of steps) await db.exec(statement)
  expect(compare({ wanted, live: await db.live.catalog() }, db.dialect).changes).toEqual([])
  for (const { undo } of [...steps].reverse()) for (const sql of undo) await db.exec(sql)
  expect(compare({ wanted: live, live: await db.live.catalog() }, db.dialect).changes).toEqual([])
})

/** Forms of the manual's pages "Partitioning Types" and "Partitioning Tables". */
const PARTED = [
  `PARTITION BY RANGE (YEAR(begins)) (PARTITION old VALUES LESS THAN (2020) COMMENT 'long ago' ENGINE = InnoDB, PARTITION p1 VALUES LESS THAN (2026) ENGINE = InnoDB, PARTITION rest VALUES LESS THAN MAXVALUE ENGINE = InnoDB)`,
  `PARTITION BY HASH (id) PARTITIONS 4`,
  `PARTITION BY LINEAR KEY (id) PARTITIONS 3`,
  `PARTITION BY LIST COLUMNS (state) (PARTITION here VALUES IN ('due', 'in'), PARTITION away VALUES IN ('gone'), PARTITION others DEFAULT)`,
  `PARTITION BY RANGE COLUMNS (begins, id) (PARTITION a VALUES LESS THAN ('2026-01-01', 100), PARTITION b VALUES LESS THAN (MAXVALUE, MAXVALUE))`,
  `PARTITION BY LIST (id DIV 1000) (PARTITION p0 VALUES IN (0, 1), PARTITION p1 DEFAULT)`,
  `PARTITION BY RANGE (id) SUBPARTITION BY HASH (TO_DAYS(begins)) SUBPARTITIONS 2 (PARTITION p0 VALUES LESS THAN (1000), PARTITION p1 VALUES LESS THAN MAXVALUE)`,
  ''
]

it.skipIf(engine?.lacking)(
  'rows in parts are read as they are kept, and come from any way of parting them to any other',
  async () => {
    const made = async (n: number): Promise<Catalog> => {
      await db.reset()
      const sql = `CREATE TABLE visit (id int NOT NULL, begins date NOT NULL, state varchar(8) NOT NULL, PRIMARY KEY (id, begins, state)) ${PARTED[n]}`
      await db.exec(sql)
      await db.exec(
        `INSERT INTO visit VALUES (1, '2019-05-01', 'due'), (1500, '2025-01-01', 'gone'), (7, '2027-01-01', 'in')`
      )
      const live = await db.live.catalog()
      const read = db.dialect.readScript?.(sql)
      expect(read?.statements.flatMap(({ why }) => why ?? [])).toEqual([])
      expect(compare({ wanted: read?.catalog ?? { ...live, tables: [] }, live }, db.dialect).changes, sql).toEqual([])
      expect(live.unread).toEqual([])
      return live
    }
    expect(db.dialect.whyNoOption?.('partition by', 'the tide')).toContain('Nothing is known')
    expect(db.dialect.whyNoOption?.('partition by', 'hash (id) partitions 2')).toBeUndefined()
    const states: Catalog[] = []
    for (const n of PARTED.keys()) states.push(await made(n))
    for (const from of PARTED.keys()) {
      await made(from)
      for (const to of PARTED.keys()) {
        const [live, wanted] = [await db.live.catalog(), states[to] ?? ({ ...states[0], tables: [] } as Catalog)]
        const { steps } = plan(live, compare({ wanted, live }, db.dialect).changes, db.dialect)
        for (const { statement } of steps) await db.exec(statement)
        expect(compare({ wanted, live: await db.live.catalog() }, db.dialect).changes).toEqual([])
        expect((await db.live.query('SELECT count(*) FROM visit')).rows).toEqual([['3']])
      }
    }
  }
)

/** Columns whose sizes come near the limits, alone and together, in each way of keeping rows. */
const SIZED = ['varchar(768)', 'varchar(769)', 'varchar(191)', 'varchar(192)', 'varchar(1000) CHARACTER SET latin1', 'varchar(600)', 'bigint', 'datetime(6)', 'decimal(30,10)', "enum('a','b')", 'varbinary(760)', 'char(90)'] // prettier-ignore
const KEPT = ['', 'ROW_FORMAT=COMPACT', 'ENGINE=MyISAM', 'ENGINE=Aria']

it.skipIf(engine?.lacking)(
  'the bytes of a key are as the server counts them, up to its limits',
  async () => {
    let [taken, refused] = [0, 0]
    await db.reset()
    await db.exec('ALTER DATABASE CHARACTER SET utf8mb4')
    for (const kept of KEPT)
      for (const [i, a] of SIZED.entries())
        for (const b of [undefined, ...SIZED.slice(0, i + 1)]) {
          const columns = `a ${a} NOT NULL${b === undefined ? '' : `, b ${b} NOT NULL`}`
          await db.exec(`CREATE TABLE sized (${columns}) ${kept}`)
          const [table] = (await db.live.catalog()).tables
          const parts = [{ column: 'a' }, ...(b === undefined ? [] : [{ column: 'b' }])]
          const room = table && db.dialect.keyRoom?.(table, parts, 'primaryKey')
          const fits = room !== undefined && room.bytes <= room.most && room.widest <= room.mostOfOne
          const why = await db
            .exec(`ALTER TABLE sized ADD PRIMARY KEY (${parts.map(({ column }) => column).join(', ')})`)
            .then(
              () => undefined,
              (error: Error) => error.message
            )
          expect(why === undefined, `${kept} ${columns}: ${JSON.stringify(room)} ${why ?? 'taken'}`).toBe(fits)
          if (fits) taken++
          else refused++
          await db.exec('DROP TABLE sized')
        }
    expect(Math.min(taken, refused)).toBeGreaterThan(30)
  },
  120_000
)
