// Layouts of linked cards, from a handful to hundreds.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { arrange } from './arrange'
import type { LayoutRequest, Places } from './layout'

const requests = (least: number, most: number) =>
  fc
    .record({
      cards: fc.array(
        fc.record({
          width: fc.integer({ min: 150, max: 330 }),
          height: fc.integer({ min: 60, max: 500 }),
          area: fc.nat(5)
        }),
        { minLength: least, maxLength: most, size: 'max' }
      ),
      links: fc.array(fc.tuple(fc.nat(), fc.nat()), { maxLength: most * 2, size: 'max' }),
      areas: fc.boolean(),
      shape: fc.constantFrom(0.8, 1.5, 2)
    })
    .map(({ cards, links, areas, shape }): LayoutRequest => ({
      cards: cards.map(({ area, ...size }, i) => ({
        id: `e${i}`,
        ...size,
        ...(areas && area > 0 ? { area: `a${area}` } : {})
      })),
      // Most things are linked with what was there shortly before them.
      links: links.map(([from, by]) => ({
        from: `e${from % cards.length}`,
        to: `e${(from + 1 + (by % 5)) % cards.length}`
      })),
      room: 0,
      shape
    }))

const boxesOf = ({ cards }: LayoutRequest, places: Places) =>
  cards.map((card) => {
    const place = places[card.id]
    if (!place) throw new Error(`${card.id} has no place`)
    return { ...card, ...place }
  })

describe('a layout', () => {
  it('gives each card a place, none over another, alike each time, and keeps areas apart', () => {
    fc.assert(
      fc.property(requests(1, 60), (request) => {
        const boxes = boxesOf(request, arrange(request))
        expect(arrange(request)).toEqual(arrange(request))
        for (const [i, a] of boxes.entries())
          for (const b of boxes.slice(i + 1)) {
            const apart = a.x >= b.x + b.width || b.x >= a.x + a.width || a.y >= b.y + b.height || b.y >= a.y + a.height
            expect(apart, `${a.id} over ${b.id}`).toBe(true)
          }
        const grounds = [...new Set(boxes.flatMap(({ area }) => area ?? []))].map((area) => {
          const own = boxes.filter((box) => box.area === area)
          return {
            left: Math.min(...own.map(({ x }) => x)),
            top: Math.min(...own.map(({ y }) => y)),
            right: Math.max(...own.map(({ x, width }) => x + width)),
            bottom: Math.max(...own.map(({ y, height }) => y + height)),
            few: own.length <= 40
          }
        })
        for (const [i, a] of grounds.entries())
          for (const b of grounds.slice(i + 1))
            if (a.few && b.few)
              expect(a.left >= b.right || b.left >= a.right || a.top >= b.bottom || b.top >= a.bottom).toBe(true)
      }),
      { numRuns: 60 }
    )
  })

  it('of many cards has about the shape that is asked for', () => {
    fc.assert(
      fc.property(requests(120, 300), (request) => {
        const boxes = boxesOf(request, arrange(request))
        const width = Math.max(...boxes.map(({ x, width }) => x + width))
        const height = Math.max(...boxes.map(({ y, height }) => y + height))
        expect(width / height).toBeGreaterThan(request.shape / 2.5)
        expect(width / height).toBeLessThan(request.shape * 2.5)
      }),
      { numRuns: 12 }
    )
  })
})
