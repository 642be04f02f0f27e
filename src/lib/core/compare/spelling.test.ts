// Names that differ by nothing but their case, where an engine does not tell them apart and where it does.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { asRenamed, catalogs, inOtherCase, withOrigins } from '../../../../tests/support/catalogs'
import { column, table } from '../../../../tests/support/tables'
import type { Catalog } from '../catalog'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { asSpelled, compare } from '.'

const sqlite = dialectOf('sqlite') as Dialect
const mariadb = dialectOf('mariadb') as Dialect
const postgres = dialectOf('postgres') as Dialect
const pattern = fc.array(fc.boolean(), { minLength: 3, maxLength: 9 })

const of = (dialect: Dialect, ...tables: Catalog['tables']): Catalog => ({
  engine: dialect.profile.id,
  defaultSchema: dialect.profile.defaultSchema,
  tables: tables.map((t) => ({ ...t, schema: dialect.profile.defaultSchema })),
  unread: []
})
const small = table('vessel', [column('imo'), column('loa')], {
  checks: [{ name: 'ck_loa', expression: 'loa > 0' }],
  indexes: [{ name: 'ix_loa', unique: false, parts: [{ column: 'loa', descending: false }] }]
})
const large = table('Vessel', [column('IMO'), column('LOA')], {
  checks: [{ name: 'CK_loa', expression: 'Loa > 0' }],
  indexes: [{ name: 'IX_loa', unique: false, parts: [{ column: 'LOA', descending: false }] }]
})

describe('a name in another case', () => {
  it.each([sqlite, mariadb])('is the same name, and takes the database’s spelling: $profile.label', (dialect) => {
    fc.assert(
      fc.property(catalogs(dialect), pattern, fc.boolean(), (wanted, upper, known) => {
        const live = inOtherCase(wanted, upper, dialect)
        const agreed = known ? withOrigins(live) : undefined
        const spelled = asSpelled(
          { wanted: known ? asRenamed(wanted, withOrigins(live), 0) : wanted, live, agreed },
          dialect
        )
        const { changes } = compare({ wanted: spelled, live, agreed }, dialect)
        expect(changes.filter((c) => c.action !== 'alter' || c.certain)).toEqual([])
        expect(asSpelled({ wanted: spelled, live, agreed }, dialect)).toEqual(spelled)
      }),
      { numRuns: 200 }
    )
  })

  it('is another name where the engine tells the two apart', () => {
    const input = { wanted: of(postgres, small), live: of(postgres, large) }
    expect(asSpelled(input, postgres)).toBe(input.wanted)
    expect(compare(input, postgres).changes.map(({ action }) => action)).toEqual(['drop', 'create'])
  })

  it('is one of a table in MariaDB, but of what is in it', () => {
    const input = { wanted: of(mariadb, small), live: of(mariadb, { ...large, name: 'vessel' }) }
    expect(compare({ ...input, wanted: asSpelled(input, mariadb) }, mariadb).changes).toEqual([])
    const other = { ...input, live: of(mariadb, large) }
    expect(asSpelled(other, mariadb).tables[0]?.name).toBe('vessel')
  })

  it('stays a new name where more than its case is new', () => {
    const both = (vessel: string, imo: string, loa: string) =>
      of(
        sqlite,
        table(vessel, [column(imo, 'integer', { origin: 'a' }), column(loa, 'integer', { origin: 'b' })], {
          origin: 'e'
        })
      )
    const [live, agreed] = [of(sqlite, large), both('Vessel', 'IMO', 'LOA')]
    const named = both('vessel', 'imo', 'length')
    const spelled = asSpelled({ wanted: named, live, agreed }, sqlite)
    expect(spelled.tables[0]?.columns.map(({ name }) => name)).toEqual(['IMO', 'length'])
    const renames = compare({ wanted: spelled, live, agreed }, sqlite).changes.filter((c) => c.action === 'rename')
    expect(renames).toMatchObject([{ address: { path: ['main', 'Vessel', 'LOA'] }, to: 'length' }])
  })
})

it('a name that a rule has counted stays, when something else comes to have a claim on it', () => {
  const index = (name: string, id: string) => ({
    name,
    unique: false,
    parts: [{ column: 'imo', descending: false }],
    origin: { id, part: 'index' }
  })
  const other = table('vessel', [column('imo')], { origin: 'v', indexes: [index('ix_a', 'i1')] })
  const agreed = of(postgres, other)
  const wanted = of(
    postgres,
    table('aaa', [column('imo')], { origin: 'a', indexes: [index('ix_a', 'i2')] }),
    table('vessel', [column('imo')], { origin: 'v', indexes: [index('ix_a_2', 'i1')] })
  )
  const spelled = asSpelled({ wanted, live: agreed, agreed }, postgres)
  expect(spelled.tables.map((t) => t.indexes[0]?.name)).toEqual(['ix_a_2', 'ix_a'])
  expect(compare({ wanted: spelled, live: agreed, agreed }, postgres).changes.map((c) => c.action)).toEqual(['create'])
})

it('a counted name in one table moves no key of the same name in another, where an engine keeps names within a table', () => {
  const keyed = (name: string, key: string) =>
    table(name, [column('id')], { primaryKey: { name: key, columns: ['id'] } })
  const live = of(sqlite, keyed('berth', 'unnamed_3'), keyed('quay', 'unnamed_3'))
  const wanted = of(sqlite, keyed('berth', 'unnamed_2'), keyed('quay', 'unnamed_3'))
  expect(asSpelled({ wanted, live }, sqlite)).toEqual(live)
})
