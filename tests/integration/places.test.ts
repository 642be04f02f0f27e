// Every statement reaches the schema, or the database, that it means, wherever the session has been told to look.
import { execFileSync } from 'node:child_process'
import { writeFileSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, it } from 'vitest'
import { compare } from '../../src/lib/core/compare'
import { dialect, printScript, type Dialect } from '../../src/lib/core/dialects'
import { writeScript, plan } from '../../src/lib/core/plan'
import { runMigration, type LiveDatabase } from '../../src/lib/live'
import { openEmbeddedPostgres } from '../../src/lib/live/embedded-postgres'
import { openMariadb } from '../../src/lib/server/mysql'
import { openPostgres } from '../../src/lib/server/postgres'
import { template } from '../support/embedded'
import { servers } from '../support/servers'
import { column, designed, table } from '../support/tables'

const wanted = designed(
  table('fresh', [column('id', 'integer', { nullable: false }), column('note', 'text', { default: "'new'" })], {
    primaryKey: { name: 'pk_fresh', columns: ['id'] },
    indexes: [{ name: 'ix_fresh_note', unique: false, parts: [{ column: 'note', descending: false }] }],
    checks: [{ name: 'ck_fresh', expression: 'id > 0' }]
  }),
  table('other', [column('fresh_id')], {
    foreignKeys: [
      {
        name: 'fk_other',
        columns: ['fresh_id'],
        references: { schema: 'public', table: 'fresh', columns: ['id'] },
        onDelete: 'no action',
        onUpdate: 'no action',
        deferrable: 'no'
      }
    ]
  })
)

async function inPostgres(live: LiveDatabase) {
  const postgres = dialect('postgres') as Dialect
  const tablesIn = async (schema: string) =>
    (await live.query(`SELECT tablename FROM pg_tables WHERE schemaname = '${schema}' ORDER BY 1`)).rows.flat()
  // A schema named like the user comes first where nothing else is said; and a session may say something else.
  await live.query('CREATE SCHEMA postgres')
  await live.query('CREATE SCHEMA yard')
  for (const path of ['"$user", public', 'yard, public', 'yard', '']) {
    await live.query(`SELECT set_config('search_path', '${path}', false)`)
    const before = await live.catalog()
    const migration = plan(before, compare({ wanted, live: before }, postgres).changes, postgres)
    const { how } = await runMigration(migration, live, postgres, { onResults: () => undefined })
    expect(how).toBe('complete')
    expect([await tablesIn('public'), await tablesIn('postgres'), await tablesIn('yard')]).toEqual([
      ['fresh', 'other'],
      [],
      []
    ])
    expect(compare({ wanted, live: await live.catalog() }, postgres).changes).toEqual([])
    // What a person told the session is still so.
    expect((await live.query(`SELECT current_setting('search_path')`)).rows).toEqual([[path]])
    await live.query('DROP TABLE public.other, public.fresh')
  }
}

it('in the embedded PostgreSQL', async () => {
  const live = await openEmbeddedPostgres({ load: async () => undefined, save: async () => undefined }, template)
  await inPostgres(live).finally(() => live.close())
})

it.skipIf(servers.postgres.lacking)('in a PostgreSQL server, and in a script that its own tool runs', async () => {
  const server = await servers.postgres.start()
  const folder = mkdtempSync(join(tmpdir(), 'places-'))
  try {
    const url = await server.create('harbour')
    const live = await openPostgres(url)
    await inPostgres(live)
    const file = join(folder, 'script.sql')
    const postgres = dialect('postgres') as Dialect
    writeFileSync(file, printScript(writeScript(wanted, postgres), postgres))
    execFileSync('psql', ['-X', '-q', '-v', 'ON_ERROR_STOP=1', '-f', file, url])
    const { rows } = await live.query(`SELECT schemaname, tablename FROM pg_tables WHERE tablename = 'fresh'`)
    expect(rows).toEqual([['public', 'fresh']])
    await live.close()
  } finally {
    rmSync(folder, { recursive: true })
    await server.stop()
  }
})

it.skipIf(servers.mariadb.lacking)('in a MariaDB server whose session has gone to another database', async () => {
  const server = await servers.mariadb.start()
  try {
    await server.create('yard')
    const live = await openMariadb(await server.create('harbour'))
    await live.query('USE yard')
    expect(await live.run(['CREATE TABLE fresh (id int)'])).toMatchObject([{ ok: true }])
    await live.query('USE yard')
    expect((await live.catalog()).tables.map((t) => t.name)).toEqual(['fresh'])
    const { rows } = await live.query(`SELECT table_schema FROM information_schema.tables WHERE table_name = 'fresh'`)
    expect(rows).toEqual([['harbour']])
    await live.close()
  } finally {
    await server.stop()
  }
})
