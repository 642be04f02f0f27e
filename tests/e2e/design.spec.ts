// A design from nothing: by keyboard in the sheet, by mouse on the diagram, to a file and back.
import { expect, test } from '@playwright/test'
import { readFile } from 'node:fs/promises'
import { FILE_VERSION } from '../../src/lib/core/design'
import { expectAccessible, expectNoSeriousFinding, openBlank, targetLine } from './support'

test('columns are typed, keyed, moved, removed and undone by keyboard alone', async ({ page }) => {
  await openBlank(page)
  const name = page.getByLabel('Name of a new entity')
  await name.focus()
  await page.keyboard.type('Berth')
  await page.keyboard.press('Enter')
  const grid = page.getByRole('grid')
  const names = () => grid.locator('[id$="-name"]:not([id*="-+-"])').allTextContents()
  // Typing begins a cell; Enter leads to the next row, Tab along the row.
  await expect(grid.locator('[id$="-+-name"]')).toBeFocused()
  await page.keyboard.type('code')
  await page.keyboard.press('Enter')
  await expect(grid.locator('[id$="-+-name"]')).toBeFocused()
  await page.keyboard.type('quay')
  await page.keyboard.press('Tab')
  await page.keyboard.type('text(60)')
  await page.keyboard.press('Tab')
  await page.keyboard.press('Space')
  await page.keyboard.press('Tab')
  await page.keyboard.type('North quay')
  await page.keyboard.press('Tab')
  await page.keyboard.type('unique')
  await page.keyboard.press('Tab')
  await page.keyboard.type('which wall it is on')
  await page.keyboard.press('Enter')
  await expect(grid.getByRole('row', { name: /quay text\(60\) required North quay unique which wall/ })).toBeVisible()

  // A type is chosen from a list that shows its range and bytes.
  await expect(grid.locator('[id$="-+-name"]')).toBeFocused()
  await page.keyboard.type('depth')
  await page.keyboard.press('Tab')
  await page.keyboard.type('sm')
  const choice = page.getByRole('option', { name: /small/ })
  await expect(choice).toContainText('−32,768 … 32,767')
  await expect(choice).toContainText('bytes: 2')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(grid.getByRole('row', { name: /depth\? small/ })).toBeVisible()
  expect(await names()).toEqual(['code?', 'quay', 'depth?'])

  // What is no type is said to be none, and changes nothing.
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('F2')
  await page.keyboard.press('Control+a')
  await page.keyboard.type('decimal(2,5)')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('do not fit')
  await page.keyboard.press('Escape')
  await expect(grid.getByRole('row', { name: /depth\? small/ })).toBeVisible()

  // A composite key, in the order of the rows.
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('Space')
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('Space')
  await expect(grid.getByRole('row', { name: /in the key code text\(100\) required/ })).toBeVisible()
  await expect(grid.getByRole('row', { name: /in the key depth small required/ })).toBeVisible()

  // Insert above, move, remove; then all of it undone and done again.
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Insert')
  await page.keyboard.press('Control+a')
  await page.keyboard.type('harbour side')
  await page.keyboard.press('Enter')
  expect(await names()).toEqual(['harbour side?', 'code', 'quay', 'depth'])
  await page.keyboard.press('Alt+ArrowDown')
  await expect.poll(names).toEqual(['harbour side?', 'quay', 'code', 'depth'])
  await page.keyboard.press('Control+Delete')
  await expect.poll(names).toEqual(['harbour side?', 'quay', 'depth'])
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z')
  await expect.poll(names).toEqual(['code', 'quay', 'depth'])
  for (let i = 0; i < 40; i++) await page.keyboard.press('Control+z')
  await expect(page.getByText('Nothing designed yet')).toBeVisible()
  for (let i = 0; i < 40; i++) await page.keyboard.press('Control+y')
  await expect.poll(names).toEqual(['harbour side?', 'quay', 'depth'])

  await expectAccessible(page)
  await page.reload()
  await expect.poll(names).toEqual(['harbour side?', 'quay', 'depth'])
})

test('what is typed stays where it was typed: empty rows, pasted rows, refusals, and ways out', async ({ page }) => {
  await openBlank(page)
  await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: 'Sheet' }).click()
  for (const entity of ['Vessel', 'Pilot']) {
    await page.getByLabel('Name of a new entity').fill(entity)
    await page.keyboard.press('Enter')
  }
  const grid = page.getByRole('grid')
  const names = () =>
    grid
      .locator('[role=gridcell][id$="-name"]')
      .allInnerTexts()
      .then((all) => all.map((text) => text.replace('?', '').trim()).filter((text) => text !== 'add a column'))
  const said = page.getByRole('alert')

  // A many-to-many row stands between the new row and the empty one.
  const type = async (...words: string[]) => {
    for (const word of words) {
      await page.keyboard.type(word)
      await page.keyboard.press('Enter')
    }
  }
  await type('badge')
  await page.keyboard.type('vessels')
  await page.keyboard.press('Tab')
  await page.keyboard.type('many Vessel')
  await page.keyboard.press('Enter')
  await page.keyboard.press('ArrowDown')
  await grid.getByText('add a column').first().click()
  await page.keyboard.press('Escape')
  await type('height', 'weight', 'rank')
  expect(await names()).toEqual(['badge', 'height', 'weight', 'rank', 'vessels'])

  // Rows of a spreadsheet become rows; one value stays one value, without tabs and breaks.
  await page.evaluate(() => {
    const data = new DataTransfer()
    data.setData('text/plain', 'call sign\ttext(7)\trequired\nlast seen\tdate\nodd\tno type\n')
    document.activeElement?.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true })
    )
  })
  await expect.poll(names).toEqual(['badge', 'height', 'weight', 'rank', 'call sign', 'last seen', 'odd', 'vessels'])
  await expect(said).toContainText('Line 3, “no type”')
  await page.keyboard.press('Control+z')
  await expect.poll(names).toEqual(['badge', 'height', 'weight', 'rank', 'vessels'])

  // A row that is put in is empty, and is gone when it gets no name.
  await grid.getByText(/^weight/).click()
  await page.keyboard.press('Insert')
  await expect(grid.locator('input:focus')).toHaveValue('')
  await page.keyboard.press('Escape')
  await expect.poll(names).toEqual(['badge', 'height', 'weight', 'rank', 'vessels'])

  // Refusals are said, and nothing changes.
  await grid.getByText(/^weight/).click()
  await page.keyboard.press('Delete')
  await expect(said).toContainText('A column needs a name')
  await grid.getByLabel('Name of the entity Vessel').fill('Pilot')
  await page.keyboard.press('Enter')
  await expect(said).toContainText('There is an entity “Pilot” already')
  await expect(grid.getByLabel('Name of the entity Vessel')).toHaveValue('Vessel')

  // Tab leaves at both ends, Escape anywhere.
  const inside = () => page.evaluate(() => document.activeElement?.closest('[role=grid]') !== null)
  const cells = grid.locator('[role=gridcell][id$="-meaning"]')
  await cells.last().click()
  await page.keyboard.press('Escape')
  expect(await inside()).toBe(false)
  await cells.last().focus()
  await page.keyboard.press('Tab')
  expect(await inside()).toBe(false)
  await grid.locator('[role=gridcell][id$="-key"]').first().focus()
  await page.keyboard.press('Shift+Tab')
  expect(await inside()).toBe(false)
})

test('links are drawn and shaped, and the script follows', async ({ page }) => {
  await openBlank(page)
  for (const entity of ['Vessel', 'Visit', 'Pilot']) {
    await page.getByLabel('Name of a new entity').fill(entity)
    await page.keyboard.press('Enter')
  }
  await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: 'Script' }).click()
  // There is a script before there is a target, for whatever engine; choosing one makes none.
  const shown = page.getByLabel('Script of the design')
  await expect(shown).toContainText('GENERATED BY DEFAULT AS IDENTITY')
  await page.getByLabel('Script for').selectOption('SQLite 3.50')
  await expect(shown).toContainText('PRIMARY KEY AUTOINCREMENT')
  await expect(page.getByLabel('Targets').getByRole('link')).toHaveText(['Add a target'])
  const saving = page.waitForEvent('download')
  await page.getByRole('toolbar', { name: 'Script' }).getByRole('button', { name: 'Save' }).click()
  await page.getByRole('button', { name: 'Save the file' }).click()
  expect((await saving).suggestedFilename()).toMatch(/^New design, SQLite 3.50, \d{4}-\d\d-\d\d\.sql$/)
  await page.getByRole('link', { name: 'Add a target' }).click()
  await page.getByLabel('Add a target').getByLabel('Name').fill('dev')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await page.getByRole('link', { name: 'Draft' }).click()
  await page.getByRole('tablist', { name: 'left pane' }).getByRole('tab', { name: 'Diagram' }).click()
  const script = page.getByLabel('Script of the design')
  await expect(script).toContainText('CREATE TABLE public.vessel')

  const card = (name: string) => page.getByRole('button', { name: `Entity ${name}` })
  const draw = async (parent: string, child: string) => {
    await page.getByRole('button', { name: 'Link', exact: true }).first().click()
    await card(parent).click({ position: { x: 40, y: 12 } })
    await card(child).click({ position: { x: 40, y: 12 } })
  }
  await page.getByRole('button', { name: 'Lay out' }).click()
  await draw('Vessel', 'Visit')
  await expect(script).toContainText('vessel_id integer NOT NULL')
  const bar = page.getByRole('group', { name: 'The link between Vessel and Visit' })
  await bar.getByLabel('Whether a Visit needs a Vessel').selectOption('may')
  await expect(script).toContainText('vessel_id integer,')
  await bar.getByLabel('On delete').selectOption('cascade')
  await expect(script).toContainText('ON DELETE CASCADE')
  await bar.getByRole('checkbox', { name: /identifying/ }).check()
  await expect(script).toContainText('CONSTRAINT pk_visit PRIMARY KEY (vessel_id)')

  // A second link between the two, and one of an entity with itself, have roles.
  await draw('Vessel', 'Visit')
  await expect(script).toContainText('other_vessel_id integer NOT NULL')
  await draw('Pilot', 'Pilot')
  await expect(script).toContainText('parent_pilot_id integer')

  // Many to many: three entities drawn, four tables made, and the script says so.
  await draw('Pilot', 'Vessel')
  await page
    .getByRole('group', { name: 'The link between Pilot and Vessel' })
    .getByLabel('How many Vessel rows')
    .selectOption('many-to-many')
  await expect(script).toContainText('CREATE TABLE public.pilot_vessel')
  await expect(page.getByText('the table pilot_vessel is made for the link')).toBeVisible()

  await expectAccessible(page)
  await page.keyboard.press('Control+k')
  await expect(page.getByRole('dialog', { name: 'Find anything' })).toBeVisible()
  await expectNoSeriousFinding(page)
  await page.keyboard.press('Escape')

  // What is drawn is made: a new target's database is brought into step.
  await expect(targetLine(page, 'dev')).toContainText('4 behind')
  await targetLine(page, 'dev').click()
  await page.getByRole('button', { name: 'Run all' }).click()
  await expect(targetLine(page, 'dev')).toContainText('in step')
})

test('cards are dragged, the plane is panned and zoomed, and places survive', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('link', { name: /Tidewell Harbour/ }).click()
  const card = page.getByRole('button', { name: 'Entity Country' })
  const before = await card.boundingBox()
  if (!before) throw new Error('the card is on screen')
  await page.mouse.move(before.x + 20, before.y + 8)
  await page.mouse.down()
  await page.mouse.move(before.x + 60, before.y + 48, { steps: 4 })
  await page.mouse.up()
  const moved = await card.boundingBox()
  expect(Math.round((moved?.x ?? 0) - before.x)).toBeGreaterThan(30)

  await page.getByRole('button', { name: 'Zoom in' }).click()
  await page.getByRole('button', { name: 'Fit' }).click()
  await page.getByRole('application').hover({ position: { x: 300, y: 560 } })
  await page.mouse.wheel(0, 4000)
  // Far out, one canvas draws all cards.
  await expect(card).toBeHidden()
  await page.mouse.wheel(0, -6000)
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled()
})

test('a design goes to a file and comes back the same; what is no design is refused', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('link', { name: /Tidewell Harbour/ }).click()
  const saving = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save to a file' }).click()
  const path = await (await saving).path()
  const text = await readFile(path, 'utf8')
  expect(text).toContain(`"format":"ramblet-design","version":${FILE_VERSION}`)

  await page.getByRole('link', { name: /Ramblet, to the shelf/ }).click()
  const open = async (content: string, name: string) => {
    const choosing = page.waitForEvent('filechooser')
    await page.getByRole('button', { name: 'Open a file' }).click()
    await (await choosing).setFiles({ name, mimeType: 'application/json', buffer: Buffer.from(content) })
  }
  await open(text.slice(0, 400), 'half.ramblet')
  await expect(page.getByRole('alert')).toContainText('half.ramblet was not opened, and nothing was changed')
  await expect(page.getByRole('alert')).toContainText('line')
  await open(text.replace('"kind":"char"', '"kind":"chair"'), 'wrong.ramblet')
  await expect(page.getByRole('alert')).toContainText('entities')
  await open(text, 'harbour.ramblet')
  await expect(page.getByLabel('Name of the design')).toHaveValue('Tidewell Harbour 2')
  const again = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save to a file' }).click()
  const second = await readFile(await (await again).path(), 'utf8')
  const body = (file: string) => file.slice(file.indexOf('"areas"'))
  expect(body(second)).toBe(body(text))
})
