// The same for PostgreSQL 18, embedded, by its own dump tool built for the place (`@electric-sql/pglite-tools`); 13, 14, 16 and 17
// are written by the manual.
import { PGlite } from '@electric-sql/pglite'
import { btree_gist } from '@electric-sql/pglite/contrib/btree_gist'
import { citext } from '@electric-sql/pglite/contrib/citext'
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm'
import { pgDump } from '@electric-sql/pglite-tools/pg_dump'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { compare } from '../../src/lib/core/compare'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { writeScript } from '../../src/lib/core/plan'
import { POSTGRES } from '../foreign/postgres'
import { statementsIn } from '../support/dump'
import { template } from '../support/embedded'
import { undeclared } from '../support/kinds'

const VERSION = 18
const postgres = dialectOf('postgres', String(VERSION)) as Dialect

let db: PGlite
beforeAll(async () => {
  db = await PGlite.create({ loadDataDir: await template(), extensions: { btree_gist, citext, pg_trgm } })
  await db.exec('CREATE ROLE agent')
})
afterAll(() => db.close())

/** A database of these statements: how it is read, and what the tool writes of it. */
async function made(statements: readonly string[]) {
  await db.exec(`DO $$ DECLARE x record; BEGIN
    FOR x IN SELECT nspname FROM pg_namespace WHERE nspname !~ '^pg_' AND nspname <> 'information_schema' LOOP
      EXECUTE format('DROP SCHEMA %I CASCADE', x.nspname); END LOOP;
    FOR x IN SELECT extname FROM pg_extension WHERE extname <> 'plpgsql' LOOP EXECUTE format('DROP EXTENSION %I CASCADE', x.extname); END LOOP;
    FOR x IN SELECT d.defaclobjtype AS of FROM pg_default_acl d LOOP DROP OWNED BY agent; END LOOP; END $$;
    ALTER DEFAULT PRIVILEGES GRANT EXECUTE ON FUNCTIONS TO PUBLIC; CREATE SCHEMA public; GRANT USAGE ON SCHEMA public TO PUBLIC;
    COMMENT ON SCHEMA public IS 'standard public schema'`)
  for (const sql of statements) await db.exec(sql)
  const query = async (sql: string) => (await db.query<Record<string, unknown>>(sql)).rows
  const catalog = await postgres.introspect?.read(query)
  if (!catalog) throw new Error('PostgreSQL can be asked')
  const file = await pgDump({ pg: db, args: ['--schema-only', '--no-owner'] })
  // The tool leaves its transaction open, and the session looking nowhere.
  await db.exec('ROLLBACK')
  await db.exec('RESET ALL')
  return { catalog, dump: statementsIn(await file.text()) }
}

it.each(POSTGRES.filter(({ since = 0, until = 99 }) => since <= VERSION && VERSION <= until))(
  '$shows',
  async ({ sql }) => {
    const from = await made([sql])
    expect(from.catalog.unread).toEqual([])
    expect(compare({ wanted: from.catalog, live: from.catalog }, postgres).changes).toEqual([])
    const to = await made(writeScript(from.catalog, postgres).map((statement) => statement.sql))
    expect(to.dump).toEqual(from.dump)
    expect(undeclared(from.catalog, postgres)).toEqual([])
  }
)
