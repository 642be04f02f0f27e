// Stored programs taken apart as INFORMATION_SCHEMA shows them: each is kept as the statement that makes it.
import type { Routine, Trigger } from '../../core/catalog'
import type { Dialect } from '../../core/dialects'
import { Cursor, significant, textOf } from '../../core/sql'

type Line = readonly (string | number | null)[]

const cursor = (sql: string, { write }: Dialect) => new Cursor(sql, { ...write.lexis, fold: (name: string) => name })

/** Moment, event and statement of a trigger. */
export function triggerOf({ definition }: Trigger, dialect: Dialect): Line {
  const item = cursor(definition, dialect)
  while (!item.done && !['before', 'after'].includes(item.word())) item.next()
  const moment = item.next().toUpperCase()
  const event = item.next().toUpperCase()
  item.expect('on')
  item.path()
  item.take('for', 'each', 'row')
  if (item.takeOne('follows', 'precedes')) item.name()
  return [moment, event, item.rest()]
}

export interface Program {
  readonly form: string
  readonly name: string
  readonly parameters: readonly { readonly mode: string; readonly name: string; readonly type: string }[]
  readonly gives: string | null
  readonly body: string
  readonly deterministic: boolean
  readonly access: string
  readonly security: string
  readonly comment: string
}

/** "CREATE PROCEDURE and CREATE FUNCTION Statements" (15.1.17). */
export function programOf({ form, name, definition }: Routine, dialect: Dialect): Program {
  const item = cursor(definition, dialect)
  item.next()
  item.next()
  item.path()
  const parameters = item
    .group()
    .parts()
    .map((part) => {
      const mode = (part.takeOne('in', 'out', 'inout') ?? 'in').toUpperCase()
      return { mode, name: part.name(), type: part.rest() }
    })
  const characteristics = new Set([
    'deterministic',
    'not',
    'contains',
    'no',
    'reads',
    'modifies',
    'sql',
    'comment',
    'language'
  ])
  const starts = new Set([
    ...characteristics,
    'begin',
    'return',
    'select',
    'set',
    'insert',
    'update',
    'delete',
    'call',
    'if',
    'declare'
  ])
  const gives = item.take('returns') ? item.until(starts) : null
  let [deterministic, access, security, comment] = [false, 'CONTAINS SQL', 'DEFINER', '']
  while (characteristics.has(item.word())) {
    if (item.take('deterministic')) deterministic = true
    else if (item.take('not', 'deterministic')) deterministic = false
    else if (item.take('sql', 'security')) security = item.next().toUpperCase()
    else if (item.take('comment')) comment = item.nameOrText()
    else if (item.take('language', 'sql')) continue
    else {
      const words = [item.next(), item.next()]
      if (!/^(contains|no)$/i.test(words[0] ?? '')) words.push(item.next())
      access = words.join(' ').toUpperCase()
    }
  }
  return { form, name, parameters, gives, body: item.rest(), deterministic, access, security, comment }
}

/** "CREATE EVENT Statement" (15.1.13). */
export function eventOf({ definition }: Routine, dialect: Dialect): Line {
  const item = cursor(definition, dialect)
  item.next()
  item.next()
  item.path()
  item.expect('on', 'schedule')
  const ends = new Set(['starts', 'ends', 'on', 'enable', 'disable', 'comment', 'do'])
  const moment = () => {
    const said = item.until(ends)
    const [first] = significant(said, dialect.write.lexis)
    return (first && textOf(first, dialect.write.lexis)) ?? said
  }
  let [type, at, value, field, starts, until]: (string | number | null)[] = ['ONE TIME', null, null, null, null, null]
  if (item.take('at')) at = moment()
  else {
    item.expect('every')
    type = 'RECURRING'
    value = item.nameOrText()
    field = item.next().toUpperCase()
    if (item.take('starts')) starts = moment()
    if (item.take('ends')) until = moment()
  }
  let [completion, status, comment] = ['NOT PRESERVE', 'ENABLED', '']
  while (!item.done && !item.take('do')) {
    if (item.take('on', 'completion'))
      completion = item.take('not', 'preserve') ? 'NOT PRESERVE' : item.next().toUpperCase()
    else if (item.take('disable')) status = item.takeOne('on') ? (item.next(), 'REPLICA_SIDE_DISABLED') : 'DISABLED'
    else if (item.take('comment')) comment = item.nameOrText()
    else item.next()
  }
  return [
    type ?? null,
    at ?? null,
    value ?? null,
    field ?? null,
    starts ?? null,
    until ?? null,
    completion,
    status,
    comment,
    item.rest()
  ]
}
