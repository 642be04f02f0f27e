// Columns that hold others: on every engine that runs here, as documents and as tables of their own, from either to the other.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { typeText } from '../../src/lib/core/catalog'
import { derive, nestedIn, type DeriveTarget } from '../../src/lib/core/derive'
import { edit, newDesign, type Design } from '../../src/lib/core/design'
import { dialect as dialectOf } from '../../src/lib/core/dialects'
import { readJot } from '../../src/lib/core/jot'
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
