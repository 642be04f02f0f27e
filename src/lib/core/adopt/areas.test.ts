// Areas of a design that was brought in: whole, one for each entity at most, and told by schemas or links.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { edits } from '../../../../tests/support/designs'
import { readDesign } from '../derive'
import { Draft, edit, newDesign, newEntity, newLink, printDesign, type Design } from '../design'
import { withAreas } from '.'

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

describe('areas', () => {
  it('are around what is most linked, and what is in none stays so', () => {
    const made = withAreas(harbour(), 'links')
    expect(told(made)).toEqual([
      ['Around Visit', ['Visit', 'Pilotage', 'Mooring', 'Cargo']],
      ['Around Invoice', ['Tariff', 'Invoice', 'Payment']]
    ])
    expect(Object.values(made.diagrams).flatMap(({ area }) => area ?? [])).toEqual(Object.keys(made.areas))
    expect(told(withAreas(harbour(), 'schema'))).toEqual([['quay', ['Mooring', 'Cargo', 'Invoice']]])
  })

  it('leave a design whole, whatever it is', () => {
    fc.assert(
      fc.property(edits, fc.constantFrom('schema' as const, 'links' as const), (makes, by) => {
        const design = makes.reduce((now, make) => edit(now, make(now)), harbour())
        const made = withAreas(design, by)
        const read = readDesign(printDesign(made))
        expect(read.ok).toBe(true)
        expect(Object.keys(made.entities)).toEqual(Object.keys(design.entities))
      }),
      { numRuns: 60 }
    )
  })
})
