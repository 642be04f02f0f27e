import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { canonicalExpression, compareExpressions, namesIn, renameNames, tokenize } from '.'

const lower = (name: string, quoted = false) => (quoted ? name : name.toLowerCase())
const quote = (name: string) => (/^[a-z_]+$/.test(name) ? name : `"${name}"`)

describe('tokens', () => {
  it('joined again are the text, whatever the text', () => {
    const pieces = fc.constantFrom(
      `'it''s'`,
      `"a""b"`,
      `E'\\''`,
      '$x$;$x$',
      '-- c\n',
      '/* /* */ */',
      `'open`,
      '"open',
      '/* open',
      '::',
      '<=',
      '1.5e3',
      'état',
      ' ',
      ';',
      '$1'
    )
    const sql = fc.array(fc.oneof(pieces, fc.string())).map((list) => list.join(''))
    fc.assert(
      fc.property(sql, (text) => {
        expect(
          tokenize(text)
            .map((t) => t.text)
            .join('')
        ).toBe(text)
      }),
      { numRuns: 300 }
    )
  })

  it.each([
    [`'it''s; -- not'`, ['string']],
    [`$body$ a ; b $body$`, ['string']],
    ['/* a /* b */ c */x', ['comment', 'word']],
    ['"a""b"', ['quoted']],
    ['a::text', ['word', 'operator', 'word']]
  ])('%s', (text, kinds) => {
    expect(tokenize(text).map((t) => t.kind)).toEqual(kinds)
  })
})

describe('expressions', () => {
  it.each([
    ['a > 0', '((a > 0))'],
    [`c IN ('x','y')`, `((c)::text = ANY ((ARRAY['x'::character varying, 'y'::character varying])::text[]))`],
    ['a = -5', `(a = '-5'::integer)`],
    ['a BETWEEN 1 AND 2', '((a >= 1) AND (a <= 2))'],
    ['x AND y AND z', '((x AND y) AND z)'],
    ['CURRENT_TIMESTAMP', 'now()'],
    ['A > 0', 'a > 0'],
    ['"a" > 0', 'a > 0'],
    ['a  >0 -- said', 'a > 0']
  ])('%s is %s', (a, b) => {
    expect(compareExpressions(a, b, lower)).toBe('equal')
    expect(canonicalExpression(a, lower)).toBe(canonicalExpression(b, lower))
  })

  it.each([
    ['a > 0', 'a >= 0'],
    ['a AND b OR c', 'a AND (b OR c)'],
    [`c = 'x'`, `c = 'X'`],
    [`c IN ('x', 'y')`, `c IN ('y', 'x')`],
    ['NOT a = b', 'a = b'],
    ['a - (b - c)', 'a - b - c'],
    ['"A" > 0', 'a > 0'],
    [undefined, '0']
  ])('%s is not %s', (a, b) => {
    expect(compareExpressions(a, b, lower)).toBe('different')
  })

  it.each([
    ['a::integer > 5', 'a > 5'],
    ['substring(a from 1 for 2) = b', 'substring(a from 1 for 3) = b']
  ])('%s and %s: cannot be told', (a, b) => {
    expect(compareExpressions(a, b, lower)).toBe('cannot tell')
  })

  it('carry a new name through, and nothing but the name', () => {
    const renames = new Map([['depth', 'water depth']])
    expect(
      renameNames(`depth > 0 AND "depth" < 9 AND note <> 'depth' AND depth(x) = 1 -- depth`, renames, lower, quote)
    ).toBe(`"water depth" > 0 AND "water depth" < 9 AND note <> 'depth' AND depth(x) = 1 -- depth`)
    expect([...namesIn(`lower(a) = "B" AND c > 'd'`, lower)]).toEqual(expect.arrayContaining(['a', 'B', 'c']))
    expect(namesIn(`lower(a) = 'd'`, lower).has('lower')).toBe(false)
  })
})
