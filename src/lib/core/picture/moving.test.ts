// What is on its way, and the lines at it, are as they will be once it is let go.
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { NOTATIONS, picture, withMoved } from '.'

const design = harbour()
const [diagram] = Object.values(design.diagrams)
if (!diagram) throw new Error('the demo has a diagram')
const ids = Object.keys({ ...design.entities, ...design.views })
const place = fc.record({ x: fc.integer({ min: -900, max: 2500 }), y: fc.integer({ min: -900, max: 2500 }) })

it.each(NOTATIONS.map(({ id, label }) => ({ id, label })))('in $label', ({ id }) => {
  const own = { ...diagram, ...(id === 'crows foot' ? {} : { notation: id }) }
  const base = picture(design, own)
  fc.assert(
    fc.property(
      fc.subarray(ids, { minLength: 1, maxLength: 4 }),
      fc.array(place, { minLength: 4, maxLength: 4 }),
      (chosen, places) => {
        const moved = Object.fromEntries(chosen.map((one, i) => [one, places[i] ?? { x: 0, y: 0 }]))
        const whole = picture(design, own, { moved })
        const now = withMoved(base, design, own, { moved })
        expect(now.cards).toEqual(whole.cards)
        expect(now.areas).toEqual(whole.areas)
        const isAt = ({ parent, child }: { parent: string; child: string }) =>
          chosen.includes(parent) || chosen.includes(child)
        const lines = (drawn: typeof now) =>
          drawn.routes.filter(isAt).map(({ id: route, points, marks }) => ({ route, points, marks }))
        // Symbols on lines stand where there is room, which others take, too.
        const bare = (drawn: typeof now) =>
          drawn.notation.symbol ? lines(drawn).map(({ route, points }) => ({ route, points })) : lines(drawn)
        expect(bare(now)).toEqual(bare(whole))
        expect(now.routes.length).toBe(whole.routes.length)
      }
    ),
    { numRuns: 40 }
  )
})
