// A database on a server, by the official driver over the wire: to a server of this process that keeps what it is told in the stand-in.
// What the driver sends, and makes of what it is answered, is real.
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { setTimeout as pause } from 'node:timers/promises'
import fc from 'fast-check'
import { compare } from '../../src/lib/core/compare'
import { derive } from '../../src/lib/core/derive'
import { edit } from '../../src/lib/core/design'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { printJot, readJot } from '../../src/lib/core/jot'
import { plan, writeScript, type Migration, type Step } from '../../src/lib/core/plan'
import { LineLost, runMigration, type LiveDatabase, type Reached, type Recorded } from '../../src/lib/live'
import { answer } from '../../src/lib/server/answer'
import { mongodbDatabases, openMongodb } from '../../src/lib/server/mongodb'
import { edits } from '../support/designs'
import { documentFor, DOCUMENTS, emptyStandIn } from '../support/documents'
import { documentServer, type DocumentServer } from '../support/mongodb-server'

const dialect = dialectOf('mongodb') as Dialect
/** Something of each kind that a plan does: another entity with a key, a field renamed in a list of objects. */
const CHANGED = readJot(
  printJot(DOCUMENTS)
    .replace('severity:', 'weight:')
    .concat('\nentity Pilot\n  licence: text(12) key\n  name: text(40) unique\n'),
  DOCUMENTS
).design

const wantedOf = (design: typeof DOCUMENTS) => derive(design, { subtypeTables: {}, schemas: {} }, dialect).catalog
const script = (design: typeof DOCUMENTS) => writeScript(wantedOf(design), dialect).map(({ sql }) => sql)

let server: DocumentServer
let database = 0
const access = (more: object = {}) => ({
  host: '127.0.0.1',
  port: server.port,
  database: `tidewell${database}`,
  user: '',
  password: '',
  ...more
})
beforeAll(async () => {
  server = await documentServer()
})
beforeEach(() => {
  database++
  server.cut = undefined
})
afterAll(() => server.close())

async function opened<T>(work: (live: LiveDatabase) => Promise<T>): Promise<T> {
  const live = await openMongodb(access())
  try {
    return await work(live)
  } finally {
    await live.close()
  }
}
/** Ids that were given by whoever took a document are others on each side. */
async function shown(live: LiveDatabase, asked: string) {
  const { columns, rows } = await live.query(asked)
  return { columns, rows: rows.map((row) => row.filter((value) => !String(value).startsWith('ObjectId('))) }
}
async function ran(live: LiveDatabase, statements: readonly string[]) {
  const outcomes = await live.run(statements)
  expect(outcomes.find(({ ok }) => !ok)?.error).toBeUndefined()
}

describe('by the driver', () => {
  it('a database is made, filled, read, compared and brought to another state as on the stand-in', async () => {
    await fc.assert(
      fc.asyncProperty(edits, edits, async (first, then) => {
        database++
        const before = first.slice(0, 4).reduce((design, make) => edit(design, make(design)), DOCUMENTS)
        const after = then.slice(0, 4).reduce((design, make) => edit(design, make(design)), before)
        await opened(async (live) => {
          const here = await emptyStandIn()
          const both = async (statements: readonly string[]) => {
            const of = async (one: LiveDatabase) =>
              (await one.run(statements)).map(({ ok, affected, error }) => ({ ok, affected, error }))
            const [told, told2] = [await of(live), await of(here)]
            expect(told).toEqual(told2)
            return told.every(({ ok }) => ok)
          }
          await both(script(before))
          for (const table of wantedOf(before).tables)
            for (const n of [1, 2])
              await both([JSON.stringify({ insert: table.name, documents: [documentFor(table, n)] })])
          const { serverVersion, ...catalog } = await live.catalog()
          expect(serverVersion).toBe('7.0.14')
          expect(catalog).toEqual(await here.catalog())
          const { changes } = compare({ wanted: wantedOf(after), live: catalog, agreed: wantedOf(before) }, dialect)
          for (const { statement } of plan(catalog, changes, dialect).steps) if (!(await both([statement]))) break
          const now = await live.catalog()
          expect(now.tables).toEqual((await here.catalog()).tables)
          for (const { name } of now.tables) {
            const asked = JSON.stringify({ find: name, sort: { _id: 1 } })
            expect(await shown(live, asked)).toEqual(await shown(here, asked))
          }
        })
      }),
      { numRuns: 40 }
    )
  }, 300_000)

  it('an answer of any length is read, the first rows or all, each number of the type that it was written in', async () => {
    await opened(async (live) => {
      const documents = Array.from({ length: 12_001 }, (_, i) => ({ _id: i, berth: `N${i % 7}` }))
      await ran(live, [JSON.stringify({ insert: 'visit', documents })])
      const shown = await live.query('db.visit.find({})', { readOnly: true })
      expect([shown.rows.length, shown.more, shown.columns]).toEqual([5000, true, ['_id', 'berth']])
      let [all, batch] = [0, await live.rows('db.visit.find({ berth: "N3" })')]
      for (; ; batch = await live.rows()) {
        all += batch.rows.length
        if (!batch.more) break
      }
      expect([all, batch.columns]).toEqual([1714, ['document']])
      expect((await live.query('db.visit.countDocuments({ berth: "N3" })')).rows).toEqual([[1714]])
      expect((await live.query('db.visit.distinct("berth")')).rows).toHaveLength(7)
      const grouped = await live.query(
        'db.visit.aggregate([{ $group: { _id: "$berth", n: { $sum: 1 } } }, { $sort: { n: -1 } }])'
      )
      expect([grouped.rows.length, grouped.rows.reduce((sum, [, n]) => sum + Number(n), 0)]).toEqual([7, 12_001])
      expect((await live.rows(dialect.sample?.('visit', 20) ?? '')).rows).toHaveLength(20)
      const kept = '{"aggregate":"visit","pipeline":[{"$match":{"berth":"N3"}},{"$merge":{"into":"kept"}}],"cursor":{}}'
      await ran(live, [kept, kept])
      expect((await live.query('db.kept.countDocuments({})')).rows).toEqual([[1714]])
      await live.query(
        'db.visit.updateOne({ _id: 3 }, { $set: { long: NumberLong("5"), double: Double("7"), int: 9 } })'
      )
      const sent = server.heard.filter((command) => 'update' in command).at(-1)
      const set = (sent?.['updates'] as { u: { $set: object } }[])[0]?.u.$set
      expect(Object.values(set ?? {}).map((value) => (value as { _bsontype: string })._bsontype)).toEqual([
        'Long',
        'Double',
        'Int32'
      ])
    })
  })

  it('what the server refuses is told in its words, also of one document of many, and what only reads may not write', async () => {
    await opened(async (live) => {
      const two = JSON.stringify({ insert: 'berth', documents: [{ _id: 'N1' }, { _id: 'N1' }] })
      const [refused, ...none] = await live.run([two, '{"insert":"berth","documents":[{"_id":"N2"}]}'])
      expect([refused?.ok, refused?.error?.code, none]).toEqual([false, '11000', []])
      await expect(live.query('db.berth.insertOne({ _id: 1 })', { readOnly: true })).rejects.toThrow(
        'may change something'
      )
      await expect(live.query('{"abacus":1}')).rejects.toThrow('abacus')
      expect((await live.query('db.berth.countDocuments({})')).rows).toEqual([[1]])
      await ran(live, ['{"renameCollection":"berth","to":"quay.berth"}'])
      expect((await live.catalog()).tables.map(({ name }) => name)).toEqual(['quay.berth'])
      await live.cancel?.()
    })
  })

  it('a line that is cut is no refusal, and a run goes on from wherever it was cut', async () => {
    const words = ['create', 'createIndexes', 'collMod', 'update'] as const
    let cuts = 0
    for (const word of words)
      for (const when of ['before', 'after'] as const) {
        database++
        await opened((live) => ran(live, script(DOCUMENTS)))
        const recorded = new Map<number, Recorded>()
        const agreed = wantedOf(DOCUMENTS)
        const migration = await opened(async (live) => {
          const catalog = await live.catalog()
          return plan(catalog, compare({ wanted: wantedOf(CHANGED), live: catalog, agreed }, dialect).changes, dialect)
        })
        const attempt = () =>
          opened((live) =>
            runMigration(migration, live, dialect, {
              recorded,
              onBegin: async (groups) => groups.forEach((id) => recorded.set(id, 'begun')),
              onResults: (told) =>
                told.forEach(({ step, result }) => result.state === 'done' && recorded.set(step.group, 'done'))
            })
          )
        server.cut = { word, when }
        const cut = await attempt().catch((error: unknown) => error)
        server.cut = undefined
        if (cut instanceof LineLost) cuts++
        else expect(cut, `${word} ${when}`).toEqual({ how: 'complete' })
        let ended = await attempt()
        // An update leaves no trace in the structure: a person says that it was not done, and it is done over all documents.
        if (ended.how === 'unknown') {
          for (const [id, state] of recorded) if (state === 'begun') recorded.delete(id)
          ended = await attempt()
        }
        expect(ended).toEqual({ how: 'complete' })
        await opened(async (live) => {
          expect(compare({ wanted: wantedOf(CHANGED), live: await live.catalog() }, dialect).changes).toEqual([])
        })
      }
    expect(cuts).toBeGreaterThanOrEqual(6)
  }, 60_000)

  it('what changes many documents goes from range to range of ids of every type: cut off between two, it goes on with the rest', async () => {
    await opened(async (live) => {
      const documents = Array.from({ length: 3500 }, (_, i) => ({ _id: i % 2 ? i : `v${i}`, depth: i }))
      await ran(live, [JSON.stringify({ insert: 'berth', documents })])
    })
    const migration = async (live: LiveDatabase, from: string, to: string): Promise<Migration> => {
      const step: Step = {
        id: 's1',
        group: 1,
        statement: JSON.stringify({
          update: 'berth',
          updates: [{ q: {}, u: { $rename: { [from]: to } }, multi: true }]
        }),
        why: 'renames the field',
        about: { kind: 'table', schema: '', name: 'berth' } as never,
        effects: [],
        before: [],
        after: [],
        hazards: [],
        repeatable: true,
        undo: []
      }
      return { from: await live.catalog(), steps: [step], groups: [{ id: 1, before: [], after: [] }] } as never
    }
    const recorded = new Map<number, Recorded>()
    const reached = new Map<string, Reached>()
    const sent = () => server.heard.filter((command) => 'update' in command).length
    const before = sent()
    const attempt = (from: string, to: string, cancelled = () => false) =>
      opened(async (live) =>
        runMigration(await migration(live, from, to), live, dialect, {
          recorded,
          reached,
          cancelled,
          onBegin: async (groups) => groups.forEach((id) => recorded.set(id, 'begun')),
          onResults: (told) =>
            told.forEach(({ step, result }) => {
              if (result.state === 'under way') reached.set(step.id, result)
              else if (result.state !== 'unknown') recorded.set(step.group, result.state)
            })
        })
      )
    // The second range is carried out, and nobody hears of it.
    server.cut = { word: 'update', when: 'after', nth: 2 }
    await expect(attempt('depth', 'draught')).rejects.toThrow(LineLost)
    server.cut = undefined
    expect(reached.get('s1')?.affected).toBe(1000)
    expect(await attempt('depth', 'draught')).toEqual({ how: 'complete' })
    // Of all, the second was sent twice.
    expect(sent() - before).toBe(5)
    const having = (name: string) =>
      opened(async (live) => (await live.query(`db.berth.countDocuments({ ${name}: { $exists: true } })`)).rows[0]?.[0])
    expect([await having('draught'), await having('depth')]).toEqual([3500, 0])
    // Asked to end, it ends between two ranges, and goes on from there.
    recorded.clear()
    reached.clear()
    expect(await attempt('draught', 'depth', () => reached.size > 0)).toEqual({ how: 'stopped' })
    expect([await having('draught'), await having('depth')]).toEqual([2500, 1000])
    expect(await attempt('draught', 'depth')).toEqual({ how: 'complete' })
    expect([await having('draught'), await having('depth')]).toEqual([0, 3500])
  })

  it('who has a name there signs in with a password, that is sent to nobody and said by nobody', async () => {
    const guarded = await documentServer({ name: 'harbourmaster', password: 'sea-cret-77' })
    try {
      const at = { ...access({ user: 'harbourmaster', password: 'sea-cret-77' }), port: guarded.port }
      const live = await openMongodb(at)
      await ran(live, script(DOCUMENTS))
      expect((await live.catalog()).tables.length).toBeGreaterThan(2)
      await live.close()
      expect(await mongodbDatabases(at)).toEqual([at.database])
      await expect(openMongodb({ ...at, password: 'wrong' })).rejects.toThrow('Authentication failed')
      await expect(openMongodb({ ...at, user: '' })).rejects.toThrow('requires authentication')
      await expect(openMongodb({ ...at, database: '' })).rejects.toThrow('which database')
      // As hashes and proofs only (RFC 5802).
      expect(JSON.stringify(guarded.heard)).not.toContain('sea-cret-77')
    } finally {
      await guarded.close()
    }
  })

  it('the app’s own server opens it in a thread of its own, and asks nobody to have a name there', async () => {
    const good = { host: '127.0.0.1:3000', origin: 'http://127.0.0.1:3000', 'content-type': 'application/json' }
    const ask = async (what: string, body: object) => {
      const { status, body: told } = await answer(what, new Headers(good), async () => body, {})
      expect(JSON.stringify(told)).toBeTruthy()
      expect(status, JSON.stringify(told)).toBe(200)
      return (told as { value: never }).value as never
    }
    const { session, version } = (await ask('open', { ...access(), engine: 'mongodb' })) as Record<string, string>
    expect(version).toBe('7.0.14')
    await ask('run', { session, statements: script(DOCUMENTS) })
    expect((await ask('catalog', { session })) as object).toMatchObject({ engine: 'mongodb' })
    await ask('settled', { session })
    await ask('close', { session })
    await pause(0)
  })
})
