// Triggers, procedures and functions in the words in which the server's own tables are read ("programs.ts", "introspect.ts").
import type { Cursor } from '../../../sql'
import { NotUnderstood } from '../../../sql'
import type { TypeSystem } from '../../dialect'
import { CHANGES, triggerText } from '../database-triggers'
import { BODY, packageText } from '../packages'
import { quote } from '../rows'
import { readTypeAt } from './types'

const typeIn = (item: Cursor, types: TypeSystem): string => {
  if (item.take('type', 'of', 'column')) {
    const [table = '', column = ''] = item.path()
    return `TYPE OF COLUMN ${quote(table)}.${quote(column)}`
  }
  const isOf = item.take('type', 'of')
  const { name, schema, args, more } = readTypeAt(item, types)
  if (schema !== undefined) return `${isOf ? 'TYPE OF ' : ''}${quote(name)}`
  return `${name}${args ? `(${args.join(',')})` : ''}${more === undefined ? '' : ` ${more}`}`.toUpperCase()
}

function parameter(item: Cursor, types: TypeSystem): string {
  const name = item.name()
  const type = typeIn(item, types)
  const required = item.take('not', 'null')
  if (item.take('collate')) item.name()
  const preset = item.takeOne('=', 'default') === undefined ? undefined : item.rest()
  return [quote(name), type, required && 'NOT NULL', preset !== undefined && `= ${preset}`].filter(Boolean).join(' ')
}

const list = (item: Cursor, types: TypeSystem): string => {
  const all =
    item.word() === '('
      ? item
          .group()
          .parts()
          .map((part) => parameter(part, types))
      : []
  return all.length > 0 ? ` (${all.join(', ')})` : ''
}

/** From behind its name on; the statement that makes it. */
export function readProgram(item: Cursor, kind: 'procedure' | 'function', name: string, types: TypeSystem): string {
  const takes = list(item, types)
  let gives = ''
  if (item.take('returns'))
    gives = kind === 'procedure' ? `\nRETURNS${list(item, types)}` : `\nRETURNS ${typeIn(item, types)}`
  if (kind === 'function' && item.take('collate')) item.name()
  if (item.take('deterministic')) gives += ' DETERMINISTIC'
  if (item.takeOne('external', 'sql')) throw new NotUnderstood(`What ${name} does is not said in the database.`)
  item.expect('as')
  return `CREATE ${kind.toUpperCase()} ${quote(name)}${takes}${gives}\nAS\n${item.rest().trim()}`
}

/** From behind "PACKAGE" on. */
export function readPackage(item: Cursor): { form: 'package' | typeof BODY; name: string; definition: string } {
  const form = item.take('body') ? BODY : 'package'
  const name = item.name()
  item.expect('as')
  return { form, name, definition: packageText(form, name, item.rest().trim()) }
}

/** A trigger of no table; nothing where it is of one. */
export function readDatabaseTrigger(item: Cursor, name: string): string | undefined {
  const at = item.is('active') || item.is('inactive') ? 1 : 0
  const isOfSessions = item.word(at) === 'on'
  const isOfChanges = ['before', 'after'].includes(item.word(at)) && !/^(insert|update|delete)$/.test(item.word(at + 1))
  if (!isOfSessions && !isOfChanges) return undefined
  const active = item.takeOne('active', 'inactive') !== 'inactive'
  const words: string[] = []
  while (!item.done && item.word() !== 'position' && item.word() !== 'as') words.push(item.next().toUpperCase())
  const place = item.take('position') ? Number(item.next()) : 0
  // Bits tell what sets it off: the order in which that was said is not kept.
  const [when = '', ...changes] = words
  const said = changes.join(' ').split(' OR ')
  const occasion =
    when === 'ON' || said.includes('ANY DDL STATEMENT')
      ? words.join(' ')
      : `${when} ${CHANGES.filter((change) => change !== '' && said.includes(change)).join(' OR ')}`
  return triggerText(name, { active, occasion, place }, item.rest().trim())
}

export interface ReadTrigger {
  readonly table: string
  readonly definition: string
}

/** "CREATE TRIGGER", either way of saying it. */
export function readTrigger(item: Cursor, name: string): ReadTrigger {
  let table = item.take('for') ? item.name() : undefined
  const active = item.takeOne('active', 'inactive') ?? 'active'
  const moment = item.takeOne('before', 'after')
  if (moment === undefined) throw new NotUnderstood(`When ${name} acts is not said.`)
  const events: string[] = []
  do events.push(item.next().toUpperCase())
  while (item.take('or'))
  let position = item.take('position') ? item.next() : undefined
  if (item.take('on')) table = item.name()
  if (item.take('position')) position = item.next()
  if (table === undefined || !events.every((event) => /^(INSERT|UPDATE|DELETE)$/.test(event)))
    throw new NotUnderstood(`What sets ${name} off is not known.`)
  const when = `${active.toUpperCase()} ${moment.toUpperCase()} ${events.join(' OR ')} POSITION ${position ?? 0}`
  return { table, definition: `CREATE TRIGGER ${quote(name)} FOR ${quote(table)} ${when}\n${item.rest().trim()}` }
}
