// A server of MariaDB that keeps all names of tables in small letters: a design with others is brought into step with it, and stays so.
import mysql from 'mysql2/promise'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { builder } from '../../demo/build'
import { newTarget, type Design } from '../../src/lib/core/design'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { stepState } from '../../src/lib/core/plan'
import { session } from '../../src/lib/core/session'
import type { LiveDatabase } from '../../src/lib/live'
import { openMariadb } from '../../src/lib/server/mysql'
import { servers, type Server } from '../support/servers'

const mariadb = dialectOf('mariadb', '10.11') as Dialect
const { lacking } = servers.mariadb
let server: Server
let live: LiveDatabase
let url = ''
beforeAll(async () => {
  if (lacking) return
  server = await servers.mariadb.start(['--lower-case-table-names=1'])
  url = await server.create('harbour')
  live = await openMariadb(url)
}, 60_000)
afterAll(async () => {
  await live?.close()
  await server?.stop()
})

/** Names of tables in letters of both sorts, with a link between them. */
function designed(more: 'first' | 'later'): Design {
  const b = builder('Harbour')
  b.entity('', 'Berth', '', [
    ['code', 'text(8)', { key: true, required: true }],
    ...(more === 'later' ? ([['depth', 'decimal(5,2)']] as const) : [])
  ])
  b.entity('', 'Visit', '', [['arrives at', 'timestamp']])
  b.link('Visit', 'Berth')
  for (const [id, dbName] of [
    ['ent_berth', 'BerthPlace'],
    ['ent_visit', 'VisitMade']
  ] as const)
    b.edit({ kind: 'entity.set', id, set: { dbName } })
  return b.design
}

async function broughtIntoStep(design: Design): Promise<number> {
  const here = session(design, newTarget('here', { engine: 'mariadb', version: '10.11' }), mariadb)
  const { migration } = here.beside({ live: await live.catalog() }).plan()
  for (const step of migration.steps) {
    expect(stepState(step, await live.catalog(), mariadb)).toBe('to do')
    const [outcome] = await live.run([step.statement])
    expect(outcome?.error?.message).toBeUndefined()
    expect(stepState(step, await live.catalog(), mariadb), step.statement).toBe('done')
  }
  expect(here.beside({ live: await live.catalog() }).differences).toEqual([])
  return migration.steps.length
}

it.skipIf(lacking)('names of tables in other letters are no difference there', async () => {
  expect(await broughtIntoStep(designed('first'))).toBe(3)
  expect((await live.catalog()).tables.map(({ name }) => name)).toEqual(['berthplace', 'visitmade'])
  expect(await broughtIntoStep(designed('later'))).toBe(1)
  const client = await mysql.createConnection(url)
  const [[shown] = []] = await client.query<mysql.RowDataPacket[]>('SELECT @@lower_case_table_names AS letters')
  expect(shown?.['letters']).toBe(1)
  await client.end()
})
