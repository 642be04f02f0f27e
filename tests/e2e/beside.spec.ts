// A database that holds more than tables: what stands beside the design is shown by kind, held by the target, compared, changed
// by a plan that works around it, and is in step at the end.
import { expect, test, type Page } from '@playwright/test'
import pg from 'pg'
import { servers, type Server } from '../support/servers'
import { expectAccessible, openDemo, targetLine } from './support'

test.skip(servers.postgres.lacking !== undefined, servers.postgres.lacking)
let server: Server
test.beforeAll(async () => {
  server = await servers.postgres.start()
})
test.afterAll(() => server?.stop())

const BESIDE = `CREATE TYPE tide AS ENUM ('low', 'high');
  CREATE DOMAIN metres AS numeric(6,2) CHECK (VALUE >= 0);
  CREATE SEQUENCE ticket START 100;
  CREATE FUNCTION loud() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN NEW.name := upper(NEW.name); RETURN NEW; END $$;
  CREATE VIEW named AS SELECT imo, name FROM vessel WHERE name <> '';
  CREATE VIEW counted AS SELECT count(*) AS n FROM named;
  COMMENT ON VIEW counted IS 'how many';
  CREATE TRIGGER loud BEFORE INSERT ON vessel FOR EACH ROW EXECUTE FUNCTION loud();
  ALTER TABLE vessel ENABLE ROW LEVEL SECURITY;
  CREATE POLICY own ON vessel USING (name <> 'hidden');
  GRANT SELECT ON named TO PUBLIC`

const row = (page: Page, name: RegExp) => page.getByLabel('Differences').getByRole('row', { name })

test('what stands beside the design is held, compared line by line, and given back by a plan', async ({ page }) => {
  const url = await server.create('harbour')
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    await openDemo(page)
    await page.getByRole('link', { name: 'Targets' }).click()
    const add = page.getByLabel('Add a target')
    await add.getByLabel('Name').fill('quay')
    await add.getByLabel('Engine').selectOption('PostgreSQL')
    await add.getByLabel('Version').selectOption('15')
    await add.getByLabel('Database').selectOption('on a server')
    await page.getByRole('button', { name: 'Add', exact: true }).click()
    const form = page.getByLabel('Server of quay')
    for (const [label, value] of [
      ['Port', String(server.port)],
      ['Database', 'harbour'],
      ['User', 'postgres']
    ] as const) {
      await form.getByLabel(label).fill(value)
      await form.getByLabel(label).blur()
    }
    await form.getByRole('button', { name: 'Sign in and look' }).click()
    await expect(form.getByRole('status')).toContainText('It answers')
    await targetLine(page, 'quay').click()
    await page.getByRole('button', { name: 'Run all' }).click()
    await expect(targetLine(page, 'quay')).toContainText('in step')

    // Somebody adds what no design says: the target is in step all the same, and shows it by kind.
    await client.query(BESIDE)
    await page.getByRole('button', { name: 'Compare again' }).click()
    const beside = page.getByLabel('Beside the design')
    await expect(beside).toContainText('8 things')
    for (const kind of ['types 2', 'sequences 1', 'routines 1', 'views 2', 'triggers 1', 'row policies 1'])
      await expect(beside.getByRole('heading', { name: new RegExp(kind, 'i') })).toBeVisible()
    await expect(targetLine(page, 'quay')).toContainText('in step')
    await beside.getByRole('button', { name: 'counted', exact: true }).click()
    await expect(beside).toContainText('CREATE VIEW public.counted')
    await expectAccessible(page)

    // Held by the target, it is compared from then on.
    await beside.getByRole('button', { name: 'Hold all of them here' }).click()
    await expect(beside).toBeHidden()
    await expect(targetLine(page, 'quay')).toContainText('in step')
    await client.query(`DROP VIEW counted; CREATE OR REPLACE VIEW named AS SELECT imo, name FROM vessel WHERE name > 'A';
      ALTER TYPE tide ADD VALUE 'slack'`)
    await page.getByRole('button', { name: 'Compare again' }).click()
    await expect(row(page, /^counted view/)).toContainText('none')
    await expect(row(page, /^tide type, values/)).toContainText('low, high, slack')
    await row(page, /^named view, what it reads/)
      .getByRole('button', { name: 'line by line' })
      .click()
    await expect(page.getByLabel('Database has').locator('.cm-changedText').first()).toBeVisible()
    await expectAccessible(page)

    // One is taken as it is, the rest is written: what was given is given back.
    await row(page, /^tide type, values/)
      .getByRole('radio', { name: 'take' })
      .click()
    for (const name of [/^named view, what it reads/, /^counted view/])
      await row(page, name).getByRole('radio', { name: 'write' }).click()
    await page.getByRole('button', { name: 'for quay only' }).click()
    await expect(row(page, /^tide type, values/)).toHaveCount(0)
    await expect(page.getByText('CREATE VIEW public.counted').first()).toBeVisible()
    await page.getByRole('button', { name: 'Run all' }).click()
    await expect(targetLine(page, 'quay')).toContainText('in step')
    const { rows } = await client.query(
      `SELECT pg_get_viewdef('named') AS query, has_table_privilege('public', 'named', 'SELECT') AS may, obj_description('counted'::regclass) AS said`
    )
    // Found by name, it is shown in the script of the target that holds it.
    await page.keyboard.press('Control+k')
    await page.getByRole('combobox', { name: 'Find anything' }).fill('counted')
    await expect(page.getByRole('option', { name: /^counted.*view, held by quay/ })).toBeVisible()
    await page.keyboard.press('Enter')
    await expect(page.locator('.cm-chosen').first()).toContainText('CREATE VIEW public.counted')
    expect(rows).toMatchObject([{ query: expect.stringContaining(`<> ''`), may: true, said: 'how many' }])
  } finally {
    await client.end()
  }
})
