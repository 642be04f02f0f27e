// Validators and documents, judged by somebody else: ajv with the rules of draft 4, and `bsonType` beside them.
import AjvDraft04 from 'ajv-draft-04'
import { EJSON, type Document } from 'bson'
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { edits } from '../../../../tests/support/designs'
import { documentFor, DOCUMENTS } from '../../../../tests/support/documents'
import { derive } from '../../core/derive'
import { edit } from '../../core/design'
import { dialect as dialectOf, type Dialect } from '../../core/dialects'
import { writeScript } from '../../core/plan'
import { misfit, typesOf, unknownKeyword } from './fits'

const dialect = dialectOf('mongodb') as Dialect
/** "BSON Types", by their aliases. */
const TYPES =
  'double string object array binData undefined objectId bool date null regex dbPointer javascript symbol javascriptWithScope int timestamp long decimal minKey maxKey number'.split(
    ' '
  )
const type = { enum: TYPES }

function judge() {
  const ajv = new AjvDraft04({ strict: true, strictTypes: false, strictRequired: false, validateFormats: false })
  ajv.addKeyword({
    keyword: 'bsonType',
    metaSchema: { anyOf: [type, { type: 'array', items: type, minItems: 1, uniqueItems: true }] },
    validate: (said: string | string[], value: unknown) => [said].flat().some((name) => typesOf(value).includes(name))
  })
  return ajv
}

const validatorsOf = (makes: Parameters<typeof edits.map>[0] extends (value: infer T) => unknown ? T : never) => {
  const design = makes.reduce((now, make) => edit(now, make(now)), DOCUMENTS)
  const { catalog } = derive(design, { subtypeTables: {}, schemas: {} }, dialect)
  const commands = writeScript(catalog, dialect).map(({ sql }) => JSON.parse(sql) as Document)
  return catalog.tables.flatMap((table) => {
    const made = commands.find((command) => command['create'] === table.name)
    const schema = (made?.['validator'] as Document | undefined)?.['$jsonSchema'] as Document | undefined
    return schema ? [{ table, schema }] : []
  })
}

/** Something of a document is otherwise. */
const spoilt = (document: Document, at: number, value: unknown): Document => {
  const names = Object.keys(document)
  const name = names[at % Math.max(1, names.length)]
  if (name === undefined) return document
  const held: unknown = document[name]
  const [first] = Array.isArray(held) ? (held as unknown[]) : [held]
  const isInner = typeof first === 'object' && first !== null && Object.getPrototypeOf(first) === Object.prototype
  if (isInner && at % 2) {
    const inner = spoilt(first as Document, at >> 1, value)
    return { ...document, [name]: Array.isArray(held) ? [inner] : inner }
  }
  const { [name]: _, ...rest } = document
  return value === undefined ? rest : { ...document, [name]: value }
}

const values = fc.constantFrom<unknown>(
  undefined,
  null,
  '',
  'a'.repeat(300),
  -1,
  4e9,
  2.5,
  true,
  new Date(0),
  {},
  [],
  [null],
  [{}]
)

it('is refused where it does not fit, and let in where it does, as another validator has it', () => {
  let [fits, not] = [0, 0]
  fc.assert(
    fc.property(edits, fc.array(fc.tuple(fc.nat(200), values), { minLength: 4, maxLength: 12 }), (makes, changes) => {
      const ajv = judge()
      for (const { table, schema } of validatorsOf(makes)) {
        expect(unknownKeyword(schema)).toBeUndefined()
        // Its own shape is judged too: strictly, by the schema of draft 4.
        const test = ajv.compile(schema)
        const whole = EJSON.parse(JSON.stringify(documentFor(table, 1))) as Document
        const document: Document = { _id: 'x', ...whole }
        for (const one of [document, ...changes.map(([at, value]) => spoilt(document, at, value))]) {
          const found = misfit(one, schema)
          expect(found === undefined, `${JSON.stringify(one)} ${found?.path} ${found?.why}`).toBe(test(one))
          if (found) not += 1
          else fits += 1
        }
      }
    }),
    { numRuns: 60 }
  )
  expect(Math.min(fits, not)).toBeGreaterThan(300)
}, 120_000)

it('keeps to the examples of the manual', () => {
  // "Specify JSON Schema Validation", step 1 and "Specify Allowed Field Values", in this application's words.
  const schema = {
    bsonType: 'object',
    title: 'Berth Validation',
    required: ['code', 'quay', 'depth'],
    properties: {
      code: { bsonType: 'string', description: "'code' must be a string and is required" },
      depth: {
        bsonType: 'int',
        minimum: 3,
        maximum: 30,
        description: 'must be an integer in [ 3, 30 ] and is required'
      },
      note: { bsonType: ['double'] },
      quay: { enum: ['North', 'South', 'East'], description: 'can only be one of the enum values' }
    }
  }
  expect(misfit({ code: 'N1', quay: 'North', depth: 12, note: 2.5 }, schema)).toBeUndefined()
  expect(misfit({ code: 'N1', quay: 'North', depth: 2 }, schema)).toEqual({ path: 'depth', why: 'is less than 3' })
  expect(misfit({ code: 'N1', depth: 12 }, schema)).toEqual({ path: 'quay', why: 'is not there' })
  expect(misfit({ code: 'N1', quay: 'West', depth: 12 }, schema)?.path).toBe('quay')
  // "$jsonSchema", Omissions.
  expect(unknownKeyword({ properties: { a: { $ref: '#/x' } } })).toBe('$ref')
  expect(unknownKeyword({ properties: { a: { format: 'date' } } })).toBe('format')
  for (const keyword of ['$schema', 'default', 'definitions', 'id'])
    expect(unknownKeyword({ [keyword]: {} })).toBe(keyword)
})
