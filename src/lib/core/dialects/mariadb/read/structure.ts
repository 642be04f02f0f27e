// What statements of MariaDB and MySQL leave in a database, one after the other, as the server keeps it. Data and settings are passed
// over; views, triggers, routines and events are kept as their text.
import {
  addressOf,
  type Catalog,
  type Routine,
  type Sequence,
  type Table,
  type Trigger,
  type UnreadObject,
  type View
} from '../../../catalog'
import { Cursor, NotUnderstood } from '../../../sql'
import type { ReadStatement } from '../../dialect'
import { Misplaced, type Touched } from '../../structure'
import type { Member } from '../family'
import { mariadbLexis } from '../lexis'
import { withRefs } from '../refs'
import { collationNamed, collationOf } from './charsets'
import { changeTable, type Around } from './alter'
import { readIndex } from './constraints'
import { readPartition } from '../partitions'
import { readSequence } from './sequences'
import { ReadTable, type TableState } from './tables'

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

export class ReadStructure {
  private tables = new Map<string, ReadTable>()
  private views = new Map<string, View>()
  private routines = new Map<string, Routine>()
  private sequences = new Map<string, Sequence>()
  private triggers = new Map<string, { readonly table: string; readonly trigger: Trigger }>()
  private unread: UnreadObject[] = []
  private usual: string
  /** What undoes each thing that the last statement has done to what is kept, the last first. */
  private undo: (() => void)[] = []
  /** Tables that the last statement has to do with, by how they were; nothing of one that is new. */
  private before = new Map<ReadTable, TableState | undefined>()
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

  private put<T>(kept: Map<string, T>, name: string, value: T | undefined) {
    const key = small(name)
    const had = kept.get(key)
    this.undo.push(() => (had === undefined ? kept.delete(key) : kept.set(key, had)))
    if (value === undefined) kept.delete(key)
    else kept.set(key, value)
  }

  private make(table: ReadTable) {
    this.before.set(table, undefined)
    this.put(this.tables, table.name, table)
  }

  private touch(table: ReadTable) {
    if (!this.before.has(table)) this.before.set(table, table.state())
  }

  /** Takes the last statement back. */
  back() {
    for (const one of this.undo.reverse()) one()
    for (const [table, state] of this.before) if (state) table.restore(state)
    this.undo = []
    this.before.clear()
  }

  touched(): Touched[] {
    return [...this.before].map(([table, state]) => ({
      ...(state ? { was: state.name } : {}),
      ...(this.tables.get(small(table.name)) === table ? { now: table.table() } : {}),
      columns: table.columnsBefore,
      ...(table.unindexed === undefined ? {} : { unindexed: table.unindexed })
    }))
  }

  table = (name: string): Table | undefined => this.tables.get(small(name))?.table()

  leadingTo = (name: string): Table[] =>
    [...this.tables.values()].filter((table) => table.leadsTo(name)).map((table) => table.table())

  /** What becomes of a statement. */
  take(sql: string): ReadStatement['how'] {
    this.undo = []
    this.before.clear()
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
    if (!found) throw new Misplaced('no table', name, `There is no table ${name} by then.`)
    this.touch(found)
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
    if (there && !replaces) throw new Misplaced('a table', name, `There is a table ${name} already.`)
    if (item.take('like')) {
      this.make(this.must(item.path().at(-1) ?? '').copy(name))
      return 'read'
    }
    if (item.word() !== '(')
      throw new NotUnderstood(`The table ${name} is made of a query: what its columns are, only the engine knows.`)
    const inside = item.group()
    if (inside.is('like')) {
      inside.expect('like')
      this.make(this.must(inside.path().at(-1) ?? '').copy(name))
      return 'read'
    }
    const table = new ReadTable(name, this.usual, this.usual, this.member)
    // How text is kept, and by which engine, is said behind what it is said of.
    table.readOptions(item)
    for (const part of inside.parts()) table.add(part, this.isNamed)
    if (item.take('partition', 'by')) table.parted = readPartition(item)
    else if (!item.done)
      throw new NotUnderstood(`Nothing is known of what is said of ${name} from “${item.rest().slice(0, 40)}” on.`)
    if (there) this.touch(there)
    this.make(table)
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
    if (isThere && !/^create\s+or\s+replace/i.test(sql))
      throw new Misplaced('a program', name, `There is a ${kind} ${name} already.`)
    if (kind === 'view') {
      // A table of that name stands for the view until it is made: so dump tools have it.
      const columns = item.word() === '(' ? item.names() : undefined
      item.expect('as')
      const said = item.rest()
      const [, query = said, how] = /^([\s\S]*?)\s+with\s+(?:(cascaded|local)\s+)?check\s+option\s*$/i.exec(said) ?? []
      if (query !== said) options['check'] = (how ?? 'cascaded').toLowerCase()
      this.put<View>(this.views, name, {
        schema: 'main',
        name,
        query,
        ...(columns ? { columns } : {}),
        ...(Object.keys(options).length > 0 ? { options } : {})
      })
    } else if (kind === 'trigger') {
      while (!item.done && !item.take('on')) item.next()
      this.put(this.triggers, name, {
        table: this.must(item.path().at(-1) ?? '').name,
        trigger: { name, definition: definition() }
      })
    } else if (kind === 'sequence') this.put(this.sequences, name, readSequence(item, name))
    else this.put<Routine>(this.routines, name, { schema: 'main', form: kind, name, definition: definition() })
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
      if (!table.dropIndex(name) && !gently)
        throw new Misplaced('nothing to remove', name, `${table.name} has no index ${name} by then.`)
      return 'read'
    }
    const from = this.kept[kind as keyof typeof this.kept] as Map<string, unknown> | undefined
    if (!from) throw new NotUnderstood(`Nothing is known of how ${kind.toUpperCase()} is removed.`)
    for (const part of item.parts()) {
      const name = part.path().at(-1) ?? ''
      if (!from.has(small(name))) {
        if (gently) continue
        throw new Misplaced(kind === 'table' ? 'no table' : 'no program', name, `There is no ${kind} ${name} by then.`)
      }
      if (kind === 'table') this.must(name)
      this.put(from, name, undefined)
      if (kind === 'table')
        for (const [key, { table }] of this.triggers)
          if (small(table) === small(name)) this.put(this.triggers, key, undefined)
    }
    return 'read'
  }

  /** Whose rows are parted, which is not held. */
  private parted(name: string) {
    this.unread.push({ kind: 'partitions of the table', name, of: [addressOf('table', 'main', name)] })
  }

  private rename(from: string, to: string) {
    const table = this.must(from)
    const there = this.tables.get(small(to))
    if (there && there !== table) throw new Misplaced('a table', to, `There is a table ${to} already.`)
    this.put(this.tables, from, undefined)
    table.name = to
    this.put(this.tables, to, table)
    for (const other of this.tables.values())
      if (other.leadsTo(from)) {
        this.touch(other)
        other.follow(from, to)
      }
  }

  private alter(item: Cursor): ReadStatement['how'] {
    item.takeOne('online', 'offline')
    item.take('ignore')
    if (item.takeOne('database', 'schema', 'user', 'server')) return 'data'
    if (!item.take('table')) throw new NotUnderstood(`Nothing is known of how ${item.word().toUpperCase()} is changed.`)
    item.take('if', 'exists')
    const table = this.must(item.path().at(-1) ?? '')
    for (const part of item.parts()) changeTable(table, part, this.around)
    const renamed = new Map([...table.columnsBefore].flatMap(([now, was]) => (now === was ? [] : [[was, now]])))
    if (renamed.size > 0)
      for (const other of this.tables.values())
        if (other.leadsTo(table.name)) {
          this.touch(other)
          other.followColumns(table.name, renamed)
        }
    return 'read'
  }
}

const valueOf = (item: Cursor): string => {
  item.take('=')
  return item.nameOrText()
}
