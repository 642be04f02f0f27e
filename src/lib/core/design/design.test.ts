// Edits, undo, and the design file, on random designs.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { edits } from '../../../../tests/support/designs'
import type { DataType } from '../catalog'
import {
  FILE_VERSION,
  begin,
  change,
  dangling,
  edit,
  Editing,
  newAttribute,
  newDesign,
  newEntity,
  newLink,
  newTarget,
  parseDesign,
  printDesign,
  redo,
  rowIds,
  undo,
  type Design,
  type Edit
} from '.'

const cases = { numRuns: 300 }

describe('edits', () => {
  it('never leave a reference that leads nowhere, and never change the design they were given', () => {
    fc.assert(
      fc.property(edits, (make) => {
        const start = harbour()
        const before = printDesign(start)
        const end = make.reduce((design, next) => edit(design, next(design)), start)
        expect(dangling(end)).toEqual([])
        expect(printDesign(start)).toBe(before)
      }),
      cases
    )
  })

  it('are the same made one by one and all in one place, where each costs what it changes', () => {
    fc.assert(
      fc.property(edits, edits, (make, more) => {
        const start = harbour()
        const rows = (design: Design) => Object.values(design.entities).map((entity) => rowIds(design, entity))
        const editing = new Editing(start)
        const made: Edit[] = []
        const step = (next: (design: Design) => Edit) => {
          const e = next(editing.now)
          made.push(e)
          editing.edit(e)
        }
        make.forEach(step)
        const halfway = editing.done()
        const kept = printDesign(halfway)
        for (const next of more) {
          step(next)
          expect(rows(editing.now)).toEqual(rows({ ...editing.now, links: { ...editing.now.links } }))
        }
        expect(printDesign(halfway)).toBe(kept)
        expect(printDesign(editing.done())).toBe(printDesign(made.reduce(edit, start)))
      }),
      cases
    )
  })

  it('are undone to the first and redone to the last', () => {
    fc.assert(
      fc.property(edits, (make) => {
        const first = harbour()
        let history = begin(first)
        for (const next of make) history = change(history, next(history.present))
        const [last, steps] = [history.present, history.past.length]
        for (let i = 0; i < steps; i++) history = undo(history)
        expect(history.present).toBe(first)
        for (let i = 0; i < steps; i++) history = redo(history)
        expect(history.present).toBe(last)
      }),
      cases
    )
  })

  it('put a link that identifies first in its child’s key, and make it required', () => {
    const [visit, line] = [newEntity('Visit'), newEntity('Cargo line')]
    let design = [visit, line].reduce(
      (d, entity) => edit(d, { kind: 'object.set', collection: 'entities', object: entity }),
      newDesign('Tidewell')
    )
    const number = newAttribute('line no')
    design = edit(design, { kind: 'attribute.add', entity: line.id, attribute: number })
    design = edit(design, { kind: 'key.toggle', entity: line.id, id: number.id })
    const link = newLink(design, visit, line, { identifying: true, parentRequired: false })
    design = edit(design, { kind: 'link.add', link })
    const after = design.entities[line.id]
    expect(after?.primaryKey).toEqual([link.id, number.id])
    expect(after && rowIds(design, after)).toEqual([link.id, number.id])
    expect(design.links[link.id]?.parentRequired).toBe(true)
    expect(after?.attributes[0]?.required).toBe(true)
  })

  it('give roles to a second link between two entities and to one of an entity with itself', () => {
    const [port, visit] = [newEntity('Port'), newEntity('Visit')]
    let design = [port, visit].reduce(
      (d, entity) => edit(d, { kind: 'object.set', collection: 'entities', object: entity }),
      newDesign('Tidewell')
    )
    const roles: (string | undefined)[] = []
    for (let i = 0; i < 3; i++) {
      const link = newLink(design, port, visit)
      roles.push(link.role)
      design = edit(design, { kind: 'link.add', link })
    }
    expect(roles).toEqual([undefined, 'other port', 'port 3'])
    expect(newLink(design, port, port).role).toBe('parent port')
  })
})

describe('the design file', () => {
  it('gives back the design it was printed from, whatever its history, and one text for one design', () => {
    fc.assert(
      fc.property(edits, (make) => {
        const design = make.reduce((d, next) => edit(d, next(d)), harbour())
        const text = printDesign(design)
        const read = parseDesign(text)
        expect(read.ok && read.value).toEqual(JSON.parse(JSON.stringify(design)))
        expect(read.ok && printDesign(read.value)).toBe(text)
      }),
      cases
    )
  })

  it('has one object a line', () => {
    const lines = printDesign(harbour()).split('\n')
    expect(lines.filter((line) => line.includes('"id":"ent_vessel"') && line.includes('"attributes"'))).toHaveLength(1)
    expect(lines.length).toBeGreaterThan(45)
  })

  it('of version 2 says places by the names of schema, table and object, and types as texts, and opens', () => {
    const STATES: DataType = { name: 'array', of: { schema: 'public', name: 'Visit state' } }
    const target = newTarget('dev', {
      id: 'tgt',
      departures: [
        { id: 'att_vessel_loa', part: 'column', property: 'type', value: { name: 'numeric', args: ['7', '2'] } }
      ],
      ignored: [
        { kind: 'schema', path: ['audit'], reason: 'a' },
        { kind: 'table', path: ['public', 'tide'], reason: 'b' },
        { kind: 'column', path: ['public', 'vessel', 'loa'], property: 'type', reason: 'c' }
      ],
      extras: [
        { path: ['public', 'vessel', 'ck'], kind: 'check', value: { name: 'ck', expression: 'loa > 0' } },
        { path: ['public', 'vessel', 'state'], kind: 'column', value: { name: 'state', type: STATES, nullable: true } },
        {
          path: ['public', 'own'],
          kind: 'table',
          value: { schema: 'public', name: 'own', columns: [], uniques: [], foreignKeys: [], checks: [], indexes: [] }
        }
      ],
      handSteps: [
        { id: 'h1', statement: 'SELECT 1', place: 'before', anchor: 'create/table/public/visit/' },
        { id: 'h2', statement: 'SELECT 2', place: 'after', anchor: 'alter/column/public/visit/note/type' }
      ]
    })
    // It knew no domains.
    const plain = Object.keys(harbour().domains).reduce(
      (design, id) => edit(design, { kind: 'object.remove', collection: 'domains', id }),
      harbour()
    )
    const now = printDesign(edit(plain, { kind: 'object.set', collection: 'targets', object: target }))
    const before = now
      .replace(`"version":${FILE_VERSION}`, '"version":2')
      .replace('"domains":[],\n', '')
      .replace(',\n"views":[]', '')
      .replace('"path":["audit"]', '"schema":"audit"')
      .replace('"path":["public","tide"]', '"schema":"public","table":"tide","name":"tide"')
      .replace('"path":["public","vessel","loa"]', '"schema":"public","table":"vessel","name":"loa"')
      .replace('"path":["public","vessel","ck"]', '"schema":"public","table":"vessel"')
      .replace('"path":["public","vessel","state"]', '"schema":"public","table":"vessel"')
      .replace('{"args":["7","2"],"name":"numeric"}', '"numeric(7,2)"')
      .replace(
        '{"name":"array","of":{"name":"Visit state","schema":"public"}}',
        JSON.stringify('public."Visit state"[]')
      )
      .replace('"path":["public","own"]', '"schema":"public","table":"own"')
      .replace('create/table/public/visit/', 'create/table/public/visit/visit/')
    const read = parseDesign(before)
    expect(read.ok && printDesign(read.value)).toBe(now)
  })

  const text = printDesign(harbour())
  it.each([
    ['', 'file-not-json', '1:1'],
    [text.slice(0, text.length / 2), 'file-not-json', undefined],
    ['{"a": 1}', 'file-not-design', '1:1'],
    ['[]', 'file-not-design', '1:1'],
    [text.replace(`"version":${FILE_VERSION}`, '"version":99'), 'file-too-new', '1:1'],
    [text.replace(`"version":${FILE_VERSION}`, '"version":"one"'), 'file-not-design', '1:1'],
    [text.replace('"kind":"decimal"', '"kind":"decimals"'), 'file-shape', undefined],
    [text.replace('"name":"Vessel"', '"name":""'), 'file-shape', undefined],
    [text.replace('"parent":"ent_vessel"', '"parent":"ent_gone"'), 'file-reference', undefined],
    [text.replace('{att_visit_departs_at}', '{att_gone}'), 'file-reference', undefined],
    [text.replace('"onDelete"', '"parentKey":"key_gone","onDelete"'), 'file-reference', undefined],
    [text.replace('"id":"ent_vessel"', '"id":"constructor"'), 'file-shape', undefined],
    [text.replace('"parent":"ent_vessel"', '"parent":"toString"'), 'file-shape', undefined],
    [text.replace('"id":"att_vessel_name"', '"id":"att_vessel_imo"'), 'file-shape', undefined],
    [text.replace('"places":{', '"places":{"__proto__":{"x":1,"y":1},'), 'file-shape', undefined],
    [text.replace('"means":"', '"means":"\\ud800'), 'file-shape', undefined],
    [text.replace('"name":"Vessel"', '"name":"Vessel","name":"Ship"'), 'file-shape', undefined],
    [text.replace('"name":"Vessel"', '"colour":"red","name":"Vessel"'), 'file-shape', undefined],
    [text.replace('"x":', '"x":1e999,"_":'), 'file-shape', undefined],
    [text.replace('"areas":', '"colours":[],"areas":'), 'file-shape', undefined],
    [
      text.replace(
        '"subtypeTables":',
        '"departures":[{"id":"a","part":"b","property":"type","value":7}],"subtypeTables":'
      ),
      'file-shape',
      undefined
    ],
    [
      text.replace(
        '"subtypeTables":',
        '"extras":[{"kind":"check","schema":"","table":"a","value":{}}],"subtypeTables":'
      ),
      'file-shape',
      undefined
    ]
  ])('says what is wrong and where (%#)', (broken, code, where) => {
    const read = parseDesign(broken)
    expect(broken).not.toBe(text)
    expect(read.ok).toBe(false)
    if (read.ok) return
    expect(read.notices[0]?.code).toBe(code)
    expect(read.notices[0]?.where).toMatch(/^\d+:\d+$/)
    if (where) expect(read.notices[0]?.where).toBe(where)
    // A wrong object is named by the line it stands on.
    if (code === 'file-shape' || code === 'file-reference') {
      const line = broken.split('\n')[Number(read.notices[0]?.where?.split(':')[0]) - 1]
      expect(line).toMatch(
        /decimals|"name":""|_gone|"constructor"|toString|"att_vessel_imo"|__proto__|ud800|Ship|red|1e999|colours|departures|extras/
      )
    }
  })

  it('is read with a byte order mark, and keeps whatever a namespace or an absent value is called', () => {
    const target = {
      ...newTarget('Live'),
      schemas: { ['__proto__']: 'odd', constructor: 'made' },
      departures: [{ id: 'att_vessel_name', part: 'column', property: 'default', value: undefined }]
    }
    const design = edit(harbour(), { kind: 'object.set', collection: 'targets', object: target })
    const read = parseDesign(`\ufeff${printDesign(design)}`)
    expect(read.ok && printDesign(read.value)).toBe(printDesign(design))
    expect(read.ok && Object.entries(read.value.targets[target.id]?.schemas ?? {})).toEqual([
      ['__proto__', 'odd'],
      ['constructor', 'made']
    ])
  })
})
