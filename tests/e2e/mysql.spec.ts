// MySQL by its stand-in: a target is added and made, asked, refused in the engine's words, changed behind the design's back, and brought
// into step while it holds rows.
import { expect, test } from '@playwright/test'
import { expectAccessible, openDemo, send, targetLine } from './support'

test('a target of MySQL is made in the stand-in, refuses what the engine would, and follows the design', async ({
  page
}) => {
  await openDemo(page)
  await page.getByRole('link', { name: 'Targets' }).click()
  const adding = page.getByRole('form', { name: 'Add a target' })
  await adding.getByLabel('Name').fill('ashore')
  await adding.getByLabel('Engine').selectOption('mysql')
  await adding.getByLabel('Version').selectOption('8.0')
  await expect(adding).toContainText('a stand-in answers in its place')
  await expect(adding).toContainText('runs no triggers or routines')
  await expectAccessible(page)
  await adding.getByRole('button', { name: 'Add' }).click()
  await expect(targetLine(page, 'ashore')).toContainText('behind')
  await targetLine(page, 'ashore').click()
  await expect(page.getByLabel('Plan')).toContainText('makes the table vessel')
  await page.getByRole('button', { name: 'Run all' }).click()
  await expect(targetLine(page, 'ashore')).toContainText('in step', { timeout: 60_000 })
  await expect(targetLine(page, 'ashore')).toContainText('stand-in')

  await page.getByRole('link', { name: 'Queries' }).click()
  const answer = page.getByRole('article', { name: 'Answer 1' })
  await send(page, 'SELECT version() AS version, count(*) AS tables FROM information_schema.tables')
  await expect(answer).toContainText('8.0.0-stand-in')
  await page.getByLabel('Read only').uncheck()
  await send(page, 'CREATE TABLE slip (id int NOT NULL AUTO_INCREMENT PRIMARY KEY, depth decimal(4,1) NOT NULL)')
  await send(page, 'INSERT INTO slip (depth) VALUES (12345.6)')
  await expect(answer).toContainText("Out of range value for column 'depth'")
  await send(page, 'INSERT INTO slip (depth) VALUES (4.25), (6)')
  await expect(answer).toContainText('2 rows')
  await send(page, 'SELECT id, depth FROM slip WHERE depth > 5')
  await expect(answer).toContainText('1 row')
  await expectAccessible(page)

  // What somebody has made there is a difference, and goes by a step that says what it loses.
  await page.getByRole('link', { name: 'Differences' }).click()
  await expect(page.getByRole('row', { name: /slip table/ })).toContainText('database')
  await page.reload()
  await expect(page.getByRole('row', { name: /slip table/ })).toContainText('database')
})
