// Documents of one entity within those of another: where each column, key and index comes to stand, and what cannot be.
import { describe, expect, it } from 'vitest'
import { typeText } from '../catalog'
import { edit, newDesign, type Design, type Link } from '../design'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { readJot } from '../jot'
import { jsonSchema } from '../json-schema'
import { derive } from '.'

const HERE = { subtypeTables: {}, schemas: {} }
const said = (text: string): Design => readJot(text, newDesign('Tidewell')).design
const derived = (design: Design, engine = 'mongodb') => derive(design, HERE, dialectOf(engine) as Dialect)

/** Each column with its type, and each index with what it is of. */
function shapes(design: Design): Record<string, string[]> {
  return Object.fromEntries(
    derived(design).catalog.tables.map(({ name, columns, indexes }) => [
      name,
      [
        ...columns.map((one) => `${one.name}: ${typeText(one.type)}${one.nullable ? '' : ' required'}`),
        ...indexes.map(
          ({ unique, parts, where }) =>
            `${unique ? 'unique' : 'index'} ${parts.map(({ column }) => column).join(', ')}${where === undefined ? '' : ` where ${where}`}`
        )
      ]
    ])
  )
}
const told = (design: Design) =>
  derived(design)
    .notices.filter(({ code }) => ['not-embedded', 'key-within'].includes(code))
    .map(({ message }) => message)

describe('an entity that is kept within another', () => {
  it('is a list there, to any depth, without what led to it; keys and indexes go along', () => {
    const design = said(`entity Vessel
  imo: integer key
  name: text(80) required

entity Inspection
  vessel: Vessel required embedded as "harbour checks"
  ref: text(8) key
  berth: Berth
  index (berth)

entity Finding
  part of Inspection, embedded
  line no: small key
  severity: text(8) required

entity Berth
  code: text(4) key
`)
    expect(shapes(design)).toEqual({
      berth: ['code: string(4) required', 'unique code'],
      vessel: [
        'imo: int required',
        'name: string(80) required',
        'harbour_checks: object[]',
        'harbour_checks[].ref: string(8) required',
        'harbour_checks[].berth_code: string(4)',
        'harbour_checks[].finding: object[]',
        'harbour_checks[].finding[].line_no: int required',
        'harbour_checks[].finding[].severity: string(8) required',
        'unique imo',
        'unique harbour_checks[].ref where {"harbour_checks.ref":{"$exists":true}}',
        'index harbour_checks[].berth_code'
      ]
    })
    expect(told(design)).toEqual([
      'That line_no stands once in each list is kept by nobody: no index looks within a single document.'
    ])
  })

  it('is one object where there is one at most, and a table of its own in every other world', () => {
    const design = said(`entity Vessel
  imo: integer key

entity Engine
  vessel: one Vessel required embedded
  power: integer required
`)
    expect(shapes(design)).toEqual({
      vessel: [
        'imo: int required',
        'engine: object',
        'engine._id: objectId',
        'engine.power: int required',
        'unique imo',
        'unique engine._id where {"engine._id":{"$exists":true}}'
      ]
    })
    const plain = edit(design, {
      kind: 'link.set',
      id: Object.keys(design.links)[0] ?? '',
      set: { embedded: undefined } as Partial<Link>
    } as never)
    for (const engine of ['postgres', 'sqlite', 'mariadb', 'firebird'])
      expect(derived(design, engine).catalog).toEqual(derived(plain, engine).catalog)
  })

  it('is a list of keys in the one of two that each lead to many of the other, also of one sort', () => {
    const design = said(`entity Berth
  code: text(4) key

entity Visit
  number: integer key
  moored at: many Berth embedded
  visit: many Visit embedded
`)
    const { berth, visit = [] } = shapes(design)
    expect(berth).toEqual(['code: string(4) required', 'unique code'])
    // Which link comes first is its id's affair.
    expect(new Set(visit)).toEqual(
      new Set([
        'number: int required',
        'moored_at: object[]',
        'moored_at[].moored_at_code: string(4) required',
        'visit: object[]',
        'visit[].visit_number: int required',
        'unique number'
      ])
    )
    expect(derived(design, 'postgres').catalog.tables).toHaveLength(4)
    expect(jsonSchema(design, new Set(Object.keys(design.entities)))['$defs']).toMatchObject({
      visit: {
        properties: {
          moored_at: {
            type: 'array',
            items: { properties: { moored_at_code: { type: 'string' } }, required: ['moored_at_code'] }
          }
        }
      }
    })
  })

  it('stays by itself where it leads to itself, in a circle, or is kept elsewhere; and says so', () => {
    const design = said(`entity Berth
  code: text(4) key
  berth: Berth embedded

entity Pilot
  licence: text(12) key
  tug: Tug required embedded

entity Tug
  name: text(20) key
  pilot: Pilot required embedded
  berth: Berth embedded
`)
    // The circle is open already where the tug is kept in a berth: which link comes first is its id's affair.
    expect(told(design).length).toBeGreaterThanOrEqual(2)
    const text = told(design).join('\n')
    expect(text).toContain('What leads to itself cannot be kept in itself.')
    expect(text).toMatch(/is not kept in (Pilot|Tug), which is kept in|is kept in \w+ already/)
    // Whatever comes first, no document is in itself, and none is in two.
    const { tables } = derived(design).catalog
    expect(tables.length).toBeGreaterThan(0)
    for (const { columns } of tables) expect(new Set(columns.map(({ name }) => name)).size).toBe(columns.length)
  })
})
