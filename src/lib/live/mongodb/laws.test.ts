// The laws of the architecture for documents, on the stand-in: what is written is what is read back, and a plan leads from any state
// to any other without losing a document or a value that it did not say it would lose.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { edits } from '../../../../tests/support/designs'
import { documentFor, DOCUMENTS, emptyStandIn, type Plain } from '../../../../tests/support/documents'
import { isWithin, namesOf, type Catalog, type Table } from '../../core/catalog'
import { compare } from '../../core/compare'
import { derive } from '../../core/derive'
import { edit, newDesign, newTarget, type Design, type HandStep } from '../../core/design'
import { printJot, readJot } from '../../core/jot'
import { dialect as dialectOf, type Dialect } from '../../core/dialects'
import { movesBetween, plan, stepKey, stepState, writeScript, type Step } from '../../core/plan'
import { session } from '../../core/session'
import type { LiveDatabase } from '../database'

const dialect = dialectOf('mongodb') as Dialect
const HERE = { subtypeTables: {}, schemas: {} }
const wantedOf = (design: Design): Catalog => derive(design, HERE, dialect).catalog
const left = async (live: LiveDatabase, wanted: Catalog) =>
  compare({ wanted, live: await live.catalog() }, dialect).changes

async function run(live: LiveDatabase, statements: readonly string[]) {
  for (const statement of statements) {
    const [outcome] = await live.run([statement])
    if (!outcome?.ok) throw new Error(`${statement}\n${outcome?.error?.message}`)
  }
}

/** Some; of values that may stand once, as many as there are. */
async function fill(live: LiveDatabase, tables: readonly Table[]) {
  for (const table of tables)
    for (const n of [1, 2, 3]) {
      const [outcome] = await live.run([JSON.stringify({ insert: table.name, documents: [documentFor(table, n)] })])
      if (outcome?.error?.code !== '11000') expect(outcome?.error?.message).toBeUndefined()
    }
}
/** A database that is as a catalogue says, with documents in it. */
async function filled(catalog: Catalog): Promise<LiveDatabase> {
  const live = await emptyStandIn()
  await run(
    live,
    writeScript(catalog, dialect).map(({ sql }) => sql)
  )
  await fill(live, catalog.tables)
  return live
}
const documents = async (live: LiveDatabase, name: string): Promise<Plain[]> => {
  const { columns, rows } = await live.query(JSON.stringify({ find: name, sort: { _id: 1 } }))
  return rows.map((row) => Object.fromEntries(columns.map((column, i) => [column, row[i]])))
}

/** What stands at a path, through lists. */
const at = (value: unknown, path: readonly string[]): unknown => {
  const [name, ...deeper] = path
  if (name === undefined || value === undefined || value === null) return value
  if (Array.isArray(value)) return value.map((one) => at(one, path))
  if (name === '{}') return Object.values(value as Plain).map((one) => at(one, deeper))
  return at((value as Plain)[name], deeper)
}
const pathOf = (name: string) => name.replaceAll('[]', '').replaceAll('{}', '.{}').split('.')
const oneWay = { numRuns: 300 }

describe('documents', () => {
  it('fit what is written for them, and it is read back as it was written', async () => {
    await fc.assert(
      fc.asyncProperty(edits, async (makes) => {
        const wanted = wantedOf(makes.reduce((design, make) => edit(design, make(design)), DOCUMENTS))
        expect(await left(await filled(wanted), wanted)).toEqual([])
      }),
      oneWay
    )
  }, 300_000)

  it('are carried from any state to any other, and back, and nothing is lost that was not told', async () => {
    let [ended, refused] = [0, 0]
    await fc.assert(
      fc.asyncProperty(edits, edits, async (first, then) => {
        const before = first.slice(0, 4).reduce((design, make) => edit(design, make(design)), DOCUMENTS)
        const after = then.slice(0, 4).reduce((design, make) => edit(design, make(design)), before)
        const [a, b] = [wantedOf(before), wantedOf(after)]
        const live = await filled(a)
        const held = new Map<string, Plain[]>()
        for (const { name } of a.tables) held.set(name, await documents(live, name))

        const found = compare({ wanted: b, live: await live.catalog(), agreed: a }, dialect)
        const way = plan(await live.catalog(), found.changes, dialect, { moves: movesBetween(a, b) })
        for (const group of way.groups) {
          const steps = way.steps.filter((step) => step.group === group.id)
          if (group.before.length > 0) expect(stepState(group, await live.catalog(), dialect)).not.toBe('unknown')
          for (const { statement, preflight, effects } of steps) {
            for (const effect of effects)
              expect(effect.action === 'rename' && namesOf(effect.address).name === effect.to).toBe(false)
            const [outcome] = await live.run([statement])
            if (outcome?.ok) continue
            // It was told beforehand.
            const counted = preflight && (await live.query(preflight.count, { readOnly: true }))
            expect(Number(counted?.rows[0]?.[0] ?? 0), `${statement}: ${outcome?.error?.message}`).toBeGreaterThan(0)
            refused += 1
            return
          }
          if (group.after.length > 0) expect(stepState(group, await live.catalog(), dialect)).toBe('done')
        }
        ended += 1
        expect(await left(live, b)).toEqual([])

        const lost = way.steps.flatMap(({ hazards, about }) =>
          hazards.some(({ kind }) => kind === 'loses data') ? [namesOf(about).name] : []
        )
        const kept = b.tables.flatMap((table) => {
          const was = a.tables.find(
            ({ origin }) => origin?.id === table.origin?.id && origin?.part === table.origin?.part
          )
          return was ? [{ was, table }] : []
        })
        for (const { was, table } of kept) {
          const now = await documents(live, table.name)
          expect(now).toHaveLength(held.get(was.name)?.length ?? 0)
          for (const column of table.columns) {
            const old = was.columns.find(
              ({ origin, type }) =>
                origin?.id === column.origin?.id &&
                origin?.part === column.origin?.part &&
                type.name === column.type.name
            )
            // What holds others is as those are.
            const holds = was.columns.some(({ name }) => name !== old?.name && name.startsWith(old?.name ?? ' '))
            const isLost = lost.some((path) => path === old?.name || isWithin(old?.name ?? '', path))
            if (isLost || !old || holds || old.name.split('.').length !== column.name.split('.').length) continue
            const values = held.get(was.name) ?? []
            values.forEach((document, i) =>
              expect(at(now[i], pathOf(column.name)) ?? null).toEqual(at(document, pathOf(old.name)) ?? null)
            )
          }
        }
        // The way back leads to what was there, as far as structure goes.
        const back = compare({ wanted: a, live: await live.catalog(), agreed: b }, dialect)
        const undo = plan(await live.catalog(), back.changes, dialect, { moves: movesBetween(b, a) })
        for (const { statement, preflight } of undo.steps) {
          const [outcome] = await live.run([statement])
          if (outcome?.ok) continue
          expect(preflight, `${statement}: ${outcome?.error?.message}`).toBeDefined()
          return
        }
        expect(await left(live, a)).toEqual([])
      }),
      oneWay
    )
    expect(ended).toBeGreaterThan(4 * refused)
  }, 600_000)

  it('that lack a field which is added with a default have it before it is asked of them, to any depth', async () => {
    const before = readJot(printJot(DOCUMENTS), DOCUMENTS).design
    const text = printJot(before)
      .replace(
        '  taken at: timestamp required',
        '  taken at: timestamp required\n  state: text(8) required default open\n  round: big required default 7'
      )
      .replace(
        '    code: text(10) required',
        '    code: text(10) required\n    weight: decimal(5,2) required default 2.5'
      )
    const after = readJot(text, before).design
    const [a, b] = [wantedOf(before), wantedOf(after)]
    const live = await filled(a)
    const way = plan(
      await live.catalog(),
      compare({ wanted: b, live: await live.catalog(), agreed: a }, dialect).changes,
      dialect
    )
    expect(way.steps.flatMap(({ hazards }) => hazards)).toEqual([])
    await run(
      live,
      way.steps.map(({ statement }) => statement)
    )
    const now = await documents(live, 'inspection')
    expect(now.map(({ state, round }) => [state, round])).toEqual(now.map(() => ['open', 7]))
    const found = now.flatMap(({ findings }) => (findings ?? []) as Plain[])
    expect(found.length).toBeGreaterThan(0)
    for (const { weight } of found) expect(weight).toBe(2.5)
    const misfits = dialect.misfits?.(b.tables.find(({ name }) => name === 'inspection') as Table)
    expect((await live.query(misfits?.count ?? '')).rows).toEqual([[0]])
  })

  it('have a field split in two, and two made one, by steps of a person’s own before what they were made of goes', async () => {
    const before = readJot(
      `collection Pilot
  licence: text(12) required
  name: text(80) required

collection Berth
  pier: text(4) required
  place: integer required
`,
      newDesign('Tidewell')
    ).design
    const after = readJot(
      printJot(before)
        .replace('  name: text(80) required', '  given name: text(40) required\n  family name: text(40) required')
        .replace('  pier: text(4) required\n  place: integer required', '  code: text(12) required'),
      before
    ).design
    const agreed = wantedOf(before)
    const live = await filled(agreed)
    await run(live, [
      '{"update":"pilot","updates":[{"q":{},"u":[{"$set":{"name":{"$concat":["Ada ","$licence"]}}}],"multi":true}]}'
    ])
    const was = { pilot: await documents(live, 'pilot'), berth: await documents(live, 'berth') }
    const target = newTarget('Archive', { engine: 'mongodb', version: '7.0' })
    const planned = async (handSteps: HandStep[]) =>
      session(after, { ...target, handSteps }, dialect)
        .beside({ live: await live.catalog(), agreed })
        .plan().migration
    const goes = (await planned([])).steps.filter(({ hazards }) => hazards.some(({ kind }) => kind === 'loses data'))
    const anchor = (path: string) => stepKey(goes.find(({ statement }) => statement.includes(path)) as Step)
    const by = (id: string, at: string, statement: string): HandStep => ({
      id,
      place: 'before',
      anchor: anchor(at),
      statement
    })
    const migration = await planned([
      by(
        'split',
        '"name"',
        `db.pilot.updateMany({}, [{ $set: { given_name: { $arrayElemAt: [{ $split: ["$name", " "] }, 0] },
          family_name: { $arrayElemAt: [{ $split: ["$name", " "] }, 1] } } }])`
      ),
      by(
        'merge',
        '"pier"',
        'db.berth.updateMany({}, [{ $set: { code: { $concat: ["$pier", { $toString: "$place" }] } } }])'
      )
    ])
    await run(
      live,
      migration.steps.map(({ statement }) => statement)
    )
    expect(await left(live, wantedOf(after))).toEqual([])
    const plain = (list: readonly Plain[]) => list.map(({ _id, ...rest }) => rest)
    expect(plain(await documents(live, 'pilot'))).toEqual(
      was.pilot.map(({ licence }) => ({ licence, given_name: 'Ada', family_name: licence }))
    )
    expect(plain(await documents(live, 'berth'))).toEqual(
      was.berth.map(({ pier, place }) => ({ code: `${String(pier)}${String(place)}` }))
    )
  })
})
