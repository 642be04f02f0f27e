import type { BSONRegExp, Long } from 'bson'

/**
 * A copy whose objects and lists are shared by nobody, in the values that are kept in memory: numbers and expressions are JavaScript's,
 * other values of the engine's are never changed.
 */
export const copy = <T>(value: T): T => copied(value) as T

/** By what they call themselves: a driver brings its own. */
const IN_MEMORY: Readonly<Record<string, (value: object) => unknown>> = {
  Int32: (value) => value.valueOf(),
  Double: (value) => value.valueOf(),
  Long: (value) => (value as Long).toNumber(),
  BSONRegExp: (value) => new RegExp((value as BSONRegExp).pattern, (value as BSONRegExp).options)
}

function copied(value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value
  if (Array.isArray(value)) return value.map(copied)
  const { _bsontype: called } = value as { readonly _bsontype?: string }
  if (called !== undefined) return IN_MEMORY[called]?.(value) ?? value
  const plain = [Object.prototype, null].includes(Object.getPrototypeOf(value) as object | null)
  return plain ? Object.fromEntries(Object.entries(value).map(([name, inner]) => [name, copied(inner)])) : value
}
