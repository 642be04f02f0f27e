// From the demo on the shelf to a database in step: compare, run, be refused, put it right, go on.
import { expect, test } from '@playwright/test'
import { expectAccessible, openDemo, repair, targetLine } from './support'

test('the demo database is brought into step, refusal and repair included', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByRole('link', { name: /Tidewell Harbour/ })).toContainText('18 entities')
  await expectAccessible(page)
  await openDemo(page)
  await expect(targetLine(page, 'dev')).toContainText('10 behind')
  await expectAccessible(page)

  await targetLine(page, 'dev').click()
  const differences = page.getByLabel('Differences')
  await expect(differences.getByRole('row', { name: /loa column, name/ })).toContainText('length_m')
  const steps = page.getByLabel('Plan').getByRole('listitem')
  const failing = steps.filter({ hasText: 'ALTER COLUMN arrives_at SET NOT NULL' })
  await expect(failing).toContainText('2 rows would')
  await expectAccessible(page)

  // A step that loses data is not run before somebody says that they have read it.
  const runAll = page.getByRole('button', { name: 'Run all' })
  await expect(runAll).toBeDisabled()
  await page.getByRole('checkbox', { name: /loses data/ }).check()

  await page.getByRole('button', { name: 'Run next' }).click()
  await expect(steps.first()).toContainText('done in')
  await page.getByRole('button', { name: 'Run next' }).click()
  await expect(steps.nth(1)).toContainText('done in')
  await expect(targetLine(page, 'dev')).toContainText('9 behind')

  await page.getByRole('button', { name: 'Run the rest' }).click()
  await expect(failing.getByRole('alert')).toContainText('contains null values')
  await expect(steps.filter({ hasText: 'DROP COLUMN fax' })).not.toContainText('done in')

  await repair(page, failing, `UPDATE visit SET arrives_at = '2026-03-03 08:00' WHERE arrives_at IS NULL`)
  await expect(failing).toContainText('It ran')
  const firstTime = await steps
    .first()
    .getByText(/done in/)
    .textContent()
  await page.getByRole('button', { name: 'Run the rest' }).click()
  await expect(differences.getByText('In step', { exact: true })).toBeVisible()
  await expect(targetLine(page, 'dev')).toContainText('in step')
  // The first step was not run again.
  expect(
    await steps
      .first()
      .getByText(/done in/)
      .textContent()
  ).toBe(firstTime)
  await expectAccessible(page)

  // The browser and its database come back as they were.
  await page.reload()
  await expect(targetLine(page, 'dev')).toContainText('in step')
})

test('a renamed column is a rename, and its rows stay', async ({ page }) => {
  await openDemo(page)
  const name = page.locator('#cell-ent_pilot-att_pilot_licence-name')
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: 'Find anything' }).fill('licence')
  await page.keyboard.press('Enter')
  await name.dblclick()
  await page.getByRole('textbox', { name: 'Name of licence' }).fill('licence number')
  await page.keyboard.press('Enter')
  await targetLine(page, 'dev').click()
  const row = page.getByLabel('Differences').getByRole('row', { name: /licence_number column, name/ })
  await expect(row).toContainText('licence')
  const step = page
    .getByLabel('Plan')
    .getByRole('listitem')
    .filter({ hasText: 'RENAME COLUMN licence TO licence_number' })
  await expect(step).toContainText('its rows stay')
  await page.getByRole('checkbox', { name: /loses data/ }).check()
  await page.getByRole('button', { name: 'Run all' }).click()
  await expect(step).toContainText('done in')
  const failing = page.getByLabel('Plan').getByRole('listitem').filter({ hasText: 'arrives_at SET NOT NULL' })
  await expect(failing.getByRole('alert')).toBeVisible()
  // Both pilots are still there, under the new name: a wrong count would be a division by zero.
  await repair(
    page,
    failing,
    `UPDATE visit SET arrives_at = now() / (SELECT count(*) - 2 FROM pilot WHERE licence_number LIKE 'TW-%')`
  )
  await expect(failing.getByText(/operator does not exist|division by zero/)).toBeVisible()
  await repair(
    page,
    failing,
    `UPDATE visit SET arrives_at = now() + interval '1 s' * (1 / (SELECT count(*) - 1 FROM pilot WHERE licence_number LIKE 'TW-%')) WHERE arrives_at IS NULL`
  )
  await expect(failing).toContainText('It ran')
})
