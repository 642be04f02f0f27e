// "JSON Functions" (14.17) of MySQL's manual, 8.4.
import { text, whole, type Func, type Given } from './given'

const parsed = (value: Given): unknown => {
  try {
    return JSON.parse(text(value)) as unknown
  } catch {
    return undefined
  }
}

/** "JSON Functions" (14.17). */
export const DOCUMENTS: Readonly<Record<string, Func>> = {
  json_valid: whole((a) => (parsed(a) === undefined ? 0 : 1)),
  json_type: whole((a) => {
    const value = parsed(a)
    if (Array.isArray(value)) return 'ARRAY'
    if (value === null) return 'NULL'
    if (typeof value === 'number') return Number.isInteger(value) ? 'INTEGER' : 'DOUBLE'
    return { object: 'OBJECT', string: 'STRING', boolean: 'BOOLEAN' }[typeof value as string] ?? null
  }),
  json_unquote: whole((a) => {
    const value = parsed(a)
    return typeof value === 'string' ? value : text(a)
  }),
  json_quote: whole((a) => JSON.stringify(text(a))),
  json_length: whole((a) => {
    const value = parsed(a)
    return value === undefined ? null : typeof value === 'object' && value !== null ? Object.keys(value).length : 1
  })
}
