// Reads scripts for this engine's client: what their statements leave in an empty database, one after the other. Data and settings are
// passed over; views, triggers and programs are kept as their text.
import {
  withProperty,
  type Catalog,
  type Index,
  type Right,
  type Routine,
  type Sequence,
  type Trigger,
  type TypeObject,
  type View
} from '../../../catalog'
import { Cursor, NotUnderstood, splitStatements, type Lexis } from '../../../sql'
import type { ReadStatement, ScriptRead, TypeSystem } from '../../dialect'
import { literal, readStatement, refsByWords } from '../../standard'
import { withCheckRefs } from '../check-refs'
import { bodyName } from '../packages'
import { FORMS, RULE } from '../programs'
import { quote } from '../rows'
import { readDatabaseTrigger, readPackage, readProgram, readTrigger, type ReadTrigger } from './programs'
import { readGrant, refused, withRights } from './rights'
import { ReadTable, type Around } from './tables'
import { readTypeAt } from './types'

/** Statements that make nothing that a catalogue holds, and commands of the client. */
const PASSED = new Set(
  'insert update delete merge select with execute commit rollback set connect disconnect input output show exit quit in out shell help release savepoint declare'.split(
    ' '
  )
)
const DOMAIN_CHANGES = new Set(['set', 'drop', 'add', 'type', 'to'])
const DOMAIN_STOPS = new Set(['not', 'null', 'check', 'collate', 'constraint'])

export function readFirebirdScript(script: string, lexis: Lexis, types: TypeSystem): ScriptRead {
  const reading = new Reading(lexis, types)
  const statements = splitStatements(script, lexis).map((one) => readStatement(one, (sql) => reading.take(sql)))
  return { catalog: reading.catalog(), statements }
}

type Named = { readonly name: string; readonly comment?: string }

class Reading {
  private readonly tables = new Map<string, ReadTable>()
  private readonly views = new Map<string, View>()
  private readonly domains = new Map<string, TypeObject>()
  private readonly sequences = new Map<string, Sequence>()
  private readonly routines = new Map<string, Routine>()
  private readonly triggers = new Map<string, ReadTrigger & Named>()
  /** The tables that indexes are of, by their names. */
  private readonly indexed = new Map<string, ReadTable>()
  private readonly roles = new Set<string>()
  private given = 0

  private readonly around: Around

  constructor(
    private readonly lexis: Lexis,
    private readonly types: TypeSystem
  ) {
    this.around = {
      types,
      lexis,
      given: () => `INTEG_${++this.given}`,
      baseOf: ({ type }) => (type.schema === undefined ? type : (this.domains.get(type.name)?.base ?? type))
    }
  }

  catalog(): Catalog {
    const by = <T extends Named>(list: Iterable<T>) => [...list].sort((a, b) => (a.name < b.name ? -1 : 1))
    const keyOf = (name: string) => this.tables.get(name)?.primary?.columns ?? []
    const triggersOf = new Map<string, Named[]>()
    for (const { table, ...trigger } of by(this.triggers.values()))
      triggersOf.set(table, [...(triggersOf.get(table) ?? []), trigger])
    const tables = by(this.tables.values()).map((table) => {
      const triggers = (triggersOf.get(table.name) ?? []) as Trigger[]
      return { ...table.table(keyOf), ...(triggers.length > 0 ? { triggers } : {}) }
    })
    const [views, types, sequences] = [by(this.views.values()), by(this.domains.values()), by(this.sequences.values())]
    const routines = by(this.routines.values()).sort((a, b) => FORMS.indexOf(a.form) - FORMS.indexOf(b.form))
    const plain: Catalog = {
      engine: 'firebird',
      defaultSchema: 'main',
      tables,
      ...(types.length > 0 ? { types } : {}),
      ...(sequences.length > 0 ? { sequences } : {}),
      ...(routines.length > 0 ? { routines } : {}),
      ...(views.length > 0 ? { views } : {}),
      unread: []
    }
    return withRefs(plain, this.lexis)
  }

  take(sql: string): ReadStatement['how'] {
    const item = new Cursor(sql, this.lexis)
    const word = item.word()
    if (item.is('set', 'generator') || item.is('create', 'database') || item.is('create', 'schema')) return 'data'
    if (item.take('create', 'or', 'alter') || item.take('recreate')) return this.create(item, true)
    if (item.take('create')) return this.create(item, false)
    if (item.take('drop')) return this.drop(item)
    if (item.take('alter')) return this.alter(item)
    if (item.take('comment', 'on')) return this.describe(item)
    if (item.take('grant')) return this.grant(item, true)
    if (item.take('revoke')) return this.grant(item, false)
    if (PASSED.has(word)) return 'data'
    throw new NotUnderstood(`No statement of Firebird begins with “${word}”.`)
  }

  private must(name: string): ReadTable {
    const found = this.tables.get(name)
    if (!found) throw refused(`table ${name}`)
    return found
  }

  private make<T extends Named>(into: Map<string, T>, what: string, made: T, again: boolean): ReadStatement['how'] {
    if (into.has(made.name) && !again) throw new NotUnderstood(`There is a ${what} ${made.name} already.`)
    into.set(made.name, made)
    return 'carried'
  }

  private create(item: Cursor, again: boolean): ReadStatement['how'] {
    if (item.take('domain')) return this.createDomain(item)
    if (item.takeOne('generator', 'sequence')) return this.createSequence(item, again)
    if (item.take('exception')) {
      const name = item.name()
      const definition = `CREATE EXCEPTION ${quote(name)} ${literal(item.nameOrText())}`
      return this.make(this.routines, 'exception', { schema: 'main', form: 'exception', name, definition }, again)
    }
    if (item.take('role')) {
      this.roles.add(item.name())
      return 'data'
    }
    if (item.takeOne('user', 'shadow', 'collation', 'filter')) return 'data'
    if (item.take('table')) return this.createTable(item, again)
    if (item.take('view')) return this.createView(item, again)
    if (item.take('trigger')) {
      const name = item.name()
      const definition = readDatabaseTrigger(item, name)
      if (definition !== undefined)
        return this.make(this.routines, 'trigger', { schema: 'main', form: 'trigger', name, definition }, again)
      const read = readTrigger(item, name)
      // A view may have triggers, too: they are none that are held.
      if (!this.views.has(read.table)) this.must(read.table)
      return this.make(this.triggers, 'trigger', { name, ...read }, again)
    }
    const kind = item.takeOne('procedure', 'function')
    if (kind !== undefined) {
      const name = item.name()
      const definition = readProgram(item, kind, name, this.types)
      return this.make(this.routines, kind, { schema: 'main', form: kind, name, definition }, again)
    }
    if (item.take('package')) {
      const { name, ...read } = readPackage(item)
      const head = read.form === 'package' ? undefined : this.routines.get(name)
      if (head === undefined && read.form !== 'package') throw refused(`package ${name}`)
      // A new head takes its body away.
      if (head === undefined) this.routines.delete(bodyName(name))
      const own = head === undefined ? name : bodyName(name)
      return this.make(this.routines, read.form, { schema: 'main', ...read, name: own }, again)
    }
    return this.createIndex(item)
  }

  private createDomain(item: Cursor): ReadStatement['how'] {
    const name = item.name()
    item.take('as')
    let domain: TypeObject = { schema: 'main', name, form: 'domain', base: readTypeAt(item, this.types) }
    while (!item.done) {
      if (item.take('default')) domain = { ...domain, default: item.until(DOMAIN_STOPS) }
      else if (item.take('not', 'null')) domain = { ...domain, nullable: false }
      else if (item.take('check')) domain = { ...domain, checks: [{ name: RULE, expression: item.inside() }] }
      else if (item.take('constraint')) item.name()
      else if (item.take('collate')) domain = { ...domain, collation: item.name() }
      else throw new NotUnderstood(`Nothing is known of what is said of ${name} from “${item.rest().slice(0, 40)}” on.`)
    }
    this.make(this.domains, 'domain', domain, false)
    return 'read'
  }

  private createSequence(item: Cursor, again: boolean): ReadStatement['how'] {
    const name = item.name()
    const number = () => `${item.takeOne('-') ?? ''}${item.next()}`
    const found: { start?: string; increment?: string } = {}
    if (item.take('start')) {
      item.take('with')
      found.start = number()
    }
    if (item.take('increment')) {
      item.take('by')
      found.increment = number()
    }
    const { start, increment } = found
    this.make(
      this.sequences,
      'sequence',
      {
        schema: 'main',
        name,
        ...(start === undefined || start === '0' ? {} : { start }),
        ...(increment === undefined || increment === '1' ? {} : { increment })
      },
      again
    )
    return 'read'
  }

  private createTable(item: Cursor, again: boolean): ReadStatement['how'] {
    const name = item.name()
    if (this.tables.has(name) && !again) throw new NotUnderstood(`There is a table ${name} already.`)
    if (item.take('external')) throw new NotUnderstood(`${name} is kept in a file of its own, which is not held.`)
    const table = new ReadTable(name, this.around)
    for (const part of item.group().parts()) table.add(part)
    item.finish()
    this.tables.set(name, table)
    return 'read'
  }

  private createView(item: Cursor, again: boolean): ReadStatement['how'] {
    const name = item.name()
    const said = item.word() === '(' ? item.names() : undefined
    item.expect('as')
    const query = item.rest().trim()
    const columns = said ?? shown(query, this.lexis)
    return this.make(this.views, 'view', { schema: 'main', name, query, ...(columns ? { columns } : {}) }, again)
  }

  private createIndex(item: Cursor): ReadStatement['how'] {
    const unique = item.take('unique')
    const descending = /^desc/.test(item.takeOne('asc', 'ascending', 'desc', 'descending') ?? '')
    if (!item.take('index')) throw new NotUnderstood(`Nothing is known of how ${item.word().toUpperCase()} is made.`)
    const name = item.name()
    item.expect('on')
    const table = this.must(item.name())
    const parts: Index['parts'] = item.take('computed')
      ? [{ expression: (item.take('by'), item.inside()), descending }]
      : item.names().map((column) => ({ column: table.column(column).name, descending }))
    item.finish()
    table.indexes.push({ name, unique, parts })
    this.indexed.set(name, table)
    return 'read'
  }

  private drop(item: Cursor): ReadStatement['how'] {
    const kind = item.next().toLowerCase()
    if (kind === 'package') return this.dropPackage(item)
    const name = item.name()
    if (['role', 'user', 'database', 'shadow'].includes(kind)) return 'data'
    if (kind === 'index') {
      const table = this.indexed.get(name)
      if (!table) throw refused(`index ${name}`)
      this.indexed.delete(name)
      table.indexes = table.indexes.filter((index) => index.name !== name)
      return 'read'
    }
    const kept = this.kept(kind) as Map<string, unknown> | undefined
    const from = kind === 'trigger' && !kept?.has(name) ? this.routines : kept
    if (!from) throw new NotUnderstood(`Nothing is known of how ${kind.toUpperCase()} is removed.`)
    if (!from.delete(name)) throw refused(`${kind} ${name}`)
    if (kind === 'table' || kind === 'view')
      for (const [key, { table }] of this.triggers) if (table === name) this.triggers.delete(key)
    return 'read'
  }

  private dropPackage(item: Cursor): ReadStatement['how'] {
    const isBody = item.take('body')
    const name = item.name()
    const gone = this.routines.delete(bodyName(name))
    if (!isBody && !this.routines.delete(name)) throw refused(`package ${name}`)
    if (isBody && !gone) throw refused(`body of package ${name}`)
    return 'read'
  }

  /** Where what is made of each kind is kept. */
  private kept(kind: string) {
    switch (kind) {
      case 'table':
        return this.tables
      case 'view':
        return this.views
      case 'trigger':
        return this.triggers
      case 'domain':
        return this.domains
      case 'generator':
      case 'sequence':
        return this.sequences
      case 'procedure':
      case 'function':
      case 'exception':
      case 'package':
        return this.routines
      default:
        return undefined
    }
  }

  private alter(item: Cursor): ReadStatement['how'] {
    if (item.takeOne('database', 'user', 'session', 'sequence', 'generator', 'role', 'index')) return 'data'
    const kind = item.word()
    if (kind === 'trigger' && ['active', 'inactive'].includes(item.word(2)) && item.word(3) === '') {
      item.next()
      const name = item.name()
      const state = item.next().toUpperCase()
      const switched = <T extends Named & { readonly definition: string }>(home: Map<string, T>): boolean => {
        const found = home.get(name)
        if (found) home.set(name, { ...found, definition: found.definition.replace(/ (IN)?ACTIVE /, ` ${state} `) })
        return found !== undefined
      }
      if (!switched(this.triggers) && !switched(this.routines)) throw refused(`trigger ${name}`)
      return 'read'
    }
    if (['trigger', 'procedure', 'function', 'exception', 'package', 'view'].includes(kind))
      return this.create(item, true)
    if (item.take('domain')) return this.alterDomain(item)
    item.expect('table')
    const table = this.must(item.name())
    for (const part of item.parts()) alterTable(table, part, this.around)
    return 'read'
  }

  private alterDomain(item: Cursor): ReadStatement['how'] {
    const name = item.name()
    const found = this.domains.get(name)
    if (!found) throw refused(`domain ${name}`)
    let domain: TypeObject = found
    const set = (property: string, value: unknown) => {
      domain = withProperty<TypeObject>(domain, property, value)
    }
    while (!item.done) {
      if (item.take('set', 'default')) set('default', item.until(DOMAIN_CHANGES))
      else if (item.take('drop', 'default')) set('default', undefined)
      else if (item.take('set', 'not', 'null')) set('nullable', false)
      else if (item.take('drop', 'not', 'null')) set('nullable', undefined)
      else if (item.take('drop', 'constraint')) set('checks', undefined)
      else if (item.take('add')) {
        item.take('constraint')
        item.expect('check')
        set('checks', [{ name: RULE, expression: item.inside() }])
      } else if (item.take('type')) set('base', readTypeAt(item, this.types))
      else throw new NotUnderstood(`Nothing is known of how ${name} is changed by “${item.rest().slice(0, 40)}”.`)
    }
    this.domains.set(name, domain)
    return 'read'
  }

  private describe(item: Cursor): ReadStatement['how'] {
    const kind = item.next().toLowerCase()
    const path = item.path()
    item.expect('is')
    const said = item.take('null') ? '' : item.nameOrText()
    const comment = said === '' ? undefined : said
    const [name = '', column = ''] = path
    const described = <T extends Named>(one: T): T => {
      const { comment: _comment, ...rest } = one
      return (comment === undefined ? rest : { ...rest, comment }) as T
    }
    if (kind === 'table') this.must(name).comment = comment
    else if (kind === 'column' && !this.views.has(name)) this.must(name).set(column, described)
    else if (kind === 'index') {
      const table = this.indexed.get(name)
      if (table) table.indexes = table.indexes.map((index) => (index.name === name ? described(index) : index))
    } else {
      const from = this.kept(kind) as Map<string, Named> | undefined
      const found = from?.get(name)
      if (found) from?.set(name, described(found))
    }
    return 'read'
  }

  private grant(item: Cursor, give: boolean): ReadStatement['how'] {
    const granted = readGrant(item, give ? 'to' : 'from', (name) => this.roles.has(name))
    if (!granted) return 'data'
    const { kind, name, rights } = granted
    for (const { column, right } of rights) {
      const table = this.tables.get(name)
      if (kind === 'table' && table) table.rights.set(column, withRights(table.rights.get(column) ?? [], [right], give))
      else {
        const home = (kind === 'table' || kind === 'view' ? this.views : this.kept(kind)) as
          Map<string, Named & { readonly rights?: readonly Right[] }> | undefined
        const found = home?.get(name)
        if (!home || !found) throw refused(`${kind} ${name}`)
        home.set(name, { ...found, rights: withRights(found.rights ?? [], [right], give) })
      }
    }
    return 'read'
  }
}

/** What a query gives, by the names that it says; nothing where one says none. */
function shown(text: string, lexis: Lexis): readonly string[] | undefined {
  const query = new Cursor(text, lexis)
  if (!query.take('select')) return undefined
  query.takeOne('distinct', 'all')
  const list = new Cursor(query.until(new Set(['from'])), lexis)
  const names = list.parts().map((part) => {
    let last = ''
    while (!part.done) last = part.isName ? part.name() : (part.next(), '')
    return last
  })
  return names.every((name) => name !== '') ? names : undefined
}

function alterTable(table: ReadTable, part: Cursor, { types }: Around): void {
  if (part.take('add')) return table.add(part)
  if (part.take('drop', 'constraint')) return table.dropConstraint(part.name())
  if (part.take('drop')) return table.dropColumn(part.name())
  part.expect('alter')
  part.take('column')
  const name = part.name()
  if (part.take('to')) {
    const to = part.name()
    return table.set(name, (column) => ({ ...column, name: to }))
  }
  if (part.take('position')) return table.set(name, (column) => column, Number(part.next()))
  if (part.take('type')) {
    const type = readTypeAt(part, types)
    return table.set(name, (column) => ({ ...column, type }))
  }
  if (part.take('set', 'default')) {
    const value = part.rest()
    return table.set(name, (column) => ({ ...column, default: value }))
  }
  if (part.take('drop', 'default')) return table.set(name, ({ default: _, ...column }) => column)
  if (part.take('set', 'not', 'null')) return table.set(name, (column) => ({ ...column, nullable: false }))
  if (part.take('drop', 'not', 'null')) return table.set(name, (column) => ({ ...column, nullable: true }))
  if (part.take('drop', 'identity')) return table.set(name, ({ identity: _, ...column }) => column)
  if (part.take('restart') || part.take('set')) return
  throw new NotUnderstood(`Nothing is known of how ${name} is changed by “${part.rest().slice(0, 40)}”.`)
}

/** What each text stands on, by its words. */
function withRefs(bare: Catalog, lexis: Lexis): Catalog {
  const catalog = withCheckRefs(bare, lexis)
  const refsOf = refsByWords(catalog, lexis)
  return {
    ...catalog,
    tables: catalog.tables.map((table) => ({
      ...table,
      ...(table.triggers
        ? { triggers: table.triggers.map((one) => ({ ...one, ...refsOf(one.name, one.definition) })) }
        : {})
    })),
    ...(catalog.views ? { views: catalog.views.map((one) => ({ ...one, ...refsOf(one.name, one.query) })) } : {}),
    ...(catalog.routines
      ? { routines: catalog.routines.map((one) => ({ ...one, ...refsOf(one.name, one.definition) })) }
      : {})
  }
}
