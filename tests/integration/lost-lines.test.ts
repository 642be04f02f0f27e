// The line to a server is cut at every message of a run, on each server in turn. Taken up over a new line, the run ends as
// if it had not been cut, and nothing is done twice. What leaves no trace in the structure is asked of a person, who is
// tried with both answers.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readType, type Catalog } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { plan, weave, type Migration } from '../../src/lib/core/plan'
import { runMigration, type LiveDatabase, type Recorded } from '../../src/lib/live'
import { openFirebird } from '../../src/lib/server/firebird'
import { openMariadb } from '../../src/lib/server/mysql'
import { openPostgres } from '../../src/lib/server/postgres'
import { startProxy, type Proxy } from '../support/proxy'
import { servers, type Server } from '../support/servers'

const cases = [
  { engine: 'postgres', version: '15', on: servers.postgres, open: openPostgres },
  { engine: 'mariadb', version: '10.11', on: servers.mariadb, open: openMariadb },
  { engine: 'firebird', version: '3.0', on: servers.firebird, open: openFirebird }
]

describe.each(cases)('$engine', ({ engine, version, on, open }) => {
  const dialect = dialectOf(engine, version) as Dialect
  const { quote } = dialect.write
  const fold = (name: string) => (dialect.profile.names.fold === 'upper' ? name.toUpperCase() : name)
  let server: Server
  let proxy: Proxy
  let made = 0
  beforeAll(async () => {
    if (on.lacking) return
    server = await on.start()
    proxy = await startProxy(server.port)
  }, 60_000)
  afterAll(async () => {
    await proxy?.stop()
    await server?.stop()
  })

  /** A new database, and its address by way of the proxy. */
  async function database() {
    const url = await server.create(`harbour${++made}`)
    const direct = await open(url)
    for (const sql of [
      `CREATE TABLE vessel (imo integer NOT NULL PRIMARY KEY, name varchar(40))`,
      `CREATE TABLE seen (what varchar(20))`
    ])
      await direct.run([sql])
    return { direct, url: url.replace(`:${server.port}`, `:${proxy.port}`) }
  }

  /** Two steps that show in the structure, and one between them that does not. */
  function migrationOf(live: Catalog): Migration {
    const wanted: Catalog = {
      ...live,
      // Of the new column's collation, say, nothing is said.
      partial: true,
      tables: live.tables.map((t) =>
        t.name !== fold('vessel')
          ? t
          : {
              ...t,
              columns: [...t.columns, { name: fold('flag'), type: readType('char(2)'), nullable: true }],
              indexes: [{ name: fold('ix_name'), unique: false, parts: [{ column: fold('name'), descending: false }] }]
            }
      )
    }
    const steps = plan(live, compare({ wanted, live }, dialect).changes, dialect)
    const statement = `INSERT INTO ${quote(fold('seen'))} VALUES ('once')`
    return weave(steps, [{ id: 'h', statement, place: 'before', anchor: '' }], dialect)
  }

  it.skipIf(on.lacking)(
    'cut at every message, ends the same, and nothing is done twice',
    async () => {
      let unknown = 0
      let [cuts, failed] = [0, 0]
      // Reading the catalogue is many messages of one sort; from the first statement on each is tried.
      let begins = Infinity
      for (let at = 0; ; at += at < begins - 5 ? 5 : 1) {
        const { direct, url } = await database()
        const migration = migrationOf(await direct.catalog())
        const recorded = new Map<number, Recorded>()
        let begun = 0
        let whole = false
        for (let tries = 0; tries < 5; tries++) {
          let live: LiveDatabase | undefined
          try {
            live = await open(url)
            if (tries === 0) proxy.cutAfter(at)
            const { how } = await runMigration(migration, live, dialect, {
              recorded,
              onBegin: async (ids) => {
                if (tries === 0) begins = Math.min(begins, proxy.passed)
                begun = ids[0] ?? 0
                for (const id of ids) recorded.set(id, 'begun')
              },
              onResults: (told) => {
                for (const { step, result } of told)
                  if (result.state === 'done' || result.state === 'failed') recorded.set(step.group, result.state)
              }
            })
            if (tries === 0 && how === 'complete') whole = true
            if (how === 'complete') break
            if (how === 'failed') failed++
            if (how !== 'unknown') continue
            // A person looks.
            unknown++
            const rows = (await direct.query(`SELECT what FROM ${quote(fold('seen'))}`)).rows.length
            if (rows > 0) recorded.set(begun, 'done')
            else recorded.delete(begun)
          } catch {
            cuts++
          } finally {
            proxy.cutAfter(Infinity)
            await live?.close().catch(() => undefined)
          }
        }
        const after = await direct.catalog()
        const wanted = { ...migration.to, partial: true as const }
        expect(compare({ wanted, live: after }, dialect).changes, `cut at ${at}`).toEqual([])
        expect((await direct.query(`SELECT what FROM ${quote(fold('seen'))}`)).rows, `cut at ${at}`).toEqual([['once']])
        await direct.close()
        if (whole) break
      }
      console.log(
        `${engine}: ${cuts + failed} lines cut; ${failed} times nothing was done for certain, ${unknown} times a person was asked`
      )
      expect(cuts + failed).toBeGreaterThan(20)
      // PostgreSQL can be asked what became of a transaction.
      expect(unknown > 0).toBe(engine !== 'postgres')
    },
    300_000
  )
})
