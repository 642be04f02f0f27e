// One table of a script as the server keeps it.
import type { Check, Column, ForeignKey, Index, Key, Right, Table } from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import { readColumn, usingIndex, type ReadColumn, type Telling } from './columns'
import { references } from './constraints'

type Member = ReadColumn['members'][number]

/** What a table must know of what is around it. */
export interface Around extends Omit<Telling, 'known'> {
  /** The next name that the engine gives. */
  given(): string
}

const MEMBER = /^(constraint|primary|unique|foreign|check)$/

export class ReadTable {
  columns: Column[] = []
  comment: string | undefined
  primary: Key | undefined
  uniques: Key[] = []
  links: ForeignKey[] = []
  checks: Check[] = []
  indexes: Index[] = []
  readonly rights = new Map<string, readonly Right[]>()

  constructor(
    readonly name: string,
    private readonly around: Around
  ) {}

  column(name: string): Column {
    const found = this.columns.find((one) => one.name === name)
    if (!found) throw new NotUnderstood(`${this.name} has no column ${name} by then.`)
    return found
  }

  /** A definition between the parentheses of CREATE TABLE, or behind ADD. */
  add(item: Cursor) {
    if (MEMBER.test(item.word())) return this.addMember(item)
    const { column, members } = readColumn(item, { ...this.around, known: this.columns })
    if (this.columns.some(({ name }) => name === column.name))
      throw new NotUnderstood(`${this.name} has a column ${column.name} already.`)
    this.columns.push(column)
    for (const member of members) this.put(member, [column.name])
  }

  private addMember(item: Cursor) {
    const label = item.take('constraint') ? { name: item.name() } : {}
    if (item.take('primary', 'key')) this.put({ kind: 'primary', ...label }, item.names())
    else if (item.take('unique')) this.put({ kind: 'unique', ...label }, item.names())
    else if (item.take('check')) this.put({ kind: 'check', expression: item.inside(), ...label }, [])
    else if (item.take('foreign', 'key')) {
      const columns = item.names()
      this.put({ kind: 'foreign', fk: references(item, columns), ...label }, columns)
    } else throw new NotUnderstood(`Nothing is known of “${item.rest().slice(0, 40)}” in ${this.name}.`)
    if (item.take('using')) usingIndex(item)
    item.finish()
  }

  private put({ kind, expression = '', fk, name = this.around.given() }: Member, columns: readonly string[]) {
    for (const column of columns) this.column(column)
    if (kind === 'primary') {
      if (this.primary) throw new NotUnderstood(`${this.name} has a primary key already.`)
      this.primary = { name, columns }
      this.columns = this.columns.map((one) => (columns.includes(one.name) ? { ...one, nullable: false } : one))
    } else if (kind === 'unique') this.uniques.push({ name, columns })
    else if (kind === 'check') this.checks.push({ name, expression })
    else if (fk) this.links.push({ ...fk, name, columns })
  }

  dropColumn(name: string) {
    this.column(name)
    this.columns = this.columns.filter((one) => one.name !== name)
  }

  dropConstraint(name: string) {
    const stays = (one: { readonly name: string }) => one.name !== name
    if (this.primary?.name === name) this.primary = undefined
    this.uniques = this.uniques.filter(stays)
    this.links = this.links.filter(stays)
    this.checks = this.checks.filter(stays)
  }

  /** A column in another form, at its place or another. */
  set(name: string, change: (column: Column) => Column, position?: number) {
    const old = this.column(name)
    const now = change(old)
    const renamed = (list: readonly string[]) => list.map((one) => (one === name ? now.name : one))
    const rest = this.columns.map((one) => (one === old ? now : one))
    this.columns = position === undefined ? rest : moved(rest, now, position)
    if (now.name === name) return
    if (this.primary) this.primary = { ...this.primary, columns: renamed(this.primary.columns) }
    this.uniques = this.uniques.map((key) => ({ ...key, columns: renamed(key.columns) }))
    this.links = this.links.map((fk) => ({ ...fk, columns: renamed(fk.columns) }))
    this.indexes = this.indexes.map((index) => ({
      ...index,
      parts: index.parts.map((part) => (part.column === name ? { ...part, column: now.name } : part))
    }))
  }

  table(keyOf: (table: string) => readonly string[]): Table {
    const rightsOf = (column: string) => {
      const rights = this.rights.get(column)
      return rights && rights.length > 0 ? { rights } : {}
    }
    return {
      schema: 'main',
      name: this.name,
      ...(this.comment === undefined ? {} : { comment: this.comment }),
      ...rightsOf(''),
      columns: this.columns.map((column) => ({ ...column, ...rightsOf(column.name) })),
      ...(this.primary ? { primaryKey: this.primary } : {}),
      uniques: this.uniques,
      // What names no columns leads to the other's key.
      foreignKeys: this.links.map((fk) =>
        fk.references.columns.length > 0
          ? fk
          : { ...fk, references: { ...fk.references, columns: keyOf(fk.references.table) } }
      ),
      checks: this.checks,
      indexes: this.indexes
    }
  }
}

/** "ALTER COLUMN … POSITION": from 1. */
function moved(columns: readonly Column[], column: Column, position: number): Column[] {
  const rest = columns.filter((one) => one !== column)
  return [...rest.slice(0, position - 1), column, ...rest.slice(position - 1)]
}
