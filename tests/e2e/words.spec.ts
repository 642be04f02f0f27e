// Domains and short words: brought from a script, changed in one place, followed by every column and name.
import { expect, test } from '@playwright/test'
import { expectAccessible, openDemo, targetLine } from './support'

const SCRIPT = `CREATE TABLE vssl (id serial PRIMARY KEY, gross_wgt numeric(9,2), remark varchar(200));
CREATE TABLE berth (code varchar(8) PRIMARY KEY, max_wgt numeric(9,2), remark varchar(200));
CREATE TABLE visit (id serial PRIMARY KEY, vssl_id integer, cargo_qty integer, landed_wgt numeric(9,2), remark varchar(200));`

test('domains and short words come with a script, and are changed in one place', async ({ page }) => {
  await page.goto('/bring')
  const choosing = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Choose files' }).click()
  await (await choosing).setFiles({ name: 'tidewell.sql', mimeType: 'text/plain', buffer: Buffer.from(SCRIPT) })
  const unsaid = page.getByRole('region', { name: 'What it leaves unsaid' })
  await unsaid.getByRole('checkbox', { name: /visit.vssl_id → vssl.id/ }).uncheck()
  await unsaid.getByText('Domains', { exact: true }).click()
  await unsaid.getByRole('checkbox', { name: /Remark: text\(200\)/ }).check()
  await unsaid.getByText('Short words', { exact: true }).click()
  await expect(unsaid.getByRole('checkbox', { name: /wgt.*is weight/ })).toBeChecked()
  // One that no list knows is said; the names follow.
  const say = unsaid.getByRole('form', { name: 'Say a short word' })
  await say.getByLabel('Short word').fill('vssl')
  await say.getByLabel('What it is short for').fill('vessel')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('region', { name: 'What would come' }).getByRole('listitem')).toHaveText([
    /berth.*Berth/,
    /visit.*Visit/,
    /vssl.*Vessel/
  ])
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Make the design' }).click()

  // The names that the database has are not changed by it.
  const right = page.getByRole('tablist', { name: 'right pane' })
  await right.getByRole('tab', { name: 'Script' }).click()
  await expect(page.getByText('CREATE TABLE public.vssl').first()).toBeVisible()
  await expect(page.getByText('landed_wgt numeric(9,2)').first()).toBeVisible()
  await right.getByRole('tab', { name: 'Words' }).click()
  const domains = page.getByRole('region', { name: 'Domains' })
  await expect(domains.getByRole('listitem', { name: 'Domain Remark' })).toContainText('3 columns')
  const length = domains.getByLabel('Type of Remark')
  await length.fill('txt')
  await length.blur()
  await expect(page.getByRole('alert')).toContainText('no type')
  await expect(length).toHaveValue('text(200)')
  await length.fill('text(400)')
  await length.blur()
  await expectAccessible(page)

  // What was not said when it was brought in can be said later, and taken back.
  const unsaidYet = page.getByRole('region', { name: 'Left unsaid' })
  await expect(unsaidYet.getByRole('button', { name: 'Say visit.vssl_id → vssl.id' })).toBeVisible()
  await unsaidYet.getByRole('button', { name: 'Say visit.vssl_id → vssl.id' }).click()
  await expect(unsaidYet.getByRole('button', { name: 'Say visit.vssl_id → vssl.id' })).toHaveCount(0)
  await expect(unsaidYet.getByRole('button', { name: 'Say visit (vssl_id)' })).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(unsaidYet.getByRole('button', { name: 'Say visit.vssl_id → vssl.id' })).toBeVisible()

  // A column joins one by its name, in the sheet.
  const add = domains.getByRole('form', { name: 'Add a domain' })
  await add.getByLabel('Name of the new domain').fill('Weight')
  await add.getByLabel('Type of the new domain').fill('decimal(11,3)')
  await page.keyboard.press('Enter')
  await expect(domains.getByRole('listitem', { name: 'Domain Weight' })).toContainText('no columns')
  const words = page.getByRole('region', { name: 'Short words' })
  await words.getByLabel('What qty is short for').fill('amount')
  await words.getByLabel('What qty is short for').blur()
  await right.getByRole('tab', { name: 'Sheet' }).click()
  const cell = page.getByRole('row', { name: /landed weight/ }).locator('[id$="-type"]')
  await cell.dblclick()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Weight')
  await page.keyboard.press('Enter')
  await expect(cell).toHaveText('Weight')
  await right.getByRole('tab', { name: 'Script' }).click()
  await expect(page.getByText('landed_wgt numeric(11,3)').first()).toBeVisible()
  await expect(page.getByText('remark varchar(400)')).toHaveCount(3)
  // A name that follows the rules follows the list, too.
  await expect(page.getByText('cargo_quantity integer').first()).toBeVisible()
  await expect(targetLine(page, 'tidewell.sql')).toBeVisible()
})

test('names follow other rules once it was seen what they change', async ({ page }) => {
  await openDemo(page)
  const right = page.getByRole('tablist', { name: 'right pane' })
  await right.getByRole('tab', { name: 'Words' }).click()
  const rules = page.getByRole('region', { name: 'Names by rule' })
  await rules.getByLabel('How tables are called').selectOption('by many: vessels')
  await expect(rules.getByRole('status')).toContainText('names would change in PostgreSQL 18')
  await expect(rules.getByRole('listitem').filter({ hasText: 'cargo_lines' }).first()).toBeVisible()
  await rules.getByLabel('Names of indexes').fill('idx')
  await expect(rules.getByRole('alert')).toContainText('{table}')
  await rules.getByLabel('Names of indexes').fill('idx_{table}_{columns}')
  await expect(rules.getByRole('alert')).toHaveCount(0)
  await expectAccessible(page)
  await rules.getByRole('button', { name: 'Use these rules' }).click()
  // One target departs from them.
  await rules.getByLabel('Whose rules for names').selectOption('production only')
  await rules.getByLabel('The letters of names').selectOption('humps: CargoLine')
  await expect(rules.getByRole('listitem').filter({ hasText: 'CargoLines' }).first()).toBeVisible()
  await rules.getByRole('button', { name: 'Use these rules' }).click()
  await right.getByRole('tab', { name: 'Script' }).click()
  const script = page.getByLabel('Script of the design')
  await expect(script).toContainText('CREATE TABLE public.agents')
  await page.getByLabel('Script for').selectOption('production, PostgreSQL 18')
  await expect(script).toContainText('CREATE TABLE public."Agents"')
  await page.getByLabel('Script for').selectOption('dev, PostgreSQL 18')
  for (let back = 0; back < 2; back++) await page.getByRole('button', { name: 'Undo' }).click()
  await expect(script).toContainText('CREATE TABLE public.agent (')
})
