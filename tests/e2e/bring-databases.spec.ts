// A database that exists becomes a design: one on a server, which is then the design's target, and one that is kept in the
// browser, of which the design gets a copy.
import { execFileSync } from 'node:child_process'
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import pg from 'pg'
import { postgresTools, postgresVersion } from '../support/dump'
import { servers, type Server } from '../support/servers'
import { expectAccessible, openDemo, targetLine } from './support'

const MADE = `CREATE TABLE berths (code varchar(8) PRIMARY KEY, quay varchar(40) NOT NULL);
  CREATE TABLE visits (id serial PRIMARY KEY, berth_code varchar(8) NOT NULL REFERENCES berths, arrives_at timestamptz NOT NULL DEFAULT now());
  CREATE TABLE schema_migrations (version varchar(20) PRIMARY KEY);
  CREATE TABLE pilots (id integer PRIMARY KEY);
  CREATE TABLE jobs (id integer PRIMARY KEY, pilot_id integer, visit_id integer);
  INSERT INTO jobs VALUES (1, 7, NULL);
  CREATE VIEW at_north AS SELECT v.id FROM visits v JOIN berths b ON b.code = v.berth_code WHERE b.quay = 'North'`

test.describe('on a server', () => {
  test.skip(servers.postgres.lacking !== undefined, servers.postgres.lacking)
  let server: Server
  test.beforeAll(async () => {
    server = await servers.postgres.start()
  })
  test.afterAll(() => server?.stop())

  test('it is signed in to, looked over, and a target in step with the design', async ({ page }) => {
    const client = new pg.Client({ connectionString: await server.create('harbour') })
    await client.connect()
    try {
      await client.query(MADE)
      await page.goto('/bring')
      const form = page.getByRole('form', { name: 'Server' })
      const set = async (label: string, value: string) => {
        await form.getByLabel(label).fill(value)
        await form.getByLabel(label).blur()
      }
      await set('Port', String(server.port))
      await set('User', 'postgres')
      await set('Database', 'no_such')
      await form.getByRole('button', { name: 'Sign in and look' }).click()
      await expect(form.getByRole('alert')).toContainText('no_such')
      await set('Database', 'harbour')
      await form.getByRole('button', { name: 'Sign in and look' }).click()

      // What another program keeps there is left out, with the reason.
      const come = page.getByRole('region', { name: 'What would come' })
      await expect(come.getByRole('status')).toHaveText('4 of 5 tables, 1 of 1 others chosen')
      await expect(come.getByRole('listitem').filter({ hasText: 'schema_migrations' })).toContainText(
        'how far the schema has come'
      )
      await expectAccessible(page)
      // What is found without a word is held against the rows.
      const unsaid = page.getByRole('region', { name: 'What it leaves unsaid' })
      const link = (what: string) => unsaid.getByRole('listitem').filter({ hasText: what })
      await expect(link('jobs.pilot_id → pilots.id').getByRole('checkbox')).toBeChecked()
      await unsaid.getByRole('button', { name: 'Ask the rows' }).click()
      await expect(link('jobs.pilot_id → pilots.id')).toContainText('1 row speaks against it')
      await expect(link('jobs.pilot_id → pilots.id').getByRole('checkbox')).not.toBeChecked()
      await expect(link('jobs.visit_id → visits.id')).toContainText('no row speaks against it')
      await expect(link('jobs.visit_id → visits.id').getByRole('checkbox')).toBeChecked()
      await page.getByRole('button', { name: 'Make the design' }).click()
      await expect(targetLine(page, 'harbour')).toContainText('in step')

      // It is the database itself: what changes there is seen.
      await client.query('ALTER TABLE berths ADD COLUMN depth numeric(4,1)')
      await targetLine(page, 'harbour').click()
      await page.getByRole('button', { name: 'Compare again' }).click()
      await expect(targetLine(page, 'harbour')).toContainText('1 drifted')
    } finally {
      await client.end()
    }
  })

  test('it is asked by its own client, and what that prints is brought in, and compared with later', async ({
    page
  }) => {
    const url = await server.create('far_away')
    const ask = (questions: string) =>
      Buffer.from(
        execFileSync(join(postgresTools, 'psql'), ['-X', '-q', '-A', '-t', '-v', 'ON_ERROR_STOP=1', '-d', url], {
          input: questions
        })
      )
    const choose = async (button: string, buffer: Buffer) => {
      const choosing = page.waitForEvent('filechooser')
      await page.getByRole('button', { name: button }).click()
      await (await choosing).setFiles({ name: 'far_away.jsonl', mimeType: 'text/plain', buffer })
    }
    ask(MADE)
    await page.goto('/bring')
    await page.getByText('One that this app may not reach').click()
    await page.getByLabel('Engine of the questions').selectOption(`PostgreSQL ${postgresVersion}`)
    await expectAccessible(page)
    const saving = page.waitForEvent('download')
    await page.getByRole('button', { name: 'Save the questions' }).click()
    const questions = await readFile(await (await saving).path(), 'utf8')

    await choose('Choose files', Buffer.from(ask(questions).toString().split('\n').slice(0, 9).join('\n')))
    await expect(page.getByRole('alert')).toContainText('have no end')
    await choose('Choose files', ask(questions))
    await expect(page.getByRole('region', { name: 'What was read' })).toContainText('by the engine’s own client')
    await page.getByRole('button', { name: 'Make the design' }).click()
    await targetLine(page, 'far_away.jsonl').click()
    await expect(page.getByText('This target has no database')).toBeVisible()
    ask('ALTER TABLE berths ADD COLUMN depth numeric(4,1)')
    await choose('Compare with files', ask(questions))
    await expect(targetLine(page, 'far_away.jsonl')).toContainText('1 drifted')
    await expect(page.getByText(/Compared with far_away.jsonl, as of 20\d\d-/)).toBeVisible()
  })
})

test('one that is kept in the browser: the new design has a copy of it', async ({ page }) => {
  await openDemo(page)
  await page.goto('/bring')
  await page.getByRole('button', { name: 'Look at dev of Tidewell Harbour' }).click()
  const read = page.getByRole('region', { name: 'What was read' })
  await expect(read).toContainText('tables, each an entity')
  await expectAccessible(page)
  await page.getByLabel('Name of the design').fill('Tidewell as it is')
  await page.keyboard.press('Enter')
  await expect(targetLine(page, 'dev')).toContainText('in step')
  await targetLine(page, 'dev').click()
  await page.getByRole('link', { name: 'Queries' }).click()
  await page.getByLabel('Statements to send').fill('SELECT count(*) > 0 AS some FROM vessel')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByRole('cell', { name: 'true' })).toBeVisible()
})
