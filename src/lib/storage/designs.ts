// Designs in the browser's own database. A save writes only the objects that changed.
import { COLLECTIONS, type CollectionName, type Design } from '../core/design'
import { readDesign } from '../core/derive'
import { printDesign } from '../core/design'
import type { Result } from '../core/notice'
import { targetKey } from './targets'
import { database, type DesignHead } from './database'

const collections = Object.keys(COLLECTIONS) as CollectionName[]
const range = (id: string) => IDBKeyRange.bound([id], [id, []])

export async function listDesigns(): Promise<DesignHead[]> {
  const heads = await (await database()).getAll('designs')
  return heads.sort((a, b) => b.changedAt - a.changedAt)
}

/** A design as it was last saved, checked as strictly as a file would be; nothing when there is none. */
export async function loadDesign(id: string): Promise<{ design: Result<Design>; revision: number } | undefined> {
  const db = await database()
  const tx = db.transaction(['designs', 'objects'])
  const head = await tx.objectStore('designs').get(id)
  if (!head) return undefined
  const [keys, values] = await Promise.all([
    tx.objectStore('objects').getAllKeys(range(id)),
    tx.objectStore('objects').getAll(range(id))
  ])
  const design: Record<string, unknown> = { id, name: head.name, settings: head.settings }
  for (const collection of collections) {
    const own = keys.flatMap(([, name, key], i) => (name === collection ? [[key, values[i]] as const] : []))
    design[collection] = Object.fromEntries(own)
  }
  // The printer and the reader of files are the one gate that a stored design passes too.
  return { design: readDesign(printDesign(design as Design)), revision: head.revision }
}

/**
 * Saves a design; `before` is what was saved last, so that only what changed is written. Refuses, and returns nothing,
 * when somebody else has saved since `revision`.
 */
export async function saveDesign(
  design: Design,
  before: Design | undefined,
  revision: number
): Promise<number | undefined> {
  const db = await database()
  const tx = db.transaction(['designs', 'objects'], 'readwrite')
  const head = await tx.objectStore('designs').get(design.id)
  if (head && head.revision !== revision) return undefined
  const objects = tx.objectStore('objects')
  for (const collection of collections) {
    const [now, was] = [design[collection], before?.[collection] ?? {}]
    if (now === was) continue
    for (const [id, object] of Object.entries(now))
      if (object !== was[id]) void objects.put(object, [design.id, collection, id])
    for (const id of Object.keys(was)) if (!(id in now)) void objects.delete([design.id, collection, id])
  }
  const next = revision + 1
  void tx.objectStore('designs').put({
    id: design.id,
    name: design.name,
    settings: design.settings,
    changedAt: Date.now(),
    entities: Object.keys(design.entities).length,
    revision: next
  })
  await tx.done
  return next
}

/** Removes a design and everything kept for its targets, those it had before too. */
export async function removeDesign(id: string): Promise<void> {
  const db = await database()
  const tx = db.transaction(['designs', 'objects', 'dumps', 'agreed', 'runs', 'entries', 'queries'], 'readwrite')
  const targets = IDBKeyRange.bound(targetKey(id, ''), targetKey(id, '\uffff'))
  void tx.objectStore('designs').delete(id)
  void tx.objectStore('objects').delete(range(id))
  void tx.objectStore('dumps').delete(targets)
  void tx.objectStore('agreed').delete(targets)
  for (const query of await tx.objectStore('queries').index('target').getAllKeys(targets))
    void tx.objectStore('queries').delete(query)
  for (const run of await tx.objectStore('runs').index('target').getAllKeys(targets)) {
    void tx.objectStore('runs').delete(run)
    for (const entry of await tx.objectStore('entries').index('run').getAllKeys(run))
      void tx.objectStore('entries').delete(entry)
  }
  await tx.done
}
