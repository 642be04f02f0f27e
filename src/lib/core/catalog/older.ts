// Catalogues that an earlier version has kept: a type was a text.
import { readType } from './data-type'

type Loose = Readonly<Record<string, unknown>>
const isLoose = (value: unknown): value is Loose => typeof value === 'object' && value !== null && !Array.isArray(value)
const typed = (value: unknown): unknown => (typeof value === 'string' ? readType(value) : value)

/** Anything kept that holds catalogue objects, or changes of them, with each type taken apart. */
export function withTypes(kept: unknown): unknown {
  if (Array.isArray(kept)) return kept.map(withTypes)
  if (!isLoose(kept)) return kept
  const inner = Object.fromEntries(Object.entries(kept).map(([key, value]) => [key, withTypes(value)]))
  const named = (...keys: readonly string[]): Loose =>
    Object.fromEntries(keys.flatMap((key) => (key in inner ? [[key, typed(inner[key])]] : [])))
  // A column, and the field of a type: a sequence has a type too, which is a word and stays one.
  if ('nullable' in inner && typeof inner['type'] === 'string') return { ...inner, ...named('type') }
  if (Array.isArray(inner['fields']))
    return {
      ...inner,
      fields: inner['fields'].map((field) => (isLoose(field) ? { ...field, type: typed(field['type']) } : field))
    }
  if (inner['form'] === 'domain') return { ...inner, ...named('base') }
  // A change of one, what a step shows of one, and what a target has otherwise.
  const { address, property } = inner
  const isColumns = !isLoose(address) || address['kind'] === 'column'
  if (property === 'base' || (property === 'type' && isColumns)) return { ...inner, ...named('from', 'to', 'value') }
  if (isLoose(property) && (property['name'] === 'base' || (property['name'] === 'type' && isColumns)))
    return { ...inner, property: { ...property, value: typed(property['value']) } }
  return inner
}
