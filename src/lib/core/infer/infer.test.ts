// Links, keys and indexes that a database leaves unsaid: what is told of names and types, and that a design which takes them
// leaves the database as it is.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { catalogs } from '../../../../tests/support/catalogs'
import { throughDesign } from '../../../../tests/support/adopted'
import { column, table, tables } from '../../../../tests/support/tables'
import { canonical, sameValue, typeText } from '../catalog'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { accepted, besideTheModel, catalogOfRows, isGuess, likelyAbbreviations, suggestions, withSuggestions } from '.'

const postgres = dialectOf('postgres') as Dialect
const key = (name: string, ...columns: string[]) => ({ primaryKey: { name, columns } })
const there = { nullable: false }
const id = column('id', 'integer', there)
const told = (list: ReturnType<typeof suggestions>, kind: string) =>
  list.filter((suggestion) => suggestion.kind === kind).map(({ says, usual }) => `${says}${usual ? '' : ' ?'}`)

describe('what a database leaves unsaid', () => {
  it('is told by names, types and the keys that there are', () => {
    const harbour = tables(
      table('vessels', [id, column('name', 'varchar(80)')], key('vessels_pk', 'id')),
      table(
        'berth',
        [column('berth_code', 'varchar(8)', there), column('quay', 'varchar(40)')],
        key('berth_pk', 'berth_code')
      ),
      table(
        'visit',
        [
          id,
          column('vessel_id', 'bigint'),
          column('berth_code', 'varchar(8)'),
          column('previous_berth_code', 'varchar(8)'),
          column('tug_vessel_id', 'integer'),
          // Another type; and a word that leads nowhere.
          column('pilot_vessel_id', 'timestamptz'),
          column('remark_id', 'integer'),
          column('parent_id', 'integer')
        ],
        key('visit_pk', 'id')
      )
    )
    const found = suggestions(harbour, postgres)
    expect(told(found, 'link')).toEqual([
      'visit.vessel_id → vessels.id',
      'visit.berth_code → berth.berth_code',
      'visit.previous_berth_code → berth.berth_code',
      'visit.tug_vessel_id → vessels.id',
      'visit.parent_id → visit.id ?'
    ])
    const with_ = withSuggestions(harbour, found, postgres)
    expect(with_.tables.at(-1)?.foreignKeys).toHaveLength(5)
    expect(told(suggestions(with_, postgres), 'link')).toEqual([])
  })

  it('is a key where something tells rows apart, and an index where a foreign key has none', () => {
    const berth = table('berth', [column('code', 'varchar(8)', there), column('quay', 'text', there)], {
      uniques: [{ name: 'berth_once', columns: ['code'] }]
    })
    const visit = table('visit', [id, column('berth', 'varchar(8)'), column('quay', 'text')], {
      foreignKeys: [
        {
          name: 'at',
          columns: ['berth'],
          references: { schema: 'public', table: 'berth', columns: ['code'] },
          onDelete: 'no action',
          onUpdate: 'no action',
          deferrable: 'no'
        }
      ]
    })
    const notes = table('notes', [column('said', 'text')])
    const found = suggestions(tables(berth, visit, notes), postgres)
    expect(told(found, 'key')).toEqual(['berth (code) ?', 'berth (quay) ?', 'visit (id) ?'])
    expect(found.filter(isGuess).map(({ says }) => says)).toEqual(['berth (quay)'])
    // Of several keys for a table, one is taken.
    const keys = accepted(found.filter(({ kind }) => kind === 'key')).also
    expect(keys.map(({ address }) => address.path.join('.'))).toEqual([
      'public.berth.pk_berth',
      'public.visit.pk_visit'
    ])
    expect(told(found, 'index')).toEqual(['visit (berth) ?'])
  })

  it('is for the design to say: what was brought in is wanted as it is', () => {
    fc.assert(
      fc.property(catalogs(postgres), ({ partial: _partial, ...catalog }) => {
        const bare = { ...catalog, tables: catalog.tables.map((t) => ({ ...t, foreignKeys: [] })) }
        const found = suggestions(bare, postgres)
        const { also } = accepted(found)
        const { partial: _p, ...wanted } = throughDesign(bare, postgres, also)
        expect(sameValue(canonical(wanted), canonical(bare))).toBe(true)
      }),
      { numRuns: 60 }
    )
  })
})

describe('rows as text', () => {
  it('tell what their columns hold, which may be empty, and what tells rows apart', () => {
    const rows = [
      ['imo', 'name', 'flag', 'tons', 'built', 'afloat', 'seen at', 'berth', '', 'note'],
      ['9074729', 'Grey Heron', 'NO', '412.50', '1994-03-01', 'yes', '2026-11-01T06:30', '007', 'x', ''],
      ['9074730', 'Curlew', '', '98.1', '2001-10-12', 'no', '2026-11-02 07:00:10', '012', '', '']
    ]
    const { tables: found } = catalogOfRows(
      [
        { name: 'vessels', rows },
        { name: 'pilots', rows: [] }
      ],
      postgres
    )
    expect(
      found[0]?.columns.map(({ name, type, nullable }) => `${name} ${typeText(type)}${nullable ? '?' : ''}`)
    ).toEqual([
      'imo integer',
      'name varchar(20)',
      'flag varchar(8)?',
      'tons numeric(7,2)',
      'built date',
      'afloat boolean',
      'seen at timestamp',
      'berth varchar(8)',
      'note text?'
    ])
    expect(found[0]?.primaryKey?.columns).toEqual(['imo'])
    expect(found[1]).toMatchObject({ name: 'pilots', columns: [] })
  })

  it('are of a type that each of them is a value of, whatever they are', () => {
    const field = fc.oneof(
      fc.string(),
      fc.integer().map(String),
      fc.double({ noNaN: true }).map(String),
      fc.constantFrom('', 'yes', '2026-01-02', '12:30')
    )
    fc.assert(
      fc.property(fc.array(field, { minLength: 1, maxLength: 12 }), (values) => {
        const {
          tables: [made]
        } = catalogOfRows([{ name: 't', rows: [['c'], ...values.map((value) => [value])] }], postgres)
        const [first] = made?.columns ?? []
        const { kind, length } = (first ? postgres.types.toNeutral(first.type) : { kind: 'none' }) as {
          kind: string
          length?: number
        }
        const said = values.map((value) => value.trim()).filter((value) => value !== '')
        expect(first?.nullable).toBe(said.length < values.length)
        if (kind === 'text' && length !== undefined)
          for (const value of said) expect([...value].length).toBeLessThanOrEqual(length)
        if (kind === 'integer')
          for (const value of said) expect(Math.abs(Number(value))).toBeLessThanOrEqual(2_147_483_647)
      })
    )
  })
})

describe('what is not the database’s own', () => {
  const beside = (...list: Parameters<typeof tables>) => besideTheModel(tables(...list)).map(({ table }) => table.name)
  const step = [column('version', 'text', there), column('applied_at', 'timestamp')]

  it('is told by what it is called, where nothing links to it', () => {
    for (const name of [
      'schema_migrations',
      'harbour_migration',
      'version',
      'DbVersion',
      '_migrations_lock',
      'schema_info'
    ])
      expect(beside(table(name, step))).toEqual([name])
    for (const name of ['inspection_version', 'migrations_of_birds', 'visit_history', 'vessel_info'])
      expect(beside(table(name, step))).toEqual([])
    const log = table('log', [column('version', 'text')], {
      foreignKeys: [
        {
          name: 'fk',
          columns: ['version'],
          references: { schema: 'public', table: 'version', columns: ['version'] },
          onDelete: 'no action',
          onUpdate: 'no action',
          deferrable: 'no'
        }
      ]
    })
    expect(beside(table('version', step), log)).toEqual([])
  })

  it('is what another table makes for itself', () => {
    const read = dialectOf('sqlite')?.readScript?.(
      'CREATE VIRTUAL TABLE notes USING fts5(text); CREATE TABLE notes_more (id);'
    )
    expect(
      read &&
        besideTheModel(read.catalog)
          .map(({ table }) => table.name)
          .sort()
    ).toEqual(['notes_config', 'notes_content', 'notes_data', 'notes_docsize', 'notes_idx'])
  })
})

it('short words are found in names, where it is plain what they stand for', () => {
  const found = likelyAbbreviations(
    tables(
      table('vssl_visit', [column('arr_dt'), column('berth_qty'), column('pos')]),
      table('vessel', [column('max_wgt'), column('qty'), column('wght')]),
      table('cargo', [column('weight'), column('wight')])
    )
  )
  expect(found.map(({ short, long, count, sure }) => `${short} ${long} ${count}${sure < 0.9 ? ' ?' : ''}`)).toEqual([
    'qty quantity 2',
    'dt date 1',
    'max maximum 1 ?',
    'pos position 1 ?',
    'vssl vessel 1 ?',
    'wgt weight 1'
  ])
})

it('columns that are called alike and of one type are a domain, unless they say nothing or lead somewhere', () => {
  const remark = column('remark', 'varchar(200)')
  const found = suggestions(
    tables(
      table('vessel', [id, remark, column('landing_fee', 'numeric(9,2)'), column('name', 'varchar(80)')]),
      table('berth', [id, remark, column('mooring_fee', 'numeric(9,2)'), column('name', 'varchar(80)')]),
      table('visit', [
        id,
        remark,
        column('fee', 'numeric(9,2)'),
        column('fee_waived', 'boolean'),
        column('at', 'date')
      ]),
      table('pilot', [id, column('remark', 'varchar(80)'), column('name', 'varchar(80)'), column('at', 'date')])
    ),
    postgres
  ).filter(({ kind }) => kind === 'domain')
  expect(found.map(({ says, domain }) => [says, domain?.columns.length])).toEqual([
    ['Remark: text(200)', 3],
    ['Fee: decimal(9,2)', 3]
  ])
})
