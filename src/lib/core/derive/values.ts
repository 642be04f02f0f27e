// Defaults as people write them, read for the type they stand beside.
import type { DefaultValue } from '../dialects'
import { failed, ok, type Result } from '../notice'
import type { NeutralType } from '../types'

const numbers = ['tiny', 'small', 'integer', 'big', 'decimal', 'float', 'double']
const moments = ['date', 'time', 'timestamp']

/**
 * Reads `0`, `ferry`, `"in port"`, `now`, `new` (a fresh uuid), `true`, `(expression)`.
 * Errors: `default-not-number`, `default-not-boolean`, `default-not-allowed`.
 */
export function parseDefault(text: string, type: NeutralType): Result<DefaultValue> {
  const source = text.trim()
  const expression = /^\(([\s\S]+)\)$/.exec(source)?.[1]
  if (expression !== undefined) return ok({ kind: 'expression', text: expression.trim() })
  const quoted = /^"([\s\S]*)"$/.exec(source)?.[1] ?? /^'([\s\S]*)'$/.exec(source)?.[1]
  const word = source.toLowerCase()
  if (quoted === undefined) {
    if (word === 'now' && moments.includes(type.kind)) return ok({ kind: 'now' })
    if (word === 'new' && type.kind === 'uuid') return ok({ kind: 'new uuid' })
    if (type.kind === 'boolean') {
      if (['true', 'yes'].includes(word)) return ok({ kind: 'boolean', value: true })
      if (['false', 'no'].includes(word)) return ok({ kind: 'boolean', value: false })
      return failed('default-not-boolean', `The default “${source}” is neither true nor false.`)
    }
    if (numbers.includes(type.kind))
      return /^-?\d+(\.\d+)?$/.test(source)
        ? ok({ kind: 'number', text: source })
        : failed('default-not-number', `The default “${source}” is not a number.`)
  }
  const value = quoted ?? source
  if (type.kind === 'oneOf' && !type.values.includes(value))
    return failed('default-not-allowed', `The default “${value}” is none of ${type.values.join(', ')}.`)
  return ok({ kind: 'text', text: value })
}
