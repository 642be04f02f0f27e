import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, openBlank, openDemo } from './support'

/** Presses keys one by one and counts them; a letter is one. */
function typist(page: Page) {
  let keys = 0
  const press = async (...names: string[]) => {
    for (const name of names) {
      keys++
      await page.keyboard.press(name)
    }
  }
  return {
    press,
    type: async (text: string) => {
      keys += text.length
      await page.keyboard.type(text)
    },
    get keys() {
      return keys
    }
  }
}

const entities: Readonly<Record<string, readonly (readonly [string, string])[]>> = {
  Vessel: [
    ['imo', 'int'],
    ['name', 'varchar(80)'],
    ['built', 'date'],
    ['gross', 'dec'],
    ['net', 'dec'],
    ['deadweight', 'dec']
  ],
  Berth: [
    ['code', 'varchar(8)'],
    ['quay', 'varchar(60)'],
    ['depth', 'dec'],
    ['length', 'dec']
  ],
  Visit: [
    ['vessel', 'Vessel'],
    ['berth', 'Berth'],
    ['arrives at', 'datetime'],
    ['departs at', 'datetime'],
    ['draught', 'dec']
  ],
  'Cargo line': [
    ['visit', 'Visit'],
    ['line no', 'smallint'],
    ['goods', 'varchar(120)'],
    ['tonnes', 'dec'],
    ['dangerous', 'bool']
  ]
}

test('a design is drafted by keyboard alone: entities, columns, keys, links, a domain, a rule, rows of a spreadsheet', async ({
  page
}) => {
  await openBlank(page)
  await page.getByLabel('Name of a new entity').focus()
  const hand = typist(page)
  const cell = (name: string, column: string) =>
    page.getByRole('row', { name: new RegExp(`(^| )${name}[ ?]`) }).locator(`[id$="-${column}"]`)

  // name, Tab, type, Enter, next name.
  for (const [entity, columns] of Object.entries(entities)) {
    await page.getByLabel('Name of a new entity').focus()
    await hand.type(entity)
    await hand.press('Enter')
    for (const [name, type] of columns) {
      await hand.type(name)
      await hand.press('Tab')
      await hand.type(type)
      await hand.press('Enter')
    }
    await expect(page.getByText(`${columns.length + 1} columns`).first()).toBeVisible()
  }
  await expect(cell('gross', 'type')).toHaveText('decimal(12,2)')
  await expect(cell('arrives at', 'type')).toHaveText('timestamp')
  await expect(cell('dangerous', 'type')).toHaveText('boolean')
  await expect(cell('vessel', 'type')).toHaveText('Vessel')

  // A key of two columns.
  await cell('visit', 'key').focus()
  await hand.press('Space', 'ArrowDown', 'Space')
  await expect(cell('visit', 'key')).toHaveAccessibleName('in the key')
  await expect(cell('line no', 'key')).toHaveAccessibleName('in the key')

  // A domain for five columns at once.
  await page.getByRole('tablist', { name: 'left pane' }).getByRole('tab', { name: 'Words' }).focus()
  await hand.press('Enter')
  await page.getByLabel('Name of the new domain').focus()
  await hand.type('Measure')
  await hand.press('Tab')
  await hand.type('decimal(10,3)')
  await hand.press('Enter')
  await cell('gross', 'type').focus()
  await hand.press('Shift+ArrowDown', 'Shift+ArrowDown')
  await hand.type('Mea')
  await hand.press('Enter')
  await expect(cell('deadweight', 'type')).toHaveText('Measure')
  await cell('depth', 'type').focus()
  await hand.press('Shift+ArrowDown')
  await hand.type('Mea')
  await hand.press('Enter')
  await expect(page.getByRole('gridcell', { name: 'Measure', exact: true })).toHaveCount(5)

  // A rule over two columns, its names completed, a wrong one refused in place.
  await cell('arrives at', 'name').focus()
  await hand.press('Alt+Enter')
  const rule = page.getByLabel('A new rule')
  await rule.focus()
  await hand.type('departs_at > arrived_on')
  await hand.press('Enter')
  await expect(page.getByRole('alert')).toContainText('Visit has no column arrived_on')
  await hand.press('Escape')
  await hand.type('dep')
  await hand.press('Tab')
  await hand.type(' > arr')
  await hand.press('Enter', 'Enter')
  await expect(page.getByLabel('Rule: departs_at > arrives_at')).toBeVisible()
  await expectAccessible(page)

  // Three rows of a spreadsheet, at the end of another entity.
  await page.evaluate(() => navigator.clipboard.writeText('call sign\tchar(7)\nflag\tvarchar(2)\ttrue\nremark\ttext'))
  await cell('deadweight', 'name').focus()
  await hand.press('ArrowDown', 'Control+v')
  await expect(cell('call sign', 'type')).toHaveText('char(7)')
  await expect(cell('flag', 'filled')).toHaveText('required')

  // The way it was, under a name; and what has changed since.
  await page.getByRole('link', { name: 'Checkpoints' }).focus()
  await hand.press('Enter')
  await page.getByLabel('Name of the checkpoint').focus()
  await hand.type('first draft')
  await hand.press('Enter')
  await expect(page.getByRole('list', { name: 'Checkpoints' })).toContainText('first draft')
  await page.getByRole('link', { name: 'Draft' }).focus()
  await hand.press('Enter')
  await cell('remark', 'name').focus()
  await hand.press('Control+Delete')
  await page.getByRole('link', { name: 'Checkpoints' }).focus()
  await hand.press('Enter')
  const changed = page.getByRole('region', { name: 'What has changed' })
  await expect(changed).toContainText('gone: column remark')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Go back to first draft' }).focus()
  await hand.press('Enter')
  await expect(changed).toContainText('nothing is otherwise')
  console.log(`    twenty columns in four entities, and all the rest: ${hand.keys} keys`)

  // What was done can be undone after the page is loaded again.
  await page.waitForTimeout(600)
  await page.reload()
  await expect(changed).toContainText('nothing is otherwise')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(changed).toContainText('gone: column remark')
  await page.getByRole('link', { name: 'Draft' }).click()
  await page.getByRole('tablist', { name: 'left pane' }).getByRole('tab', { name: 'Script' }).click()
  await expect(page.getByLabel('Script of the design')).toContainText('departs_at > arrives_at')
})

test('rows are chosen together, set, moved, filled, copied to another entity, dragged, and each is one step back', async ({
  page
}) => {
  await openDemo(page)
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: 'Find anything' }).fill('vessel')
  await page.keyboard.press('Enter')
  const at = (row: string, column: string) => page.locator(`[id="cell-ent_vessel-${row}-${column}"]`)
  const name = (row: string) => at(row, 'name')
  await name('att_vessel_name').click()
  await page.keyboard.press('Shift+ArrowDown')
  await name('att_vessel_trade').click({ modifiers: ['Control'] })
  await expect(page.getByText('3 rows: what is typed is for all')).toBeVisible()

  // One value for all; what a row does not take is said.
  await page.keyboard.press('ArrowRight')
  await name('att_vessel_name').click()
  await page.keyboard.press('Shift+ArrowDown')
  await page.keyboard.press('Shift+ArrowDown')
  await at('att_vessel_length_overall', 'meaning').click({ modifiers: ['Shift'] })
  await page.keyboard.type('as registered')
  await page.keyboard.press('Enter')
  await expect(at('att_vessel_name', 'meaning')).toHaveText('as registered')
  await expect(at('lnk_vessel_flag', 'meaning')).toHaveText('as registered')
  await page.keyboard.press('Control+z')
  await expect(at('att_vessel_name', 'meaning')).toHaveText('')

  // Down together, and back.
  const order = () =>
    page
      .locator('[id^="cell-ent_vessel-"][id$="-name"]')
      .evaluateAll((cells) => cells.map((cell) => cell.id.slice('cell-ent_vessel-'.length, -'-name'.length)))
  const before = await order()
  await page.keyboard.press('Alt+ArrowDown')
  await expect.poll(order).not.toEqual(before)
  await page.keyboard.press('Alt+ArrowUp')
  await expect.poll(order).toEqual(before)

  // Copied, and pasted where another entity ends.
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await name('att_vessel_trade').click()
  await page.keyboard.press('Shift+ArrowDown')
  await page.keyboard.press('Control+c')
  const pilot = page.locator('[id^="cell-ent_tug-"]')
  await page.locator('[id="cell-ent_tug-+-name"]').scrollIntoViewIfNeeded()
  await page.locator('[id="cell-ent_tug-+-name"]').click()
  await page.keyboard.press('Escape')
  await page.locator('[id="cell-ent_tug-+-name"]').focus()
  await page.keyboard.press('Control+v')
  await expect(pilot.filter({ hasText: 'one of (bulk, tanker, ferry, cruise)' })).toHaveCount(1)
  await page.keyboard.press('Control+z')
  await expect(pilot.filter({ hasText: 'one of (bulk' })).toHaveCount(0)

  // Dragged by its handle.
  const box = async (row: string) => (await name(row).boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 }
  const from = await box('att_vessel_registered')
  const to = await box('att_vessel_imo')
  await page.mouse.move(from.x - 28, from.y + from.height / 2)
  await page.mouse.down()
  await page.mouse.move(to.x + 10, to.y + 4, { steps: 8 })
  await page.mouse.up()
  await expect.poll(async () => (await order())[0]).toBe('att_vessel_registered')

  // Only what one looks for, in the columns that one wants.
  await page.getByRole('button', { name: 'Show', exact: true }).click()
  await page.getByLabel('Only rows with').fill('draught')
  const shown = page.getByRole('grid', { name: 'Columns of all entities' })
  await expect(shown.getByRole('row', { name: /draught/ })).toHaveCount(1)
  await expect(shown.getByRole('textbox', { name: /^Name of the entity/ })).toHaveCount(1)
  await page.getByLabel('Only rows with').fill('nothing has this')
  await expect(page.getByText('No row has that.')).toBeVisible()
  await page.getByRole('button', { name: 'Show all rows' }).first().click()
  await page.getByLabel('In databases').check()
  await page.getByLabel('Meaning', { exact: true }).uncheck()
  await expect(shown.getByRole('columnheader', { name: 'In databases' }).first()).toBeVisible()
  await page.reload()
  await expect(shown.getByRole('columnheader', { name: 'In databases' }).first()).toBeVisible()
  await expect(shown.getByRole('columnheader', { name: 'Meaning' })).toHaveCount(0)
})
