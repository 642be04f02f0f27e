// What was typed and not yet kept when a page goes: written at once, where a page that goes can still write, and taken up by
// the next one that opens the design.
import { COLLECTIONS, type CollectionName, type Design } from '../core/design'

const collections = Object.keys(COLLECTIONS) as CollectionName[]
const keyOf = (id: string) => `ramblet.unsaved.${id}`

interface Unsaved {
  /** Of the design that it was made from. */
  readonly revision: number
  readonly name: string
  readonly settings: Design['settings']
  /** Collection, id, and the object as it is now; nothing for one that is gone. */
  readonly changed: readonly (readonly [CollectionName, string, unknown?])[]
}

/** Keeps what `design` has otherwise than what was `stored`; nothing when they are one. Does nothing where there is no room. */
export function keepUnsaved(design: Design, stored: Design, revision: number): void {
  if (design === stored) return
  const changed = collections.flatMap((collection) => {
    const [now, was] = [design[collection], stored[collection]]
    if (now === was) return []
    return [...new Set([...Object.keys(now), ...Object.keys(was)])].flatMap((id) =>
      now[id] === was[id]
        ? []
        : [now[id] === undefined ? ([collection, id] as const) : ([collection, id, now[id]] as const)]
    )
  })
  const { id, name, settings } = design
  const unsaved: Unsaved = { revision, name, settings, changed }
  try {
    localStorage.setItem(keyOf(id), JSON.stringify(unsaved))
  } catch {
    // No room, or none at all: the save that is under way is what there is.
  }
}

export function forgetUnsaved(id: string): void {
  try {
    localStorage.removeItem(keyOf(id))
  } catch {
    // Then there is nothing to forget.
  }
}

/** A stored design with what was not kept of it, as text of the same shape; `since` when somebody has saved in between. */
export function unsavedOf(stored: Design, revision: number): { design: Design; since: boolean } | undefined {
  try {
    const text = localStorage.getItem(keyOf(stored.id))
    if (text === null) return undefined
    const { revision: from, name, settings, changed } = JSON.parse(text) as Unsaved
    let design: Design = { ...stored, name, settings }
    for (const [collection, id, object] of changed) {
      const others = Object.entries(design[collection]).filter(([key]) => key !== id)
      const all = object === undefined ? others : [...others, [id, object]]
      design = { ...design, [collection]: Object.fromEntries(all) }
    }
    return { design, since: from !== revision }
  } catch {
    return undefined
  }
}
