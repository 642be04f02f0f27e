// Who may reach databases through the server, and that a password never comes back out of it.
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { servers, type Server } from '../../../tests/support/servers'
import { answer } from './answer'

const good = { host: '127.0.0.1:3000', origin: 'http://127.0.0.1:3000', 'content-type': 'application/json' }
const access = {
  engine: 'mariadb',
  host: '127.0.0.1',
  port: 1,
  database: 'harbour',
  user: 'test',
  password: 'sea-cret-77'
}
const ask = (what: string, body: unknown, headers: Record<string, string> = good, env: Record<string, string> = {}) =>
  answer(what, new Headers(headers), async () => body, env)

describe('a request', () => {
  const cases: readonly (readonly [string, Record<string, string>, string])[] = [
    ['of a page of another origin', { ...good, origin: 'https://elsewhere.example' }, 'another origin'],
    ['of a page on another port', { ...good, origin: 'http://127.0.0.1:8080' }, 'another origin'],
    ['of nobody’s page', { host: good.host, 'content-type': 'application/json' }, 'which page'],
    ['of a page without an address', { ...good, origin: 'null' }, 'without an address'],
    [
      'by a name that was made to point here',
      { ...good, host: 'rebound.example', origin: 'http://rebound.example' },
      'does not answer to the name'
    ],
    ['that a form could have sent', { ...good, 'content-type': 'text/plain' }, 'not JSON']
  ]
  it.each(cases)('%s is refused', async (_, headers, why) => {
    const { status, body } = await ask('open', access, headers)
    expect(status).toBe(403)
    expect(JSON.stringify(body)).toContain(why)
  })

  it('for a host that the operator has not allowed is refused, and passes once it is', async () => {
    const far = { ...access, host: 'db.tidewell.example' }
    expect(await ask('open', far)).toMatchObject({
      status: 403,
      body: { message: expect.stringContaining('RAMBLET_DATABASE_HOSTS') as string }
    })
    for (const what of ['list', 'open'])
      expect((await ask(what, far, good, { RAMBLET_DATABASE_HOSTS: 'other, db.tidewell.example' })).status).toBe(502)
  })

  it('by another name passes where the operator allows that name', async () => {
    const named = { ...good, host: 'ramblet.example', origin: 'http://ramblet.example' }
    expect((await ask('close', { session: 'x' }, named)).status).toBe(403)
    expect((await ask('close', { session: 'x' }, named, { RAMBLET_HOSTS: 'ramblet.example' })).status).toBe(200)
  })

  it('that is not in the expected form, or of no open session, is told so', async () => {
    expect((await ask('open', { ...access, port: 'x' })).status).toBe(400)
    expect((await ask('open', { ...access, engine: 'abacus' })).status).toBe(400)
    expect((await ask('query', { session: 'made up', sql: 'SELECT 1' })).status).toBe(401)
  })
})

interface Kind {
  readonly label: string
  readonly engine: string
  readonly lacking: string | undefined
  readonly start: () => Promise<Server>
  readonly user: string
  /** A server that trusts everybody on this machine has no wrong password. */
  readonly denied?: RegExp
  readonly version: RegExp
  readonly databases?: readonly string[]
  /** A statement that would take very long. */
  readonly endless: string
  readonly givenUp: RegExp
  /** What is said of a database that is made, how it shows, and what cannot be said. */
  readonly made: {
    readonly settings: Record<string, string>
    readonly shown: { readonly sql: string; readonly row: readonly unknown[] }
    readonly wrong: Record<string, string>
  }
}

const kinds: readonly Kind[] = [
  {
    label: 'PostgreSQL',
    engine: 'postgres',
    ...servers.postgres,
    user: 'postgres',
    version: /^15/,
    databases: ['harbour', 'postgres'],
    endless: 'SELECT pg_sleep(600)',
    givenUp: /canceling statement due to user request/,
    made: {
      settings: { locale: 'C' },
      shown: {
        sql: 'SELECT pg_encoding_to_char(encoding), datcollate FROM pg_database WHERE datname = current_database()',
        row: ['UTF8', 'C']
      },
      wrong: { locale: "C' OWNER test" }
    }
  },
  {
    label: 'MariaDB',
    engine: 'mariadb',
    ...servers.mariadb,
    user: 'test',
    denied: /denied/,
    version: /MariaDB/,
    databases: ['harbour'],
    endless: 'SELECT count(*) FROM seq_1_to_1000000000 a WHERE seq % 7 = 8',
    givenUp: /interrupted/,
    made: {
      settings: { 'character set': 'latin2', collation: 'latin2_hungarian_ci' },
      shown: {
        sql: 'SELECT @@character_set_database, @@collation_database',
        row: ['latin2', 'latin2_hungarian_ci']
      },
      wrong: { collation: 'latin2; DROP DATABASE harbour' }
    }
  },
  {
    label: 'Firebird',
    engine: 'firebird',
    ...servers.firebird,
    user: 'SYSDBA',
    denied: /user name and password are not defined/,
    version: /^3\.0/,
    endless: 'SELECT count(*) FROM rdb$fields a, rdb$fields b, rdb$fields c, rdb$fields d, rdb$fields e',
    givenUp: /cancelled/i,
    made: {
      settings: { 'page size': '16384', 'character set': 'WIN1250' },
      shown: {
        sql: 'SELECT mon$page_size, trim(rdb$character_set_name) FROM mon$database, rdb$database',
        row: [16384, 'WIN1250']
      },
      wrong: { 'page size': '5000' }
    }
  }
]

describe.each(kinds)('a session with a $label server', (kind) => {
  let server: Server
  let database = 'harbour'
  beforeAll(async () => {
    if (kind.lacking) return
    server = await kind.start()
    const url = await server.create('harbour')
    // Firebird's databases are files.
    if (kind.engine === 'firebird') database = new URL(url).pathname.slice(1)
  }, 60_000)
  afterAll(() => server?.stop())

  it.skipIf(kind.lacking)(
    'opens, lists, reads, asks read-only, runs, gives up and closes; the password is in no answer and no log',
    async () => {
      const said: unknown[] = []
      const listen = (['log', 'info', 'warn', 'error'] as const).map((name) =>
        vi.spyOn(console, name).mockImplementation((...parts: unknown[]) => void said.push(parts))
      )
      const real = { ...access, engine: kind.engine, port: server.port, user: kind.user, database }
      const answers: unknown[] = []
      const told = async (what: string, body: object) => {
        const given = await ask(what, body)
        answers.push(given)
        return given as { status: number; body: { value: never; message: string } }
      }
      if (kind.denied) {
        // Wrong at first: what the server says is passed on, without what was typed.
        const { status, body } = await told('open', real)
        expect(status).toBe(502)
        expect(body.message).toMatch(kind.denied)
        expect((await told('open', { ...real, user: `sea-cret-77` })).body.message).not.toContain('sea-cret-77')
      }
      const right = { ...real, password: 'test' }
      const listed = await told('list', right)
      if (kind.databases) expect(listed.body.value).toEqual(kind.databases)
      else expect(listed.body.message).toContain('does not say')
      const { session, version } = (await told('open', right)).body.value as { session: string; version: string }
      expect(version).toMatch(kind.version)
      const made = await told('run', {
        session,
        statements: ['CREATE TABLE berth (code varchar(8) NOT NULL PRIMARY KEY)']
      })
      expect(made.body.value).toMatchObject([{ ok: true }])
      expect(((await told('catalog', { session })).body.value as { tables: unknown[] }).tables).toHaveLength(1)
      for (const sql of ["INSERT INTO berth VALUES ('N1')", 'DROP TABLE berth', 'CREATE TABLE pilot (a integer)'])
        expect((await told('query', { session, sql, readOnly: true })).body.message, sql).toMatch(/read\W*only/i)
      // Whoever reads statements wrongly: the server itself takes one at a time.
      for (const sql of ['SELECT 1 AS case; COMMIT; DROP TABLE berth', 'COMMIT; DROP TABLE berth'])
        expect((await told('query', { session, sql, readOnly: true })).status, sql).toBe(502)
      expect((await told('query', { session, sql: "INSERT INTO berth VALUES ('N1')" })).body.value).toMatchObject({
        affected: 1
      })
      expect((await told('query', { session, sql: 'SELECT * FROM berth', readOnly: true })).body.value).toMatchObject({
        rows: [['N1']]
      })
      const endless = told('query', { session, sql: kind.endless, readOnly: true })
      await new Promise((resolve) => setTimeout(resolve, 500))
      expect((await told('cancel', { session })).status).toBe(200)
      expect((await endless).body.message).toMatch(kind.givenUp)
      // The session is as good as before.
      expect((await told('query', { session, sql: 'SELECT count(*) FROM berth' })).status).toBe(200)
      await told('close', { session })
      expect((await told('catalog', { session })).status).toBe(401)
      for (const spy of listen) spy.mockRestore()
      expect(JSON.stringify([answers, said])).not.toContain('sea-cret-77')
    },
    60_000
  )
  it.skipIf(kind.lacking)(
    'makes a database with what is said of it, and harms none that is there',
    async () => {
      const { settings, shown, wrong } = kind.made
      const name = kind.engine === 'firebird' ? database.replace(/[^/]*$/, 'made.fdb') : 'made'
      const right = { ...access, engine: kind.engine, port: server.port, user: kind.user, password: 'test' }
      const at = { ...right, database: name }
      const told = (await ask('make', { ...at, settings: wrong })) as { status: number; body: { message: string } }
      expect(told.status).toBe(502)
      expect(told.body.message).toMatch(/^“.*” is no .*\.$/)
      expect((await ask('open', at)).status).toBe(502)
      expect(await ask('make', { ...at, settings })).toMatchObject({ status: 200 })
      const opened = (await ask('open', at)) as { body: { value: { session: string } } }
      const { session } = opened.body.value
      const asked = (sql: string) => ask('query', { session, sql, readOnly: true })
      expect(await asked(shown.sql)).toMatchObject({ body: { value: { rows: [shown.row] } } })
      await ask('run', { session, statements: ['CREATE TABLE berth (code varchar(8) NOT NULL PRIMARY KEY)'] })
      await ask('close', { session })
      const again = (await ask('make', { ...at, settings })) as { status: number; body: { message: string } }
      expect(again.status).toBe(502)
      expect(again.body.message).toMatch(/exists|already/)
      const once = (await ask('open', at)) as { body: { value: { session: string } } }
      const kept = await ask('query', { ...once.body.value, sql: 'SELECT count(*) FROM berth', readOnly: true })
      expect(kept.status).toBe(200)
      await ask('close', once.body.value)
    },
    60_000
  )
})
