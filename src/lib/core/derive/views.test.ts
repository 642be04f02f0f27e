// Views of a design: names for references in a target, and references for what a person types there.
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { edit, newView, type Design, type Edit } from '../design'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { testingDialect } from '../dialects/testing'
import { derive, inNames, inReferences } from '.'

const postgres = dialectOf('postgres') as Dialect
const target = { subtypeTables: {}, schemas: {} }
const withView = (text: string, more: Partial<ReturnType<typeof newView>> = {}): Design =>
  edit(harbour(), {
    kind: 'object.set',
    collection: 'views',
    object: newView('Berth use', { id: 'vie_use', text, ...more })
  })
const of = (design: Design, dialect = postgres, at: Parameters<typeof derive>[1] = target) => {
  const { catalog, notices } = derive(design, at, dialect)
  return { catalog, views: catalog.views ?? [], told: notices.filter(({ code }) => code.startsWith('view-')) }
}

const USE = `SELECT b.{att_berth_code}, count(*) AS visits FROM {ent_berth} b JOIN {ent_visit} v
  ON v.{lnk_visit_berth column att_berth_code} = b.{att_berth_code} GROUP BY b.{att_berth_code}`

describe('a view', () => {
  it('is named by what it reads in each target, with what it stands on', () => {
    const { views } = of(withView(USE, { means: 'how often each was taken' }))
    expect(views).toMatchObject([
      {
        schema: 'public',
        name: 'berth_use',
        comment: 'how often each was taken',
        query: USE.replaceAll('{att_berth_code}', 'code')
          .replace('{ent_berth}', 'public.berth')
          .replace('{ent_visit}', 'public.visit')
          .replace('{lnk_visit_berth column att_berth_code}', 'berth_code'),
        origin: { id: 'vie_use', part: 'view' }
      }
    ])
    expect(views[0]?.refs?.map(({ to }) => to.path.join('.')).sort()).toEqual([
      'public.berth',
      'public.berth.code',
      'public.visit',
      'public.visit.berth_code'
    ])
    const firebird = of(withView(USE), dialectOf('firebird') as Dialect).views[0]
    expect(firebird).toMatchObject({ schema: 'main', name: 'BERTH_USE' })
    expect(firebird?.query).toContain('FROM BERTH b JOIN VISIT v')
  })

  it('follows a name that one target alone has', () => {
    const departures = [{ id: 'att_berth_code', part: 'column', property: 'name', value: 'mooring' }]
    const { views } = of(withView(USE), postgres, { ...target, departures })
    expect(views[0]?.query).toContain('SELECT b.mooring, count(*)')
    const absent = [{ id: 'vie_use', part: 'view', absent: true as const }]
    expect(of(withView(USE), postgres, { ...target, departures: absent }).views).toEqual([])
  })

  it('may be said otherwise for one engine, and is told to be left out where none can be given', () => {
    const design = withView(USE, { texts: { sqlite: 'SELECT 1 AS visits;' } })
    expect(of(design, dialectOf('sqlite') as Dialect).views[0]?.query).toBe('SELECT 1 AS visits')
    const without = of(design, testingDialect())
    expect([without.views, without.told]).toMatchObject([[], [{ code: 'view-not-taken', where: 'vie_use' }]])
  })

  it.each<[string, Edit, string]>([
    ['an entity', { kind: 'object.remove', collection: 'entities', id: 'ent_berth' }, 'Berth'],
    ['an attribute', { kind: 'attribute.remove', entity: 'ent_berth', id: 'att_berth_code' }, 'code'],
    ['a link', { kind: 'object.remove', collection: 'links', id: 'lnk_visit_berth' }, 'Berth']
  ])('keeps the name of %s that goes, says so, and takes along what reads from it', (_, gone, name) => {
    const over = newView('Busy', { id: 'vie_busy', text: 'SELECT * FROM {vie_use} WHERE visits > 9' })
    const both = edit(withView(USE), { kind: 'object.set', collection: 'views', object: over })
    expect(of(both).views.map((view) => view.name)).toEqual(['berth_use', 'busy'])
    const design = edit(both, gone)
    expect(design.views['vie_use']?.text).toContain(`{?${name}}`)
    const { views, told } = of(design)
    expect(views).toEqual([])
    expect(told.map(({ message }) => message)).toEqual([
      expect.stringContaining(name),
      'The view busy is left out: it reads from berth_use, which is left out.'
    ])
  })

  it('is left out where its text would end the statement, or is none yet', () => {
    const told = (text: string) => of(withView(text)).told.map(({ severity, message }) => [severity, message])
    expect(told('SELECT 1; DROP TABLE berth')).toEqual([['error', expect.stringContaining('A semicolon stands')]])
    expect(told('SELECT (1')).toEqual([['error', expect.stringContaining('never closed')]])
    expect(told('')).toEqual([['warning', 'The view berth_use is left out: it has no query yet.']])
  })
})

describe('what a person types', () => {
  const { catalog } = of(withView(USE))
  const kept = (sql: string) => inReferences(sql, catalog, postgres)

  it.each([
    [
      'SELECT b.code AS berth FROM berth b WHERE b.depth > 4',
      'SELECT b.{att_berth_code} AS berth FROM {ent_berth} b WHERE b.{att_berth_depth} > 4'
    ],
    ['SELECT code FROM public.berth', 'SELECT {att_berth_code} FROM {ent_berth}'],
    ['SELECT "berth".code FROM "public" . "berth"', 'SELECT {ent_berth}.{att_berth_code} FROM {ent_berth}'],
    ['SELECT visits FROM berth_use', 'SELECT visits FROM {vie_use}'],
    // Names of something else, text and comments stay.
    [
      "SELECT 'berth.code {ent_berth}' AS code -- berth\nFROM tide",
      "SELECT 'berth.code {ent_berth}' AS code -- berth\nFROM tide"
    ],
    [
      'WITH berth AS (SELECT 1 AS code) SELECT berth.code FROM berth',
      'WITH berth AS (SELECT 1 AS code) SELECT berth.code FROM berth'
    ],
    [
      'SELECT v.name FROM vessel v WHERE EXISTS (SELECT 1 FROM visit s WHERE s.vessel_id = v.id)',
      'SELECT v.{att_vessel_name} FROM {ent_vessel} v WHERE EXISTS (SELECT 1 FROM {ent_visit} s WHERE s.{lnk_visit_vessel column #} = v.{ent_vessel identifier})'
    ]
  ])('%s', (typed, text) => {
    expect(kept(typed)).toBe(text)
    const shown = inNames(text, catalog, postgres)
    expect(shown.lost).toEqual([])
    // Shown and kept again, it is the same.
    expect(kept(shown.sql)).toBe(text)
  })
})
