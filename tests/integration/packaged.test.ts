// Whole databases of other people's applications: read, written and run in an empty database, they are the same; brought in as
// a design and made again, too.
import { execFileSync } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { compare } from '../../src/lib/core/compare'
import { dialect as dialectOf, printScript, type Dialect } from '../../src/lib/core/dialects'
import { suggestions } from '../../src/lib/core/infer'
import { writeScript } from '../../src/lib/core/plan'
import { openPostgres } from '../../src/lib/server/postgres'
import { throughDesign } from '../support/adopted'
import { dump, dumpText, madeSqlite, postgresTools, postgresVersion } from '../support/dump'
import { LINKED_PACKAGES, POSTGRES_PACKAGES, SQLITE_PACKAGES } from '../foreign/packages'
import { packagedScript } from '../support/packaged'
import { servers, type Server } from '../support/servers'

const postgres = dialectOf('postgres', String(postgresVersion)) as Dialect

describe('PostgreSQL, by pg_dump', () => {
  let server: Server
  let count = 0
  beforeAll(async () => {
    server = await servers.postgres.start()
  })
  afterAll(() => server?.stop())

  /** Runs a script as its application would: the engine's own client goes on behind what is refused, unless told to stop. */
  const made = async (text: string, strict: boolean) => {
    const url = await server.create(`packaged_${count++}`)
    const stop = strict ? ['-v', 'ON_ERROR_STOP=1'] : []
    execFileSync(join(postgresTools, 'psql'), ['-X', '-q', '-d', url, ...stop], {
      input: text,
      stdio: ['pipe', 'ignore', 'pipe']
    })
    return url
  }
  const same = async (text: string) => {
    const from = await made(text, false)
    const live = await openPostgres(from)
    const catalog = await live.catalog()
    await live.close()
    expect(catalog.unread).toEqual([])
    expect(catalog.tables.length).toBeGreaterThan(0)
    expect(compare({ wanted: catalog, live: catalog }, postgres).changes).toEqual([])
    // Some texts the engine prints otherwise once it has read its own print: so both sides are what was made of a script.
    const expected = dump(await made(dumpText(from), false))
    const told = (script: string) => postgres.readScript?.(script).catalog
    const written = [
      [catalog, expected],
      [throughDesign(catalog, postgres), expected],
      // A script is what its statements make, and so is what the dump tool writes.
      [told(text), dump(from)],
      [throughDesign(told(text) ?? catalog, postgres), dump(from)],
      [told(dumpText(from)), expected]
    ] as const
    for (const [wanted = catalog, held] of written)
      expect(dump(await made(printScript(writeScript(wanted, postgres), postgres), true))).toEqual(held)
  }

  it.skipIf(servers.postgres.lacking)(
    'the standard’s own description of a database, as the server ships it',
    async ({ skip }) => {
      const file = `/usr/share/postgresql/${postgresVersion}/information_schema.sql`
      if (!existsSync(file)) return skip('The server’s package does not bring it.')
      await same(readFileSync(file, 'utf8').replaceAll('information_schema', 'described'))
    }
  )

  it.skipIf(servers.postgres.lacking).for(POSTGRES_PACKAGES)('$package', async (script, { skip }) => {
    const found = packagedScript(script)
    if ('lacking' in found) return skip(found.lacking)
    await same(`${(script.extensions ?? []).map((name) => `CREATE EXTENSION ${name};`).join('')}${found.text}`)
  })
})

describe('SQLite, by its own schema table', () => {
  const sqlite = dialectOf('sqlite') as Dialect
  it.for(SQLITE_PACKAGES)('$package', async (script, { skip }) => {
    const found = packagedScript(script)
    if ('lacking' in found) return skip(found.lacking)
    const from = await madeSqlite([found.text], true)
    expect(from.catalog.tables.length).toBeGreaterThan(0)
    expect(from.catalog.unread).toEqual([])
    for (const wanted of [from.catalog, throughDesign(from.catalog, sqlite)]) {
      const to = await madeSqlite(writeScript(wanted, sqlite).map((statement) => statement.sql))
      expect(to.held).toEqual(from.held)
    }
  })
})

/** Foreign keys that were declared, hidden, and told again by names and types: those of one column. */
describe('links that nobody declares', () => {
  const declared: string[] = []
  const taken: string[] = []

  it.for(LINKED_PACKAGES)('are looked for in $package', { timeout: 120_000 }, (script, { skip }) => {
    const found = packagedScript(script)
    if ('lacking' in found) return skip(found.lacking)
    const dialect = dialectOf(script.engine) as Dialect
    const catalog = dialect.readScript?.(found.text).catalog
    const all = (catalog?.tables ?? []).flatMap((table) =>
      table.foreignKeys.flatMap(({ columns, references }) =>
        columns.length === 1
          ? [`${table.name}.${columns.join()} → ${references.table}.${references.columns.join()}`]
          : []
      )
    )
    expect(all.length).toBeGreaterThan(0)
    if (!catalog) return
    const bare = { ...catalog, tables: catalog.tables.map((table) => ({ ...table, foreignKeys: [] })) }
    // A table that declares none says nothing of whether it has any.
    const telling = new Set(catalog.tables.filter((table) => table.foreignKeys.length > 0).map(({ name }) => name))
    const usual = suggestions(bare, dialect).filter(
      (one) => one.usual && one.kind === 'link' && telling.has(one.about[0]?.name ?? '')
    )
    declared.push(...all.map((link) => `${script.package} ${link}`))
    taken.push(...usual.map(({ says }) => `${script.package} ${says}`))
  })

  it('are found again: half of them, and of what is taken hardly one in twenty is none', ({ skip }) => {
    if (declared.length < 500) return skip('Too few of the packages could be had.')
    const right = new Set(declared)
    // By application: how many are declared, taken, and right.
    for (const { package: name } of LINKED_PACKAGES) {
      const own = (list: readonly string[]) => list.filter((link) => link.startsWith(`${name} `))
      const told = own(taken).filter((link) => right.has(link)).length
      process.stdout.write(`${name}: ${own(declared).length} declared, ${own(taken).length} taken, ${told} right\n`)
    }
    const good = taken.filter((link) => right.has(link)).length
    expect(good / taken.length).toBeGreaterThan(0.95)
    expect(good / declared.length).toBeGreaterThan(0.5)
  })
})
