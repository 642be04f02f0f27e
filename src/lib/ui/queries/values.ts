// Values of documents as they are shown, beneath each other: extended JSON's wrappers are the value that they stand for.

/** What is in a value, by name; nothing where there is nothing to open. */
export function entriesOf(value: unknown): readonly (readonly [string, unknown])[] | undefined {
  if (typeof value !== 'object' || value === null || wrapped(value) !== undefined) return undefined
  return Object.entries(value)
}

/** A value in a few words: itself, or how much is in it. */
export function saidOf(value: unknown): string {
  if (value === null || value === undefined) return 'null'
  if (Array.isArray(value)) return value.length === 1 ? '1 in a list' : `${value.length} in a list`
  if (typeof value === 'object') return wrapped(value) ?? fieldsOf(Object.keys(value))
  return String(value as string | number | boolean)
}

const fieldsOf = (names: readonly string[]): string =>
  names.length > 4 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', ')

/** "MongoDB Extended JSON (v2)": `{ "$oid": … }` is one value. */
function wrapped(value: object): string | undefined {
  const [only, another] = Object.entries(value) as [string, unknown][]
  if (!only || another || !/^\$(oid|date|uuid|number\w+|binary|regularExpression|timestamp)$/.test(only[0]))
    return undefined
  return typeof only[1] === 'string' ? only[1] : JSON.stringify(only[1])
}
