// What the line says that opens a block, and how names stand in it.
import type { Line } from './lines'
import { outside, unquoted } from './pieces'
import type { Block } from './reading'

/** `name = database name`, each perhaps in quotes. */
export function called(text: string): [string | undefined, string | undefined] {
  const at = outside(text, '=')
  const name = unquoted(at < 0 ? text : text.slice(0, at))
  const dbName = at < 0 ? undefined : unquoted(text.slice(at + 1))
  return [name, dbName === '' ? undefined : dbName]
}

export const rawName = (text: string): string => {
  const at = outside(text, '=')
  return (at < 0 ? text : text.slice(0, at)).trim()
}

export function entityOf(line: Line, rest: string, collection: boolean): Block {
  const [name = '', dbName] = called(rest.replace(/:\s*$/, ''))
  return { line, name, ...(dbName === undefined ? {} : { dbName }), ...(collection ? { collection } : {}) }
}

export function subtypeOf(line: Line, rest: string): Block | undefined {
  const [, dbName] = called(rest)
  const words = /^(.+?)\s+of\s+(.+?)(?:\s+by\s+(.+?))?((?:\s*,?\s+(?:complete|exclusive))*)$/i.exec(rawName(rest))
  const [, name, supertype, discriminator, more = ''] = words ?? []
  if (name === undefined || supertype === undefined) return undefined
  return {
    line,
    name: unquoted(name),
    ...(dbName === undefined ? {} : { dbName }),
    kindOf: {
      supertype: unquoted(supertype),
      ...(discriminator === undefined ? {} : { discriminator: unquoted(discriminator) }),
      complete: /complete/i.test(more),
      exclusive: /exclusive/i.test(more)
    }
  }
}
