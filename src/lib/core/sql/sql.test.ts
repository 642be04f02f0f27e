import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { dialect, ENGINES } from '../dialects'
import { compareExpressions, namesIn, renameNames, tokenize, type Lexis } from '.'

const lexisOf = (engine: string) => dialect(engine)?.write.lexis as Lexis
const lower = lexisOf('postgres')
const quote = (name: string) => (/^[a-z_]+$/.test(name) ? name : `"${name}"`)

describe('tokens', () => {
  it.each(ENGINES.map(({ id }) => id))('of %s, joined again, are the text, whatever the text', (engine) => {
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
      '$1',
      '[a',
      '# c',
      "q'[",
      '\\',
      '"a\\'
    )
    const sql = fc.array(fc.oneof(pieces, fc.string())).map((list) => list.join(''))
    fc.assert(
      fc.property(sql, (text) => {
        expect(
          tokenize(text, lexisOf(engine))
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
    expect(tokenize(text, lower).map((t) => t.kind)).toEqual(kinds)
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
    ['a  >0 -- said', 'a > 0'],
    ['5', '(5)::bigint'],
    ['a > 1.5', `a > '1.5'::double precision`],
    [`'ab'::varchar(2)`, `'ab'`],
    [`date '2024-01-31'`, `'2024-01-31'::date`],
    [`d > '2024-01-31'`, `d > date '2024-01-31'`],
    ['coalesce(a, 0) > 0', 'COALESCE(a, (0)::numeric) > (0)::numeric'],
    ['NULL', 'NULL::character varying'],
    ['a * 2 + 1 > 0', 'a * (2)::numeric + (1)::numeric > 0']
  ])('%s is %s', (a, b) => {
    expect(compareExpressions(a, b, lower)).toBe('equal')
    expect(compareExpressions(b, a, lower)).toBe('equal')
  })

  it.each([
    ['a > 0', 'a >= 0'],
    ['a AND b OR c', 'a AND (b OR c)'],
    [`c = 'x'`, `c = 'X'`],
    [`c IN ('x', 'y')`, `c IN ('y', 'x')`],
    ['NOT a = b', 'a = b'],
    ['a - (b - c)', 'a - b - c'],
    ['"A" > 0', 'a > 0'],
    [`date '2024-01-31'`, `date '2024-02-01'`],
    ['1.5::integer', '2.5::bigint + 1'],
    [undefined, '0']
  ])('%s is not %s', (a, b) => {
    expect(compareExpressions(a, b, lower)).toBe('different')
  })

  it.each([
    ['a::integer > 5', 'a > 5'],
    ['substring(a from 1 for 2) = b', 'substring(a from 1 for 3) = b'],
    ['1.5::integer', '1.5'],
    [`'abc'::varchar(2)`, `'abc'`],
    [`'a'::char(3)`, `'a'`],
    [`date '2024-01-31'`, `timestamp '2024-01-31'`],
    [`'2024-01-31'`, `'2024-01-31 00:00:00'::timestamp without time zone`],
    ['40000::smallint', '40000'],
    ['a / 2::numeric > 1', 'a / 2 > 1'],
    ['round(5::numeric, 1)', 'round(5, 1)'],
    ['(a)::numeric >= (0)::numeric', 'a >= 0'],
    ['1.25::numeric(2,1)', '1.25']
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
