// The questions of a catalogue, asked by the engines' own clients: what comes of their answers is what is read of the database.
import { execFileSync } from 'node:child_process'
import { join } from 'node:path'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { canonical } from '../../src/lib/core/catalog'
import { answersByHand, dialect as dialectOf, questionsByHand, type Dialect } from '../../src/lib/core/dialects'
import { openMariadb } from '../../src/lib/server/mysql'
import { openPostgres } from '../../src/lib/server/postgres'
import { POSTGRES } from '../foreign/postgres'
import { postgresTools, postgresVersion } from '../support/dump'
import { servers, type Server } from '../support/servers'

const postgres = dialectOf('postgres', String(postgresVersion)) as Dialect
const mariadb = dialectOf('mariadb') as Dialect

describe('PostgreSQL, by psql', () => {
  let server: Server
  let count = 0
  beforeAll(async () => {
    server = await servers.postgres.start()
  })
  afterAll(() => server?.stop())
  const fitting = POSTGRES.filter(({ since = 0, until = 99 }) => since <= postgresVersion && postgresVersion <= until)

  it.skipIf(servers.postgres.lacking).each(fitting)('$shows', async ({ sql }) => {
    const url = await server.create(`asked_${count++}`)
    const client = new pg.Client({ connectionString: url })
    await client.connect()
    try {
      await client.query(`DO $$ BEGIN CREATE ROLE agent; EXCEPTION WHEN duplicate_object THEN NULL; END $$`)
      await client.query(sql)
    } finally {
      await client.end()
    }
    const live = await openPostgres(url)
    const asked = await live.catalog()
    await live.close()
    const printed = execFileSync(
      join(postgresTools, 'psql'),
      ['-X', '-q', '-A', '-t', '-v', 'ON_ERROR_STOP=1', '-d', url],
      { input: await questionsByHand(postgres), encoding: 'utf8' }
    )
    const answers = answersByHand(printed)
    expect(answers).toMatchObject({ engine: 'postgres', version: String(postgresVersion) })
    expect(Date.parse(answers?.taken ?? '')).not.toBeNaN()
    const told = await answers?.catalog(postgres)
    expect(told && canonical(told)).toEqual(canonical(asked))
  })

  it('answers that are cut off, of another kind, or damaged are told so', async () => {
    const heading = '{"taken": "2026-11-26T10:00:00Z", "engine": "postgres", "ramblet": "answers", "version": "15"}'
    expect(answersByHand('{"version": 3}')).toBeUndefined()
    expect(answersByHand('CREATE TABLE berth (id int);')).toBeUndefined()
    await expect(answersByHand(heading)?.catalog(postgres)).rejects.toThrow('have no end')
    await expect(answersByHand(`${heading}\n{"answered": 3}`)?.catalog(postgres)).rejects.toThrow('other questions')
    expect(() => answersByHand(`${heading}\n{"question": 3, "row`)).toThrow('Line 2')
  })
})

describe('MariaDB, by its client', () => {
  let server: Server
  beforeAll(async () => {
    server = await servers.mariadb.start()
  })
  afterAll(() => server?.stop())

  it.skipIf(servers.mariadb.lacking)('tables, keys, texts of any kind, and what is not held', async () => {
    const live = await openMariadb(await server.create('asked'))
    const outcomes = await live.run([
      `CREATE TABLE berth (code varchar(8) PRIMARY KEY COMMENT 'it''s "N1", or a\\\\b\nnew line', depth decimal(5,2) DEFAULT NULL,
        said varchar(20) DEFAULT 'NULL', quay enum('north','south') NOT NULL DEFAULT 'north', CHECK (depth > 0))`,
      `CREATE TABLE visit (id int AUTO_INCREMENT PRIMARY KEY, berth varchar(8) NOT NULL, at datetime NOT NULL DEFAULT current_timestamp(),
        twice int GENERATED ALWAYS AS (length(berth) * 2) STORED, KEY in_order (berth, at DESC), FOREIGN KEY (berth) REFERENCES berth (code) ON DELETE CASCADE)`,
      `CREATE TRIGGER counted AFTER INSERT ON visit FOR EACH ROW SET @n = @n + 1`
    ])
    expect(outcomes.flatMap(({ error }) => error?.message ?? [])).toEqual([])
    const asked = await live.catalog()
    await live.close()
    const printed = execFileSync(
      'mariadb',
      [
        '--no-defaults',
        '-h127.0.0.1',
        `-P${server.port}`,
        '-utest',
        '-ptest',
        '--batch',
        '--raw',
        '--skip-column-names',
        'asked'
      ],
      { input: await questionsByHand(mariadb), encoding: 'utf8' }
    )
    const told = await answersByHand(printed)?.catalog(mariadb)
    expect(told && canonical(told)).toEqual(canonical(asked))
    expect(told?.unread).toEqual([])
    expect(told?.tables.flatMap(({ triggers = [] }) => triggers)).toMatchObject([{ name: 'counted' }])
  })

  it('is asked where its client prints answers that can be read', async () => {
    const by = await Promise.all(
      ['postgres', 'mariadb', 'firebird', 'sqlite'].map((id) => questionsByHand(dialectOf(id) as Dialect))
    )
    expect(by.map((script) => script !== undefined)).toEqual([true, true, false, false])
  })
})
