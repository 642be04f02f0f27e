// Who changed what, and what stays agreed: by example, and as laws over random states.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { asRenamed, catalogs, withOrigins } from '../../../../tests/support/catalogs'
import { column, table, tables } from '../../../../tests/support/tables'
import { addressKey, namesOf, typeText, type Change, type DataType } from '../catalog'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { testingDialect } from '../dialects/testing'
import { agree, baseline, compare } from '.'

const postgres = dialectOf('postgres') as Dialect
const engines = [postgres, dialectOf('firebird', '3.0') as Dialect, testingDialect()].map(
  (dialect) => [dialect.profile.label, dialect] as const
)

const vessel = (...columns: Parameters<typeof table>[1]) => tables(table('vessel', columns, { origin: 'vessel' }))
const who = (input: Parameters<typeof compare>[0]) =>
  Object.fromEntries(
    compare(input, postgres).differences.map(({ change, who, agreed }) => [
      `${change.action} ${namesOf(change.address).name}${change.action === 'alter' ? ` ${change.property}` : ''}`,
      change.action === 'rename'
        ? [who, agreed]
        : change.action === 'alter' && agreed !== undefined
          ? [who, typeText(agreed as DataType)]
          : who
    ])
  )

describe('who changed a thing', () => {
  const imo = column('imo', 'integer', { origin: 'imo' })
  const agreed = vessel(imo, column('name', 'text', { origin: 'name' }))

  it('the design, where the database still has what was agreed', () => {
    expect(
      who({ agreed, live: agreed, wanted: vessel(imo, column('name', 'varchar(90)', { origin: 'name' })) })
    ).toEqual({
      'alter name type': ['design', 'text']
    })
    expect(who({ agreed, live: agreed, wanted: vessel(imo) })).toEqual({ 'drop name': 'design' })
    expect(who({ agreed, live: agreed, wanted: vessel(imo, column('title', 'text', { origin: 'name' })) })).toEqual({
      'rename name': ['design', 'name']
    })
  })

  it('the database, where the design still wants what was agreed', () => {
    expect(who({ agreed, wanted: agreed, live: vessel(imo, column('name', 'varchar(90)')) })).toEqual({
      'alter name type': ['database', 'text']
    })
    expect(who({ agreed, wanted: agreed, live: vessel(imo) })).toEqual({ 'create name': 'database' })
    const more = tables(...agreed.tables, table('tide', [column('height')]))
    expect(who({ agreed, wanted: agreed, live: more })).toEqual({ 'drop tide': 'database' })
  })

  it('both, where neither kept to it', () => {
    expect(
      who({
        agreed,
        wanted: vessel(imo, column('name', 'varchar(90)', { origin: 'name' })),
        live: vessel(imo, column('name', 'varchar(40)'))
      })
    ).toEqual({ 'alter name type': ['both', 'text'] })
    expect(who({ agreed, wanted: vessel(imo), live: vessel(imo, column('name', 'varchar(40)')) })).toEqual({
      'drop name': 'both'
    })
  })

  it('nobody knows, where the two never agreed', () => {
    expect(who({ wanted: vessel(imo), live: agreed })).toEqual({ 'drop name': 'not known' })
  })

  it('is told in one name for all three sides', () => {
    const key = (...columns: string[]) => ({ uniques: [{ name: 'uq', columns }], origin: 'vessel' })
    const is = (name: string, ...columns: string[]) =>
      tables(table('vessel', [imo, column(name, 'text', { origin: 'name' })], key(...columns)))
    expect(
      who({ agreed: is('name', 'imo', 'name'), live: is('name', 'imo', 'name'), wanted: is('title', 'imo', 'title') })
    ).toEqual({ 'rename name': ['design', 'name'] })
  })
})

describe.each(engines)('%s', (_, dialect) => {
  /** What was agreed, what the design has made of it, and what happened to the database meanwhile. */
  const threes = fc
    .tuple(catalogs(dialect), catalogs(dialect), catalogs(dialect), fc.nat(4), fc.boolean(), fc.nat(2))
    .map(([a, b, c, shift, renaming, still]) => {
      const agreed = withOrigins(a)
      // Names that move about on both sides at once may leave no name for what was agreed: only one side renames here.
      const wanted = still === 1 ? agreed : still === 2 && renaming ? asRenamed(b, agreed, shift) : b
      return { agreed, wanted, live: still === 2 ? a : c }
    })
  const cases = { numRuns: 300 }

  it('what was agreed stays agreed until both sides are alike: who changed what is told the same next time', () => {
    fc.assert(
      fc.property(threes, (input) => {
        const first = compare(input, dialect)
        const agreed = agree(input, first.changes, dialect)
        // A key or check that is missing may be judged anew once the columns it stood on are gone on both sides.
        // The comment of a table that is newly agreed on has no place to be left open.
        const stands = ({ action, address: { kind } }: Change) =>
          kind === 'table' ? action !== 'alter' : kind === 'column' || action === 'alter'
        const whose = (found: typeof first) =>
          found.differences.filter((d) => stands(d.change)).map((d) => [d.key, d.who])
        expect(whose(compare({ ...input, agreed }, dialect))).toEqual(whose(first))
      }),
      cases
    )
  })

  it('a database that nobody touched has changes of the design alone, and a design that nobody touched none', () => {
    fc.assert(
      fc.property(threes, ({ agreed, wanted, live }) => {
        for (const { who } of compare({ agreed, wanted, live: agreed }, dialect).differences) expect(who).toBe('design')
        for (const { who, change } of compare({ agreed, wanted: agreed, live }, dialect).differences)
          expect(who, change.action).not.toBe('design')
      }),
      cases
    )
  })

  it('a baseline makes every difference the design’s, but for strangers', () => {
    fc.assert(
      fc.property(threes, ({ wanted: raw, live }) => {
        const wanted = withOrigins(raw)
        const { changes } = compare({ wanted, live }, dialect)
        const agreed = baseline({ wanted, live }, changes, dialect)
        const place = ({ address }: Change) => addressKey(address)
        const made = new Set(changes.filter((change) => change.action === 'create').map(place))
        for (const { who, change } of compare({ agreed, wanted, live }, dialect).differences)
          expect(who).toBe(change.action === 'drop' && !made.has(place(change)) ? 'database' : 'design')
      }),
      cases
    )
  })
})
