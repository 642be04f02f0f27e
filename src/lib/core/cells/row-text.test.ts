// A column said in one line, and a link that is drawn.
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { logical } from '../derive'
import { edit, type Design } from '../design'
import { isNewRow, rowsOf, type Committed } from './cells'
import { drawnLink, type LinkKind } from './drawn-link'
import { addedColumn, changedRow, rowText } from './row-text'

function take(design: Design, done: Committed) {
  if (!('edit' in done)) throw new Error(JSON.stringify(done))
  return { design: edit(design, done.edit), row: done.row ?? '' }
}

function berthOf(design: Design) {
  const found = design.entities['ent_berth']
  if (!found) throw new Error('the demo has berths')
  return found
}

describe('a column said in one go', () => {
  it('has a name, and the type behind a colon; a field is put into what holds it', () => {
    const marks = take(harbour(), addedColumn(harbour(), 'ent_berth', 'marks: list of object'))
    const code = take(marks.design, addedColumn(marks.design, 'ent_berth', 'code: text(10)', { within: marks.row }))
    const [own] = code.design.entities['ent_berth']?.attributes.filter(({ id }) => id === marks.row) ?? []
    expect(own).toMatchObject({ name: 'marks', fields: [{ name: 'code', type: { kind: 'text', length: 10 } }] })
    expect(addedColumn(code.design, 'ent_berth', 'code: int', { within: marks.row })).toMatchObject({
      error: 'marks has a field “code” already.'
    })
    expect(addedColumn(code.design, 'ent_berth', 'x: nonsense')).toMatchObject({
      error: expect.stringContaining('no type')
    })
    const link = take(code.design, addedColumn(code.design, 'ent_berth', 'seen by: Pilot'))
    expect(link.design.links[link.row]).toMatchObject({ role: 'seen by', parent: 'ent_pilot' })
  })

  it('is said again as it was typed, and changed by saying it otherwise', () => {
    const design = harbour()
    for (const entity of Object.values(design.entities))
      for (const row of rowsOf(design, entity).filter(({ id }) => !isNewRow(id))) {
        const text = rowText(design, entity.id, row.id)
        // An inner field's own words are its cells'; what a column says, typed again, changes nothing.
        expect([text, changedRow(design, entity.id, row.id, text)]).toEqual([text, { same: true }])
      }
    const made = take(design, addedColumn(design, 'ent_berth', 'fenders: int required', { before: '' }))
    expect(rowText(made.design, 'ent_berth', made.row)).toBe('fenders: integer required')
    const other = take(made.design, changedRow(made.design, 'ent_berth', made.row, 'bollards: small'))
    expect(rowText(other.design, 'ent_berth', other.row)).toBe('bollards: small')
    const link = take(other.design, changedRow(other.design, 'ent_berth', other.row, 'kept by: Pilot required'))
    expect(link.design.links[link.row]).toMatchObject({ role: 'kept by', parent: 'ent_pilot', parentRequired: true })
    const keyed = take(made.design, changedRow(made.design, 'ent_berth', made.row, 'fenders: integer key'))
    expect(keyed.design.entities['ent_berth']?.primaryKey).toContain(made.row)
    const [first = ''] = rowsOf(design, berthOf(design)).map(({ id }) => id)
    const before = take(design, addedColumn(design, 'ent_berth', 'zone: text(4)', { before: first }))
    const order = rowsOf(before.design, berthOf(before.design)).map(({ id }) => id)
    expect(order.slice(0, 2)).toEqual([before.row, first])
    expect(changedRow(design, 'ent_berth', first, ': integer')).toHaveProperty('error')
  })
})

describe('a link that is drawn', () => {
  const [vessel, berth] = ['ent_vessel', 'ent_berth']
  const drawn = (design: Design, kind: LinkKind, onto?: string) => {
    const done = drawnLink(design, vessel, berth, kind, onto)
    if ('error' in done) throw new Error(done.error)
    return { ...done, design: edit(design, done.edit) }
  }
  it('brings the key of the entity it is drawn from, and says so before', () => {
    const done = drawn(harbour(), 'one-to-many')
    expect(done.says).toBe('Berth gets vessel')
    expect(
      logical(done.design)
        .entity(berth)
        ?.foreignKeys.map(({ link }) => link.id)
    ).toContain(done.link)
    const part = drawn(harbour(), 'part of')
    expect(part.design.links[part.link ?? '']).toMatchObject({ identifying: true, parentRequired: true })
    expect(drawn(harbour(), 'many-to-many').says).toContain('a table between')
  })
  it('takes a column that it is let go on: as it is where it fits, else in its place', () => {
    const fits = take(harbour(), addedColumn(harbour(), berth, 'ship no: integer'))
    const as = drawn(fits.design, 'one-to-many', fits.row)
    expect(as.says).toBe('Berth.ship no is its column')
    expect(
      logical(as.design)
        .entity(berth)
        ?.foreignKeys.find(({ link }) => link.id === as.link)?.pairs
    ).toMatchObject([{ child: { path: fits.row } }])
    const other = take(harbour(), addedColumn(harbour(), berth, 'ship name: text(40)'))
    const instead = drawn(other.design, 'one-to-many', other.row)
    expect(instead.says).toBe('Berth gets ship name instead of ship name')
    expect(instead.design.links[instead.link ?? '']?.role).toBe('ship name')
    expect(instead.design.entities[berth]?.attributes.some(({ id }) => id === other.row)).toBe(false)
  })
  it('makes a subtype, and no circle of them', () => {
    const done = drawn(harbour(), 'kind of')
    expect(drawnLink(done.design, berth, vessel, 'kind of')).toEqual({ error: 'Vessel cannot be a kind of itself.' })
    expect(drawnLink(done.design, vessel, berth, 'kind of')).toHaveProperty('error')
  })
})
