// What an older version kept, in the form of this one.

interface Cursor {
  readonly value: unknown
  update(value: unknown): Promise<unknown>
  continue(): Promise<Cursor | null>
}

/** Changes every value of a store that a function gives another for. */
export async function eachOf<V>(
  store: { openCursor(): Promise<unknown> },
  change: (value: V) => V | undefined
): Promise<void> {
  for (let cursor = (await store.openCursor()) as Cursor | null; cursor; cursor = await cursor.continue()) {
    const next = change(cursor.value as V)
    if (next !== undefined) await cursor.update(next)
  }
}

/** Whether an object of a design is one of its targets. */
export const isTarget = (object: unknown): boolean =>
  typeof object === 'object' && object !== null && 'engine' in object && 'environment' in object

/** Places that were said by the names of schema, table and object, as paths; everything else as it is. */
export function withAddresses(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(withAddresses)
  if (typeof value !== 'object' || value === null) return value
  const entries = Object.entries(value)
  const names = new Map<string, unknown>(entries)
  if (entries.length === 4 && ['kind', 'schema', 'table', 'name'].every((key) => typeof names.get(key) === 'string')) {
    const path = [
      names.get('schema'),
      names.get('table'),
      ...(names.get('kind') === 'table' ? [] : [names.get('name')])
    ]
    return { kind: names.get('kind'), path }
  }
  return Object.fromEntries(entries.map(([key, inner]) => [key, withAddresses(inner)]))
}
