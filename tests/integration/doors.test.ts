// Bad peers, hostile addresses, and statements that pretend to read: nothing gets in, and what goes wrong with one session
// is that session's alone.
import { createServer, type AddressInfo, type Socket } from 'node:net'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { answer } from '../../src/lib/server/answer'
import { endSessions } from '../../src/lib/server/sessions'
import { servers, type Server } from '../support/servers'

const headers = new Headers({
  host: '127.0.0.1:3000',
  origin: 'http://127.0.0.1:3000',
  'content-type': 'application/json'
})
const ask = async (what: string, body: unknown) => {
  const { status, body: told } = await answer(what, headers, async () => body, {})
  return { status, value: 'value' in told ? told.value : undefined, message: 'message' in told ? told.message : '' }
}
const access = { engine: 'postgres', host: '127.0.0.1', database: 'harbour', user: 'test', password: 'test' }

/** What a server of each engine says first, roughly: what comes after it is read by more of the driver. */
const greetings: Readonly<Record<string, readonly Buffer[]>> = {
  // "Message Formats": AuthenticationOk, ParameterStatus, BackendKeyData, ReadyForQuery, RowDescription, DataRow.
  postgres: [
    Buffer.from('520000000800000000', 'hex'),
    Buffer.from('5a0000000549', 'hex'),
    Buffer.from('540000001b00016e00000000000000000000170004ffffffff0000', 'hex'),
    Buffer.from('440000000b00010000000131', 'hex')
  ],
  // "Connection Phase": the first handshake, then an OK, then a result of one column.
  mariadb: [
    Buffer.from(
      '4a0000000a352e352e352d31302e31312e3600080000003132333435363738 00fff72d0200ff811500000000000000000000393031323334353637383930006d7973716c5f6e61746976655f70617373776f726400'.replaceAll(
        ' ',
        ''
      ),
      'hex'
    ),
    Buffer.from('0700000200000002000000', 'hex'),
    Buffer.from('0100000101', 'hex')
  ],
  // op_accept, op_response.
  firebird: [
    Buffer.from('000000030000000d0000000100000003', 'hex'),
    Buffer.from('00000009000000000000000000000000', 'hex')
  ]
}

describe('a peer that says anything at all', () => {
  it.each(Object.keys(greetings))(
    'is told as a database that cannot be reached, and ends nothing else: %s',
    async (engine) => {
      const said = greetings[engine] ?? []
      let next: readonly Buffer[] = []
      const peer = createServer((socket: Socket) => {
        socket.on('error', () => undefined)
        const left = [...next]
        let speaking: NodeJS.Timeout | undefined
        const speak = () => {
          const words = left.shift()
          if (words) socket.write(words)
          else socket.destroy()
        }
        // It answers, and then goes on by itself.
        const begin = () => {
          speaking ??= setInterval(speak, 5)
          speak()
        }
        socket.on('close', () => clearInterval(speaking))
        if (engine === 'mariadb') begin()
        else socket.once('data', begin)
      })
      await new Promise<void>((resolve) => peer.listen(0, '127.0.0.1', resolve))
      const { port } = peer.address() as AddressInfo
      const words = fc.array(
        fc.oneof(
          fc.uint8Array({ minLength: 1, maxLength: 40 }),
          // What a server would say, with some bytes of it otherwise.
          fc
            .tuple(fc.constantFrom(...said), fc.array(fc.tuple(fc.nat(80), fc.nat(255)), { maxLength: 3 }))
            .map(([right, wrong]) => {
              const made = Uint8Array.from(right)
              for (const [at, byte] of wrong) made[at % made.length] = byte
              return made
            })
        ),
        { minLength: 1, maxLength: 6 }
      )
      const rounds = Number(process.env['CASES'] ?? 25)
      try {
        await fc.assert(
          fc.asyncProperty(words, async (list) => {
            next = list.map((word) => Buffer.from(word))
            const { status, message } = await ask('open', { ...access, engine, port })
            expect(status).toBe(502)
            expect(message.length).toBeGreaterThan(3)
            expect(message).not.toMatch(/\n\s+at /)
          }),
          { numRuns: rounds, endOnFailure: true }
        )
        console.log(`${engine}: ${rounds} peers that said anything at all, none of them ended more than its session`)
      } finally {
        peer.close()
      }
    },
    3_600_000
  )
})

describe('an address', () => {
  it.each(['host', 'database', 'user', 'password'])('with a control character in its %s is refused', async (field) => {
    const { status, message } = await ask('open', { ...access, port: 5432, [field]: 'test\u0000options\u0000-c x=1' })
    expect(status).toBe(400)
    expect(message).toContain('control characters')
  })

  it('without a user is refused: nobody else’s name is put in', async () => {
    expect(await ask('open', { ...access, port: 5432, user: '' })).toMatchObject({
      status: 400,
      message: 'A user is needed.'
    })
  })
})

const kinds = [
  {
    engine: 'postgres',
    on: servers.postgres,
    user: 'postgres',
    many: 'SELECT generate_series(1, 200000), repeat($$x$$, 1000)',
    tricks: [
      'COMMIT',
      'WITH gone AS (DELETE FROM seen RETURNING 1) SELECT * FROM gone',
      'EXPLAIN ANALYZE DELETE FROM seen',
      'SELECT * INTO taken FROM seen',
      'SET TRANSACTION READ WRITE',
      `SELECT nextval('numbers')`,
      'DO $$ BEGIN DELETE FROM seen; END $$',
      'SELECT forget()'
    ],
    away: 'SET search_path TO nowhere',
    endless: 'SELECT pg_sleep(600)'
  },
  {
    engine: 'mariadb',
    on: servers.mariadb,
    user: 'test',
    many: `SELECT seq, repeat('x', 1000) FROM seq_1_to_200000`,
    tricks: [
      'START TRANSACTION READ WRITE; DELETE FROM seen; COMMIT',
      'START TRANSACTION READ WRITE',
      'SET STATEMENT max_statement_time = 9 FOR DELETE FROM seen',
      'BEGIN NOT ATOMIC DELETE FROM seen; END',
      'CALL forget()',
      '/*!50000 DELETE FROM seen */',
      "SELECT 1 /*M! INTO OUTFILE '/tmp/seen' */",
      'SELECT NEXT VALUE FOR numbers',
      'SELECT forgotten()'
    ],
    away: 'USE mysql',
    endless: 'SELECT sleep(600)'
  }
]

describe.each(kinds)('a session with a $engine server', ({ engine, on, user, many, tricks, away, endless }) => {
  let server: Server
  let session = ''
  const send = (sql: string, more: object = {}) => ask('query', { session, sql, byHand: true, ...more })
  const value = async (sql: string) => ((await send(sql)).value as { rows: unknown[][] } | undefined)?.rows
  beforeAll(async () => {
    if (on.lacking) return
    server = await on.start()
    await server.create('harbour')
    // What the operator has set for himself is not for an address that a design names.
    process.env['PGOPTIONS'] = '-c default_transaction_read_only=on'
    process.env['PGUSER'] = 'somebody'
    const opened = await ask('open', { ...access, engine, user, port: server.port })
    expect(opened.message).toBe('')
    ;({ session } = opened.value as { session: string })
    const made =
      engine === 'postgres'
        ? [
            'CREATE TABLE seen (what varchar(20))',
            `INSERT INTO seen VALUES ('kept')`,
            'CREATE SEQUENCE numbers',
            `CREATE FUNCTION forget() RETURNS void LANGUAGE sql AS 'DELETE FROM seen'`
          ]
        : [
            'CREATE TABLE seen (what varchar(20))',
            `INSERT INTO seen VALUES ('kept')`,
            'CREATE SEQUENCE numbers',
            'CREATE PROCEDURE forget() DELETE FROM seen',
            'CREATE FUNCTION forgotten() RETURNS int MODIFIES SQL DATA BEGIN DELETE FROM seen; RETURN 1; END'
          ]
    for (const statement of made)
      expect((await ask('run', { session, statements: [statement] })).value).toMatchObject([{ ok: true }])
  }, 60_000)
  afterAll(async () => {
    delete process.env['PGOPTIONS']
    delete process.env['PGUSER']
    if (session) await ask('close', { session })
    await server?.stop()
  })

  it.skipIf(on.lacking)('that is read-only writes nothing, whatever is tried', async () => {
    for (const sql of tricks) {
      const { status } = await send(sql, { readOnly: true })
      expect(status, sql).not.toBe(200)
      expect(await value('SELECT what FROM seen'), sql).toEqual([['kept']])
    }
    expect(
      (await send('SELECT what FROM seen WHERE what <> ALL (SELECT what FROM seen)', { readOnly: true })).status
    ).toBe(200)
  })

  it.skipIf(on.lacking)('takes the first rows of very many, says so, and goes on', async () => {
    const { value: shown } = await send(many, { readOnly: true })
    expect(shown).toMatchObject({ more: true })
    expect((shown as { rows: unknown[][] }).rows).toHaveLength(5000)
    expect(await value('SELECT what FROM seen')).toEqual([['kept']])
  })

  it.skipIf(on.lacking)(
    'gives all rows, batch by batch, and holds no more of them than one',
    async () => {
      type Batch = { columns: string[]; rows: unknown[][]; more?: true }
      const batch = async (sql?: string) =>
        (await ask('rows', { session, ...(sql === undefined ? {} : { sql }) })).value as Batch
      let [last, count, batches] = [await batch(many), 0, 0]
      const { columns } = last
      for (; ; last = await batch()) {
        count += last.rows.length
        batches++
        if (!last.more) break
      }
      expect(columns).toHaveLength(2)
      expect([count, batches]).toEqual([200_000, 41])
      // The rest need not be wanted, and other work goes on meanwhile.
      expect((await batch(many)).more).toBe(true)
      expect(await value('SELECT what FROM seen')).toEqual([['kept']])
      await ask('endRows', { session })
      expect((await ask('rows', { session })).message).toContain('No answer is being read')
      expect((await ask('rows', { session, sql: 'DELETE FROM seen' })).message).toContain('Read-only lets through')
      expect((await ask('rows', { session, sql: 'SELECT nothing FROM nowhere' })).message.length).toBeGreaterThan(5)
      expect(await value('SELECT what FROM seen')).toEqual([['kept']])
    },
    120_000
  )

  it.skipIf(on.lacking)('reads and runs where it was opened, wherever queries have gone', async () => {
    expect((await send(away)).status).toBe(200)
    const { value: catalog } = await ask('catalog', { session })
    expect((catalog as { tables: { name: string }[] }).tables.map((t) => t.name)).toContain('seen')
    expect((await ask('run', { session, statements: ['CREATE TABLE here (n integer)'] })).value).toMatchObject([
      { ok: true }
    ])
    expect(
      ((await ask('catalog', { session })).value as { tables: { name: string }[] }).tables.map((t) => t.name)
    ).toContain('here')
    await send(engine === 'postgres' ? 'RESET search_path' : 'USE harbour')
  })

  it.skipIf(on.lacking)('tells of a transaction that a query has left open, and no run is part of it', async () => {
    expect((await send('BEGIN')).value).toMatchObject({ open: true })
    expect((await send(`INSERT INTO seen VALUES ('perhaps')`)).value).toMatchObject({ open: true })
    expect((await ask('run', { session, statements: ['CREATE TABLE sure (n integer)'] })).value).toMatchObject([
      { ok: true }
    ])
    expect((await send('ROLLBACK')).value).not.toHaveProperty('open')
    expect(await value('SELECT what FROM seen')).toEqual([['kept']])
    expect(await value('SELECT count(*) FROM sure')).toEqual([[expect.anything()]])
  })

  it.skipIf(on.lacking)('that the server ends asks for a new sign-in', async () => {
    const other = await ask('open', { ...access, engine, user, port: server.port })
    const { session: mine } = other.value as { session: string }
    const ids = await value(
      engine === 'postgres'
        ? 'SELECT pid FROM pg_stat_activity WHERE pid <> pg_backend_pid() AND datname IS NOT NULL'
        : 'SELECT id FROM information_schema.processlist WHERE id <> connection_id()'
    )
    for (const [id] of ids ?? [])
      await send(engine === 'postgres' ? `SELECT pg_terminate_backend(${String(id)})` : `KILL ${String(id)}`)
    expect((await ask('catalog', { session: mine })).status).toBe(401)
    expect((await ask('catalog', { session: mine })).message).toContain('sign in again')
    const again = await ask('open', { ...access, engine, user, port: server.port })
    ;({ session } = again.value as { session: string })
  })

  it.skipIf(on.lacking)(
    'is one of so many, and no more',
    async () => {
      const opened: string[] = []
      let refused = ''
      for (let n = 0; n < 20 && refused === ''; n++) {
        const { value: made, message } = await ask('open', { ...access, engine, user, port: server.port })
        if (message) refused = message
        else opened.push((made as { session: string }).session)
      }
      expect(refused).toContain('sessions are open with this database')
      expect(opened.length).toBeLessThan(12)
      for (const each of opened) await ask('close', { session: each })
      expect((await ask('catalog', { session })).status).toBe(200)
    },
    120_000
  )

  it.skipIf(on.lacking)('ends with the app’s server, whatever it is at', async () => {
    const answered = send(endless)
    await new Promise((resolve) => setTimeout(resolve, 300))
    await endSessions()
    expect((await answered).status).toBe(401)
    expect((await ask('catalog', { session })).status).toBe(401)
  })
})
