// What a database holds, in its engine's own words: by PostgreSQL's tool (manual, "pg_dump"), and SQLite's schema table.
import { execFileSync } from 'node:child_process'
import { existsSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import initSqlJs from 'sql.js'
import { dialect, type Dialect } from '../../src/lib/core/dialects'
import { nameOf, significant, splitStatements } from '../../src/lib/core/sql'
import { openSqlite } from '../../src/lib/live/sqlite'

const home = '/usr/lib/postgresql'
export const postgresVersion = existsSync(home) ? Math.max(...readdirSync(home).map(Number)) : 0
export const postgresTools = join(home, String(postgresVersion), 'bin')

/** The whole script. */
export const dumpText = (url: string): string =>
  execFileSync(join(postgresTools, 'pg_dump'), ['--schema-only', '--no-owner', '-d', url], {
    encoding: 'utf8',
    maxBuffer: 1 << 28
  })

/** Statement by statement, in one order: the tool's own order is its affair. */
export const dump = (url: string): string[] => statementsIn(dumpText(url))

export const statementsIn = (dumped: string): string[] =>
  dumped
    .split(/;\n/)
    .map((statement) => statement.replace(/^(--.*|\s*|\\.*)$/gm, '').trim())
    .filter((statement) => statement !== '' && !/^(SET|SELECT pg_catalog\.set_config)/.test(statement))
    .sort()

/**
 * A new SQLite database of these statements, as it is read and as its own table has it ("The Schema Table"); names in place
 * of spaces mean nothing there. `lenient`: what the engine refuses is left out.
 */
export async function madeSqlite(statements: readonly string[], lenient = false) {
  const { lexis } = (dialect('sqlite') as Dialect).write
  const db = await openSqlite(await initSqlJs(), { load: async () => undefined, save: async () => undefined })
  for (const sql of statements)
    for (const { sql: one } of splitStatements(sql, lexis))
      await db.query(one).catch((error: unknown) => {
        if (!lenient) throw error
      })
  const { rows } = await db.query(`SELECT type, name, tbl_name, sql FROM sqlite_master ORDER BY 1, 2`)
  const words = (sql: unknown) =>
    typeof sql === 'string'
      ? significant(sql, lexis)
          .map((t) => nameOf(t, lexis) ?? t.text)
          .filter((word) => word !== '(' && word !== ')')
      : sql
  return {
    catalog: await db.catalog(),
    held: rows.map(([type, name, owner, sql]) => [
      type,
      name,
      owner,
      type === 'index' || type === 'view' ? words(sql) : sql
    ])
  }
}
