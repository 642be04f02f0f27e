// What is read from the text of a CREATE TABLE, held against what SQLite's own parser made of it, as its pragmas tell
// (sqlite.org/pragma.html: table_xinfo, index_list, index_xinfo, foreign_key_list). The texts are written in every way
// that sqlite.org/lang_createtable.html lets people write them.
import fc from 'fast-check'
import initSqlJs from 'sql.js'
import { beforeAll, expect, it } from 'vitest'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import type { LiveDatabase } from '../../src/lib/live'
import { openSqlite } from '../../src/lib/live/sqlite'

const sqlite = dialectOf('sqlite') as Dialect
let engine: Awaited<ReturnType<typeof initSqlJs>>
beforeAll(async () => void (engine = await initSqlJs()))

/** A name as it may be written: bare, or in any of the four kinds of quotes, in small or large letters. */
const spelling = (name: string) =>
  fc
    .tuple(fc.constantFrom(...(name.includes(' ') ? [] : ['', '']), '"', '`', '[', "'"), fc.boolean())
    .map(([mark, large]) => {
      const text = large ? name.toUpperCase() : name
      return mark === '[' ? `[${text}]` : `${mark}${text}${mark}`
    })
/** What may stand between any two words. */
const gap = fc.constantFrom(' ', ' ', '\n\t', ' /* a, b) */ ', ' -- it’s (\n ')
const joined = (parts: readonly fc.Arbitrary<string>[]) =>
  fc.tuple(gap, ...parts).map(([space, ...words]) => words.filter((word) => word !== '').join(space))
const one = (...words: string[]) => fc.constantFrom(...words)
const maybe = (part: fc.Arbitrary<string>) => fc.oneof(fc.constant(''), part)

const actions = joined([
  maybe(one('ON DELETE CASCADE', 'on delete Set Null', 'ON DELETE NO ACTION', 'ON DELETE RESTRICT')),
  maybe(one('MATCH SIMPLE')),
  maybe(one('ON UPDATE SET DEFAULT', 'on update cascade')),
  maybe(one('DEFERRABLE', 'NOT DEFERRABLE INITIALLY IMMEDIATE', 'DEFERRABLE INITIALLY DEFERRED'))
])
const parent = joined([one('REFERENCES', 'references'), spelling('quay'), one('', '(CODE)', '( "code" )')])
const checks = one('CHECK (1 <> 2)', "check ( 'a,b)' <> '(' )", 'CONSTRAINT "ck (1)" CHECK ((1) IN (1, 2))')
const types = one(
  'INTEGER',
  'int',
  'varchar(20)',
  'DECIMAL ( 8 , 2 )',
  'Double  Precision',
  'text',
  'blob',
  '',
  'unsigned big int'
)
const defaults = one(
  '5',
  '-5',
  '+ 7',
  "'it''s'",
  '(1 + (2))',
  'CURRENT_DATE',
  "x'00ff'",
  'NULL',
  "( 'a' || ',' )",
  'open',
  '""',
  '[x]'
)

const columnNames = ['id', 'imo', 'arrives at', 'weight', 'berth']
const column = (name: string) =>
  joined([
    spelling(name),
    types,
    fc.shuffledSubarray(['null', 'default', 'unique', 'check', 'references', 'collate']).chain((clauses) => {
      const said: Readonly<Record<string, fc.Arbitrary<string>>> = {
        null: one('NOT NULL', 'not null', 'CONSTRAINT filled NOT NULL', 'NULL'),
        default: defaults.map((value) => `DEFAULT ${value}`),
        unique: one('UNIQUE', 'constraint "a key" unique'),
        check: checks,
        references: joined([parent, actions]),
        collate: one('COLLATE NOCASE', 'collate binary')
      }
      return joined(clauses.map((clause) => said[clause] ?? fc.constant('')))
    })
  ])

const text = fc.shuffledSubarray(columnNames, { minLength: 1 }).chain((names) => {
  const some = fc.shuffledSubarray(names, { minLength: 1 })
  const list = some.chain((own) => fc.tuple(...own.map(spelling))).map((own) => `(${own.join(' , ')})`)
  const constraints = fc.tuple(
    maybe(joined([one('PRIMARY KEY', 'CONSTRAINT [the key] primary key'), list])),
    maybe(joined([one('UNIQUE', "CONSTRAINT 'one of' UNIQUE"), list])),
    maybe(checks),
    maybe(
      joined([
        one('FOREIGN KEY', 'CONSTRAINT "to quay" foreign key'),
        fc
          .constantFrom(...names)
          .chain(spelling)
          .map((n) => `(${n})`),
        parent,
        actions
      ])
    )
  )
  // The engine asks for no comma between the constraints of a table.
  return fc
    .tuple(spelling('vessel'), gap, fc.tuple(...names.map(column)), constraints, one(' ', ','))
    .map(([table, space, columns, constraint, between]) => {
      const rest = constraint.filter((part) => part !== '').join(`${between}${space}`)
      return `CREATE TABLE${space === ' ' ? ' IF NOT EXISTS ' : space}${table}${space}(${[...columns, ...(rest === '' ? [] : [rest])].join(`,${space}`)}${space})`
    })
})

/** The rows of a pragma's function, by column name. */
async function pragma(live: LiveDatabase, call: string) {
  const { columns, rows } = await live.query(`SELECT * FROM ${call}`)
  return rows.map((row) => Object.fromEntries(columns.map((name, i) => [name, row[i]])))
}

const wordsAsText: Readonly<Record<string, string>> = { open: "'open'", '""': "''", '[x]': "'x'" }

/** The collation that each column is compared by, as an index over it takes it on. */
async function collationsOf(live: LiveDatabase, columns: readonly string[]) {
  await live.query(`CREATE INDEX probe ON vessel (${columns.map((name) => `"${name}"`).join()})`)
  const parts = await pragma(live, "pragma_index_xinfo('probe')")
  await live.query('DROP INDEX probe')
  return parts.filter(({ key }) => key === 1).map(({ coll }) => String(coll).toUpperCase())
}

/** A table as the pragmas tell it. */
async function toldByEngine(live: LiveDatabase) {
  const columns = await pragma(live, "pragma_table_xinfo('vessel')")
  const indexes = await pragma(live, "pragma_index_list('vessel')")
  const keys = await Promise.all(
    indexes.map(async ({ name, origin }) => {
      const parts = await pragma(live, `pragma_index_xinfo('${String(name)}')`)
      const own = parts.filter(({ key }) => key === 1).map(({ name: column }) => String(column))
      return { origin: String(origin), columns: own }
    })
  )
  const links = await pragma(live, "pragma_foreign_key_list('vessel')")
  return {
    columns: columns.map((c) => ({
      name: c['name'],
      type: sqlite.types.read(String(c['type'])),
      filled: c['notnull'] === 1,
      // A blank behind a sign means nothing; a word is text.
      default:
        typeof c['dflt_value'] === 'string'
          ? (wordsAsText[c['dflt_value']] ?? c['dflt_value'].replace(/^([+-])\s+/, '$1'))
          : undefined
    })),
    collations: await collationsOf(
      live,
      columns.map((c) => String(c['name']))
    ),
    key: columns
      .filter(({ pk }) => Number(pk) > 0)
      .sort((a, b) => Number(a['pk']) - Number(b['pk']))
      .map(({ name }) => name),
    uniques: new Set(keys.filter(({ origin }) => origin === 'u').map((key) => key.columns.join())),
    links: links
      .map((l) => `${String(l['from'])} ${String(l['on_delete'])} ${String(l['on_update'])}`.toLowerCase())
      .sort()
  }
}

it('is what the engine’s own parser makes of it', async () => {
  await fc.assert(
    fc.asyncProperty(text, async (sql) => {
      const live = await openSqlite(engine, { load: async () => undefined, save: async () => undefined })
      await live.query('CREATE TABLE Quay (code text PRIMARY KEY)')
      // Two names for one thing, or a key of two: the engine refuses those, and there is nothing to read.
      const made = await live.query(sql).then(
        () => true,
        () => false
      )
      if (made) {
        const told = await toldByEngine(live)
        const table = (await live.catalog()).tables.find(({ name }) => name.toLowerCase() === 'vessel')
        const key = table?.primaryKey?.columns ?? []
        const rowId = key.length === 1 && table?.columns.find(({ name }) => name === key[0])?.type.name === 'integer'
        const isRowId = (name: unknown) => rowId && name === key[0]
        expect(
          table?.columns.map((c) => ({
            name: c.name,
            type: c.type,
            filled: !c.nullable,
            default: c.default
          })),
          sql
        ).toEqual(told.columns.map((c) => ({ ...c, filled: c.filled || isRowId(c.name) })))
        expect(
          table?.columns.map((c) => c.collation ?? 'BINARY'),
          sql
        ).toEqual(told.collations)
        expect(key, sql).toEqual(told.key)
        // A unique rule over the very columns of another key is no second index to the engine.
        const own = new Set(table?.uniques.map(({ columns }) => columns.join()))
        for (const columns of told.uniques) expect(own, sql).toContain(columns)
        for (const columns of own) expect([...told.uniques, told.key.join()], sql).toContain(columns)
        expect(
          table?.foreignKeys.map((fk) => `${fk.columns[0] ?? ''} ${fk.onDelete} ${fk.onUpdate}`.toLowerCase()).sort(),
          sql
        ).toEqual(told.links)
        for (const fk of table?.foreignKeys ?? [])
          expect(fk.references, sql).toMatchObject({ schema: 'main', table: 'Quay', columns: ['code'] })
      }
      await live.close()
      return fc.pre(made)
    }),
    { numRuns: 400 }
  )
}, 120_000)
