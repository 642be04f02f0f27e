// What a plan does first, and what it says may go wrong.
import { describe, expect, it } from 'vitest'
import { column, table, tables as catalog } from '../../../../tests/support/tables'
import { invert, namesOf, type Catalog, type Change, type Column } from '../catalog'
import { compare } from '../compare'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { testingDialect } from '../dialects/testing'
import { plan, stepState } from '.'

const postgres = dialectOf('postgres') as Dialect

function planned(live: Catalog, wanted: Catalog, renames: Change[] = [], dialect = postgres) {
  const confirmed = renames.flatMap((r) =>
    r.action === 'rename'
      ? [
          {
            schema: namesOf(r.address).schema,
            table: namesOf(r.address).table,
            to: r.to,
            ...(r.address.kind === 'column' ? { column: namesOf(r.address).name } : {})
          }
        ]
      : []
  )
  return plan(live, compare({ wanted, live, confirmed }, dialect).changes, dialect)
}
const statements = (live: Catalog, wanted: Catalog, renames: Change[] = []) =>
  planned(live, wanted, renames).steps.map((s) => s.statement)
const rename = (table: string, name: string, to: string): Change => ({
  action: 'rename',
  address: { kind: 'column', path: ['public', table, name] },
  to
})
const hazards = (from: Column, to: Column) =>
  planned(catalog(table('vessel', [from])), catalog(table('vessel', [to]))).steps.flatMap((s) =>
    s.hazards.map((h) => h.kind)
  )

describe('the order of a plan', () => {
  it('swaps two names by way of a third', () => {
    const [a, b] = [
      catalog(table('vessel', [column('x'), column('y', 'text')])),
      catalog(table('vessel', [column('y'), column('x', 'text')]))
    ]
    expect(statements(a, b, [rename('vessel', 'x', 'y'), rename('vessel', 'y', 'x')])).toEqual([
      'ALTER TABLE public.vessel RENAME COLUMN x TO x_t1',
      'ALTER TABLE public.vessel RENAME COLUMN y TO x',
      'ALTER TABLE public.vessel RENAME COLUMN x_t1 TO y'
    ])
  })

  it('removes what holds rows last, but frees a name that is needed first', () => {
    const live = catalog(table('vessel', [column('old'), column('loa', 'text')]), table('tide', [column('height')]))
    const wanted = catalog(table('vessel', [column('loa', 'numeric(6,2)'), column('new')]))
    expect(statements(live, catalog(table('vessel', [column('loa', 'text'), column('new')])))).toEqual([
      'ALTER TABLE public.vessel ADD COLUMN new integer',
      'DROP TABLE public.tide',
      'ALTER TABLE public.vessel DROP COLUMN old'
    ])
    expect(statements(live, wanted, [rename('vessel', 'old', 'loa')]).slice(0, 2)).toEqual([
      'ALTER TABLE public.vessel DROP COLUMN loa',
      'ALTER TABLE public.vessel RENAME COLUMN old TO loa'
    ])
  })

  it('takes keys that stand on a column out of its way, and puts them back', () => {
    const fk = {
      name: 'fk',
      columns: ['vessel'],
      references: { schema: 'public', table: 'vessel', columns: ['code'] },
      onDelete: 'restrict' as const,
      onUpdate: 'no action' as const,
      deferrable: 'no' as const
    }
    const of = (type: string) =>
      catalog(
        table('vessel', [column('code', type, { nullable: false })], { primaryKey: { name: 'pk', columns: ['code'] } }),
        table('visit', [column('vessel', type)], { foreignKeys: [fk] })
      )
    const order = statements(of('text'), of('integer')).map((s) =>
      s.replace(/ALTER TABLE /, '').replace(/ (REFERENCES|USING).*/, '')
    )
    expect(order).toEqual([
      'public.visit DROP CONSTRAINT fk',
      'public.vessel DROP CONSTRAINT pk',
      'public.vessel ALTER COLUMN code TYPE integer',
      'public.visit ALTER COLUMN vessel TYPE integer',
      'public.vessel ADD CONSTRAINT pk PRIMARY KEY (code)',
      'public.visit ADD CONSTRAINT fk FOREIGN KEY (vessel)'
    ])
  })

  it('sets a default aside while its column changes type, and numbers on after the highest number', () => {
    expect(
      statements(
        catalog(table('vessel', [column('x', 'text', { default: "'1'" })])),
        catalog(table('vessel', [column('x', 'integer', { default: '1' })]))
      )
    ).toEqual([
      'ALTER TABLE public.vessel ALTER COLUMN x DROP DEFAULT',
      'ALTER TABLE public.vessel ALTER COLUMN x TYPE integer USING x::integer',
      'ALTER TABLE public.vessel ALTER COLUMN x SET DEFAULT 1'
    ])
    const numbered = statements(
      catalog(table('vessel', [column('id', 'integer', { nullable: false })])),
      catalog(table('vessel', [column('id', 'integer', { nullable: false, identity: 'always' })]))
    )
    expect(numbered[0]).toBe('ALTER TABLE public.vessel ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY')
    expect(numbered[1]).toMatch(
      /^SELECT setval\(pg_get_serial_sequence\('public.vessel', 'id'\), coalesce\(max\(id\), 0\) \+ 1, false\) FROM public.vessel$/
    )
  })

  it('leaves alone what cannot be told', () => {
    const of = (expression: string) =>
      catalog(table('vessel', [column('imo')], { checks: [{ name: 'ck', expression }] }))
    expect(statements(of('imo > 5'), of('imo::bigint > 5'))).toEqual([])
  })

  it('puts each statement in a group of its own where every one commits', () => {
    const of = (...names: string[]): Catalog => ({
      engine: 'testing',
      defaultSchema: 'MAIN',
      unread: [],
      tables: [
        {
          ...table(
            'VESSEL',
            names.map((n) => column(n))
          ),
          schema: 'MAIN'
        }
      ]
    })
    const { steps } = planned(of('A'), of('A', 'B', 'C'), [], testingDialect())
    expect(steps.map((s) => s.group)).toEqual([...new Set(steps.map((s) => s.group))])
  })
})

describe('what a step says', () => {
  it.each([
    [column('x', 'varchar(20)'), column('x', 'varchar(40)'), []],
    [column('x', 'varchar(20)'), column('x', 'text'), []],
    [column('x', 'varchar(40)'), column('x', 'varchar(20)'), ['may fail', 'rewrites table']],
    [column('x', 'integer'), column('x', 'bigint'), ['rewrites table']],
    [column('x', 'bigint'), column('x', 'integer'), ['may fail', 'rewrites table']],
    [column('x', 'numeric(8,2)'), column('x', 'numeric(10,2)'), []],
    [column('x', 'numeric(8,2)'), column('x', 'numeric(8,1)'), ['loses data', 'rewrites table']],
    [column('x', 'timestamp'), column('x', 'date'), ['loses data', 'rewrites table']],
    [column('x', 'date'), column('x', 'uuid'), ['loses data', 'cannot be undone']],
    [column('x'), column('x', 'integer', { nullable: false }), ['may fail']],
    [column('x', 'integer', { nullable: false }), column('x'), []]
  ])('of %o to %o', (from, to, kinds) => {
    expect(hazards(from, to)).toEqual(kinds)
  })

  it('counts beforehand, on columns that are needed and on keys that are new', () => {
    const live = catalog(table('vessel', [column('imo')]))
    const wanted = catalog(
      table('vessel', [column('imo', 'integer', { nullable: false })], { uniques: [{ name: 'uq', columns: ['imo'] }] })
    )
    expect(planned(live, wanted).steps.map((s) => s.preflight?.count)).toEqual([
      'SELECT count(*) AS n FROM public.vessel WHERE imo IS NULL',
      'SELECT count(*) AS n FROM (SELECT imo, count(*) AS copies FROM public.vessel WHERE imo IS NOT NULL GROUP BY imo HAVING count(*) > 1) twice'
    ])
  })

  it('says nothing of the rows of a table that it makes itself', () => {
    const { steps } = planned(
      catalog(),
      catalog(
        table('vessel', [column('imo')], {
          indexes: [{ name: 'ix', unique: true, parts: [{ column: 'imo', descending: false }] }]
        })
      )
    )
    expect(steps.flatMap((s) => s.hazards)).toEqual([])
  })

  it('has a way back, and so has the whole', () => {
    const [a, b] = [
      catalog(table('vessel', [column('imo')])),
      catalog(table('vessel', [column('imo'), column('loa')]), table('tide', [column('height')]))
    ]
    const there = planned(a, b)
    expect(there.steps.map((s) => s.undo)).toEqual([
      ['DROP TABLE public.tide'],
      ['ALTER TABLE public.vessel DROP COLUMN loa']
    ])
    const changes = compare({ wanted: b, live: a }, postgres).changes
    expect(plan(there.to, invert(changes), postgres).steps.map((s) => s.statement)).toEqual([
      'DROP TABLE public.tide',
      'ALTER TABLE public.vessel DROP COLUMN loa'
    ])
  })

  it('is done, to do or unknown by what the database shows', () => {
    const [a, b] = [
      catalog(table('vessel', [column('x', 'integer')])),
      catalog(table('vessel', [column('x', 'bigint')]))
    ]
    const [step] = planned(a, b).steps
    if (!step) throw new Error('there is a step')
    expect(stepState(step, a, postgres)).toBe('to do')
    expect(stepState(step, b, postgres)).toBe('done')
    expect(stepState(step, catalog(table('vessel', [column('x', 'text')])), postgres)).toBe('unknown')
    expect(stepState(step, catalog(), postgres)).toBe('unknown')
  })
})
