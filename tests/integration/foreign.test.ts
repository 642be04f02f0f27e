// Databases that were made by other people's statements: read, written as a script, and run in an empty database, they are the
// same, as the engine's own dump tool tells (PostgreSQL: manual, "pg_dump").
import { execFileSync } from 'node:child_process'
import { existsSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { compare } from '../../src/lib/core/compare'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { writeScript } from '../../src/lib/core/plan'
import { openPostgres } from '../../src/lib/server/postgres'
import { POSTGRES } from '../foreign/postgres'
import { servers, type Server } from '../support/servers'

const home = '/usr/lib/postgresql'
const version = existsSync(home) ? Math.max(...readdirSync(home).map(Number)) : 0
const postgres = dialectOf('postgres') as Dialect

/** What the engine's own tool writes of a database, statement by statement: the order is its own affair. */
function dump(url: string): string[] {
  const text = execFileSync(join(home, String(version), 'bin', 'pg_dump'), ['--schema-only', '--no-owner', '-d', url], {
    encoding: 'utf8'
  })
  return text
    .split(/;\n/)
    .map((statement) => statement.replace(/^(--.*|\s*|\\.*)$/gm, '').trim())
    .filter((statement) => statement !== '' && !/^(SET|SELECT pg_catalog\.set_config)/.test(statement))
    .sort()
}

describe('PostgreSQL, by pg_dump', () => {
  let server: Server
  let count = 0
  const run = async (url: string, statements: readonly string[]) => {
    const client = new pg.Client({ connectionString: url })
    await client.connect()
    try {
      for (const sql of statements) await client.query(sql)
    } finally {
      await client.end()
    }
  }
  const made = async (statements: readonly string[]) => {
    const url = await server.create(`foreign_${count++}`)
    await run(url, statements)
    return url
  }
  beforeAll(async () => {
    server = await servers.postgres.start()
    await run(await server.create('roles'), ['CREATE ROLE agent'])
  })
  afterAll(() => server?.stop())

  const fitting = POSTGRES.filter(({ since = 0, until = 99 }) => since <= version && version <= until)
  it.skipIf(servers.postgres.lacking).each(fitting)('$shows', async ({ sql }) => {
    const from = await made([sql])
    const live = await openPostgres(from)
    const catalog = await live.catalog()
    await live.close()
    expect(catalog.unread).toEqual([])
    expect(compare({ wanted: catalog, live: catalog }, postgres).changes).toEqual([])
    const script = writeScript(catalog, postgres).map((statement) => statement.sql)
    const to = await made(script)
    expect(dump(to)).toEqual(dump(from))
  })
})
