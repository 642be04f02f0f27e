// With which number rows begin, on every engine that can be told: what is inserted first has it, whether a script or a plan makes the
// table, and nothing differs after it.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { builder } from '../../demo/build'
import { newTarget, type Design } from '../../src/lib/core/design'
import { session } from '../../src/lib/core/session'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

function designed(start: number): Design {
  const b = builder('Harbour')
  b.entity('', 'Visit', '', [['note', 'text(40)']])
  b.edit({ kind: 'entity.set', id: 'ent_visit', set: { identifier: { start } } })
  return b.design
}

describe.each(ENGINES_UNDER_TEST)('$label', ({ open, engine, version, lacking }) => {
  let db: Playground
  beforeAll(async () => {
    if (!lacking) db = await open()
  }, 120_000)
  afterAll(() => db?.close())

  it.skipIf(lacking)('begins where it is told, or says that it does not', async () => {
    const target = newTarget('here', { engine, ...(version === undefined ? {} : { version }) })
    const here = session(designed(4100), target, db.dialect)
    const isTold = db.dialect.profile.features.counts !== undefined
    expect(here.notices.filter(({ code }) => code === 'not-kept')).toHaveLength(isTold ? 0 : 1)
    const none = { ...here.catalog, tables: [] }
    for (const make of [
      () => here.script().map(({ sql }) => sql),
      () =>
        here
          .beside({ live: none })
          .plan()
          .migration.steps.map(({ statement }) => statement)
    ]) {
      await db.reset()
      for (const sql of make()) await db.exec(sql)
      await db.exec("INSERT INTO visit (note) VALUES ('first')")
      await db.exec("INSERT INTO visit (note) VALUES ('second')")
      const { rows } = await db.live.query('SELECT id FROM visit ORDER BY id')
      expect(rows.map(([id]) => Number(id))).toEqual(isTold ? [4100, 4101] : [1, 2])
      expect(here.beside({ live: await db.live.catalog() }).differences).toEqual([])
    }
  })
})
