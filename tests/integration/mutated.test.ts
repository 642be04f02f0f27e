// Design files, scripts and expressions that are almost right: cut, swapped, doubled, filled with what means something.
// Nothing crashes or hangs, what is refused says where, and what is taken is there whole.
import { writeScript } from '../../src/lib/core/plan'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../demo/harbour'
import { derive, readDesign } from '../../src/lib/core/derive'
import { edit, printDesign } from '../../src/lib/core/design'
import { dialect, ENGINES, type Dialect } from '../../src/lib/core/dialects'
import { readIndex, readTable } from '../../src/lib/core/dialects/sqlite/read'
import {
  compareExpressions,
  renameReferences,
  splitStatements,
  tokenize,
  whyNotReading,
  whyNotWhole
} from '../../src/lib/core/sql'
import { large } from '../../bench/design'
import '../support/seed'

const CASES = Number(process.env['CASES'] ?? 150)
const dialects = ENGINES.map(({ id }) => dialect(id) as Dialect)
const plain = { subtypeTables: {}, schemas: {} }

const junk = [
  ...[
    '"',
    "'",
    '`',
    '\\',
    '(',
    ')',
    '[',
    ']',
    '{',
    '}',
    ',',
    ':',
    ';',
    '--',
    '/*',
    '*/',
    '/*!',
    '$$',
    '\u0000',
    '\ud800'
  ],
  ...[
    'null',
    'true',
    '7',
    '1e999',
    '-0',
    '""',
    '[]',
    '{}',
    '"__proto__"',
    '"constructor"',
    '"toString"',
    '\ufeff',
    '🚢'
  ],
  ...[' ', '\n', '{att_gone}', '1=1)); DROP TABLE victim; --', 'DELIMITER //', 'SET TERM ^ ;', "E'\\''", "q'{'"]
]
/** Changes by place, as parts of a thousand of the text. */
const changesUpTo = (most: number) =>
  fc.array(
    fc.record({
      kind: fc.constantFrom('cut', 'insert', 'double', 'swap', 'end'),
      at: fc.nat(999),
      more: fc.nat(30),
      word: fc.constantFrom(...junk)
    }),
    { minLength: 1, maxLength: most }
  )
const changes = changesUpTo(4)
type Changes = typeof changes extends fc.Arbitrary<infer T> ? T : never

const mutated = (text: string, list: Changes): string =>
  list.reduce((result, { kind, at, more, word }) => {
    const place = Math.floor((at / 1000) * result.length)
    const [before, part, after] = [
      result.slice(0, place),
      result.slice(place, place + more),
      result.slice(place + more)
    ]
    switch (kind) {
      case 'cut':
        return before + after
      case 'insert':
        return before + word + part + after
      case 'double':
        return before + part + part + after
      case 'swap':
        return before + word + after
      default:
        return at > 900 ? before : result + word
    }
  }, text)

/** Any one value of a file in place of any other, or gone, or junk: well formed JSON that is no design. */
const misplaced = fc.array(
  fc.record({ at: fc.nat(), from: fc.nat(), how: fc.nat(3), word: fc.constantFrom(...junk) }),
  {
    minLength: 1,
    maxLength: 3
  }
)
function rearranged(text: string, list: typeof misplaced extends fc.Arbitrary<infer T> ? T : never): string {
  const file: unknown = JSON.parse(text)
  for (const { at, from, how, word } of list) {
    const places: { holder: Record<string, unknown>; key: string }[] = []
    const walk = (value: unknown) => {
      if (typeof value !== 'object' || value === null) return
      for (const key of Object.keys(value)) {
        const holder = value as Record<string, unknown>
        places.push({ holder, key })
        walk(holder[key])
      }
    }
    walk(file)
    const [to, other] = [places[at % places.length], places[from % places.length]]
    if (!to || !other) continue
    if (how === 0) delete to.holder[to.key]
    else to.holder[to.key] = how === 1 ? structuredClone(other.holder[other.key]) : how === 2 ? word : at % 1e9
  }
  return JSON.stringify(file)
}

/** What a file says, whatever the order of fields and objects; names stand without blanks around them. */
function said(value: unknown): unknown {
  if (typeof value === 'string') return value.trim()
  if (Array.isArray(value)) {
    const items = value.map(said)
    const isObjects = items.every((item) => typeof item === 'object' && item !== null && 'id' in item)
    return isObjects ? items.sort((a, b) => (JSON.stringify(a) < JSON.stringify(b) ? -1 : 1)) : items
  }
  if (typeof value !== 'object' || value === null) return Object.is(value, -0) ? 0 : value
  const fields = Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1))
  return Object.fromEntries(fields.map(([key, inner]) => [key, said(inner)]))
}

describe('a design file that is almost right', () => {
  const [dev] = Object.values(harbour().targets)
  const target = dev && {
    ...dev,
    departures: [
      { id: 'att_vessel_name', part: 'column', property: 'default', value: "'none'" },
      { id: 'ent_berth', part: 'table', absent: true as const }
    ],
    extras: [
      { path: ['public', 'vessel', 'ck_loa'], kind: 'check' as const, value: { name: 'ck_loa', expression: 'loa > 0' } }
    ],
    ignored: [{ kind: 'table' as const, path: ['public', 'tide'], reason: 'of another tool' }],
    handSteps: [{ id: 'stp_1', statement: 'UPDATE vessel SET loa = 1', place: 'before' as const, anchor: '' }],
    queries: [{ id: 'qry_1', name: 'Vessels', sql: 'SELECT 1' }]
  }
  const base = printDesign(
    target ? edit(harbour(), { kind: 'object.set', collection: 'targets', object: target }) : harbour()
  )
  const law = (text: string) => {
    const read = readDesign(text)
    if (!read.ok) {
      expect(read.notices.length).toBeGreaterThan(0)
      for (const { where, message } of read.notices) {
        expect(where).toMatch(/^\d+:\d+$/)
        expect(message.length).toBeGreaterThan(10)
      }
      return false
    }
    // Nothing of it is gone, and it is read again as it is printed.
    const printed = printDesign(read.value)
    const { version: _was, ...file } = JSON.parse(text.replace(/^\ufeff/, '')) as Record<string, unknown>
    const { version: _now, ...kept } = JSON.parse(printed) as Record<string, unknown>
    expect(said(kept)).toEqual(said(file))
    const again = readDesign(printed)
    expect(again.ok && printDesign(again.value)).toBe(printed)
    for (const one of dialects)
      for (const target of [plain, ...Object.values(read.value.targets)]) {
        const statements = writeScript(derive(read.value, target, one).catalog, one)
        // Nothing rides along: each statement is one by the engine's rules.
        for (const { sql } of statements) expect(splitStatements(sql, one.write.lexis).length, sql).toBe(1)
      }
    return true
  }
  const counted = <T>(change: (text: string, more: T) => string, more: fc.Arbitrary<T>) => {
    let [taken, refused] = [0, 0]
    fc.assert(
      fc.property(more, (list) => void (law(change(base, list)) ? taken++ : refused++)),
      { numRuns: CASES, endOnFailure: true }
    )
    expect(Math.min(taken, refused)).toBeGreaterThan(0)
    return `${taken} taken whole, ${refused} refused with the place`
  }

  it('as text', () => console.log(`mutated design files: ${counted(mutated, changesUpTo(2))}`), 3_600_000)
  it('as JSON', () => console.log(`rearranged design files: ${counted(rearranged, misplaced)}`), 3_600_000)
})

describe.each(dialects.map((one) => ({ label: one.profile.label, one })))('$label', ({ label, one }) => {
  const { lexis } = one.write
  const scripts = [harbour(), large(3)].map((design) =>
    writeScript(derive(design, plain, one).catalog, one)
      .map(({ sql }) => sql)
      .join(';\n')
  )

  it('reads a script that is almost right, and loses nothing of it', () => {
    let statements = 0
    fc.assert(
      fc.property(fc.constantFrom(...scripts), changes, (script, list) => {
        const text = mutated(script, list)
        expect(
          tokenize(text, lexis)
            .map((token) => token.text)
            .join('')
        ).toBe(text)
        let end = 0
        for (const { sql, at } of splitStatements(text, lexis)) {
          statements++
          expect(text.startsWith(sql, at)).toBe(true)
          expect(at).toBeGreaterThanOrEqual(end)
          // Between two statements stands nothing but what ends them, and words to the engine's own tool.
          const between = tokenize(text.slice(end, at), lexis)
          if (!lexis.delimiterCommand)
            expect(between.every(({ kind, text: t }) => ['space', 'comment'].includes(kind) || t === ';')).toBe(true)
          end = at + sql.length
          whyNotReading(sql, lexis, one.profile.reads)
          if (one.profile.id === 'sqlite') {
            readTable('vessel', sql)
            readIndex('ix', sql)
          }
        }
      }),
      { numRuns: CASES, endOnFailure: true }
    )
    console.log(`${label}: ${CASES} mutated scripts, ${statements} statements`)
  }, 3_600_000)

  const expressions = [
    "state IN ('In Port', 'at sea') AND (departs_at > arrives_at OR departs_at IS NULL)",
    `coalesce(depth, 0) * 1.5 - length(name) / 2 >= -3`,
    `CASE WHEN a = 'x' THEN cast(b AS varchar(10)) ELSE "Quay No" || '''' END <> ''`,
    `(name LIKE 'A%' ESCAPE '!') = ((loa BETWEEN 10 AND 20) IS NOT NULL)`,
    'a -- so\n + b /* and */ * c'
  ]
  it('reads an expression that is almost right', () => {
    let whole = 0
    fc.assert(
      fc.property(fc.constantFrom(...expressions), changes, changes, (text, list, other) => {
        const [a, b] = [mutated(text, list), mutated(text, other)]
        expect(compareExpressions(a, a, lexis)).toBe('equal')
        expect(compareExpressions(a, b, lexis)).toBe(compareExpressions(b, a, lexis))
        const names = { lexis, quote: one.write.quote, keywords: one.profile.names.mustQuote, table: () => undefined }
        expect(renameReferences(a, names).sql).toBe(a)
        if (whyNotWhole(a, lexis) !== undefined) return
        whole++
        expect(splitStatements(`SELECT (${a}) AS kept; SELECT 'after'`, lexis).length, a).toBe(2)
      }),
      { numRuns: CASES, endOnFailure: true }
    )
    expect(whole).toBeGreaterThan(0)
    console.log(`${label}: ${CASES} mutated expressions, ${whole} whole`)
  }, 3_600_000)
})
