// What a column's type, bounds and domain let into it, as conditions on the one column.
import type { Column } from '../catalog'
import type { Attribute, Common } from '../design'
import type { Dialect } from '../dialects'
import { renameNames } from '../sql'

interface Said {
  /** Which of them it is: `check`, `range`, `letters`, `shape` or `rule`. */
  readonly part: string
  readonly expression: string
}

/** The conditions on a column, in the engine's own words; `rule` is its domain's. */
export function saidOf(
  { type, min, max, letters }: Attribute | Common,
  made: Column,
  rule: string | undefined,
  { write }: Dialect
): Said[] {
  const said: Said[] = []
  const add = (part: string, expression: string) => said.push({ part, expression })
  if (type.kind === 'oneOf') add('check', write.oneOf(made.name, type.values))
  if (min !== undefined || max !== undefined) add('range', write.range(made.name, min, max))
  if (letters !== undefined && (type.kind === 'text' || type.kind === 'char'))
    add('letters', write.inLetters(made.name, letters))
  const shape = { object: 'object', map: 'object', list: 'list' }[type.kind as string]
  // What the engine has a type for needs no check.
  if (shape !== undefined && made.type.of === undefined) {
    const expression = write.shaped?.(made.name, shape as 'list')
    if (expression !== undefined) add('shape', expression)
  }
  if (rule !== undefined && rule.trim() !== '') {
    const { lexis, quote } = write
    add('rule', renameNames(rule.trim(), new Map([[lexis.fold('value', false), made.name]]), lexis, quote))
  }
  return said
}
