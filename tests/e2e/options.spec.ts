// What one engine alone has: said for a target, in its script and its plan at once, and taken away again, by keyboard.
import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, openDemo } from './support'

async function about(page: Page, entity: string) {
  await page.getByRole('button', { name: 'Find anything' }).click()
  await page.keyboard.insertText(entity)
  await page.keyboard.press('Enter')
  await page.getByRole('tablist', { name: 'left pane' }).getByRole('tab', { name: 'Sheet' }).click()
  await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: 'Script' }).click()
  await page.getByRole('button', { name: 'All of it' }).first().click()
}

test('an option is said for one target, is in its script and plan, and is refused where it is none', async ({
  page
}) => {
  await openDemo(page)
  await about(page, 'Agent')
  const part = page.getByRole('group', { name: 'Only in dev' })
  await part.getByLabel('What an option is said of').selectOption('the table')
  await part.getByLabel('Which option').selectOption('persistence')
  await expect(part.getByText('not written to the log')).toBeVisible()
  await part.getByLabel('persistence of the table, to be said').selectOption('unlogged')
  await expect(page.getByText('CREATE UNLOGGED TABLE', { exact: false }).first()).toBeVisible()
  await part.getByLabel('persistence of the table', { exact: true }).selectOption('as usual')
  await expect(page.getByText('CREATE UNLOGGED TABLE', { exact: false })).toHaveCount(0)
  await part.getByLabel('Remove persistence of the table').click()
  await expect(part.getByLabel('persistence of the table', { exact: true })).toHaveCount(0)

  // A setting by its own name; what is no number, or no name, stays where it was typed, with the reason.
  await part.getByLabel('What an option is said of').selectOption('column name')
  await part.getByLabel('Which option').selectOption('statistics')
  const statistics = part.getByLabel('statistics of column name, to be said')
  await statistics.fill('many')
  await statistics.press('Enter')
  await expect(part.getByRole('alert')).toContainText('statistics is a number')
  await expect(statistics).toHaveValue('many')
  await statistics.fill('200')
  await statistics.press('Enter')
  await expect(part.getByLabel('statistics of column name', { exact: true })).toHaveValue('200')
  await expectAccessible(page)
  await page.keyboard.press('Control+z')
  await expect(part.getByLabel('statistics of column name', { exact: true })).toHaveCount(0)
})
