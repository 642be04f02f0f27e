// Any design that can be made by editing gives a script that runs, and a database that is in step with it; any later
// state of the design is reached by a plan, with renames known by identity.
import fc from 'fast-check'
import { loadModule, parseSync } from 'libpg-query'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { harbour } from '../../demo/harbour'
import { compose, emptyCatalog, typeText, type Catalog } from '../../src/lib/core/catalog'
import { afterRun, agree, compare } from '../../src/lib/core/compare'
import { derive, type DeriveTarget } from '../../src/lib/core/derive'
import { edit, type Design } from '../../src/lib/core/design'
import { dialect as dialectOf, printScript, type Dialect } from '../../src/lib/core/dialects'
import { testingDialect } from '../../src/lib/core/dialects/testing'
import { nameLength } from '../../src/lib/core/naming'
import { writeScript, plan, type Migration } from '../../src/lib/core/plan'
import { departures, edits, nestedAs } from '../support/designs'
import { embeddedPostgres, type Embedded } from '../support/embedded'

const postgres = dialectOf('postgres') as Dialect
const target = (oneTable: boolean, design: Design, n = 0): DeriveTarget => ({
  subtypeTables: oneTable ? { sub_vessel: 'one table' as const } : {},
  schemas: {},
  nested: nestedAs(design, n)
})
const after = (start: Design, make: readonly ((design: Design) => Parameters<typeof edit>[1])[]) =>
  make.reduce((design, next) => edit(design, next(design)), start)

/** What one target has otherwise than the design. */
const departing = fc.uniqueArray(fc.nat(1000), { maxLength: 3 })

let db: Embedded
beforeAll(async () => {
  db = await embeddedPostgres()
  await loadModule()
})
afterAll(() => db.close())

const live = async (): Promise<Catalog> => {
  const read = await postgres.introspect?.read(db.query)
  if (!read) throw new Error('PostgreSQL can be asked')
  return read
}

/** What is agreed after a run: nothing differs any more, in whatever words the engine prints a view. */
async function inStep(wanted: Catalog, before: Catalog | undefined, { steps }: Migration): Promise<Catalog> {
  const effects = compose(...steps.map((step) => step.effects))
  const input = { wanted, live: await live(), agreed: before && afterRun(before, effects, postgres) }
  const agreed = agree(input, compare(input, postgres).changes, postgres, effects)
  expect(compare({ ...input, agreed }, postgres).changes).toEqual([])
  return agreed
}

describe('a design, however it was edited', () => {
  it('always derives, for any engine: names fit, and what is wrong is a notice with a place', () => {
    const narrow = testingDialect()
    fc.assert(
      fc.property(edits, fc.boolean(), (make, oneTable) => {
        const design = after(harbour(), make)
        for (const dialect of [postgres, narrow]) {
          const { catalog, notices, trace } = derive(design, target(oneTable, design), dialect)
          const { limit, unit } = dialect.profile.names
          for (const table of catalog.tables) {
            const members = [
              ...table.columns,
              ...table.uniques,
              ...table.foreignKeys,
              ...table.checks,
              ...table.indexes
            ]
            for (const { name } of [table, ...members]) expect(nameLength(name, unit), name).toBeLessThanOrEqual(limit)
            // Two tables of one name are an error that is told; which of them a key goes to, nobody knows.
            if (notices.some((notice) => notice.code === 'name-twice')) continue
            for (const fk of table.foreignKeys) {
              const parent = catalog.tables.find(
                (t) => t.name === fk.references.table && t.schema === fk.references.schema
              )
              for (const [i, column] of fk.columns.entries()) {
                const [own, other] = [
                  table.columns.find((c) => c.name === column),
                  parent?.columns.find((c) => c.name === fk.references.columns[i])
                ]
                expect(own?.type, `${table.name}.${fk.name}`).toEqual(other?.type)
                expect(other).toBeDefined()
              }
            }
          }
          for (const notice of notices) expect(notice.where, notice.message).toBeDefined()
          for (const id of trace.keys())
            expect(
              design.entities[id] ??
                design.links[id] ??
                design.subtypes[id] ??
                (/^(att|key|idx|rul|vie)_/.test(id) ? id : undefined),
              id
            ).toBeDefined()
          if (dialect === postgres)
            for (const { sql } of writeScript(catalog, dialect, { make: 'both' }))
              expect(parseSync(sql).stmts?.length, sql).toBe(1)
        }
      }),
      { numRuns: 300 }
    )
  })

  it('is what the embedded PostgreSQL holds once its script has run, and so is its next state once the plan has', async () => {
    await fc.assert(
      fc.asyncProperty(edits, edits, fc.boolean(), departing, async (make, more, oneTable, picks) => {
        const first = after(harbour(), make)
        const second = after(first, more)
        const plain = derive(first, target(oneTable, second), postgres)
        const here = { ...target(oneTable, second), departures: departures(plain.catalog, picks) }
        const one = derive(first, here, postgres)
        fc.pre(!one.notices.some((notice) => notice.severity === 'error'))
        await db.reset()
        await db.exec(printScript(writeScript(one.catalog, postgres), postgres))
        const now = await live()
        const empty = { ...emptyCatalog('postgres', 'public'), schemas: now.schemas ?? [] }
        const made = plan(empty, compare({ wanted: one.catalog, live: empty }, postgres).changes, postgres)
        const agreed = await inStep(one.catalog, undefined, made)

        const two = derive(second, here, postgres)
        fc.pre(!two.notices.some((notice) => notice.severity === 'error'))
        const { changes } = compare({ wanted: two.catalog, live: now, agreed }, postgres)
        const migration = plan(now, changes, postgres)
        for (const step of migration.steps)
          await db.exec(step.statement).catch((error: unknown) => {
            throw new Error(`${step.statement}: ${String(error)}`, { cause: error })
          })
        await inStep(two.catalog, agreed, migration)
      }),
      { numRuns: Number(process.env['CASES'] ?? 40) }
    )
  }, 600_000)
})

describe('what others have made', () => {
  it('is read with everything a catalogue describes, and all else is named', async () => {
    await db.reset()
    await db.exec(`
      CREATE SCHEMA quay;
      CREATE TYPE trade AS ENUM ('bulk', 'tanker');
      CREATE DOMAIN metres AS numeric(6,2) CHECK (VALUE > 0);
      CREATE TABLE quay.berth (code varchar(8) PRIMARY KEY, depth metres, trades trade[]);
      CREATE TABLE visit (
        id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
        serial_no serial,
        berth varchar(8) REFERENCES quay.berth ON UPDATE CASCADE DEFERRABLE INITIALLY DEFERRED,
        arrives timestamptz(3) NOT NULL DEFAULT now(),
        departs timestamptz,
        hours numeric GENERATED ALWAYS AS (extract(epoch FROM departs - arrives) / 3600) STORED,
        note text COLLATE "C",
        UNIQUE (berth, arrives),
        CHECK (departs > arrives)
      );
      CREATE INDEX late ON visit (departs DESC NULLS LAST, lower(note)) INCLUDE (berth) WHERE departs IS NOT NULL;
      CREATE INDEX notes ON visit USING gin (to_tsvector('simple', note));
      CREATE VIEW stays AS SELECT * FROM visit;
      CREATE FUNCTION tide() RETURNS int LANGUAGE sql AS 'SELECT 1';
      COMMENT ON COLUMN visit.note IS 'it''s said';
    `)
    const catalog = await live()
    const visit = catalog.tables.find((t) => t.name === 'visit')
    expect(visit?.columns.map((c) => [c.name, typeText(c.type), c.nullable])).toEqual([
      ['id', 'bigint', false],
      ['serial_no', 'integer', false],
      ['berth', 'varchar(8)', true],
      ['arrives', 'timestamptz(3)', false],
      ['departs', 'timestamptz', true],
      ['hours', 'numeric', true],
      ['note', 'text', true]
    ])
    expect(visit?.columns[0]?.identity).toBe('always')
    expect(visit?.columns[5]?.generated).toContain('EXTRACT')
    expect(visit?.columns[6]?.comment).toBe(`it's said`)
    expect(visit?.foreignKeys).toMatchObject([
      {
        references: { schema: 'quay', table: 'berth', columns: ['code'] },
        onUpdate: 'cascade',
        deferrable: 'initially deferred'
      }
    ])
    expect(visit?.indexes).toMatchObject([
      {
        name: 'late',
        parts: [{ column: 'departs', descending: true, nulls: 'last' }, { expression: 'lower(note)' }],
        include: ['berth'],
        where: '(departs IS NOT NULL)'
      },
      { name: 'notes', method: 'gin' }
    ])
    expect(catalog.unread).toEqual([])
    expect(
      [catalog.views, catalog.types, catalog.routines, catalog.sequences].map((list) => list?.length ?? 0)
    ).toEqual([1, 2, 1, 1])
    // A catalogue is in step with itself, whatever it holds.
    expect(compare({ wanted: catalog, live: catalog }, postgres).changes).toEqual([])
  })
})
