// The design in words: typed, followed by every lens, and following them.
import { expect, test } from '@playwright/test'
import { expectAccessible, openBlank, openDemo } from './support'

test('a design is typed in words; the script follows, mistakes cost their line alone, and undo is one for all lenses', async ({
  page
}) => {
  await openBlank(page)
  await page.getByRole('tablist', { name: 'left pane' }).getByRole('tab', { name: 'Text' }).click()
  await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: 'Script' }).click()
  const text = page.getByRole('textbox', { name: 'The design in words' })
  const script = page.getByLabel('Script of the design')
  await expect(text).toContainText('jot 1')
  await text.focus()
  await page.keyboard.press('Control+End')
  const typed = [
    '',
    'entity Berth',
    '  code: text(8) key',
    '',
    'entity Visit',
    '  # who lies where',
    '  berth: Berth required',
    '  arrives at: required',
    '  departs at:',
    '  check (departs at > arrives at)'
  ]
  for (const line of typed) {
    await page.keyboard.press('Escape')
    await page.keyboard.insertText(`\n${line}`)
  }
  await expect(script).toContainText('CREATE TABLE public.visit')
  await expect(script).toContainText('CHECK (departs_at > arrives_at)')
  await expect(script).toContainText('fk_visit_berth')
  await expectAccessible(page)

  // A line that is none is told, and all else stays.
  await text.focus()
  await page.keyboard.press('Control+End')
  await page.keyboard.insertText('\n  draught: desimal(4,1)')
  await expect(page.getByRole('status').filter({ hasText: '1 mistake' })).toBeVisible()
  await expect(page.getByText('“desimal(4,1)” is no type')).toBeVisible()
  await expect(script).toContainText('CHECK (departs_at > arrives_at)')
  for (let i = 0; i < 'desimal(4,1)'.length; i++) await page.keyboard.press('Backspace')
  await page.keyboard.type('dec')
  await page.keyboard.press('Escape')
  await expect(script).toContainText('draught numeric(12,2)')

  // Another lens changes only the line that it concerns.
  await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: 'Sheet' }).click()
  const cell = page.getByRole('row', { name: /departs at/ }).locator('[id$="-name"]')
  await cell.dblclick()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('leaves at')
  await page.keyboard.press('Enter')
  await expect(text).toContainText('leaves at: timestamp')
  await expect(text).toContainText('check (leaves at > arrives at)')
  // The cursor selects, on every lens.
  await text.getByText('draught').click()
  await expect(page.getByRole('row', { name: /draught/ })).toHaveAttribute('aria-selected', 'true')
  await text.focus()
  await page.keyboard.press('Control+z')
  await expect(text).toContainText('departs at')
  await expect(page.getByRole('row', { name: /departs at/ })).toBeVisible()
})

test('the demo is there in words; a name that is changed in its line is a new name in every database', async ({
  page
}) => {
  await openDemo(page)
  await page.getByRole('tablist', { name: 'left pane' }).getByRole('tab', { name: 'Text' }).click()
  const text = page.getByRole('textbox', { name: 'The design in words' })
  await expect(text).toContainText('area Ledger')
  await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: 'Script' }).click()
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: 'Find anything' }).fill('issued on')
  await page.keyboard.press('Enter')
  await expect(text.locator('.cm-chosen')).toContainText('issued on: date')
  await text.locator('.cm-chosen').click()
  await page.keyboard.press('Home')
  for (let i = 0; i < 'issued'.length; i++) await page.keyboard.press('Shift+ArrowRight')
  await page.keyboard.type('sent')
  await expect(text).toContainText('sent on: date')
  await page.getByLabel('Of what').selectOption('what its database lacks')
  await expect(page.getByLabel('Script of the design')).toContainText('RENAME COLUMN issued_on TO sent_on')
  await page.reload()
  await expect(text).toContainText('sent on: date')
})
