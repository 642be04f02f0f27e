// Designs in the browser's own database. A save writes only the objects that changed.
import { COLLECTIONS, printDesign, type CollectionName, type Design, type Pieces } from '../core/design'
import { readDesign } from '../core/derive'
import { failed, type Result } from '../core/notice'
import { targetKey } from './targets'
import { database, type DesignHead } from './database'
import { storageError } from './trouble'
import { forgetUnsaved } from './unsaved'

const collections = Object.keys(COLLECTIONS) as CollectionName[]
const range = (id: string) => IDBKeyRange.bound([id], [id, []])

export async function listDesigns(): Promise<DesignHead[]> {
  const heads = await (await database()).getAll('designs')
  return heads.sort((a, b) => b.changedAt - a.changedAt)
}

interface Loaded {
  readonly design: Result<Design>
  readonly revision: number
  /** As it stands, whatever is wrong with it. */
  readonly pieces: Pieces
}

/** A design as it was last saved, checked as strictly as a file would be; nothing when there is none. */
export async function loadDesign(id: string): Promise<Loaded | undefined> {
  const db = await database()
  const tx = db.transaction(['designs', 'objects'])
  const head = await tx.objectStore('designs').get(id)
  if (!head) return undefined
  const [keys, values] = await Promise.all([
    tx.objectStore('objects').getAllKeys(range(id)),
    tx.objectStore('objects').getAll(range(id))
  ])
  const held = (collection: CollectionName) =>
    keys.flatMap(([, name, key], i) => (name === collection ? [[key, values[i]] as const] : []))
  const objects = Object.fromEntries(collections.map((name) => [name, held(name).map(([, value]) => value)]))
  const pieces: Pieces = { id, name: head.name, settings: head.settings, objects }
  const design = { ...pieces, ...Object.fromEntries(collections.map((name) => [name, Object.fromEntries(held(name))])) }
  return { design: gate(design as unknown as Design), revision: head.revision, pieces }
}

/** The printer and the reader of files are the one gate that a stored design passes too. */
function gate(design: Design): Result<Design> {
  try {
    return readDesign(printDesign(design))
  } catch {
    return failed('file-shape', 'What is kept of this design is no design.')
  }
}

/**
 * Saves a design; `before` is what was saved last, so that only what changed is written; `revision` is what it was then, 0
 * for a new one. Refuses when somebody else has saved since (`elsewhere`), or removed it (`removed`). Rejects with a
 * `StorageError`.
 */
export async function saveDesign(
  design: Design,
  before: Design | undefined,
  revision: number
): Promise<number | 'elsewhere' | 'removed'> {
  const db = await database()
  const tx = db.transaction(['designs', 'objects'], 'readwrite')
  const head = await tx.objectStore('designs').get(design.id)
  if (!head && revision > 0) return 'removed'
  if (head && head.revision !== revision) return 'elsewhere'
  const objects = tx.objectStore('objects')
  for (const collection of collections) {
    const [now, was] = [design[collection], before?.[collection] ?? {}]
    if (now === was) continue
    for (const [id, object] of Object.entries(now))
      if (object !== was[id]) quiet(objects.put(object, [design.id, collection, id]))
    for (const id of Object.keys(was)) if (!(id in now)) quiet(objects.delete([design.id, collection, id]))
  }
  const next = revision + 1
  quiet(
    tx.objectStore('designs').put({
      id: design.id,
      name: design.name,
      settings: design.settings,
      changedAt: Date.now(),
      entities: Object.keys(design.entities).length,
      revision: next
    })
  )
  await tx.done.catch((error: unknown) => {
    throw storageError(tx.error ?? error)
  })
  return next
}

/** What is refused is told by its transaction. */
const quiet = (request: Promise<unknown>) => void request.catch(() => undefined)

/** Removes a design and everything kept for its targets, those it had before too. */
export async function removeDesign(id: string): Promise<void> {
  forgetUnsaved(id)
  const db = await database()
  const tx = db.transaction(
    ['designs', 'objects', 'dumps', 'agreed', 'runs', 'entries', 'queries', 'checkpoints', 'histories'],
    'readwrite'
  )
  const targets = IDBKeyRange.bound(targetKey(id, ''), targetKey(id, '\uffff'))
  void tx.objectStore('designs').delete(id)
  void tx.objectStore('objects').delete(range(id))
  void tx.objectStore('dumps').delete(targets)
  void tx.objectStore('agreed').delete(targets)
  void tx.objectStore('histories').delete(id)
  for (const checkpoint of await tx.objectStore('checkpoints').index('design').getAllKeys(id))
    void tx.objectStore('checkpoints').delete(checkpoint)
  for (const query of await tx.objectStore('queries').index('target').getAllKeys(targets))
    void tx.objectStore('queries').delete(query)
  for (const run of await tx.objectStore('runs').index('target').getAllKeys(targets)) {
    void tx.objectStore('runs').delete(run)
    for (const entry of await tx.objectStore('entries').index('run').getAllKeys(run))
      void tx.objectStore('entries').delete(entry)
  }
  await tx.done
}
