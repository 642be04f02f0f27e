// What documents tell of the collections that they are in.
import fc from 'fast-check'
import { EJSON } from 'bson'
import { describe, expect, it } from 'vitest'
import { edits } from '../../../../tests/support/designs'
import { documentFor, DOCUMENTS } from '../../../../tests/support/documents'
import { misfit } from '../../live/mongodb/fits'
import { typeText } from '../catalog'
import { adopt } from '../adopt'
import { derive } from '../derive'
import { edit } from '../design'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { printJot } from '../jot'
import { writeScript } from '../plan'
import { catalogOfDocuments, documentsIn } from '.'

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
