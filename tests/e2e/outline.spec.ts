// The outline: everything by area, schema or kind, narrowed by a part of a name; what is selected there is selected everywhere.
import { expect, test } from '@playwright/test'
import { expectAccessible, openDemo } from './support'

test('a thing is found in the outline by the keyboard, and shown on every step', async ({ page }) => {
  await openDemo(page)
  await page.keyboard.press('Alt+o')
  const outline = page.getByRole('complementary', { name: 'Outline' })
  await expect(outline.getByRole('treeitem', { name: /^Quayside/ })).toBeVisible()
  await outline.getByRole('treeitem', { name: /^Ledger/ }).click()
  await expect(outline.getByRole('treeitem', { name: /^Tariff/ })).toHaveCount(0)
  await expectAccessible(page)

  // A part of a name reaches into what is closed; the keys go from one to the next.
  const narrow = outline.getByLabel('Narrow the outline')
  await narrow.fill('inv')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await expect(outline.getByRole('treeitem', { selected: true })).toContainText('Invoice line')
  await expect(
    page.getByLabel('Name of the entity').or(page.locator('[data-card] >> text=Invoice line')).first()
  ).toBeVisible()
  await outline
    .getByRole('group', { name: 'Next to it' })
    .getByRole('button', { name: /^Invoice it leads to/ })
    .click()
  await expect(outline.getByRole('treeitem', { selected: true })).toHaveText(/^Invoice\s*$/)

  // Only the thing and what is next to it, and everything again.
  const all = await page.locator('[data-card]').count()
  const next = outline.getByRole('group', { name: 'Next to it' })
  await next.getByRole('button', { name: 'only these' }).click()
  await expect(page.locator('[data-card]')).toHaveCount(4)
  await expect(page.getByRole('button', { name: 'only around Invoice' })).toBeVisible()
  await page.getByRole('application').press('Escape')
  await expect(page.locator('[data-card]')).not.toHaveCount(4)
  expect(all).toBeGreaterThan(4)

  // Beside another step it leads to where the thing differs.
  await page.getByRole('link', { name: /^Compare/ }).click()
  await narrow.fill('')
  await outline.getByLabel('by').selectOption('kind')
  await outline.getByRole('treeitem', { name: /^Visit/ }).click()
  await expect(page.getByLabel('Differences').getByRole('row', { name: /^draught/ })).toBeInViewport()
  await page.getByRole('button', { name: 'Outline' }).click()
  await expect(outline).toBeHidden()
})
