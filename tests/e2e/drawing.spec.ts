// A diagram is drawn by hand: five entities by the mouse alone, and the same by the keyboard alone.
import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, openBlank, openDemo } from './support'

const plane = (page: Page) => page.getByRole('application')
const card = (page: Page, name: string) => page.getByRole('button', { name: `Entity ${name}`, exact: true })
/** What is typed goes where the keyboard is. */
const type = (page: Page, text: string) => page.keyboard.insertText(text)
const key = (page: Page, ...keys: readonly string[]) =>
  keys.reduce((done, one) => done.then(() => page.keyboard.press(one)), Promise.resolve())

/** A card that was made just now: its name, then its columns. */
async function typeCard(page: Page, name: string, columns: readonly string[]) {
  await expect(page.getByLabel('Name in the card of Entity')).toBeFocused()
  await type(page, name)
  await key(page, 'Enter')
  for (const column of columns) {
    await expect(page.getByLabel(`New row in the card of ${name}`)).toBeFocused()
    await type(page, column)
    await key(page, 'Enter')
  }
}

/** The script of what was drawn, which is the same however it was. */
async function expectHarbour(page: Page) {
  await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: 'Script' }).click()
  const script = page.getByLabel('Script of the design')
  for (const text of [
    'name varchar(80) NOT NULL,  length numeric(5,1),',
    'vessel_id integer NOT NULL,  berth_id integer NOT NULL,',
    'CREATE TABLE public.visit_pilot',
    'CONSTRAINT fk_tug_vessel FOREIGN KEY (id) REFERENCES public.vessel (id)'
  ])
    await expect(script).toContainText(text)
}

test('five entities are drawn by the mouse alone, but for their words', async ({ page }) => {
  await openBlank(page)
  const box = await plane(page).boundingBox()
  if (!box) throw new Error('the diagram is on screen')
  const at = (x: number, y: number) => [box.x + x, box.y + y] as const
  const draw = async (name: string, columns: readonly string[], x: number, y: number) => {
    await page.getByRole('button', { name: 'Entity', exact: true }).click()
    await page.mouse.click(...at(x, y))
    await typeCard(page, name, columns)
    // A click beside it ends the typing.
    await page.mouse.click(...at(20, 420))
    await expect(page.locator('[data-card-editor]')).toHaveCount(0)
  }
  await draw('Vessel', ['name: text(80) required', 'length: decimal(5,1)'], 30, 30)
  await draw('Visit', ['arrives: moment'], 330, 30)
  await draw('Berth', [], 30, 230)
  await draw('Pilot', [], 330, 200)
  await draw('Tug', [], 480, 300)

  const middleOf = async (name: string) => {
    const one = await card(page, name).boundingBox()
    if (!one) throw new Error(name)
    return [one.x + one.width / 2, one.y + 10] as const
  }
  const link = async (parent: string, child: string, kind: string, says: string) => {
    await page.getByRole('toolbar', { name: 'Diagram' }).getByRole('button', { name: 'Link', exact: true }).click()
    await page.getByLabel('Kind of link').selectOption({ label: kind })
    await page.mouse.move(...(await middleOf(parent)))
    await page.mouse.down()
    await page.mouse.move(...(await middleOf(child)), { steps: 5 })
    await expect(page.locator('[data-says]')).toContainText(says)
    await page.mouse.up()
  }
  await link('Vessel', 'Visit', 'one to many', 'Visit gets vessel')
  await link('Berth', 'Visit', 'one to many', 'Visit gets berth')
  await link('Visit', 'Pilot', 'many to many', 'a table between them')
  await link('Vessel', 'Tug', 'a kind of it', 'Tug is a kind of Vessel')
  await expectHarbour(page)

  // A column is dragged to another place once it is selected, and a link let go on a column takes it.
  await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: 'Sheet' }).click()
  const row = card(page, 'Vessel').locator('[data-row]').first()
  await row.click()
  const [from, to] = [await row.boundingBox(), await card(page, 'Vessel').locator('[data-row]').nth(1).boundingBox()]
  if (!from || !to) throw new Error('two rows')
  await page.mouse.move(from.x + 40, from.y + 8)
  await page.mouse.down()
  await page.mouse.move(to.x + 40, to.y + to.height - 2, { steps: 4 })
  await page.mouse.up()
  await expect(
    card(page, 'Vessel')
      .locator('text')
      .filter({ hasText: /^(name|length)/ })
  ).toHaveText(['length?', 'name'])

  // Three are chosen by a frame, set in line, and moved together.
  await page.getByRole('button', { name: 'Choose', exact: true }).click()
  await page.mouse.move(...at(310, 10))
  await page.mouse.down()
  await page.mouse.move(...at(box.width - 4, 400), { steps: 4 })
  await page.mouse.up()
  const bar = page.getByRole('group', { name: 'Cards that are chosen' })
  await expect(bar).toContainText('3 cards')
  await bar.getByLabel('Set in line').selectOption('left edges')
  const left = async (name: string) => Math.round((await card(page, name).boundingBox())?.x ?? NaN)
  expect(await left('Tug')).toBe(await left('Pilot'))
  const before = await left('Visit')
  await page.mouse.move(...(await middleOf('Pilot')))
  await page.mouse.down()
  await page.mouse.move((await middleOf('Pilot'))[0] - 30, (await middleOf('Pilot'))[1], { steps: 4 })
  await page.mouse.up()
  expect(await left('Visit')).toBeLessThan(before)
  expect(await left('Tug')).toBe(await left('Visit'))
  await expectAccessible(page)
})

test('five entities are drawn by the keyboard alone', async ({ page }) => {
  await openBlank(page)
  await plane(page).focus()
  const draw = async (name: string, columns: readonly string[], moves: readonly string[]) => {
    await key(page, 'e')
    await typeCard(page, name, columns)
    await expect(page.getByLabel(`New row in the card of ${name}`)).toBeFocused()
    await key(page, 'Escape')
    await expect(plane(page)).toBeFocused()
    await key(page, ...moves)
  }
  const left = Array.from({ length: 5 }, () => 'Shift+ArrowLeft')
  const down = Array.from({ length: 4 }, () => 'Shift+ArrowDown')
  const up = Array.from({ length: 5 }, () => 'Shift+ArrowUp')
  const right = Array.from({ length: 5 }, () => 'Shift+ArrowRight')
  await draw('Vessel', ['name: text(80) required', 'length: decimal(5,1)'], [...left, ...up])
  await draw('Berth', [], [...left, ...down])
  await draw('Tug', [], [...down, ...down])
  await draw('Pilot', [], [...right, ...down])
  await draw('Visit', ['arrives: moment'], [...right, ...up])

  // From the one that is selected, to the one that the keyboard is on next.
  const link = async (child: string) => {
    await key(page, 'l')
    await card(page, child).focus()
    await key(page, 'Enter')
  }
  const kind = async (label: string) => {
    await page.getByLabel('Kind of link').focus()
    await page.getByLabel('Kind of link').selectOption({ label })
  }
  const choose = async (name: string) => {
    await card(page, name).focus()
    await key(page, 'Enter')
    await expect(page.getByRole('group', { name: `The entity ${name}` })).toBeVisible()
  }
  await choose('Vessel')
  await link('Visit')
  await choose('Berth')
  await link('Visit')
  await choose('Visit')
  await key(page, 'l')
  await kind('many to many')
  await card(page, 'Pilot').focus()
  await key(page, 'Enter')
  await choose('Vessel')
  await key(page, 'l')
  await kind('a kind of it')
  await card(page, 'Tug').focus()
  await key(page, 'Enter')
  await expectHarbour(page)

  // To a neighbour, into its card, down to a column, another one above it, one refused, and back.
  await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: 'Sheet' }).click()
  await choose('Berth')
  await plane(page).focus()
  await key(page, 'Control+ArrowUp')
  await expect(page.getByRole('group', { name: 'The entity Vessel' })).toBeVisible()
  await key(page, 'Enter', 'ArrowDown')
  const editor = page.getByLabel('Row in the card of Vessel')
  await expect(editor).toHaveValue('name: text(80) required')
  await key(page, 'Insert')
  await type(page, 'imo: nonsense')
  await key(page, 'Enter')
  await expect(page.getByRole('alert')).toContainText('no type')
  await page.getByLabel('New row in the card of Vessel').fill('imo: integer required')
  await key(page, 'Enter', 'Escape')
  await expect(
    card(page, 'Vessel')
      .locator('text')
      .filter({ hasText: /^(imo|name|length)/ })
  ).toHaveText(['imo', 'name', 'length?'])
  // All are copied, and put beside themselves; one step back takes them away.
  await key(page, 'Control+a', 'Control+c', 'Control+v')
  await expect(card(page, 'Vessel 2')).toBeVisible()
  await expect(page.getByRole('group', { name: 'Cards that are chosen' })).toContainText('5 cards')
  await key(page, 'Control+z')
  await expect(card(page, 'Vessel 2')).toHaveCount(0)
})

test('levels and what shows are said for a diagram', async ({ page }) => {
  await openDemo(page)
  await page.getByRole('button', { name: 'Fit' }).click()
  const texts = page.locator('[data-card=ent_visit] text')
  await page.getByLabel('Level').selectOption('Conceptual')
  await expect(texts).toHaveText(['Visit'])
  await page.getByLabel('Level').selectOption('Physical: dev')
  await expect(page.getByRole('button', { name: 'Table visit', exact: true })).toBeVisible()
  await expect(texts.filter({ hasText: 'timestamp' }).first()).toBeVisible()
  await page.getByLabel('Level').selectOption('Logical')
  await page.getByRole('button', { name: 'Look', exact: true }).click()
  const bar = page.getByRole('group', { name: 'Look of the diagram' })
  await bar.getByLabel('types').uncheck()
  await bar.getByLabel('database names').uncheck()
  await bar.getByLabel('Lines').selectOption('curved')
  await expect(texts.filter({ hasText: 'text(' })).toHaveCount(0)
  await expectAccessible(page)
})

test('a note is written, leads to another diagram, and is kept', async ({ page }) => {
  await openDemo(page)
  await page.getByRole('button', { name: 'Note', exact: true }).focus()
  await page.keyboard.press('Enter')
  await page.getByLabel('What the note says').fill('Ledgers are closed at midnight.')
  const note = page.getByRole('button', { name: 'Note Ledgers are closed at midnight.' })
  await expect(note).toBeVisible()
  await page.getByRole('group', { name: 'The note' }).getByLabel('leads to').selectOption('Ledger')
  await expect(note).toContainText('to Ledger')
  await expectAccessible(page)
  await page.reload()
  await expect(note).toBeVisible()
  await note.dblclick()
  await expect(page.getByRole('combobox', { name: 'Diagram', exact: true })).toContainText('Ledger')
  await expect(page.locator('[data-card]')).toHaveCount(3)
})
