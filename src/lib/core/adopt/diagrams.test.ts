// Diagrams of a design that was brought in: told by schemas, links or keys, and the design stays whole.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { edits } from '../../../../tests/support/designs'
import { readDesign } from '../derive'
import { Draft, edit, newDesign, newEntity, newLink, printDesign, type Design } from '../design'
import { picture } from '../picture'
import { withDiagrams } from '.'

function harbour(): Design {
  const draft = new Draft(newDesign('Harbour'))
  const names = ['Visit', 'Pilotage', 'Mooring', 'Cargo', 'Tariff', 'Invoice', 'Payment', 'Notice']
  const [visit, pilotage, mooring, cargo, tariff, invoice, payment] = names.map((name) => {
    const entity = newEntity(name, { namespace: name < 'N' ? 'quay' : undefined })
    draft.put('entities', entity)
    return entity
  })
  for (const [parent, child] of [
    [visit, pilotage],
    [visit, mooring],
    [visit, cargo],
    [invoice, tariff],
    [invoice, payment]
  ] as const)
    if (parent && child) draft.put('links', newLink(draft.now, parent, child))
  return draft.done()
}
const told = (design: Design) =>
  Object.values(design.areas).map(({ id, name }) => [
    name,
    Object.values(design.entities).flatMap((entity) => (entity.area === id ? [entity.name] : []))
  ])

describe('diagrams', () => {
  it('are around what is most linked, and what is in none stays so', () => {
    const made = withDiagrams(harbour(), new Set(['links']))
    expect(told(made)).toEqual([
      ['Around Visit', ['Visit', 'Pilotage', 'Mooring', 'Cargo']],
      ['Around Invoice', ['Tariff', 'Invoice', 'Payment']]
    ])
    expect(Object.values(made.diagrams).flatMap(({ area }) => area ?? [])).toEqual(Object.keys(made.areas))
    expect(told(withDiagrams(harbour(), new Set(['schema'])))).toEqual([['quay', ['Mooring', 'Cargo', 'Invoice']]])
  })

  it('are of several sorts at once: an entity is in one area, and on as many diagrams as show it', () => {
    const made = withDiagrams(harbour(), new Set(['keys', 'links', 'schema']))
    const drawn = Object.values(made.diagrams).map((diagram) => [
      diagram.name,
      picture(made, diagram).cards.map(({ title, rows }) => `${title} ${rows.length}`)
    ])
    const keys = ['Visit 1', 'Pilotage 2', 'Mooring 2', 'Cargo 2', 'Tariff 2', 'Invoice 1', 'Payment 2', 'Notice 1']
    expect(drawn).toEqual([
      ['Everything', keys],
      ['quay', ['Mooring 2', 'Cargo 2', 'Invoice 1']],
      ['Around Visit', ['Visit 1', 'Pilotage 2', 'Mooring 2', 'Cargo 2']],
      ['Around Invoice', ['Tariff 2', 'Invoice 1', 'Payment 2']],
      ['Keys', keys]
    ])
    const [, , around] = Object.values(made.diagrams)
    const [visit] = Object.values(made.entities)
    const without = edit(made, { kind: 'object.remove', collection: 'entities', id: visit?.id ?? '' })
    expect(without.diagrams[around?.id ?? '']?.only).not.toContain(visit?.id)
  })

  it('leave a design whole, whatever it is', () => {
    fc.assert(
      fc.property(edits, fc.subarray(['schema', 'links', 'keys'] as const), (makes, sorts) => {
        const design = makes.reduce((now, make) => edit(now, make(now)), harbour())
        const made = withDiagrams(design, new Set(sorts))
        const read = readDesign(printDesign(made))
        expect(read.ok).toBe(true)
        expect(Object.keys(made.entities)).toEqual(Object.keys(design.entities))
      }),
      { numRuns: 60 }
    )
  })
})
