// Who may do what: manual, GRANT, REVOKE, ALTER DEFAULT PRIVILEGES.
import {
  addressOf,
  freeAddress,
  isView,
  propertyOf,
  type Address,
  type DefaultRights,
  type Right
} from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import { lacking, note } from './comments'
import type { Reading } from './reading'
import { routineNamed } from './routines'

/** Manual, table 5.2. */
const ALL: Readonly<Record<string, readonly string[]>> = {
  table: ['DELETE', 'INSERT', 'REFERENCES', 'SELECT', 'TRIGGER', 'TRUNCATE', 'UPDATE'],
  view: ['DELETE', 'INSERT', 'REFERENCES', 'SELECT', 'TRIGGER', 'TRUNCATE', 'UPDATE'],
  sequence: ['SELECT', 'UPDATE', 'USAGE'],
  schema: ['CREATE', 'USAGE'],
  routine: ['EXECUTE'],
  type: ['USAGE'],
  column: ['INSERT', 'REFERENCES', 'SELECT', 'UPDATE']
}
const allOf = (kind: string, version: number): readonly string[] =>
  version >= 17 && (kind === 'table' || kind === 'view') ? [...(ALL[kind] ?? []), 'MAINTAIN'] : (ALL[kind] ?? [])
/** What everybody may without being told. */
const OF_ALL: Readonly<Record<string, string>> = { routine: 'EXECUTE', type: 'USAGE' }

interface Said {
  readonly may: string
  readonly columns: readonly string[]
}

function takeRights(cursor: Cursor): Said[] {
  const said: Said[] = []
  do {
    const isRight = cursor.isName || /^(select|references|all|create)$/.test(cursor.word())
    if (!isRight) throw new NotUnderstood(`What is given is expected ${cursor.here()}.`)
    const may = cursor.next().toUpperCase()
    if (may === 'ALL') cursor.take('privileges')
    if (may === 'ALTER') cursor.expect('system')
    said.push({ may, columns: cursor.word() === '(' ? cursor.names() : [] })
  } while (cursor.take(','))
  return said
}

function takeRoles(cursor: Cursor): string[] {
  const roles: string[] = []
  do {
    cursor.take('group')
    const special = cursor.takeOne('public', 'current_user', 'session_user', 'current_role')
    roles.push(special?.toUpperCase() ?? cursor.name())
  } while (cursor.take(','))
  return roles
}

function takeNames(cursor: Cursor): string[] {
  const names = [cursor.name()]
  while (cursor.take(',')) names.push(cursor.name())
  return names
}

interface Change {
  readonly gives: boolean
  /** Only that it may be handed on. */
  readonly optionOnly: boolean
  readonly grantable: boolean
}

function changed(
  rights: readonly Right[],
  to: string,
  may: string,
  usual: boolean,
  { gives, optionOnly, grantable }: Change
): Right[] {
  const rest = rights.filter((right) => right.to !== to || right.may !== may)
  const own = rights.find((right) => right.to === to && right.may === may)
  const given = (pass: boolean): Right => ({ to, may, ...(pass ? { grantable: true as const } : {}) })
  if (gives) {
    if (usual && !grantable) return rest
    return [...rest, given(grantable || own?.grantable === true)]
  }
  if (optionOnly) return own ? [...rest, own.revoked ? own : given(false)] : [...rest]
  return usual ? [...rest, { to, may, revoked: true }] : rest
}

const order = (rights: readonly Right[]): readonly Right[] | undefined => {
  const rank = ({ revoked, to, grantable, may }: Right) => `${revoked ? 0 : 1} ${to} ${grantable ? 1 : 0} ${may}`
  return rights.length ? [...rights].sort((a, b) => (rank(a) < rank(b) ? -1 : 1)) : undefined
}

/** After GRANT or REVOKE; false for what is given of no object that a catalogue holds. */
export function grant(cursor: Cursor, gives: boolean, reading: Reading): boolean {
  const optionOnly = !gives && cursor.take('grant', 'option', 'for')
  const said = takeRights(cursor)
  if (!cursor.take('on')) return membership(cursor, said, gives)
  const unknown = said.find(({ may }) => !PRIVILEGES.has(may))
  if (unknown) throw new NotUnderstood(`There is no right “${unknown.may}”.`)
  const places = takeObjects(cursor, reading)
  if (!places) return false
  cursor.expect(gives ? 'to' : 'from')
  const roles = takeRoles(cursor)
  const grantable = gives && cursor.take('with', 'grant', 'option')
  finished(cursor)
  const change = { gives, optionOnly, grantable }
  for (const address of places)
    for (const { may, columns } of said) {
      if (columns.length === 0) {
        give(address, may === 'ALL' ? allOf(address.kind, reading.version) : [may], roles, change, reading)
        continue
      }
      for (const column of columns) {
        if (address.kind === 'view') {
          giveOfView(address, column, may, roles, change, reading)
          continue
        }
        const at = addressOf('column', ...address.path, column)
        if (!reading.standing.find(at)) lacking('column', column)
        give(at, may === 'ALL' ? allOf('column', reading.version) : [may], roles, change, reading)
      }
    }
  return true
}

/** Manual, table 5.1. */
const PRIVILEGES = new Set(
  'SELECT INSERT UPDATE DELETE TRUNCATE REFERENCES TRIGGER CREATE CONNECT TEMPORARY TEMP EXECUTE USAGE SET MAINTAIN ALL ALTER'.split(
    ' '
  )
)

/** What may stand at the end of a grant. */
function finished(cursor: Cursor): void {
  if (cursor.take('granted', 'by')) takeRoles(cursor)
  cursor.takeOne('cascade', 'restrict')
  cursor.finish()
}

/** `GRANT crew TO agent`: who is what is of the whole server. */
function membership(cursor: Cursor, said: readonly Said[], gives: boolean): false {
  if (said.some(({ columns }) => columns.length > 0)) throw new NotUnderstood(`“ON” is expected ${cursor.here()}.`)
  cursor.expect(gives ? 'to' : 'from')
  takeRoles(cursor)
  if (cursor.take('with')) while (!cursor.done) cursor.next()
  finished(cursor)
  return false
}

function give(
  address: Address,
  all: readonly string[],
  roles: readonly string[],
  change: Change,
  reading: Reading
): void {
  const object = reading.standing.find(address)
  if (!object) return
  const owner = propertyOf(object, 'owner')
  let rights = (propertyOf(object, 'rights') as readonly Right[] | undefined) ?? []
  for (const may of all)
    for (const to of roles)
      rights = changed(rights, to, may, to === owner || (to === 'PUBLIC' && OF_ALL[address.kind] === may), change)
  reading.set(address, 'rights', order(rights))
}

function giveOfView(
  address: Address,
  name: string,
  may: string,
  roles: readonly string[],
  change: Change,
  reading: Reading
): void {
  const view = reading.relation(address.path)
  if (!view || !isView(view)) return
  let rights: readonly Right[] = view.notes?.find((other) => other.name === name)?.rights ?? []
  for (const one of may === 'ALL' ? allOf('column', reading.version) : [may])
    for (const to of roles) rights = changed(rights, to, one, false, change)
  note(view, name, { rights: order(rights) }, reading)
}

/** What rights are given of; nothing for a database, a language and the like. */
function takeObjects(cursor: Cursor, reading: Reading): Address[] | undefined {
  if (cursor.take('all')) {
    const word = cursor.next().toLowerCase()
    cursor.expect('in', 'schema')
    const schemas = takeNames(cursor)
    const { tables, views = [], sequences = [], routines = [] } = reading.catalog()
    const within = <T extends { readonly schema: string }>(list: readonly T[]) =>
      list.filter(({ schema }) => schemas.includes(schema))
    if (word === 'tables')
      return [
        ...within(tables).map((table) => freeAddress('table', table)),
        ...within(views).map((view) => freeAddress('view', view))
      ]
    if (word === 'sequences') return within(sequences).map((sequence) => freeAddress('sequence', sequence))
    return within(routines).map((routine) => freeAddress('routine', routine))
  }
  const word = cursor.takeOne('table', 'sequence', 'function', 'procedure', 'routine', 'schema', 'type', 'domain')
  if (word === undefined && !cursor.isName) throw new NotUnderstood(`Of what it is given is expected ${cursor.here()}.`)
  if (
    word === undefined &&
    /^(database|language|tablespace|foreign|large|parameter)$/.test(cursor.word()) &&
    cursor.word(1) !== 'to' &&
    cursor.word(1) !== ','
  )
    return undefined
  const found: Address[] = []
  do {
    if (word === 'function' || word === 'procedure' || word === 'routine') {
      const [address, name] = routineNamed(cursor, reading)
      found.push(address ?? lacking(word, name))
    } else {
      const path = cursor.path()
      found.push(objectAt(word, path, reading) ?? lacking(word ?? 'table', path.join('.')))
    }
  } while (cursor.take(','))
  return found
}

function objectAt(word: string | undefined, path: readonly string[], reading: Reading): Address | undefined {
  if (word === 'schema') return reading.standing.free('schema', '', path[0] ?? '') && addressOf('schema', path[0] ?? '')
  const kinds =
    word === 'sequence'
      ? (['sequence'] as const)
      : word === 'type' || word === 'domain'
        ? (['type'] as const)
        : (['table', 'view', 'sequence'] as const)
  for (const kind of kinds) {
    const found = reading.lookFor(kind, path)
    if (found) return freeAddress(kind, found as never)
  }
  return undefined
}

const KINDS: Readonly<Record<string, readonly [of: string, kind: string]>> = {
  tables: ['TABLES', 'table'],
  sequences: ['SEQUENCES', 'sequence'],
  functions: ['FUNCTIONS', 'routine'],
  routines: ['FUNCTIONS', 'routine'],
  types: ['TYPES', 'type'],
  schemas: ['SCHEMAS', 'schema']
}

/** After ALTER DEFAULT PRIVILEGES. */
export function defaultRights(cursor: Cursor, reading: Reading): void {
  // Whoever runs it, where nobody is named.
  let roles = ['CURRENT_USER']
  let schemas: (string | undefined)[] = [undefined]
  for (;;) {
    if (cursor.take('for', 'role') || cursor.take('for', 'user')) roles = takeRoles(cursor)
    else if (cursor.take('in', 'schema')) schemas = takeNames(cursor)
    else break
  }
  const gives = cursor.take('grant')
  if (!gives) cursor.expect('revoke')
  const optionOnly = !gives && cursor.take('grant', 'option', 'for')
  const said = takeRights(cursor)
  cursor.expect('on')
  const [of, kind] = KINDS[cursor.next().toLowerCase()] ?? lacking('kind', 'of that name')
  cursor.expect(gives ? 'to' : 'from')
  const to = takeRoles(cursor)
  const grantable = gives && cursor.take('with', 'grant', 'option')
  finished(cursor)
  for (const role of roles)
    for (const schema of schemas) {
      const name = [role, ...(schema === undefined ? [] : [schema]), of].join(' ')
      const old = reading.standing.free('defaultRights', '', name)
      let rights: readonly Right[] = old?.rights ?? []
      for (const { may } of said)
        for (const one of may === 'ALL' ? allOf(kind, reading.version) : [may])
          for (const who of to) {
            const usual = schema === undefined && (who === role || (who === 'PUBLIC' && OF_ALL[kind] === one))
            rights = changed(rights, who, one, usual, { gives, optionOnly, grantable })
          }
      if (old) reading.drop(addressOf('defaultRights', name))
      const now: DefaultRights = {
        name,
        role,
        ...(schema === undefined ? {} : { schema }),
        of,
        rights: order(rights) ?? []
      }
      if (now.rights.length) reading.create('defaultRights', now)
    }
}
