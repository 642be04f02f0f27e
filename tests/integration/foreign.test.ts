// Databases that were made by other people's statements: read, written as a script, and run in an empty database, they are the
// same, as the engine's own dump tool tells (PostgreSQL: manual, "pg_dump").
import fc from 'fast-check'
import { loadModule, parseSync } from 'libpg-query'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import {
  readType,
  typeText,
  addressKey,
  applied,
  emptyCatalog,
  invert,
  isFree,
  KINDS,
  MEMBER_KINDS,
  memberAddress,
  withMembers,
  type Catalog,
  type Change,
  type Kind,
  type Sequence,
  type Table
} from '../../src/lib/core/catalog'
import { takeHere } from '../../src/lib/core/adopt'
import { compare } from '../../src/lib/core/compare'
import { derive } from '../../src/lib/core/derive'
import { edit, newDesign, newTarget, parseDesign, printDesign } from '../../src/lib/core/design'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { closure, plan, writeScript, type Migration } from '../../src/lib/core/plan'
import { openPostgres } from '../../src/lib/server/postgres'
import { POSTGRES_CHANGES } from '../foreign/changes'
import { POSTGRES } from '../foreign/postgres'
import { SQLITE } from '../foreign/sqlite'
import { throughDesign } from '../support/adopted'
import { dump, dumpText, madeSqlite, postgresVersion } from '../support/dump'
import { ABILITIES, kindsIn, Shown, undeclared } from '../support/kinds'
import { servers, type Server } from '../support/servers'

const postgres = dialectOf('postgres', String(postgresVersion)) as Dialect

const readScript = (script: string) => {
  const read = postgres.readScript?.(script)
  if (!read) throw new Error('PostgreSQL’s scripts are read')
  return read
}

const shown = new Shown()

/** The engine's own grammar (`libpg-query`) takes a statement, and for one alone. */
const understood = (sql: string) => expect(parseSync(sql).stmts?.length, sql).toBe(1)

/** What a table has in common with others is theirs to change. */
const isFamily = (table: Table, { tables }: Catalog): boolean =>
  tables.some((t) => t.inherits?.some(({ name }) => name === table.name)) ||
  table.inherits !== undefined ||
  table.partition !== undefined ||
  table.options?.['of type'] !== undefined ||
  table.options?.['partition by'] !== undefined

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
      const answers = []
      for (const sql of statements) answers.push(await client.query<Record<string, string | null>>(sql))
      return answers
    } finally {
      await client.end()
    }
  }
  const rowsOf = async (url: string, query: string) =>
    (await run(url, [query])).flatMap(({ rows }) => rows.map((row) => Object.values(row).join('|')))
  const made = async (statements: readonly string[]) => {
    const url = await server.create(`foreign_${count++}`)
    await run(url, statements)
    return url
  }
  beforeAll(async () => {
    await loadModule()
    server = await servers.postgres.start()
    await run(await server.create('roles'), ['CREATE ROLE agent'])
  })
  afterAll(() => server?.stop())

  const fitting = POSTGRES.filter(({ since = 0, until = 99 }) => since <= postgresVersion && postgresVersion <= until)
  it.skipIf(servers.postgres.lacking).each(fitting)('$shows', async ({ shows, sql }) => {
    const from = await made([sql])
    const live = await openPostgres(from)
    const catalog = await live.catalog()
    await live.close()
    expect(catalog.unread).toEqual([])
    expect(compare({ wanted: catalog, live: catalog }, postgres).changes).toEqual([])
    const script = writeScript(catalog, postgres).map((statement) => statement.sql)
    script.forEach(understood)
    const to = await made(script)
    expect(dump(to)).toEqual(dump(from))
    expect(undeclared(catalog, postgres)).toEqual([])
    shown.note('read and written', shows, kindsIn(catalog))
  })

  it.skipIf(servers.postgres.lacking).each(fitting)('read of a script: $shows', async ({ shows, sql }) => {
    const from = await made([sql])
    for (const script of [sql, dumpText(from)]) {
      const { catalog, statements } = readScript(script)
      expect(statements.filter(({ how }) => how === 'unknown')).toEqual([])
      expect(undeclared(catalog, postgres)).toEqual([])
      const to = await made(writeScript(catalog, postgres).map((statement) => statement.sql))
      expect(dump(to)).toEqual(dump(from))
      shown.note('read of a script', shows, kindsIn(catalog))
    }
  })

  it.skipIf(servers.postgres.lacking).each(fitting)('held by a target as it is: $shows', async ({ shows, sql }) => {
    const { catalog } = await opened(sql)
    const design = newDesign('Tidewell')
    const empty = {
      ...emptyCatalog('postgres', 'public'),
      schemas: catalog.schemas?.filter((s) => s.name === 'public') ?? []
    }
    const { changes } = compare({ wanted: empty, live: catalog }, postgres)
    const target = newTarget('quay', { engine: 'postgres', version: String(postgresVersion) })
    const { edit: taking, refused } = takeHere({ target, changes })
    expect(refused).toEqual([])
    const next = edit(edit(design, { kind: 'object.set', collection: 'targets', object: target }), taking)
    const file = parseDesign(printDesign(next))
    const held = file.ok ? file.value.targets[target.id] : undefined
    const { catalog: wanted, notices } = derive(design, held ?? target, postgres)
    expect(notices).toEqual([])
    expect(compare({ wanted, live: catalog }, postgres).changes).toEqual([])
    shown.note('held by a target', shows, kindsIn(catalog))
  })

  it.skipIf(servers.postgres.lacking).each(fitting)(
    'brought in as a design, and made again: $shows',
    async ({ shows, sql }) => {
      const { url, catalog } = await opened(sql)
      const wanted = throughDesign(catalog, postgres)
      const again = await made(writeScript(wanted, postgres).map((statement) => statement.sql))
      // A file has options by their names.
      const sorted = (statement: string) =>
        statement.replace(/WITH \(([^)]*)\)/g, (_, list: string) => `WITH (${list.split(', ').sort().join(', ')})`)
      expect(dump(again).map(sorted)).toEqual(dump(url).map(sorted))
      shown.note('brought in', shows, kindsIn(catalog))
    }
  )

  /** Runs a plan for some changes, and its way back; gives what each looks like afterwards. */
  const thereAndBack = async (
    url: string,
    live: Catalog,
    wanted: Catalog,
    changes: readonly Change[],
    onthere: () => unknown = () => undefined
  ) => {
    const migration = plan(live, changes, postgres)
    const back = plan(migration.to, invert(changes), postgres)
    expect([migration.left, back.left]).toEqual([undefined, undefined])
    for (const { statement } of [...migration.steps, ...back.steps]) understood(statement)
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
    // How the engine prints a text on a column of another type is its own affair.
    const differences = async (wanted: Catalog, migration: Migration) =>
      compare({ wanted, live: await run(migration) }, postgres).changes.filter(
        (c) => c.action !== 'alter' || (c.certain && !TEXTS.includes(c.property))
      )
    const there = await differences(wanted, migration)
    await onthere()
    return [...there, ...(await differences(live, back))]
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
    async ({ shows, sql }) => {
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
        shown.note('taken away and put back', shows, [chosen.address.kind])
      }
      // Several at once: what the plan does not speak of is as it was when they are back.
      const several = fc.uniqueArray(fc.nat(Math.max(all.length - 1, 0)), { minLength: 2, maxLength: 4 })
      for (const picks of all.length > 2 ? fc.sample(several, { numRuns: 3, seed: 7 }) : []) {
        const some = picks.flatMap((n) => all[n] ?? [])
        const { changes } = closure({ chosen: some, all, live: catalog, wanted: nothing }, postgres)
        const wanted = applied(changes, catalog, postgres.write)
        expect(await thereAndBack(url, catalog, wanted, changes)).toEqual([])
        expect(dump(url)).toEqual(before)
      }
    }
  )

  it.skipIf(servers.postgres.lacking).each(fitting)(
    'taken away and put back, one by one of what is in a table: $shows',
    async ({ shows, sql }) => {
      const { url, catalog } = await opened(sql)
      const before = anyOrder(dump(url))
      const bare = (table: Table): Table =>
        isFamily(table, catalog)
          ? table
          : { ...MEMBER_KINDS.reduce((t, kind) => withMembers(t, kind, []), table), columns: table.columns.slice(0, 1) }
      const tables = catalog.tables.map(bare)
      const isThere = ({ ownedBy: by }: Sequence) =>
        !by || tables.some((t) => t.name === by.table && t.columns.some((c) => c.name === by.column))
      const wanted = { ...catalog, tables, sequences: (catalog.sequences ?? []).filter(isThere) }
      // What a family's keys, or how a table is kept, stand on is theirs; a column of its row's type holds a table fast.
      const isHeld = ({ address: { kind, path } }: Change) =>
        Object.values(catalog.tables.find((t) => t.name === path[1])?.options ?? {}).some((value) =>
          value.includes(path[2] ?? '-')
        ) ||
        [...catalog.tables.map((t) => t.columns), ...(catalog.types ?? []).map((t) => t.fields ?? [])].some((list) =>
          list.some(({ type }) => (type.of ?? type).name === path[1])
        ) ||
        (kind !== 'foreignKey' &&
          catalog.tables.some(
            (t) => isFamily(t, catalog) && t.foreignKeys.some((fk) => fk.references.table === path[1])
          ))
      const all = compare({ wanted, live: catalog }, postgres).changes
      for (const chosen of all) {
        if (chosen.action !== 'drop' || isFree(chosen.address.kind) || isHeld(chosen)) continue
        const { changes } = closure({ chosen: [chosen], all, live: catalog, wanted }, postgres)
        if (changes.some(isHeld)) continue
        const without = applied(changes, catalog, postgres.write)
        const { steps } = plan(catalog, changes, postgres)
        // A text that names what goes cannot be put back: that is foretold.
        if (steps.some((step) => step.hazards.some(({ sentence }) => sentence.includes('which is gone')))) continue
        expect(await thereAndBack(url, catalog, without, changes), addressKey(chosen.address)).toEqual([])
        shown.note('taken away and put back', shows, [chosen.address.kind])
      }
      expect(anyOrder(dump(url))).toEqual(before)
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
          const other = others[typeText(column.type)]
          // A column of its row's own type holds the table fast.
          const isShared = isFamily(table, catalog) || sql.includes('TYPE pair')
          if (other === undefined || isShared || column.generated !== undefined) continue
          const address = memberAddress(table, 'column', column)
          const to = readType(other)
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
  it.skipIf(servers.postgres.lacking).each(changing)(
    'changed, and back: $shows',
    async ({ shows, sql, then, rows }) => {
      const [{ url, catalog }, changed] = [await opened(sql), await opened(`${sql};${then}`)]
      const [before, after] = [dump(url), dump(changed.url)]
      const { changes } = compare({ wanted: changed.catalog, live: catalog }, postgres)
      const looks: string[][] = []
      const look = async () => {
        looks.push(dump(url))
        if (rows) expect(await rowsOf(url, rows.query)).toEqual(rows.there)
      }
      expect(await thereAndBack(url, catalog, changed.catalog, changes, look)).toEqual([])
      if (rows) expect(await rowsOf(url, rows.query)).toEqual(rows.back)
      expect(anyOrder(looks[0] ?? [])).toEqual(anyOrder(after))
      expect(anyOrder(dump(url))).toEqual(anyOrder(before))
      shown.changed(shows, changes)
    }
  )

  // `npx vitest run tests/integration/foreign.test.ts -u` writes it anew.
  it.skipIf(servers.postgres.lacking)(
    'the table of kinds says what was shown here, and every kind was',
    async ({ skip }) => {
      for (const kind of Object.keys(KINDS) as Kind[])
        for (const ability of ABILITIES) expect(shown.has(kind, ability), `${kind}: ${ability}`).toBe(true)
      // Other versions show more, or less.
      if (postgresVersion !== 15) return skip(`The table is of version 15; this is ${postgresVersion}.`)
      await expect(shown.page()).toMatchFileSnapshot('../../docs/kinds.md')
    }
  )
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
    expect(undeclared(from.catalog, sqlite)).toEqual([])
    // Written from what was understood of it, and not as somebody wrote it, it is read as the same.
    const plain = {
      ...from.catalog,
      tables: from.catalog.tables.map((table) => ({ ...table, written: undefined })) as Catalog['tables']
    }
    const again = await madeSqlite(writeScript(plain, sqlite).map((statement) => statement.sql))
    expect(compare({ wanted: from.catalog, live: again.catalog }, sqlite).changes).toEqual([])
  })

  it.each(SQLITE)('brought in as a design, and made again: $shows', async ({ sql }) => {
    const { catalog, held } = await madeSqlite([sql])
    const wanted = throughDesign(catalog, sqlite)
    expect((await madeSqlite(writeScript(wanted, sqlite).map((statement) => statement.sql))).held).toEqual(held)
  })
})
