// Databases on real servers, by way of the app's own server: sign in, compare, run, ask, give up; and what is left when
// the app's server is killed in the middle of it. The servers are private ones, started here.
import { spawn, type ChildProcess } from 'node:child_process'
import { readFile } from 'node:fs/promises'
import { expect, test, type Locator, type Page } from '@playwright/test'
import mysql from 'mysql2/promise'
import pg from 'pg'
import { documentServer, type DocumentServer } from '../support/mongodb-server'
import { servers, freePort, type Server } from '../support/servers'
import { expectAccessible, openDemo, targetLine } from './support'

const row = (page: Page, name: RegExp) => page.getByLabel('Differences').getByRole('row', { name })
const send = async (page: Page, sql: string) => {
  await page.getByLabel('Statements to send').fill(sql)
  await page.getByRole('button', { name: 'Send' }).click()
}

interface Where {
  readonly engine: string
  readonly version: string
  readonly port: number
  readonly database: string
  readonly user: string
  readonly password: string
}

const fillerOf = (form: Locator) => async (label: string, value: string) => {
  await form.getByLabel(label, { exact: true }).fill(value)
  await form.getByLabel(label, { exact: true }).blur()
}

/** A target on a server, added and filled in but not signed in to. */
async function addTarget(page: Page, where: Where) {
  await page.getByRole('link', { name: 'Targets' }).click()
  const add = page.getByLabel('Add a target')
  await add.getByLabel('Name').fill('quay')
  await add.getByLabel('Engine').selectOption(where.engine)
  await add.getByLabel('Version').selectOption(where.version)
  await add.getByLabel('Database').selectOption('on a server')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(targetLine(page, 'quay')).toContainText('sign in to look')
  const form = page.getByLabel('Server of quay')
  const set = fillerOf(form)
  // What no port can be is said, and changes nothing.
  await set('Port', '70000')
  await expect(form.getByRole('alert')).toContainText('from 1 to 65535')
  await set('Port', String(where.port))
  await set('Database', where.database)
  await set('User', where.user)
  await set('Password', where.password)
  const signIn = () => form.getByRole('button', { name: 'Sign in and look' }).click()
  return { form, set, signIn }
}

test.describe('a MariaDB server', () => {
  test.skip(servers.mariadb.lacking !== undefined, servers.mariadb.lacking)
  let server: Server
  test.beforeAll(async () => {
    server = await servers.mariadb.start()
    await server.create('harbour')
  })
  test.afterAll(() => server.stop())

  test('is added, tried, listed, brought into step, and asked; a wrong password is told', async ({ page }) => {
    await openDemo(page)
    const where = {
      engine: 'MariaDB',
      version: '10.11',
      port: server.port,
      database: '',
      user: 'test',
      password: 'not it'
    }
    const { form, set, signIn } = await addTarget(page, where)
    await signIn()
    await expect(form.getByRole('alert')).toContainText('Access denied')
    await set('Password', 'test')
    await form.getByRole('button', { name: 'List databases' }).click()
    await expect(form.getByRole('status')).toContainText('Choose a database')
    // One that is not there yet is made here, with what is said of it.
    await form.getByRole('button', { name: 'New database' }).click()
    const fresh = form.getByRole('group', { name: 'A new database' })
    await expect(fresh).toContainText('A name is needed')
    await set('Database', 'fresh')
    await fresh.getByLabel('Collation').fill('utf8mb4_hungarian_ci; DROP')
    await expect(fresh.getByRole('button', { name: 'Make it' })).toBeDisabled()
    await fresh.getByLabel('Collation').fill('utf8mb4_hungarian_ci')
    await expect(fresh).toContainText('CREATE DATABASE fresh CHARACTER SET utf8mb4 COLLATE utf8mb4_hungarian_ci')
    await expectAccessible(page)
    await fresh.getByRole('button', { name: 'Make it' }).click()
    await expect(form.getByRole('status')).toContainText('fresh is there, and empty')
    await signIn()
    await expect(form.getByRole('status')).toContainText('It answers')
    await set('Password', 'test')
    await set('Database', 'harbour')
    await signIn()
    await expect(form.getByRole('status')).toContainText('MariaDB')
    await expectAccessible(page)

    await page
      .getByLabel('Target quay')
      .getByRole('checkbox', { name: /ledger/ })
      .check()
    await targetLine(page, 'quay').click()
    await expect(row(page, /^vessel table/)).toContainText('changed in the design')
    await page.getByRole('button', { name: 'Run all' }).click()
    await expect(targetLine(page, 'quay')).toContainText('in step')
    await page.getByRole('link', { name: 'Queries' }).click()
    await send(page, 'SELECT table_name FROM information_schema.tables WHERE table_schema = database() ORDER BY 1')
    await expect(page.getByLabel('Rows of answer 1')).toContainText('cargo_line')
    // The ledger is no drift, and has each statement.
    await send(page, `SELECT who, state FROM ramblet_ledger WHERE statement LIKE 'CREATE TABLE vessel%'`)
    await expect(page.getByLabel('Rows of answer 1')).toContainText('somebody in this browser')

    // The password is in no file, and a page that is opened anew asks for it again.
    const saving = page.waitForEvent('download')
    await page.getByRole('button', { name: 'Save to a file' }).click()
    const text = await readFile(await (await saving).path(), 'utf8')
    expect(text).toContain(`"port":${server.port}`)
    expect(text).not.toMatch(/password/i)
    await page.reload()
    await expect(targetLine(page, 'quay')).toContainText('sign in to look')
  })

  test('rows in parts and another character set are said for the target, planned with what they cost, and run', async ({
    page
  }) => {
    const database = 'parted'
    const client = await mysql.createConnection(await server.create(database))
    await openDemo(page)
    const { form, signIn } = await addTarget(page, {
      engine: 'MariaDB',
      version: '10.11',
      port: server.port,
      database,
      user: 'test',
      password: 'test'
    })
    await signIn()
    await expect(form.getByRole('status')).toContainText('MariaDB')
    await page.getByRole('link', { name: 'Draft' }).click()
    await page.getByRole('tablist', { name: 'left pane' }).getByRole('tab', { name: 'Sheet' }).click()
    await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: 'Script' }).click()
    const target = page.getByLabel('Script for')
    await target.selectOption(await target.locator('option', { hasText: 'quay' }).first().getAttribute('value'))
    const name = page.getByPlaceholder('New entity').first()
    await name.fill('Tide')
    await name.press('Enter')
    await page.keyboard.type('station')
    await page.keyboard.press('Enter')
    await targetLine(page, 'quay').click()
    await page.getByRole('button', { name: 'Run all' }).click()
    await expect(targetLine(page, 'quay')).toContainText('in step', { timeout: 60_000 })
    await client.query("INSERT INTO tide (station) VALUES ('N1'), ('N2'), ('Æ')")

    await page.getByRole('link', { name: 'Draft' }).click()
    await page.getByRole('button', { name: 'Find anything' }).click()
    await page.keyboard.insertText('Tide')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'All of it' }).first().click()
    const part = page.getByRole('group', { name: 'Only in quay' })
    const say = async (option: string, value: string) => {
      await part.getByLabel('What an option is said of').selectOption('the table')
      await part.getByLabel('Which option').selectOption(option)
      const field = part.getByLabel(`${option} of the table, to be said`)
      await field.fill(value)
      await field.press('Enter')
    }
    await say('partition by', 'the moon')
    await expect(part.getByRole('alert')).toContainText('Nothing is known of parts by the')
    await say('partition by', 'hash (id) partitions 4')
    await expect(part.getByLabel('partition by of the table', { exact: true })).toHaveValue('HASH (`id`) PARTITIONS 4')
    await say('collation', 'ascii_general_ci')
    await expect(page.getByLabel('Script of the design')).toContainText('PARTITION BY HASH')
    await expectAccessible(page)

    await targetLine(page, 'quay').click()
    const steps = page.getByRole('listitem', { name: /^Step / })
    await expect(steps.filter({ hasText: 'PARTITION BY' })).toContainText(
      'every row is written again while nobody can write'
    )
    // One row has a letter that the new character set has not.
    await expect(steps.filter({ hasText: 'ascii' })).toContainText('1 row would')
    await client.query("DELETE FROM tide WHERE station = 'Æ'")
    await page.getByRole('button', { name: 'Run all' }).click()
    await expect(targetLine(page, 'quay')).toContainText('in step')
    const [[shown] = []] = await client.query<mysql.RowDataPacket[]>('SHOW CREATE TABLE tide')
    expect(String(shown?.['Create Table'])).toMatch(/CHARSET=ascii[\s\S]*PARTITION BY HASH \(`id`\)\s+PARTITIONS 4/)

    // And back to where there is a letter for everything, by one click.
    await page.getByRole('link', { name: 'Targets' }).click()
    const quay = page.getByLabel('Target quay')
    await expect(quay).toContainText('1 table or column keeps text without all of Unicode: ascii_general_ci.')
    await quay.getByRole('button', { name: 'Keep it as Unicode' }).click()
    await expect(quay).not.toContainText('without all of Unicode')
    await targetLine(page, 'quay').click()
    await expect(steps.filter({ hasText: 'utf8mb4' })).toHaveCount(1)
    // How the server would do it is tried on empty tables beside, for whoever agrees to it.
    await page.getByRole('button', { name: 'Rehearse …' }).click()
    const rehearsal = page.getByRole('group', { name: 'Rehearsal' })
    await expect(rehearsal).toContainText('then that database goes again')
    await expectAccessible(page)
    await rehearsal.getByRole('button', { name: 'Make it and try' }).click()
    await expect(rehearsal).toContainText('1 step was taken')
    await expect(steps.filter({ hasText: 'utf8mb4' })).toContainText('on empty tables: by copying every row')
    expect((await client.query<mysql.RowDataPacket[]>("SHOW DATABASES LIKE 'ramblet%'"))[0]).toEqual([])
    await page.getByRole('button', { name: 'Run all' }).click()
    await expect(targetLine(page, 'quay')).toContainText('in step')
    await client.query("INSERT INTO tide (station) VALUES ('Æ')")
    const [[now] = []] = await client.query<mysql.RowDataPacket[]>('SHOW CREATE TABLE tide')
    expect(String(now?.['Create Table'])).toContain('CHARSET=utf8mb4')
    await client.end()
  })

  test('the app’s server is killed in the middle of a statement: on return it is known what was done', async ({
    page
  }) => {
    const url = await server.create('roads')
    const port = await freePort()
    let app = await startApp(port)
    const killer = await mysql.createConnection(url)
    try {
      await openDemo(page, `http://127.0.0.1:${port}/`)
      const where = {
        engine: 'MariaDB',
        version: '10.11',
        port: server.port,
        database: 'roads',
        user: 'test',
        password: 'test'
      }
      const { form, signIn } = await addTarget(page, where)
      await signIn()
      await expect(form.getByRole('status')).toContainText('MariaDB')
      await targetLine(page, 'quay').click()
      await expect(row(page, /^vessel table/)).toContainText('changed in the design')
      // The first statement is under way, and waits: then the process that sent it is gone.
      await killer.query('FLUSH TABLES WITH READ LOCK')
      await page.getByRole('button', { name: 'Run all' }).click()
      const waiting = async () =>
        (
          await killer.query<mysql.RowDataPacket[]>(
            `SELECT 1 FROM information_schema.processlist WHERE state LIKE 'Waiting%'`
          )
        )[0].length
      await expect.poll(waiting).toBe(1)
      await end(app)
      await expect(page.getByRole('alert').filter({ hasText: 'was cut off' })).toContainText('server does not answer')
      await page.close({ runBeforeUnload: false })
      await killer.query('UNLOCK TABLES')

      app = await startApp(port)
      const again = await page.context().newPage()
      await again.goto(`http://127.0.0.1:${port}/`)
      await again.getByRole('link', { name: /Tidewell Harbour/ }).click()
      await targetLine(again, 'quay').click()
      await again.getByLabel('Password').fill('test')
      await again.getByRole('button', { name: /Sign in/ }).click()
      await again.getByRole('button', { name: 'Take it up where it was' }).click()
      await again.getByRole('button', { name: /Run (the rest|all)/ }).click()
      await expect(targetLine(again, 'quay')).toContainText('in step')
      await again.getByRole('link', { name: 'Runs' }).click()
      await expect(again.getByText('a step was refused')).toHaveCount(0)
    } finally {
      await killer.end()
      await end(app)
    }
  })
})

test.describe('a PostgreSQL server', () => {
  test.skip(servers.postgres.lacking !== undefined, servers.postgres.lacking)
  let server: Server
  test.beforeAll(async () => {
    server = await servers.postgres.start()
  })
  test.afterAll(() => server.stop())

  test('a schema of somebody else’s is left out; a query that takes too long is given up', async ({ page }) => {
    const client = new pg.Client({ connectionString: await server.create('harbour') })
    await client.connect()
    await client.query(
      'CREATE SCHEMA customs; CREATE TABLE customs.seal (no integer); CREATE TABLE customs.form (no integer)'
    )
    await client.end()
    await openDemo(page)
    const where = {
      engine: 'PostgreSQL',
      version: '15',
      port: server.port,
      database: 'harbour',
      user: 'postgres',
      password: ''
    }
    const { form, signIn } = await addTarget(page, where)
    await signIn()
    await expect(form.getByRole('status')).toContainText('customs (2 tables)')
    const own = page.getByLabel('Target quay')
    await own.getByLabel('Leave out').selectOption('all of the schema customs')
    await own.getByLabel('because').fill('the customs office keeps it')
    await own.getByRole('button', { name: 'Leave out' }).click()
    await expect(own).toContainText('the customs office keeps it')
    await targetLine(page, 'quay').click()
    await expect(row(page, /^vessel table/)).toContainText('changed in the design')
    await expect(row(page, /seal/)).toHaveCount(0)
    await page.getByRole('button', { name: 'Run all' }).click()
    await expect(targetLine(page, 'quay')).toContainText('in step')

    await page.getByRole('link', { name: 'Queries' }).click()
    await send(page, 'SELECT pg_sleep(600); SELECT 1')
    await page.getByRole('button', { name: 'Stop', exact: true }).click()
    await expect(page.getByLabel('Answer 1')).toContainText('canceling statement due to user request')
    await expect(page.getByLabel('Answer 2')).toHaveCount(0)
    await send(page, 'SELECT count(*) FROM vessel')
    await expect(page.getByLabel('Rows of answer 1')).toContainText('0')
  })
})

test.describe('a Firebird server', () => {
  test.skip(servers.firebird.lacking !== undefined, servers.firebird.lacking)
  let server: Server
  test.beforeAll(async () => {
    server = await servers.firebird.start()
  })
  test.afterAll(() => server.stop())

  test('is signed in to, brought into step, and asked', async ({ page }) => {
    const database = new URL(await server.create('harbour')).pathname.slice(1)
    await openDemo(page)
    const where = {
      engine: 'Firebird',
      version: '3.0',
      port: server.port,
      database,
      user: 'SYSDBA',
      password: 'not it'
    }
    const { form, set, signIn } = await addTarget(page, where)
    await signIn()
    await expect(form.getByRole('alert')).toContainText('user name and password are not defined')
    await set('Password', 'test')
    await form.getByRole('button', { name: 'List databases' }).click()
    await expect(form.getByRole('alert')).toContainText('does not say which databases it has')
    await signIn()
    await expect(form.getByRole('status')).toContainText('version 3.0')
    await targetLine(page, 'quay').click()
    await expect(row(page, /^VESSEL table/)).toContainText('changed in the design')
    await page.getByRole('button', { name: 'Run all' }).click()
    await expect(targetLine(page, 'quay')).toContainText('in step')
    await page.getByRole('link', { name: 'Queries' }).click()
    await send(page, 'SELECT count(*) AS vessels FROM vessel')
    await expect(page.getByLabel('Rows of answer 1')).toContainText('VESSELS')
    await send(page, 'CREATE TABLE crane (code integer)')
    await expect(page.getByRole('alert')).toContainText(/Read-only lets through/)
  })
})

/** The built app as a process of its own, which a test may end. */
async function startApp(port: number): Promise<ChildProcess> {
  const app = spawn(process.execPath, ['build'], {
    env: { ...process.env, PORT: String(port), HOST: '127.0.0.1' },
    stdio: 'ignore'
  })
  await expect
    .poll(() =>
      fetch(`http://127.0.0.1:${port}/`)
        .then(({ status }) => status)
        .catch(() => 0)
    )
    .toBe(200)
  return app
}

async function end(app: ChildProcess) {
  if (app.exitCode !== null || app.signalCode !== null) return
  const gone = new Promise((resolve) => app.once('exit', resolve))
  app.kill('SIGKILL')
  await gone
}

test.describe('a MongoDB server, one that keeps what it is told in the stand-in', () => {
  let server: DocumentServer
  test.beforeAll(async () => {
    server = await documentServer({ name: 'harbourmaster', password: 'sea-cret-77' })
  })
  test.afterAll(() => server.close())

  test('is signed in to, brought into step, asked, and tells fields when it is brought in', async ({ page }) => {
    await openDemo(page)
    const where = {
      engine: 'MongoDB',
      version: '7.0',
      port: server.port,
      database: 'tidewell',
      user: 'harbourmaster',
      password: 'not it'
    }
    const { form, set, signIn } = await addTarget(page, where)
    await signIn()
    await expect(form.getByRole('alert')).toContainText('Authentication failed')
    await set('Password', 'sea-cret-77')
    await signIn()
    await expect(form.getByRole('status')).toContainText('7.0.14')
    await targetLine(page, 'quay').click()
    await page.getByRole('button', { name: 'Run all' }).click()
    await expect(targetLine(page, 'quay')).toContainText('in step', { timeout: 60_000 })
    await page.getByRole('link', { name: 'Queries' }).click()
    await page.getByLabel('Read only').uncheck()
    await send(page, 'db.tug_log.insertMany([{ tug: "Sturdy", hours: 3 }, { tug: "Sturdy", hours: 5, ice: true }])')
    await expect(page.getByLabel('Answer 1')).toContainText('2 rows changed')
    await send(page, 'db.tug_log.find({ ice: true })')
    await expect(page.getByRole('region', { name: 'Documents of answer 1' })).toContainText('Sturdy')

    // What no validator speaks of is told by documents.
    await page.goto('/bring')
    const from = page.getByRole('region', { name: 'Databases' })
    await from
      .getByRole('combobox', { name: /^Engine/ })
      .first()
      .selectOption('MongoDB')
    const say = fillerOf(from)
    await say('Port', String(server.port))
    await say('Database', where.database)
    await say('User', where.user)
    await say('Password', 'sea-cret-77')
    await from.getByRole('button', { name: 'Sign in and look' }).click()
    await expect(page.getByText('tug_log: tug, hours, ice')).toBeVisible()
    await expectAccessible(page)
  })
})
