// The ledger and its lock, on every engine that runs here.
import { setTimeout as pause } from 'node:timers/promises'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { breakLock, openLedger, withoutLedger, type Held, type Ledger } from '../../src/lib/live'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

describe.each(ENGINES_UNDER_TEST)('$label', (engine) => {
  let db: Playground
  beforeAll(async () => {
    if (!engine.lacking) db = await engine.open()
  }, 60_000)
  afterAll(() => db?.close())

  it.skipIf(engine.lacking)('keeps what was run to the letter, and lets one run in at a time', async () => {
    await db.reset()
    const open = (who: string) => openLedger(db.live, db.dialect, who)
    const first = (await open('Ines')) as Ledger
    const statement = `INSERT INTO pilot VALUES ('it''s', "a", 'back\\slash')\n-- é`
    await first.write({ run: 'r1', who: 'Ines', statement, state: 'done' })
    await first.write({ run: 'r1', who: 'Ines', statement: 'DROP TABLE x', state: 'failed', message: 'no such table' })
    expect(await open('Bram')).toMatchObject({ holder: 'Ines' })
    await first.release()
    const second = (await open('Bram')) as Ledger
    expect(second).toHaveProperty('release')
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
      ['DROP TABLE x', 'failed', 'no such table']
    ])
    expect(withoutLedger(await db.live.catalog()).tables).toEqual([])
  })
})
