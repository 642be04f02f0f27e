// What the browser keeps, on an implementation of IndexedDB that is not the browser's (fake-indexeddb, which passes the
// Web Platform Tests of "Indexed Database API 3.0" but for a few): designs object by object, runs, and what goes with them.
import 'fake-indexeddb/auto'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../demo/harbour'
import { edits, type Make } from '../../../tests/support/designs'
import { mendDesign, readDesign } from '../core/derive'
import {
  begin,
  change,
  COLLECTIONS,
  edit,
  newDesign,
  newEntity,
  printDesign,
  undo,
  type Design,
  type History
} from '../core/design'
import {
  appendEntries,
  designOf,
  entriesOf,
  listCheckpoints,
  listDesigns,
  listQueries,
  listRuns,
  loadAgreed,
  loadDesign,
  loadDump,
  loadHistory,
  recordQuery,
  removeCheckpoint,
  removeDesign,
  saveAgreed,
  saveCheckpoint,
  saveDesign,
  saveDump,
  saveHistory,
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

const first = async (design: Design) => Number(await saveDesign(design, undefined, 0))

async function loaded(id: string): Promise<{ text: string; revision: number }> {
  const found = await loadDesign(id)
  if (!found?.design.ok) throw new Error(`${id} cannot be read`)
  return { text: printDesign(found.design.value), revision: found.revision }
}

describe('what was before', () => {
  it('is undone and made again after the page is loaded anew, for the revision that it belongs to', async () => {
    await fc.assert(
      fc.asyncProperty(edits, fc.nat(5), async (makes, undone) => {
        const id = 'des_steps'
        let history = makes.reduce((h, make) => change(h, make(h.present)), begin({ ...harbour(), id }))
        for (let i = 0; i < undone; i++) history = undo(history)
        await saveHistory(history, 7)
        // Loaded, it is another object of the same content.
        const read = readDesign(printDesign(history.present))
        if (!read.ok) return
        const there = await loadHistory(read.value, 7)
        const texts = ({ past, present, future }: History) => [...past, present, ...future].map(printDesign)
        expect([there.past.length, there.future.length]).toEqual([history.past.length, history.future.length])
        expect(texts(there)).toEqual(texts(history))
        expect(await loadHistory(read.value, 8)).toMatchObject({ past: [], future: [] })
      }),
      { numRuns: 40 }
    )
  })

  it('is kept under a name, read again, and goes with its design', async () => {
    const design: Design = { ...harbour(), id: 'des_named' }
    await first(design)
    await saveCheckpoint('chp_1', 'Before the spring', design)
    await saveCheckpoint(
      'chp_2',
      'After',
      edit(design, { kind: 'object.remove', collection: 'entities', id: 'ent_tug' })
    )
    const list = await listCheckpoints(design.id)
    expect(list.map(({ name }) => name).sort()).toEqual(['After', 'Before the spring'])
    const before = list.find(({ id }) => id === 'chp_1')
    const read = before && designOf(before)
    expect(typeof read === 'object' && printDesign(read)).toBe(printDesign(design))
    expect(before && designOf({ ...before, text: '{' })).toMatch(/JSON/)
    await removeCheckpoint('chp_2')
    await removeDesign(design.id)
    expect(await listCheckpoints(design.id)).toEqual([])
  })
})

describe('a design', () => {
  it('loses no edit that is made while a save is still under way', async () => {
    const id = 'des_slow'
    let design: Design = { ...harbour(), id }
    const revision = await first(design)
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
        let revision = await first(design)
        for (const makes of rounds) {
          const before = design
          design = makes.reduce((d: Design, make: Make) => edit(d, make(d)), design)
          revision = Number(await saveDesign(design, before, revision))
          expect(await loaded(id)).toEqual({ text: printDesign(design), revision })
        }
        expect(revision).toBe(1 + rounds.length)
      }),
      { numRuns: 40 }
    )
  })

  it('is not written over what another tab has saved since', async () => {
    const design = { ...newDesign('Tidewell'), id: 'des_tabs' }
    const revision = await first(design)
    const [here, there] = ['Berth', 'Buoy'].map((name) =>
      edit(design, { kind: 'object.set', collection: 'entities', object: newEntity(name) })
    ) as [Design, Design]
    expect(await saveDesign(there, design, revision)).toBe(revision + 1)
    const kept = await loaded(design.id)
    expect(await saveDesign(here, design, revision)).toBe('elsewhere')
    expect(await loaded(design.id)).toEqual(kept)
    expect(kept.text).toContain('Buoy')
  })

  it('that somebody has removed is not written in part, and can be stored whole again', async () => {
    const design = { ...harbour(), id: 'des_gone' }
    const saver = new Saver(design, await first(design))
    await removeDesign(design.id)
    const changed = edit(design, { kind: 'design.set', set: { name: 'still here' } })
    expect(await saver.save(() => changed)).toBe('removed')
    expect(await loadDesign(design.id)).toBeUndefined()
    const anew = Saver.anew(changed)
    expect(await anew.save(() => changed)).toBe('saved')
    expect((await loaded(design.id)).text).toBe(printDesign(changed))
    expect(await anew.save(() => changed)).toBe('unchanged')
  })

  it('of which any one record is damaged can be read but for it, and all of it as it stands', async () => {
    const design = { ...harbour(), id: 'des_broken' }
    const keys = Object.entries(COLLECTIONS).flatMap(([collection]) =>
      Object.keys(design[collection as keyof typeof COLLECTIONS]).map((id) => [design.id, collection, id] as const)
    )
    for (const [, collection, id] of keys) {
      await removeDesign(design.id)
      await first(design)
      await (await database()).put('objects', { id, name: 'torn' }, [design.id, collection, id])
      const found = await loadDesign(design.id)
      expect(found?.design.ok, `${collection} ${id}`).toBe(false)
      const { design: rest, left } = mendDesign(found?.pieces ?? { id: '', name: '', settings: '', objects: {} })
      expect(left.length).toBeGreaterThan(0)
      const again = readDesign(printDesign(rest))
      expect(again.ok && printDesign(again.value)).toBe(printDesign(rest))
      // What does not hang on it is there, as it was.
      const there = (Object.keys(COLLECTIONS) as (keyof typeof COLLECTIONS)[]).flatMap((name) =>
        Object.keys(rest[name])
      )
      expect(there.length).toBeGreaterThan(keys.length - 16)
      expect(there).not.toContain(id)
    }
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
      await appendEntries([{ run: `run_${id}`, at: 1, group: 1, state: 'begun' }])
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
      await appendEntries([{ run: 'late', at: 1, group, state }])
    expect((await entriesOf('late')).map(({ group, state }) => [group, state])).toEqual([
      [1, 'begun'],
      [1, 'done'],
      [2, 'begun']
    ])
    for (const sql of ['SELECT 1', 'SELECT 2']) await recordQuery({ target, at: 1, sql, time: 1 })
    expect((await listQueries(target)).map(({ sql }) => sql)).toEqual(['SELECT 2', 'SELECT 1'])
  })
})
