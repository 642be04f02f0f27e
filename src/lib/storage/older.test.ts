// What an older version of the application has kept in a browser is there in the form of this one.
import 'fake-indexeddb/auto'
import { openDB } from 'idb'
import { expect, it } from 'vitest'
import { harbour } from '../../../demo/harbour'
import { COLLECTIONS, printDesign, type CollectionName } from '../core/design'
import { listRuns, loadDesign } from '.'

it('a design and a run kept by the second version are read with places as paths, and nothing else is otherwise', async () => {
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
  for (const collection of Object.keys(COLLECTIONS) as CollectionName[])
    for (const [id, object] of Object.entries(design[collection]))
      await db.put('objects', id === 'tgt_dev' ? { ...object, ignored } : object, [design.id, collection, id])
  const step = { id: '1', about: { kind: 'column', schema: 'public', table: 'vessel', name: 'loa' } }
  await db.put('runs', { id: 'run', target: 'dev', who: 'me', startedAt: 1, migration: { steps: [step], groups: [] } })
  db.close()

  const loaded = await loadDesign(design.id)
  expect(loaded?.revision).toBe(4)
  const now = {
    ...design,
    targets: {
      ...design.targets,
      tgt_dev: {
        ...design.targets['tgt_dev'],
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
})
