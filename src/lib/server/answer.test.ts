// Who may reach databases through the server, and that a password never comes back out of it.
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { startMariadb, whyNoMariadb, type Server } from '../../../tests/support/servers'
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

describe.skipIf(whyNoMariadb())('a session with a MariaDB server', () => {
  let server: Server
  beforeAll(async () => {
    server = await startMariadb()
    await server.create('harbour')
  }, 60_000)
  afterAll(() => server?.stop())

  it('opens, lists, reads, asks read-only, runs and closes; the password is in no answer and no log', async () => {
    const said: unknown[] = []
    const listen = (['log', 'info', 'warn', 'error'] as const).map((name) =>
      vi.spyOn(console, name).mockImplementation((...parts: unknown[]) => void said.push(parts))
    )
    const real = { ...access, port: server.port }
    const answers: unknown[] = []
    const told = async (what: string, body: object) => {
      const given = await ask(what, body)
      answers.push(given)
      return given as { status: number; body: { value: never; message: string } }
    }
    // Wrong at first: what the server says is passed on, without what was typed.
    expect(await told('open', real)).toMatchObject({
      status: 502,
      body: { message: expect.stringContaining('denied') as string }
    })
    expect((await told('open', { ...real, user: `sea-cret-77` })).body.message).not.toContain('sea-cret-77')
    const right = { ...real, password: 'test' }
    expect((await told('list', right)).body.value).toEqual(['harbour'])
    const { session, version } = (await told('open', right)).body.value as { session: string; version: string }
    expect(version).toMatch(/MariaDB/)
    expect(
      (await told('run', { session, statements: ['CREATE TABLE berth (code varchar(8) PRIMARY KEY)'] })).body.value
    ).toMatchObject([{ ok: true }])
    expect(((await told('catalog', { session })).body.value as { tables: unknown[] }).tables).toHaveLength(1)
    for (const sql of ["INSERT INTO berth VALUES ('N1')", 'DROP TABLE berth', 'CREATE TABLE pilot (a int)'])
      expect((await told('query', { session, sql, readOnly: true })).body.message, sql).toMatch(/read only/i)
    expect((await told('query', { session, sql: "INSERT INTO berth VALUES ('N1')" })).body.value).toMatchObject({
      affected: 1
    })
    expect((await told('query', { session, sql: 'SELECT * FROM berth', readOnly: true })).body.value).toMatchObject({
      rows: [['N1']]
    })
    await told('close', { session })
    expect((await told('catalog', { session })).status).toBe(401)
    for (const spy of listen) spy.mockRestore()
    expect(JSON.stringify([answers, said])).not.toContain('sea-cret-77')
  })
})
