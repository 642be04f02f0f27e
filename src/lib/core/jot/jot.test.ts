// A design as a text and back: nothing is lost, nothing is another object, and a mistake costs its line alone.
import { readFileSync } from 'node:fs'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { edits } from '../../../../tests/support/designs'
import { allAttributes, dangling, diff, edit, newDesign, type Design } from '../design'
import { followJot, printJot, readAgain, readJot } from '.'

const after = (makes: readonly ((design: Design) => Parameters<typeof edit>[1])[]) =>
  makes.reduce((design, make) => edit(design, make(design)), harbour())
/** A text calls each thing by its name: no two of one place may have one. */
function isSayable(design: Design): boolean {
  const once = (names: readonly string[]) => new Set(names.map((name) => name.toLowerCase())).size === names.length
  const objects = [...Object.values(design.entities), ...Object.values(design.domains)]
  return (
    once(objects.map(({ name }) => name)) &&
    once(Object.values(design.areas).map(({ name }) => name)) &&
    Object.values(design.links).every(({ kind, identifying }) => kind !== 'many-to-many' || !identifying) &&
    Object.values(design.entities).every((one) =>
      once([
        ...one.attributes.map(({ name }) => name),
        ...Object.values(design.links)
          .filter(({ child }) => child === one.id)
          .map(({ role, parent }) => role ?? design.entities[parent]?.name ?? ''),
        ...Object.values(design.commons).map(({ name }) => name)
      ])
    ) &&
    once([...Object.values(design.entities), ...Object.values(design.views)].map(({ name }) => name)) &&
    Object.values(design.entities)
      .flatMap(allAttributes)
      .every(({ fields = [] }) => once(fields.map(({ name }) => name)))
  )
}
const entity = (design: Design, name: string) => {
  const found = Object.values(design.entities).find((one) => one.name === name)
  if (!found) throw new Error(`${name} is there`)
  return found
}
/** Of all that lines stand for. */
const ids = ({ entities, links }: Design): string[] =>
  [...Object.values(entities).flatMap((one) => [one, ...allAttributes(one)]), ...Object.values(links)]
    .map(({ id }) => id)
    .sort()

describe('a design as a text', () => {
  it('comes back the same, object by object, and from nothing as the same text', () => {
    fc.assert(
      fc.property(edits, (makes) => {
        const design = after(makes)
        fc.pre(isSayable(design))
        const text = printJot(design)
        const read = readJot(text, design)
        expect(read.notices).toEqual([])
        expect(diff(design, read.design)).toEqual([])
        const fresh = readJot(text, newDesign('Fresh'))
        expect(fresh.notices).toEqual([])
        expect(dangling(fresh.design)).toEqual([])
        expect(printJot(fresh.design)).toBe(text)
      }),
      { numRuns: 300 }
    )
  })
})

const SAMPLE = `jot 1
every table begins th_
every entity has created at, updated at

domain Money: decimal(12,2) min 0
domain Flag code: char(2) upper

area Registers

entity Country
  means the flag states, from the port register
  iso: Flag code key
  name: text(80) required unique

entity Vessel
  # what everybody asks first
  imo: integer required unique, means the number painted on the hull
  name: required
  flag: Country required   # its home
  length overall = loa: decimal(6,2) min 0
  trade: one of (bulk, tanker, ferry) default ferry
  registered: varchar(40) default "in port"
  lit

area Quayside

entity Visit
  vessel: Vessel required, on delete cascade
  berth: Berth
  arrives at: required
  departs at:
  check (departs at > arrives at)
  index (arrives at desc, berth)
  no updated at

entity Berth
  code: text(8) key

entity Cargo line
  part of Visit
  line no: small key
  goods: text(120) required

entity Pilot
  licence: text(12) unique required
  may board: many Vessel

entity Craft
  name: required

subtype Tug of Craft
  bollard pull: decimal(6,1)
`

describe('a text', () => {
  it('as the documents show it is one', () => {
    const [, sample = ''] = /```\n([\s\S]*?)```/.exec(readFileSync('docs/jot.md', 'utf8')) ?? []
    const { design, notices } = readJot(sample, newDesign('Shown'))
    expect(notices).toEqual([])
    expect(Object.keys(design.entities)).toHaveLength(7)
  })

  it('says in a word what would take many', () => {
    const { design, notices } = readJot(SAMPLE, newDesign('Tidewell'))
    expect(notices).toEqual([])
    const [vessel, visit] = [entity(design, 'Vessel'), entity(design, 'Visit')]
    expect(vessel.attributes.map(({ name, type, required }) => [name, type.kind, required])).toEqual([
      ['imo', 'integer', true],
      ['name', 'text', true],
      ['length overall', 'decimal', false],
      ['trade', 'oneOf', false],
      ['registered', 'text', false],
      ['lit', 'text', false]
    ])
    expect(vessel.attributes[0]?.means).toBe('the number painted on the hull')
    expect(vessel.attributes[2]?.dbName).toBe('loa')
    expect(entity(design, 'Country').attributes[0]).toMatchObject({ type: { kind: 'char' }, letters: 'upper' })
    // What a column is taken for by its name.
    expect(visit.attributes.map(({ type }) => type.kind)).toEqual(['timestamp', 'timestamp'])
    const [arrives, departs] = visit.attributes
    expect(visit.rules[0]?.condition).toBe(`{${departs?.id}} > {${arrives?.id}}`)
    expect(Object.values(design.links).map(({ kind, identifying, role }) => [kind, identifying, role])).toEqual(
      expect.arrayContaining([
        ['one-to-many', true, undefined],
        ['many-to-many', false, 'may board'],
        ['one-to-many', false, 'flag']
      ])
    )
    expect(Object.values(design.commons).map(({ name, kept }) => [name, kept])).toEqual([
      ['created at', 'made at'],
      ['updated at', 'changed at']
    ])
    expect(visit.without).toHaveLength(1)
    expect(Object.values(design.subtypes)[0]).toMatchObject({
      discriminator: 'kind',
      subtypes: [entity(design, 'Tug').id]
    })
    expect(design.areas[vessel.area ?? '']?.name).toBe('Registers')
    expect(printJot(readJot(printJot(design), newDesign('Again')).design)).toBe(printJot(design))
  })

  it('that gives something another name in its place means the same thing', () => {
    const before = readJot(SAMPLE, newDesign('Tidewell')).design
    const text = printJot(before)
      .replace('entity Vessel', 'entity Ship')
      .replaceAll(': Vessel', ': Ship')
      .replaceAll('many Vessel', 'many Ship')
      .replace('  imo:', '  hull number:')
      .replace('arrives at:', 'comes at:')
      .replace('> arrives at', '> comes at')
      .replace('index (arrives at', 'index (comes at')
    const { design, notices } = readJot(text, before)
    expect(notices).toEqual([])
    expect(entity(design, 'Ship').id).toBe(entity(before, 'Vessel').id)
    expect(entity(design, 'Ship').attributes[0]?.id).toBe(entity(before, 'Vessel').attributes[0]?.id)
    expect(entity(design, 'Visit').attributes.map(({ id }) => id)).toEqual(
      entity(before, 'Visit').attributes.map(({ id }) => id)
    )
    expect(entity(design, 'Visit').rules).toEqual(entity(before, 'Visit').rules)
    // A line that has moved is the same line.
    const moved = printJot(before).replace(/( {2}imo:.*\n)([\s\S]*? {2}trade:.*\n)/, '$2$1')
    const after = entity(readJot(moved, before).design, 'Vessel')
    expect(new Set(after.attributes.map(({ id }) => id))).toEqual(
      new Set(entity(before, 'Vessel').attributes.map(({ id }) => id))
    )
    expect(after.order).not.toEqual(entity(before, 'Vessel').order)
  })

  it('has the same columns, links and entities where they are cut and put in again, at once or after a while', () => {
    const start = readJot(SAMPLE, newDesign('Tidewell')).design
    const words = printJot(start)
    const pieces = [
      [/ {2}trade: .*\n/, 'entity Berth\n'],
      [/ {2}vessel: Vessel required.*\n/, 'entity Berth\n'],
      [/ {2}marks: .*\n(?: {4}.*\n)+/, 'entity Berth\n'],
      [/entity Visit\n(?: {2}.*\n)+\n/, 'entity Berth\n', 'whole']
    ] as const
    const sample = words.replace('entity Vessel\n', 'entity Vessel\n  marks: list of object\n    code: text(5)\n')
    const first = readAgain(sample, start, undefined)
    for (const [piece, place, whole] of pieces) {
      const own = piece.exec(sample)?.[0] ?? ''
      expect(own).not.toBe('')
      const cut = sample.replace(own, '')
      const moved = whole ? cut.replace(place, `${own}${place}`) : cut.replace(place, `${place}${own}`)
      const before = first.read.design
      const without = readAgain(cut, before, first)
      const lost = ids(before).filter((id) => !ids(without.read.design).includes(id))
      expect(lost.length).toBeGreaterThan(0)
      // A link from elsewhere to what is gone is gone; in words it is not understood, and is read again once it is.
      const after = readAgain(moved, without.read.design, without).read
      expect(after.notices).toEqual([])
      expect(ids(after.design)).toEqual(ids(before))
      if (!whole) expect(ids(readAgain(moved, before, first).read.design)).toEqual(ids(before))
      expect(after.lines.size).toBe(first.read.lines.size)
      // Put in once more, it is something new.
      const copied = readJot(moved.replace(/(entity Pilot)\n/, `$1\n${whole ? '' : own}`), after.design)
      expect(ids(copied.design).length).toBe(ids(after.design).length + (whole ? 0 : lost.length))
    }
  })

  it('with a mistake costs that line alone, and what it spoke of stays', () => {
    const before = harbour()
    const lines = printJot(before).split('\n')
    fc.assert(
      fc.property(
        fc.nat(lines.length - 1),
        fc.constantFrom(
          '  (',
          '  what is this: nonsense ((',
          'nothing at all',
          '  x: "',
          '  check (',
          '  index (nowhere)',
          '\tkey is'
        ),
        (at, broken) => {
          const text = [...lines.slice(0, at), broken, ...lines.slice(at)].join('\n')
          const { design } = readJot(text, before)
          expect(dangling(design)).toEqual([])
          // At most the entity that the line stands in is another one.
          const other = new Set(
            diff(before, design).flatMap(({ collection, id }) => (collection === 'entities' ? [id] : []))
          )
          expect(other.size).toBeLessThanOrEqual(2)
          expect(Object.keys(design.entities).length).toBeGreaterThanOrEqual(Object.keys(before.entities).length - 1)
        }
      ),
      { numRuns: 300 }
    )
    const { design, notices } = readJot(
      printJot(before).replace('draught: decimal(4,1)', 'draught: desimal(4,1)'),
      before
    )
    expect(notices).toMatchObject([{ code: 'jot-word', message: expect.stringContaining('desimal') }])
    expect(
      diff(before, design)
        .flatMap(({ path }) => path)
        .filter((field) => field === 'type')
    ).toEqual([])
  })

  it('that is typed letter by letter is the same column all the while, and is never lost in between', () => {
    let { design } = readJot(SAMPLE, newDesign('Tidewell'))
    const ids = entity(design, 'Vessel').attributes.map(({ id }) => id)
    const text = printJot(design)
    const states = [
      '  imo integer(',
      '  ',
      '  h: integer',
      '  hull',
      '  hull number: int',
      '  hull number: integer required unique'
    ]
    for (const line of states) {
      const read = readJot(text.replace(/ {2}imo: .*/, line), design)
      design = line.trim() === '' ? design : read.design
      if (line.trim() !== '')
        expect(
          entity(design, 'Vessel').attributes.map(({ id }) => id),
          line
        ).toEqual(ids)
    }
    expect(entity(design, 'Vessel').attributes[0]?.name).toBe('hull number')
    // So is an entity, and all that speaks of it does so by its new name.
    let words = printJot(design)
    const before = design
    for (const name of ['Vesse', 'Ve', 'V', 'S', 'Ship']) {
      const read = readJot(words.replace(/entity \w+\n( {2}hull)/, `entity ${name}\n$1`), design)
      expect(read.notices, name).toEqual([])
      ;[words, design] = [read.text, read.design]
    }
    expect(entity(design, 'Ship').id).toBe(entity(before, 'Vessel').id)
    expect(
      Object.values(design.links)
        .map(({ id }) => id)
        .sort()
    ).toEqual(
      Object.values(before.links)
        .map(({ id }) => id)
        .sort()
    )
    expect(words).toContain('vessel: Ship required')
    for (const name of ['arrives a', 'arr', 'a', 'ca', 'came at']) {
      const read = readJot(
        words.replace(/ {2}[a-z ]+: timestamp required(\n {2}departs)/, `  ${name}: timestamp required$1`),
        design
      )
      expect(read.notices, name).toEqual([])
      ;[words, design] = [read.text, read.design]
    }
    expect(words).toContain('check (departs at > came at)')
    expect(words).toContain('index (came at desc, berth)')
    expect(entity(design, 'Visit').rules).toEqual(entity(before, 'Visit').rules)
    // An opening that is half deleted costs nothing of what it opens.
    const half = readJot(printJot(design).replace('entity Ship', 'entit Ship'), design)
    expect(half.notices).toHaveLength(1)
    expect(diff(design, half.design)).toEqual([])
    // What stands too far in is of the entity all the same.
    const deep = readJot(printJot(design).replace('  came at:', '      came at:'), design)
    expect(deep.notices).toMatchObject([{ severity: 'warning' }])
    expect(diff(design, deep.design)).toEqual([])
  })

  it('takes a column that is called as an entity and its key for a link to it, but none that was a column', () => {
    const words = `entity Berth\n  code: text(8) key\n\nentity Quay\n\nentity Visit\n  berth code: required\n  quay id\n  quay code:\n  index (berth code, quay id)\n`
    const { design, notices } = readJot(words, newDesign('Tidewell'))
    expect(notices).toEqual([])
    expect(printJot(design)).toContain(
      'entity Visit\n  berth: Berth required\n  quay: Quay\n  quay code: text(20)\n  index (berth, quay)'
    )
    // Read again, they are the same links; with a type they are columns.
    expect(ids(readJot(words, design).design)).toEqual(ids(design))
    const typed = readJot(words.replace('berth code: required', 'berth code: text(8)'), design).design
    expect(Object.values(typed.links)).toHaveLength(1)
    // What it is called by gets another name: it leads there still, and says so.
    const renamed = readJot(words.replace('  code: text(8) key', '  mark: text(8) key'), design)
    expect(ids(renamed.design)).toEqual(ids(design))
    expect(renamed.text).toContain('entity Visit\n  berth: Berth required\n  quay id\n')
    // A column stays one when something comes to be called so.
    const before = readJot('entity Visit\n  pilot id:\n', newDesign('Tidewell')).design
    expect(Object.values(before.links)).toEqual([])
    expect(Object.values(readJot('entity Visit\n  pilot id:\n\nentity Pilot\n', before).design.links)).toEqual([])
    // Typed letter by letter it is a column only until it is called so.
    let [last, links] = [before, -1]
    for (const line of ['pilo', 'pilot', 'pilot i', 'pilot id', 'pilot id:'])
      last = readJot(`entity Visit\n  ${line}\n\nentity Pilot\n`, last).design
    links = Object.keys(last.links).length
    expect(links).toBe(1)
  })

  it('says where it is wrong, and why', () => {
    const of = (text: string) =>
      readJot(text, newDesign('Any')).notices.map(({ where, message }) => `${where} ${message}`)
    expect(of('entity A\n  x: nonsense')[0]).toMatch(/^2:6 “nonsense” is no type/)
    expect(of('entity A\n  x: int required perhaps')[0]).toMatch(/^2:19 “perhaps” says nothing here/)
    expect(of('entity A\n  x: int\n  x: int')[0]).toMatch(/^3:3 A has a column “x” already/)
    expect(of('entity A\n\nentity a')[0]).toMatch(/^3:1 There is/)
    expect(of('entity A\n  index (y)')[0]).toMatch(/^2:10 A has no column “y”/)
    expect(of('subtype B of A')[0]).toMatch(/no entity “A”/)
    expect(of('table A')[0]).toMatch(/^1:1 “table” opens nothing/)
    expect(of('every day is good')[0]).toMatch(/Every what/)
    expect(of('jot 2')[0]).toMatch(/This reads jot 1/)
    expect(of('entity A\n  no tenant')[0]).toMatch(/No entity has a column “tenant”/)
  })
})

describe('a text beside a design that is changed elsewhere', () => {
  it('says the design again, and keeps remarks, order and all that is not concerned', () => {
    const before = readJot(SAMPLE, newDesign('Tidewell')).design
    fc.assert(
      fc.property(edits, (makes) => {
        const design = makes.slice(0, 3).reduce((d, make) => edit(d, make(d)), before)
        fc.pre(isSayable(design))
        const text = followJot(SAMPLE, design)
        const read = readJot(text, design)
        expect(read.notices).toEqual([])
        expect(diff(design, read.design)).toEqual([])
      }),
      { numRuns: 150 }
    )
    expect(followJot(SAMPLE, before)).toBe(SAMPLE)
    const berth = entity(before, 'Berth')
    const [code] = berth.attributes
    const renamed = edit(before, { kind: 'attribute.set', entity: berth.id, id: code?.id ?? '', set: { name: 'mark' } })
    expect(followJot(SAMPLE, renamed)).toBe(SAMPLE.replace('  code: text(8) key', '  mark: text(8) key'))
    // A line that is not understood yet is left to whoever types it.
    const half = SAMPLE.replace('  lit\n', '  lit\n  lamp (\n')
    expect(followJot(half, renamed)).toBe(half.replace('  code: text(8) key', '  mark: text(8) key'))
    // Remarks stay where they stood, in a block that is written anew, too.
    const vessel = entity(before, 'Vessel')
    const other = edit(before, {
      kind: 'attribute.set',
      entity: vessel.id,
      id: vessel.attributes[1]?.id ?? '',
      set: { name: 'called' }
    })
    const said = followJot(SAMPLE, other)
    expect(said).toContain('  # what everybody asks first\n  imo:')
    expect(said).toMatch(/flag: Country required +# its home/)
    expect(said).toContain('  called: ')
    const gone = edit(before, { kind: 'object.remove', collection: 'entities', id: entity(before, 'Craft').id })
    expect(followJot(SAMPLE, gone)).not.toContain('entity Craft')
  })
})
