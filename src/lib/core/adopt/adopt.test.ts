// A database brought in is a design and a target that want just what was there, whatever it was.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { catalogs, withOrigins } from '../../../../tests/support/catalogs'
import { column, table, tables } from '../../../../tests/support/tables'
import { canonical, readType, type Catalog, type Sequence } from '../catalog'
import { compare } from '../compare'
import { derive, readDesign } from '../derive'
import { edit, printDesign, type Design } from '../design'
import { dialect as dialectOf, ENGINES, type Dialect } from '../dialects'
import { testingDialect } from '../dialects/testing'
import { printType } from '../types'
import { adopt } from '.'

const known = ENGINES.flatMap(({ id }) => dialectOf(id) ?? [])
const postgres = dialectOf('postgres') as Dialect
const brought = (catalog: Catalog, dialect: Dialect, more: Partial<Parameters<typeof adopt>[2]> = {}) =>
  adopt(catalog, dialect, { name: 'Harbour', target: 'there', ...more })
/** Columns of all tables that are called alike, whatever they are. */
const calledAlike = ({ tables }: Catalog) =>
  [...new Set(tables.flatMap((table) => table.columns.map(({ name }) => name)))].map((name) => ({
    name: `Domain of ${name}`,
    columns: tables.flatMap((table) =>
      table.columns.some((column) => column.name === name)
        ? [{ schema: table.schema, name: table.name, column: name }]
        : []
    )
  }))
/** Words that the random catalogues' names are made of, some of them both short and long. */
const someAbbreviations = fc.subarray(
  [
    ['vessel', 'ship'],
    ['at', 'moment'],
    ['code', 'sign'],
    ['sign', 'code'],
    ['worked', 'vessel'],
    ['fk', 'link']
  ] as const,
  { minLength: 0 }
)
const entityCalled = (design: Design, name: string) => Object.values(design.entities).find((e) => e.name === name)

describe.each([...known, testingDialect()].map((dialect) => [dialect.profile.label, dialect] as const))(
  'a database of %s',
  (_, dialect) => {
    it('is the same again by way of a design file, to the last word', () => {
      fc.assert(
        fc.property(
          catalogs(dialect),
          someAbbreviations,
          fc.boolean(),
          ({ partial: _partial, ...catalog }, short, alike) => {
            const { design, target, left } = brought(catalog, dialect, {
              abbreviations: Object.fromEntries(short),
              domains: alike ? calledAlike(catalog) : []
            })
            expect(left).toEqual([])
            const file = readDesign(printDesign(design))
            if (!file.ok) throw new Error(file.notices.map((n) => n.message).join('\n'))
            const read = file.value.targets[target.id] ?? target
            const { partial: _p, ...wanted } = derive(file.value, read, dialect).catalog
            expect(compare({ wanted, live: catalog }, dialect).changes).toEqual([])
            expect(canonical(wanted)).toEqual(canonical(catalog))
          }
        ),
        { numRuns: 60 }
      )
    })
  }
)

describe('what a column means', () => {
  const vessel = table(
    'vessel',
    [
      {
        ...column('id'),
        nullable: false,
        default: "nextval('vessel_id_seq'::regclass)",
        refs: [{ to: { kind: 'sequence', path: ['public', 'vessel_id_seq'] } }]
      },
      column('name', 'varchar(80)', { nullable: false, default: "'nameless'::character varying" }),
      column('state', 'public.state', { default: "'due'::public.state" }),
      column('draught', 'public.metres'),
      column('host', 'inet'),
      column('seen_at', 'timestamptz', { default: 'now()' }),
      column('tags', 'text[]')
    ],
    { primaryKey: { name: 'vessel_pkey', columns: ['id'] } }
  )
  const visit = table(
    'visit',
    [column('id'), column('vessel_id', 'integer', { nullable: false }), column('pilot', 'integer')],
    {
      foreignKeys: [
        {
          name: 'visit_vessel_id_fkey',
          columns: ['vessel_id'],
          references: { schema: 'public', table: 'vessel', columns: ['id'] },
          onDelete: 'cascade',
          onUpdate: 'no action',
          deferrable: 'no'
        }
      ]
    }
  )
  const sequence: Sequence = {
    schema: 'public',
    name: 'vessel_id_seq',
    ownedBy: { schema: 'public', table: 'vessel', column: 'id' }
  }
  const catalog: Catalog = {
    ...tables(vessel, visit),
    sequences: [sequence],
    types: [
      { schema: 'public', name: 'state', form: 'enum', values: ['due', 'in port'] },
      { schema: 'public', name: 'metres', form: 'domain', base: readType('numeric(6,2)') }
    ]
  }
  const { design, target, left } = brought(catalog, postgres)

  it('is said for every engine; how this one has it is said by its target', () => {
    expect(left).toEqual([])
    const made = entityCalled(design, 'Vessel')
    expect(made?.attributes.map((a) => [a.name, printType(a.type), a.default])).toEqual([
      ['name', 'text(80)', '"nameless"'],
      ['state', 'one of (due, in port)', '"due"'],
      ['draught', 'decimal(6,2)', undefined],
      ['host', 'text', undefined],
      ['seen at', 'timestamp with zone', 'now'],
      ['tags', 'list of text', undefined]
    ])
    // It is numbered by the engine, and by every other.
    expect(made?.primaryKey).toEqual([])
    const [link] = Object.values(design.links)
    expect(link).toMatchObject({ parent: made?.id, onDelete: 'cascade', parentRequired: true })
    // The link brings the column; the other one is a column like any.
    expect(entityCalled(design, 'Visit')?.attributes.map((a) => a.name)).toEqual(['id', 'pilot'])
    expect(target.extras?.map(({ kind }) => kind).sort()).toEqual(['sequence', 'type', 'type'])
  })

  it.each(known.map((dialect) => [dialect.profile.label, dialect] as const))(
    'is a script without an error: %s',
    (_label, dialect) => {
      const other = { ...target, id: 'other', engine: dialect.profile.id, departures: [], extras: [] }
      const { notices } = derive(design, other, dialect)
      expect(notices.filter(({ severity }) => severity === 'error')).toEqual([])
    }
  )

  it.each([
    [
      "((kind)::text = ANY ((ARRAY['bulk'::character varying, 'tanker'::character varying])::text[]))",
      "((kind) IN ('bulk', 'tanker'))"
    ],
    ["(level > '-1'::integer)", '(level > -1)'],
    ["(at < ('now'::text)::timestamp(3) without time zone)", "(at < ('now'))"],
    ['(tags && ARRAY[1, 2])', '(tags && ARRAY[1, 2])']
  ])('%s is %s for others', (printed, plain) => {
    expect(postgres.plain?.(printed)).toBe(plain)
  })

  it('comes first: what the design says otherwise from then on is so in the target too', () => {
    const host = entityCalled(design, 'Vessel')?.attributes.find((a) => a.name === 'host')
    const owner = entityCalled(design, 'Vessel')
    if (!host || !owner) throw new Error('It is there')
    const changed = edit(design, {
      kind: 'attribute.set',
      entity: owner.id,
      id: host.id,
      set: { type: { kind: 'big' } }
    })
    const made = derive(changed, target, postgres).catalog.tables.find((t) => t.name === 'vessel')
    expect(made?.columns.find((c) => c.name === 'host')?.type).toEqual({ name: 'bigint' })
    expect(made?.columns.find((c) => c.name === 'tags')?.type).toEqual(readType('text[]'))
  })
})

it('takes time as the number of tables', () => {
  const many = (count: number): Catalog =>
    tables(
      ...Array.from({ length: count }, (_, i) =>
        table(`buoy_${i}`, [column('id', 'integer', { nullable: false }), column('host', 'inet')], {
          primaryKey: { name: `pk_${i}`, columns: ['id'] }
        })
      )
    )
  const { design, left } = brought(withOrigins(many(1500)), postgres)
  expect(left).toEqual([])
  expect(Object.keys(design.entities)).toHaveLength(1500)
}, 20_000)

it('a domain of the database is one of the design, and so is what somebody groups', () => {
  const metres = column('draught', 'public.metres')
  const catalog: Catalog = {
    ...tables(
      table('vessel', [metres, { ...metres, name: 'length' }, column('remark', 'varchar(200)')]),
      table('berth', [{ ...metres, name: 'depth' }, column('remark', 'varchar(200)'), column('note', 'text')])
    ),
    types: [
      { schema: 'public', name: 'metres', form: 'domain', base: readType('numeric(5,2)'), comment: 'above the chart' }
    ]
  }
  const remarks = ['vessel', 'berth'].map((name) => ({ schema: 'public', name, column: 'remark' }))
  const odd = { schema: 'public', name: 'berth', column: 'note' }
  const { design, left } = brought(catalog, postgres, { domains: [{ name: 'Remark', columns: [...remarks, odd] }] })
  expect(left).toEqual([])
  const said = Object.values(design.domains).map(({ id, name, type, means }) => [
    `${name}: ${printType(type)}`,
    means,
    Object.values(design.entities).flatMap((entity) =>
      entity.attributes.flatMap((a) => (a.domain === id ? [`${entity.name}.${a.name}`] : []))
    )
  ])
  expect(said).toEqual([
    ['Metres: decimal(5,2)', 'above the chart', ['Vessel.draught', 'Vessel.length', 'Berth.depth']],
    // What is of another type is not of it.
    ['Remark: text(200)', undefined, ['Vessel.remark', 'Berth.remark']]
  ])
  // They follow it, in every engine.
  const [domain] = Object.values(design.domains)
  if (!domain) throw new Error('There is a domain')
  const wider = edit(design, {
    kind: 'object.set',
    collection: 'domains',
    object: { ...domain, type: { kind: 'decimal', precision: 7, scale: 3 } }
  })
  for (const { id } of ENGINES) {
    const engine = dialectOf(id) as Dialect
    const there = derive(wider, { subtypeTables: {}, schemas: {} }, engine).catalog.tables
    const types = there.flatMap((t) =>
      t.columns.filter(({ name }) => /draught|depth/i.test(name)).map((c) => c.type.args)
    )
    // As the engine writes it: not each says how many digits.
    const { args } = engine.types.fromNeutral({ kind: 'decimal', precision: 7, scale: 3 }).type
    expect(types).toEqual([args, args])
  }
})

describe('the number that the engine gives', () => {
  const numbered = { ...column('id', 'integer'), nullable: false, identity: 'by default' as const }
  const berth = table('berth', [numbered, { ...column('basin', 'integer'), nullable: false }], {
    primaryKey: { name: 'berth_pkey', columns: ['id'] },
    uniques: [{ name: 'berth_in_basin', columns: ['id', 'basin'] }],
    indexes: [
      {
        name: 'berth_of_basin',
        unique: false,
        parts: [
          { column: 'basin', descending: true },
          { column: 'id', descending: false }
        ]
      }
    ]
  })
  const visit = table('visit', [column('berth', 'integer'), column('basin', 'integer')], {
    foreignKeys: [
      {
        name: 'visit_berth',
        columns: ['berth', 'basin'],
        references: { schema: 'public', table: 'berth', columns: ['id', 'basin'] },
        onDelete: 'no action',
        onUpdate: 'no action',
        deferrable: 'no'
      }
    ]
  })
  const { design, target } = brought(tables(visit, berth), postgres)

  it('is part of keys and indexes, and of what a link refers to', () => {
    expect(target.extras).toEqual([])
    expect(Object.values(design.links)).toMatchObject([
      { parentKey: expect.any(String), columns: { '#': expect.any(String) } }
    ])
  })

  it('takes them with it when rows are told apart otherwise, instead of making them narrower', () => {
    const { id = '', attributes = [] } = entityCalled(design, 'Berth') ?? {}
    const primaryKey = attributes.filter(({ name }) => name === 'basin').map((attribute) => attribute.id)
    const keyed = edit(design, { kind: 'entity.set', id, set: { primaryKey } })
    const { catalog, notices } = derive(keyed, target, postgres)
    expect(catalog.tables.find(({ name }) => name === 'berth')).toMatchObject({ uniques: [], indexes: [] })
    expect(catalog.tables.flatMap(({ foreignKeys }) => foreignKeys)).toEqual([])
    expect(notices.filter(({ code }) => code === 'no-identifier')).toHaveLength(2)
  })
})
