// What a diagram says of its own look, and the three levels: nothing is lost, nothing reaches beyond its card.
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { derive } from '../derive'
import { edit, newTarget, type Diagram, type Note } from '../design'
import { dialect, ENGINES } from '../dialects'
import { picture } from '.'
import { drawing } from './drawing'
import { textWidth } from './text'

const design = harbour()
const [first] = Object.values(design.diagrams)
if (!first) throw new Error('the demo has a diagram')
const whole: Diagram = first
const cardIn = (diagram: Diagram, title: string) => {
  const card = picture(design, diagram).cards.find((one) => one.title === title)
  if (!card) throw new Error(title)
  return card
}

describe('the look of a diagram', () => {
  it('hides types, database names and what must be filled, and shows defaults and meanings', () => {
    const bare = cardIn({ ...whole, shows: [] }, 'Vessel')
    expect(bare.dbName).toBe('')
    for (const { name, type } of bare.rows) expect([name.endsWith('?'), type]).toEqual([false, ''])
    const said = cardIn({ ...whole, shows: ['defaults', 'meanings'], widths: { [bare.id]: 900 } }, 'Vessel')
    const own = design.entities[bare.id]?.attributes.filter(
      (one) => one.default !== undefined || one.means !== undefined
    )
    expect(own?.length).toBeGreaterThan(0)
    for (const { id, default: value, means } of own ?? []) {
      const row = said.rows.find((one) => one.row === id)
      if (value !== undefined) expect(row?.type).toContain(`= ${value}`)
      if (means !== undefined) expect(row?.type).toContain(means)
    }
    expect(said.width).toBe(900)
  })

  it('wraps names into lines that say all of them and fit', () => {
    const narrow = Object.fromEntries(Object.keys(design.entities).map((id) => [id, 96]))
    const drawn = picture(design, { ...whole, wrapped: true, widths: narrow })
    let wrapped = 0
    for (const card of drawn.cards.filter(({ view }) => !view)) {
      const full = picture(design, { ...whole, widths: { [card.id]: 2000 } }).cards.find(({ id }) => id === card.id)
      const lines = new Map<string, string[]>()
      for (const { id, name, x, continued } of card.rows) {
        expect(x + textWidth(name, 'sans', 13)).toBeLessThanOrEqual(Math.max(96, x + 20) + 1)
        lines.set(id, [...(lines.get(id) ?? []), name])
        if (continued) wrapped++
      }
      for (const { id, name } of full?.rows ?? [])
        expect(lines.get(id)?.join('').replaceAll(' ', '')).toBe(name.replaceAll(' ', ''))
    }
    expect(wrapped).toBeGreaterThan(0)
  })

  it('folds fields, hides and greys', () => {
    const holder = Object.values(design.entities).flatMap(({ id, attributes }) =>
      attributes.filter(({ fields }) => fields?.length).map((attribute) => ({ entity: id, attribute }))
    )[0]
    if (holder) {
      const rows = (folded: string[]) =>
        picture(design, { ...whole, folded }).cards.find(({ id }) => id === holder.entity)?.rows.length ?? 0
      expect(rows([holder.attribute.id])).toBeLessThan(rows([]))
    }
    const plain = picture(design, whole)
    const [one = '', other = ''] = plain.cards.map(({ id }) => id)
    const dimmed = picture(design, { ...whole, hidden: [one], grey: [other] })
    expect(dimmed.cards.map(({ id }) => id)).toEqual(plain.cards.map(({ id }) => id).filter((id) => id !== one))
    const grey = dimmed.cards.find(({ id }) => id === other)
    const inks = [...(grey?.ground ?? []), ...(grey?.shapes ?? [])].flatMap((shape) =>
      shape.kind === 'text' ? [shape.ink] : [shape.fill, shape.stroke]
    )
    expect(inks).not.toContain('ink')
    expect(inks).not.toContain('edge')
  })
})

describe('a level', () => {
  it('that is conceptual has names and links alone, and no bridge between many and many', () => {
    const drawn = picture(design, { ...whole, level: 'conceptual' })
    for (const { rows, dbName } of drawn.cards.filter(({ view }) => !view))
      expect([rows.length, dbName]).toEqual([0, ''])
    const many = Object.values(design.links).filter(({ kind }) => kind === 'many-to-many')
    expect(many.length).toBeGreaterThan(0)
    for (const { id } of many) expect(drawn.routes.some((route) => route.id === id)).toBe(true)
  })

  // Against what the engine's own script makes, as its grammar here reads it.
  it.each(ENGINES.flatMap(({ id }) => dialect(id) ?? []).map((engine) => [engine.profile.label, engine] as const))(
    'that is physical has the tables of a target of %s, with their keys and lines',
    (_, engine) => {
      const target = newTarget('t', { engine: engine.profile.id, version: engine.profile.versions.at(-1) ?? '' })
      const { catalog } = derive(design, target, engine)
      const drawn = picture(design, { ...whole, level: 'physical' }, { catalog })
      const tables = drawn.cards.filter(({ view }) => !view)
      expect(tables.map(({ title }) => title).sort()).toEqual(catalog.tables.map(({ name }) => name).sort())
      for (const table of catalog.tables) {
        const card = tables.find(({ title }) => title === table.name)
        expect(card?.rows.filter(({ key }) => key)).toHaveLength(table.primaryKey?.columns.length ?? 0)
        expect(card?.rows).toHaveLength(table.columns.length)
      }
      const keys = catalog.tables.flatMap(({ foreignKeys }) => foreignKeys)
      const lines = drawn.routes.filter(({ read }) => !read)
      if (keys.length > 0) expect(lines).toHaveLength(keys.length)
      expect(new Set(drawn.routes.map(({ id }) => id)).size).toBe(drawn.routes.length)
      // What came of an entity stands where that stands.
      for (const { id, x, y } of tables) if (whole.places[id]) expect({ x, y }).toEqual(whole.places[id])
    }
  )
})

describe('notes and frames', () => {
  const note: Note = {
    id: 'not_a',
    kind: 'note',
    text: 'Closed at midnight.',
    x: -400,
    y: 60,
    width: 190,
    height: 70,
    tint: 2
  }
  const frame: Note = {
    id: 'not_b',
    kind: 'frame',
    text: 'Money',
    x: 0,
    y: 0,
    width: 300,
    height: 200,
    tint: 1,
    leadsTo: whole.id
  }
  const [about = ''] = Object.keys(design.entities)
  const with_ = edit(design, {
    kind: 'object.set',
    collection: 'diagrams',
    object: { ...whole, notes: [{ ...note, about }, frame] }
  })
  const drawn = picture(with_, with_.diagrams[whole.id] ?? whole)
  const textsOf = (pieces: ReturnType<typeof drawing>) =>
    pieces.flatMap(({ shapes }) => shapes.flatMap((shape) => (shape.kind === 'text' ? [shape.text] : [])))

  it('are drawn with their words, frames behind cards and notes before them, and are within the picture', () => {
    const pieces = drawing(drawn)
    const words = textsOf(pieces)
    expect(words.slice(-1)).toEqual(['Closed at midnight.'])
    expect(words.indexOf('Money')).toBeLessThan(words.indexOf('Vessel'))
    expect(words).toContain(`to ${whole.name}`)
    expect(drawn.box.x).toBeLessThanOrEqual(note.x)
    expect(drawn.notes[0]?.lead).toHaveLength(1)
  })

  it('about what is not on the diagram any more are notes all the same', () => {
    const less = picture(with_, { ...(with_.diagrams[whole.id] ?? whole), hidden: [about] })
    expect(less.notes[0]?.lead).toEqual([])
    expect(textsOf(drawing(less))).toContain('Closed at midnight.')
  })
})
