// Each check on a design that has what it looks for, and on one that nearly has it; what fixes do; own checks and grades.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { builder, type Builder, type Column } from '../../../../demo/build'
import { harbour } from '../../../../demo/harbour'
import { edits } from '../../../../tests/support/designs'
import { edit, newTarget, type Design, type Edit } from '../design'
import { CHECKS, review, whyNoCheck } from '.'

const target = newTarget('any', { connection: 'none' })
/** It holds less than PostgreSQL. */
const maria = newTarget('any', { engine: 'mariadb', version: '11.4', connection: 'none' })
/** Where a check is of one engine only. */
const OTHERS: Readonly<Record<string, typeof target>> = {
  'narrower-type': maria,
  'key-too-long': maria,
  'refer-or-embed': newTarget('any', { engine: 'mongodb', version: '7.0', connection: 'none' })
}
const required = { required: true } as const

/** Entities by name, each with its columns; then links as `child parent`. */
function drawn(
  entities: Readonly<Record<string, readonly Column[]>>,
  more: (b: Builder) => void = () => undefined
): Design {
  const b = builder('Harbour')
  b.edit({ kind: 'object.remove', collection: 'diagrams', id: 'dia_all' })
  for (const [name, columns] of Object.entries(entities)) b.entity('', name, `What a ${name} is`, columns)
  for (const id of Object.keys(b.design.entities)) b.edit({ kind: 'entity.set', id, set: { area: undefined } })
  more(b)
  return b.design
}
const one = (...columns: Column[]) => drawn({ Vessel: columns })
const linked = (more: (b: Builder) => void, columns: readonly Column[] = [['name', 'text(80)']]) =>
  drawn({ Vessel: [['imo', 'integer', { key: true, ...required }]], Visit: columns }, more)
const indexed = (...lists: (readonly string[])[]) => {
  const design = one(['name', 'text(80)'], ['trade', 'text(20)'])
  const edits = lists.map((parts, i): Edit => ({
    kind: 'part.set',
    list: 'indexes',
    entity: 'ent_vessel',
    part: { id: `idx_${i}`, unique: false, parts: parts.map((id) => ({ id: `att_vessel_${id}`, descending: false })) }
  }))
  return edit(design, { kind: 'all', edits })
}
const unique = (design: Design, ...parts: string[]) =>
  edit(design, { kind: 'part.set', list: 'uniques', entity: 'ent_vessel', part: { id: 'key_one', parts } })
const kinds = (columns: readonly Column[]) =>
  drawn({ Vessel: [['name', 'text(80)']], Tug: columns }, (b) => {
    const group = {
      id: 'sub_1',
      supertype: 'ent_vessel',
      subtypes: ['ent_tug'],
      discriminator: 'kind',
      complete: false,
      exclusive: false
    }
    b.edit({ kind: 'object.set', collection: 'subtypes', object: group })
  })
const dated: readonly Column[] = [
  ['made on', 'date'],
  ['name', 'text(80)']
]
const many = (n: number): Column[] =>
  Array.from({ length: n }, (_, i) => [`mark ${String.fromCharCode(97 + (i % 26))}${'x'.repeat(i / 26)}`, 'text(9)'])

/** The check, what has it, what nearly has it. */
const cases: Readonly<Record<string, readonly [has: Design, nearly: Design]>> = {
  'engine-refuses': [
    one(['name', 'text(8)', { dbName: 'a' }], ['mark', 'text(8)', { dbName: 'a' }]),
    one(['name', 'text(8)', { dbName: 'a' }], ['mark', 'text(8)', { dbName: 'b' }])
  ],
  'key-too-long': [
    one(['name', 'text(769)', { key: true, required: true }]),
    one(['name', 'text(768)', { key: true, required: true }])
  ],
  'required-circle': [
    linked((b) => {
      b.link('Visit', 'Vessel', { parentRequired: true })
      b.link('Vessel', 'Visit', { parentRequired: true })
    }),
    linked((b) => {
      b.link('Visit', 'Vessel', { parentRequired: true })
      b.link('Vessel', 'Visit', { parentRequired: false })
    })
  ],
  'default-outside': [
    one(['depth', 'integer', { default: '9', max: 8 }]),
    one(['depth', 'integer', { default: '8', max: 8 }])
  ],
  'limits-crossed': [one(['depth', 'integer', { min: 2, max: 1 }]), one(['depth', 'integer', { min: 1, max: 1 }])],
  'link-types': [
    linked((b) => b.link('Visit', 'Vessel', { columns: { att_vessel_imo: 'att_visit_ship' } }), [['ship', 'big']]),
    linked((b) => b.link('Visit', 'Vessel', { columns: { att_vessel_imo: 'att_visit_ship' } }), [['ship', 'integer']])
  ],
  'narrower-type': [one(['weight', 'decimal(66,2)']), one(['weight', 'decimal(65,2)'])],
  'engine-changes': [one(['data', 'binary(4)'], ['order', 'text(3)', { means: '' }]), one(['data', 'binary'])],
  'reserved-name': [drawn({ User: [['name', 'text(80)']] }), drawn({ Users: [['name', 'text(80)']] })],
  'money-as-float': [one(['harbour fee', 'double']), one(['harbour feed', 'double'])],
  'date-as-text': [one(['arrival date', 'text(10)']), one(['arrival update', 'text(10)'])],
  'limit-on-words': [one(['code', 'text(3)', { min: 1 }]), one(['code', 'integer', { min: 1 }])],
  'index-twice': [indexed(['name'], ['name', 'trade']), indexed(['trade'], ['name', 'trade'])],
  'similar-names': [
    drawn({ Vessel: [['a', 'date']], Vessels: [['a', 'date']] }),
    drawn({ Vessel: [['a', 'date']], Vesel: [['a', 'date']] })
  ],
  'no-columns': [drawn({ Vessel: [] }), one(['name', 'text(80)'])],
  'bare-subtype': [kinds([]), kinds([['pull', 'decimal(6,1)']])],
  'empty-area': [
    drawn({ Vessel: dated }, (b) => b.area('are_1', 'Quay', 0)),
    drawn({ Vessel: dated }, (b) => {
      b.area('are_1', 'Quay', 0)
      b.edit({ kind: 'entity.set', id: 'ent_vessel', set: { area: 'are_1' } })
    })
  ],
  'flag-as-number': [one(['is afloat', 'small']), one(['isobath', 'small'])],
  isolated: [drawn({ Vessel: dated, Visit: dated }), linked((b) => b.link('Visit', 'Vessel'))],
  'link-without-index': [
    linked((b) => b.link('Visit', 'Vessel')),
    linked((b) => b.link('Visit', 'Vessel', { identifying: true }))
  ],
  'long-char': [one(['code', 'char(17)']), one(['code', 'char(16)'])],
  'long-name': [
    one(['a name that is very much longer than what the engine allows for names', 'date']),
    one(['short', 'date'])
  ],
  'missing-from-one': [
    drawn({ A: dated, B: dated, C: dated, D: dated, E: [['name', 'text(80)']] }),
    drawn({ A: dated, B: dated, C: dated, D: [['name', 'text(80)']], E: [['name', 'text(80)']] })
  ],
  'refer-or-embed': [
    linked((b) => void b.link('Visit', 'Vessel', { parentRequired: true, onDelete: 'cascade' })),
    linked((b) => void b.link('Visit', 'Vessel', { parentRequired: true }))
  ],
  'no-key': [one(['name', 'text(80)']), one(['name', 'text(80)', { unique: true, ...required }])],
  'no-meaning': [
    edit(drawn({ Vessel: dated, Berth: dated }), { kind: 'entity.set', id: 'ent_vessel', set: { means: undefined } }),
    drawn({ Vessel: dated, Berth: dated })
  ],
  'numbered-columns': [
    one(['phone 1', 'text(9)'], ['phone 2', 'text(9)'], ['phone 3', 'text(9)']),
    one(['phone 1', 'text(9)'], ['phone 2', 'text(9)'])
  ],
  'odd-name': [
    one(['draught', 'integer', { dbName: 'Draught M' }]),
    one(['draught', 'integer', { dbName: 'draught_m' }])
  ],
  'one-value': [one(['trade', 'one of (bulk)', required]), one(['trade', 'one of (bulk)'])],
  'optional-unique': [
    one(['name', 'text(80)', { unique: true }]),
    one(['name', 'text(80)', { unique: true, ...required }])
  ],
  'plural-names': [
    drawn({ Vessels: dated, Berth: dated, Visit: dated, Pilot: dated }),
    drawn({ Status: dated, Berth: dated, Visit: dated, Pilot: dated })
  ],
  'same-name-other-type': [
    drawn({ A: [['name', 'text(80)']], B: [['name', 'text(80)']], C: [['name', 'text(60)']] }),
    drawn({ A: [['name', 'text(80)']], B: [['name', 'text(60)']] })
  ],
  'unique-in-key': [
    unique(
      one(['imo', 'integer', { key: true, ...required }], ['name', 'text(80)']),
      'att_vessel_imo',
      'att_vessel_name'
    ),
    unique(one(['imo', 'integer', { key: true, ...required }], ['name', 'text(80)']), 'att_vessel_name')
  ],
  'unused-domain': [
    drawn({ Vessel: dated }, (b) => b.domain('Level', 'decimal(5,2)', '', [])),
    drawn({ Vessel: [['depth', 'decimal(5,2)']] }, (b) =>
      b.domain('Level', 'decimal(5,2)', '', [['ent_vessel', 'att_vessel_depth']])
    )
  ],
  'wide-entity': [one(...many(41)), one(...many(40))],
  'zones-mixed': [
    one(['a', 'timestamp'], ['b', 'timestamp'], ['c', 'timestamp with zone']),
    one(['a', 'timestamp'], ['b', 'timestamp'], ['c', 'date'])
  ]
}

it('is told by each check for what has it, and not for what nearly has it', async () => {
  expect(Object.keys(cases).sort()).toEqual(CHECKS.map(({ id }) => id).sort())
  const told = await Promise.all(
    Object.entries(cases).map(async ([check, pair]) => {
      const [has, nearly] = await Promise.all(
        pair.map(async (design) =>
          (await review(design, OTHERS[check] ?? target)).findings.filter((one) => one.check === check)
        )
      )
      return [check, has?.length !== 0, nearly?.map(({ message }) => message)]
    })
  )
  expect(told).toEqual(Object.keys(cases).map((check) => [check, true, []]))
})

describe('a fix', () => {
  const grave = (design: Design) =>
    review(design, target).then(({ findings }) => findings.filter(({ grade }) => grade !== 'info'))
  const key = ({ check, at }: { check: string; at: string }) => `${check} ${at}`

  async function holds(design: Design) {
    const before = await review(design, target)
    const known = new Set((await grave(design)).map(key))
    for (const finding of before.findings) {
      if (!finding.fix) continue
      const after = edit(design, finding.fix.edit)
      const left = (await review(after, target)).findings
      expect(left.map((one) => `${key(one)} ${one.message}`)).not.toContain(`${key(finding)} ${finding.message}`)
      expect(
        left
          .filter(({ grade }) => grade !== 'info')
          .map(key)
          .filter((one) => !known.has(one))
      ).toEqual([])
    }
    return before.findings.filter(({ fix }) => fix).length
  }

  it('makes its finding go, and brings no graver one', async () => {
    let fixes = 0
    for (const pair of Object.values(cases)) for (const design of pair) fixes += await holds(design)
    expect(fixes).toBeGreaterThan(10)
    await fc.assert(
      fc.asyncProperty(edits, async (list) => {
        await holds(list.reduce((design, make) => edit(design, make(design)), harbour()))
      }),
      { numRuns: 15 }
    )
  })
})

describe('a team’s own check', () => {
  const withCheck = (expression: string, more: readonly Edit[] = []) =>
    edit(harbour(), {
      kind: 'all',
      edits: [
        {
          kind: 'object.set',
          collection: 'checks',
          object: { id: 'chk_1', name: 'Text has a length', expression, grade: 'error' }
        },
        ...more
      ]
    })
  const own = async (design: Design) => (await review(design, target)).findings.filter(({ check }) => check === 'chk_1')

  it('is an expression over the design, which gives what is wrong', async () => {
    const text = `entities.columns[type = "text"].{ "id": id, "says": name & " has no length" }`
    const found = await own(withCheck(text))
    const wanted = Object.values(harbour().entities).flatMap(({ attributes }) =>
      attributes.filter(({ type }) => type.kind === 'text' && type.length === undefined)
    )
    expect(found.map(({ at, message, grade }) => [at, message, grade])).toEqual(
      wanted.map(({ id, name }) => [id, `${name} has no length`, 'error'])
    )
  })

  it('that cannot be worked out says so, and stops nothing', async () => {
    expect(whyNoCheck('entities[')).toMatch(/./)
    expect(whyNoCheck('entities[name = "Vessel"]')).toBeUndefined()
    for (const text of ['entities[', '$nothing()', '($f := function($n) { $f($n + 1) }; $f(0))'])
      expect(await own(withCheck(text))).toMatchObject([
        { at: 'chk_1', message: expect.stringContaining('worked out') }
      ])
  })

  it('or any other is graded otherwise, for the design or for one object, with a reason', async () => {
    const design = withCheck('entities[name = "Tug" or name = "Barge"]')
    const graded = (at: string | undefined, grade: 'off' | 'info') =>
      edit(design, {
        kind: 'object.set',
        collection: 'grades',
        object: { id: 'grd_1', check: 'chk_1', grade, reason: 'They are ours', ...(at === undefined ? {} : { at }) }
      })
    expect((await own(graded('ent_tug', 'info'))).map(({ at, grade }) => [at, grade])).toEqual([
      ['ent_barge', 'error'],
      ['ent_tug', 'info']
    ])
    const silent = await review(graded(undefined, 'off'), target)
    expect(silent.silenced.map(({ at, reason }) => [at, reason])).toEqual([
      ['ent_tug', 'They are ours'],
      ['ent_barge', 'They are ours']
    ])
  })
})
