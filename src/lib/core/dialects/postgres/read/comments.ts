// What is said of an object from outside: manual, COMMENT.
import {
  addressOf,
  freeAddress,
  isView,
  type Address,
  type ColumnNote,
  type Options,
  type TypeObject,
  type View
} from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import type { Reading } from './reading'
import { routineNamed, takeText } from './routines'
import { withSettings } from './settings'

export const lacking = (kind: string, name: string): never => {
  throw new NotUnderstood(`There is no ${kind} ${name}.`)
}

/** After COMMENT ON; false for what no catalogue holds. */
export function comment(cursor: Cursor, reading: Reading): boolean {
  const kind = takeKind(cursor)
  const constraint = kind === 'constraint' ? cursor.name() : undefined
  const inner = /^(trigger|rule|policy)$/.test(kind) ? cursor.name() : undefined
  if (constraint !== undefined || inner !== undefined) cursor.expect('on')
  const domain = constraint !== undefined && cursor.take('domain')
  const found = place(kind, cursor, reading, constraint ?? inner, domain)
  if (!found) return false
  cursor.expect('is')
  const text = cursor.take('null') ? undefined : takeText(cursor)
  cursor.finish()
  found(text === '' ? undefined : text)
  return true
}

/** What can be spoken of, and is held by no catalogue. */
const OUTSIDE =
  'access cast collation conversion database event foreign language large operator procedural publication role server statistics subscription tablespace text transform'.split(
    ' '
  )
const HELD =
  'table view sequence schema extension type domain function procedure routine aggregate column index trigger rule policy constraint'.split(
    ' '
  )

function takeKind(cursor: Cursor): string {
  if (cursor.take('materialized')) {
    cursor.expect('view')
    return 'view'
  }
  const word = cursor.takeOne(...HELD, ...OUTSIDE)
  if (word === undefined) throw new NotUnderstood(`What is spoken of is expected ${cursor.here()}.`)
  return word
}

/** What sets the comment of what is named here. */
function place(
  kind: string,
  cursor: Cursor,
  reading: Reading,
  inner: string | undefined,
  domain: boolean
): ((text: string | undefined) => void) | undefined {
  const set = (address: Address) => (text: string | undefined) => reading.set(address, 'comment', text)
  switch (kind) {
    case 'table':
    case 'view':
    case 'sequence': {
      const path = cursor.path()
      const found = reading.lookFor(kind, path) ?? lacking(kind, path.join('.'))
      return set(freeAddress(kind, found as never))
    }
    case 'schema':
    case 'extension': {
      const name = cursor.name()
      if (!reading.standing.free(kind, '', name)) lacking(kind, name)
      return set(addressOf(kind, name))
    }
    case 'type':
    case 'domain': {
      const path = cursor.path()
      return set(freeAddress('type', reading.lookFor('type', path) ?? lacking(kind, path.join('.'))))
    }
    case 'function':
    case 'procedure':
    case 'routine':
    case 'aggregate': {
      const [address, name] = routineNamed(cursor, reading)
      return set(address ?? lacking(kind, name))
    }
    case 'column':
      return columnComment(cursor.path(), reading)
    case 'index': {
      const path = cursor.path()
      const name = path.at(-1) ?? ''
      const found = reading.indexed(path) ?? lacking(kind, path.join('.'))
      const address = addressOf(found.kind, found.schema, found.name, name)
      if (found.kind === 'index') return set(address)
      const options = reading.standing.find(address) as { readonly options?: Options } | undefined
      return (text) => reading.set(address, 'options', withSettings(options?.options, { 'comment on index': text }))
    }
    case 'trigger':
    case 'rule':
    case 'policy': {
      const path = cursor.path()
      const home = reading.relation(path)
      const address = home && addressOf(kind, home.schema, home.name, inner ?? '')
      if (!address || !reading.standing.find(address)) return lacking(kind, inner ?? '')
      return set(address)
    }
    case 'constraint':
      return constraintComment(inner ?? '', cursor.path(), domain, reading)
    default:
      return undefined
  }
}

const CONSTRAINTS = ['primaryKey', 'unique', 'foreignKey', 'check', 'exclusion'] as const

function constraintComment(name: string, path: readonly string[], domain: boolean, reading: Reading) {
  if (domain) {
    const type = reading.lookFor('type', path) ?? lacking('domain', path.join('.'))
    return (text: string | undefined) =>
      reading.set(
        freeAddress('type', type),
        'checks',
        (type.checks ?? []).map(({ comment: was, ...check }) => {
          const said = check.name === name ? text : was
          return said === undefined ? check : { ...check, comment: said }
        })
      )
  }
  const home = reading.table(path)
  const address = CONSTRAINTS.map((kind) => addressOf(kind, home.schema, home.name, name)).find((at) =>
    reading.standing.find(at)
  )
  return (text: string | undefined) => reading.set(address ?? lacking('constraint', name), 'comment', text)
}

function columnComment(path: readonly string[], reading: Reading): (text: string | undefined) => void {
  const [name = ''] = path.slice(-1)
  const owner = path.slice(0, -1)
  const home = reading.relation(owner)
  if (home && isView(home)) return (text) => note(home, name, { comment: text }, reading)
  if (home) {
    if (!home.columns.some((column) => column.name === name)) lacking('column', path.join('.'))
    return (text) => reading.set(addressOf('column', home.schema, home.name, name), 'comment', text)
  }
  const type: TypeObject = reading.lookFor('type', owner) ?? lacking('table', owner.join('.'))
  return (text) =>
    reading.set(
      freeAddress('type', type),
      'fields',
      (type.fields ?? []).map(({ comment: was, ...field }) => {
        const said = field.name === name ? text : was
        return said === undefined ? field : { ...field, comment: said }
      })
    )
}

/** Something said of a view's column. */
export function note(
  view: View,
  name: string,
  said: { readonly [K in keyof ColumnNote]?: ColumnNote[K] | undefined },
  reading: Reading
): void {
  const old: ColumnNote = view.notes?.find((other) => other.name === name) ?? { name }
  const now = Object.fromEntries(
    Object.entries({ ...old, ...said }).filter(([, value]) => value !== undefined)
  ) as unknown as ColumnNote
  const rest = (view.notes ?? []).filter((other) => other.name !== name)
  const all = Object.keys(now).length > 1 ? [...rest, now] : rest
  reading.set(freeAddress('view', view), 'notes', all.length ? all : undefined)
}
