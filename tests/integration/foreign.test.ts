// Databases that were made by other people's statements: read, written as a script, and run in an empty database, they are the
// same, as the engine's own dump tool tells (PostgreSQL: manual, "pg_dump").
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import {
  addressKey,
  applied,
  emptyCatalog,
  invert,
  memberAddress,
  type Catalog,
  type Change
} from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { closure, plan, writeScript, type Migration } from '../../src/lib/core/plan'
import { openPostgres } from '../../src/lib/server/postgres'
import { POSTGRES_CHANGES } from '../foreign/changes'
import { POSTGRES } from '../foreign/postgres'
import { SQLITE } from '../foreign/sqlite'
import { dump, madeSqlite, postgresVersion } from '../support/dump'
import { servers, type Server } from '../support/servers'

const postgres = dialectOf('postgres', String(postgresVersion)) as Dialect

const TEXTS = ['definition', 'query', 'expression', 'generated', 'default', 'where', 'parts']

/** The lines of each statement in one order: a computed column that is made again stands last. */
const anyOrder = (statements: readonly string[]) =>
  statements
    .map((sql) =>
      sql
        .split('\n')
        .map((line) => line.replace(/,$/, '').replace(/::(character varying|text)\b/g, ''))
        .sort()
        .join('\n')
    )
    .sort()

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

  const fitting = POSTGRES.filter(({ since = 0, until = 99 }) => since <= postgresVersion && postgresVersion <= until)
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

  /** Runs a plan for some changes, and its way back; gives what each looks like afterwards. */
  const thereAndBack = async (
    url: string,
    live: Catalog,
    wanted: Catalog,
    changes: readonly Change[],
    onthere: () => void = () => undefined
  ) => {
    const migration = plan(live, changes, postgres)
    const back = plan(migration.to, invert(changes), postgres)
    expect([migration.left, back.left]).toEqual([undefined, undefined])
    const run = async ({ steps, groups }: Migration) => {
      const database = await openPostgres(url)
      try {
        for (const group of groups) {
          const own = steps.filter((step) => step.group === group.id).map((step) => step.statement)
          const outcomes = await database.run(own)
          const refused = outcomes.findIndex((outcome) => outcome.error)
          if (refused >= 0)
            throw new Error(
              `${outcomes[refused]?.error?.message} (${outcomes[refused]?.error?.detail}): ${own[refused]}`
            )
        }
        return await database.catalog()
      } finally {
        await database.close()
      }
    }
    const there = compare({ wanted, live: await run(migration) }, postgres).changes
    onthere()
    await run(back)
    // How the engine prints a text on a column of another type is its own affair.
    return there.filter((c) => c.action !== 'alter' || (c.certain && !TEXTS.includes(c.property)))
  }
  const opened = async (sql: string) => {
    const url = await made([sql])
    const live = await openPostgres(url)
    const catalog = await live.catalog()
    await live.close()
    return { url, catalog }
  }

  it.skipIf(servers.postgres.lacking).each(fitting)(
    'taken away and put back, thing by thing: $shows',
    async ({ sql }) => {
      const { url, catalog } = await opened(sql)
      const before = dump(url)
      const nothing = {
        ...emptyCatalog('postgres', 'public'),
        schemas: catalog.schemas?.filter((s) => s.name === 'public') ?? []
      }
      const all = compare({ wanted: nothing, live: catalog }, postgres).changes
      for (const chosen of all) {
        const { changes } = closure({ chosen: [chosen], all, live: catalog, wanted: nothing }, postgres)
        const wanted = applied(changes, catalog, postgres.write)
        expect(await thereAndBack(url, catalog, wanted, changes), addressKey(chosen.address)).toEqual([])
        expect(dump(url), addressKey(chosen.address)).toEqual(before)
      }
    }
  )

  it.skipIf(servers.postgres.lacking).each(fitting)(
    'another type and back, column by column: $shows',
    async ({ sql }) => {
      const { url, catalog } = await opened(sql)
      const before = dump(url)
      const others: Readonly<Record<string, string>> = {
        integer: 'bigint',
        text: 'varchar(3000)',
        numeric: 'numeric(20,4)'
      }
      for (const table of catalog.tables)
        for (const column of table.columns) {
          const to = others[column.type]
          const isParent = catalog.tables.some((t) => t.inherits?.some(({ name }) => name === table.name))
          const isShared =
            isParent ||
            table.inherits ||
            // A column of its row's own type holds the table fast.
            sql.includes('TYPE pair') ||
            column.inherited ||
            table.partition ||
            table.options?.['of type'] ||
            table.options?.['partition by']
          if (to === undefined || isShared || column.generated !== undefined) continue
          const address = memberAddress(table, 'column', column)
          const change: Change = { action: 'alter', address, property: 'type', from: column.type, to, certain: true }
          const wanted = applied([change], catalog, postgres.write)
          expect(await thereAndBack(url, catalog, wanted, [change]), addressKey(address)).toEqual([])
          expect(anyOrder(dump(url)), addressKey(address)).toEqual(anyOrder(before))
        }
    }
  )

  it.skipIf(servers.postgres.lacking)('what no statement makes is told, and stays', async () => {
    const [plain, parted] = [
      await opened(`CREATE TABLE visit (berth integer, of_day date)`),
      await opened(`CREATE TABLE visit (berth integer, of_day date) PARTITION BY RANGE (of_day)`)
    ]
    const { changes } = compare({ wanted: parted.catalog, live: plain.catalog }, postgres)
    const { steps, left } = plan(plain.catalog, changes, postgres)
    expect(steps).toEqual([])
    expect(left).toMatchObject([{ property: 'options', to: { 'partition by': 'RANGE (of_day)' } }])
  })

  const changing = POSTGRES_CHANGES.filter(({ since = 0 }) => since <= postgresVersion)
  it.skipIf(servers.postgres.lacking).each(changing)('changed, and back: $shows', async ({ sql, then }) => {
    const [{ url, catalog }, changed] = [await opened(sql), await opened(`${sql};${then}`)]
    const [before, after] = [dump(url), dump(changed.url)]
    const { changes } = compare({ wanted: changed.catalog, live: catalog }, postgres)
    const looks: string[][] = []
    expect(await thereAndBack(url, catalog, changed.catalog, changes, () => looks.push(dump(url)))).toEqual([])
    expect(anyOrder(looks[0] ?? [])).toEqual(anyOrder(after))
    expect(anyOrder(dump(url))).toEqual(anyOrder(before))
  })
})

/** What an SQLite database holds is the statements that made it ("The Schema Table"); names in place of spaces mean nothing. */
describe('SQLite, by its own schema table', () => {
  const sqlite = dialectOf('sqlite') as Dialect
  it.each(SQLITE)('$shows', async ({ sql }) => {
    const from = await madeSqlite([sql])
    expect(from.catalog.unread).toEqual([])
    expect(compare({ wanted: from.catalog, live: from.catalog }, sqlite).changes).toEqual([])
    const to = await madeSqlite(writeScript(from.catalog, sqlite).map((statement) => statement.sql))
    expect(to.held).toEqual(from.held)
    // Written from what was understood of it, and not as somebody wrote it, it is read as the same.
    const plain = {
      ...from.catalog,
      tables: from.catalog.tables.map((table) => ({ ...table, written: undefined })) as Catalog['tables']
    }
    const again = await madeSqlite(writeScript(plain, sqlite).map((statement) => statement.sql))
    expect(compare({ wanted: from.catalog, live: again.catalog }, sqlite).changes).toEqual([])
  })
})
