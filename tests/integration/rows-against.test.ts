// Whether rows speak against links and keys that a database does not declare, asked of real engines: they count just the rows
// that would refuse what is suggested.
import { PGlite } from '@electric-sql/pglite'
import initSqlJs from 'sql.js'
import { expect, it } from 'vitest'
import { dialect, type Dialect } from '../../src/lib/core/dialects'
import { suggestions } from '../../src/lib/core/infer'
import { rowsAgainst } from '../../src/lib/core/plan'

const MADE = `CREATE TABLE berths (code varchar(8) PRIMARY KEY, quay varchar(20));
CREATE TABLE visits (id integer NOT NULL, berth_code varchar(8), previous_berth_code varchar(8));
INSERT INTO berths VALUES ('N1', 'North'), ('N2', 'North');
INSERT INTO visits VALUES (1, 'N1', NULL), (2, 'N2', 'S9'), (2, NULL, 'S8'), (3, 'N1', 'N2')`

/** How many rows speak against each, by what it says. */
async function counted(engine: Dialect, ask: (sql: string) => Promise<number> | number) {
  const catalog = engine.readScript?.(MADE).catalog
  if (!catalog) throw new Error('Scripts are read')
  const found: Record<string, number[]> = {}
  for (const { kind, says, changes, about } of suggestions(catalog, engine)) {
    if (kind !== 'link' && kind !== 'key') continue
    const questions = rowsAgainst(changes, about, catalog, engine)
    found[says] = await Promise.all(questions.map(({ count }) => ask(count)))
  }
  return found
}

const EXPECTED = {
  'visits.berth_code → berths.code': [0],
  'visits.previous_berth_code → berths.code': [2]
}

it('PostgreSQL counts them', async () => {
  const database = new PGlite()
  await database.exec(MADE)
  const ask = async (sql: string) => Number((await database.query<{ n: number }>(sql)).rows[0]?.n)
  // Of a key, what two rows have is counted once.
  expect(await counted(dialect('postgres') as Dialect, ask)).toEqual({ ...EXPECTED, 'visits (id)': [1] })
  await database.close()
})

it('SQLite counts them', async () => {
  const { Database } = await initSqlJs()
  const database = new Database()
  database.exec(MADE)
  const ask = (sql: string) => Number(database.exec(sql)[0]?.values[0]?.[0])
  expect(await counted(dialect('sqlite') as Dialect, ask)).toEqual({ ...EXPECTED, 'visits (id)': [2] })
  database.close()
})
