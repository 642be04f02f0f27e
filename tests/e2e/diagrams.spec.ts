// Diagrams are made, filled, named, copied and taken away.
import { expect, test } from '@playwright/test'
import { expectAccessible, openDemo } from './support'

test('diagrams are made of nothing, of an area and around something; things are put on them and taken off', async ({
  page
}) => {
  await openDemo(page)
  const list = page.getByRole('combobox', { name: 'Diagram', exact: true })
  const cards = page.locator('[data-card]')
  await page.getByRole('button', { name: 'Diagrams' }).click()
  const bar = page.getByRole('group', { name: 'Diagrams' })
  await expectAccessible(page)

  await bar.getByLabel('New diagram').selectOption('of nothing yet')
  await expect(page.getByText('An empty chart')).toBeVisible()
  await bar.getByLabel('Put on this diagram').selectOption('Berth')
  await bar.getByLabel('Put on this diagram').selectOption('Visit')
  await expect(cards).toHaveCount(2)
  await bar.getByLabel('Diagram', { exact: true }).fill('Moorings')
  await page.keyboard.press('Enter')
  await expect(list).toContainText('Moorings')
  await bar.getByLabel('Diagram', { exact: true }).fill('Whole harbour')
  await page.keyboard.press('Enter')
  await expect(bar.getByRole('alert')).toContainText('There is a diagram Whole harbour already')

  const berth = page.locator('[data-card=ent_berth]')
  await berth.click()
  await bar.getByLabel('New diagram').selectOption('around Berth')
  // It, the visits there, and its tide gauge.
  await expect(cards).toHaveCount(3)
  await expect(berth).toBeVisible()
  await bar.getByRole('button', { name: 'Take Berth off it' }).click()
  await expect(berth).toHaveCount(0)
  await expect(cards).toHaveCount(2)

  await bar.getByLabel('New diagram').selectOption('of Ledger')
  await expect(cards).toHaveCount(3)
  await bar.getByRole('button', { name: 'Copy it' }).click()
  await expect(list).toContainText('copy')
  await bar.getByRole('button', { name: 'Remove it' }).click()
  await expect(list).not.toContainText('copy')
  await expect(list).toContainText('Whole harbour')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(list).toContainText('copy')
})

test('diagrams have an order; cards are grey or hidden on one alone; facts stand amid their dimensions', async ({
  page
}) => {
  await openDemo(page)
  const list = page.getByRole('combobox', { name: 'Diagram', exact: true })
  const cards = page.locator('[data-card]')
  await page.getByRole('button', { name: 'Diagrams' }).click()
  const bar = page.getByRole('group', { name: 'Diagrams' })
  await bar.getByRole('button', { name: 'Later' }).click()
  await expect(list.locator('option').nth(1)).toHaveText('Whole harbour')
  await bar.getByRole('button', { name: 'Earlier' }).click()
  await expect(list.locator('option').first()).toHaveText('Whole harbour')

  await bar.getByLabel('New diagram').selectOption('of Ledger')
  await expect(cards).toHaveCount(3)
  await page.getByRole('application').focus()
  await page.keyboard.press('Control+a')
  const chosen = page.getByRole('group', { name: 'Cards that are chosen' })
  await chosen.getByRole('button', { name: 'Hide here' }).click()
  await expect(cards).toHaveCount(0)
  await page.getByRole('button', { name: 'Look', exact: true }).click()
  await page.getByRole('button', { name: 'Show all 3 that are grey or hidden' }).click()
  await expect(cards).toHaveCount(3)

  await page.getByRole('button', { name: 'Diagrams' }).click()
  await bar.getByLabel('New diagram').selectOption('of facts and dimensions')
  const roles = page.getByRole('list', { name: 'Facts and dimensions' })
  await expect(roles.getByRole('listitem').filter({ hasText: 'has 1 measure (weight)' })).toContainText('Cargo line')
  await roles.getByLabel('What Cargo line is').selectOption('neither')
  await page.getByRole('button', { name: 'Fit' }).click()
  await expect(page.locator('[data-card=ent_invoice_line]')).toContainText('fact')
  await expect(page.locator('[data-card=ent_cargo_line]')).not.toContainText('fact')
  await expectAccessible(page)
})
