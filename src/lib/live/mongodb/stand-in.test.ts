// What the stand-in does, held against examples of the manual, in this application's words; and commands as people type them.
import { describe, expect, it } from 'vitest'
import { emptyStandIn } from '../../../../tests/support/documents'
import type { LiveDatabase } from '..'
import { commandOf } from './spoken'

const run = async (live: LiveDatabase, statement: object | string) => {
  const [outcome] = await live.run([typeof statement === 'string' ? statement : JSON.stringify(statement)])
  return outcome?.error?.message ?? outcome?.affected
}
const rows = async (live: LiveDatabase, statement: string) => {
  const { columns, rows: found } = await live.query(statement, { readOnly: true })
  return found.map((row) => Object.fromEntries(columns.map((name, i) => [name, row[i]])))
}

describe('a collection', () => {
  it('refuses what its validator does not let in, at the level and with the action that are said', async () => {
    const live = await emptyStandIn()
    const validator = {
      $jsonSchema: { bsonType: 'object', required: ['code'], properties: { code: { bsonType: 'string' } } }
    }
    expect(await run(live, { insert: 'berth', documents: [{ _id: 1, depth: 4 }] })).toBe(1)
    expect(await run(live, { collMod: 'berth', validator, validationLevel: 'moderate' })).toBe(0)
    // "Specify Validation Level for Existing Documents": what did not fit may be changed, what did must fit still.
    expect(await run(live, 'db.berth.updateOne({ _id: 1 }, { $set: { depth: 5 } })')).toBe(1)
    expect(await run(live, 'db.berth.insertOne({ _id: 2, code: "N1" })')).toBe(1)
    expect(await run(live, 'db.berth.updateOne({ _id: 2 }, { $set: { code: 5 } })')).toContain(
      'Document failed validation'
    )
    expect(await run(live, { collMod: 'berth', validationLevel: 'strict' })).toBe(0)
    expect(await run(live, 'db.berth.updateOne({ _id: 1 }, { $set: { depth: 6 } })')).toContain('code is not there')
    // "Choose How to Handle Invalid Documents".
    expect(await run(live, { collMod: 'berth', validationAction: 'warn' })).toBe(0)
    expect(await run(live, 'db.berth.insertOne({ depth: 7 })')).toBe(1)
    // "Bypass Schema Validation".
    expect(await run(live, { collMod: 'berth', validationAction: 'error' })).toBe(0)
    expect(await run(live, { insert: 'berth', documents: [{ depth: 8 }], bypassDocumentValidation: true })).toBe(1)
    expect(await rows(live, 'db.berth.countDocuments({ code: { $exists: false } })')).toEqual([{ n: 3 }])
    // "$jsonSchema", "Query Conditions": what does not fit is found by it.
    const odd = `db.berth.find({ $nor: [{ $jsonSchema: ${JSON.stringify(validator.$jsonSchema)} }] }, { depth: 1, _id: 0 })`
    expect(await rows(live, odd)).toEqual([{ depth: 5 }, { depth: 7 }, { depth: 8 }])
    expect(await run(live, { create: 'quay', validator: { $jsonSchema: { type: 'object', format: 'x' } } })).toContain(
      'Unknown $jsonSchema keyword: format'
    )
    expect(await run(live, { create: 'tides', timeseries: { timeField: 'at' } })).toContain(
      'keeps no collection with “timeseries”'
    )
    expect(await run(live, { shardCollection: 'tides' })).toContain('has no command “shardCollection”')
  })

  it('lets nothing stand twice where an index says so, but for what the index does not see', async () => {
    const live = await emptyStandIn()
    const index = (name: string, spec: object) =>
      run(live, { createIndexes: name, indexes: [{ key: { code: 1 }, name: 'ux', unique: true, ...spec }] })
    // "Unique Indexes", "Missing Document Field in a Unique Single-Field Index".
    expect(await index('a', {})).toBe(0)
    expect(await run(live, 'db.a.insertOne({ x: 1 })')).toBe(1)
    expect(await run(live, 'db.a.insertOne({ x: 2 })')).toContain('E11000 duplicate key error')
    // "Sparse Indexes", "Sparse Index with Unique Constraint".
    expect(await index('b', { sparse: true })).toBe(0)
    expect(await run(live, 'db.b.insertMany([{ x: 1 }, { x: 2 }, { code: "N" }])')).toBe(3)
    expect(await run(live, 'db.b.insertOne({ code: "N" })')).toContain('E11000')
    // "Partial Indexes", "Partial Index with Unique Constraint".
    expect(await index('c', { partialFilterExpression: { depth: { $gte: 21 } } })).toBe(0)
    expect(
      await run(live, 'db.c.insertMany([{ code: "N", depth: 29 }, { code: "N", depth: 20 }, { code: "N" }])')
    ).toBe(3)
    expect(await run(live, 'db.c.insertOne({ code: "N", depth: 22 })')).toContain('E11000')
    // "Unique Constraint Across Separate Documents": within one document a value of a list may stand twice.
    expect(
      await run(live, { createIndexes: 'd', indexes: [{ key: { 'marks.code': 1 }, name: 'ux', unique: true }] })
    ).toBe(0)
    expect(await run(live, 'db.d.insertOne({ marks: [{ code: 1 }, { code: 1 }] })')).toBe(1)
    expect(await run(live, 'db.d.insertOne({ marks: [{ code: 2 }, { code: 1 }] })')).toContain('E11000')
    // "createIndexes": one key, one index.
    expect(await run(live, { createIndexes: 'd', indexes: [{ key: { 'marks.code': 1 }, name: 'other' }] })).toContain(
      'already exists'
    )
    // "TTL Indexes".
    const old = new Date(Date.now() - 60_000).toISOString()
    expect(
      await run(live, { createIndexes: 'e', indexes: [{ key: { at: 1 }, name: 'ttl', expireAfterSeconds: 30 }] })
    ).toBe(0)
    expect(await run(live, `db.e.insertMany([{ at: ISODate("${old}") }, { at: ISODate() }, { x: 1 }])`)).toBe(3)
    expect(await rows(live, 'db.e.countDocuments({})')).toEqual([{ n: 2 }])
  })

  it('keeps a capped collection to its documents and bytes, the newest last', async () => {
    const live = await emptyStandIn()
    // "Capped Collections": a size must be said, and is 4,096 bytes at least; `max` counts documents.
    expect(await run(live, { create: 'log', capped: true })).toContain("the 'size' field is required")
    expect(await run(live, { create: 'log', capped: true, size: 10, max: 3 })).toBe(0)
    for (const n of [1, 2, 3, 4, 5]) expect(await run(live, `db.log.insertOne({ _id: ${n} })`)).toBe(1)
    expect(await rows(live, 'db.log.find()')).toEqual([{ _id: 3 }, { _id: 4 }, { _id: 5 }])
    expect(await run(live, 'db.log.insertOne({ _id: 1 })')).toBe(1)
    expect(await run(live, 'db.log.insertOne({ _id: 5 })')).toContain('E11000')
    expect(await run(live, { create: 'tape', capped: true, size: 10 })).toBe(0)
    const text = 'x'.repeat(1500)
    for (const n of [1, 2, 3]) expect(await run(live, `db.tape.insertOne({ _id: ${n}, text: '${text}' })`)).toBe(1)
    expect(await rows(live, 'db.tape.find({}, { _id: 1 })')).toEqual([{ _id: 2 }, { _id: 3 }])
    // "Clustered Collections".
    expect(await run(live, { create: 'c', clusteredIndex: { key: { a: 1 }, unique: true } })).toContain('{"_id": 1}')
    expect(await run(live, { create: 'c', clusteredIndex: { key: { _id: 1 }, unique: true } })).toBe(0)
  })

  it('is asked, joined, unwound and merged, and what only reads may not write', async () => {
    const live = await emptyStandIn()
    await run(live, 'db.vessel.insertMany([{ _id: 1, name: "Ada" }, { _id: 2, name: "Bess" }])')
    await run(live, 'db.visit.insertMany([{ vessel: 1, berths: ["N", "S"] }, { vessel: 2, berths: ["N"] }])')
    expect(
      await rows(
        live,
        `db.visit.aggregate([{ $lookup: { from: "vessel", localField: "vessel", foreignField: "_id", as: "of" } },
          { $unwind: "$berths" }, { $group: { _id: "$berths", ships: { $push: { $first: "$of.name" } } } }, { $sort: { _id: 1 } }])`
      )
    ).toEqual([
      { _id: 'N', ships: ['Ada', 'Bess'] },
      { _id: 'S', ships: ['Ada'] }
    ])
    const merge =
      'db.visit.aggregate([{ $project: { _id: "$vessel", seen: { $size: "$berths" } } }, { $merge: { into: "vessel" } }])'
    await expect(live.query(merge, { readOnly: true })).rejects.toThrow('$merge writes')
    await live.query(merge)
    expect(await rows(live, 'db.vessel.find({}, { _id: 0 }).sort({ name: -1 }).limit(1)')).toEqual([
      { name: 'Bess', seen: 1 }
    ])
    await expect(live.query('db.vessel.drop()', { readOnly: true })).rejects.toThrow('“drop” may change something')
    expect(await run(live, { create: 'busy', viewOn: 'vessel', pipeline: [{ $match: { seen: { $gt: 1 } } }] })).toBe(0)
    expect(await rows(live, 'db.busy.find({})')).toEqual([{ _id: 1, name: 'Ada', seen: 2 }])
  })
})

describe('a command that is typed', () => {
  it('is read as the shell has it, and never run', () => {
    expect(
      commandOf(
        'db.getCollection("cargo line").find({ goods: /ore/i, "a.b": { $gte: -2.5 } }).sort({ no: 1 }).limit(5);'
      )
    ).toEqual({
      find: 'cargo line',
      filter: { goods: /ore/i, 'a.b': { $gte: -2.5 } },
      sort: { no: 1 },
      limit: 5
    })
    expect(commandOf('db.system.profile.find()')).toMatchObject({ find: 'system.profile' })
    expect(commandOf('{"ping":1}')).toEqual({ ping: 1 })
    expect(commandOf('db.runCommand({ ping: 1 })')).toEqual({ ping: 1 })
    expect(
      commandOf('db.a.insertOne({ at: new Date("2026-01-01"), id: ObjectId("65a1b2c3d4e5f60718293a4b") })')['insert']
    ).toBe('a')
    for (const odd of [
      'SELECT 1',
      'db.a.find(process.exit())',
      'db.a.find({ [x]: 1 })',
      'db.a.mapReduce()',
      'db.a.find() db',
      'x => x',
      ''
    ])
      expect(() => commandOf(odd), odd).toThrow(/no command that is known here/)
  })
})
