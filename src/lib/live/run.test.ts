// Running a plan on a real embedded engine: refusal, repair, resumption, and somebody else's change in between.
import { readFile } from 'node:fs/promises'
import { afterEach, beforeAll, describe, expect, it, vi } from 'vitest'
import { readType, type Catalog } from '../core/catalog'
import { compare } from '../core/compare'
import { dialect as dialectOf, type Dialect } from '../core/dialects'
import { plan, type Migration } from '../core/plan'
import { runMigration, type LiveDatabase, type Recorded, type StepResult } from '.'
import { openEmbeddedPostgres } from './embedded-postgres'

const postgres = dialectOf('postgres') as Dialect
let template: Blob
let kept: Blob | undefined
let live: LiveDatabase
/** Every statement that reached the engine. */
let sent: string[] = []

beforeAll(async () => {
  const file = await readFile(new URL('./generated/cluster.tar.gz', import.meta.url))
  template = new Blob([new Uint8Array(file)])
})
afterEach(() => live.close())

async function open() {
  const database = await openEmbeddedPostgres(
    { load: async () => kept, save: async (dump) => void (kept = await dump()) },
    async () => template
  )
  live = { ...database, run: (statements, options) => (sent.push(...statements), database.run(statements, options)) }
}

async function begin(...statements: string[]) {
  kept = undefined
  sent = []
  await open()
  await live.run(statements)
  sent = []
}

async function planFrom(change: (catalog: Catalog) => Catalog): Promise<Migration> {
  const now = await live.catalog()
  return plan(now, compare({ wanted: change(now), live: now }, postgres).changes, postgres)
}

async function run(migration: Migration, upTo?: number) {
  const results = new Map<string, StepResult>()
  const ended = await runMigration(migration, live, postgres, {
    ...(upTo === undefined ? {} : { upTo }),
    onResults: (told) => told.forEach(({ step, result }) => results.set(step.id, result))
  })
  return { ended: ended.how, results }
}

/** Three steps: a column more, one that must be filled, an index. */
const wanted = (catalog: Catalog): Catalog => ({
  ...catalog,
  tables: catalog.tables.map((t) => ({
    ...t,
    columns: [
      ...t.columns.map((c) => (c.name === 'name' ? { ...c, nullable: false } : c)),
      { name: 'loa', type: readType('numeric(6,2)'), nullable: true }
    ],
    indexes: [{ name: 'ix_vessel_name', unique: false, parts: [{ column: 'name', descending: false }] }]
  }))
})
const start = [`CREATE TABLE vessel (imo integer, name text)`, `INSERT INTO vessel VALUES (1, 'Grey Heron'), (2, NULL)`]

describe('a run', () => {
  it('stops at a refusal, keeps what was done, and goes on after the rows are put right without repeating anything', async () => {
    await begin(...start)
    const migration = await planFrom(wanted)
    const first = await run(migration)
    expect(first.ended).toBe('failed')
    expect([...first.results.values()].map((r) => r.state)).toEqual(['done', 'failed'])
    await live.run([`UPDATE vessel SET name = 'Sturdy' WHERE name IS NULL`])
    const second = await run(migration)
    expect(second.ended).toBe('complete')
    expect(sent.filter((sql) => sql.includes('ADD COLUMN loa'))).toHaveLength(1)
    expect((await planFrom(wanted)).steps).toEqual([])
  })

  it('knows from the database what is done when its own memory is gone', async () => {
    await begin(...start.slice(0, 1))
    const migration = await planFrom(wanted)
    await run(migration, migration.groups[0]?.id)
    await live.close()
    await open()
    const { ended, results } = await run(migration)
    expect(ended).toBe('complete')
    expect(results.get(migration.steps[0]?.id ?? '')).toMatchObject({ state: 'done', before: true })
    expect(sent.filter((sql) => sql.includes('ADD COLUMN loa'))).toHaveLength(1)
  })

  it('keeps what it told done: a database opened again has it', async () => {
    await begin(...start.slice(0, 1))
    await run(await planFrom(wanted))
    await live.close()
    await open()
    expect((await live.catalog()).tables[0]?.columns.map((c) => c.name)).toEqual(['imo', 'name', 'loa'])
  })

  it('does nothing where somebody else has changed what a step was planned for', async () => {
    await begin(...start.slice(0, 1))
    const migration = await planFrom((c) => ({
      ...c,
      tables: c.tables.map((t) => ({
        ...t,
        columns: t.columns.map((k) => (k.name === 'imo' ? { ...k, type: readType('bigint') } : k))
      }))
    }))
    await live.run(['ALTER TABLE vessel ALTER COLUMN imo TYPE text'])
    sent = []
    expect((await run(migration)).ended).toBe('changed')
    expect(sent).toEqual([])
  })

  it('looks again while it runs, and stops before a step whose ground somebody else has changed', async () => {
    await begin(...start.slice(0, 1))
    const migration = await planFrom(wanted)
    const results = new Map<string, StepResult>()
    const { how } = await runMigration(migration, live, postgres, {
      lookAfter: 0,
      keepAfter: 0,
      onResults: async (told) => {
        for (const { step, result } of told) results.set(step.id, result)
        // Somebody does by hand what a later step is about, in a form of their own.
        if (results.size === 1) await live.query('CREATE INDEX ix_vessel_name ON vessel (imo)')
      }
    })
    expect(how).toBe('unknown')
    expect([...results.values()].map(({ state }) => state)).toEqual(['done', 'done', 'unknown'])
    expect(sent.join('\n')).not.toContain('ix_vessel_name')
  })

  it('keeps several transactions at once, and loses nothing that was told done when it ends before', async () => {
    await begin(...start.slice(0, 1))
    const migration = await planFrom(wanted)
    const recorded = new Map<number, Recorded>()
    const go = (onBegin: (groups: readonly number[]) => Promise<void>) =>
      runMigration(migration, live, postgres, {
        recorded,
        keepAfter: Infinity,
        onBegin: async (groups) => {
          for (const group of groups) recorded.set(group, 'begun')
          await onBegin(groups)
        },
        onResults: (told) => {
          for (const { step, result } of told) if (result.state === 'done') recorded.set(step.group, 'done')
        }
      })
    const before = kept
    await expect(
      go(async (groups) => {
        if (groups.includes(migration.groups.at(-1)?.id ?? -1)) throw new Error('cut off')
      })
    ).rejects.toThrow('cut off')
    expect([...recorded.values()]).toEqual(['begun', 'begun', 'begun'])
    expect(kept).toBe(before)
    await live.close()
    await open()
    expect((await planFrom(wanted)).steps).toHaveLength(3)

    expect(await go(async () => undefined)).toEqual({ how: 'complete' })
    expect([...recorded.values()]).toEqual(['done', 'done', 'done'])
    await live.close()
    await open()
    expect((await planFrom(wanted)).steps).toEqual([])
  })

  it('keeps by itself, soon, what nobody asked to be kept', async () => {
    await begin(...start.slice(0, 1))
    const before = kept
    await live.run(['CREATE TABLE lamp (id integer)'], { later: true })
    expect(kept).toBe(before)
    await vi.waitFor(() => expect(kept).not.toBe(before), { timeout: 20_000 })
    await live.close()
    await open()
    expect((await live.catalog()).tables.map((t) => t.name)).toContain('lamp')
  })

  it('leaves nothing of a group that was refused half way', async () => {
    await begin(...start)
    const outcomes = await live.run([
      'ALTER TABLE vessel ADD COLUMN a integer',
      'ALTER TABLE vessel ALTER COLUMN name SET NOT NULL'
    ])
    expect(outcomes.map((o) => o.ok)).toEqual([true, false])
    expect((await live.catalog()).tables[0]?.columns.map((c) => c.name)).toEqual(['imo', 'name'])
  })
})
