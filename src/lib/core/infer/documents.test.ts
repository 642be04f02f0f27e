// What documents tell of the collections that they are in.
import fc from 'fast-check'
import { EJSON } from 'bson'
import { describe, expect, it } from 'vitest'
import { edits } from '../../../../tests/support/designs'
import { documentFor, DOCUMENTS } from '../../../../tests/support/documents'
import { misfit } from '../../live/mongodb/fits'
import { typeText } from '../catalog'
import { compare } from '../compare'
import { adopt } from '../adopt'
import { derive } from '../derive'
import { edit, fieldsOf } from '../design'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { printJot, readJot } from '../jot'
import { writeScript } from '../plan'
import { accepted, catalogOfDocuments, documentsIn, likelyFields, undesigned } from '.'

const dialect = dialectOf('mongodb') as Dialect
const HERE = { subtypeTables: {}, schemas: {} }
const validators = (catalog: Parameters<typeof writeScript>[0]) =>
  new Map(
    writeScript(catalog, dialect).flatMap(({ sql }) => {
      const command = JSON.parse(sql) as { create?: string; validator?: { $jsonSchema?: unknown } }
      return command.create === undefined ? [] : [[command.create, command.validator?.$jsonSchema] as const]
    })
  )

describe('documents', () => {
  it('fit what is told by them, whatever they are', () => {
    fc.assert(
      fc.property(edits, fc.array(fc.nat(60), { minLength: 1, maxLength: 8 }), (makes, ns) => {
        const design = makes.reduce((now, make) => edit(now, make(now)), DOCUMENTS)
        const collections = derive(design, HERE, dialect).catalog.tables.map((table) => ({
          name: table.name,
          documents: ns.map((n) => ({ _id: n, ...documentFor(table, n) }))
        }))
        const told = validators(catalogOfDocuments(collections, dialect))
        for (const { name, documents } of collections)
          for (const document of documents)
            expect(
              misfit(EJSON.parse(JSON.stringify(document)), told.get(name)),
              JSON.stringify(document)
            ).toBeUndefined()
      }),
      { numRuns: 100 }
    )
  })

  it('tell fields to any depth, what may be lacking, several types, and what tells them apart', () => {
    const text = [
      '{ "ref": "A1", "at": { "$date": "2026-03-01T00:00:00Z" }, "place": { "berth": "N", "depth": 4 }, "marks": [{ "code": 1 }, { "code": 2, "lit": true }] }',
      '{ "ref": "A2", "at": { "$date": "2026-03-02T00:00:00Z" }, "place": { "berth": "S", "depth": 4.5 }, "marks": [], "note": "x" }',
      '',
      '{ "ref": "A3", "at": { "$date": "2026-03-03T00:00:00Z" }, "place": { "berth": "S" }, "note": 7, "odd.name": 1 }'
    ].join('\n')
    const [table] = catalogOfDocuments(documentsIn(text, 'inspection'), dialect).tables
    expect(table?.columns.map(({ name, type, nullable }) => `${name}${nullable ? '?' : ''} ${typeText(type)}`)).toEqual(
      [
        'ref string(8)',
        'at date',
        'place object',
        'place.berth string(8)',
        'place.depth? double',
        'marks? object[]',
        'marks[].code int',
        'marks[].lit? bool',
        'note? either(string,int)'
      ]
    )
    expect(table?.primaryKey?.columns).toEqual(['ref'])
    const { design } = adopt(catalogOfDocuments(documentsIn(text, 'inspection'), dialect), dialect, {
      name: 'A',
      target: 'a'
    })
    expect(printJot(design)).toContain(
      '  place: object required\n    berth: text(8) required\n    depth: double\n  marks: list of object\n    code: integer required\n    lit: boolean\n'
    )
  })

  it('are a list, one a line, one alone, or a list for each collection; what is none is told with its line', () => {
    const names = (text: string) => documentsIn(text, 'all').map(({ name, documents }) => `${name} ${documents.length}`)
    expect(names('[{"a":1},{"a":2}]')).toEqual(['all 2'])
    expect(names('{"a":1}\n{"a":2}\n')).toEqual(['all 2'])
    expect(names('{"a":1,"b":[1]}')).toEqual(['all 1'])
    expect(names('{"vessel":[{"a":1}],"visit":[{"b":1},{"b":2}]}')).toEqual(['vessel 1', 'visit 2'])
    expect(() => documentsIn('{"a":1}\n{"a":', 'all')).toThrow('all, line 2: this is no JSON.')
    expect(() => documentsIn('7', 'all')).toThrow('no documents')
  })
})

describe('documents of a database that says little of them', () => {
  const [whole] = catalogOfDocuments([{ name: 'inspection', documents: [{ _id: 1, berth: 'N1' }] }], dialect).tables
  const known = {
    ...catalogOfDocuments([], dialect),
    tables: whole ? [{ ...whole, columns: whole.columns.slice(0, 1) }] : []
  }
  const documents = [
    { _id: 1, berth: 'N1', findings: [{ code: 'H' }, { code: 'L', weight: 2 }] },
    { _id: 2, berth: 'N2', findings: [] },
    { _id: 3, berth: null, colour: 'red' }
  ]

  it('tell fields that no validator speaks of, each with how many have it; the target stays as it is', () => {
    const found = likelyFields(known, [{ name: 'inspection', documents }])
    expect(found.map(({ says, why }) => [says, why])).toEqual([
      [
        'inspection: berth, findings, findings[].code, findings[].weight and 1 more',
        'told by 3 of its documents; no validator speaks of them'
      ]
    ])
    const { design, target } = adopt(known, dialect, { name: 'Tidewell', target: 'archive', ...accepted(found) })
    const [inspection] = Object.values(design.entities)
    const guesses = (inspection?.attributes ?? []).flatMap((one) => [one, ...fieldsOf(one)])
    expect(guesses.map(({ name, guess }) => [name, guess])).toEqual([
      ['id', { of: 1, there: 1 }],
      ['berth', { of: 3, there: 2 }],
      ['findings', { of: 3, there: 2, longest: 2 }],
      ['code', { of: 2, there: 2 }],
      ['weight', { of: 2, there: 1 }],
      ['colour', { of: 3, there: 1 }]
    ])
    const wanted = derive(design, target, dialect).catalog
    expect(compare({ wanted, live: known }, dialect).changes).toEqual([])
    // It is a guess until somebody says what it is; another name says nothing of that.
    const berth = inspection?.attributes.find(({ name }) => name === 'berth')
    if (!inspection || !berth) throw new Error('there is a berth')
    const set = (values: object) =>
      edit(design, { kind: 'attribute.set', entity: inspection.id, id: berth.id, set: values })
    const guessOf = (now: typeof design) =>
      now.entities[inspection.id]?.attributes.find(({ id }) => id === berth.id)?.guess
    expect(guessOf(set({ name: 'quay' }))).toEqual({ of: 3, there: 2 })
    expect(guessOf(set({ required: true }))).toBeUndefined()
    const text = printJot(design)
    expect(guessOf(readJot(text.replace('berth:', 'quay:'), design).design)).toEqual({ of: 3, there: 2 })
    expect(guessOf(readJot(text.replace(/berth: text\(\d+\)/, 'berth: text(9)'), design).design)).toBeUndefined()
  })

  it('tell one thing by many keys from many things by their names', () => {
    const lamps = (n: number) =>
      Object.fromEntries([0, 1, 2].map((k) => [`lamp${(n * 3 + k) % 26}`, { lit: k > 0, colour: 'red' }]))
    const list = Array.from({ length: 30 }, (_, n) => ({
      lamps: lamps(n),
      depths: {
        '2026-01': n,
        '2026-02': 1,
        '2026-03': 2,
        '2026-04': 3,
        '2026-05': 4,
        '2026-06': 5,
        '2026-07': 6,
        '2026-08': 7
      },
      place: { quay: 'a', berth: 'b', bollard: 'c', side: 'd', ramp: 'e', crane: 'f', gate: 'g', shed: 'h' }
    }))
    const [table] = catalogOfDocuments([{ name: 'mast', documents: list }], dialect).tables
    const told = (table?.columns ?? []).map(({ name, type }) => `${name}: ${typeText(type)}`)
    expect(told.slice(0, 5)).toEqual([
      'lamps: map(object)',
      'lamps{}.lit: bool',
      'lamps{}.colour: string(8)',
      'depths: map(int)',
      'place: object'
    ])
    const schema = validators(catalogOfDocuments([{ name: 'mast', documents: list }], dialect)).get('mast')
    for (const [n, document] of list.entries()) expect(misfit({ _id: n, ...document }, schema)).toBeUndefined()
  })

  it('show what nobody designed, but not within what is something else', () => {
    const paths = (list: readonly unknown[]) => (whole ? undesigned(whole, list).map(({ name }) => name) : [])
    expect(paths(documents)).toEqual(['findings', 'findings[].code', 'findings[].weight', 'colour'])
    expect(paths([{ berth: { code: 'N1' } }])).toEqual([])
    expect(paths([{ berth: 'N1' }])).toEqual([])
  })
})
