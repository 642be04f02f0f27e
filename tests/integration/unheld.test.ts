// What a catalogue cannot hold is told on the step that takes it away, on every engine that runs here.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog, Column, Table } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { plan } from '../../src/lib/core/plan'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

const column = (name: string, make: (column: Column) => Column | undefined) => (table: Table) => ({
  ...table,
  columns: table.columns.flatMap((c) => (c.name.toLowerCase() === name ? (make(c) ?? []) : c))
})
const without = (name: string) => column(name, () => undefined)

interface Case {
  readonly make: readonly string[]
  /** What is changed, and what goes with it; the last is a change that leaves all as it is. */
  readonly changes: readonly (readonly [(table: Table) => Table | undefined, readonly string[]])[]
}

const cases: Readonly<Record<string, Case>> = {
  postgres: {
    make: [
      `CREATE TABLE vessel (imo integer PRIMARY KEY, name varchar(40), port varchar(40), seen integer)`,
      // Manual, "CREATE STATISTICS": they go when one of their columns goes.
      `CREATE STATISTICS alike (dependencies) ON name, port FROM vessel`
    ],
    changes: [
      [without('port'), ['extended statistics public.alike']],
      [() => undefined, ['extended statistics public.alike']],
      [without('seen'), []]
    ]
  },
  mariadb: {
    make: [
      `CREATE TABLE vessel (imo integer PRIMARY KEY, name varchar(40), seen timestamp NULL ON UPDATE current_timestamp())`,
      // “SQL_MODE”: kept with what is made in it, whose words may mean something else in another.
      `SET SESSION sql_mode = 'ANSI_QUOTES'`,
      `CREATE TRIGGER counted BEFORE UPDATE ON vessel FOR EACH ROW SET NEW.name = upper(NEW."name")`,
      `SET SESSION sql_mode = DEFAULT`
    ],
    changes: [
      // What fills it when its row changes is held, and said again.
      [column('seen', (c) => ({ ...c, nullable: false })), []],
      [() => undefined, ['trigger of the mode ANSI_QUOTES counted']],
      [without('name'), []]
    ]
  },
  firebird: {
    make: [
      `CREATE TABLE vessel (imo integer NOT NULL PRIMARY KEY, name varchar(40) CHARACTER SET UTF8 COLLATE UNICODE_CI, seen integer)`,
      `CREATE INDEX ix_name ON vessel (name)`,
      `ALTER INDEX ix_name INACTIVE`
    ],
    changes: [
      [column('name', (c) => ({ ...c, collation: 'UNICODE' })), ['switched-off state of index IX_NAME']],
      [(table) => ({ ...table, name: 'SHIP' }), ['switched-off state of index IX_NAME']],
      [without('seen'), []]
    ]
  }
}

describe.each(ENGINES_UNDER_TEST.filter((engine) => cases[engine.engine]))('$label', (engine) => {
  let db: Playground
  beforeAll(async () => {
    if (!engine.lacking) db = await engine.open()
  })
  afterAll(() => db?.close())

  it.skipIf(engine.lacking)('tells what goes unread, and nothing where it stays', async () => {
    const { make, changes } = cases[engine.engine] ?? { make: [], changes: [] }
    await db.reset()
    for (const sql of make) await db.exec(sql)
    const live = await db.live.catalog()
    const [table] = live.tables
    if (!table) throw new Error('The table is there.')
    const origin = { id: 'ent_vessel', part: 'table' }
    const agreed: Catalog = { ...live, tables: [{ ...table, origin }] }
    for (const [change, told] of changes) {
      const then = change({ ...table, origin })
      const wanted: Catalog = { ...live, tables: then ? [then] : [] }
      const { changes: found } = compare({ wanted, live, agreed }, db.dialect)
      const { steps } = plan(live, found, db.dialect)
      expect(steps.length).toBeGreaterThan(0)
      const sentences = steps.flatMap((step) => step.hazards.map((hazard) => hazard.sentence))
      expect(sentences.filter((sentence) => sentence.includes('is not read here'))).toEqual(
        told.map((what) => `The ${what} goes with this, and is not read here: make it again by hand.`)
      )
    }
  })
})
