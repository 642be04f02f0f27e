// What we say of PostgreSQL, asked of PostgreSQL itself.
import { readType, typeText } from '../../src/lib/core/catalog'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { shorten } from '../../src/lib/core/naming'
import { compareExpressions } from '../../src/lib/core/sql'
import { TYPE_CHOICES } from '../../src/lib/core/types'
import { embeddedPostgres, type Embedded } from '../support/embedded'

const postgres = dialectOf('postgres', '18') as Dialect
let db: Embedded
beforeAll(async () => {
  db = await embeddedPostgres()
})
afterAll(() => db.close())

const one = async (sql: string) => Object.values((await db.query(sql))[0] ?? {})[0]

describe('words and names', () => {
  it('reserved words are those of pg_get_keywords()', async () => {
    const words = async (codes: string) =>
      (await db.query(`SELECT word FROM pg_get_keywords() WHERE catcode IN (${codes}) ORDER BY 1`)).map((row) =>
        String(row['word'])
      )
    expect([...postgres.profile.names.reserved].sort()).toEqual(await words(`'R', 'T'`))
    expect([...postgres.profile.names.mustQuote].sort()).toEqual(await words(`'R', 'T', 'C'`))
  })

  it('names are quoted exactly where quote_ident() quotes them', async () => {
    const names = [
      'vessel',
      'Vessel',
      'desc',
      'order',
      'name',
      'value',
      'cargo line',
      'quote"d',
      'état',
      '1st',
      'a_1',
      'int',
      'between',
      'zone',
      ''
    ]
    for (const name of names.filter((n) => n !== ''))
      expect(postgres.write.quote(name), name).toBe(await one(`SELECT quote_ident('${name.replaceAll("'", "''")}')`))
  })

  it('a name of 63 bytes is kept, one more is cut: ours are cut before, and stay apart', async () => {
    const long = 'é'.repeat(31) + 'a'
    expect(new TextEncoder().encode(long)).toHaveLength(63)
    expect(shorten(long, 63, 'bytes')).toBe(long)
    expect(await one(`SELECT length('${long}'::name::text)`)).toBe(32)
    expect(await one(`SELECT length('${long}b'::name::text)`)).toBe(32)
    const [a, b] = [shorten(long + 'b', 63, 'bytes'), shorten(long + 'c', 63, 'bytes')]
    expect(a).not.toBe(b)
    for (const name of [a, b]) expect(await one(`SELECT '${name}'::name::text`)).toBe(name)
  })
})

describe('types', () => {
  it('are spelled as the engine spells them, once shortened', async () => {
    for (const { type } of TYPE_CHOICES) {
      const ours = typeText(postgres.types.fromNeutral(type).type)
      await db.exec(`DROP TABLE IF EXISTS t; CREATE TABLE t (c ${ours})`)
      const printed = await one(
        `SELECT format_type(atttypid, atttypmod) FROM pg_attribute WHERE attrelid = 't'::regclass AND attname = 'c'`
      )
      expect(typeText(postgres.types.read(String(printed)))).toBe(ours)
      expect(typeText(postgres.types.read(ours))).toBe(ours)
    }
  })

  it('come back as the neutral type they were made from, where the engine has it', () => {
    for (const { type } of TYPE_CHOICES) {
      const { type: engineType, grade } = postgres.types.fromNeutral(type)
      if (grade === 'exact') expect(postgres.types.toNeutral(engineType)).toEqual(type)
    }
  })

  it.each([
    ['smallint', '32767', '32768'],
    ['integer', '2147483647', '2147483648'],
    ['bigint', '9223372036854775807', '9223372036854775808']
  ])('%s holds %s and no more, as its description says', async (type, most, over) => {
    expect(postgres.types.describe(readType(type)).range.replaceAll(',', '')).toContain(`… ${most}`)
    expect(await one(`SELECT '${most}'::${type}::text`)).toBe(most)
    await expect(db.query(`SELECT '${over}'::${type}`)).rejects.toThrow(/out of range/)
    expect(await one(`SELECT pg_column_size('1'::${type})`)).toBe(Number(postgres.types.describe(readType(type)).bytes))
  })

  it.each(['real', 'double precision', 'boolean', 'date', 'time', 'timestamp', 'timestamptz', 'interval', 'uuid'])(
    '%s takes the bytes it is said to',
    async (type) => {
      const value =
        {
          boolean: 'true',
          date: '2020-01-01',
          time: '10:00',
          timestamp: '2020-01-01',
          timestamptz: '2020-01-01',
          interval: '1 day',
          uuid: '00000000-0000-4000-8000-000000000001'
        }[type] ?? '1'
      expect(await one(`SELECT pg_column_size('${value}'::${type})`)).toBe(
        Number(postgres.types.describe(readType(type)).bytes)
      )
    }
  )

  it('a decimal holds what its description says, and no more', async () => {
    const { range } = postgres.types.describe(readType('numeric(6,2)'))
    expect(range).toBe('±9,999.99')
    expect(await one(`SELECT '9999.99'::numeric(6,2)::text`)).toBe('9999.99')
    await expect(db.query(`SELECT '10000'::numeric(6,2)`)).rejects.toThrow(/overflow/)
  })
})

describe('expressions', () => {
  /** What a person writes; the engine prints each in its own words. */
  const forms: readonly (readonly [column: string, expression: string])[] = [
    ['integer', 'c > 0'],
    ['integer', 'c > -5'],
    ['integer', 'c BETWEEN 1 AND 9'],
    ['integer', 'c NOT BETWEEN 1 AND 9'],
    ['integer', 'c IN (1, 2, 3)'],
    ['integer', 'c IN (1)'],
    ['integer', 'c NOT IN (1, 2)'],
    ['integer', 'c NOT IN (7, 7)'],
    ['text', `c NOT IN ('a')`],
    ['integer', 'c % 2 = 0 OR c IS NULL'],
    ['integer', 'NOT (c = 3 AND c <> 4) OR c >= 10'],
    ['integer', '(c > 0 AND c < 10) OR (c > 20 AND c < 30)'],
    ['integer', 'c + 1 * 2 > 3 - c'],
    ['integer', 'c != 7'],
    ['bigint', 'c IN (1, 9000000000)'],
    ['numeric(8,2)', 'c >= 0 AND c < 999.5'],
    ['numeric(8,2)', 'c >= 0'],
    ['double precision', 'c > 0.5'],
    ['varchar(20)', `c IN ('bulk', 'tanker')`],
    ['varchar(20)', `c = 'bulk'`],
    ['varchar(20)', `c <> ''`],
    ['varchar(20)', `c LIKE 'a%' AND c NOT LIKE '%z'`],
    ['varchar(20)', `c ILIKE 'a%'`],
    ['varchar(20)', `c ~ '^[A-Z]+$'`],
    ['varchar(20)', `lower(c) = c`],
    ['varchar(20)', `char_length(c) BETWEEN 2 AND 5`],
    ['varchar(20)', `c || 'x' <> 'it''s'`],
    ['varchar(20)', `coalesce(c, 'none') <> 'none'`],
    ['text', `c IN ('a', 'b')`],
    ['text', `upper(c) = c`],
    ['char(2)', `c <> 'XX'`],
    ['char(2)', `c IN ('NL', 'PT')`],
    ['boolean', 'c'],
    ['boolean', 'NOT c'],
    ['boolean', 'c IS TRUE'],
    ['boolean', 'c IS NOT FALSE'],
    ['date', `c > '2000-01-01'`],
    ['date', `c > DATE '2000-01-01'`],
    ['date', 'c <= CURRENT_DATE'],
    ['timestamp', `c >= '2000-01-01 00:00:00'`],
    ['timestamptz', 'c < now()'],
    ['timestamptz', 'c < CURRENT_TIMESTAMP'],
    ['integer', 'c IS DISTINCT FROM 3'],
    ['integer', 'c IS NOT DISTINCT FROM 3'],
    ['integer', `CASE WHEN c > 0 THEN c < 10 ELSE c > -10 END`],
    ['integer', 'abs(c) < 100'],
    ['uuid', 'c IS NOT NULL']
  ]

  it.each(forms)('%s: %s is no difference once the engine has printed it', async (type, expression) => {
    await db.exec(`DROP TABLE IF EXISTS t; CREATE TABLE t (c ${type}, CONSTRAINT k CHECK (${expression}))`)
    const printed = String(await one(`SELECT pg_get_expr(conbin, conrelid) FROM pg_constraint WHERE conname = 'k'`))
    expect(compareExpressions(printed, expression, postgres.write.lexis), printed).toBe('equal')
  })

  it('two different expressions are never taken for one', async () => {
    const printed: string[] = []
    for (const [type, expression] of forms) {
      await db.exec(`DROP TABLE IF EXISTS t; CREATE TABLE t (c ${type}, CONSTRAINT k CHECK (${expression}))`)
      printed.push(String(await one(`SELECT pg_get_expr(conbin, conrelid) FROM pg_constraint WHERE conname = 'k'`)))
    }
    const alike = new Set(['now() CURRENT_TIMESTAMP'])
    forms.forEach(([type, expression], i) =>
      printed.forEach((other, j) => {
        const [otherType, written] = forms[j] ?? ['', '']
        if (i === j || type !== otherType || /^c < (now|CURRENT)/.test(expression) || alike.has(written)) return
        if (expression.replace(/DATE /, '') === written.replace(/DATE /, '')) return
        expect(compareExpressions(other, expression, postgres.write.lexis), `${expression} / ${other}`).not.toBe(
          'equal'
        )
      })
    )
  })
})
