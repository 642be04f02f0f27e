// Cards that are set in line have one edge in common; those that are spaced have the same room between them.
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { aligned, ALIGNMENTS, spaced } from './spacing'

const boxes = fc
  .array(
    fc.record({
      x: fc.integer({ min: -900, max: 900 }),
      y: fc.integer({ min: -900, max: 900 }),
      width: fc.integer({ min: 20, max: 300 }).map((n) => n * 2),
      height: fc.integer({ min: 20, max: 300 }).map((n) => n * 2)
    }),
    { minLength: 3, maxLength: 9 }
  )
  .map((list) => list.map((box, i) => ({ ...box, id: `e${i}` })))

it.each(ALIGNMENTS)('all stand at one %s, none further out than before', (how) => {
  fc.assert(
    fc.property(boxes, (list) => {
      const places = aligned(list, how)
      const edges = list.map(({ id, width, height }) => {
        const { x = NaN, y = NaN } = places[id] ?? {}
        return { left: x, centre: x + width / 2, right: x + width, top: y, middle: y + height / 2, bottom: y + height }
      })
      const at = edges.map((edge) => edge[how])
      // Places are whole pixels.
      expect(Math.max(...at) - Math.min(...at)).toBeLessThanOrEqual(1)
      const flat = how === 'left' || how === 'centre' || how === 'right'
      const low = Math.min(...list.map((box) => (flat ? box.x : box.y)))
      expect(Math.min(...edges.map((edge) => (flat ? edge.left : edge.top)))).toBeGreaterThanOrEqual(low)
      for (const { id, x, y } of list) expect(flat ? places[id]?.y : places[id]?.x).toBe(flat ? y : x)
    })
  )
})

it.each(['across', 'down'] as const)('rooms %s are equal, and nothing lies over another', (way) => {
  fc.assert(
    fc.property(boxes, (list) => {
      const places = spaced(list, way)
      const ends = list
        .map((box) => {
          const at = places[box.id]?.[way === 'across' ? 'x' : 'y'] ?? NaN
          return [at, at + (way === 'across' ? box.width : box.height)] as const
        })
        .sort(([a], [b]) => a - b)
      const rooms = ends.slice(1).map(([start], i) => start - (ends[i]?.[1] ?? NaN))
      expect(Math.min(...rooms)).toBeGreaterThan(0)
      expect(Math.max(...rooms) - Math.min(...rooms)).toBeLessThanOrEqual(1)
    })
  )
})
