// States of a design that somebody gave a name, whole; and the way to the state that was saved last, step by step.
import { readDesign } from '../core/derive'
import { applyChanges, diff, printDesign, type Design, type History } from '../core/design'
import { database, type Checkpoint } from './database'

/** The checkpoints of a design, the latest first. */
export async function listCheckpoints(design: string): Promise<Checkpoint[]> {
  const all = await (await database()).getAllFromIndex('checkpoints', 'design', design)
  return all.sort((a, b) => b.at - a.at)
}

export async function saveCheckpoint(id: string, name: string, design: Design): Promise<Checkpoint> {
  const checkpoint = { id, design: design.id, name, at: Date.now(), text: printDesign(design) }
  await (await database()).put('checkpoints', checkpoint)
  return checkpoint
}

export const removeCheckpoint = async (id: string): Promise<void> => (await database()).delete('checkpoints', id)

/** The design of a checkpoint; a sentence where it cannot be read any more. */
export function designOf({ text }: Checkpoint): Design | string {
  const read = readDesign(text)
  return read.ok ? read.value : (read.notices[0]?.message ?? 'It cannot be read.')
}

/** So many steps can be undone after the page is loaded again. */
const STEPS = 60

/** What leads from each state to the one before it. */
const ways = new WeakMap<Design, { readonly from: Design; readonly changes: ReturnType<typeof diff> }>()

function way(from: Design, to: Design) {
  const known = ways.get(to)
  if (known?.from === from) return known.changes
  const changes = diff(from, to)
  ways.set(to, { from, changes })
  return changes
}

/** Keeps the steps that led here, for the revision that was just saved. */
export async function saveHistory({ past, present, future }: History, revision: number): Promise<void> {
  const back = steps([present, ...past.toReversed()].slice(0, STEPS + 1))
  const ahead = steps([present, ...future].slice(0, STEPS + 1))
  await (await database()).put('histories', { design: present.id, revision, back, ahead })
}

const steps = (states: readonly Design[]) => states.slice(1).map((state, i) => way(states[i] ?? state, state))

/** The history of a design as it was when that revision was saved; of the state alone where none is kept. */
export async function loadHistory(present: Design, revision: number): Promise<History> {
  const kept = await (await database()).get('histories', present.id)
  if (kept?.revision !== revision) return { past: [], present, future: [] }
  const walk = (list: typeof kept.back) => {
    let at = present
    return list.map((changes) => (at = applyChanges(changes, at)))
  }
  return { past: walk(kept.back).reverse(), present, future: walk(kept.ahead) }
}
