// Changes of a design in words.
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { edits } from '../../../../tests/support/designs'
import { diff, edit, newAttribute, told, type Edit } from '.'

const base = harbour()
const said = (...list: Edit[]) =>
  told(base, edit(base, { kind: 'all', edits: list })).map(({ kind, name, how, parts }) =>
    [`${how} ${kind} ${name}`, ...parts].join('; ')
  )

it('are said by name, object by object', () => {
  expect(
    said(
      { kind: 'attribute.set', entity: 'ent_berth', id: 'att_berth_quay', set: { name: 'pier', required: false } },
      { kind: 'attribute.set', entity: 'ent_berth', id: 'att_berth_depth', set: { type: { kind: 'double' } } },
      { kind: 'attribute.add', entity: 'ent_berth', attribute: newAttribute('length', { id: 'att_new' }) },
      { kind: 'part.set', list: 'uniques', entity: 'ent_berth', part: { id: 'key_new', parts: ['att_berth_depth'] } },
      { kind: 'entity.set', id: 'ent_tug', set: { name: 'Towing vessel' } },
      { kind: 'link.set', id: 'lnk_visit_berth', set: { parentRequired: true } },
      { kind: 'object.remove', collection: 'domains', id: 'dom_level' },
      { kind: 'diagram.place', id: 'dia_all', places: { ent_tug: { x: 7, y: 7 }, ent_barge: { x: 9, y: 9 } } }
    )
  ).toEqual([
    'changed diagram Whole harbour; 2 moved',
    'gone domain Level',
    'changed entity Berth; column quay is called pier; column pier: required is no, before yes; ' +
      'column depth: type is double, before decimal(4,1); new: column length; new: unique columns depth',
    'changed entity Tide gauge; column datum: domain is no longer Level',
    'changed entity Tide reading; column height: domain is no longer Level',
    'changed entity Towing vessel; name is Towing vessel, before Tug',
    'changed link Visit to Berth; required is yes, before no'
  ])
})

it('leave out no object that is otherwise, and say nothing of two states that are alike', () => {
  fc.assert(
    fc.property(edits, (makes) => {
      const after = makes.reduce((design, make) => edit(design, make(design)), base)
      expect(told(after, after)).toEqual([])
      const ids = (list: readonly { readonly id: string }[]) => [...new Set(list.map(({ id }) => id))].sort()
      expect(ids(told(base, after))).toEqual(ids(diff(base, after)))
    }),
    { numRuns: 60 }
  )
})
