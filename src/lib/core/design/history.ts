// Undo and redo: the older values, kept. A design is immutable, so a step costs only what it changed.
import { edit, type Edit } from './edit'
import type { Design } from './schema'

export interface History {
  readonly past: readonly Design[]
  readonly present: Design
  readonly future: readonly Design[]
}

export const begin = (design: Design): History => ({ past: [], present: design, future: [] })

/** Makes an edit; one that changes nothing leaves no trace. `joins`: becomes one with the edit before it. */
export function change(history: History, e: Edit, joins = false): History {
  const present = edit(history.present, e)
  if (present === history.present) return history
  const past = joins && history.past.length > 0 ? history.past : [...history.past, history.present]
  return { past, present, future: [] }
}

export function undo(history: History): History {
  const present = history.past.at(-1)
  return present ? { past: history.past.slice(0, -1), present, future: [history.present, ...history.future] } : history
}

export function redo(history: History): History {
  const [present, ...future] = history.future
  return present ? { past: [...history.past, history.present], present, future } : history
}
