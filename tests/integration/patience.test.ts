// A run does not wait long for a table that others are at: all behind it would wait as well. What a session was told otherwise, it is told
// again after the run.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { PATIENCE } from '../../src/lib/core/dialects'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

/** How long it waits, as it says itself; how that is said, and in what. */
const SAID: Readonly<Record<string, { asked: string; told: unknown; other: string; after: unknown }>> = {
  postgres: {
    asked: `current_setting('lock_timeout')`,
    told: `${PATIENCE}s`,
    other: `SET lock_timeout TO '77s'`,
    after: '77s'
  },
  mariadb: {
    asked: '@@SESSION.lock_wait_timeout',
    told: PATIENCE,
    other: 'SET SESSION lock_wait_timeout = 77',
    after: 77
  }
}

describe.each(ENGINES_UNDER_TEST.filter(({ engine }) => engine in SAID))('$label', ({ open, engine, lacking }) => {
  let db: Playground
  beforeAll(async () => {
    if (!lacking) db = await open()
  }, 120_000)
  afterAll(() => db?.close())

  it.skipIf(lacking)('waits as long as is said', async () => {
    const { asked, told, other, after } = SAID[engine] ?? { asked: '', told: '', other: '', after: '' }
    await db.reset()
    await db.live.query(other)
    const outcomes = await db.live.run([`CREATE TABLE told AS SELECT ${asked} AS patience`])
    expect(outcomes.flatMap(({ error }) => error?.message ?? [])).toEqual([])
    expect((await db.live.query('SELECT patience FROM told')).rows.map(String)).toEqual([String(told)])
    expect((await db.live.query(`SELECT ${asked}`)).rows.map(String)).toEqual([String(after)])
  })
})
