// The ledger and its lock, on every engine that runs here.
import { setTimeout as pause } from 'node:timers/promises'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { compare } from '../../src/lib/core/compare'
import { plan, weave } from '../../src/lib/core/plan'
import {
  askLedger,
  breakLock,
  inTurn,
  LineLost,
  openLedger,
  runMigration,
  withoutLedger,
  type Held,
  type Ledger,
  type LiveDatabase,
  type Recorded
} from '../../src/lib/live'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

describe.each(ENGINES_UNDER_TEST)('$label', (engine) => {
  let db: Playground
  beforeAll(async () => {
    if (!engine.lacking) db = await engine.open()
  }, 60_000)
  afterAll(() => db?.close())

  it.skipIf(engine.lacking)('keeps what was run to the letter, and lets one run in at a time', async () => {
    await db.reset()
    const open = (who: string) => openLedger(db.live, db.dialect, { who, run: 'r1' })
    const first = (await open('Ines')) as Ledger
    const statement = `INSERT INTO pilot VALUES ('it''s', "a", 'back\\slash')\n-- é`
    await first.write([{ step: '1', statement, state: 'done' }])
    await first.write([{ step: '2', statement: 'DROP TABLE x', state: 'failed', message: 'no such table' }])
    expect(await open('Bram')).toMatchObject({ holder: 'Ines' })
    await first.release()
    const second = (await open('Bram')) as Ledger
    expect(second).toHaveProperty('release')
    // Lines of the same run go on behind those that are there.
    await second.write([{ step: '3', statement: 'SELECT 3', state: 'done' }])
    // Bram's run was cut off: the lock is his until somebody breaks it.
    const held = (await open('Ines')) as Held
    expect(held).toMatchObject({ holder: 'Bram' })
    await breakLock(db.live, db.dialect, held)
    await pause(5)
    expect(await open('Ines')).toHaveProperty('release')
    // He who no longer has it takes it from nobody, and neither does one who looked too long ago.
    await second.release()
    await breakLock(db.live, db.dialect, held)
    expect(await open('Bram')).toMatchObject({ holder: 'Ines' })
    const { rows } = await db.live.query('SELECT statement, state, message FROM ramblet_ledger ORDER BY line')
    expect(rows).toEqual([
      [statement, 'done', null],
      ['DROP TABLE x', 'failed', 'no such table'],
      ['SELECT 3', 'done', null]
    ])
    expect(withoutLedger(await db.live.catalog()).tables).toEqual([])
  })

  it.skipIf(engine.lacking)('is made by two who come first at once, and let in to by one', async () => {
    await db.reset()
    // Call by call, as two sessions would meet.
    const live = inTurn(db.live)
    const both = await Promise.all(['Ines', 'Bram'].map((who) => openLedger(live, db.dialect, { who, run: 'r1' })))
    expect(both.map((one) => ('holder' in one ? 'held' : 'open')).sort()).toEqual(['held', 'open'])
  })

  it.skipIf(engine.lacking)('a ledger of before, that did not say which step a line is about, goes on', async () => {
    await db.reset()
    const first = (await openLedger(db.live, db.dialect, { who: 'Ines', run: 'r1' })) as Ledger
    await first.write([{ step: '1', statement: 'SELECT 1', state: 'done' }])
    await first.release()
    await db.exec('ALTER TABLE ramblet_ledger DROP step')
    const again = (await openLedger(db.live, db.dialect, { who: 'Ines', run: 'r1' })) as Ledger
    await again.write([{ step: '2', statement: 'SELECT 2', state: 'done' }])
    const { rows } = await db.live.query('SELECT line, step FROM ramblet_ledger ORDER BY line')
    expect(rows).toEqual([
      [1, null],
      [2, '2']
    ])
  })

  it.skipIf(engine.lacking)(
    'tells what became of a transaction whose line was lost, where it is marked in it',
    async () => {
      const { transactionalDdl } = db.dialect.profile.features
      for (const lost of ['before', 'after'] as const) {
        await db.reset()
        await db.exec('CREATE TABLE seen (id integer)')
        const live = await db.live.catalog()
        const [seen] = live.tables
        const name = db.dialect.profile.names.fold === 'upper' ? 'LAMP' : 'lamp'
        const wanted = { ...live, tables: [...live.tables, ...(seen ? [{ ...seen, name }] : [])] }
        const insert = 'INSERT INTO seen VALUES (7)'
        const migration = weave(
          plan(live, compare({ wanted, live }, db.dialect).changes, db.dialect),
          [{ id: 'h', statement: insert, place: 'before', anchor: '' }],
          db.dialect
        )
        const recorded = new Map<number, Recorded>()
        let asked = 0
        for (let tries = 0; tries < 4; tries++) {
          const opened = await openLedger(db.live, db.dialect, { who: 'Ines', run: 'r1' })
          if ('holder' in opened) throw new Error('the lock is held')
          await askLedger(db.live, db.dialect, { run: 'r1', migration, recorded })
          const cut: LiveDatabase = {
            ...db.live,
            catalog: () => db.live.catalog().then(withoutLedger),
            run: async (statements, options) => {
              if (tries > 0) return db.live.run(statements, options)
              if (lost === 'after') await db.live.run(statements)
              throw new LineLost('gone')
            }
          }
          const ended = await runMigration(migration, cut, db.dialect, {
            recorded,
            onBegin: async (ids) => ids.forEach((id) => recorded.set(id, 'begun')),
            onResults: (told) =>
              told.forEach(({ step, result }) => result.state === 'done' && recorded.set(step.group, 'done')),
            marks: (steps) =>
              opened.lines(steps.map((step) => ({ step: step.id, statement: step.statement, state: 'done' })))
          }).catch(() => undefined)
          await opened.release()
          if (ended?.how === 'complete') break
          if (ended?.how !== 'unknown') continue
          // Nobody but a person can tell.
          asked++
          for (const { id } of migration.groups) {
            if (lost === 'after') recorded.set(id, 'done')
            else recorded.delete(id)
          }
        }
        expect((await db.live.query('SELECT id FROM seen')).rows, lost).toEqual([[7]])
        expect(asked, lost).toBe(transactionalDdl ? 0 : 1)
      }
    }
  )
})
