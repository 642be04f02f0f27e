// What speaks for keeping documents within others and what against; how large they are, by the package that writes them.
import { calculateObjectSize, Decimal128, Int32, Long, ObjectId, UUID } from 'bson'
import { describe, expect, it } from 'vitest'
import { newDesign, type Design, type Link } from '../design'
import { readJot } from '../jot'
import { embedding } from '.'

const drawn = (child: string, more = ''): Design =>
  readJot(`entity Vessel\n  imo: integer key\n\nentity Crew\n${child}\n${more}`, newDesign('Tidewell')).design
const linkOf = (design: Design): Link => {
  const crew = Object.values(design.entities).find(({ name }) => name === 'Crew')
  const found = Object.values(design.links).find(({ child }) => child === crew?.id)
  if (!found) throw new Error('Crew is linked')
  return found
}
const of = (design: Design) => embedding(design, linkOf(design))

describe('keeping documents within others', () => {
  it('is proposed for what is owned, or is one at most, and says why', () => {
    expect(of(drawn('  vessel: Vessel required on delete cascade'))).toMatchObject({
      embed: true,
      reasons: ['It goes with Vessel anyway.']
    })
    expect(of(drawn('  vessel: one Vessel required'))).toMatchObject({
      embed: true,
      reasons: ['There is one at most for each Vessel.']
    })
    expect(of(drawn('  part of Vessel\n  berth no: small key')).embed).toBe(true)
  })

  it('is not proposed for what may grow, what others lead to, what belongs to two, or to none', () => {
    const said = (child: string, more?: string) => of(drawn(child, more))
    expect(said('  vessel: Vessel required').reasons).toEqual([
      'Nothing says how many one Vessel may come to have: a list that only grows is better kept apart.'
    ])
    expect(
      said('  vessel: Vessel required on delete cascade', '\nentity Watch\n  crew: Crew required').reasons
    ).toEqual(['Watch lead to Crew: what is within another is not led to.'])
    expect(
      said('  vessel: Vessel required on delete cascade\n  agent: Agent required', '\nentity Agent\n  name: text(9)')
        .reasons
    ).toEqual(['It belongs to Agent as well: one of them would have it, the other look for it.'])
    expect(said('  vessel: Vessel on delete cascade')).toMatchObject({
      embed: false,
      reasons: ['There may be Crew that belongs to no Vessel.']
    })
    const self = drawn('  chief: Crew')
    expect(of(self).impossible).toContain('itself')
    expect(of(drawn('  vessel: many Vessel'))).toMatchObject({ embed: true, home: 'Crew' })
  })

  it('costs as many bytes as a document of full length has, and says how many fit', () => {
    const design = drawn(`  vessel: Vessel required
  name: text(20)
  grade: integer
  hours: big
  pay: decimal(8,2)
  mark: uuid
  ashore: boolean
  since: timestamp
  papers: list of object
    no: text(6)
    pages: integer
  home: object
    quay: text(4)
    id of it: object id`)
    const full = {
      name: 'x'.repeat(20),
      grade: new Int32(1),
      hours: Long.fromNumber(1),
      pay: Decimal128.fromString('1'),
      mark: new UUID(),
      ashore: true,
      since: new Date(),
      papers: Array.from({ length: 10 }, () => ({ no: 'x'.repeat(6), pages: new Int32(1) })),
      home: { quay: 'xxxx', 'id of it': new ObjectId() }
    }
    const size = calculateObjectSize(full)
    const [told] = of(design).embedded.filter((sentence) => sentence.startsWith('About'))
    expect(told).toBe(
      `About ${size.toLocaleString('en')} bytes each: some ${Math.floor((16 * 1024 * 1024) / size).toLocaleString('en')} fit in the 16 MB that a document may be.`
    )
  })
})
