// Cards and routes as numbers.
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { picture } from '.'
import { clip, textWidth } from './text'

const design = harbour()
const all = design.diagrams['dia_all']
if (!all) throw new Error('the demo has a diagram')
const drawn = picture(design, all)

describe('a diagram', () => {
  it('has a card for each entity, none over another, its texts within its edges', () => {
    expect(drawn.cards).toHaveLength(Object.keys(design.entities).length)
    for (const a of drawn.cards) {
      for (const row of a.rows)
        expect(row.typeX + textWidth(row.type, 'mono', 11.5), `${a.title} ${row.name}`).toBeLessThanOrEqual(a.width)
      for (const b of drawn.cards)
        if (a !== b)
          expect(
            a.x >= b.x + b.width || b.x >= a.x + a.width || a.y >= b.y + b.height || b.y >= a.y + a.height,
            `${a.title} over ${b.title}`
          ).toBe(true)
    }
  })

  it('has a route for each link and subtype, from edge to edge, no two from one point', () => {
    expect(drawn.routes).toHaveLength(Object.keys(design.links).length + 2)
    const boxes = new Map(drawn.cards.map((c) => [c.id, c]))
    const ends = new Set<string>()
    for (const route of drawn.routes) {
      const [parent, child] = design.links[route.id]
        ? [design.links[route.id]?.parent, design.links[route.id]?.child]
        : ['ent_vessel', route.id.split(' ')[1]]
      for (const [end, card] of [
        ...(design.links[route.id] ? [[route.points[0], parent] as const] : []),
        [route.points.at(-1), child]
      ] as const) {
        const box = boxes.get(card ?? '')
        if (!box || !end) throw new Error(route.id)
        const [x, y] = end
        const onEdge = x === box.x || x === box.x + box.width || y === box.y || y === box.y + box.height
        expect(onEdge && x >= box.x && x <= box.x + box.width && y >= box.y && y <= box.y + box.height, route.id).toBe(
          true
        )
        expect(ends.has(String(end)), `${route.id} at ${String(end)}`).toBe(false)
        ends.add(String(end))
      }
    }
  })

  it('draws a line solid just where the link identifies', () => {
    for (const route of drawn.routes)
      expect(route.lines[0]?.dash !== undefined, route.id).toBe(
        design.links[route.id] ? !design.links[route.id]?.identifying : false
      )
  })

  it('shortens what is too wide, and says so', () => {
    expect(clip('length', 'sans', 13, 200)).toBe('length')
    const cut = clip('a very long name indeed', 'sans', 13, 60)
    expect(cut.endsWith('…')).toBe(true)
    expect(textWidth(cut, 'sans', 13)).toBeLessThanOrEqual(60)
  })
})
