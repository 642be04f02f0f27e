// In step, three ways: who changed what, which way each difference goes, locked targets, runs that are cut off, queries.
import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, openDemo, targetLine } from './support'

const differences = (page: Page) => page.getByLabel('Differences')
const row = (page: Page, name: RegExp) => differences(page).getByRole('row', { name })
const choose = (page: Page, name: RegExp, way: 'write' | 'take' | 'leave') =>
  row(page, name).getByRole('radio', { name: way }).click()
const steps = (page: Page) => page.getByLabel('Plan').getByRole('listitem').filter({ hasText: ';' })
const acceptLoss = (page: Page) => page.getByRole('checkbox', { name: /loses? data/ }).check()

test('three targets say in words how far they are, and three states stand side by side', async ({ page }) => {
  await openDemo(page)
  await expect(targetLine(page, 'dev')).toContainText('10 behind')
  await expect(targetLine(page, 'test')).toContainText('in step')
  await expect(targetLine(page, 'production')).toContainText('9 behind · 1 drifted · 1 both')
  await expect(targetLine(page, 'production').getByLabel('locked')).toBeVisible()

  await targetLine(page, 'production').click()
  await expect(row(page, /depth column, type/)).toContainText('changed on both sides')
  for (const state of ['numeric(4,1)', 'numeric(3,1)', 'numeric(5,2)'])
    await expect(row(page, /depth column, type/)).toContainText(state)
  await expect(row(page, /service column, type/)).toContainText('changed in the database')
  await expect(row(page, /fax column/)).toContainText('changed in the design')
  // What somebody else did is left until a person says.
  for (const name of [/depth column, type/, /service column, type/])
    await expect(row(page, name).getByRole('radio', { name: 'leave' })).toBeChecked()
  await expect(row(page, /fax column/).getByRole('radio', { name: 'write' })).toBeChecked()
  await page.getByRole('button', { name: /by the database 1/ }).click()
  await expect(row(page, /fax column/)).toBeHidden()
  await expect(row(page, /service column, type/)).toBeVisible()
  await expectAccessible(page)
})

test('a change of the database is taken into the design, or for one target only, or kept different', async ({
  page
}) => {
  await openDemo(page)
  await targetLine(page, 'production').click()
  await choose(page, /service column, type/, 'take')
  await page.getByRole('button', { name: 'for every target' }).click()
  // The design has it now: production agrees, and the others are behind by it.
  await expect(row(page, /service column, type/)).toBeHidden()
  await expect(targetLine(page, 'production')).toContainText('9 behind · 1 both')
  await expect(targetLine(page, 'dev')).toContainText('11 behind')
  await expect(targetLine(page, 'test')).toContainText('1 behind')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(targetLine(page, 'dev')).toContainText('10 behind')

  await choose(page, /service column, type/, 'take')
  await page.getByRole('button', { name: 'for production only' }).click()
  await expect(targetLine(page, 'production')).toContainText('9 behind · 1 both')
  await expect(targetLine(page, 'dev')).toContainText('10 behind')

  await row(page, /depth column, type/)
    .getByRole('button', { name: 'keep different' })
    .click()
  await page.getByLabel(/Why depth stays different/).fill('the harbour office measures finer')
  await page.getByRole('button', { name: 'Keep different for good' }).click()
  await expect(targetLine(page, 'production')).toHaveText(/9 behind$/)
  await expect(page.getByText('the harbour office measures finer')).toBeVisible()
  await page.reload()
  await expect(targetLine(page, 'production')).toHaveText(/9 behind$/)
})

test('choosing a thing chooses what it needs, and says so', async ({ page }) => {
  await openDemo(page)
  await targetLine(page, 'dev').click()
  await page.getByRole('button', { name: 'leave', exact: true }).first().click()
  await expect(page.getByText('Nothing to write')).toBeVisible()
  await choose(page, /ck_visit_draught_range check/, 'write')
  await expect(row(page, /^draught column/)).toContainText('comes along: ck_visit_draught_range needs it')
  await expect(steps(page).first()).toContainText('ADD COLUMN draught')
})

test('a locked target runs nothing until its name is typed, and then for that run only', async ({ page }) => {
  await openDemo(page)
  await targetLine(page, 'production').click()
  await acceptLoss(page)
  const runNext = page.getByRole('button', { name: 'Run next' })
  await expect(runNext).toBeDisabled()
  await page.getByLabel('Type production to unlock it for this run').fill('productio')
  await expect(page.getByRole('button', { name: 'Unlock for this run' })).toBeDisabled()
  await page.getByLabel('Type production to unlock it for this run').fill('production')
  await page.getByRole('button', { name: 'Unlock for this run' }).click()
  await runNext.click()
  await expect(steps(page).first()).toContainText('done in')
  await page.getByRole('button', { name: 'Compare again' }).click()
  await expect(page.getByLabel('Type production to unlock it for this run')).toBeVisible()

  // The record of it.
  await page.getByRole('link', { name: 'Runs' }).click()
  await expect(page.getByText('stopped between steps')).toBeVisible()
  await expect(page.getByText('DROP CONSTRAINT ck_vessel_trade')).toBeVisible()
  const saving = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save as CSV' }).click()
  expect((await saving).suggestedFilename()).toBe('production-runs.csv')
  await expectAccessible(page)
})

test('a run whose tab was killed is taken up where it was, and nothing is run twice', async ({ page, context }) => {
  await openDemo(page)
  await targetLine(page, 'dev').click()
  // The first takes so long that what is before it is told; in the second the tab is closed.
  for (const { anchor, seconds } of [
    { anchor: 'RENAME CONSTRAINT', seconds: 3 },
    { anchor: 'ALTER COLUMN depth', seconds: 8 }
  ]) {
    const step = steps(page).filter({ hasText: anchor })
    await step.getByRole('button', { name: 'before' }).click()
    await step.getByLabel(/A statement of your own/).fill(`SELECT pg_sleep(${seconds})`)
    await page.keyboard.press('Enter')
    await expect(steps(page).filter({ hasText: `pg_sleep(${seconds})` })).toBeVisible()
  }
  await acceptLoss(page)
  await page.getByRole('button', { name: 'Run all' }).click()
  await expect(steps(page).nth(1)).toContainText('done in')
  await page.close({ runBeforeUnload: false })

  const again = await context.newPage()
  await again.goto('/')
  await again.getByRole('link', { name: /Tidewell Harbour/ }).click()
  await targetLine(again, 'dev').click()
  await again.getByRole('button', { name: 'Take it up where it was' }).click()
  await expect(steps(again).first()).toContainText('was done already')
  await expect(steps(again).nth(1)).toContainText('was done already')
  await expect(differences(again).getByText('by the database')).toHaveCount(0)
  await expect(differences(again).getByText(/by both/)).toHaveCount(0)
  await acceptLoss(again)
  await again.getByRole('button', { name: 'Run the rest' }).click()
  await expect(again.getByLabel('Plan').getByRole('alert')).toContainText('contains null values')
  await again.getByRole('link', { name: 'Runs' }).click()
  // What was run before the cut and after it is one record, and each statement stands there once.
  await expect(again.getByText('DROP CONSTRAINT ck_vessel_trade')).toHaveCount(1)
  await expect(again.getByText('RENAME COLUMN length_m TO loa')).toHaveCount(1)
  await expect(again.getByText('a step was refused')).toHaveCount(1)
})

test('a plan is not run on a database that somebody changed meanwhile', async ({ page }) => {
  await openDemo(page)
  await targetLine(page, 'dev').click()
  await expect(steps(page).first()).toBeVisible()
  await page.getByRole('link', { name: 'Queries' }).click()
  await page.getByRole('checkbox', { name: /Read only/ }).uncheck()
  await page.getByLabel('Statements to send').fill('ALTER TABLE pilot ADD COLUMN badge text')
  await page.getByRole('button', { name: 'Send' }).click()
  await expect(page.getByText(/rows changed/)).toBeVisible()
  await page.getByRole('link', { name: 'Differences' }).click()
  await acceptLoss(page)
  await page.getByRole('button', { name: 'Run all' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'not what this plan was made for' })).toContainText(
    'pilot.badge'
  )
  await page.getByRole('alert').getByRole('button', { name: 'Compare again' }).click()
  await expect(row(page, /badge column/)).toContainText('changed in the database')
})

test('a step of one’s own keeps its place when the plan is made again', async ({ page }) => {
  await openDemo(page)
  await targetLine(page, 'dev').click()
  const filling = steps(page).filter({ hasText: 'arrives_at SET NOT NULL' })
  await filling.getByRole('button', { name: 'before' }).click()
  await page
    .getByLabel(/A statement of your own, before step/)
    .fill(`UPDATE visit SET arrives_at = now() WHERE arrives_at IS NULL`)
  await page.getByRole('button', { name: 'Put it there' }).click()
  await expect(steps(page).filter({ hasText: 'UPDATE visit' })).toBeVisible()
  await choose(page, /fax column/, 'leave')
  await expect(steps(page).filter({ hasText: 'DROP COLUMN fax' })).toHaveCount(0)
  await expect(steps(page).filter({ hasText: 'UPDATE visit' })).toBeVisible()
  await page.getByRole('button', { name: 'Run all' }).click()
  await expect(targetLine(page, 'dev')).toContainText('1 behind')
})

test('queries: several answers, read-only unless said otherwise, kept with the design, and what was sent before', async ({
  page
}) => {
  await openDemo(page)
  await targetLine(page, 'test').click()
  await page.getByRole('link', { name: 'Queries' }).click()
  const editor = page.getByLabel('Statements to send')
  await editor.fill('SELECT name, loa FROM vessel ORDER BY imo; SELECT count(*) AS n FROM visit')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByLabel('Rows of answer 1')).toContainText('Maré Alta')
  await expect(page.getByRole('article', { name: 'Answer 2' })).toContainText('1 row')
  await editor.fill('DELETE FROM visit')
  await page.getByRole('button', { name: 'Send' }).click()
  await expect(page.getByRole('alert')).toContainText('readonly')
  await page.getByLabel('Name to keep this query by').fill('empty the visits')
  await page.getByRole('button', { name: 'Keep' }).click()
  await expectAccessible(page)
  await page.reload()
  await page.getByRole('button', { name: 'empty the visits', exact: true }).click()
  await expect(editor).toHaveText('DELETE FROM visit')
  await expect(page.getByLabel('Kept and sent')).toContainText('SELECT name, loa FROM vessel')
})

test('a database that nobody agreed with before is taken as it is, and nothing is run', async ({ page }) => {
  await openDemo(page)
  await page.getByRole('link', { name: 'Targets' }).click()
  await page.getByLabel('Add a target').getByLabel('Name').fill('yard')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await targetLine(page, 'yard').click()
  await page.getByRole('link', { name: 'Queries' }).click()
  await page.getByRole('checkbox', { name: /Read only/ }).uncheck()
  await page
    .getByLabel('Statements to send')
    .fill('CREATE TABLE country (iso char(2) PRIMARY KEY, name text); CREATE TABLE crane (id int)')
  await page.getByRole('button', { name: 'Send' }).click()
  await expect(page.getByRole('article', { name: 'Answer 2' })).toContainText('changed')
  await page.getByRole('link', { name: 'Differences' }).click()
  await page.getByRole('button', { name: 'Compare again' }).click()
  await expect(row(page, /crane table/)).toContainText('never agreed on')
  await page.getByRole('button', { name: 'Take the database as it is for agreed' }).click()
  await expect(row(page, /crane table/)).toContainText('changed in the database')
  await expect(row(page, /name column, type/)).toContainText('changed in the design')
})
