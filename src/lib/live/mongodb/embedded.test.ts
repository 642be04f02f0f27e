// Documents referred to, kept within others, and referred to again are the same documents, wherever a run was cut off on the way.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { documentFor, emptyStandIn, type Plain } from '../../../../tests/support/documents'
import type { Catalog } from '../../core/catalog'
import { derive } from '../../core/derive'
import { edit, newDesign, newTarget, type Design } from '../../core/design'
import { dialect as dialectOf, type Dialect } from '../../core/dialects'
import { readJot } from '../../core/jot'
import type { Migration } from '../../core/plan'
import { session } from '../../core/session'
import type { LiveDatabase } from '../database'
import { runMigration, type Recorded } from '../run'

const dialect = dialectOf('mongodb') as Dialect
const target = newTarget('Archive', { engine: 'mongodb', version: '7.0' })

/** Vessels have an engine and inspections, these have samples; tests of samples are in them from the start. */
const HARBOUR = readJot(
  `entity Vessel
  imo: integer key
  name: text(80) required

entity Engine
  vessel: Vessel required unique
  power: integer required
  place: object
    deck: text(8) required

collection Inspection
  vessel: Vessel required
  taken at: timestamp required
  seal: text(10) unique
  findings: list of object
    code: text(10) required

collection Sample
  inspection: Inspection required
  grade: text(4) required
  tests: map of text(10) to integer
  index (grade)
`,
  newDesign('Tidewell')
).design

const LINKS = ['Engine', 'Inspection', 'Sample'] as const
type Within = Readonly<Record<(typeof LINKS)[number], boolean>>

const linkOf = (design: Design, child: string) =>
  Object.values(design.links).find((link) => design.entities[link.child]?.name === child)

function kept(design: Design, within: Within): Design {
  return LINKS.reduce((now, child) => {
    const link = linkOf(now, child)
    if (!link) throw new Error(`${child} is linked`)
    return edit(now, { kind: 'object.set', collection: 'links', object: { ...link, embedded: within[child] } })
  }, design)
}
/** With other names for what is in them. */
const renamed = (design: Design): Design =>
  [
    ['Inspection', 'seal', 'mark'],
    ['Sample', 'grade', 'sort'],
    ['Engine', 'place', 'where'],
    ['Vessel', 'imo', 'number']
  ].reduce((now, [entity, from, to]) => {
    const found = Object.values(now.entities).find(({ name }) => name === entity)
    const attribute = found?.attributes.find(({ name }) => name === from)
    if (!found || !attribute) throw new Error(`${entity} has ${from}`)
    return edit(now, {
      kind: 'part.set',
      entity: found.id,
      list: 'attributes',
      part: { ...attribute, name: to ?? '' }
    } as never)
  }, design)

const wantedOf = (design: Design): Catalog => derive(design, target, dialect).catalog

async function all(live: LiveDatabase): Promise<Record<string, Plain[]>> {
  const found: Record<string, Plain[]> = {}
  for (const { name } of (await live.catalog()).tables) {
    const { columns, rows } = await live.query(JSON.stringify({ find: name, sort: { _id: 1 } }))
    found[name] = rows.map((row) =>
      Object.fromEntries(columns.flatMap((column, i) => (row[i] === null ? [] : [[column, row[i]]])))
    )
  }
  return found
}

/** Documents that belong to each other, and some that belong to nothing yet have what is in others. */
async function fill(live: LiveDatabase, catalog: Catalog) {
  const table = (name: string) => {
    const found = catalog.tables.find((one) => one.name === name)
    if (!found) throw new Error(`there is ${name}`)
    return found
  }
  const id = (of: number, n: number) => ({ $oid: `${'0'.repeat(20)}${of}${n.toString(16).padStart(3, '0')}` })
  const put = async (name: string, documents: readonly Plain[]) => {
    const [outcome] = await live.run([JSON.stringify({ insert: name, documents })])
    expect(outcome?.error).toBeUndefined()
  }
  await put(
    'vessel',
    [1, 2, 3].map((n) => ({ ...documentFor(table('vessel'), n), _id: id(1, n), imo: n }))
  )
  await put(
    'engine',
    [1, 2].map((n) => ({ ...documentFor(table('engine'), n), _id: id(2, n), vessel_imo: n }))
  )
  await put(
    'inspection',
    [1, 2, 3, 4].map((n) => ({ ...documentFor(table('inspection'), n), _id: id(3, n), vessel_imo: 1 + (n % 2) }))
  )
  await put(
    'sample',
    [1, 2, 3, 4, 5].map((n) => ({
      ...documentFor(table('sample'), n),
      _id: id(4, n),
      inspection_id: id(3, 1 + (n % 3))
    }))
  )
}

/** To the end, cut off at a statement: before it, or after it was carried out and before anybody knew. */
async function run(live: LiveDatabase, migration: Migration, cut: { readonly at: number; readonly done: boolean }) {
  const recorded = new Map<number, Recorded>()
  let sent = 0
  const cutting: LiveDatabase = {
    ...live,
    run: async (statements) => {
      const now = sent++ === cut.at
      if (now && !cut.done) throw new Error('cut')
      const outcomes = await live.run(statements)
      if (now) throw new Error('cut')
      return outcomes
    }
  }
  const attempt = () =>
    runMigration(migration, cutting, dialect, {
      recorded,
      onBegin: async (groups) => groups.forEach((id) => recorded.set(id, 'begun')),
      onResults: (told) =>
        told.forEach(({ step, result }) => {
          if (result.state === 'failed') throw new Error(`${step.statement}: ${result.error.message}`)
          if (result.state === 'done') recorded.set(step.group, 'done')
        })
    })
  const first = await attempt().catch((error: Error) => {
    if (error.message !== 'cut') throw error
    return undefined
  })
  expect(first ?? (await attempt())).toEqual({ how: 'complete' })
}

const choice = fc.record({ Engine: fc.boolean(), Inspection: fc.boolean(), Sample: fc.boolean() })

describe('documents kept within others', () => {
  it('are the same when they are referred to again, however often, and wherever a run was cut off', async () => {
    let carried = 0
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(choice, fc.boolean()), { minLength: 1, maxLength: 3 }),
        fc.nat(30),
        fc.boolean(),
        async (choices, at, done) => {
          const none: Within = { Engine: false, Inspection: false, Sample: false }
          const ways: [Within, boolean][] = [...choices, [none, false]]
          // What stays within another takes in nothing by itself, and gives nothing.
          ways.reduce((before, [after]) => {
            fc.pre(!(before.Inspection && after.Inspection && before.Sample !== after.Sample))
            return after
          }, none)
          const live = await emptyStandIn()
          let agreed = wantedOf(HARBOUR)
          await live.run(
            session(HARBOUR, target, dialect)
              .script()
              .map(({ sql }) => sql)
          )
          await fill(live, agreed)
          const before = await all(live)
          for (const [within, names] of ways) {
            const design = kept(names ? renamed(HARBOUR) : HARBOUR, within)
            const beside = session(design, target, dialect).beside({ live: await live.catalog(), agreed })
            const { migration } = beside.plan()
            expect(migration.left).toBeUndefined()
            if (migration.steps.some(({ why }) => why.startsWith('puts each'))) carried += 1
            for (const { preflight } of migration.steps)
              if (preflight && !preflight.later)
                expect((await live.query(preflight.count, { readOnly: true })).rows[0]?.[0] ?? 0, preflight.count).toBe(
                  0
                )
            await run(live, migration, { at, done })
            const wanted = wantedOf(design)
            agreed = session(design, target, dialect)
              .beside({ live: await live.catalog(), agreed })
              .agree(migration.steps.flatMap(({ effects }) => effects))
            expect(session(design, target, dialect).beside({ live: await live.catalog(), agreed }).differences).toEqual(
              []
            )
            expect((await live.catalog()).tables.map(({ name }) => name)).toEqual(
              wanted.tables.map(({ name }) => name).sort()
            )
          }
          expect(await all(live)).toEqual(before)
        }
      ),
      { numRuns: 300 }
    )
    expect(carried).toBeGreaterThan(200)
  }, 600_000)
})
