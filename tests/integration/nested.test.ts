// Columns that hold others: on every engine that runs here, as documents and as tables of their own, from either to the other.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { typeText } from '../../src/lib/core/catalog'
import { derive, nestedIn, type DeriveTarget } from '../../src/lib/core/derive'
import { edit, newDesign, parseDesign, printDesign, type Design } from '../../src/lib/core/design'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { printJot, readJot } from '../../src/lib/core/jot'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'
import { reached } from '../support/reached'

const { design, notices } = readJot(
  `collection Inspection
  ref: text(12) key
  taken at: timestamp required
  place: object required
    berth: text(8) required
    depth: decimal(5,2) min 0
  findings: list of object
    code: text(10) required
    severity: one of (minor, major, "on hold")
    photos: list of text(80)
    steps: list of object
      done at: timestamp
  tags: list of text(20)
  measures: map of text(10) to decimal(8,2)
  remark: text or (list of text)
`,
  newDesign('Tidewell')
)
const HERE: DeriveTarget = { subtypeTables: {}, schemas: {} }
const as = (way: 'table' | 'document', of: Design): DeriveTarget => ({
  ...HERE,
  nested: Object.fromEntries(nestedIn(of).map(({ attribute }) => [attribute.id, way]))
})
const columns = (target: DeriveTarget, engine: string) => {
  const dialect = dialectOf(engine)
  if (!dialect) throw new Error(`${engine} is known`)
  return derive(design, target, dialect).catalog.tables.map(
    ({ name, columns: all }) => `${name}: ${all.map((column) => `${column.name} ${typeText(column.type)}`).join(', ')}`
  )
}

describe('what is nested', () => {
  it('is a document, or a list where the engine has such; chosen otherwise, a table that is part of the one it was in', () => {
    expect(notices).toEqual([])
    expect(columns(HERE, 'postgres')).toEqual([
      'inspection: ref varchar(12), taken_at timestamp, place jsonb, findings jsonb, tags varchar(20)[], measures jsonb, remark jsonb'
    ])
    expect(columns(as('table', design), 'postgres')).toEqual([
      'inspection: ref varchar(12), taken_at timestamp, remark jsonb',
      'inspection_findings: inspection_ref varchar(12), position integer, code varchar(10), severity varchar(20)',
      'inspection_findings_photos: inspection_findings_inspection_ref varchar(12), inspection_findings_position integer, position integer, value varchar(80)',
      'inspection_findings_steps: inspection_findings_inspection_ref varchar(12), inspection_findings_position integer, position integer, done_at timestamp',
      'inspection_measures: inspection_ref varchar(12), key varchar(10), value numeric(8,2)',
      'inspection_place: inspection_ref varchar(12), berth varchar(8), depth numeric(5,2)',
      'inspection_tags: inspection_ref varchar(12), position integer, value varchar(20)'
    ])
  })

  it('leads to entities at any depth: by the type of their keys, and by foreign keys from tables of its own', () => {
    const { design: leading, notices: none } = readJot(
      `entity Berth
  code: text(8) key

entity Surveyor
  name: text(40) required

entity Leg
  part of Berth
  part of Surveyor

collection Inspection
  ref: text(12) key
  moored: list of Berth
  findings: list of object
    berth: Berth required
    second berth: Berth means where it was seen again
    seen by: list of Surveyor
    leg: Leg
`,
      newDesign('Tidewell')
    )
    expect(none).toEqual([])
    const again = readJot(printJot(leading), leading)
    expect(again).toMatchObject({ notices: [], design: leading })
    const of = (target: DeriveTarget, engine: string) => {
      const found = derive(leading, target, dialectOf(engine) as Dialect)
      const tables = found.catalog.tables.filter(({ name }) => name.startsWith('inspection'))
      return {
        columns: tables.flatMap(({ name, columns: all }) =>
          all.map((column) => `${name}.${column.name} ${typeText(column.type)}${column.nullable ? '' : ' required'}`)
        ),
        keys: tables.flatMap(({ name, foreignKeys }) =>
          foreignKeys.map((fk) => `${name} ${fk.columns.join(', ')} → ${fk.references.table}`)
        ),
        told: found.notices.filter(({ code }) => code === 'leads-to-many').map(({ message }) => message)
      }
    }
    const told = ['leg leads to Leg, whose key is of several columns: nothing is said of what it holds.']
    expect(of(HERE, 'mongodb')).toEqual({
      columns: [
        'inspection.ref string(12) required',
        'inspection.moored string(8)[]',
        'inspection.findings object[]',
        'inspection.findings[].berth string(8) required',
        'inspection.findings[].second_berth string(8)',
        'inspection.findings[].seen_by objectId[]',
        'inspection.findings[].leg any'
      ],
      keys: [],
      told
    })
    expect(of(as('table', leading), 'postgres')).toEqual({
      columns: [
        'inspection.ref varchar(12) required',
        'inspection_findings.inspection_ref varchar(12) required',
        'inspection_findings.position integer required',
        'inspection_findings.berth_code varchar(8) required',
        'inspection_findings.second_berth_code varchar(8)',
        'inspection_findings.leg_berth_code varchar(8)',
        'inspection_findings.leg_surveyor_id integer',
        'inspection_findings_seen_by.inspection_findings_inspection_ref varchar(12) required',
        'inspection_findings_seen_by.inspection_findings_position integer required',
        'inspection_findings_seen_by.position integer required',
        'inspection_findings_seen_by.surveyor_id integer required',
        'inspection_moored.inspection_ref varchar(12) required',
        'inspection_moored.position integer required',
        'inspection_moored.berth_code varchar(8) required'
      ],
      keys: [
        'inspection_findings inspection_ref → inspection',
        'inspection_findings berth_code → berth',
        'inspection_findings second_berth_code → berth',
        'inspection_findings leg_berth_code, leg_surveyor_id → leg',
        'inspection_findings_seen_by inspection_findings_inspection_ref, inspection_findings_position → inspection_findings',
        'inspection_findings_seen_by surveyor_id → surveyor',
        'inspection_moored inspection_ref → inspection',
        'inspection_moored berth_code → berth'
      ],
      told: []
    })
    // What it leads to may go.
    const berth = Object.values(leading.entities).find(({ name }) => name === 'Berth')
    const without = edit(leading, { kind: 'object.remove', collection: 'entities', id: berth?.id ?? '' })
    expect(parseDesign(printDesign(without)).ok).toBe(true)
  })
})

describe.each(ENGINES_UNDER_TEST)('$label', ({ open, lacking }) => {
  let db: Playground
  beforeAll(async () => {
    if (lacking === undefined) db = await open()
  }, 120_000)
  afterAll(() => db?.close())

  it.skipIf(lacking !== undefined)(
    'keeps what is nested either way, refuses what has another shape where it can, and goes from one to the other',
    async () => {
      await db.reset()
      const { write } = db.dialect
      const documents = await reached(db, design, as('document', design))
      const [inspection] = (await db.live.catalog()).tables
      if (!inspection) throw new Error('the table is there')
      const name = (column: string) =>
        write.quote(inspection.columns.find((c) => c.name.toLowerCase() === column)?.name ?? column)
      const add = (ref: string, tags: string) =>
        `INSERT INTO ${write.table(inspection.schema, inspection.name)} (${['ref', 'taken_at', 'place', 'tags'].map(name).join(', ')}) VALUES ('${ref}', '2026-03-01 06:10:00', '{"berth":"N12"}', '${tags}')`
      await db.exec(add('A1', '["dry","steel"]'))
      if (write.shaped) {
        await expect(db.exec(add('A2', '{"dry":true}'))).rejects.toThrow()
        await expect(db.exec(add('A3', 'no document'))).rejects.toThrow()
      }
      // A field that gets another name is no other field.
      const [nested] = nestedIn(design)
      const field = nested?.attribute.fields?.[0]
      const named = edit(design, {
        kind: 'attribute.set',
        entity: nested?.entity.id ?? '',
        id: field?.id ?? '',
        set: { name: 'quay' }
      })
      await reached(db, design, HERE, documents)
      const tables = await reached(db, design, as('table', design), documents)
      const renamed = await reached(db, named, as('table', named), tables)
      const place = (await db.live.catalog()).tables.find((table) => table.name.toLowerCase() === 'inspection_place')
      expect(place?.columns.map((column) => column.name.toLowerCase())).toEqual(['inspection_ref', 'quay', 'depth'])
      // What a document holds is in no table after it: a plan says that it loses data, and a place is required of each row.
      await db.exec(`DELETE FROM ${write.table(inspection.schema, inspection.name)}`)
      await reached(db, named, HERE, renamed)
    },
    300_000
  )
})
