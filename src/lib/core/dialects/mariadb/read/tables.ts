// One table of a script as the server keeps it: names that it gives by itself, indexes that foreign keys bring, options.
import type { Check, Column, ForeignKey, Index, Key, Options, Table } from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import { Misplaced } from '../../structure'
import type { Member } from '../family'
import { mariadbLexis } from '../lexis'
import { COLLATION, ENGINE, isText, usualMethod } from '../words'
import { collationNamed, collationOf } from './charsets'
import { readColumn, type ReadColumn } from './columns'
import { isMember, readMember, type ReadMember } from './constraints'

const same = (a: string, b: string): boolean => mariadbLexis.fold(a) === mariadbLexis.fold(b)
const ENGINES = [
  'InnoDB',
  'MyISAM',
  'Aria',
  'MEMORY',
  'ARCHIVE',
  'CSV',
  'MRG_MyISAM',
  'BLACKHOLE',
  'FEDERATED',
  'SEQUENCE'
]
/** What the server shows of a table besides; the rest is of its files. */
const SETTINGS =
  /^(row_format|max_rows|min_rows|avg_row_length|key_block_size|checksum|delay_key_write|pack_keys|stats_persistent|stats_auto_recalc|stats_sample_pages|transactional|page_compressed|page_compression_level)$/

const NONE_AT_NOUGHT = /^(max_rows|min_rows|avg_row_length|key_block_size|checksum|delay_key_write)$/

/** An index as it stands in the order in which it was said: a key of a foreign key may be one of them, and may go again. */
interface Held {
  readonly name: string
  readonly index: Omit<Index, 'name'>
  /** The engine made it for a foreign key. */
  readonly made?: true
}

/** All that a table is, as it stands at one moment. */
export type TableState = Pick<
  ReadTable,
  'name' | 'columns' | 'collation' | 'comment' | 'first' | 'parted' | 'engine' | 'options'
> & {
  readonly held: Pick<Kept, 'primary' | 'indexes' | 'links' | 'checks'>
}

interface Kept {
  primary: { readonly columns: readonly string[]; readonly parts: readonly { length?: number }[] } | undefined
  indexes: Held[]
  links: ForeignKey[]
  checks: Check[]
}

export class ReadTable {
  columns: Column[] = []
  comment: string | undefined
  /** "Setting or Changing the Auto_Increment Value": the next number, if there is none that is greater. */
  first: string | undefined
  /** By what its rows are kept in parts. */
  parted: string | undefined
  engine = 'InnoDB'
  options: Record<string, string> = {}
  private primary: { columns: readonly string[]; parts: readonly { length?: number }[] } | undefined
  private indexes: Held[] = []
  private links: ForeignKey[] = []
  private checks: Check[] = []

  constructor(
    public name: string,
    public collation: string,
    /** That of the database: what a table says of it is not shown. */
    private readonly usual: string,
    private readonly member: Member
  ) {}

  /** The name that each column had when the state was taken last, by its name now. */
  columnsBefore = new Map<string, string>()

  /** As it is at this moment: from now on it is known what becomes of its columns. */
  state(): TableState {
    const { name, collation, comment, first, parted, engine, options } = this
    this.columnsBefore = new Map(this.columns.map((column) => [column.name, column.name]))
    return {
      ...{ name, collation, comment, first, parted, engine, options },
      columns: [...this.columns],
      held: {
        primary: this.primary,
        indexes: [...this.indexes],
        links: [...this.links],
        checks: [...this.checks]
      }
    }
  }

  restore({ held, ...state }: TableState) {
    Object.assign(this, state, held)
  }

  leadsTo = (table: string): boolean => this.links.some((fk) => same(fk.references.table, table))

  /** A column's definition, as it is in this table. */
  read = (item: Cursor): ReadColumn => readColumn(item, this.collation, this.member.collation)

  copy(name: string): ReadTable {
    const copy = new ReadTable(name, this.collation, this.usual, this.member)
    copy.columns = [...this.columns]
    ;[copy.comment, copy.engine, copy.parted, copy.options] = [
      this.comment,
      this.engine,
      this.parted,
      { ...this.options }
    ]
    copy.primary = this.primary
    copy.indexes = [...this.indexes]
    copy.checks = [...this.checks]
    return copy
  }

  column(name: string): Column {
    const found = this.columns.find((one) => same(one.name, name))
    if (!found) throw new Misplaced('no column', name, `${this.name} has no column ${name}.`)
    return found
  }

  private keyColumn(name: string): Column {
    const found = this.columns.find((one) => same(one.name, name))
    if (!found) throw new Misplaced('no column of a key', name, `${this.name} has no column ${name}.`)
    return found
  }

  /** A foreign key that no index begins with: "Foreign Keys" wants one. */
  get unindexed(): string | undefined {
    const lists = [
      this.primary?.columns ?? [],
      ...this.indexes.map(({ index }) => index.parts.map(({ column = '' }) => column))
    ]
    return this.links.find(({ columns }) => !lists.some((list) => columns.every((one, i) => same(one, list[i] ?? ''))))
      ?.name
  }

  /** A definition between the parentheses of CREATE TABLE, or behind ADD. */
  add(item: Cursor, isNamed: (name: string) => boolean) {
    if (isMember(item)) this.addMember(readMember(item), isNamed)
    else this.addColumn(this.read(item), isNamed)
  }

  addColumn(read: ReadColumn, isNamed: (name: string) => boolean, at = this.columns.length) {
    const { column } = read
    if (this.columns.some((one) => same(one.name, column.name)))
      throw new Misplaced('a column', column.name, `${this.name} has a column ${column.name} already.`)
    this.columns.splice(at, 0, column)
    this.addSayings(read, isNamed)
  }

  /** What is said beside a column and is none of it. */
  private addSayings({ column, key, check, link, linkName }: ReadColumn, isNamed: (name: string) => boolean) {
    const parts = [{ column: column.name, descending: false }]
    if (key === 'primary') this.addMember({ kind: 'primaryKey', columns: [column.name], parts }, isNamed)
    if (key === 'unique') this.addMember({ kind: 'index', index: { unique: true, parts } }, isNamed)
    // Only MariaDB says a check with its column; in MySQL it is the table's (“CHECK Constraints”).
    if (check && this.member.id === 'mariadb') this.checks.push(check)
    else if (check)
      this.addMember(
        { kind: 'check', ...(check.options ? {} : { name: check.name }), expression: check.expression },
        isNamed
      )
    if (link)
      this.addMember({ kind: 'foreignKey', fk: link, ...(linkName === undefined ? {} : { name: linkName }) }, isNamed)
  }

  replaceColumn(name: string, read: ReadColumn, isNamed: (name: string) => boolean) {
    const old = this.column(name)
    this.checks = this.checks.filter((check) => !(check.options && same(check.name, old.name)))
    this.columns = this.columns.map((one) => (one === old ? read.column : one))
    if (old.name !== read.column.name) this.renamed(old.name, read.column.name)
    this.addSayings(read, isNamed)
  }

  renameColumn(name: string, to: string) {
    const old = this.column(name)
    this.columns = this.columns.map((one) => (one === old ? { ...one, name: to } : one))
    this.renamed(old.name, to)
  }

  private renamed(from: string, to: string) {
    const before = this.columnsBefore.get(from)
    this.columnsBefore.delete(from)
    if (before !== undefined) this.columnsBefore.set(to, before)
    const now = (name: string) => (same(name, from) ? to : name)
    if (this.primary) this.primary = { ...this.primary, columns: this.primary.columns.map(now) }
    this.indexes = this.indexes.map((held) => ({
      ...held,
      index: { ...held.index, parts: held.index.parts.map((part) => ({ ...part, column: now(part.column ?? '') })) }
    }))
    this.links = this.links.map((fk) => ({ ...fk, columns: fk.columns.map(now) }))
  }

  /** A column is in no key any more; a key that has no other goes with it. */
  dropColumn(name: string) {
    const old = this.column(name)
    this.columns = this.columns.filter((one) => one !== old)
    this.columnsBefore.delete(old.name)
    this.checks = this.checks.filter((check) => !(check.options && same(check.name, old.name)))
    const stays = (column: string) => !same(column, old.name)
    if (this.primary) {
      const columns = this.primary.columns.filter(stays)
      this.primary = columns.length > 0 ? { columns, parts: columns.map(() => ({})) } : undefined
    }
    this.indexes = this.indexes.flatMap((held) => {
      const parts = held.index.parts.filter(({ column = '' }) => stays(column))
      return parts.length > 0 ? [{ ...held, index: { ...held.index, parts } }] : []
    })
  }

  addMember(read: ReadMember, isNamed: (name: string) => boolean) {
    if (read.kind === 'primaryKey') {
      if (this.primary) throw new Misplaced('a primary key', this.name, `${this.name} has a primary key already.`)
      const columns = read.columns.map((name) => this.keyColumn(name).name)
      this.primary = { columns, parts: read.parts.map(({ length }) => (length === undefined ? {} : { length })) }
      this.columns = this.columns.map((one) => (columns.includes(one.name) ? { ...one, nullable: false } : one))
    } else if (read.kind === 'check') {
      // Where there are none, they are read and kept by nobody.
      if (this.member.checks) this.checks.push({ name: read.name ?? this.freeCheck(), expression: read.expression })
    } else if (read.kind === 'foreignKey') this.addLink(read, isNamed)
    else {
      const parts = read.index.parts.map((part) => ({ ...part, column: this.keyColumn(part.column ?? '').name }))
      // One that the engine made is none any more once another does its work.
      const begins = (held: Held) =>
        held.index.parts.every((part, i) => same(part.column ?? '', parts[i]?.column ?? ''))
      this.indexes = this.indexes.filter((held) => !(held.made && (begins(held) || same(held.name, read.name ?? ''))))
      const name = read.name ?? this.freeIndex(parts[0]?.column ?? '')
      if (this.indexes.some((held) => same(held.name, name)))
        throw new Misplaced('an index', name, `${this.name} has an index ${name} already.`)
      this.indexes.push({ name, index: { ...read.index, parts } })
    }
  }

  private addLink({ fk, name, indexName }: ReadMember & { kind: 'foreignKey' }, isNamed: (name: string) => boolean) {
    // "Foreign Keys": other engines than InnoDB take them and keep none, but for their index.
    const columns = fk.columns.map((one) => this.column(one).name)
    const begins = (list: readonly string[]) => columns.every((one, i) => same(one, list[i] ?? ''))
    const there =
      (this.primary !== undefined && begins(this.primary.columns)) ||
      this.indexes.some(
        ({ index }) =>
          index.method === undefined &&
          begins(index.parts.map(({ column = '', length }) => (length === undefined ? column : '')))
      )
    if (!there) {
      const parts = columns.map((column) => ({ column, descending: false }))
      this.indexes.push({
        name: name ?? indexName ?? this.freeIndex(columns[0] ?? ''),
        index: { unique: false, parts },
        made: true
      })
    }
    if (this.engine !== 'InnoDB') return
    const isTaken = (one: string) => isNamed(one) || this.links.some((fk) => same(fk.name, one))
    let called = name
    for (let n = 1; called === undefined || (name === undefined && isTaken(called)); n++)
      called = `${this.name}_ibfk_${n}`
    this.links.push({ ...fk, columns, name: called })
  }

  private freeIndex(column: string): string {
    const taken = (name: string) => this.indexes.some((held) => same(held.name, name))
    if (!taken(column) && !same(column, 'PRIMARY')) return column
    for (let n = 2; ; n++) if (!taken(`${column}_${n}`)) return `${column}_${n}`
  }

  private freeCheck(): string {
    // “CHECK Constraints” of MySQL: with the table’s name.
    const base = this.member.id === 'mysql' ? `${this.name}_chk_` : 'CONSTRAINT_'
    for (let n = 1; ; n++) if (!this.checks.some(({ name }) => same(name, base + String(n)))) return base + String(n)
  }

  get linkNames(): string[] {
    return this.links.map(({ name }) => name)
  }

  dropPrimary() {
    this.primary = undefined
  }
  /** Whether there was one. */
  dropIndex(name: string): boolean {
    const before = this.indexes.length
    this.indexes = this.indexes.filter((held) => !same(held.name, name))
    return this.indexes.length < before
  }
  dropLink(name: string): boolean {
    const before = this.links.length
    this.links = this.links.filter((fk) => !same(fk.name, name))
    return this.links.length < before
  }
  dropCheck(name: string): boolean {
    const before = this.checks.length
    this.checks = this.checks.filter((check) => !same(check.name, name))
    return this.checks.length < before
  }
  renameIndex(from: string, to: string) {
    if (!this.indexes.some((held) => same(held.name, from)))
      throw new Misplaced('no index', from, `${this.name} has no index ${from}.`)
    this.indexes = this.indexes.map((held) => (same(held.name, from) ? { ...held, name: to } : held))
  }
  /** Another table is called otherwise. */
  follow(from: string, to: string) {
    this.links = this.links.map((fk) =>
      same(fk.references.table, from) ? { ...fk, references: { ...fk.references, table: to } } : fk
    )
  }

  /** Columns of another table are called otherwise. */
  followColumns(table: string, renamed: ReadonlyMap<string, string>) {
    const now = (name: string) => [...renamed].find(([was]) => same(was, name))?.[1] ?? name
    this.links = this.links.map((fk) =>
      same(fk.references.table, table)
        ? { ...fk, references: { ...fk.references, columns: fk.references.columns.map(now) } }
        : fk
    )
  }

  /** Table options from here on; what is none is left. */
  readOptions(item: Cursor, converts = false) {
    const value = () => {
      item.take('=')
      return item.nameOrText()
    }
    while (!item.done) {
      if (item.take(',')) continue
      if (item.take('default') && !['character', 'charset', 'collate'].includes(item.word()))
        throw new NotUnderstood(`Nothing is known of “${item.rest().slice(0, 40)}”.`)
      if (item.takeOne('engine', 'type')) this.setEngine(value())
      else if (item.take('character', 'set') || item.take('charset'))
        this.setCollation(collationOf(value(), this.member.collation), converts)
      else if (item.take('collate')) this.setCollation(collationNamed(value()), converts)
      else if (item.take('comment')) {
        const said = value()
        this.comment = said === '' ? undefined : said
      } else if (item.take('auto_increment')) this.first = value()
      else if (item.takeOne('autoextend_size', 'connection', 'insert_method', 'password', 'tablespace', 'encryption'))
        value()
      else if (item.take('data', 'directory') || item.take('index', 'directory')) value()
      else if (SETTINGS.test(item.word())) {
        const name = item.next().toLowerCase()
        const said = value()
        const { [name]: _before, ...others } = this.options
        // As usual: it is shown no more.
        const isUsual = said.toLowerCase() === 'default' || (said === '0' && NONE_AT_NOUGHT.test(name))
        this.options = isUsual ? others : { ...others, [name]: name === 'row_format' ? said.toUpperCase() : said }
      } else return
    }
  }

  private setEngine(name: string) {
    this.engine = ENGINES.find((one) => one.toLowerCase() === name.toLowerCase().replace(/^heap$/, 'memory')) ?? name
    if (this.engine !== 'InnoDB') this.links = []
  }

  /** Columns that say nothing of their own have the table's; `converts`: those that do, too. */
  private setCollation(collation: string, converts: boolean) {
    const was = this.collation
    this.collation = collation
    if (converts) this.columns = this.columns.map(({ collation: _collation, ...column }) => column)
    else if (this.columns.length > 0 && was !== collation)
      this.columns = this.columns.map((column) =>
        isText(column.type)
          ? column.collation === collation
            ? (({ collation: _same, ...rest }: Column): Column => rest)(column)
            : { ...column, collation: column.collation ?? was }
          : column
      )
  }

  table(): Table {
    const options: Options = {
      ...(this.engine === 'InnoDB' ? {} : { [ENGINE]: this.engine }),
      ...(this.collation === this.usual ? {} : { [COLLATION]: this.collation }),
      ...this.options
    }
    const uniques: Key[] = []
    const indexes: Index[] = []
    const usual = usualMethod(this.engine)
    for (const { name, index, made } of this.indexes) {
      const columns = index.parts.flatMap(({ column }) => column ?? [])
      const plain = index.parts.every(({ descending }) => !descending) && !index.comment && !index.options
      const cut = index.parts.map(({ length }) => (length === undefined ? {} : { length }))
      if (index.unique && plain)
        uniques.push({ name, columns, ...(cut.some((part) => 'length' in part) ? { parts: cut } : {}) })
      else if (!(made && this.links.some((fk) => fk.name === name && fk.columns.join() === columns.join()))) {
        const { method, ...rest } = index
        const kept = method === usual || (method === 'hash' && this.engine !== 'MEMORY') ? undefined : method
        indexes.push({ ...rest, name, ...(kept === undefined ? {} : { method: kept }) })
      }
    }
    const cut = this.primary?.parts.some((part) => part.length !== undefined)
    return {
      schema: 'main',
      name: this.name,
      ...(this.comment === undefined ? {} : { comment: this.comment }),
      columns: this.columns.map((one) =>
        one.identity && this.first !== undefined ? { ...one, counting: { start: this.first } } : one
      ),
      ...(this.primary
        ? {
            primaryKey: {
              name: 'PRIMARY',
              columns: this.primary.columns,
              ...(cut ? { parts: this.primary.parts } : {})
            }
          }
        : {}),
      uniques,
      foreignKeys: [...this.links],
      checks: [...this.checks],
      indexes,
      ...(this.parted === undefined ? {} : { parted: this.parted }),
      ...(Object.keys(options).length > 0 ? { options } : {})
    }
  }
}
