// Entities as JSON Schema and back, judged by another reader of JSON Schema 2020-12 ("JSON Schema: A Media Type for Describing JSON
// Documents", "JSON Schema Validation"), and the examples of its own guide.
import Ajv2020 from 'ajv/dist/2020'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { edits } from '../../../../tests/support/designs'
import { DOCUMENTS, type Plain } from '../../../../tests/support/documents'
import { allAttributes, edit, fieldsOf, type Attribute, type Design } from '../design'
import { printType, type NeutralType } from '../types'
import { isJsonSchema, jsonSchema, readJsonSchema, type Schema } from '.'

const judge = () => {
  const ajv = new Ajv2020({
    allErrors: true,
    strict: true,
    strictTypes: false,
    strictRequired: false,
    multipleOfPrecision: 6
  })
  for (const format of ['int8', 'int16', 'int32', 'int64', 'decimal', 'float', 'double'])
    ajv.addFormat(format, { type: 'number', validate: () => true })
  for (const format of ['date', 'time', 'date-time', 'duration', 'uuid']) ajv.addFormat(format, true)
  return ajv
}

/** A value of a type, in JSON. */
function valueOf(type: NeutralType, { min, max, letters, ...rest }: Attribute): unknown {
  const self: Attribute = { ...rest, ...(min === undefined ? {} : { min }), ...(max === undefined ? {} : { max }) }
  const within = (n: number) => Math.ceil(Math.min(Math.max(n, min ?? n), max ?? n))
  switch (type.kind) {
    case 'list':
      return [valueOf(type.of, self)]
    case 'map':
      return { a: valueOf(type.of, self) }
    case 'either':
      return valueOf(type.of.at(-1) ?? type, self)
    case 'object':
      return documentOf(fieldsOf(rest))
    case 'boolean':
      return true
    case 'oneOf':
      return type.values[0]
    case 'object id':
      return 'a'.repeat(24)
    case 'char':
      return (letters === 'upper' ? 'A' : 'a').repeat(type.length)
    case 'tiny':
    case 'small':
    case 'integer':
    case 'big':
    case 'decimal':
    case 'float':
    case 'double':
      return within(1)
    default:
      return letters === 'upper' ? 'A' : 'a'
  }
}
const nameOf = ({ name, dbName }: Attribute) => dbName ?? name.replaceAll(' ', '_').toLowerCase()
const documentOf = (attributes: readonly Attribute[]): Plain =>
  Object.fromEntries(attributes.map((one) => [nameOf(one), valueOf(one.type, one)]))

const shapes = (attributes: readonly Attribute[]): unknown[] =>
  attributes.map((one) => [
    nameOf(one),
    printType(one.type),
    one.required,
    one.min,
    one.max,
    one.letters,
    one.means,
    shapes(fieldsOf(one))
  ])

describe('a design as JSON Schema', () => {
  it('says what fits and what does not, as another judge has it, and is read back as it was written', () => {
    let [fitted, refused] = [0, 0]
    fc.assert(
      fc.property(edits, (makes) => {
        const design = makes.reduce((now, make) => edit(now, make(now)), DOCUMENTS)
        const whole = jsonSchema(design)
        const ajv = judge()
        ajv.addSchema(whole, 'whole')
        const defs = (whole['$defs'] ?? {}) as Readonly<Record<string, Schema>>
        for (const name of Object.keys(defs)) ajv.getSchema(`whole#/$defs/${encodeURIComponent(name)}`)
        const { design: again, notices } = readJsonSchema(whole, 'again')
        expect(notices.filter(({ message }) => !message.includes('pattern'))).toEqual([])
        expect(jsonSchema(readJsonSchema(jsonSchema(again), 'again').design)).toEqual(jsonSchema(again))

        for (const entity of Object.values(design.entities).slice(0, 4)) {
          const { attributes } = entity
          // What leads to others hangs on their keys: it is told of whole designs.
          if (allAttributes(entity).some(({ leadsTo }) => leadsTo !== undefined)) continue
          if (attributes.length === 0) continue
          const plain: Design = {
            ...design,
            links: {},
            subtypes: {},
            commons: {},
            entities: { [entity.id]: { ...entity, order: [] } }
          }
          const schema = jsonSchema(plain)
          const fits = judge().compile({ ...schema, required: attributes.filter((one) => one.required).map(nameOf) })
          const good = documentOf(attributes)
          if (attributes.some(({ min, max }) => (min ?? 0) > (max ?? Infinity))) continue
          const { fits: isFit } = { fits: fits(good) }
          expect(isFit, JSON.stringify([good, schema, fits.errors])).toBe(true)
          fitted += 1
          for (const one of attributes) {
            const { [nameOf(one)]: value, ...without } = good
            if (one.required) expect(fits(without)).toBe(false)
            if (schemaSaysNothing(one.type)) continue
            const wrong = typeof value === 'object' ? 7 : { odd: true }
            expect(fits({ ...good, [nameOf(one)]: wrong }), JSON.stringify([one, wrong])).toBe(false)
            refused += 1
          }
        }
      }),
      { numRuns: 100 }
    )
    expect(fitted).toBeGreaterThan(100)
    expect(refused).toBeGreaterThan(300)
  }, 120_000)

  it('keeps fields, types, bounds and words of what is nested', () => {
    const { design } = readJsonSchema(jsonSchema(DOCUMENTS), 'Tidewell')
    const [was, is] = [DOCUMENTS, design].map((one) =>
      Object.values(one.entities).find(({ name }) => name === 'Inspection')
    )
    const own = (is?.attributes ?? []).filter((one) => was?.attributes.some((other) => nameOf(other) === nameOf(one)))
    const said = (attributes: readonly Attribute[]) =>
      JSON.stringify(shapes(attributes), null, 1)
        .replaceAll('"timestamp"', '"timestamp with zone"')
        .replaceAll(/decimal\(\d+/g, 'decimal(18')
    expect(said(own)).toBe(said(was?.attributes ?? []))
  })
})

describe('somebody else’s schema', () => {
  // "Modular JSON Schema combination", "Creating your first schema": the guide of json-schema.org, 2020-12, from memory.
  const GUIDE = {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    $id: 'https://example.com/berth.schema.json',
    title: 'Berth',
    description: 'A place to lie at',
    type: 'object',
    properties: {
      berthId: { description: 'what tells it from others', type: 'integer' },
      price: { type: 'number', exclusiveMinimum: 0 },
      tags: { type: 'array', items: { type: 'string' }, minItems: 1, uniqueItems: true },
      size: {
        type: 'object',
        properties: { length: { type: 'number' }, width: { type: ['number', 'null'] } },
        required: ['length', 'width']
      },
      keeper: { $ref: '#/$defs/person' },
      next: { $ref: '#' },
      state: { enum: ['open', 'shut', null] },
      depth: { oneOf: [{ type: 'number' }, { type: 'string', maxLength: 8 }] },
      lamps: { type: 'object', additionalProperties: { type: 'boolean' } },
      mark: { allOf: [{ type: 'string' }, { maxLength: 4 }] }
    },
    required: ['berthId', 'price'],
    $defs: {
      person: {
        type: 'object',
        properties: { name: { type: 'string' }, deputy: { $ref: '#/$defs/person' } },
        required: ['name']
      }
    }
  } as const

  it('is read as fields, with what it refers to; what has no words is told, and what goes round is left open', () => {
    expect(isJsonSchema(GUIDE)).toBe(true)
    expect(isJsonSchema({ name: 'Grey Heron' })).toBe(false)
    const { design, notices } = readJsonSchema(GUIDE as unknown as Schema, 'file')
    const [berth, ...none] = Object.values(design.entities)
    expect(none).toEqual([])
    expect([berth?.name, berth?.means]).toEqual(['Berth', 'A place to lie at'])
    const list = (attributes: readonly Attribute[], depth = 0): string[] =>
      attributes.flatMap((one) => [
        `${' '.repeat(depth)}${one.dbName ?? one.name}: ${printType(one.type)}${one.required ? ' required' : ''}`,
        ...list(fieldsOf(one), depth + 1)
      ])
    expect(list(berth?.attributes ?? [])).toEqual([
      'berthId: integer required',
      'price: double required',
      'tags: list of text',
      'size: object',
      ' length: double required',
      ' width: double',
      'keeper: object',
      ' name: text required',
      ' deputy: json',
      'next: json',
      'state: one of (open, shut)',
      'depth: double or text(8)',
      'lamps: map of text to boolean',
      'mark: text(4)'
    ])
    expect(notices.map(({ message }) => message).sort()).toEqual([
      '#/properties/keeper/properties/deputy: it is part of itself; what is in it further down is left open.',
      '#/properties/next: it is part of itself; what is in it further down is left open.',
      '#/properties/price: “exclusiveMinimum” says what a design has no words for.',
      '#/properties/tags: “minItems” says what a design has no words for.',
      '#/properties/tags: “uniqueItems” says what a design has no words for.'
    ])
  })
})

/** Anything fits. */
const schemaSaysNothing = (type: NeutralType): boolean =>
  type.kind === 'json' || type.kind === 'native' || (type.kind === 'either' && type.of.some(schemaSaysNothing))
