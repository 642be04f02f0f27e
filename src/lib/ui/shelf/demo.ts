// The demo design on the shelf, and the database that it finds itself a few changes ahead of.
import { writeScript } from '../../core/plan'
import { harbour } from '$demo/harbour'
import { history, rowsOf } from '$demo/history'
import { derive } from '../../core/derive'
import type { Design } from '../../core/design'
import { dialect } from '../../core/dialects'
import { listDesigns, saveAgreed, saveDesign, targetKey } from '../../storage'
import { databaseWorker } from '../../workers'

const OFFERED = 'ramblet.demo'

/** Puts the demo on an empty shelf, once: a person may take it off for good. */
export async function offerDemo(): Promise<void> {
  if (localStorage.getItem(OFFERED) || (await listDesigns()).length > 0) return
  const design = harbour()
  await saveDesign(design, undefined, 0)
  localStorage.setItem(OFFERED, 'yes')
}

/** Makes a database of the demo, as it was left, when it is first looked at. */
export function prepareDemo(design: Design, targetId: string): Promise<void> {
  const key = targetKey(design.id, targetId)
  const made = preparing.get(key) ?? prepare(design, targetId)
  preparing.set(key, made)
  // One that was refused may be made the next time.
  made.catch(() => preparing.delete(key))
  return made
}

/** Several parts of a page may look at a database at once; it is made by the first. */
const preparing = new Map<string, Promise<void>>()

async function prepare(design: Design, targetId: string): Promise<void> {
  const target = harbour().targets[targetId]
  const key = targetKey(design.id, targetId)
  if (design.id !== harbour().id || !target || (await databaseWorker().exists(key))) return
  const engine = dialect(target.engine, target.version)
  if (!engine) return
  const { agreed, later } = history(target)
  const before = derive(agreed, target, engine)
  const statements = writeScript(before.catalog, engine).map(({ sql }) => sql)
  const which = { key, engine: target.engine, version: target.version }
  const outcomes = await databaseWorker().run(which, [...statements, ...rowsOf(target), ...later])
  const refused = outcomes.find((outcome) => !outcome.ok)
  if (refused) throw new Error(`The demo’s database could not be made: ${refused.error?.message ?? ''}`)
  await saveAgreed(key, before.catalog)
}
