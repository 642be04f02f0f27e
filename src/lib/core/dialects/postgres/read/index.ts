// Reads a PostgreSQL script, psql's own lines among it: what its statements make, one after the other, in an empty database.
import { addressOf, freeAddress, isView, type Address } from '../../../catalog'
import { NotUnderstood, significant, splitStatements, type Cursor } from '../../../sql'
import type { ReadStatement, ScriptRead, Writer } from '../../dialect'
import { DEFAULT_SCHEMA, postgresLexis } from '../profile'
import { createAggregate } from './aggregates'
import { alterTable } from './alter-table'
import { drop } from './drop'
import { alterIndex, createIndex } from './indexes'
import { alterDomain, alterType, createDomain, createType } from './made-types'
import { Reading } from './reading'
import { createRoutine, routineNamed } from './routines'
import { comment, note } from './comments'
import { defaultRights, grant } from './rights'
import { alterSequence, createSequence } from './sequences'
import { settingsIn, withSettings } from './settings'
import { createTable } from './tables'
import { tableText } from './texts'
import { createPolicy, createRule, createTrigger, createView } from './views'

type How = ReadStatement['how']

/** Statements that make nothing that a catalogue holds. */
const PASSED = new Set(
  (
    'insert update delete merge select with values truncate copy begin start commit end abort rollback savepoint release ' +
    'prepare execute deallocate declare fetch move close analyze analyse vacuum reindex cluster lock notify listen unlisten load ' +
    'discard checkpoint explain show reset refresh call import reassign'
  ).split(' ')
)

/** What the server has beside what a catalogue holds, by the words that make it. */
const UNHELD: readonly (readonly [words: readonly string[], kind: string])[] = [
  [['foreign', 'table'], 'foreign table'],
  [['foreign', 'data', 'wrapper'], 'foreign-data wrapper'],
  [['server'], 'foreign server'],
  [['operator', 'class'], 'operator class'],
  [['operator', 'family'], 'operator family'],
  [['operator'], 'operator'],
  [['collation'], 'collation'],
  [['default', 'conversion'], 'conversion'],
  [['conversion'], 'conversion'],
  [['statistics'], 'extended statistics'],
  [['text', 'search', 'configuration'], 'text search configuration'],
  [['text', 'search', 'dictionary'], 'text search dictionary'],
  [['text', 'search', 'parser'], 'text search parser'],
  [['text', 'search', 'template'], 'text search template'],
  [['event', 'trigger'], 'event trigger'],
  [['publication'], 'publication'],
  [['subscription'], 'subscription'],
  [['cast'], 'cast'],
  [['access', 'method'], 'access method'],
  [['transform'], 'transform']
]

/** What can be changed and is held by no catalogue. */
const CHANGED = new Set(
  (
    'collation conversion database event foreign group language large operator procedural publication role server statistics ' +
    'subscription system tablespace text user'
  ).split(' ')
)

/** What is of a whole server, and no database's. */
const OUTSIDE = new Set(['database', 'role', 'user', 'group', 'tablespace'])

/** `version`: of the server that is meant. Total: what is not understood is told, and the rest is read. */
export function readPostgresScript(script: string, write: Writer, version: number): ScriptRead {
  const reading = new Reading(write, version)
  const statements = splitStatements(script, lexis, 'psql').flatMap((statement): ReadStatement[] => {
    const { sql, at } = statement
    const told = tell(statement, reading.cursor(script, statement.tokens), reading)
    // What is never closed takes in what comes after it: that is read by itself.
    if (told.how !== 'unknown' || !sql.includes(';') || !isOpen(sql)) return [told]
    const [broken, ...rest] = splitStatements(sql, plainLexis, 'psql')
    return [
      ...(broken ? [{ ...told, sql: broken.sql }] : []),
      ...rest.map((later) => tell({ sql: later.sql, at: at + later.at }, reading.cursor(later.sql), reading))
    ]
  })
  return { catalog: reading.catalog(), statements }
}
const lexis = { ...postgresLexis, fold: (name: string) => name }
/** A semicolon ends a statement wherever it stands. */
const { bodies: _bodies, ...plainLexis } = lexis

const isOpen = (sql: string): boolean =>
  significant(sql, lexis).reduce((depth, { text }) => depth + (text === '(' ? 1 : text === ')' ? -1 : 0), 0) > 0

function tell({ sql, at }: Pick<ReadStatement, 'sql' | 'at'>, cursor: Cursor, reading: Reading): ReadStatement {
  try {
    const how = take(sql, cursor, reading)
    const why = reading.told()
    reading.keep()
    return { sql, at, how, ...(why === undefined ? {} : { why }) }
  } catch (error) {
    if (!(error instanceof NotUnderstood)) throw error
    reading.undo()
    return { sql, at, how: 'unknown', why: error.message }
  }
}

function take(sql: string, cursor: Cursor, reading: Reading): How {
  const first = /^[a-z]+/i.exec(sql)?.[0].toLowerCase() ?? ''
  // Rows are many, and their texts long.
  if (PASSED.has(first)) return first === 'select' ? selected(sql, reading) : 'data'
  switch (first) {
    case 'create':
      cursor.next()
      return create(cursor, reading)
    case 'alter':
      cursor.next()
      return alter(cursor, reading)
    case 'drop':
      cursor.next()
      if (drop(cursor, reading)) return 'read'
      if (UNHELD.some(([words]) => cursor.is(...words)) || OUTSIDE.has(cursor.word())) return 'data'
      if (cursor.is('language') || cursor.is('owned', 'by')) return 'data'
      throw new NotUnderstood(`PostgreSQL has no ${cursor.word()} to remove.`)
    case 'comment':
      cursor.next()
      cursor.expect('on')
      return comment(cursor, reading) ? 'read' : 'data'
    case 'grant':
    case 'revoke':
      cursor.next()
      return grant(cursor, first === 'grant', reading) ? 'read' : 'data'
    case 'set':
      cursor.next()
      return set(cursor, reading)
    case 'do':
      throw new NotUnderstood('What a block of code does, only the engine knows.')
    case 'security':
      return 'data'
    case 'table':
      // All rows of it.
      cursor.next()
      cursor.path()
      cursor.finish()
      return 'data'
    default:
      throw new NotUnderstood(`No statement of PostgreSQL begins with “${cursor.word().slice(0, 40)}”.`)
  }
}

/** `SELECT pg_catalog.set_config('search_path', '', false)`, as the dump tool has it. */
function selected(sql: string, reading: Reading): How {
  const found = /^select\s+(?:pg_catalog\s*\.\s*)?set_config\s*\(\s*'search_path'\s*,\s*'([^']*)'/i.exec(sql)
  if (found) reading.path = found[1] === '' ? [] : pathIn(reading.cursor(found[1] ?? ''))
  return 'data'
}

function set(cursor: Cursor, reading: Reading): How {
  cursor.takeOne('session', 'local')
  if (cursor.take('schema')) {
    reading.path = [cursor.nameOrText()]
    return 'data'
  }
  if (!cursor.take('search_path')) return 'data'
  if (!cursor.take('=')) cursor.expect('to')
  reading.path = cursor.take('default') ? [DEFAULT_SCHEMA] : pathIn(cursor)
  return 'data'
}

/** The schemas of a path; the one of the user's own name is none that a script makes. */
const pathIn = (cursor: Cursor): string[] =>
  cursor
    .parts()
    .map((part) => part.nameOrText())
    .filter((name) => name !== '$user' && name !== '' && name !== 'pg_catalog')

function create(cursor: Cursor, reading: Reading): How {
  const replace = cursor.take('or', 'replace')
  cursor.takeOne('global', 'local')
  // What is there for one session only is in no schema.
  if (cursor.takeOne('temp', 'temporary')) return 'data'
  const unlogged = cursor.take('unlogged')
  const options: Record<string, string> = unlogged ? { persistence: 'unlogged' } : {}
  if (cursor.take('table')) {
    createTable(cursor, reading, options)
    return 'read'
  }
  if (cursor.take('unique', 'index')) {
    createIndex(cursor, true, reading)
    return 'read'
  }
  if (cursor.take('index')) {
    createIndex(cursor, false, reading)
    return 'read'
  }
  if (cursor.take('sequence')) {
    createSequence(cursor, reading, unlogged ? options : undefined)
    return 'read'
  }
  if (cursor.take('schema')) return schema(cursor, reading)
  if (cursor.take('extension')) return extension(cursor, reading)
  if (cursor.take('type')) {
    if (createType(cursor, reading)) return 'read'
    throw new NotUnderstood('How a base type is kept, only the engine knows: it is not held.')
  }
  if (cursor.take('domain')) {
    createDomain(cursor, reading)
    return 'read'
  }
  const [recursive, materialized] = [cursor.take('recursive'), cursor.take('materialized')]
  if (cursor.take('view')) createView(cursor, { replace, recursive, materialized }, reading)
  else if (cursor.take('function')) createRoutine(cursor, 'function', replace, reading)
  else if (cursor.take('procedure')) createRoutine(cursor, 'procedure', replace, reading)
  else if (cursor.take('aggregate')) createAggregate(cursor, replace, reading)
  else if (cursor.take('constraint', 'trigger')) createTrigger(cursor, { replace }, true, reading)
  else if (cursor.take('trigger')) createTrigger(cursor, { replace }, false, reading)
  else if (cursor.take('rule')) createRule(cursor, { replace }, reading)
  else if (cursor.take('policy')) createPolicy(cursor, reading)
  else return other(cursor, reading)
  return 'carried'
}

/** What no catalogue holds is told. */
function other(cursor: Cursor, reading: Reading): How {
  if (OUTSIDE.has(cursor.word())) return 'data'
  if (cursor.is('language') || cursor.is('trusted') || cursor.is('procedural')) return language(cursor, reading)
  const found = UNHELD.find(([words]) => cursor.take(...words))
  if (!found) throw new NotUnderstood(`PostgreSQL makes no ${cursor.word()}.`)
  const [, kind] = found
  cursor.take('if', 'not', 'exists')
  const name =
    kind === 'cast'
      ? cursor.inside()
      : kind === 'operator'
        ? cursor.until(OPENS).replace(/\s/g, '')
        : cursor.path().join('.')
  reading.unread.push({ kind, name })
  throw new NotUnderstood(`The ${kind} ${name} is none of what a catalogue holds.`)
}

const OPENS = new Set(['('])

/** One language is there in every database. */
function language(cursor: Cursor, reading: Reading): How {
  while (cursor.takeOne('trusted', 'procedural', 'language'));
  const name = cursor.nameOrText().toLowerCase()
  if (name === 'plpgsql') return 'data'
  reading.unread.push({ kind: 'language', name })
  throw new NotUnderstood(`The language ${name} is none of what a catalogue holds.`)
}

function schema(cursor: Cursor, reading: Reading): How {
  const gently = cursor.take('if', 'not', 'exists')
  let name = cursor.is('authorization') ? '' : cursor.name()
  let owner: string | undefined
  if (cursor.take('authorization')) owner = cursor.name()
  if (name === '') name = owner ?? ''
  if (!cursor.done)
    throw new NotUnderstood('What a schema is made with in one statement is not read: make it by itself.')
  if (reading.standing.free('schema', '', name)) {
    if (gently || name === DEFAULT_SCHEMA) return 'read'
    throw new NotUnderstood(`There is a schema ${name} already.`)
  }
  reading.create('schema', { name, ...(owner === undefined ? {} : { owner }) })
  return 'read'
}

function extension(cursor: Cursor, reading: Reading): How {
  const gently = cursor.take('if', 'not', 'exists')
  const name = cursor.name()
  cursor.take('with')
  let home = reading.path[0] ?? DEFAULT_SCHEMA
  while (!cursor.done) {
    if (cursor.take('schema')) home = cursor.name()
    else cursor.next()
  }
  if (name === 'plpgsql') return 'data'
  if (reading.standing.free('extension', '', name)) {
    if (gently) return 'read'
    throw new NotUnderstood(`There is an extension ${name} already.`)
  }
  reading.create('extension', { name, schema: home })
  return 'read'
}

const RELATIONS = ['table', 'view', 'sequence'] as const

function alter(cursor: Cursor, reading: Reading): How {
  if (cursor.take('default', 'privileges')) {
    defaultRights(cursor, reading)
    return 'read'
  }
  const materialized = cursor.take('materialized')
  const word = cursor.next().toLowerCase()
  switch (word) {
    case 'table':
    case 'view':
    case 'sequence':
    case 'index':
      return alterRelation(cursor, word, reading)
    case 'type':
    case 'domain': {
      const path = cursor.path()
      const found = reading.lookFor('type', path)
      if (!found) throw new NotUnderstood(`There is no ${word} ${path.join('.')} to change.`)
      if (moves(cursor, freeAddress('type', found), reading)) return 'read'
      if (word === 'domain') alterDomain(cursor, found, reading)
      else alterType(cursor, found, reading)
      return 'read'
    }
    case 'function':
    case 'procedure':
    case 'routine':
    case 'aggregate':
      return alterRoutine(cursor, word, reading)
    case 'schema':
    case 'extension': {
      const name = cursor.name()
      const address = addressOf(word, name)
      if (!reading.standing.find(address)) throw new NotUnderstood(`There is no ${word} ${name} to change.`)
      if (word === 'extension' && cursor.take('set', 'schema')) reading.set(address, 'schema', cursor.name())
      else if (word === 'extension') return 'data'
      else if (cursor.take('rename', 'to')) throw new NotUnderstood('A schema’s new name is not read.')
      else moves(cursor, address, reading)
      return 'read'
    }
    case 'trigger':
    case 'rule':
    case 'policy':
      return alterOn(cursor, word, reading)
    default:
      if (materialized || !CHANGED.has(word)) throw new NotUnderstood(`PostgreSQL changes no ${word}.`)
      return 'data'
  }
}

/** What can be said of anything: whose it is, its name, and the schema that it is in. */
function moves(cursor: Cursor, address: Address, reading: Reading): boolean {
  if (cursor.take('owner', 'to')) reading.set(address, 'owner', cursor.name())
  else if (cursor.take('rename', 'to')) reading.rename(address, cursor.name())
  else if (cursor.take('set', 'schema')) reading.move(address, cursor.name())
  else return false
  return true
}

function alterRelation(cursor: Cursor, word: 'table' | 'view' | 'sequence' | 'index', reading: Reading): How {
  const gently = cursor.take('if', 'exists')
  const alone = cursor.take('only')
  const path = cursor.path()
  cursor.take('*')
  const name = path.at(-1) ?? ''
  const indexed = reading.indexed(path)
  if (indexed && (word === 'index' || !reading.relation(path))) {
    alterIndex(cursor, indexed, reading, name)
    return 'read'
  }
  const kind = RELATIONS.find((other) => reading.lookFor(other, path))
  const found = kind && reading.lookFor(kind, path)
  if (!found) {
    if (gently) return 'read'
    throw new NotUnderstood(`There is no ${word} ${path.join('.')} to change.`)
  }
  const address = freeAddress(kind, found as never)
  if (kind === 'sequence') {
    if (!moves(cursor, address, reading)) alterSequence(found as never, cursor, reading)
    return 'read'
  }
  if (kind === 'table') {
    alterTable(cursor, path, alone, reading)
    return 'read'
  }
  if (!moves(cursor, address, reading)) alterView(cursor, path, reading)
  return 'read'
}

function alterView(cursor: Cursor, path: readonly string[], reading: Reading): void {
  const view = reading.relation(path)
  if (!view || !isView(view)) return
  const address = freeAddress('view', view)
  if (cursor.take('alter')) {
    cursor.take('column')
    const name = cursor.name()
    if (cursor.take('set', 'default'))
      return note(view, name, { default: tableText(cursor.rest(), reading).text }, reading)
    if (cursor.take('drop', 'default')) return note(view, name, { default: undefined }, reading)
  } else if (cursor.take('set', 'tablespace'))
    return reading.set(address, 'options', withSettings(view.options, { tablespace: cursor.name() }))
  else if (cursor.is('set', '(')) {
    cursor.take('set')
    return reading.set(address, 'options', withSettings(view.options, settingsIn(cursor.group())))
  } else if (cursor.take('reset'))
    return reading.set(
      address,
      'options',
      withSettings(view.options, Object.fromEntries(cursor.names().map((key) => [key, undefined])))
    )
  throw new NotUnderstood(`A view is not changed by “${cursor.rest().slice(0, 40)}”.`)
}

function alterRoutine(cursor: Cursor, word: string, reading: Reading): How {
  const [address, name] = routineNamed(cursor, reading)
  const found = address && reading.standing.find(address)
  if (!address || !found) throw new NotUnderstood(`There is no ${word} ${name} to change.`)
  if (cursor.take('rename', 'to')) throw new NotUnderstood(`The new name of ${name} is not read.`)
  if (moves(cursor, address, reading)) return 'read'
  const { definition, form } = found as { readonly definition: string; readonly form: string }
  const again = reading.cursor(definition.replace(/\nAS /, () => `\n${cursor.rest()}\nAS `))
  again.take('create', 'or', 'replace')
  again.next()
  createRoutine(again, form === 'procedure' ? 'procedure' : 'function', true, reading)
  return 'read'
}

function alterOn(cursor: Cursor, kind: 'trigger' | 'rule' | 'policy', reading: Reading): How {
  const name = cursor.name()
  cursor.expect('on')
  const path = cursor.path()
  const home = reading.relation(path)
  const address = home && addressOf(kind, home.schema, home.name, name)
  if (!address || !reading.standing.find(address))
    throw new NotUnderstood(`There is no ${kind} ${name} on ${path.join('.')}.`)
  if (cursor.take('rename', 'to')) reading.rename(address, cursor.name())
  else if (kind === 'policy')
    throw new NotUnderstood('A policy that is said otherwise later is not read: make it anew.')
  return 'read'
}
