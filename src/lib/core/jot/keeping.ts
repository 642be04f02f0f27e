// What an object of a text has of the one that it was before: its id, its place in a list.
import { sameValue } from '../catalog'
import { newId, type Design, type Edit } from '../design'

/** Ids by names in small letters; by the names that they had, where nothing else has them. */
export function byNameOrBefore(
  now: ReadonlyMap<string, string>,
  before: ReadonlyMap<string, string> = new Map()
): Map<string, string> {
  const ids = new Map([...now].map(([id, name]) => [name.toLowerCase(), id]))
  for (const [id, name] of before) {
    const key = name.toLowerCase()
    if (!ids.has(key) && now.has(id)) ids.set(key, id)
  }
  return ids
}

/** The id of the old one that it is: of the same columns, or of the same name. */
export function idOf<T extends { readonly id: string; readonly name?: string | undefined }>(
  old: readonly T[] | undefined,
  taken: readonly { readonly id: string }[],
  kind: 'key' | 'idx',
  parts: readonly string[],
  name: string | undefined,
  partsOf: (one: T) => readonly string[],
  /** Of several that could be it, which are like it in what else is said. */
  alike: (one: T) => boolean = () => true
): { id: string } {
  const free = (old ?? []).filter(({ id }) => !taken.some((other) => other.id === id))
  const same =
    free.find((one) => one.name === name && sameValue(partsOf(one), parts) && alike(one)) ??
    free.find((one) => one.name === name && sameValue(partsOf(one), parts)) ??
    free.find((one) => name !== undefined && one.name === name) ??
    free.find((one) => sameValue(partsOf(one), parts))
  return { id: same?.id ?? newId(kind) }
}

/** Lists keep the order that they had: it is not said everywhere. */
export function inOldOrder<T extends { readonly id: string }>(
  list: readonly T[],
  old: readonly { readonly id: string }[] | undefined
): T[] {
  const rank = new Map((old ?? []).map(({ id }, i) => [id, i]))
  return list
    .map((one, i) => ({ one, at: rank.get(one.id) ?? rank.size + i }))
    .sort((a, b) => a.at - b.at)
    .map(({ one }) => one)
}

export const byId = <T extends { readonly id: string }>(list: readonly T[]): Record<string, T> =>
  Object.fromEntries(list.map((one) => [one.id, one]))

/** What leads from one design to another: what goes, then what comes or is otherwise. */
export function leading(from: Design, to: Design): Edit {
  const edits: Edit[] = []
  if (!sameValue(from.settings, to.settings)) edits.push({ kind: 'design.set', set: { settings: to.settings } })
  const collections = ['views', 'links', 'subtypes', 'entities', 'commons', 'domains', 'areas'] as const
  for (const collection of collections)
    for (const id of Object.keys(from[collection]))
      if (!to[collection][id]) edits.push({ kind: 'object.remove', collection, id })
  const other: Edit[] = []
  for (const collection of [...collections].reverse())
    for (const [id, object] of Object.entries(to[collection]))
      if (!sameValue(from[collection][id], object)) {
        const put = { kind: 'object.set', collection, object } as Edit
        edits.push(put)
        if (collection === 'entities') other.push(put)
      }
  // What an entity's links or domains have changed of it by themselves is as the text says it.
  edits.push(...other)
  return { kind: 'all', edits }
}
