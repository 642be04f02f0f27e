// PostgreSQL's scripts as they are read: as valid as the engine's own grammar has them (`libpg-query`), what the engine makes
// of them, and never a failure.
import fc from 'fast-check'
import { loadModule, parseSync } from 'libpg-query'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import {
  dialect as dialectOf,
  engineOf,
  printScript,
  type Dialect,
  type ReadStatement
} from '../../src/lib/core/dialects'
import { writeScript } from '../../src/lib/core/plan'
import { significant, splitStatements } from '../../src/lib/core/sql'
import { openPostgres } from '../../src/lib/server/postgres'
import { POSTGRES } from '../foreign/postgres'
import { SQLITE } from '../foreign/sqlite'
import { catalogs } from '../support/catalogs'
import { postgresVersion } from '../support/dump'
import { servers, type Server } from '../support/servers'

const postgres = dialectOf('postgres') as Dialect
const read = (script: string, dialect = postgres) => {
  const found = dialect.readScript?.(script)
  if (!found) throw new Error('PostgreSQL’s scripts are read')
  return found
}
const ways = (statements: readonly ReadStatement[]) => statements.map(({ how }) => how)
const statementsOf = (script: string) => splitStatements(script, postgres.write.lexis, 'psql').map(({ sql }) => sql)

describe('a statement of a PostgreSQL script', () => {
  beforeAll(() => loadModule())
  const valid = (sql: string) => {
    try {
      return parseSync(sql).stmts?.length === 1
    } catch {
      return false
    }
  }
  /** What is held as it stands, or makes nothing, is the engine's to judge. */
  const isCarried =
    /^(select|insert|update|delete|execute|truncate)|^create\s+(or\s+replace\s+)?(recursive\s+|materialized\s+)?(view|function|procedure|rule|aggregate)/i
  /** It is said rightly, of what is not there, or is there already. */
  const byMeaning =
    /^There is |^[^ ]+ has |^The key of |^The .* stands on |already|only the engine knows|none of what a catalogue holds/
  const pool = POSTGRES.flatMap(({ sql }) => {
    const all = statementsOf(sql)
    return all.flatMap((statement, i) => (isCarried.test(statement) ? [] : [{ before: all.slice(0, i), statement }]))
  })
  const MORE = ['foo', ',', '(', ')', 'NOT', 'NULL', '1', "'x'", '=', '.']

  it('is understood where the engine’s own grammar takes it, and told where it does not', () => {
    const wrong: string[] = []
    let count = 0
    const judge = (before: readonly string[], statement: string) => {
      const { statements } = read([...before, statement].join(';\n'))
      const last = statements.at(-1)
      // What would be two statements is none of this.
      if (last?.sql !== statement || isCarried.test(statement)) return
      count++
      const understood = last.how !== 'unknown'
      const right = valid(statement) ? understood || byMeaning.test(last.why ?? '') : !understood
      if (!right) wrong.push(`${last.why ?? 'understood'}: ${statement}`)
    }
    for (const { before, statement } of pool) judge(before, statement)
    expect(wrong).toEqual([])
    const mutation = fc.record({
      of: fc.nat(pool.length - 1),
      how: fc.nat(3),
      at: fc.nat(),
      more: fc.nat(MORE.length - 1)
    })
    fc.assert(
      fc.property(mutation, ({ of, how, at, more }) => {
        const { before, statement } = pool[of] ?? { before: [], statement: '' }
        const tokens = significant(statement, postgres.write.lexis)
        const words = tokens.map(({ at: from }, i) => statement.slice(from, tokens[i + 1]?.at))
        const place = at % words.length
        const [word = '', next = ''] = words.slice(place, place + 2)
        if (how === 0) words.splice(place, 1)
        else if (how === 1) words.splice(place, 0, `${word} `)
        else if (how === 2) words.splice(place, 2, `${next} `, `${word} `)
        else words.splice(place, 0, ` ${MORE[more] ?? ''} `)
        judge(before, words.join('').trim())
      }),
      { numRuns: 1500 }
    )
    // A few are left that only the whole grammar tells; fewer than one in a hundred.
    expect(wrong.slice(count / 100)).toEqual([])
  })

  it('that is broken is told with its reason, and spoils no other; rows and the tool’s own lines are passed over', () => {
    const script = `\\set ON_ERROR_STOP on
SET search_path = quay, public;
CREATE SCHEMA quay;
CREATE TABLE berth (code text PRIMARY KEY, quay varchar(40) NOT NULL;
CREATE TABLE visit (id serial, berth text REFERENCES nowhere, tug int REFERENCES nowhere (n));
CREATE INDEX ON nowhere (n);
COPY berth (code, quay) FROM stdin;
N1	North's "best; berth
\\.
CREATE TABLE tariff (code text, amount numeric(8,2) DEFAULT '0');
CREATE TABLE copied AS SELECT * FROM tariff;
ALTER TABLE tariff DROP COLUMN none;
CREATE OPERATOR === (LEFTARG = text, RIGHTARG = text, FUNCTION = texteq);
GRANT FLY ON tariff TO agent;
CREATE INDEX ON tariff (lower(code));`
    const { catalog, statements } = read(script)
    const line = (at: number) => script.slice(0, at).split('\n').length
    expect(statements.flatMap(({ at, how, why }) => (how === 'unknown' ? [[line(at), why]] : []))).toEqual([
      [4, 'A “(” is never closed.'],
      [6, 'There is no table nowhere for it to be on.'],
      [11, 'The table copied is made of a query: what its columns are, only the engine knows.'],
      [12, 'tariff has no column none.'],
      [13, 'The operator === is none of what a catalogue holds.'],
      [14, 'There is no right “FLY”.']
    ])
    expect(
      catalog.tables.map(({ schema, name, indexes }) => [schema, name, indexes.map((index) => index.name)])
    ).toEqual([
      ['quay', 'visit', []],
      ['quay', 'tariff', ['tariff_lower_idx']]
    ])
    // What a part of a database refers to may be in another part.
    expect(statements.flatMap(({ how, why }) => (how === 'read' && why ? [why] : []))).toEqual([
      'visit refers to nowhere, which is not made here. visit refers to nowhere, which is not made here.'
    ])
    expect(catalog.tables[0]?.foreignKeys.map(({ references }) => references)).toEqual([
      { schema: 'quay', table: 'nowhere', columns: [], unnamed: true },
      { schema: 'quay', table: 'nowhere', columns: ['n'] }
    ])
    expect(catalog.unread).toEqual([{ kind: 'operator', name: '===' }])
  })

  it('that cannot be carried out to its end has done nothing', () => {
    const before = `CREATE TABLE berth (code text PRIMARY KEY, quay text, depth int);
      CREATE TABLE visit (id serial PRIMARY KEY, berth text REFERENCES berth); CREATE VIEW v AS SELECT quay FROM berth;`
    const wrong = `ALTER TABLE berth ADD since date, DROP COLUMN depth, DROP COLUMN none;
      ALTER TABLE berth RENAME quay TO side, ALTER code SET NOT NULL;
      CREATE TABLE roads.tug (id serial, a int, a int); DROP TABLE visit, nothing; DROP TABLE berth;
      CREATE TABLE tug (id serial UNIQUE, pull int, CONSTRAINT twice CHECK (pull > 0), CONSTRAINT twice CHECK (pull < 9));`
    const { catalog, statements } = read(`${before} ${wrong}`)
    expect(ways(statements).slice(3)).toEqual(Array.from({ length: 6 }, () => 'unknown'))
    const { catalog: was } = read(before)
    expect(compare({ wanted: was, live: catalog }, postgres).changes).toEqual([])
    expect(catalog.tables.find(({ name }) => name === 'berth')?.columns.map(({ name }) => name)).toEqual([
      'code',
      'quay',
      'depth'
    ])
  })

  it('fails at nothing, however it is cut and mixed', () => {
    const pieces = POSTGRES.flatMap(({ sql }) => sql.split(/(?<=[\s(),;'"])/))
    fc.assert(
      fc.property(fc.array(fc.nat(pieces.length - 1), { maxLength: 80 }), (picks) => {
        const script = picks.map((n) => pieces[n]).join('')
        const { catalog, statements } = read(script)
        for (const { at, sql } of statements) expect(script.slice(at, at + sql.length)).toBe(sql)
        expect(compare({ wanted: catalog, live: catalog }, postgres).changes).toEqual([])
      }),
      { numRuns: 600 }
    )
  })

  it('shows by itself of which engine it is', () => {
    for (const { sql } of POSTGRES) expect(engineOf(sql), sql).toBe('postgres')
    for (const { sql } of SQLITE) expect(engineOf(sql), sql).toBe('sqlite')
    expect(engineOf('nothing at all')).toBeUndefined()
  })
})

describe('a PostgreSQL script', () => {
  const local = dialectOf('postgres', String(postgresVersion)) as Dialect
  let server: Server
  let count = 0
  beforeAll(async () => {
    if (servers.postgres.lacking === undefined) server = await servers.postgres.start()
  })
  afterAll(() => server?.stop())

  const between = (a: Catalog, b: Catalog) =>
    compare({ wanted: { ...a, partial: true }, live: b }, local).changes.filter(
      (change) => change.action !== 'alter' || change.certain
    )

  it.skipIf(servers.postgres.lacking)(
    'is what the engine makes of it, whatever it holds',
    { timeout: 120_000 },
    async () => {
      await fc.assert(
        fc.asyncProperty(catalogs(local), async (catalog) => {
          const script = printScript(writeScript(catalog, local), local)
          const { catalog: told, statements } = read(script, local)
          expect(statements.filter(({ how }) => how === 'unknown')).toEqual([])
          const url = await server.create(`script_${count++}`)
          const client = new pg.Client({ connectionString: url })
          await client.connect()
          for (const { sql } of writeScript(catalog, local)) await client.query(sql)
          await client.end()
          const live = await openPostgres(url)
          try {
            const made = await live.catalog()
            expect(between(told, made)).toEqual([])
            expect(between(made, told)).toEqual([])
          } finally {
            await live.close()
          }
        }),
        { numRuns: 40 }
      )
    }
  )
})
