// What an older version of the application has kept in a browser is there in the form of this one.
import 'fake-indexeddb/auto'
import { openDB } from 'idb'
import { expect, it } from 'vitest'
import { harbour } from '../../../demo/harbour'
import { COLLECTIONS, printDesign, type CollectionName } from '../core/design'
import { listRuns, loadAgreed, loadDesign } from '.'

it('what the second version kept is read with places as paths and types taken apart, and nothing else is otherwise', async () => {
  const design = harbour()
  const db = await openDB('ramblet', 2, {
    upgrade(made) {
      made.createObjectStore('designs', { keyPath: 'id' })
      for (const name of ['objects', 'dumps', 'agreed']) made.createObjectStore(name)
      made.createObjectStore('runs', { keyPath: 'id' }).createIndex('target', 'target')
      made.createObjectStore('entries', { autoIncrement: true }).createIndex('run', 'run')
      made.createObjectStore('queries', { autoIncrement: true }).createIndex('target', 'target')
    }
  })
  await db.put('designs', { id: design.id, name: design.name, settings: design.settings, revision: 4, changedAt: 1 })
  const ignored = [
    { kind: 'column', schema: 'public', table: 'vessel', name: 'loa', property: 'type', reason: 'wider there' },
    { kind: 'table', schema: 'public', table: 'tide', name: 'tide', reason: 'theirs' }
  ]
  const departures = [{ id: 'att_vessel_loa', part: 'column', property: 'type', value: 'numeric(7,2)' }]
  for (const collection of Object.keys(COLLECTIONS) as CollectionName[])
    for (const [id, object] of Object.entries(design[collection]))
      await db.put('objects', id === 'tgt_dev' ? { ...object, ignored, departures } : object, [
        design.id,
        collection,
        id
      ])
  const step = { id: '1', about: { kind: 'column', schema: 'public', table: 'vessel', name: 'loa' } }
  await db.put('runs', { id: 'run', target: 'dev', who: 'me', startedAt: 1, migration: { steps: [step], groups: [] } })
  const vessel = { schema: 'public', name: 'vessel', uniques: [], foreignKeys: [], checks: [], indexes: [] }
  const agreed = (type: unknown) => ({
    engine: 'postgres',
    defaultSchema: 'public',
    unread: [],
    tables: [{ ...vessel, columns: [{ name: 'tags', type, nullable: true }] }]
  })
  await db.put('agreed', agreed('text[]'), 'dev')
  db.close()

  const loaded = await loadDesign(design.id)
  expect(loaded?.revision).toBe(4)
  const now = {
    ...design,
    targets: {
      ...design.targets,
      tgt_dev: {
        ...design.targets['tgt_dev'],
        departures: [{ ...departures[0], value: { name: 'numeric', args: ['7', '2'] } }],
        ignored: [
          { kind: 'column', path: ['public', 'vessel', 'loa'], property: 'type', reason: 'wider there' },
          { kind: 'table', path: ['public', 'tide'], reason: 'theirs' }
        ]
      }
    }
  } as typeof design
  expect(loaded?.design.ok && printDesign(loaded.design.value)).toBe(printDesign(now))
  const [run] = await listRuns('dev')
  expect(run?.migration.steps).toMatchObject([
    { id: '1', about: { kind: 'column', path: ['public', 'vessel', 'loa'] } }
  ])
  expect(await loadAgreed('dev')).toEqual(agreed({ name: 'array', of: { name: 'text' } }))
})
