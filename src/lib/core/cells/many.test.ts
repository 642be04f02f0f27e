// Many rows of the sheet at once, on the demo design and on random choices of its rows.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { branches, dangling, edit, rowIds, type Design } from '../design'
import { printType } from '../types'
import {
  cellText,
  COLUMNS,
  commitMany,
  copied,
  dropRows,
  fieldsOf,
  moveRows,
  NEW_ROW,
  paste,
  removeRows,
  rowsOf
} from '.'
import type { ColumnName, RowPlace } from '.'

const design = harbour()
const all = Object.values(design.entities).flatMap((entity) =>
  rowsOf(design, entity).flatMap(({ id }): RowPlace[] => (id === NEW_ROW ? [] : [{ entity: entity.id, row: id }]))
)
const some = fc.subarray(all, { minLength: 1 })
const texts = fc.constantFrom(
  'varchar(12)',
  'int',
  'required',
  'may be empty',
  'unique',
  'min 1',
  'key',
  '',
  'now',
  'x'
)
const cell = (now: Design, { entity, row }: RowPlace, column: ColumnName) => {
  const there = now.entities[entity]
  const found = there && rowsOf(now, there).find(({ id }) => id === row)
  return there && found ? cellText(now, there, found, column) : undefined
}
const orders = (now: Design) => Object.values(now.entities).map((entity) => rowIds(now, entity).join())

describe('rows chosen together', () => {
  it('take what each of them would take alone, say the rest, and leave other rows as they are', () => {
    fc.assert(
      fc.property(some, fc.constantFrom(...COLUMNS), texts, (places, column, text) => {
        const { edit: e, rows, refused } = commitMany(design, places, column, text)
        const after = edit(design, e)
        expect(dangling(after)).toEqual([])
        expect(rows).toHaveLength(places.length)
        expect(refused.length).toBeLessThanOrEqual(places.length)
        const chosen = new Set(places.map(({ row }) => row))
        // The key of one entity reaches the links to it; no other cell of another row changes.
        for (const place of all.filter(({ row }) => !chosen.has(row)))
          for (const name of COLUMNS) expect(cell(after, place, name)).toBe(cell(design, place, name))
      }),
      { numRuns: 60 }
    )
  })

  it('move together, in their order, and back', () => {
    fc.assert(
      fc.property(some, fc.constantFrom(1 as const, -1 as const), (places, by) => {
        const moved = edit(design, moveRows(design, places, by))
        const again = edit(moved, moveRows(moved, places, by))
        for (const entity of Object.values(design.entities)) {
          const own = new Set(places.flatMap((p) => (p.entity === entity.id ? [p.row] : [])))
          const order = (now: Design) =>
            rowIds(now, entity.id in now.entities ? (now.entities[entity.id] ?? entity) : entity)
          for (const state of [moved, again]) {
            expect([...order(state)].sort()).toEqual([...order(design)].sort())
            const kept = (now: Design, isOwn: boolean) => order(now).filter((id) => own.has(id) === isOwn)
            expect(kept(state, true)).toEqual(kept(design, true))
            expect(kept(state, false)).toEqual(kept(design, false))
          }
        }
      }),
      { numRuns: 60 }
    )
  })

  it('are dropped before a row of their entity, or at its end', () => {
    const visit = all.filter(({ entity }) => entity === 'ent_visit').map(({ row }) => row)
    const [first = '', second = '', third = ''] = visit
    const dropped = edit(design, dropRows(design, 'ent_visit', new Set([second, first]), NEW_ROW))
    const many = new Set(visit.slice(rowIds(design, design.entities['ent_visit'] as never).length))
    const rest = visit.filter((id) => id !== first && id !== second && !many.has(id))
    expect(rowIds(dropped, dropped.entities['ent_visit'] as never)).toEqual([...rest, first, second])
    const back = edit(dropped, dropRows(dropped, 'ent_visit', new Set([first, second]), third))
    expect(orders(back)).toEqual(orders(design))
  })

  it('are gone with nothing left that points at them', () => {
    fc.assert(
      fc.property(some, (places) => {
        const after = edit(design, removeRows(design, places))
        expect(dangling(after)).toEqual([])
        for (const place of places) expect(cell(after, place, 'name')).toBeUndefined()
      }),
      { numRuns: 40 }
    )
  })

  it('are copied as rows that a spreadsheet takes, and come back as rows of another entity', () => {
    const vessel = all.filter(({ entity, row }) => entity === 'ent_vessel' && !design.links[row])
    const own = new Set(design.entities['ent_pilot']?.attributes.map(({ name }) => name.toLowerCase()))
    const columns = vessel.filter((place) => !own.has(cell(design, place, 'name')?.toLowerCase() ?? ''))
    const { edits, refused } = paste(
      design,
      { entity: 'ent_pilot', row: NEW_ROW, column: 'name' },
      fieldsOf(copied(design, columns)) ?? []
    )
    expect(refused).toEqual([])
    const after = edit(design, { kind: 'all', edits })
    const fresh = after.entities['ent_pilot']?.attributes.slice(-columns.length) ?? []
    expect(columns.length).toBeGreaterThan(3)
    columns.forEach((place, i) => {
      for (const column of COLUMNS.slice(1))
        expect(cell(after, { entity: 'ent_pilot', row: fresh[i]?.id ?? '' }, column)).toBe(cell(design, place, column))
    })
  })

  it('are copied with their fields, which stand further in, and come back as such', () => {
    const text = [
      '  marks\tlist of object',
      '    code\ttext(5)\trequired',
      '    seen\tobject',
      '      at\ttimestamp',
      '      by\ttext(40)\t\t\t\twho saw it',
      '    lit\tboolean',
      '  bell\ttext(9)',
      '    rung\tdate'
    ].join('\n')
    const into = (entity: string, from: Design, copy: string) => {
      const { edits, refused } = paste(from, { entity, row: NEW_ROW, column: 'name' }, fieldsOf(copy) ?? [])
      expect(refused).toEqual([])
      return edit(from, { kind: 'all', edits })
    }
    const outline = (of: Design, entity: string) =>
      branches(of.entities[entity] ?? { attributes: [] })
        .slice(-8)
        .map(({ attribute: { name, type, required, means }, depth }) => [depth, name, printType(type), required, means])
    const pasted = into('ent_berth', design, text)
    expect(outline(pasted, 'ent_berth').map(([depth, name]) => [depth, name])).toEqual([
      [0, 'marks'],
      [1, 'code'],
      [1, 'seen'],
      [2, 'at'],
      [2, 'by'],
      [1, 'lit'],
      // What holds no fields has a column beside it.
      [0, 'bell'],
      [0, 'rung']
    ])
    const rows = branches(pasted.entities['ent_berth'] ?? { attributes: [] }).slice(-8)
    const copy = copied(
      pasted,
      rows.map(({ attribute }) => ({ entity: 'ent_berth', row: attribute.id }))
    )
    expect(outline(into('ent_pilot', pasted, copy), 'ent_pilot')).toEqual(outline(pasted, 'ent_berth'))
    // Of fields alone, the first is where the others are counted from.
    const seen = rows.slice(3, 5).map(({ attribute }) => ({ entity: 'ent_berth', row: attribute.id }))
    expect(copied(pasted, seen)).toMatch(/^at\t.*\nby\t/)
  })
})

it('a column that is counted up is the key of its entity, under its name', () => {
  const entity = { ...(design.entities['ent_pilot'] as never as { primaryKey: string[] }), primaryKey: [] }
  const bare = edit(design, { kind: 'entity.set', id: 'ent_pilot', set: { primaryKey: entity.primaryKey } })
  const row = bare.entities['ent_pilot']?.attributes[0]?.id ?? ''
  const { edit: e, said } = commitMany(bare, [{ entity: 'ent_pilot', row }], 'type', 'bigserial')
  expect(said).toContain('numbered by the engine')
  const after = edit(bare, e)
  expect(after.entities['ent_pilot']?.identifier).toEqual({
    name: bare.entities['ent_pilot']?.attributes[0]?.name,
    kind: 'big'
  })
  expect(after.entities['ent_pilot']?.attributes.some((a) => a.id === row)).toBe(false)
})
