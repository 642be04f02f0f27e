import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { parseType, printType, TYPE_CHOICES, type NeutralType } from '.'

const types: fc.Arbitrary<NeutralType> = fc.oneof(
  fc.constantFrom(...TYPE_CHOICES.map((choice) => choice.type)),
  fc.record({
    kind: fc.constant('oneOf' as const),
    values: fc.uniqueArray(fc.string({ minLength: 1 }), { minLength: 1, maxLength: 5 })
  }),
  fc.record({ kind: fc.constant('native' as const), text: fc.string({ minLength: 1 }) }),
  fc
    .integer({ min: 1, max: 38 })
    .chain((precision) =>
      fc.record({ kind: fc.constant('decimal' as const), precision: fc.constant(precision), scale: fc.nat(precision) })
    )
)

describe('a type', () => {
  it('is read back as it was printed', () => {
    fc.assert(
      fc.property(types, (type) => {
        expect(parseType(printType(type))).toEqual({ ok: true, value: type })
      }),
      { numRuns: 300 }
    )
  })

  it.each([
    '',
    'txt',
    'char',
    'decimal',
    'decimal(2,5)',
    'text(0)',
    'text(-1)',
    'integer(3)',
    'date with zone',
    'one of ()',
    'one of (a, a)',
    'text(1,2)'
  ])('“%s” is refused with a reason', (text) => {
    const read = parseType(text)
    expect(read.ok).toBe(false)
    if (!read.ok) expect(read.notices[0]?.message.length).toBeGreaterThan(20)
  })
})
