// A view designed from the keyboard: it is drawn, written, run and in step on two engines, and a new name of what it reads
// reaches it.
import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, openDemo, targetLine } from './support'

const find = async (page: Page, what: string) => {
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: 'Find anything' }).fill(what)
  await page.keyboard.press('Enter')
}

test('a view is designed, drawn, run and follows new names', async ({ page }) => {
  await openDemo(page)
  await find(page, 'New view')
  const panel = page.getByRole('group', { name: 'The view Berth use', exact: true })
  const name = page.getByRole('group', { name: 'The view View', exact: true }).getByLabel('View', { exact: true })
  await name.fill('Visit')
  await name.press('Enter')
  await expect(page.getByRole('alert').filter({ hasText: 'There is an entity “Visit” already.' })).toBeVisible()
  await name.fill('Berth use')
  await name.press('Enter')

  // What is no whole query is told, and nothing is kept of it.
  const query = panel.getByRole('textbox', { name: /^Query of the view/ })
  await query.click()
  await page.keyboard.type('SELECT (b.quay FROM berth b')
  await page.keyboard.press('Control+Enter')
  await expect(panel.getByRole('alert')).toContainText('is never closed')
  await page.keyboard.press('Control+a')
  await page.keyboard.type(
    'SELECT b.quay, count(*) AS visits FROM berth b JOIN visit v ON v.berth_code = b.code GROUP BY b.quay'
  )
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+Enter')
  await expect(panel.getByRole('button', { name: 'Keep the query' })).toBeDisabled()
  const card = page.locator('[data-card]').filter({ hasText: 'Berth use' })
  await expect(card).toContainText('Visit')
  await expectAccessible(page)

  // SQLite has the demo's tables already; PostgreSQL is new, and prints a view in words of its own.
  await page.getByRole('link', { name: 'Targets' }).click()
  const add = page.getByLabel('Add a target')
  await add.getByLabel('Name').fill('quay')
  await add.getByLabel('Engine').selectOption('PostgreSQL')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  const run = async (target: string) => {
    await targetLine(page, target).click()
    await expect(
      page
        .getByLabel('Plan')
        .getByText(/CREATE VIEW (public\.)?berth_use/)
        .first()
    ).toBeVisible()
    await page.getByRole('button', { name: 'Run all' }).click()
    await expect(targetLine(page, target)).toContainText('in step', { timeout: 30_000 })
    await page.getByRole('button', { name: 'Compare again' }).click()
    await expect(page.getByLabel('Differences').getByText('In step', { exact: true })).toBeVisible()
  }
  await run('test')
  await run('quay')

  await page.getByRole('link', { name: 'Draft' }).click()
  await find(page, 'quay')
  await page.locator('#cell-ent_berth-att_berth_quay-name').dblclick()
  await page.getByRole('textbox', { name: 'Name of quay' }).fill('basin')
  await page.keyboard.press('Enter')
  await find(page, 'Berth use')
  await expect(panel.getByText('b.basin').first()).toBeVisible()
  await run('test')
  await run('quay')

  // What it reads goes: the view says so, and is left out until it is mended; undone, it is whole.
  await page.getByRole('link', { name: 'Draft' }).click()
  await find(page, 'Berth')
  await page.getByRole('button', { name: 'Remove the entity Berth', exact: true }).click()
  await find(page, 'Berth use')
  await expect(panel.getByRole('alert')).toContainText('which is not there')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(panel.getByRole('alert')).toHaveCount(0)
})
