// Reads an SQLite script: what its statements leave in the schema table ("The Schema Table", sqlite.org/schematab.html), and
// from that a catalogue, as it is read from a database. Data and settings are passed over.
import { applied, memberAddress, tableAddress, type Catalog, type Change, type Column, type Table } from '../../catalog'
import { Cursor, NotUnderstood, splitStatements } from '../../sql'
import type { ReadStatement, ScriptRead, Writer } from '../dialect'
import { readStatement, viewStatement } from '../standard'
import { catalogOf, type SchemaRow } from './introspect'
import { inSmall, sqliteLexis } from './lexis'
import { readTable } from './read'
import { shadowNames, shadowTables } from './shadows'

/** Names are read as they are spelled. */
const lexis = { ...sqliteLexis, fold: (name: string) => name }

/** Statements that make nothing that a schema holds. */
const PASSED = new Set(
  (
    'insert update delete replace select with values pragma begin commit end rollback savepoint release analyze vacuum ' +
    'reindex attach detach explain'
  ).split(' ')
)

export function readSqliteScript(script: string, write: Writer): ScriptRead {
  const schema = new Schema(write)
  const statements = splitStatements(script, sqliteLexis)
    .map(withoutCommands)
    .flatMap((one) => (one.sql === '' ? [] : readStatement(one, (sql) => schema.take(sql))))
  return { catalog: schema.catalog(), statements }
}

/** A line of the shell’s own (`.mode box`) stands before a statement and is none. */
function withoutCommands({ sql, at }: { readonly sql: string; readonly at: number }) {
  const commands = /^(?:\s*\.[^\n]*(?:\n|$))+\s*/.exec(sql)?.[0].length ?? 0
  return { sql: sql.slice(commands), at: at + commands }
}

class Schema {
  private rows = new Map<string, SchemaRow>()
  constructor(private readonly write: Writer) {}

  catalog = (): Catalog => catalogOf([...this.rows.values()].sort((a, b) => (a.name < b.name ? -1 : 1)))

  /** What becomes of a statement. */
  take(sql: string): ReadStatement['how'] {
    const cursor = new Cursor(sql, lexis)
    const word = cursor.word()
    if (PASSED.has(word)) return 'data'
    if (cursor.take('create')) return this.create(cursor)
    if (cursor.take('drop')) return this.drop(cursor)
    if (cursor.take('alter', 'table')) return this.alter(cursor)
    throw new NotUnderstood(`No statement of SQLite begins with “${word}”.`)
  }

  private create(cursor: Cursor): ReadStatement['how'] {
    // What is there for one session only is in no schema.
    if (cursor.take('temp') || cursor.take('temporary')) return 'data'
    const unique = cursor.take('unique') ? 'UNIQUE ' : ''
    const virtual = cursor.take('virtual') ? 'VIRTUAL ' : ''
    const type = cursor.next().toLowerCase()
    if (!['table', 'index', 'view', 'trigger'].includes(type)) throw new NotUnderstood(`SQLite makes no ${type}.`)
    const gently = cursor.take('if', 'not', 'exists')
    const start = cursor.rest()
    const path = cursor.path()
    const name = path.at(-1) ?? ''
    if (name === '') throw new NotUnderstood(`The ${type} has no name.`)
    if (type === 'table' && virtual === '' && cursor.word() !== '(')
      throw new NotUnderstood(`The table ${name} is made of a query: what its columns are, only the engine knows.`)
    const there = this.rows.get(inSmall(name))
    if (there && gently) return 'read'
    if (there) throw new NotUnderstood(`There is a ${there.type} ${name} already.`)
    const owner = type === 'index' || type === 'trigger' ? this.ownerOf(type, cursor) : name
    // As the engine keeps it: from its kind on, and without whose it is.
    const said = path.length > 1 ? start.slice(start.indexOf('.') + 1).trimStart() : start
    const whole = `CREATE ${unique}${virtual}${type.toUpperCase()} ${said}`
    this.put({ type, name, owner, sql: whole })
    if (virtual !== '')
      for (const shadow of shadowTables(name, whole))
        this.put({ type, name: shadow.name, owner: shadow.name, sql: shadow.sql })
    return type === 'view' || type === 'trigger' || virtual !== '' ? 'carried' : 'read'
  }

  /** The table or view that an index or trigger is on, as it is spelled there. */
  private ownerOf(type: string, cursor: Cursor): string {
    while (!cursor.done && cursor.word() !== 'on') cursor.next()
    cursor.take('on')
    const said = cursor.name()
    const home = this.rows.get(inSmall(said))
    if (home?.type !== 'table' && !(type === 'trigger' && home?.type === 'view'))
      throw new NotUnderstood(`There is no table ${said} for it to be on.`)
    return home.name
  }

  private drop(cursor: Cursor): ReadStatement['how'] {
    const type = cursor.next().toLowerCase()
    const gently = cursor.take('if', 'exists')
    const name = cursor.path().at(-1) ?? ''
    const there = this.rows.get(inSmall(name))
    if (there?.type !== type) {
      if (gently) return 'read'
      throw new NotUnderstood(`There is no ${type} ${name} to remove.`)
    }
    for (const shadow of shadowNames(there.name, there.sql)) this.rows.delete(inSmall(shadow))
    this.rows.delete(inSmall(name))
    if (type === 'table' || type === 'view')
      for (const [key, row] of this.rows) if (row.owner === there.name && row.type !== type) this.rows.delete(key)
    return 'read'
  }

  private alter(cursor: Cursor): ReadStatement['how'] {
    const said = cursor.path().at(-1) ?? ''
    const row = this.rows.get(inSmall(said))
    if (row?.type !== 'table') throw new NotUnderstood(`There is no table ${said} to change.`)
    const { table } = readTable(row.name, row.sql)
    if (cursor.take('add')) {
      cursor.take('column')
      this.put({ ...row, sql: this.write.createTable(withColumn(table, cursor.rest())) })
    } else if (cursor.take('drop')) {
      cursor.take('column')
      const column = columnOf(table, cursor.name())
      const columns = table.columns.filter((other) => other !== column)
      this.put({ ...row, sql: this.write.createTable(bare({ ...table, columns })) })
    } else if (cursor.take('rename', 'to')) this.rename(table, cursor.name())
    else if (cursor.take('rename')) {
      cursor.take('column')
      const column = columnOf(table, cursor.name())
      if (!cursor.take('to')) throw new NotUnderstood(`What ${column.name} is called now is not said.`)
      this.rename(table, cursor.name(), column)
    } else throw new NotUnderstood(`SQLite does not change a table in that way: ${cursor.word()}.`)
    return 'read'
  }

  /** A new name reaches whatever names the old one, what a view gives too: all is written anew. */
  private rename(table: Table, to: string, column?: Column) {
    const address = column ? memberAddress(table, 'column', column) : tableAddress(table)
    const change: Change = { action: 'rename', address, to }
    const { tables, views = [] } = applied([change], this.catalog(), { ...this.write, following: true })
    const rows = [
      ...tables.flatMap((now): SchemaRow[] => [
        { type: 'table', name: now.name, owner: now.name, sql: this.write.createTable(now) },
        ...now.indexes.map((index) => ({
          type: 'index',
          name: index.name,
          owner: now.name,
          sql: this.write.createIndex(now, index)
        }))
      ]),
      ...views.map((view) => ({
        type: 'view',
        name: view.name,
        owner: view.name,
        sql: viewStatement(view, this.write)
      })),
      ...[...tables, ...views].flatMap((home) =>
        (home.triggers ?? []).map(({ name, definition }) => ({
          type: 'trigger',
          name,
          owner: home.name,
          sql: definition
        }))
      )
    ]
    this.rows = new Map(rows.map((row) => [inSmall(row.name), row]))
  }

  private put(row: SchemaRow) {
    this.rows.set(inSmall(row.name), row)
  }
}

/** Without the words that it was made in: it says something else by now. */
const bare = ({ written: _written, ...table }: Table): Table => table

function withColumn(table: Table, definition: string): Table {
  const { table: more } = readTable(table.name, `CREATE TABLE more (${definition})`)
  const [column] = more.columns
  if (!column || more.columns.length > 1) throw new NotUnderstood('It is one column that is added.')
  if (table.columns.some((other) => inSmall(other.name) === inSmall(column.name)))
    throw new NotUnderstood(`There is a column ${column.name} already.`)
  return bare({
    ...table,
    columns: [...table.columns, column],
    uniques: [...table.uniques, ...more.uniques],
    checks: [...table.checks, ...more.checks],
    foreignKeys: [...table.foreignKeys, ...more.foreignKeys]
  })
}

function columnOf(table: Table, name: string): Column {
  const column = table.columns.find((other) => inSmall(other.name) === inSmall(name))
  if (!column) throw new NotUnderstood(`${table.name} has no column ${name}.`)
  return column
}
