// Scripts of other people's applications for this family of engines: what the reader makes of each is what a server keeps of it; written
// again, by way of a design too, the server's own account of the tables is the same.
import { execFileSync } from 'node:child_process'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { dialect as dialectOf, printScript, type Dialect } from '../../src/lib/core/dialects'
import { writeScript } from '../../src/lib/core/plan'
import { openMariadb } from '../../src/lib/server/mysql'
import { MARIADB_PACKAGES } from '../foreign/packages'
import { throughDesign } from '../support/adopted'
import { packagedScript } from '../support/packaged'
import { servers, type Server } from '../support/servers'

const mariadb = dialectOf('mariadb', '10.11') as Dialect

/** A table's columns as they stand; in which order its keys were made means nothing. */
function inOrder(shown: string): string[] {
  const lines = shown.split('\n').map((line) => line.replace(/,$/, ''))
  const isColumn = (line: string) => line.startsWith('  `')
  return [...lines.filter(isColumn), ...lines.filter((line) => !isColumn(line)).sort()]
}

describe('MariaDB, by SHOW CREATE TABLE', () => {
  let server: Server
  let count = 0
  beforeAll(async () => {
    if (!servers.mariadb.lacking) server = await servers.mariadb.start()
  }, 60_000)
  afterAll(() => server?.stop())

  /** Runs a script by the engine's own client; behind what is refused it goes on, unless told to stop. */
  async function made(text: string, strict: boolean) {
    const url = new URL(await server.create(`packaged_${count++}`))
    const at = ['-h', url.hostname, '-P', url.port, `-u${url.username}`, `-p${decodeURIComponent(url.password)}`]
    // What a script says of whole databases is of others than this one.
    const own = text.replace(/^\s*(use|create database|drop database)\b[^;]*;/gim, '')
    execFileSync('mariadb', ['--no-defaults', ...at, ...(strict ? [] : ['-f']), url.pathname.slice(1)], {
      input: own,
      stdio: ['pipe', 'ignore', strict ? 'inherit' : 'ignore']
    })
    const live = await openMariadb(url.href)
    const catalog = await live.catalog()
    const held = await Promise.all(
      catalog.tables.map(async ({ name }) => {
        const { rows } = await live.query(`SHOW CREATE TABLE ${mariadb.write.table('main', name)}`)
        return inOrder(String(rows[0]?.[1]).replace(/ AUTO_INCREMENT=\d+/, ''))
      })
    )
    await live.close()
    return { catalog, held }
  }
  /** What the server says in other words than a script does is no matter of tables. */
  const tables = (catalog: Catalog): Catalog => ({
    engine: catalog.engine,
    defaultSchema: catalog.defaultSchema,
    unread: [],
    tables: catalog.tables.map(({ triggers: _triggers, ...table }) => table)
  })

  it.skipIf(servers.mariadb.lacking).for(MARIADB_PACKAGES)(
    '$package $files',
    { timeout: 120_000 },
    async (script, { skip }) => {
      const found = packagedScript(script)
      if ('lacking' in found) return skip(found.lacking)
      const from = await made(found.text, false)
      expect(from.catalog.tables.length).toBeGreaterThan(0)
      expect(from.catalog.unread).toEqual([])
      const read = mariadb.readScript?.(found.text)
      expect(read?.statements.filter(({ how }) => how === 'unknown').map(({ why }) => why)).toEqual([])
      const told = read?.catalog ?? from.catalog
      expect(compare({ wanted: tables(told), live: tables(from.catalog) }, mariadb).changes).toEqual([])
      for (const wanted of [from.catalog, throughDesign(from.catalog, mariadb), throughDesign(told, mariadb)]) {
        const to = await made(printScript(writeScript(wanted, mariadb), mariadb), true)
        expect(to.held).toEqual(from.held)
      }
    }
  )
})
