// What was copied of a design and put into another means the same there; put in once more, it stands beside itself.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { derive } from '../derive'
import { dangling, edit, newDesign, newTarget, parseDesign, printDesign, type Design } from '../design'
import { dialect } from '../dialects'
import { fragment, pasted } from './fragment'

const demo = harbour()
const everything = Object.keys({ ...demo.entities, ...demo.views })
const places = Object.values(demo.diagrams)[0]?.places ?? {}
const empty = (): Design => ({ ...newDesign('Other'), settings: demo.settings })
const into = (design: Design, ids: readonly string[]) => {
  const diagram = Object.keys(design.diagrams)[0] ?? ''
  const read = pasted(design, fragment(demo, new Set(ids), places), diagram, { x: 10, y: 20 })
  if (!read.ok) throw new Error(read.notices[0]?.message)
  return { design: edit(design, read.value.edit), places: read.value.places }
}

/** Tables with all that they have, by no ids. */
const tables = (design: Design) => {
  const engine = dialect('postgres')
  if (!engine) throw new Error('PostgreSQL is known')
  const { catalog } = derive(design, newTarget('t'), engine)
  const byName = (a: { name?: string }, b: { name?: string }) => ((a.name ?? '') < (b.name ?? '') ? -1 : 1)
  // Foreign keys stand in the order that links were made in, which is nothing to a database.
  const bare = JSON.stringify(catalog.tables, (key, value: unknown) =>
    key === 'origin' ? undefined : key === 'foreignKeys' ? [...(value as { name?: string }[])].sort(byName) : value
  )
  return (JSON.parse(bare) as { name: string }[]).sort(byName)
}

describe('a fragment', () => {
  it('of a whole design makes the same tables in an empty one', () => {
    const { design } = into({ ...empty(), commons: demo.commons }, everything)
    expect(tables(design)).toEqual(tables(demo))
  })

  it('of any part stands by itself, under ids of its own, where it stood', () => {
    fc.assert(
      fc.property(fc.subarray(everything, { minLength: 1 }), fc.boolean(), (ids, again) => {
        const { design, places: standing } = into(again ? demo : empty(), ids)
        expect(dangling(design)).toEqual([])
        expect(parseDesign(printDesign(design)).ok).toBe(true)
        expect(Object.keys(standing)).toHaveLength(ids.length)
        for (const id of Object.keys(standing)) expect(demo.entities[id] ?? demo.views[id]).toBeUndefined()
        expect(Math.min(...Object.values(standing).map(({ x }) => x))).toBe(10)
        const names = Object.values(design.entities).map(({ name }) => name.toLowerCase())
        expect(new Set(names).size).toBe(names.length)
        if (again) for (const id of Object.keys(demo.entities)) expect(design.entities[id]).toEqual(demo.entities[id])
      }),
      { numRuns: 30 }
    )
  })

  it('that is none is refused', () => {
    expect(pasted(demo, 'vessel\tberth', 'x', { x: 0, y: 0 }).ok).toBe(false)
  })
})
