// What the browser keeps, on an implementation of IndexedDB that is not the browser's (fake-indexeddb, which passes the
// Web Platform Tests of "Indexed Database API 3.0" but for a few): designs object by object, runs, and what goes with them.
import 'fake-indexeddb/auto'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../demo/harbour'
import { edits, type Make } from '../../../tests/support/designs'
import { edit, newDesign, newEntity, printDesign, type Design } from '../core/design'
import {
  appendEntry,
  entriesOf,
  listDesigns,
  listQueries,
  listRuns,
  loadAgreed,
  loadDesign,
  loadDump,
  recordQuery,
  removeDesign,
  saveAgreed,
  saveDesign,
  saveDump,
  saveRun,
  Saver,
  targetKey,
  type RunRecord
} from '.'
import { database } from './database'

const catalog = { engine: 'postgres', defaultSchema: 'public', tables: [], unread: [] }
const migration = { steps: [], groups: [], from: catalog, to: catalog }
const run = (id: string, target: string, startedAt: number): RunRecord => ({
  id,
  target,
  who: 'me',
  startedAt,
  migration
})

async function loaded(id: string): Promise<{ text: string; revision: number }> {
  const found = await loadDesign(id)
  if (!found?.design.ok) throw new Error(`${id} cannot be read`)
  return { text: printDesign(found.design.value), revision: found.revision }
}

describe('a design', () => {
  it('loses no edit that is made while a save is still under way', async () => {
    const id = 'des_slow'
    let design: Design = { ...harbour(), id }
    const revision = (await saveDesign(design, undefined, 0)) ?? -1
    const saver = new Saver(design, revision)
    const named = (name: string) => (design = edit(design, { kind: 'design.set', set: { name } }))
    named('one')
    const saves = [saver.save(() => design)]
    // The first has not ended when the next ones begin.
    named('two')
    saves.push(saver.save(() => design))
    named('three')
    saves.push(saver.save(() => design))
    expect(await Promise.all(saves)).not.toContain('elsewhere')
    expect((await loaded(id)).text).toBe(printDesign(design))
    // Somebody else's save is still told.
    await saveDesign({ ...design, name: 'theirs' }, design, saver.revision)
    named('four')
    expect(await saver.save(() => design)).toBe('elsewhere')
  })

  it('is loaded as it was saved, after whatever edits between saves', async () => {
    let count = 0
    await fc.assert(
      fc.asyncProperty(fc.array(edits, { maxLength: 4 }), async (rounds) => {
        const id = `des_${count++}`
        let design: Design = { ...harbour(), id }
        let revision = (await saveDesign(design, undefined, 0)) ?? -1
        for (const makes of rounds) {
          const before = design
          design = makes.reduce((d: Design, make: Make) => edit(d, make(d)), design)
          revision = (await saveDesign(design, before, revision)) ?? -1
          expect(await loaded(id)).toEqual({ text: printDesign(design), revision })
        }
        expect(revision).toBe(1 + rounds.length)
      }),
      { numRuns: 40 }
    )
  })

  it('is not written over what another tab has saved since', async () => {
    const design = { ...newDesign('Tidewell'), id: 'des_tabs' }
    const revision = (await saveDesign(design, undefined, 0)) ?? -1
    const [here, there] = ['Berth', 'Buoy'].map((name) =>
      edit(design, { kind: 'entity.add', entity: newEntity(name) })
    ) as [Design, Design]
    expect(await saveDesign(there, design, revision)).toBe(revision + 1)
    const kept = await loaded(design.id)
    expect(await saveDesign(here, design, revision)).toBeUndefined()
    expect(await loaded(design.id)).toEqual(kept)
    expect(kept.text).toContain('Buoy')
  })

  it('stands on the shelf with its name and size, the last changed first', async () => {
    for (const id of ['des_first', 'des_second']) {
      await saveDesign({ ...harbour(), id, name: id }, undefined, 0)
      await new Promise((resolve) => setTimeout(resolve, 2))
    }
    const [newest] = await listDesigns()
    expect(newest).toMatchObject({ id: 'des_second', name: 'des_second', revision: 1 })
    expect(newest?.entities).toBe(Object.keys(harbour().entities).length)
  })

  it('goes with all that was kept for its targets, and takes nothing of another along', async () => {
    // The second one's id begins with the first one's: a range of keys must not reach into it.
    const ids = ['des_a', 'des_ab']
    for (const id of ids) {
      await saveDesign({ ...harbour(), id }, undefined, 0)
      const target = targetKey(id, 'tgt_dev')
      await saveDump(target, new Blob(['rows']))
      await saveAgreed(target, catalog)
      await saveRun(run(`run_${id}`, target, 1))
      await appendEntry({ run: `run_${id}`, at: 1, group: 1, state: 'begun' })
      await recordQuery({ target, at: 1, sql: 'SELECT 1', time: 1 })
    }
    const held = async (id: string) => {
      const target = targetKey(id, 'tgt_dev')
      const objects = await (await database()).getAllKeys('objects')
      return [
        (await loadDesign(id)) !== undefined,
        (await loadDump(target)) !== undefined,
        (await loadAgreed(target)) !== undefined,
        (await listRuns(target)).length > 0,
        (await entriesOf(`run_${id}`)).length > 0,
        (await listQueries(target)).length > 0,
        objects.some(([design]) => design === id)
      ]
    }
    await removeDesign('des_a')
    expect(await held('des_a')).toEqual(Array(7).fill(false))
    expect(await held('des_ab')).toEqual(Array(7).fill(true))
    expect(await loadDesign('des_a')).toBeUndefined()
  })
})

describe('runs and queries', () => {
  it('are told by target, the latest first, and their lines in the order they were written', async () => {
    const target = targetKey('des_runs', 'tgt_dev')
    for (const [id, at] of [
      ['early', 10],
      ['late', 30],
      ['between', 20]
    ] as const)
      await saveRun(run(id, target, at))
    await saveRun(run('elsewhere', targetKey('des_runs', 'tgt_test'), 40))
    expect((await listRuns(target)).map(({ id }) => id)).toEqual(['late', 'between', 'early'])

    for (const [group, state] of [
      [1, 'begun'],
      [1, 'done'],
      [2, 'begun']
    ] as const)
      await appendEntry({ run: 'late', at: 1, group, state })
    expect((await entriesOf('late')).map(({ group, state }) => [group, state])).toEqual([
      [1, 'begun'],
      [1, 'done'],
      [2, 'begun']
    ])
    for (const sql of ['SELECT 1', 'SELECT 2']) await recordQuery({ target, at: 1, sql, time: 1 })
    expect((await listQueries(target)).map(({ sql }) => sql)).toEqual(['SELECT 2', 'SELECT 1'])
  })
})
