// Columns that are worked out from others, on every engine that runs here: what they stand on changes, and nothing that
// is stored is lost by it.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { namesOf, type Catalog, type Column } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { plan, type Migration } from '../../src/lib/core/plan'
import { withOrigins } from '../support/catalogs'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

/** Whether the engine keeps a computed column's values, and whether one may be worked out from another. */
const habits: Readonly<Record<string, { stored: string; chained: boolean }>> = {
  postgres: { stored: ' STORED', chained: false },
  sqlite: { stored: ' STORED', chained: true },
  mariadb: { stored: ' STORED', chained: true },
  mysql: { stored: ' STORED', chained: true },
  firebird: { stored: '', chained: true }
}

describe.each(ENGINES_UNDER_TEST)('$label', (engine) => {
  const { stored, chained } = habits[engine.engine] ?? { stored: '', chained: false }
  /** Its `||` is no joining of texts, and an index is in its table. */
  const isOfFamily = ['mariadb', 'mysql'].includes(engine.engine)
  let db: Playground
  let live: Catalog
  const fold = (name: string) => (db.dialect.profile.names.fold === 'upper' ? name.toUpperCase() : name)
  beforeAll(async () => {
    if (!engine.lacking) db = await engine.open()
  })
  afterAll(() => db?.close())

  async function start() {
    await db.reset()
    for (const sql of [
      `CREATE TABLE vessel (imo integer NOT NULL PRIMARY KEY, name varchar(40), code varchar(9), loud varchar(50) GENERATED ALWAYS AS (upper(name))${stored}${chained ? `, louder varchar(60) GENERATED ALWAYS AS (loud || '!')${stored}` : ''})`.replace(
        "loud || '!'",
        isOfFamily ? "concat(loud, '!')" : "loud || '!'"
      ),
      `INSERT INTO vessel (imo, name, code) VALUES (1, 'Grey Heron', 'x')`,
      'CREATE VIEW heard AS SELECT imo, loud FROM vessel'
    ])
      await db.exec(sql)
    if (stored !== '') await db.exec('CREATE INDEX ix_loud ON vessel (loud)')
    live = await db.live.catalog()
  }
  /** The design after a change of its columns, by the names it has in small letters. */
  const wantedWith = (agreed: Catalog, change: (column: Column) => Column | undefined): Catalog => ({
    ...agreed,
    tables: agreed.tables.map((t) => ({ ...t, columns: t.columns.flatMap((c) => change(c) ?? []) }))
  })
  async function migrate(change: (column: Column) => Column | undefined): Promise<Migration> {
    const agreed = withOrigins(live)
    const wanted = wantedWith(agreed, change)
    const migration = plan(live, compare({ wanted, live, agreed }, db.dialect).changes, db.dialect)
    for (const group of migration.groups) {
      const steps = migration.steps.filter((step) => step.group === group.id).map((step) => step.statement)
      const failed = (await db.live.run(steps)).find((outcome) => outcome.error)
      expect(failed?.error?.message, steps.join('\n')).toBeUndefined()
    }
    const left = compare({ wanted: migration.to, live: await db.live.catalog() }, db.dialect).changes
    expect(left.filter((c) => c.action !== 'alter' || c.certain)).toEqual([])
    return migration
  }
  const is = (column: Column, name: string) => column.name === fold(name)
  const rows = async (sql: string) => (await db.live.query(sql)).rows
  const losses = ({ steps }: Migration) =>
    steps.filter((step) => step.hazards.some((hazard) => hazard.kind === 'loses data'))

  it.skipIf(engine.lacking)(
    'come back, with what stands on them, when what they are worked out from changes',
    async () => {
      await start()
      const { type } = db.dialect.types.fromNeutral({ kind: 'text' })
      const made = await migrate((c) => (is(c, 'name') ? { ...c, type } : c))
      expect(losses(made)).toEqual([])
      await db.exec(`UPDATE vessel SET name = 'Sturdy' WHERE imo = 1`)
      expect(await rows('SELECT loud FROM vessel')).toEqual([['STURDY']])
      // A view of MariaDB is not read yet, and stays as it is.
      expect(await rows('SELECT loud FROM heard')).toEqual([['STURDY']])
    }
  )

  it.skipIf(engine.lacking)('follow a new name', async () => {
    await start()
    const text = live.tables[0]?.columns.find((c) => is(c, 'loud'))?.generated ?? ''
    const made = await migrate((c) => {
      if (is(c, 'name')) return { ...c, name: fold('title') }
      const generated = text.replace(/\bname\b/i, fold('title'))
      return is(c, 'loud') ? { ...c, generated } : c
    })
    expect(losses(made)).toEqual([])
    expect(await rows('SELECT loud FROM vessel')).toEqual([['GREY HERON']])
  })

  it.skipIf(engine.lacking)('go with what they are worked out from', async () => {
    await start()
    if (stored !== '') await db.exec(isOfFamily ? 'DROP INDEX ix_loud ON vessel' : 'DROP INDEX ix_loud')
    await db.exec('DROP VIEW heard')
    live = await db.live.catalog()
    const made = await migrate((c) => (is(c, 'imo') || is(c, 'code') ? c : undefined))
    expect(losses(made).map((step) => namesOf(step.about).name)).toEqual([
      fold(engine.engine === 'sqlite' ? 'vessel' : 'name')
    ])
    expect(await rows('SELECT imo, code FROM vessel')).toEqual([[1, 'x']])
  })

  it.skipIf(engine.lacking)('keep their values, where they have any, once they are computed no longer', async () => {
    await start()
    await migrate((c) => {
      if (is(c, 'name') || is(c, 'louder')) return undefined
      const { generated: _, virtual: __, ...plain } = c
      return plain
    })
    expect(await rows('SELECT imo, loud FROM vessel')).toEqual([[1, stored === '' ? null : 'GREY HERON']])
  })

  it.skipIf(engine.lacking)('mean the column that they meant, when another gets its name', async () => {
    await start()
    // The old `name` goes, `code` is `name` from now on; `loud` still says upper(name).
    await migrate((c) => {
      if (is(c, 'name')) return undefined
      return is(c, 'code') ? { ...c, name: fold('name') } : c
    })
    expect(await rows('SELECT loud FROM vessel')).toEqual([['X']])
  })
})
