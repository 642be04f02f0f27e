// Reads scripts of MariaDB and MySQL: what their statements leave in an empty database, one after the other. Data and settings are
// passed over; views, triggers, routines and events are kept as their text.
import {
  addressOf,
  type Catalog,
  type Routine,
  type Sequence,
  type Trigger,
  type UnreadObject,
  type View
} from '../../../catalog'
import { Cursor, NotUnderstood, splitStatements, tokenize } from '../../../sql'
import type { ReadStatement, ScriptRead } from '../../dialect'
import { readStatement } from '../../standard'
import type { Member } from '../family'
import { mariadbLexis } from '../lexis'
import { withRefs } from '../refs'
import { collationNamed, collationOf } from './charsets'
import { changeTable, type Around } from './alter'
import { readIndex } from './constraints'
import { readPartition } from '../partitions'
import { readSequence } from './sequences'
import { ReadTable } from './tables'

/** Names are read as they are spelled. */
const lexis = { ...mariadbLexis, fold: (name: string) => name }
const small = mariadbLexis.fold

/** Statements that make nothing that a catalogue holds. */
const PASSED = new Set(
  (
    'insert replace update delete select with values set use lock unlock start commit begin rollback savepoint analyze optimize check ' +
    'repair flush grant revoke load call do show execute prepare deallocate truncate reset help explain describe desc kill handler ' +
    'delimiter source signal backup purge change stop install uninstall cache rename_user'
  ).split(' ')
)

/** The version up to which a server carries out what stands behind `!` in a comment ("Comment Syntax"). */
const CARRIED_OUT = /^\/\*(M?)!(\d{5,6})?/

/** A script in which such comments are what they say, each word at its place. */
function carriedOut(script: string, isMysql: boolean): string {
  if (!script.includes('/*!') && !script.includes('/*M!')) return script
  const blank = (text: string) => text.replace(/[^\n]/g, ' ')
  return tokenize(script, mariadbLexis)
    .map(({ kind, text }) => {
      if (kind !== 'executable') return text
      const [head = '', own, digits = '0'] = CARRIED_OUT.exec(text) ?? []
      const version = Number(digits)
      const is = isMysql ? own === '' : own === 'M' || version < 50_700 || version > 99_999
      return is ? blank(head) + text.slice(head.length, -2) + '  ' : blank(text)
    })
    .join('')
}

/** As this engine of the family carries it out: what is for another only is passed over. */
export function readMariadbScript(script: string, member: Member): ScriptRead {
  const reading = new Reading(member)
  const statements = splitStatements(carriedOut(script, member.id === 'mysql'), lexis).map((one) =>
    readStatement(one, (sql) => reading.take(sql))
  )
  return { catalog: reading.catalog(), statements }
}

class Reading {
  private tables = new Map<string, ReadTable>()
  private views = new Map<string, View>()
  private routines = new Map<string, Routine>()
  private sequences = new Map<string, Sequence>()
  private triggers = new Map<string, { readonly table: string; readonly trigger: Trigger }>()
  private unread: UnreadObject[] = []
  private usual: string
  constructor(private readonly member: Member) {
    this.usual = member.collation
  }
  private readonly isNamed = (name: string) =>
    [...this.tables.values()].some((table) => table.linkNames.some((one) => small(one) === small(name)))

  /** Where what is made of each kind is kept. */
  private readonly kept = {
    table: this.tables,
    view: this.views,
    trigger: this.triggers,
    procedure: this.routines,
    function: this.routines,
    event: this.routines,
    sequence: this.sequences
  }
  private readonly around: Around = {
    isNamed: this.isNamed,
    rename: (table, to) => this.rename(table.name, to),
    parted: (table) => this.parted(table.name)
  }

  catalog(): Catalog {
    const by = <T extends { readonly name: string }>(list: Iterable<T>) =>
      [...list].sort((a, b) => (a.name < b.name ? -1 : 1))
    const [views, routines, sequences] = [
      by(this.views.values()),
      by(this.routines.values()),
      by(this.sequences.values())
    ]
    const byTable = new Map<string, Trigger[]>()
    for (const { table, trigger } of this.triggers.values())
      byTable.set(small(table), [...(byTable.get(small(table)) ?? []), trigger])
    const triggersOf = (name: string) => byTable.get(small(name)) ?? []
    return withRefs({
      engine: this.member.id,
      defaultSchema: 'main',
      tables: by(this.tables.values()).map((one) => {
        const [table, triggers] = [one.table(), triggersOf(one.name)]
        return triggers.length > 0 ? { ...table, triggers } : table
      }),
      ...(views.length > 0 ? { views } : {}),
      ...(routines.length > 0 ? { routines } : {}),
      ...(sequences.length > 0 ? { sequences } : {}),
      unread: this.unread
    })
  }

  /** What becomes of a statement. */
  take(sql: string): ReadStatement['how'] {
    const item = new Cursor(sql, lexis)
    const word = item.word()
    if (item.take('create')) return this.create(item, sql)
    if (item.take('drop')) return this.drop(item)
    if (item.take('alter')) return this.alter(item)
    if (item.take('rename', 'table') || item.take('rename', 'tables')) {
      for (const part of item.parts()) {
        const from = part.path().at(-1) ?? ''
        part.expect('to')
        this.rename(from, part.path().at(-1) ?? '')
      }
      return 'read'
    }
    if (PASSED.has(word) || item.is('rename', 'user')) return 'data'
    throw new NotUnderstood(`No statement of ${this.member.label} begins with “${word}”.`)
  }

  private must(name: string): ReadTable {
    const found = this.tables.get(small(name))
    if (!found) throw new NotUnderstood(`There is no table ${name} by then.`)
    return found
  }

  private create(item: Cursor, sql: string): ReadStatement['how'] {
    const replaces = item.take('or', 'replace')
    if (item.take('temporary')) return 'data'
    if (item.takeOne('database', 'schema')) {
      while (!item.done) {
        if (item.take('character', 'set') || item.take('charset'))
          this.usual = collationOf(valueOf(item), this.member.collation)
        else if (item.take('collate')) this.usual = collationNamed(valueOf(item))
        else item.next()
      }
      return 'data'
    }
    if (item.takeOne('user', 'role', 'server', 'tablespace', 'logfile')) return 'data'
    if (item.take('table')) return this.createTable(item, replaces)
    const unique = item.take('unique')
    const special = unique ? undefined : item.takeOne('fulltext', 'spatial')
    item.takeOne('online', 'offline')
    if (item.take('index')) {
      item.take('if', 'not', 'exists')
      const name = item.name()
      const using = item.take('using') ? item.next().toLowerCase() : undefined
      item.expect('on')
      const table = this.must(item.path().at(-1) ?? '')
      const read = readIndex(item, unique, special, name)
      table.addMember(
        using && using !== 'btree' && !read.index.method ? { ...read, index: { ...read.index, method: using } } : read,
        this.isNamed
      )
      return 'read'
    }
    return this.createProgram(item, sql)
  }

  private createTable(item: Cursor, replaces: boolean): ReadStatement['how'] {
    const gently = item.take('if', 'not', 'exists')
    const name = item.path().at(-1) ?? ''
    const there = this.tables.get(small(name))
    if (there && gently) return 'read'
    if (there && !replaces) throw new NotUnderstood(`There is a table ${name} already.`)
    if (item.take('like')) {
      this.tables.set(small(name), this.must(item.path().at(-1) ?? '').copy(name))
      return 'read'
    }
    if (item.word() !== '(')
      throw new NotUnderstood(`The table ${name} is made of a query: what its columns are, only the engine knows.`)
    const inside = item.group()
    if (inside.is('like')) {
      inside.expect('like')
      this.tables.set(small(name), this.must(inside.path().at(-1) ?? '').copy(name))
      return 'read'
    }
    const table = new ReadTable(name, this.usual, this.usual, this.member)
    // How text is kept, and by which engine, is said behind what it is said of.
    table.readOptions(item)
    for (const part of inside.parts()) table.add(part, this.isNamed)
    if (item.take('partition', 'by')) table.parted = readPartition(item)
    else if (!item.done)
      throw new NotUnderstood(`Nothing is known of what is said of ${name} from “${item.rest().slice(0, 40)}” on.`)
    this.tables.set(small(name), table)
    return 'read'
  }

  private createProgram(item: Cursor, sql: string): ReadStatement['how'] {
    const options: Record<string, string> = {}
    for (;;) {
      if (item.take('algorithm')) {
        const said = valueOf(item).toLowerCase()
        if (said !== 'undefined') options['algorithm'] = said
      } else if (item.take('definer')) {
        item.take('=')
        item.next()
        // `user`@`host`, or CURRENT_USER().
        if (item.word() === '(') item.inside()
        if (item.word().startsWith('@')) {
          const at = item.next()
          if (at === '@') item.next()
        }
      } else if (item.take('sql', 'security')) {
        if (item.next().toLowerCase() === 'invoker') options['security'] = 'invoker'
      } else if (item.take('aggregate')) throw new NotUnderstood('Nothing is known of aggregate functions yet.')
      else break
    }
    const kind = item.takeOne('view', 'trigger', 'procedure', 'function', 'event', 'sequence')
    if (kind === undefined) throw new NotUnderstood(`Nothing is known of how ${item.word().toUpperCase()} is made.`)
    const gently = item.take('if', 'not', 'exists')
    const whole = item.rest()
    const name = item.path().at(-1) ?? ''
    const definition = () => `CREATE ${kind.toUpperCase()} ${whole}`
    const isThere = this.kept[kind].has(small(name))
    if (isThere && gently) return 'read'
    if (isThere && !/^create\s+or\s+replace/i.test(sql)) throw new NotUnderstood(`There is a ${kind} ${name} already.`)
    if (kind === 'view') {
      // A table of that name stands for the view until it is made: so dump tools have it.
      const columns = item.word() === '(' ? item.names() : undefined
      item.expect('as')
      const said = item.rest()
      const [, query = said, how] = /^([\s\S]*?)\s+with\s+(?:(cascaded|local)\s+)?check\s+option\s*$/i.exec(said) ?? []
      if (query !== said) options['check'] = (how ?? 'cascaded').toLowerCase()
      this.views.set(small(name), {
        schema: 'main',
        name,
        query,
        ...(columns ? { columns } : {}),
        ...(Object.keys(options).length > 0 ? { options } : {})
      })
    } else if (kind === 'trigger') {
      while (!item.done && !item.take('on')) item.next()
      this.triggers.set(small(name), {
        table: this.must(item.path().at(-1) ?? '').name,
        trigger: { name, definition: definition() }
      })
    } else if (kind === 'sequence') this.sequences.set(small(name), readSequence(item, name))
    else this.routines.set(small(name), { schema: 'main', form: kind, name, definition: definition() })
    return 'carried'
  }

  private drop(item: Cursor): ReadStatement['how'] {
    if (item.take('temporary')) return 'data'
    const kind = item.next().toLowerCase()
    if (['database', 'schema', 'user', 'role', 'server', 'prepare'].includes(kind)) return 'data'
    const gently = item.take('if', 'exists')
    if (kind === 'index') {
      const name = item.name()
      item.expect('on')
      const table = this.must(item.path().at(-1) ?? '')
      if (!table.dropIndex(name) && !gently) throw new NotUnderstood(`${table.name} has no index ${name} by then.`)
      return 'read'
    }
    const from = this.kept[kind as keyof typeof this.kept] as Map<string, unknown> | undefined
    if (!from) throw new NotUnderstood(`Nothing is known of how ${kind.toUpperCase()} is removed.`)
    for (const part of item.parts()) {
      const name = part.path().at(-1) ?? ''
      if (!from.delete(small(name)) && !gently) throw new NotUnderstood(`There is no ${kind} ${name} by then.`)
      if (kind === 'table')
        for (const [key, { table }] of this.triggers) if (small(table) === small(name)) this.triggers.delete(key)
    }
    return 'read'
  }

  /** Whose rows are parted, which is not held. */
  private parted(name: string) {
    this.unread.push({ kind: 'partitions of the table', name, of: [addressOf('table', 'main', name)] })
  }

  private rename(from: string, to: string) {
    const table = this.must(from)
    this.tables.delete(small(from))
    table.name = to
    this.tables.set(small(to), table)
    for (const other of this.tables.values()) other.follow(from, to)
  }

  private alter(item: Cursor): ReadStatement['how'] {
    item.takeOne('online', 'offline')
    item.take('ignore')
    if (item.takeOne('database', 'schema', 'user', 'server')) return 'data'
    if (!item.take('table')) throw new NotUnderstood(`Nothing is known of how ${item.word().toUpperCase()} is changed.`)
    item.take('if', 'exists')
    const table = this.must(item.path().at(-1) ?? '')
    for (const part of item.parts()) changeTable(table, part, this.around)
    return 'read'
  }
}

const valueOf = (item: Cursor): string => {
  item.take('=')
  return item.nameOrText()
}
