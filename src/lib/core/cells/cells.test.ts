// What typing into the sheet means.
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { edit, newAttribute, newDomain, parseDesign, printDesign, type Design } from '../design'
import { addShortWord, changeDomain, removeShortWord, type Field } from './domain-cells'
import { cellText, COLUMNS, commit, NEW_ROW, rowsOf, type ColumnName } from './cells'
import { fieldsOf, paste, pasteSpread } from './paste'
import { readTable } from './spread'

const entityOf = (design: Design, id: string) => {
  const entity = design.entities[id]
  if (!entity) throw new Error(id)
  return entity
}

/** Types a text into a cell and gives the design after it, and what the cell then says. */
function type(design: Design, entityId: string, rowId: string, column: ColumnName, text: string) {
  const entity = entityOf(design, entityId)
  const row = rowsOf(design, entity).find((r) => r.id === rowId)
  if (!row) throw new Error(rowId)
  const result = commit(design, entity, row, column, text)
  if ('error' in result) return { error: result.error, design }
  const after = 'edit' in result ? edit(design, result.edit) : design
  const id = ('row' in result ? result.row : undefined) ?? rowId
  const now = rowsOf(after, entityOf(after, entityId)).find((r) => r.id === id)
  return { design: after, row: now, text: now ? cellText(after, entityOf(after, entityId), now, column) : undefined }
}

describe('a cell', () => {
  it.each([
    ['ent_vessel', 'att_vessel_name', 'type', 'text(40)'],
    ['ent_vessel', 'att_vessel_trade', 'type', 'one of (bulk, tanker)'],
    ['ent_vessel', 'att_vessel_name', 'rules', 'unique, index'],
    ['ent_vessel', 'att_vessel_length_overall', 'rules', 'min 1.5, max 400'],
    ['ent_vessel', 'att_vessel_name', 'default', 'no name'],
    ['ent_vessel', 'att_vessel_name', 'meaning', 'as painted'],
    ['ent_vessel', 'att_vessel_name', 'filled', 'may be empty'],
    ['ent_visit', 'lnk_visit_berth', 'rules', 'on delete cascade'],
    ['ent_visit', 'lnk_visit_berth', 'rules', 'part of, at least one'],
    ['ent_visit', 'lnk_visit_berth', 'type', 'one Berth'],
    ['ent_visit', 'lnk_visit_berth', 'type', 'Tide gauge'],
    ['ent_visit', 'lnk_visit_berth', 'name', 'mooring'],
    ['ent_visit', 'att_visit_departs_at', 'type', 'Port']
  ] as const)('of %s %s, %s: says “%s” once that is typed', (entity, row, column, text) => {
    expect(type(harbour(), entity, row, column, text).text).toBe(text)
  })

  it.each([
    ['ent_vessel', 'att_vessel_name', 'name', 'imo', 'already'],
    ['ent_vessel', 'att_vessel_name', 'name', '', 'needs a name'],
    ['ent_vessel', 'att_vessel_name', 'type', 'txt', 'no type'],
    ['ent_vessel', 'att_vessel_name', 'rules', 'shiny', 'no rule'],
    ['ent_vessel', 'att_vessel_imo', 'default', 'seven', 'not a number'],
    ['ent_berth', 'att_berth_code', 'filled', 'may be empty', 'always filled'],
    ['ent_visit', 'lnk_visit_berth', 'default', 'N1', 'no default'],
    ['ent_vessel', 'lnk_vessel_pilot', 'rules', 'part of', 'many-to-many']
  ] as const)('of %s %s, %s refuses “%s” and changes nothing', (entity, row, column, text, reason) => {
    const before = harbour()
    const result = type(before, entity, row, column, text)
    expect(result.error).toContain(reason)
    expect(result.design).toBe(before)
  })

  it('turns a column into a link by an entity’s name, in its place, and back', () => {
    const there = type(harbour(), 'ent_visit', 'att_visit_departs_at', 'type', 'Port')
    expect(there.row?.link).toMatchObject({ parent: 'ent_port', role: 'departs at' })
    const rows = rowsOf(there.design, entityOf(there.design, 'ent_visit')).map((r) => r.id)
    expect(rows.indexOf(there.row?.id ?? '')).toBe(
      rowsOf(harbour(), entityOf(harbour(), 'ent_visit')).findIndex((r) => r.id === 'att_visit_departs_at')
    )
    const back = type(there.design, 'ent_visit', there.row?.id ?? '', 'type', 'timestamp')
    expect(back.row?.attribute).toMatchObject({ name: 'departs at', type: { kind: 'timestamp' } })
  })

  it('has a field lead to an entity by its name, one or a list of many, until it is of another type', () => {
    const spots = newAttribute('spots', { type: { kind: 'list', of: { kind: 'object' } } })
    const within = newAttribute('port', { type: { kind: 'text' } })
    const held = edit(harbour(), {
      kind: 'attribute.add',
      entity: 'ent_visit',
      attribute: { ...spots, fields: [within] }
    })
    const one = type(held, 'ent_visit', within.id, 'type', 'port')
    expect([one.text, one.row?.attribute?.leadsTo]).toEqual(['Port', 'ent_port'])
    const list = type(one.design, 'ent_visit', within.id, 'type', 'list of port')
    expect([list.text, list.row?.attribute?.leadsTo]).toEqual(['list of Port', 'ent_port'])
    expect(type(list.design, 'ent_visit', within.id, 'type', 'many Port').error).toContain('list of Port')
    const plain = type(list.design, 'ent_visit', within.id, 'type', 'text(5)')
    expect([plain.text, plain.row?.attribute?.leadsTo]).toEqual(['text(5)', undefined])
    const own = type(held, 'ent_visit', 'att_visit_departs_at', 'type', 'list of Port')
    expect([own.text, own.row?.link]).toEqual(['list of Port', undefined])
  })
})

describe('a domain', () => {
  const money = newDomain('Money', { id: 'dom_money', type: { kind: 'decimal', precision: 12, scale: 2 }, min: 0 })
  const start = () => edit(harbour(), { kind: 'object.set', collection: 'domains', object: money })
  const typed = (design: Design, text: string) => type(design, 'ent_vessel', 'att_vessel_length_overall', 'type', text)
  const change = (design: Design, field: Field, text: string) => {
    const changed = changeDomain(design, design.domains['dom_money'] ?? money, field, text)
    return 'edit' in changed ? edit(design, changed.edit) : changed.error
  }

  it('stands as the type of its columns, which follow it until they get a type of their own', () => {
    const joined = typed(start(), 'money')
    expect(joined.text).toBe('Money')
    expect(joined.row?.attribute).toMatchObject({ type: { precision: 12, scale: 2 }, min: 0 })
    const wider = change(joined.design, 'type', 'decimal(14,4)') as Design
    const now = rowsOf(wider, entityOf(wider, 'ent_vessel')).find(({ id }) => id === joined.row?.id)
    expect(now?.attribute).toMatchObject({ type: { precision: 14, scale: 4 }, domain: 'dom_money' })
    expect(parseDesign(printDesign(wider))).toMatchObject({ ok: true })
    // The same type, typed, is a type of its own.
    const left = typed(wider, 'decimal(14,4)')
    expect([left.text, left.row?.attribute?.domain]).toEqual(['decimal(14,4)', undefined])
    const gone = edit(wider, { kind: 'object.remove', collection: 'domains', id: 'dom_money' })
    expect(parseDesign(printDesign(gone))).toMatchObject({ ok: true })
  })

  it.each([
    ['name', 'Vessel', 'an entity'],
    ['name', 'date', 'a type by itself'],
    ['name', ' ', 'needs a name'],
    ['type', 'txt', 'no type'],
    ['default', 'seven', 'not a number'],
    ['min', 'low', 'not a number']
  ] as const)('%s refuses “%s”', (field, text, reason) => {
    expect(change(start(), field, text)).toContain(reason)
  })

  it('of a file that says otherwise than its columns is refused, with the place', () => {
    const text = printDesign(typed(start(), 'Money').design)
    const odd = text.replace(
      '"name":"Money","type":{"kind":"decimal","precision":12',
      '"name":"Money","type":{"kind":"decimal","precision":11'
    )
    expect(odd).not.toBe(text)
    const read = parseDesign(odd)
    expect(read.ok ? [] : read.notices.map(({ message }) => message)).toEqual([
      'length overall is of the domain Money and has another type than that.'
    ])
  })

  it('has short words beside it, of one word each', () => {
    const said = addShortWord(harbour(), 'LOA', 'length')
    const design = 'edit' in said ? edit(harbour(), said.edit) : harbour()
    expect(design.settings.abbreviations).toEqual({ ...harbour().settings.abbreviations, loa: 'length' })
    const back = removeShortWord(design, 'loa')
    expect('edit' in back && edit(design, back.edit).settings).toEqual(harbour().settings)
    expect(addShortWord(design, 'two words', 'x')).toHaveProperty('error')
    expect(addShortWord(design, 'x', 'x')).toHaveProperty('error')
  })
})

describe('pasting', () => {
  const at = (row: string, column: ColumnName) => ({ entity: 'ent_berth', row, column })
  const lines = (text: string) => fieldsOf(text) ?? []

  it('makes rows of lines, and says what it could not take', () => {
    const design = harbour()
    const { edits, refused } = paste(design, at(NEW_ROW, 'name'), lines('lamp\ttext(9)\r\nbell\tno type\n'))
    const after = edits.reduce(edit, design)
    expect(
      entityOf(after, 'ent_berth')
        .attributes.slice(-2)
        .map((a) => [a.name, a.type.kind])
    ).toEqual([
      ['lamp', 'text'],
      ['bell', 'text']
    ])
    expect(refused).toEqual([expect.stringContaining('Line 2, “no type”')])
  })

  it('writes over the rows that are there, and goes on below them', () => {
    const design = harbour()
    const before = entityOf(design, 'ent_berth')
    const rows = rowsOf(design, before).filter((row) => row.attribute)
    const { edits } = paste(design, at(rows.at(-1)?.id ?? '', 'name'), lines('one\ntwo\nthree'))
    const after = entityOf(edits.reduce(edit, design), 'ent_berth')
    const names = rowsOf(edits.reduce(edit, design), after).flatMap((row) => row.attribute?.name ?? [])
    expect(names.slice(-3)).toEqual(['one', 'two', 'three'])
    expect(after.attributes).toHaveLength(before.attributes.length + 2)
  })

  it('a type or an expression that would end the statement it stands in is refused', () => {
    const design = harbour()
    const error = (column: 'type' | 'default' | 'rules', text: string) => {
      const [entity, row] = [entityOf(design, 'ent_berth'), 'att_berth_quay']
      const found = rowsOf(design, entity).find(({ id }) => id === row)
      const done = found && commit(design, entity, found, column, text)
      return done && 'error' in done ? done.error : undefined
    }
    expect(error('type', 'native "text); DROP TABLE victim; --"')).toMatch(/character 5 closes nothing/)
    expect(error('default', "('a' || 'b)")).toMatch(/has no end/)
    expect(error('rules', `max ${'9'.repeat(400)}`)).toMatch(/too large/)
    expect(error('type', 'native "double precision[3]"')).toBeUndefined()
    expect(error('default', "('a' || 'b')")).toBeUndefined()
  })

  it('no cell takes a tab or a line break, however it comes', () => {
    const design = harbour()
    const typed = type(design, 'ent_berth', 'att_berth_quay', 'name', 'quay\tside\nnorth')
    expect(entityOf(typed.design, 'ent_berth').attributes.find((a) => a.id === 'att_berth_quay')?.name).toBe(
      'quay side north'
    )
    expect(fieldsOf('one value')).toBeUndefined()
  })
})

describe('a pasted table with columns of its own', () => {
  const read = (text: string) => readTable(fieldsOf(text) ?? [], COLUMNS)
  const after = (text: string) => {
    const design = harbour()
    const lines = fieldsOf(text) ?? []
    const reading = readTable(lines, COLUMNS)
    if (!reading) throw new Error('it is none of the sheet’s')
    const cell = { entity: 'ent_berth', row: NEW_ROW, column: 'name' } as const
    const { edits, refused } = pasteSpread(design, cell, lines, reading)
    expect(refused).toEqual([])
    return edits.reduce(edit, design)
  }

  it('is read by its headings, in whatever order, with what is said the other way round or in two', () => {
    const design = after(
      'No\tDescription\tColumn name\tNullable\tData type\tLength\tPK\n1\twhat it is called\tlamp name\tno\tvarchar\t40\tyes\n2\t\tlit\tYES\tbit\t\t\n3\t\tlit on\t\tdate\t10\t'
    )
    const berth = entityOf(design, 'ent_berth')
    const [name, lit, on] = berth.attributes.slice(-3)
    expect(name).toMatchObject({ name: 'lamp name', type: { length: 40 }, required: true, means: 'what it is called' })
    expect(lit).toMatchObject({ name: 'lit', type: { kind: 'boolean' }, required: false })
    expect(on).toMatchObject({ type: { kind: 'date' }, required: true })
    expect(berth.primaryKey).toContain(name?.id)
  })

  it('is read by what stands in it where nothing is said', () => {
    expect(read('varchar(40)\tlamp name\nint\tlight count\ndate\tlit on')?.meanings).toEqual(['type', 'name'])
    expect(read('lamp name\tvarchar(40)\nlight count\tint')).toBeUndefined()
    expect(read('lamp name\nlight count')).toBeUndefined()
  })
})

describe('a column that is worked out', () => {
  it('is typed behind = where defaults stand, and goes with what it is worked out from', () => {
    const design = harbour()
    const berth = design.entities['ent_berth']
    const row = berth && rowsOf(design, berth).find(({ attribute }) => attribute?.type.kind === 'decimal')
    if (!berth || !row?.attribute) throw new Error('a berth has a depth')
    const { name } = row.attribute
    const added = edit(design, {
      kind: 'attribute.add',
      entity: berth.id,
      attribute: newAttribute('in feet', { id: 'att_feet', type: { kind: 'double' } })
    })
    const cell = (of: Design) => {
      const entity = of.entities['ent_berth']
      const found = entity && rowsOf(of, entity).find(({ id }) => id === 'att_feet')
      if (!entity || !found) throw new Error('it is there')
      return { entity, found }
    }
    const { entity, found } = cell(added)
    expect(commit(added, entity, found, 'default', '= nowhere * 2')).toMatchObject({
      error: expect.stringContaining('no column nowhere')
    })
    const done = commit(added, entity, found, 'default', `= ${name} * 3.28`)
    if (!('edit' in done)) throw new Error('it is taken')
    const computed = edit(added, done.edit)
    const now = cell(computed)
    expect(now.found.attribute?.computed).toBe(`{${row.id}} * 3.28`)
    expect(cellText(computed, now.entity, now.found, 'default')).toBe(`= ${name} * 3.28`)
    const less = edit(computed, { kind: 'attribute.remove', entity: berth.id, id: row.id })
    expect(cell(less).found.attribute?.computed).toBeUndefined()
  })
})
