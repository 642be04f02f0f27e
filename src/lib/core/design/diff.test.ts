// Differences and merges of designs, as laws over random edits of the demo.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { edits, type Make } from '../../../../tests/support/designs'
import { applyChanges, dangling, diff, edit, merge, newAttribute, printDesign, type Design } from '.'

const base = harbour()
const after = (makes: readonly Make[], start: Design = base) => makes.reduce((d, make) => edit(d, make(d)), start)
const cases = { numRuns: 150 }

describe('differences', () => {
  it('apply(diff(A, B), A) = B, and A has none from itself', () => {
    fc.assert(
      fc.property(edits, edits, (one, two) => {
        const [a, b] = [after(one), after(two)]
        expect(diff(a, a)).toEqual([])
        expect(printDesign(applyChanges(diff(a, b), a))).toBe(printDesign(b))
      }),
      cases
    )
  })

  it('are told field by field, into attributes by identity', () => {
    const next = edit(base, {
      kind: 'attribute.set',
      entity: 'ent_berth',
      id: 'att_berth_quay',
      set: { required: false }
    })
    expect(diff(base, next)).toEqual([
      {
        collection: 'entities',
        id: 'ent_berth',
        path: ['attributes', 'att_berth_quay', 'required'],
        before: true,
        after: false
      }
    ])
  })
})

describe('a merge', () => {
  it('of one side’s work with nothing is that side’s, and of equal work is that work', () => {
    fc.assert(
      fc.property(edits, (makes) => {
        const changed = after(makes)
        for (const [ours, theirs] of [
          [changed, base],
          [base, changed],
          [changed, changed]
        ] as const) {
          const merged = merge(base, ours, theirs)
          expect(merged.conflicts).toEqual([])
          expect(printDesign(merged.design)).toBe(printDesign(changed))
        }
      }),
      cases
    )
  })

  it('never leaves anything pointing nowhere, and without conflicts is the same from both sides', () => {
    fc.assert(
      fc.property(edits, edits, (one, two) => {
        const [ours, theirs] = [after(one), after(two)]
        const [mine, yours] = [merge(base, ours, theirs), merge(base, theirs, ours)]
        expect(dangling(mine.design)).toEqual([])
        expect(mine.conflicts.length === 0).toBe(yours.conflicts.length === 0)
      }),
      cases
    )
  })

  it('keeps all of both sides that is not in conflict', () => {
    fc.assert(
      fc.property(edits, edits, (one, two) => {
        const [ours, theirs] = [after(one), after(two)]
        const merged = merge(base, ours, theirs)
        const lost = diff(base, theirs).filter(
          (change) =>
            !merged.conflicts.some((c) => JSON.stringify(c.theirs) === JSON.stringify(change)) &&
            !['order', '(order)'].includes(change.path.at(-1) ?? '') &&
            diff(merged.design, theirs).some(
              (d) => JSON.stringify([d.id, d.path]) === JSON.stringify([change.id, change.path])
            )
        )
        expect(lost).toEqual([])
        // Nothing of ours is ever changed but by theirs.
        const mine = diff(base, ours).filter((change) => !['order', '(order)'].includes(change.path.at(-1) ?? ''))
        expect(
          diff(ours, merged.design).filter((d) =>
            mine.some((m) => JSON.stringify([m.id, m.path]) === JSON.stringify([d.id, d.path]))
          )
        ).toEqual([])
      }),
      cases
    )
  })

  it('takes an attribute that each of two people added, and loses nothing else for one thing that points nowhere', () => {
    const add = (design: Design, name: string) =>
      edit(design, { kind: 'attribute.add', entity: 'ent_berth', attribute: newAttribute(name, { id: `att_${name}` }) })
    const [ours, theirs] = [add(base, 'lamp'), add(edit(base, { kind: 'design.set', set: { name: 'Theirs' } }), 'bell')]
    const both = merge(base, ours, theirs)
    expect(both.conflicts).toEqual([])
    expect(both.design.entities['ent_berth']?.order.slice(-2).sort()).toEqual(['att_bell', 'att_lamp'])
    expect(both.design.name).toBe('Theirs')
    // We removed what they came to index; the rest of theirs is there.
    const gone = edit(base, { kind: 'attribute.remove', entity: 'ent_berth', id: 'att_berth_depth' })
    const index = { id: 'idx_new', unique: false, parts: [{ id: 'att_berth_depth', descending: false }] }
    const merged = merge(
      base,
      gone,
      edit(theirs, { kind: 'part.set', list: 'indexes', entity: 'ent_berth', part: index })
    )
    expect(dangling(merged.design)).toEqual([])
    expect(merged.conflicts).toHaveLength(1)
    expect(merged.design.name).toBe('Theirs')
    expect(merged.design.entities['ent_berth']?.attributes.map((a) => a.id)).toContain('att_bell')
    expect(merged.design.entities['ent_berth']?.attributes.map((a) => a.id)).not.toContain('att_berth_depth')
  })

  it('keeps both of two changes of one entity, and tells of two changes of one field', () => {
    const set = (id: string, values: object) =>
      edit(base, { kind: 'attribute.set', entity: 'ent_berth', id, set: values })
    const both = merge(base, set('att_berth_quay', { means: 'where' }), set('att_berth_depth', { means: 'how deep' }))
    expect(both.conflicts).toEqual([])
    expect(both.design.entities['ent_berth']?.attributes.map((a) => a.means)).toEqual([undefined, 'where', 'how deep'])
    const clash = merge(base, set('att_berth_quay', { means: 'where' }), set('att_berth_quay', { means: 'which' }))
    expect(clash.conflicts).toMatchObject([{ ours: { after: 'where' }, theirs: { after: 'which' } }])
    expect(clash.design.entities['ent_berth']?.attributes[1]?.means).toBe('where')
  })
})
