// Documents: a collection of three levels typed by keyboard, made in the stand-in, asked, changed while it holds documents.
import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, openBlank, openDemo, send, targetLine } from './support'

const pane = (page: Page, side: 'left' | 'right', tab: string) =>
  page
    .getByRole('tablist', { name: `${side} pane` })
    .getByRole('tab', { name: tab })
    .click()

test('a collection of three levels is typed, made in the stand-in, filled, and changed with what it holds', async ({
  page
}) => {
  await openBlank(page)
  await pane(page, 'left', 'Text')
  const text = page.getByRole('textbox', { name: 'The design in words' })
  await expect(text).toContainText('jot 1')
  await text.focus()
  await page.keyboard.press('Control+End')
  const lines = [
    'collection Inspection',
    'ref: text(12) key',
    'taken at: timestamp required',
    'findings: list of object',
    'code: text(10) required',
    'severity: one of (minor, major)',
    'photos: list of object',
    'url: text(80) required'
  ]
  for (const line of lines) {
    await page.keyboard.press('Enter')
    await page.keyboard.type(line)
  }
  await pane(page, 'right', 'Script')
  await page.getByLabel('Script for').selectOption('mongodb 8.0')
  const script = page.getByLabel('Script of the design')
  await expect(script).toContainText('create: "inspection"')
  await expect(script).toContainText('url: { bsonType: "string", maxLength: 80 }')
  await expect(script).toContainText('createIndexes: "inspection"')

  await page.getByRole('link', { name: 'Targets' }).click()
  const adding = page.getByRole('form', { name: 'Add a target' })
  await adding.getByLabel('Name').fill('archive')
  await adding.getByLabel('Engine').selectOption('mongodb')
  await expect(adding).toContainText('a stand-in answers in its place')
  await expectAccessible(page)
  await adding.getByRole('button', { name: 'Add' }).click()
  await expect(targetLine(page, 'archive')).toContainText('behind')
  await expect(targetLine(page, 'archive')).toContainText('stand-in')
  await targetLine(page, 'archive').click()
  await expect(page.getByRole('row', { name: /inspection collection/ })).toBeVisible()
  await expect(page.getByLabel('Plan')).toContainText('makes the collection inspection')
  await page.getByRole('button', { name: 'Run all' }).click()
  await expect(targetLine(page, 'archive')).toContainText('in step')

  await page.getByRole('link', { name: 'Queries' }).click()
  await send(page, 'db.inspection.find({})')
  await expect(page.getByLabel('Answer 1')).toContainText('0 rows')
  await page.getByLabel('Read only').uncheck()
  await send(page, 'db.inspection.insertOne({ ref: "A1" })')
  await expect(page.getByLabel('Answer 1')).toContainText('taken_at is not there')
  await send(
    page,
    'db.inspection.insertMany([{ ref: "A1", taken_at: ISODate("2026-03-01"), findings: [{ code: "H", photos: [{ url: "a" }] }] }, { ref: "A2", taken_at: ISODate("2026-03-02") }])'
  )
  await expect(page.getByLabel('Answer 1')).toContainText('2 rows')
  await expectAccessible(page)

  // What was never judged is found.
  await send(
    page,
    'db.runCommand({ insert: "inspection", documents: [{ ref: "A3", colour: "red" }], bypassDocumentValidation: true })'
  )
  await expect(page.getByLabel('Answer 1')).toContainText('1 row')
  await page.getByRole('link', { name: 'Differences' }).click()
  const odd = page.getByRole('region', { name: 'What the documents are' })
  await odd.getByRole('button', { name: 'Count those that do not fit' }).click()
  await expect(odd).toContainText('inspection: 1 document does not fit')
  await expect(odd).toContainText('colour is in 1 of 3 that were looked at, and not in the design')
  await odd.getByRole('button', { name: 'See them' }).first().click()
  await expect(odd.getByRole('region', { name: /^Documents of inspection/ })).toContainText('A3')
  await expectAccessible(page)

  // A name deep within, and a field that must be there: the documents go along, and who lacks it is counted.
  await page.getByRole('link', { name: 'Draft' }).click()
  await pane(page, 'left', 'Text')
  await text.focus()
  await page.keyboard.press('Control+End')
  await page.keyboard.press('Home')
  for (let i = 0; i < 'url'.length; i++) await page.keyboard.press('Delete')
  await page.keyboard.type('address')
  await expect(targetLine(page, 'archive')).toContainText('1 behind')
  await targetLine(page, 'archive').click()
  const plan = page.getByLabel('Plan')
  await expect(plan).toContainText('is called findings[].photos[].address in all documents')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Run all' }).click()
  await expect(targetLine(page, 'archive')).toContainText('in step')
  await page.getByRole('link', { name: 'Queries' }).click()
  await send(page, 'db.inspection.find({ ref: "A1" }, { findings: 1, _id: 0 })')
  await expect(page.getByRole('article', { name: 'Answer 1' })).toContainText('address a')
})

test('documents in files become a design of both worlds: collections as they are, tables for another target', async ({
  page
}) => {
  await page.goto('/bring')
  const choosing = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Choose files' }).click()
  const file = (name: string, text: string) => ({ name, mimeType: 'application/json', buffer: Buffer.from(text) })
  await (
    await choosing
  ).setFiles([
    file('vessel.json', '[{ "imo": 9074729, "name": "Grey Heron" }, { "imo": 9074730, "name": "Curlew" }]'),
    file(
      'inspection.ndjson',
      '{ "ref": "A1", "vessel_imo": 9074729, "place": { "berth": "N1" }, "findings": [{ "code": "H", "photos": [{ "url": "a" }] }] }\n' +
        '{ "ref": "A2", "vessel_imo": 9074730, "place": { "berth": "S2", "spot": 4 } }\n'
    )
  ])
  await expect(page.getByRole('region', { name: 'What would come' }).getByRole('listitem')).toHaveCount(2)
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Make the design' }).click()
  await expect(page.locator('[data-card]')).toHaveCount(2)
  // What was guessed says by how much, and is so once somebody says it.
  await pane(page, 'left', 'Sheet')
  await page.getByRole('gridcell', { name: /^ref/ }).first().click()
  await page.getByRole('button', { name: 'All of it' }).first().click()
  const guessed = page.getByRole('group', { name: 'Guessed' })
  await expect(guessed).toContainText('in 1 of 2, 50 %, up to 1 each')
  await guessed.getByRole('button', { name: /^ref\S* is so/ }).click()
  await expect(guessed.getByRole('button', { name: /^ref\S* is so/ })).toBeHidden()
  await expectAccessible(page)
  await guessed.getByRole('button', { name: 'All of them are so' }).click()
  await expect(guessed).toBeHidden()
  await pane(page, 'left', 'Text')
  const text = page.getByRole('textbox', { name: 'The design in words' })
  await expect(text).toContainText('photos: list of object')
  await expect(text).toContainText('spot: integer')
  await pane(page, 'right', 'Script')
  const script = page.getByLabel('Script of the design')
  await page.getByLabel('Script for').selectOption('mongodb 8.0')
  await expect(script).toContainText('url: { bsonType: "string"')
  await page.getByLabel('Script for').selectOption('postgres 18')
  await expect(script).toContainText('findings jsonb')
})

test('the archive of the demo is tightened with a count of misfits; what it found goes into documents of its own, and back', async ({
  page
}) => {
  await openDemo(page)
  await expect(targetLine(page, 'archive')).toContainText('1 behind')
  await targetLine(page, 'archive').click()
  await expect(page.getByRole('row', { name: /findings\[\]\.severity/ })).toContainText('changed in the design')
  const odd = page.getByRole('region', { name: 'What the documents are' })
  await odd.getByRole('button', { name: 'Count those that do not fit' }).click()
  await expect(odd).toContainText('inspection: 2 documents do not fit')
  await page.getByRole('button', { name: 'Run all' }).click()
  await expect(targetLine(page, 'archive')).toContainText('in step')

  // From the sheet, by keyboard: kept by itself.
  await page.getByRole('link', { name: 'Draft' }).click()
  await pane(page, 'left', 'Sheet')
  const keptAs = async (way: RegExp) => {
    await page.keyboard.press('Control+k')
    await page.keyboard.type('severity')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('gridcell', { name: 'severity' }).first()).toBeVisible()
    const open = page.getByRole('button', { name: /^to Inspection/ }).first()
    if (!(await open.isVisible())) await page.getByRole('button', { name: 'All of it' }).first().click()
    if ((await open.getAttribute('aria-expanded')) !== 'true') await open.press('Enter')
    await page.getByRole('radio', { name: way }).first().focus()
    await page.keyboard.press('Space')
  }
  await keptAs(/^by itself/)
  await expectAccessible(page)
  await expect(targetLine(page, 'archive')).toContainText('behind')
  await targetLine(page, 'archive').click()
  const plan = page.getByLabel('Plan')
  await expect(plan).toContainText('puts each of findings into a document of its own')
  await expect(plan).not.toContainText('loses data')
  await page.getByRole('button', { name: 'Run all' }).click()
  await expect(targetLine(page, 'archive')).toContainText('in step')
  await page.getByRole('link', { name: 'Queries' }).click()
  await send(page, 'db.finding.find({ severity: "minor" }).sort({ line_no: 1 })')
  const tree = page.getByRole('region', { name: 'Documents of answer 1' })
  await expect(tree).toContainText('life raft overdue for service')
  await expectAccessible(page)

  await page.getByRole('link', { name: 'Draft' }).click()
  await pane(page, 'left', 'Sheet')
  await keptAs(/^within Inspection/)
  await targetLine(page, 'archive').click()
  await expect(plan).toContainText('puts each of finding into the inspection that it belongs to')
  await page.getByRole('checkbox', { name: /loses? data/ }).check()
  await page.getByRole('button', { name: 'Run all' }).click()
  await expect(targetLine(page, 'archive')).toContainText('in step')
  await page.getByRole('link', { name: 'Queries' }).click()
  await send(page, 'db.inspection.find({ "findings.severity": "major" })')
  await expect(tree).toContainText('findings 2 in a list')
  await page.getByRole('button', { name: 'grid' }).click()
  await expect(page.getByRole('article', { name: 'Answer 1' })).toContainText('emergency pump does not start')
})

test('what documents are is written as JSON Schema, and somebody else’s is read', async ({ page }) => {
  await openDemo(page)
  await pane(page, 'right', 'Script')
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'JSON Schema' }).click()
  const file = await download
  expect(file.suggestedFilename()).toBe('Tidewell Harbour.schema.json')
  const written = readFileSync(await file.path(), 'utf8')
  expect(written).toContain('"$ref": "#/$defs/finding"')

  await page.goto('/bring')
  const choosing = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Choose files' }).click()
  await (
    await choosing
  ).setFiles([{ name: 'harbour.schema.json', mimeType: 'application/json', buffer: Buffer.from(written) }])
  await expect(page.getByRole('region', { name: 'What would come' }).getByRole('listitem')).toHaveCount(17)
  await expectAccessible(page)
})
