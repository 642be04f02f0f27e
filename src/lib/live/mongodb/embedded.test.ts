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
import type { Reached } from '../ranges'
import { runMigration, type Recorded } from '../run'

const dialect = dialectOf('mongodb') as Dialect
const target = newTarget('Archive', { engine: 'mongodb', version: '7.0' })

/** Vessels have an engine and inspections, these have samples; tests of samples are in them from the start; surveys are of many vessels. */
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

collection Survey
  code: text(6) key
  vessel: many Vessel
`,
  newDesign('Tidewell')
).design

const LINKS = ['Engine', 'Inspection', 'Sample', 'Survey'] as const
type Within = Readonly<Record<(typeof LINKS)[number], boolean>>
const NONE: Within = { Engine: false, Inspection: false, Sample: false, Survey: false }

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
  await put(
    'survey',
    [1, 2].map((n) => ({ _id: id(5, n), code: `S${n}` }))
  )
  await put(
    'vessel_survey',
    [1, 2, 3].map((n) => ({ _id: id(6, n), vessel_imo: n, survey_code: `S${1 + (n % 2)}` }))
  )
}

/** The harbour with everything by itself, and documents in it. */
async function filled(): Promise<LiveDatabase> {
  const live = await emptyStandIn()
  await live.run(
    session(HARBOUR, target, dialect)
      .script()
      .map(({ sql }) => sql)
  )
  await fill(live, wantedOf(HARBOUR))
  return live
}

/** What a design says beside a database that agreed on another one. */
const besideOf = async (live: LiveDatabase, design: Design, agreed: Catalog) =>
  session(design, target, dialect).beside({ live: await live.catalog(), agreed })

const NEVER = { at: -1, done: false }

/** Ranges of two documents: what goes range by range is cut off within. */
const byTwos: Dialect = { ...dialect, inRanges: (statement) => dialect.inRanges?.(statement, 2) }

/** To the end, cut off at a statement: before it, or after it was carried out and before anybody knew. */
async function run(live: LiveDatabase, migration: Migration, cut: { readonly at: number; readonly done: boolean }) {
  const recorded = new Map<number, Recorded>()
  const reached = new Map<string, Reached>()
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
    runMigration(migration, cutting, byTwos, {
      recorded,
      reached,
      keepAfter: 0,
      onBegin: async (groups) => groups.forEach((id) => recorded.set(id, 'begun')),
      onResults: (told) =>
        told.forEach(({ step, result }) => {
          if (result.state === 'failed') throw new Error(`${step.statement}: ${result.error.message}`)
          if (result.state === 'done') recorded.set(step.group, 'done')
          if (result.state === 'under way') reached.set(step.id, result)
        })
    })
  const first = await attempt().catch((error: Error) => {
    if (error.message !== 'cut') throw error
    return undefined
  })
  expect(first ?? (await attempt())).toEqual({ how: 'complete' })
}

const choice = fc.record({
  Engine: fc.boolean(),
  Inspection: fc.boolean(),
  Sample: fc.boolean(),
  Survey: fc.boolean()
})

describe('documents kept within others', () => {
  it('are the same when they are referred to again, however often, and wherever a run was cut off', async () => {
    let carried = 0
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(choice, fc.boolean()), { minLength: 1, maxLength: 3 }),
        fc.nat(45),
        fc.boolean(),
        async (choices, at, done) => {
          const ways: [Within, boolean][] = [...choices, [NONE, false]]
          // What stays within another takes in nothing by itself, and gives nothing.
          ways.reduce((before, [after]) => {
            fc.pre(!(before.Inspection && after.Inspection && before.Sample !== after.Sample))
            return after
          }, NONE)
          const live = await filled()
          let agreed = wantedOf(HARBOUR)
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

  const within = kept(HARBOUR, { ...NONE, Inspection: true })
  const n = async (live: LiveDatabase, question: string | undefined) =>
    Number((await live.query(question ?? '', { readOnly: true })).rows[0]?.[0] ?? 0)

  it('tell what belongs to nothing and would go, and what is too large, before anything is run', async () => {
    const live = await filled()
    const stray = { taken_at: { $date: '2026-03-01T00:00:00Z' } }
    const junk = 'x'.repeat(1024 * 1024)
    const large = Array.from({ length: 17 }, (_, i) => ({ ...stray, vessel_imo: 3, seal: `L${i}`, junk }))
    const [put] = await live.run([
      JSON.stringify({ insert: 'inspection', documents: [{ ...stray, vessel_imo: 77, seal: 'S' }, ...large] })
    ])
    expect(put?.error).toBeUndefined()
    const { migration } = (await besideOf(live, within, wantedOf(HARBOUR))).plan()
    const [puts] = migration.steps.filter(({ why }) => why.startsWith('puts each'))
    expect(await n(live, puts?.preflight?.count)).toBe(1)
    const [goes] = migration.steps.filter(({ hazards }) => hazards.some(({ kind }) => kind === 'loses data'))
    expect(goes?.statement).toBe('{"drop":"inspection"}')
    expect(await n(live, goes?.changed?.count)).toBe(1)
  })

  it('come in by one plan and leave what they were in by a later one, where only that is chosen', async () => {
    const live = await filled()
    const before = await all(live)
    const found = await besideOf(live, within, wantedOf(HARBOUR))
    const isDrop = ({ change }: (typeof found.differences)[number]) => change.action === 'drop'
    // What goes brings what it comes to be in along; not the other way round.
    const gone = found.plan(found.differences.filter(isDrop).map(({ key }) => key))
    expect(gone.migration.steps.some(({ why }) => why.startsWith('puts each'))).toBe(true)
    const { migration } = found.plan(found.differences.filter((one) => !isDrop(one)).map(({ key }) => key))
    expect(migration.steps.flatMap(({ hazards }) => hazards).filter(({ kind }) => kind === 'loses data')).toEqual([])
    await run(live, migration, NEVER)
    const now = await all(live)
    expect(now['inspection']).toEqual(before['inspection'])
    expect(now['vessel']?.flatMap(({ inspection }) => inspection ?? [])).toHaveLength(4)
    const agreed = (await besideOf(live, within, wantedOf(HARBOUR))).agree(
      migration.steps.flatMap(({ effects }) => effects)
    )
    const later = (await besideOf(live, within, agreed)).plan().migration
    expect(later.steps.map(({ statement }) => statement)).toEqual(['{"drop":"inspection"}'])
  })

  it('that never had an id get one, once, wherever it was cut off', async () => {
    for (const at of [1, 2, 3])
      for (const done of [true, false]) {
        const live = await emptyStandIn()
        await live.run(
          session(within, target, dialect)
            .script()
            .map(({ sql }) => sql)
        )
        const inspection = [1, 2].map((k) => ({ taken_at: { $date: '2026-03-01T00:00:00Z' }, seal: `S${k}` }))
        await live.run([JSON.stringify({ insert: 'vessel', documents: [{ imo: 1, name: 'Grey Heron', inspection }] })])
        const { migration } = (await besideOf(live, HARBOUR, wantedOf(within))).plan()
        await run(live, migration, { at, done })
        const { inspection: out = [], vessel = [] } = await all(live)
        expect(out.map(({ seal, vessel_imo: of }) => [seal, of]).sort()).toEqual([
          ['S1', 1],
          ['S2', 1]
        ])
        expect(Object.keys(vessel[0] ?? {})).not.toContain('inspection')
      }
  })

  it('are told as lost where no statement leads: into what stays within another', async () => {
    const live = await filled()
    const first = (await besideOf(live, within, wantedOf(HARBOUR))).plan().migration
    await run(live, first, NEVER)
    const agreed = (await besideOf(live, within, wantedOf(HARBOUR))).agree(
      first.steps.flatMap(({ effects }) => effects)
    )
    const { migration } = (
      await besideOf(live, kept(HARBOUR, { ...NONE, Inspection: true, Sample: true }), agreed)
    ).plan()
    const lost = migration.steps.filter(({ hazards }) => hazards.some(({ kind }) => kind === 'loses data'))
    expect(lost.map(({ statement }) => statement)).toEqual(['{"drop":"sample"}'])
    expect(migration.steps.some(({ why }) => why.startsWith('puts each'))).toBe(false)
  })
})
