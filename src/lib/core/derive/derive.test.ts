// From designs to tables: facts about links, keys, subtypes and names.
import { writeScript } from '../plan'
import { describe, expect, it } from 'vitest'
import { builder } from '../../../../demo/build'
import { harbour } from '../../../../demo/harbour'
import { typeText } from '../catalog'
import { edit, newAttribute, newEntity, newLink, type Design, type Entity } from '../design'
import { dialect as dialectOf, printScript, type Dialect } from '../dialects'
import { testingDialect } from '../dialects/testing'
import { nameLength } from '../naming'
import { derive, type DeriveTarget } from '.'

const postgres = dialectOf('postgres') as Dialect
const plain: DeriveTarget = { subtypeTables: {}, schemas: {} }
const of = (design: Design, target = plain, dialect = postgres) => derive(design, target, dialect)
const table = (design: Design, name: string, target = plain) =>
  of(design, target).catalog.tables.find((t) => t.name === name)
const columns = (design: Design, name: string) =>
  table(design, name)?.columns.map((c) => `${c.name} ${typeText(c.type)}${c.nullable ? '?' : ''}`)

/** Vessel (identifier), Country (key iso), Visit; links are added by each test. */
function small() {
  const b = builder('Tidewell')
  b.area('a', 'A', 0)
  b.entity('a', 'Country', '', [['iso', 'char(2)', { key: true, required: true }]])
  b.entity('a', 'Vessel', '', [['name', 'text(100)', { required: true }]])
  b.entity('a', 'Visit', '', [['arrives at', 'timestamp', {}]])
  return b
}

describe('links', () => {
  it('bring the parent’s key to the child, named after role or parent, typed as the key', () => {
    const b = small()
    b.link('Vessel', 'Country', { role: 'flag' })
    b.link('Visit', 'Vessel', { parentRequired: false })
    expect(columns(b.design, 'vessel')).toEqual(['id integer', 'name varchar(100)', 'flag_iso char(2)'])
    expect(columns(b.design, 'visit')).toEqual(['id integer', 'arrives_at timestamp?', 'vessel_id integer?'])
    expect(table(b.design, 'visit')?.foreignKeys[0]).toMatchObject({
      name: 'fk_visit_vessel',
      columns: ['vessel_id'],
      references: { table: 'vessel', columns: ['id'] },
      onDelete: 'restrict'
    })
    // Only the vessel's own id is numbered.
    expect(table(b.design, 'visit')?.columns.map((c) => c.identity)).toEqual(['by default', undefined, undefined])
  })

  it('migrate composite keys whole, through several generations', () => {
    const b = small()
    b.entity('a', 'Cargo line', '', [['line no', 'small', { key: true, required: true }]])
    b.entity('a', 'Seal', '', [['mark', 'text(10)', { key: true, required: true }]])
    b.link('Cargo line', 'Visit', { identifying: true })
    b.link('Seal', 'Cargo line', { identifying: true })
    expect(table(b.design, 'seal')?.primaryKey?.columns).toEqual(['cargo_line_visit_id', 'cargo_line_line_no', 'mark'])
    expect(table(b.design, 'seal')?.foreignKeys[0]).toMatchObject({
      columns: ['cargo_line_visit_id', 'cargo_line_line_no'],
      references: { table: 'cargo_line', columns: ['visit_id', 'line_no'] }
    })
  })

  it('reuse a column of exactly the rule’s name and type, and no other', () => {
    const same = small()
    same.entity('a', 'Sighting', '', [['vessel id', 'integer', {}]])
    same.link('Sighting', 'Vessel')
    expect(columns(same.design, 'sighting')).toEqual(['id integer', 'vessel_id integer?'])
    const other = small()
    other.entity('a', 'Sighting', '', [
      ['vessel id', 'text(10)', {}],
      ['vessel', 'integer', {}]
    ])
    other.link('Sighting', 'Vessel')
    // The name is taken by a column of another type: that is said, and not papered over.
    expect(of(other.design).notices).toContainEqual(expect.objectContaining({ code: 'name-twice', severity: 'error' }))
    const key = small()
    key.entity('a', 'Sighting', '', [['vessel id', 'integer', { key: true, required: true }]])
    key.link('Sighting', 'Vessel')
    expect(of(key.design).notices.map((n) => n.code)).toContain('name-twice')
    const one = small()
    one.entity('a', 'Sighting', '', [['vessel id', 'integer', { key: true, required: true }]])
    one.link('Sighting', 'Vessel', { kind: 'one-to-one' })
    expect(columns(one.design, 'sighting')).toEqual(['vessel_id integer'])
  })

  it('one-to-one makes the foreign key unique; to itself has a role', () => {
    const b = small()
    b.link('Visit', 'Vessel', { kind: 'one-to-one' })
    b.link('Vessel', 'Vessel')
    expect(table(b.design, 'visit')?.uniques).toMatchObject([{ name: 'uq_visit_vessel_id', columns: ['vessel_id'] }])
    expect(table(b.design, 'vessel')?.foreignKeys[0]).toMatchObject({
      name: 'fk_vessel_parent_vessel',
      columns: ['parent_vessel_id']
    })
  })

  it('many-to-many makes a table named after both, its columns typed as the keys: four drawn, five made', () => {
    const b = small()
    b.entity('a', 'Pilot', '', [['licence', 'text(12)', { key: true, required: true }]])
    b.link('Vessel', 'Pilot', { kind: 'many-to-many' })
    const { catalog, notices } = of(b.design)
    expect(catalog.tables).toHaveLength(5)
    expect(columns(b.design, 'pilot_vessel')).toEqual(['pilot_licence varchar(12)', 'vessel_id integer'])
    expect(table(b.design, 'pilot_vessel')?.primaryKey?.columns).toEqual(['pilot_licence', 'vessel_id'])
    expect(notices.map((n) => n.code)).toContain('link-bridge')
  })

  it('a key that is part of itself is an error, not an endless loop', () => {
    const b = small()
    b.link('Vessel', 'Visit', { identifying: true })
    b.link('Visit', 'Vessel', { identifying: true })
    expect(of(b.design).notices).toContainEqual(
      expect.objectContaining({ code: 'entity-circular-key', severity: 'error' })
    )
  })

  it('cannot set to nothing what must be filled', () => {
    const b = small()
    b.link('Visit', 'Vessel', { onDelete: 'set null' })
    expect(of(b.design).notices.map((n) => n.code)).toContain('link-set-null')
  })
})

describe('subtypes', () => {
  it('have tables of their own that share the supertype’s key, or one table with a rule for each required column', () => {
    const design = harbour()
    expect(columns(design, 'tug')).toEqual(['id integer', 'bollard_pull numeric(6,1)'])
    expect(table(design, 'tug')?.foreignKeys[0]).toMatchObject({
      columns: ['id'],
      references: { table: 'vessel', columns: ['id'] },
      onDelete: 'cascade'
    })

    const one = { ...plain, subtypeTables: { sub_vessel: 'one table' as const } }
    const { catalog, notices } = of(design, one)
    expect(catalog.tables.map((t) => t.name)).not.toContain('tug')
    const vessel = catalog.tables.find((t) => t.name === 'vessel')
    expect(vessel?.columns.map((c) => c.name)).toEqual(
      expect.arrayContaining(['imo', 'bollard_pull', 'deck_area', 'hopper', 'craft'])
    )
    expect(vessel?.columns.find((c) => c.name === 'bollard_pull')?.nullable).toBe(true)
    expect(vessel?.checks.find((c) => c.name === 'ck_vessel_bollard_pull_required')?.expression).toBe(
      `craft NOT IN ('tug') OR bollard_pull IS NOT NULL`
    )
    expect(vessel?.checks.map((c) => c.expression)).toContain(`craft IN ('tug', 'barge')`)
    // A link to a subtype goes to the table that it shares.
    const job = catalog.tables.find((t) => t.name === 'pilotage_job')
    expect(job?.foreignKeys.find((fk) => fk.columns[0] === 'tug_id')?.references.table).toBe('vessel')
    expect(notices.map((n) => n.code)).toContain('link-to-subtype')
  })
})

describe('what random designs once broke', () => {
  it('a subtype shares a key that its supertype was given, without the supertype’s checks', () => {
    const design = edit(harbour(), { kind: 'key.toggle', entity: 'ent_vessel', id: 'att_vessel_imo' })
    expect(columns(design, 'tug')).toEqual(['imo integer', 'bollard_pull numeric(6,1)'])
    expect(table(design, 'tug')?.foreignKeys[0]).toMatchObject({ columns: ['imo'], references: { columns: ['imo'] } })
  })

  it('what is said twice to be unique is unique once, and said', () => {
    const key = { id: 'key_again', parts: ['att_vessel_imo'] }
    const design = edit(harbour(), { kind: 'part.set', list: 'uniques', entity: 'ent_vessel', part: key })
    expect(table(design, 'vessel')?.uniques).toHaveLength(1)
    expect(of(design).notices.map((n) => n.code)).toContain('unique-twice')
  })

  it('a bridge of an entity that is part of its own key has no empty key', () => {
    const b = small()
    b.link('Vessel', 'Vessel', { identifying: true })
    b.link('Vessel', 'Vessel', { kind: 'many-to-many', role: 'tows' })
    const { catalog, notices } = of(b.design)
    expect(notices.map((n) => n.code)).toContain('entity-circular-key')
    expect(printScript(writeScript(catalog, postgres), postgres)).not.toMatch(/\(\)\s*(REFERENCES|,|$)|KEY \(\)/)
  })
})

describe('what an engine cannot keep', () => {
  it('is said: a default that it has no words for, a key twice, an index that runs both ways', () => {
    const b = builder('Tidewell')
    b.area('a', 'A', 0)
    b.entity('a', 'Seal', '', [
      ['token', 'uuid', { key: true, required: true, default: 'new' }],
      ['no', 'integer', { required: true }]
    ])
    const seal = Object.values(b.design.entities)[0] as Entity
    const [token, no] = seal.attributes.map(({ id }) => id) as [string, string]
    const key = { id: 'unq_1', parts: [token] }
    const parts = [
      { id: token, descending: false },
      { id: no, descending: true }
    ]
    const keyed = edit(b.design, { kind: 'part.set', list: 'uniques', entity: seal.id, part: key } as never)
    const design = edit(keyed, {
      kind: 'part.set',
      list: 'indexes',
      entity: seal.id,
      part: { id: 'idx_1', unique: false, parts }
    } as never)
    const { catalog, notices } = of(design, plain, dialectOf('firebird', '3.0') as Dialect)
    expect(catalog.tables[0]).toMatchObject({
      uniques: [],
      indexes: [{ parts: [{ descending: false }, { descending: false }] }]
    })
    expect(catalog.tables[0]?.columns[0]).not.toHaveProperty('default')
    expect(notices.map(({ code, where }) => [code, where])).toEqual(
      expect.arrayContaining([
        ['default-not-kept', token],
        ['not-kept', 'unq_1'],
        ['not-kept', 'idx_1']
      ])
    )
    expect(of(design).notices.filter(({ code }) => code.endsWith('not-kept'))).toEqual([])
  })
})

describe('names', () => {
  it('are cut to the engine’s limit in one way each, and listed; reserved words are quoted and warned of', () => {
    const b = builder('Tidewell')
    b.area('a', 'A', 0)
    b.entity('a', 'Inspection of dangerous goods declaration', '', [['desc', 'text(10)', {}]])
    b.entity('a', 'Inspection of dangerous goods decision', '', [['code', 'text(10)', { key: true, required: true }]])
    b.link('Inspection of dangerous goods declaration', 'Inspection of dangerous goods decision')
    const narrow = testingDialect()
    const { catalog, notices } = of(b.design, plain, narrow)
    const names = catalog.tables.flatMap((t) => [
      t.name,
      ...t.columns.map((c) => c.name),
      ...t.foreignKeys.map((f) => f.name),
      t.primaryKey?.name ?? ''
    ])
    for (const name of names) expect(nameLength(name, 'bytes'), name).toBeLessThanOrEqual(30)
    expect(new Set(catalog.tables.map((t) => t.name)).size).toBe(2)
    expect(notices.filter((n) => n.code === 'name-shortened').length).toBeGreaterThanOrEqual(4)
    expect(notices.map((n) => n.code)).toContain('name-reserved')
    const script = printScript(writeScript(catalog, narrow), narrow)
    expect(script).toContain('"DESC" WORD<10>')
    // The same names whatever else is designed.
    const more = edit(b.design, {
      kind: 'object.set',
      collection: 'entities',
      object: { ...harbour().entities['ent_port'] } as never
    })
    expect(of(more, plain, narrow).catalog.tables.map((t) => t.name)).toEqual(
      expect.arrayContaining(catalog.tables.map((t) => t.name))
    )
  })

  it('a schema of its own for a namespace, the one that the target says', () => {
    const b = small()
    const design = edit(b.design, { kind: 'entity.set', id: 'ent_visit', set: { namespace: 'Quay side' } })
    expect(table(design, 'visit')?.schema).toBe('quay_side')
    expect(table(design, 'visit', { ...plain, schemas: { 'Quay side': 'quay' } })?.schema).toBe('quay')
  })
})

describe('columns', () => {
  it.each([
    ['boolean', 'no', 'FALSE'],
    ['integer', '7', '7'],
    ['text(20)', 'in port', `'in port'`],
    ['text(20)', '"7"', `'7'`],
    ['date', 'now', 'CURRENT_DATE'],
    ['timestamp', 'now', 'CURRENT_TIMESTAMP'],
    ['text(20)', 'now', `'now'`],
    ['uuid', 'new', 'gen_random_uuid()'],
    ['date', 'CURRENT_DATE', 'CURRENT_DATE'],
    ['date', 'now()', 'CURRENT_DATE'],
    ['timestamp', 'current_timestamp', 'CURRENT_TIMESTAMP'],
    ['timestamp with zone', 'LocalTimestamp', 'CURRENT_TIMESTAMP'],
    ['time', 'current_time', 'LOCALTIME'],
    ['date', '2024-02-29', `'2024-02-29'`],
    ['timestamp', '2024-02-29T12:30', `'2024-02-29T12:30'`],
    ['time', '06:10', `'06:10'`],
    ['integer', '(1 + 1)', '1 + 1'],
    ['text(20)', `it's`, `'it''s'`]
  ])('%s with the default %s', (type, text, sql) => {
    const b = builder('Tidewell')
    b.area('a', 'A', 0)
    b.entity('a', 'Vessel', '', [['x', type, { default: text }]])
    expect(table(b.design, 'vessel')?.columns.find((c) => c.name === 'x')?.default).toBe(sql)
  })

  it.each([
    ['integer', 'seven', 'default-not-number'],
    ['boolean', 'maybe', 'default-not-boolean'],
    ['one of (bulk, tanker)', 'ferry', 'default-not-allowed'],
    ['date', '2024-13-45', 'default-not-moment'],
    ['date', '2023-02-29', 'default-not-moment'],
    ['date', 'tomorrow', 'default-not-moment'],
    ['time', '25:00', 'default-not-moment'],
    ['timestamp', '06:10', 'default-not-moment'],
    ['uuid', 'abc', 'default-not-uuid'],
    ['text(3)', 'four', 'default-too-long'],
    ['integer', '1.5', 'default-not-number'],
    ['small', '70000', 'default-not-number'],
    ['decimal(4,2)', '100', 'default-not-number'],
    ['json', '{a', 'default-not-json']
  ])('%s with the default %s is an error', (type, text, code) => {
    const b = builder('Tidewell')
    b.area('a', 'A', 0)
    b.entity('a', 'Vessel', '', [['x', type, { default: text }]])
    expect(of(b.design).notices.map((n) => n.code)).toContain(code)
  })

  it('a column that one target does without takes along what stands on it there', () => {
    const design = harbour()
    const { catalog } = derive(
      design,
      { ...plain, departures: [{ id: 'att_berth_code', part: 'column', absent: true }] },
      postgres
    )
    const berth = catalog.tables.find((t) => t.name === 'berth')
    expect(berth?.columns.map((c) => c.name)).not.toContain('code')
    const speaking = catalog.tables.flatMap((t) => [
      ...(t.name === 'berth'
        ? [
            t.primaryKey?.columns ?? [],
            ...t.uniques.map((u) => u.columns),
            ...t.indexes.map((x) => x.parts.map((part) => part.column))
          ]
        : []),
      ...t.foreignKeys.filter((fk) => fk.references.table === 'berth').map((fk) => fk.references.columns)
    ])
    expect(speaking.flat()).not.toContain('code')
  })

  it('a discriminator of several words is one column, and its rules name it', () => {
    const design = harbour()
    const [group] = Object.values(design.subtypes)
    if (!group) throw new Error('the demo has subtypes')
    const named = edit(design, {
      kind: 'object.set',
      collection: 'subtypes',
      object: { ...group, discriminator: 'Kind of craft' }
    })
    const { catalog } = derive(named, { ...plain, subtypeTables: { [group.id]: 'one table' } }, postgres)
    const home = catalog.tables.find((t) => t.columns.some((c) => c.name === 'kind_of_craft'))
    expect(
      home?.checks.filter((c) => /kind/i.test(c.expression)).every((c) => c.expression.includes('kind_of_craft'))
    ).toBe(true)
    expect(home?.checks.some((c) => c.expression.includes('IS NOT NULL'))).toBe(true)
  })

  it('names given by hand fit, fold and are given once', () => {
    const b = builder('Tidewell')
    b.area('a', 'A', 0)
    b.entity('a', 'Vessel', '', [['imo', 'integer', { key: true, required: true }]])
    b.entity('a', 'Pilot', '', [['badge', 'integer', { key: true, required: true }]])
    const [vessel, pilot] = ['ent_vessel', 'ent_pilot'] as const
    const long = 'k'.repeat(80)
    const parts = (id: string) => b.design.entities[id]?.attributes.map((a) => ({ id: a.id, descending: false })) ?? []
    let design = b.design
    for (const [id, index] of [
      [vessel, { id: 'idx_1', name: 'by_hand', unique: false, parts: parts(vessel) }],
      [pilot, { id: 'idx_2', name: 'By_Hand', unique: false, parts: parts(pilot) }],
      [pilot, { id: 'idx_3', name: long, unique: false, parts: parts(pilot) }]
    ] as const)
      design = edit(design, { kind: 'part.set', list: 'indexes', entity: id, part: index })
    const narrow = derive(design, plain, testingDialect())
    expect(narrow.notices.filter((n) => n.severity === 'error').map((n) => n.code)).toEqual([])
    const sqlite = derive(design, plain, dialectOf('sqlite') as Dialect)
    // Where such a name is one in a schema, the other is called by rule.
    expect(sqlite.notices.filter((n) => n.code.startsWith('name-t')).map((n) => [n.severity, n.message])).toEqual([
      [
        'warning',
        'Something else is called “by_hand”, and SQLite has such a name once in a schema: of vessel it is called ix_vessel_imo.'
      ]
    ])
    const names = sqlite.catalog.tables.flatMap(({ indexes }) => indexes.map(({ name }) => name))
    expect(names).toContain('ix_vessel_imo')
    expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(names.length)
    for (const index of narrow.catalog.tables.flatMap((t) => t.indexes))
      expect(new TextEncoder().encode(index.name).length).toBeLessThanOrEqual(30)
  })

  it('a name that a table has, or that one target gives to another thing, is told too', () => {
    const b = builder('Tidewell')
    b.area('a', 'A', 0)
    b.entity('a', 'Vessel', '', [['imo', 'integer', { key: true, required: true }]])
    b.entity('a', 'Pilot', '', [['badge', 'integer', { key: true, required: true }]])
    const parts = (b.design.entities['ent_pilot']?.attributes ?? []).map((a) => ({ id: a.id, descending: false }))
    const design = edit(b.design, {
      kind: 'part.set',
      list: 'indexes',
      entity: 'ent_pilot',
      part: { id: 'idx_1', name: 'vessel', unique: false, parts }
    })
    const errors = (engine: string, target: Parameters<typeof derive>[1]) =>
      derive(design, target, dialectOf(engine) as Dialect).notices.flatMap((n) =>
        n.severity === 'error' ? [n.message] : []
      )
    // PostgreSQL, "Schemas": a relation is a table, an index, a sequence, a view.
    const indexOf = (engine: string) =>
      derive(design, plain, dialectOf(engine) as Dialect).catalog.tables.flatMap(({ indexes }) =>
        indexes.map(({ name }) => name.toLowerCase())
      )
    expect(['postgres', 'sqlite', 'mariadb', 'firebird'].map(indexOf)).toEqual([
      ['ix_pilot_badge'],
      ['ix_pilot_badge'],
      ['vessel'],
      ['vessel']
    ])
    const departures = [{ id: 'ent_pilot', part: 'table', property: 'name', value: 'vessel' }]
    expect(errors('mariadb', { ...plain, departures })).toEqual([
      'There is already a table main.vessel: what this target has otherwise is left out.'
    ])
  })

  it('a condition or a type that is no whole text is told and left out: nothing rides along with it', () => {
    const b = builder('Tidewell')
    b.area('a', 'A', 0)
    b.entity('a', 'Vessel', '', [['imo', 'integer', { key: true, required: true }]])
    const hostile = [
      {
        kind: 'part.set',
        list: 'rules',
        entity: 'ent_vessel',
        part: { id: 'rul_1', condition: '1=1)); DROP TABLE victim; --' }
      },
      {
        kind: 'attribute.add',
        entity: 'ent_vessel',
        attribute: newAttribute('odd', { id: 'att_odd', type: { kind: 'native', text: 'int); DROP TABLE victim; --' } })
      },
      {
        kind: 'attribute.add',
        entity: 'ent_vessel',
        attribute: newAttribute('set', { id: 'att_set', default: '(1); DROP TABLE victim; --)' })
      }
    ] as const
    const { catalog, notices } = of(hostile.reduce((d, e) => edit(d, e as Parameters<typeof edit>[1]), b.design))
    expect(JSON.stringify(catalog)).not.toContain('victim')
    expect(
      notices
        .filter((n) => n.severity === 'error')
        .map((n) => n.where)
        .sort()
    ).toEqual(['att_odd', 'att_set', 'rul_1'])
  })

  it('two entities that identify each other are told, keys of their own or not', () => {
    const b = builder('Tidewell')
    b.area('a', 'A', 0)
    b.entity('a', 'Vessel', '', [['imo', 'integer', { key: true, required: true }]])
    b.entity('a', 'Pilot', '', [['badge', 'integer', { key: true, required: true }]])
    const [one, two] = ['ent_vessel', 'ent_pilot'] as const
    const link = (parent: string, child: string) => {
      const [p, c] = [b.design.entities[parent], b.design.entities[child]]
      if (!p || !c) throw new Error('no such entity')
      return newLink(b.design, p, c, { identifying: true })
    }
    const design = [link(one, two), link(two, one)].reduce(
      (d, made) => edit(d, { kind: 'link.add', link: made }),
      b.design
    )
    expect(
      of(design)
        .notices.flatMap((n) => (n.code === 'entity-circular-key' ? n.where : []))
        .sort()
    ).toEqual([one, two].sort())
  })

  it('every catalogue object knows where it came from, once', () => {
    const { catalog, trace } = of(harbour())
    const origins = catalog.tables.flatMap((t) =>
      [t, ...t.columns, ...t.uniques, ...t.foreignKeys, ...t.checks, ...t.indexes].map((o) => JSON.stringify(o.origin))
    )
    expect(origins).not.toContain(undefined)
    expect(new Set(origins).size).toBe(origins.length)
    expect(trace.get('lnk_visit_berth')?.map((a) => `${a.kind} ${a.path.at(-1)}`)).toEqual([
      'column berth_code',
      'foreignKey fk_visit_berth'
    ])
  })

  it.each([
    ['doubled identifying links', 16, 2],
    ['a long way up', 4000, 1]
  ])('a key that %s would make without end is bounded, and the way is named', (_, length, times) => {
    const { design: bare } = small()
    const links = Array.from({ length: (length - 1) * times }, (_, i) => {
      const [n, other] = [Math.floor(i / times), i % times]
      const made = newLink(bare, station(n), station(n + 1), { id: `lnk_${n}_${other}`, identifying: true })
      return [made.id, { ...made, role: `as ${other}` }] as const
    })
    const entities = Array.from({ length }, (_, n) => [`ent_${n}`, station(n)] as const)
    const design = { ...bare, entities: Object.fromEntries(entities), links: Object.fromEntries(links) }
    const { catalog, notices } = of(design)
    const wide = notices.filter((n) => n.code === 'entity-key-too-wide')
    expect(wide.length).toBeGreaterThan(0)
    expect(wide[0]?.message).toMatch(/Station \d+, of Station \d+/)
    expect(Math.max(...catalog.tables.map((t) => t.columns.length))).toBeLessThan(1000)
  })

  it('entities that all identify each other are told in no time', () => {
    const b = small()
    let design = b.design
    const all = Array.from({ length: 14 }, (_, n) => station(n))
    for (const entity of all) design = edit(design, { kind: 'object.set', collection: 'entities', object: entity })
    const links = all.flatMap((p) =>
      all.flatMap((c) => (p === c ? [] : [newLink(design, p, c, { identifying: true, role: `of ${p.name}` })]))
    )
    design = { ...design, links: Object.fromEntries(links.map((link) => [link.id, link])) }
    expect(of(design).notices.filter((n) => n.code === 'entity-circular-key')).toHaveLength(14)
  })

  it('a unique key that a link takes to itself is told', () => {
    const b = small()
    const vessel = b.design.entities['ent_vessel']
    if (!vessel) throw new Error('no vessel')
    const link = newLink(b.design, vessel, vessel, { id: 'lnk_self', parentKey: 'key_self' })
    const design = edit(edit(b.design, { kind: 'link.add', link }), {
      kind: 'part.set',
      list: 'uniques',
      entity: vessel.id,
      part: { id: 'key_self', parts: [link.id] }
    })
    expect(of(design).notices.map((n) => n.code)).toContain('entity-circular-key')
  })

  it('a supertype that its own subtype identifies is told, and no key without columns is written', () => {
    const b = small()
    b.link('Vessel', 'Visit', { identifying: true })
    const subtypes = { id: 'sub_1', supertype: 'ent_vessel', subtypes: ['ent_visit'], discriminator: 'kind' }
    const design = edit(b.design, {
      kind: 'object.set',
      collection: 'subtypes',
      object: { ...subtypes, complete: true, exclusive: true }
    })
    const { catalog, notices } = of(design)
    expect(notices.map((n) => n.code)).toContain('entity-circular-key')
    expect(printScript(writeScript(catalog, postgres), postgres)).not.toContain('()')
  })

  it('a departure that cannot be of its object is left out and told', () => {
    const { id } = small().design.entities['ent_vessel'] ?? { id: '' }
    const departures = [{ id, part: 'table', property: 'columns', value: ['a'] }]
    const { catalog, notices } = derive(small().design, { subtypeTables: {}, schemas: {}, departures }, postgres)
    expect(notices.map((n) => n.code)).toContain('departure-not-fitting')
    expect(catalog.tables[0]?.columns.every((column) => column.name)).toBe(true)
  })

  it('a namespace may be called as something that every object has', () => {
    const b = small()
    const set = { namespace: 'constructor' }
    const { catalog } = of(edit(b.design, { kind: 'entity.set', id: 'ent_vessel', set }))
    expect(catalog.tables.map((t) => t.schema)).toContain('constructor')
  })
})

const station = (n: number) => newEntity(`Station ${n}`, { id: `ent_${n}` })
