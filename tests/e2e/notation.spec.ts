// Drafting in words: a whole schema by keyboard alone, names, mends, what is pasted, what is nested, and texts as files.
import { readFile } from 'node:fs/promises'
import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, openBlank } from './support'

const pane = (page: Page, side: 'left' | 'right', tab: string) =>
  page
    .getByRole('tablist', { name: `${side} pane` })
    .getByRole('tab', { name: tab })
    .click()
const words = (page: Page) => page.getByRole('textbox', { name: 'The design in words' })

/** To the end of the text, once the design is there. */
async function begin(page: Page) {
  await expect(words(page)).toContainText('jot 1')
  await words(page).focus()
  await page.keyboard.press('Control+End')
}

/** Types lines as a person would: the list of words is left by Escape before a new line. */
async function type(page: Page, lines: readonly string[]) {
  for (const line of lines) {
    await page.keyboard.press('Escape')
    await page.keyboard.insertText(`\n${line}`)
  }
  await page.keyboard.press('Escape')
}

/** Key by key: the editor moves lines in, and an empty line ends what stands above. */
async function typeByKeys(page: Page, lines: readonly string[]) {
  for (const line of lines) {
    await page.keyboard.press('Enter')
    if (/^\S/.test(line)) await page.keyboard.press('Enter')
    await page.keyboard.type(line.trim())
  }
}

const TWELVE = `
every table begins th_
domain Money: decimal(12,2) min 0
domain Code: text(8) upper
entity Country
  code: char(2) key
  name: text(80) required unique
entity Port
  code: Code key
  country: Country required
entity Agent
  name: required
  mail:
entity Vessel
  imo: integer required unique
  name: text(80) required
  flag: Country required
  agent: Agent
  trade: one of (bulk, tanker, ferry) default ferry
entity Quay
  name: text(60) key
entity Berth
  part of Quay
  no: small key
  depth: decimal(5,2) required min 0
entity Visit
  vessel: Vessel required on delete cascade
  berth: Berth
  arrives at: required
  departs at:
  check (departs at > arrives at)
  index (arrives at desc, vessel)
entity Cargo line
  part of Visit
  line no: small key
  goods: text(120) required
entity Pilot
  licence: text(12) required unique
  may board: many Vessel
entity Tariff
  valid from: date required
  amount: Money required
  quay: Quay required
  unique (quay, valid from)
entity Invoice
  visit id: required
  no: text(14) key
  total: Money required
entity Inspection
  vessel: one Vessel
  findings: list of object
    code: text(10) required
    photos: list of text(80)`.split('\n')

test('twelve entities are typed by keyboard alone, tried out in two clicks, and kept as a target that is in step', async ({
  page
}) => {
  await openBlank(page)
  await pane(page, 'left', 'Text')
  await begin(page)
  await typeByKeys(page, TWELVE)
  await expect(page.getByText('12 entities')).toBeVisible()
  await expect(page.getByText(/mistake/)).toHaveCount(0)
  // A column that is called as what it could lead to does, and says so faintly; Tab writes it.
  await page.keyboard.press('Enter')
  await page.keyboard.press('Backspace')
  await page.keyboard.type('pilot id:')
  await expect(words(page).locator('.cm-ghost').last()).toHaveText('Pilot')
  await page.keyboard.press('Tab')
  await expect(words(page)).toContainText('pilot: Pilot')
  await page.getByRole('button', { name: 'Try it out' }).focus()
  await page.keyboard.press('Enter')
  const trying = page.getByLabel('Trying it out')
  await expect(trying).toContainText('13 tables made in PostgreSQL 18')
  await expect(trying).toContainText('th_vessel_th_pilot')
  await expect(page.getByLabel('Targets').getByRole('link')).toHaveCount(1)
  await expectAccessible(page)
  await trying.getByRole('button', { name: 'Keep it as a target' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Targets').getByRole('link', { name: /^draft/ })).toContainText('in step')
})

test('a name is another one everywhere, its uses are listed, a slip is mended, and a script that is pasted is brought in', async ({
  page
}) => {
  await openBlank(page)
  await pane(page, 'left', 'Text')
  const text = words(page)
  await begin(page)
  await type(page, ['entity Berth', '  code: text(8) key', 'entity Visit', '  berth: Berth required', '  arrives at:'])
  await expect(page.getByText('2 entities')).toBeVisible()
  // What it is taken for is faint behind it, and Tab writes it.
  await expect(page.locator('.cm-ghost')).toHaveText(' timestamp')
  await page.keyboard.press('Tab')
  await expect(text).toContainText('arrives at: timestamp')

  await text.getByText('berth: Berth').click()
  await page.keyboard.press('End')
  for (let i = 0; i < ' required'.length; i++) await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('F2')
  await expect(page.getByLabel('Berth is called')).toBeFocused()
  await page.keyboard.type('Mooring')
  await page.keyboard.press('Enter')
  await expect(text).toContainText('entity Mooring')
  await expect(text).toContainText('mooring: Mooring required')
  await text.getByText('entity Mooring').click()
  await page.keyboard.press('End')
  await page.keyboard.press('Shift+F12')
  await expect(page.getByText('Mooring stands in 2 lines')).toBeVisible()
  await page.keyboard.press('Escape')

  // A slip says what it could have been.
  await text.focus()
  await page.keyboard.press('Control+End')
  await type(page, ['  left at: timestmp'])
  await expect(page.getByRole('status').filter({ hasText: '1 mistake' })).toBeVisible()
  await page.keyboard.press('F8')
  await page.getByRole('button', { name: 'Write timestamp' }).click()
  await expect(text).toContainText('left at: timestamp')
  await expect(page.getByText(/1 mistake/)).toHaveCount(0)

  await text.focus()
  await page.keyboard.press('Control+End')
  await page.evaluate(() => {
    const data = new DataTransfer()
    data.setData('text/plain', 'CREATE TABLE tide (id integer PRIMARY KEY, height numeric(5,2) NOT NULL);')
    document
      .querySelector('.cm-content')
      ?.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
  })
  await expect(page.getByText('What was pasted is a script')).toBeVisible()
  await page.getByRole('button', { name: 'Bring it in' }).click()
  await expect(text).toContainText('entity Tide')
  await expect(text).toContainText('height: decimal(5,2) required')
  await expect(text).toContainText('entity Mooring')
})

test('a nested object is made in the text, in the sheet and moved there, drawn, and scripted for two engines both ways', async ({
  page
}) => {
  await openBlank(page)
  await pane(page, 'left', 'Text')
  await pane(page, 'right', 'Sheet')
  const text = words(page)
  await begin(page)
  await type(page, ['entity Inspection', '  ref: text(12) key', '  place: object', '    berth: text(8) required'])
  const grid = page.getByRole('grid')
  await expect(grid.getByRole('row', { name: /berth text\(8\)/ })).toBeVisible()

  // A list of objects in the sheet: its fields in the empty row further in.
  await grid.getByText('add a column').dblclick()
  await page.keyboard.type('findings')
  await page.keyboard.press('Tab')
  await page.keyboard.type('list of object')
  await page.keyboard.press('Enter')
  await expect(text).toContainText('findings: list of object')
  await grid.getByText('add a field').nth(1).dblclick()
  await page.keyboard.type('code')
  await page.keyboard.press('Tab')
  await page.keyboard.type('text(10)')
  await page.keyboard.press('Enter')
  await expect(text).toContainText('    code: text(10)')
  // A column goes into what stands above, and out again.
  await grid.getByText('add a column').dblclick()
  await page.keyboard.type('severity')
  await page.keyboard.press('Enter')
  await page.keyboard.press('ArrowUp')
  await expect(grid.getByRole('gridcell', { name: 'severity' })).toBeFocused()
  await page.keyboard.press('Alt+ArrowRight')
  await expect(text).toContainText('    severity: text(100)')
  await page.keyboard.press('Alt+ArrowLeft')
  await expect(text).toContainText('  severity: text(100)')
  await page.keyboard.press('Alt+ArrowRight')

  await pane(page, 'left', 'Diagram')
  await expect(page.getByRole('application').getByText('findings?')).toBeVisible()
  await expect(page.getByRole('application').getByText('severity?')).toBeVisible()
  await grid.getByRole('gridcell', { name: 'findings' }).first().click()
  await page.getByLabel('A new field of findings').fill('photos: list of text(80)')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('application').getByText('photos?')).toBeVisible()

  await pane(page, 'right', 'Script')
  const script = page.getByLabel('Script of the design')
  await expect(script).toContainText('place jsonb')
  await expect(script).toContainText("jsonb_typeof(findings) = 'array'")
  await page.getByRole('link', { name: 'Targets' }).click()
  for (const engine of ['PostgreSQL', 'SQLite']) {
    const form = page.getByRole('form', { name: 'Add a target' })
    await form.getByLabel('Name').fill(engine)
    await form.getByLabel('Engine').selectOption({ label: engine })
    await form.getByRole('button', { name: 'Add' }).click()
    const target = page.getByLabel(`Target ${engine}`)
    await target.getByText('3 columns hold others').click()
    await target.getByLabel(/Inspection, findings/).selectOption('a table of its own')
  }
  for (const engine of ['PostgreSQL', 'SQLite']) {
    await page
      .getByLabel('Targets')
      .getByRole('link', { name: new RegExp(`^${engine}`) })
      .click()
    await expect(page.getByLabel('Differences').getByRole('row', { name: /^inspection_findings table/ })).toBeVisible()
    await page.getByRole('button', { name: 'Run all' }).click()
    await expect(page.getByLabel('Targets').getByRole('link', { name: new RegExp(`^${engine}`) })).toContainText(
      'in step'
    )
  }
})

test('a text is saved as a file, opened again as a design, and its examples are a page that runs', async ({ page }) => {
  await openBlank(page)
  await pane(page, 'left', 'Text')
  await begin(page)
  await type(page, ['entity Berth', '  code: text(8) key', 'view Deep', "  SELECT code FROM berth WHERE code > 'M'"])
  await expect(page.getByText('1 entity')).toBeVisible()
  const saving = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save as text' }).click()
  const file = await (await saving).path()
  const saved = await readFile(file, 'utf8')
  expect(saved).toContain('view Deep')

  await page.goto('/')
  const choosing = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Open a file' }).click()
  await (await choosing).setFiles({ name: 'Quays.jot', mimeType: 'text/plain', buffer: Buffer.from(saved) })
  await pane(page, 'left', 'Text')
  await expect(words(page)).toContainText('entity Berth')
  await expect(words(page)).toContainText('view Deep')
  await pane(page, 'right', 'Script')
  await expect(page.getByLabel('Script of the design')).toContainText('CREATE VIEW public.deep')

  // One with a mistake is told, and makes nothing.
  await page.goto('/')
  const again = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Open a file' }).click()
  await (
    await again
  ).setFiles({ name: 'Odd.jot', mimeType: 'text/plain', buffer: Buffer.from('entity A\n  x: nonsense') })
  await expect(page.getByRole('alert')).toContainText('“nonsense” is no type')

  await page.goto('/language')
  await expectAccessible(page)
  const sample = page.getByLabel('Lists and nested objects', { exact: true })
  await sample.getByRole('button', { name: 'Run it' }).click()
  await expect(sample.getByRole('status')).toContainText('1 table made: inspection.')
  await sample.getByRole('textbox').fill('entity A\n  x: nonsense')
  await expect(sample).toContainText('Line 2: “nonsense” is no type')
  await sample.getByRole('button', { name: 'As it was' }).click()
  await sample.getByRole('button', { name: 'Open it as a design' }).click()
  await pane(page, 'left', 'Diagram')
  await expect(page.getByRole('application').getByText('findings?')).toBeVisible()
})
