// The examples of the notation are read without a mistake, and run.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { dialect } from '../../src/lib/core/dialects'
import { newDesign } from '../../src/lib/core/design'
import { printJot, readJot } from '../../src/lib/core/jot'
import { SAMPLES } from '../../src/lib/ui/help/notation'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'
import { reached } from '../support/reached'

describe.each(ENGINES_UNDER_TEST)('$label', ({ open, lacking, engine }) => {
  let db: Playground
  beforeAll(async () => {
    if (lacking === undefined) db = await open()
  }, 120_000)
  afterAll(() => db?.close())

  // Views are not written for every engine.
  const samples = SAMPLES.filter(({ text }) => dialect(engine)?.carry.kinds.has('view') || !text.includes('view '))
  it.skipIf(lacking !== undefined).each(samples)('makes what “$title” says', async ({ title, text }) => {
    await db.reset()
    const { design, notices } = readJot(text, newDesign(title))
    expect(notices).toEqual([])
    // A guess is written out; nothing else is otherwise.
    expect(readJot(printJot(design), design).notices).toEqual([])
    await reached(db, design, { subtypeTables: {}, schemas: {} })
    expect((await db.live.catalog()).tables.length).toBeGreaterThan(0)
  })
})
