// However a script is written, it makes the same: names in quotes, files one after the other, or parts of it by themselves.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { harbour } from '../../demo/harbour'
import { compare } from '../../src/lib/core/compare'
import { newTarget, SCRIPT_PARTS, type ScriptSettings } from '../../src/lib/core/design'
import { dialect as dialectOf } from '../../src/lib/core/dialects'
import { printFile, scriptFiles, summaryOf } from '../../src/lib/core/plan'
import { session } from '../../src/lib/core/session'
import { splitStatements } from '../../src/lib/core/sql'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

describe.each(ENGINES_UNDER_TEST)('$label', ({ open, lacking }) => {
  let db: Playground
  beforeAll(async () => {
    if (lacking === undefined) db = await open()
  }, 120_000)
  afterAll(() => db?.close())

  const written = (settings: ScriptSettings) => {
    const { id, version } = db.dialect.profile
    const engine = dialectOf(id, version, settings.quoting)
    if (!engine) throw new Error('it is known')
    return {
      engine,
      statements: session(harbour(), newTarget('any', { engine: id, version }), engine).script(settings)
    }
  }
  /** Runs the text of a script as somebody would who has only that. */
  const run = async (text: string) => {
    for (const { sql } of splitStatements(text, db.dialect.write.lexis)) if (sql.trim() !== '') await db.exec(sql)
  }
  /** What is otherwise in the database than in the design, but for what makes no object. */
  const missing = async () => {
    const { id, version } = db.dialect.profile
    const { catalog } = session(harbour(), newTarget('any', { engine: id, version }), db.dialect)
    const { changes } = compare({ wanted: catalog, live: await db.live.catalog() }, db.dialect)
    return changes.flatMap(({ action, address }) => (action === 'alter' ? [] : [`${action} ${address.kind}`]))
  }

  it.skipIf(lacking !== undefined)('has all of it from a script whose names are in quotes', async () => {
    await db.reset()
    const { engine, statements } = written({ quoting: 'always', before: '-- harbour', after: '-- end' })
    const text = printFile(statements, engine, { before: '-- harbour', after: '-- end' })
    expect(text.startsWith('-- harbour\n')).toBe(true)
    expect(text.trimEnd().endsWith('-- end')).toBe(true)
    expect(text).toMatch(/CREATE TABLE (["`]\w+["`]\.)?["`]vessel["`] /i)
    await run(text)
    expect(await missing()).toEqual([])
  })

  it.skipIf(lacking !== undefined)(
    'has all of it from files in their order, and nothing of it when they are taken away',
    async () => {
      await db.reset()
      const { engine, statements } = written({})
      const files = scriptFiles(statements, engine)
      expect([...files].map(({ name }) => name).sort()).toEqual(files.map(({ name }) => name))
      for (const { text } of files) await run(text)
      expect(await missing()).toEqual([])
      const summary = summaryOf(statements)
      expect(summary.get('make table')).toBe((await db.live.catalog()).tables.length)
      for (const { sql } of written({ make: 'drop' }).statements) await db.exec(sql)
      expect((await db.live.catalog()).tables).toEqual([])
    }
  )

  it.skipIf(lacking !== undefined)('has all of it from two halves', async () => {
    await db.reset()
    const inTables = db.dialect.profile.features.foreignKeysInTable
    const first: ScriptSettings['without'] = inTables ? ['indexes', 'views'] : ['foreign keys', 'indexes', 'views']
    for (const { sql } of written({ without: first }).statements) await db.exec(sql)
    const half = await missing()
    expect(half.length).toBeGreaterThan(0)
    expect(half.filter((what) => what.endsWith('table'))).toEqual([])
    const rest = SCRIPT_PARTS.filter((part) => !first.includes(part))
    for (const { sql } of written({ without: rest }).statements) await db.exec(sql)
    expect(await missing()).toEqual([])
  })
})
