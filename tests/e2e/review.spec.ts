import { expect, test } from '@playwright/test'
import { expectAccessible, openDemo } from './support'

test('a design is looked over, mended, graded with a reason, and checked by a rule of its own', async ({ page }) => {
  await openDemo(page)
  const step = page.getByRole('navigation', { name: 'Steps' }).getByRole('link', { name: /^Review/ })
  await step.click()
  const missing = page.getByRole('article', { name: 'Foreign key without an index' })
  await expect(missing).toContainText('17')
  await expectAccessible(page)

  // One, all, and back.
  await missing.getByRole('button', { name: 'Add an index: Agent: no index begins with the link to Country.' }).click()
  await expect(missing).toContainText('16')
  await missing.getByRole('button', { name: 'Mend all 16' }).click()
  await expect(missing).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(missing).toContainText('17')

  // From a finding to its place.
  await page.getByRole('link', { name: 'Show: Tide gauge: name is text(60)' }).click()
  await expect(page.getByRole('row', { selected: true })).toContainText('text(60)')
  await step.click()

  // Passed over in one place, and in all, each with a reason.
  await page.getByRole('button', { name: 'Not here: Tide gauge: name' }).click()
  const form = page.getByRole('form', { name: 'Count it otherwise' })
  await expect(form.getByRole('button', { name: 'Keep' })).toBeDisabled()
  await page.keyboard.type('Gauges have short names')
  await page.keyboard.press('Enter')
  const names = page.getByRole('article', { name: 'One name, different types' })
  await expect(names).not.toContainText('Tide gauge')
  const otherwise = page.getByRole('region', { name: 'Counts otherwise' })
  await expect(otherwise).toContainText('Gauges have short names')
  await names.getByRole('button', { name: 'Count it otherwise' }).click()
  await form.getByLabel('How much it counts').selectOption('likely trouble')
  await form.getByLabel('The reason').fill('We copy names')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('region', { name: 'Likely trouble' })).toContainText('One name, different types')
  await expect(step).toContainText('2')
  await otherwise.getByRole('button', { name: 'Take back: One name, different types for Tide gauge: name' }).click()
  await expect(step).toContainText('3')

  // A rule of its own: nothing is saved or run against it, and all is shown.
  await page.getByRole('button', { name: 'Add a check' }).click()
  const own = page.getByRole('form', { name: 'A check of your own' })
  await own.getByLabel('Name').fill('Every entity says what it is')
  await own.getByLabel('What is wrong').fill('entities[name = ')
  await own.getByRole('button', { name: 'Keep' }).click()
  await expect(own.getByRole('alert')).toBeVisible()
  await own
    .getByLabel('What is wrong')
    .fill('entities[name = "Tug"].{ "id": id, "says": name & " is too short a name" }')
  await own.getByLabel('Counts as').selectOption('must be mended')
  await expectAccessible(page)
  await own.getByRole('button', { name: 'Keep' }).click()
  await expect(page.getByRole('region', { name: 'Must be mended' })).toContainText('Tug is too short a name')
  await page.getByRole('link', { name: 'Draft' }).click()
  await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: 'Script' }).click()
  await expect(page.getByLabel('Script of the design')).toContainText('CREATE TABLE')
  await expect(page.getByRole('toolbar', { name: 'Script' }).getByRole('button', { name: 'Save' })).toBeDisabled()
  // It travels with the design.
  await page.reload()
  await step.click()
  await expect(page.getByRole('region', { name: 'Must be mended' })).toContainText('Tug is too short a name')
})
