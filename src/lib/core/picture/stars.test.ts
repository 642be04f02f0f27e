// Facts and dimensions: proposed with reasons, drawn with nothing over another, facts within reach of what they lead to.
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { starRoles } from '../infer'
import { picture, starPlaces } from '.'
import type { Diagram } from '../design'

const design = harbour()
const named = (id: string) => design.entities[id]?.name ?? ''

it('what measures and leads to several others is a fact, what it leads to a dimension, and what two share is conformed', () => {
  const roles = starRoles(design)
  const facts = roles.filter(({ as }) => as === 'fact').map(({ entity }) => named(entity))
  expect(facts).toEqual(expect.arrayContaining(['Cargo line', 'Invoice line']))
  // It has numbers, but is led to by more than it leads to; its number tells it from others.
  expect(facts).not.toContain('Vessel')
  const vessel = roles.find(({ entity }) => entity === 'ent_vessel')
  expect(vessel).toMatchObject({ as: 'dimension' })
  for (const { entity, as } of roles) {
    if (as === 'dimension') expect(Object.values(design.links).some(({ parent }) => parent === entity)).toBe(true)
    else
      expect(
        design.entities[entity]?.attributes.some(({ type }) => /small|integer|big|decimal|float|double/.test(type.kind))
      ).toBe(true)
  }
  expect(roles.find(({ entity }) => named(entity) === 'Cargo line')?.why).toContain('weight')
  const [first] = Object.values(design.diagrams)
  const stars = Object.fromEntries(roles.map(({ entity, as }) => [entity, as]))
  const drawn = picture(design, { ...(first as Diagram), stars })
  const tags = drawn.cards.flatMap(({ id, shapes }) =>
    shapes.flatMap((shape) =>
      shape.kind === 'text' && /fact|dimension/.test(shape.text) ? [[id, shape.text] as const] : []
    )
  )
  expect(tags).toHaveLength(roles.length)
  for (const { entity, as, conformed } of roles)
    expect(tags).toContainEqual([entity, as === 'fact' ? 'fact' : conformed ? 'shared dimension' : 'dimension'])
})

it('no card lies over another, whatever is linked with what', () => {
  const card = (i: number) =>
    fc
      .record({ width: fc.integer({ min: 90, max: 330 }), height: fc.integer({ min: 40, max: 400 }) })
      .map((size) => ({ id: `e${i}`, ...size }))
  const request = fc.integer({ min: 1, max: 24 }).chain((count) =>
    fc.record({
      cards: fc.tuple(...Array.from({ length: count }, (_, i) => card(i))),
      links: fc.array(
        fc.tuple(fc.nat(count - 1), fc.nat(count - 1)).map(([a, b]) => ({ from: `e${a}`, to: `e${b}` })),
        { maxLength: 40 }
      ),
      facts: fc.integer({ min: 0, max: 4 })
    })
  )
  fc.assert(
    fc.property(request, ({ cards, links, facts }) => {
      const isFact = (id: string) => Number(id.slice(1)) < facts
      const factsOf = (id: string) =>
        isFact(id) ? [] : [...new Set(links.flatMap(({ from, to }) => (to === id && isFact(from) ? [from] : [])))]
      const places = starPlaces({ cards, links, isFact, factsOf })
      const boxes = cards.map((one) => ({ ...one, ...(places[one.id] ?? { x: NaN, y: NaN }) }))
      for (const [i, a] of boxes.entries())
        for (const b of boxes.slice(i + 1))
          expect(a.x >= b.x + b.width || b.x >= a.x + a.width || a.y >= b.y + b.height || b.y >= a.y + a.height).toBe(
            true
          )
    })
  )
})
