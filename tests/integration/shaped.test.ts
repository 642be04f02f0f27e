// What a design says once for all: columns that every entity has, domains with rules, names of another habit. On every engine
// that runs here the script of it runs, the database is in step, and rows are kept as they should be.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { type Catalog } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { derive, type DeriveTarget } from '../../src/lib/core/derive'
import { edit, newAttribute, newCommon, newDesign, newDomain, newEntity, type Design } from '../../src/lib/core/design'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'
import { reached } from '../support/reached'

const HERE: DeriveTarget = { subtypeTables: {}, schemas: {} }

function shaped(): Design {
  let design = newDesign('Harbour')
  const code = newDomain('Berth code', {
    type: { kind: 'text', length: 8 },
    letters: 'upper',
    rule: `value <> 'NONE'`
  })
  design = edit(design, { kind: 'object.set', collection: 'domains', object: code })
  const attributes = [
    newAttribute('code', { id: 'att_code', type: code.type, domain: code.id, required: true, letters: 'upper' }),
    newAttribute('open', { id: 'att_open', type: { kind: 'boolean' }, required: true, default: 'yes' })
  ]
  const order = attributes.map(({ id }) => id)
  const berth = newEntity('Berth', {
    id: 'ent_berth',
    attributes,
    order,
    identifier: { start: 100, step: 10 },
    indexes: [
      { id: 'idx_open', unique: false, parts: [{ id: 'att_code', descending: false }], where: '{att_code} IS NOT NULL' }
    ]
  })
  design = edit(design, { kind: 'object.set', collection: 'entities', object: berth })
  for (const more of [
    newCommon(design, 'made at', {
      id: 'com_made',
      rank: 1,
      type: { kind: 'timestamp' },
      required: true,
      kept: 'made at'
    }),
    newCommon(design, 'changed at', {
      id: 'com_changed',
      rank: 2,
      type: { kind: 'timestamp' },
      required: true,
      kept: 'changed at'
    }),
    newCommon(design, 'made by', { id: 'com_maker', rank: 3, type: { kind: 'text', length: 100 }, kept: 'made by' }),
    newCommon(design, 'tenant', {
      id: 'com_tenant',
      rank: 4,
      type: { kind: 'integer' },
      required: true,
      default: '1',
      min: 1
    })
  ])
    design = edit(design, { kind: 'object.set', collection: 'commons', object: more })
  const plain = newEntity('Tide', { id: 'ent_tide', without: ['com_made', 'com_changed', 'com_maker', 'com_tenant'] })
  return edit(design, { kind: 'object.set', collection: 'entities', object: plain })
}

describe.each(ENGINES_UNDER_TEST)('$label', ({ open, lacking }) => {
  let db: Playground
  beforeAll(async () => {
    if (lacking === undefined) db = await open()
  }, 120_000)
  afterAll(() => db?.close())

  const live = (): Promise<Catalog> => db.live.catalog()
  const reach = (design: Design, target: DeriveTarget, agreed?: Catalog) => reached(db, design, target, agreed)
  const rows = async (sql: string) => (await db.live.query(sql)).rows

  it.skipIf(lacking !== undefined)(
    'keeps the columns that every entity has, and lets go of them',
    async () => {
      await db.reset()
      const design = shaped()
      const first = await reach(design, HERE)
      const { write } = db.dialect
      const { tables } = await live()
      const berth = tables.find(({ name }) => name.toLowerCase() === 'berth')
      const tide = tables.find(({ name }) => name.toLowerCase() === 'tide')
      if (!berth || !tide) throw new Error('both tables are there')
      expect(berth.columns.map(({ name }) => name.toLowerCase())).toEqual([
        'id',
        'code',
        'open',
        'made_at',
        'changed_at',
        'made_by',
        'tenant'
      ])
      expect(tide.columns).toHaveLength(1)

      const at = write.table(berth.schema, berth.name)
      const add = (code: string) =>
        `INSERT INTO ${at} (code, ${write.quote(berth.columns[2]?.name ?? '')}) VALUES ('${code}', ${write.value({ kind: 'boolean', value: true }, { kind: 'boolean' })})`
      await db.exec(add('N12'))
      await expect(db.exec(add('n13'))).rejects.toThrow()
      await expect(db.exec(add('NONE'))).rejects.toThrow()
      await expect(db.exec(`UPDATE ${at} SET tenant = 0`)).rejects.toThrow()
      const past = write.value({ kind: 'text', text: '2001-02-03 04:05:06' }, { kind: 'timestamp' }) ?? ''
      const changed = async () => String(Object.values((await rows(`SELECT changed_at FROM ${at}`))[0] ?? {})[0])
      const keeps = db.dialect.keepUp !== undefined
      await db.exec(`UPDATE ${at} SET changed_at = ${past}`)
      await db.exec(`UPDATE ${at} SET tenant = 2`)
      if (keeps) expect(await changed()).not.toMatch(/2001/)

      const less = edit(design, { kind: 'object.remove', collection: 'commons', id: 'com_changed' })
      const second = await reach(less, HERE, first)
      expect((await live()).tables.flatMap(({ triggers = [] }) => triggers)).toEqual([])
      expect((await live()).routines ?? []).toEqual([])
      await db.exec(`UPDATE ${at} SET tenant = 3`)
      await reach(design, HERE, second)
    },
    300_000
  )

  it.skipIf(lacking !== undefined)(
    'has the names of another habit, for one target or for all',
    async () => {
      await db.reset()
      const design = shaped()
      const naming = {
        letters: 'pascal' as const,
        patterns: { table: 't_{name}', pk: '{table}_key', ix: '{table}_by_{columns}' }
      }
      await reach(design, { ...HERE, naming })
      const { tables } = await live()
      expect(tables.map(({ name }) => name).sort((a, b) => (a < b ? -1 : 1))).toEqual(
        db.dialect.profile.names.caseless === 'all'
          ? expect.arrayContaining([expect.stringMatching(/^tberth$/i)])
          : ['TBerth', 'TTide']
      )
      const everywhere = edit(design, { kind: 'design.set', set: { settings: { ...design.settings, ...naming } } })
      const input = { wanted: derive(everywhere, HERE, db.dialect).catalog, live: await live() }
      expect(compare(input, db.dialect).changes.filter(({ action }) => action !== 'alter')).toEqual([])
    },
    300_000
  )
})
