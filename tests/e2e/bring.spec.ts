// What exists becomes a design: a database file is looked over, made a design of, and in step with it from then on.
import { expect, test } from '@playwright/test'
import initSqlJs from 'sql.js'
import writeWorkbook from 'write-excel-file/node'
import { OFFICE_PACKAGE } from '../foreign/packages'
import { packagedFiles } from '../support/packaged'
import { expectAccessible, openDemo, targetLine } from './support'

const MADE = `CREATE TABLE berth (code TEXT PRIMARY KEY, quay VARCHAR(40) NOT NULL DEFAULT 'North', max_draught_m NUMERIC(5,2));
  CREATE TABLE vessel (imo INTEGER PRIMARY KEY, name TEXT NOT NULL, flag CHAR(2));
  CREATE TABLE visit (id INTEGER PRIMARY KEY, vessel_imo INTEGER NOT NULL REFERENCES vessel, berth_code TEXT REFERENCES berth,
    arrives_at TIMESTAMP NOT NULL, CHECK (arrives_at > '2000'));
  CREATE INDEX visit_in_order ON visit (berth_code, arrives_at DESC);
  CREATE TABLE tide_log (gauge TEXT, taken_at TIMESTAMP, level_m REAL);
  CREATE VIEW at_north AS SELECT v.id FROM visit v JOIN berth b ON b.code = v.berth_code WHERE b.quay = 'North';
  INSERT INTO berth VALUES ('N1', 'North', 9.5); INSERT INTO vessel VALUES (9074729, 'Grey Heron', 'NO');`

async function harbourFile(): Promise<Buffer> {
  const { Database } = await initSqlJs()
  const database = new Database()
  database.exec(MADE)
  return Buffer.from(database.export())
}

test('a database file becomes a design in step with it, and what changes in either is seen', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Start from what exists' }).click()
  const choosing = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Choose files' }).click()
  const buffer = await harbourFile()
  await (await choosing).setFiles({ name: 'tidewell_2019.db', mimeType: 'application/octet-stream', buffer })

  const come = page.getByRole('region', { name: 'What would come' })
  await expect(come.getByRole('listitem')).toHaveText([
    /berth.*Berth/,
    /tide_log.*Tide log/,
    /vessel.*Vessel/,
    /visit.*Visit/,
    /at_north.*view.*kept as it is/
  ])
  await expect(come.getByRole('status')).toHaveText('4 of 4 tables, 1 of 1 others chosen')
  const read = page.getByRole('region', { name: 'What was read' })
  await expect(read).toContainText('4 tables')
  await expect(read).toContainText('2 foreign keys')
  await expect(read).toContainText('1 view')
  await expectAccessible(page)
  await page.getByLabel('Name of the design').fill('Tidewell of 2019')
  await page.keyboard.press('Enter')

  await expect(page.getByLabel('Name of the design')).toHaveValue('Tidewell of 2019')
  await expect(targetLine(page, 'tidewell_2019.db')).toContainText('in step')
  // Its rows came along; what is changed in it from now on is seen.
  await targetLine(page, 'tidewell_2019.db').click()
  await page.getByRole('link', { name: 'Queries' }).click()
  await page.getByLabel('Statements to send').fill('SELECT name FROM vessel')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText('Grey Heron')).toBeVisible()
  await page.getByRole('checkbox', { name: /Read only/ }).uncheck()
  await page.getByLabel('Statements to send').fill('ALTER TABLE vessel ADD COLUMN loa_m REAL')
  await page.getByRole('button', { name: 'Send' }).click()
  await page.getByRole('link', { name: 'Differences' }).click()
  await page.getByRole('button', { name: 'Compare again' }).click()
  await expect(targetLine(page, 'tidewell_2019.db')).toContainText('1 drifted')
})

test('a script becomes a design; what was not understood of it is shown where it stands', async ({ page }) => {
  await page.goto('/bring')
  const choosing = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Choose files' }).click()
  const script = `${MADE}\nCREATE TABEL spare (x);\nCREATE TABLE tariff (code TEXT PRIMARY KEY);`
  await (await choosing).setFiles({ name: 'tidewell.sql', mimeType: 'text/plain', buffer: Buffer.from(script) })
  const read = page.getByRole('region', { name: 'What was read' })
  await expect(read).toContainText('5 tables')
  await expect(read).toContainText('2 statements of data or settings passed over')
  await read.getByText('line 9: SQLite makes no tabel.').click()
  await expect(read).toContainText('CREATE TABEL spare (x)')
  await page.getByRole('button', { name: 'Make the design' }).click()
  await expect(targetLine(page, 'tidewell.sql')).toContainText('no database')
  await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: 'Script' }).click()
  await expect(page.getByText('CREATE TABLE tariff (code TEXT PRIMARY KEY)')).toBeVisible()
})

const BERTHS = `CREATE TABLE berths (code varchar(8) PRIMARY KEY, quay varchar(40) NOT NULL);
CREATE TABLE vessels (imo integer PRIMARY KEY, name text NOT NULL);
CREATE TABLE tmp_import (line text);
CREATE TABLE tariffs (code text NOT NULL UNIQUE, amount numeric(8,2));`
const VISITS = `SET search_path = public;
CREATE TABLE visits (id serial PRIMARY KEY, vessel_imo integer NOT NULL, berth_code varchar(8) REFERENCES berths, arrives_at timestamptz NOT NULL);
CREATE VIEW at_berths AS SELECT v.id FROM visits v JOIN berths b ON b.code = v.berth_code;
CREATE TABEL spare (x int);`

test('scripts in any order become one design, with what they leave unsaid, and without what is not wanted', async ({
  page
}) => {
  await page.goto('/bring')
  const choosing = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Choose files' }).click()
  const file = (name: string, text: string) => ({ name, mimeType: 'text/plain', buffer: Buffer.from(text) })
  await (await choosing).setFiles([file('2_visits.sql', VISITS), file('1_berths.sql', BERTHS)])

  const come = page.getByRole('region', { name: 'What would come' })
  const read = page.getByRole('region', { name: 'What was read' })
  await expect(read.getByRole('combobox')).toHaveValue('postgres')
  await expect(read).toContainText('5 tables')
  await expect(read).toContainText('1 view')
  await expect(read.getByText('2_visits.sql, line 4: PostgreSQL makes no tabel.')).toBeVisible()

  // Some tables are not wanted, found by a part of their name.
  await come.getByLabel('Look for names').fill('tmp*')
  await come.getByRole('checkbox', { name: 'All that is found' }).uncheck()
  await come.getByLabel('Look for names').fill('')
  await expect(come.getByRole('status')).toHaveText('4 of 5 tables, 1 of 1 others chosen')
  // What stands on a table goes with it, and comes back with it; what stands by itself can be left out.
  await come.getByRole('checkbox', { name: 'visits', exact: true }).uncheck()
  await expect(come.getByRole('listitem').filter({ hasText: 'at_berths' })).toContainText('it stands on visits.')
  await come.getByRole('checkbox', { name: 'visits', exact: true }).check()
  await expect(come.getByRole('checkbox', { name: 'at_berths' })).toBeChecked()
  await come.getByRole('checkbox', { name: 'at_berths' }).uncheck()
  await expect(come.getByRole('status')).toHaveText('4 of 5 tables, 0 of 1 others chosen')
  await come.getByRole('checkbox', { name: 'at_berths' }).check()

  // A link that nobody declared is taken; a key is added.
  const unsaid = page.getByRole('region', { name: 'What it leaves unsaid' })
  await expect(unsaid.getByRole('checkbox', { name: /visits.vessel_imo → vessels.imo/ })).toBeChecked()
  await unsaid.getByRole('checkbox', { name: /tariffs \(code\)/ }).check()
  await expectAccessible(page)
  await page.getByRole('checkbox', { name: 'around the most linked' }).check()
  await page.getByRole('checkbox', { name: 'keys only' }).check()
  await page.getByLabel('Name of the design').fill('Tidewell')
  await page.keyboard.press('Enter')

  await expect(targetLine(page, '2_visits.sql and 1 more')).toContainText('no database')
  await expect(page.getByRole('option', { name: 'Around Visits' })).toHaveCount(1)
  await page.getByRole('combobox', { name: 'Diagram', exact: true }).selectOption('Keys')
  await page.getByRole('button', { name: 'Look', exact: true }).click()
  await expect(page.getByLabel('Columns shown')).toHaveValue('keys')
  await page.getByRole('combobox', { name: 'Diagram', exact: true }).selectOption('Everything')
  await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: 'Script' }).click()
  // The script says what was there; another engine gets what the design says.
  await expect(page.getByText('CREATE VIEW public.at_berths')).toBeVisible()
  await expect(page.getByText('tmp_import')).toHaveCount(0)
  await page.getByRole('link', { name: 'Targets' }).click()
  const add = page.getByLabel('Add a target')
  await add.getByLabel('Name').fill('pocket')
  await add.getByLabel('Engine').selectOption('SQLite')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await targetLine(page, 'pocket').click()
  await page.getByRole('button', { name: 'Run all' }).click()
  await expect(targetLine(page, 'pocket')).toContainText('in step')
  await page.getByRole('link', { name: 'Queries' }).click()
  await page
    .getByLabel('Statements to send')
    .fill(`SELECT "table", "from" FROM pragma_foreign_key_list('visits') ORDER BY 1`)
  await page.keyboard.press('Control+Enter')
  await expect(page.getByRole('row', { name: /vessels.*vessel_imo/ })).toBeVisible()
})

test('a newer script is compared with the design: what changed there is taken, what changed here is written', async ({
  page
}) => {
  const file = (name: string, text: string) => ({ name, mimeType: 'text/plain', buffer: Buffer.from(text) })
  const give = async (button: string, ...files: ReturnType<typeof file>[]) => {
    const choosing = page.waitForEvent('filechooser')
    await page.getByRole('button', { name: button }).click()
    await (await choosing).setFiles(files)
  }
  await page.goto('/bring')
  await give('Choose files', file('tidewell.sql', `${BERTHS}\n${VISITS}`))
  await page.getByRole('button', { name: 'Make the design' }).click()
  await targetLine(page, 'tidewell.sql').click()
  await expect(page.getByText('This target has no database')).toBeVisible()

  // The same again is in step; a newer one has drifted.
  await give('Compare with files', file('visits.sql', VISITS), file('berths.sql', BERTHS))
  await expect(targetLine(page, 'tidewell.sql')).toContainText('in step')
  await expect(page.getByRole('alert')).toHaveCount(0)
  await expect(page.getByText('Compared with visits.sql and 1 more.')).toContainText('1 statement not understood')
  const newer = `${BERTHS}\n${VISITS}; ALTER TABLE vessels ADD flag char(2); CREATE INDEX in_order ON visits (arrives_at);`
  await give('Compare with files', file('newer.sql', newer))
  await expect(targetLine(page, 'tidewell.sql')).toContainText('2 drifted')
  await expectAccessible(page)
  const row = page.getByLabel('Differences').getByRole('row', { name: /^flag/ })
  await expect(row).toContainText('char(2)')
  await page.getByRole('button', { name: 'take', exact: true }).click()
  await page.getByRole('button', { name: 'for every target' }).click()
  await expect(targetLine(page, 'tidewell.sql')).toContainText('in step')

  // What the design changes is written as a script: nothing can be run.
  await page.getByRole('link', { name: 'Draft' }).click()
  await page.getByLabel('New entity').fill('Pilot')
  await page.keyboard.press('Enter')
  await targetLine(page, 'tidewell.sql').click()
  await expect(targetLine(page, 'tidewell.sql')).toContainText('1 behind')
  await expect(page.getByText('CREATE TABLE public.pilot').first()).toBeVisible()
  await expect(page.getByRole('alert')).toContainText('Files can only be read')
  await expect(page.getByRole('button', { name: 'Run all' })).toBeDisabled()
})

test('what exists joins a design that is there, as one edit', async ({ page }) => {
  await openDemo(page)
  await page.getByRole('link', { name: 'Targets' }).click()
  await page.getByRole('link', { name: /^Bring in a database/ }).click()
  const choosing = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Choose files' }).click()
  await (
    await choosing
  ).setFiles({ name: 'tides.db', mimeType: 'application/octet-stream', buffer: await harbourFile() })
  const come = page.getByRole('region', { name: 'What would come' })
  // What the design has is left out, with the reason.
  await expect(come.getByRole('status')).toHaveText('1 of 4 tables, 0 of 1 others chosen')
  await expect(come.getByRole('listitem').filter({ hasText: 'visit' })).toContainText('the design has Visit already')
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Add to the design' }).click()
  await expect(targetLine(page, 'tides.db')).toContainText('behind')
  const outline = page.getByRole('complementary', { name: 'Outline' })
  await page.keyboard.press('Alt+o')
  await expect(outline.getByRole('treeitem', { name: /^Tide log/ })).toBeVisible()
  await expect(outline.getByRole('treeitem', { name: /^Visit/ })).toHaveCount(1)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(outline.getByRole('treeitem', { name: /^Tide log/ })).toHaveCount(0)
  await expect(targetLine(page, 'tides.db')).toHaveCount(0)
})

test('rows and names become a design: columns are told by their values, links by their names', async ({ page }) => {
  await page.goto('/bring')
  const choosing = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Choose files' }).click()
  const file = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) })
  await (
    await choosing
  ).setFiles([
    file('vessels.csv', 'imo,name,tons\n9074729,"Heron, Grey",412.5\n9074730,Curlew,98.25\n'),
    file('visits.csv', 'id;vessel_imo;arrives on\n1;9074729;2026-11-01\n2;9074730;\n')
  ])
  const unsaid = page.getByRole('region', { name: 'What it leaves unsaid' })
  await expect(unsaid.getByRole('checkbox', { name: /visits.vessel_imo → vessels.imo/ })).toBeChecked()
  await page.getByRole('button', { name: 'Make the design' }).click()
  await expect(page.getByRole('link', { name: 'Add a target' })).toBeVisible()
  await expect(page.getByText('decimal(7,2)').first()).toBeVisible()
  await expect(page.locator('[data-card]')).toHaveCount(2)

  // A workbook is a table a sheet.
  const data = (...rows: (string | number | Date)[][]) =>
    rows.map((row) => row.map((value) => ({ value, ...(value instanceof Date ? { format: 'yyyy-mm-dd' } : {}) })))
  const workbook = writeWorkbook([
    { sheet: 'Berth', data: data(['code', 'depth', 'dredged on'], ['N1', 9.5, new Date('2026-03-01T00:00:00Z')]) },
    { sheet: 'Mooring', data: data(['id', 'berth code'], [1, 'N1'], [2, 'N1']) }
  ])
  await page.goto('/bring')
  const choosingAgain = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Choose files' }).click()
  const mimeType = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'
  await (await choosingAgain).setFiles({ name: 'quays.xlsx', mimeType, buffer: await workbook.toBuffer() })
  const listed = page.getByRole('region', { name: 'What would come' }).getByRole('listitem')
  await expect(listed).toHaveText([/Berth.*3 columns/, /Mooring.*2 columns/])
  await page.getByRole('button', { name: 'Make the design' }).click()
  await expect(page.getByText('decimal(4,1)').first()).toBeVisible()
  await expect(page.getByText('date', { exact: true }).first()).toBeVisible()

  await page.goto('/bring')
  await page.getByLabel(/Or paste it/).fill('Pilot\nTariff\nTide gauge')
  await page.getByRole('button', { name: 'Look at it' }).click()
  const come = page.getByRole('region', { name: 'What would come' })
  await expect(come.getByRole('listitem')).toHaveText([/Pilot/, /Tariff/, /Tide gauge/])
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Make the design' }).click()
  await expect(page.locator('[data-card]')).toHaveCount(3)
})

test('a bridge table and subtypes become what they are when asked, and the script stays the same', async ({ page }) => {
  const script = `CREATE TABLE vessels (imo integer PRIMARY KEY, name text NOT NULL);
    CREATE TABLE pilots (id integer PRIMARY KEY, name text);
    CREATE TABLE tugs (imo integer PRIMARY KEY REFERENCES vessels, pull_t numeric(5,1));
    CREATE TABLE knows (imo integer REFERENCES vessels, pilot integer REFERENCES pilots, PRIMARY KEY (imo, pilot));`
  const buffer = Buffer.from(script)
  const choose = async (button: string) => {
    const choosing = page.waitForEvent('filechooser')
    await page.getByRole('button', { name: button }).click()
    await (await choosing).setFiles({ name: 'tidewell.sql', mimeType: 'text/plain', buffer })
  }
  await page.goto('/bring')
  await choose('Choose files')
  const unsaid = page.getByRole('region', { name: 'What it leaves unsaid' })
  await unsaid.getByText('Bridge tables', { exact: true }).click()
  await unsaid.getByRole('checkbox', { name: /vessels and pilots, by knows/ }).check()
  await unsaid.getByText('Subtypes', { exact: true }).click()
  await unsaid.getByRole('checkbox', { name: /tugs: kinds of vessels/ }).check()
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Make the design' }).click()
  await expect(page.locator('[data-card]')).toHaveCount(3)
  await expect(page.getByText('many Vessels')).toBeVisible()
  await expect(page.getByText('the key of what it is a kind of')).toBeVisible()
  await targetLine(page, 'tidewell.sql').click()
  await choose('Compare with files')
  await expect(targetLine(page, 'tidewell.sql')).toContainText('in step')
})

test('an office database becomes a design', async ({ page }) => {
  const found = packagedFiles(OFFICE_PACKAGE)
  test.skip('lacking' in found, 'lacking' in found ? found.lacking : '')
  const [path = ''] = 'paths' in found ? found.paths : []
  await page.goto('/bring')
  const choosing = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Choose files' }).click()
  await (await choosing).setFiles(path)
  const come = page.getByRole('region', { name: 'What would come' })
  await expect(come.getByRole('listitem')).toHaveText([/Monitor_Authenticate.*12 columns/])
  await expectAccessible(page)
  await page.getByRole('button', { name: 'Make the design' }).click()
  await expect(page.getByText('text(8)').first()).toBeVisible()
})

test('what is no database is told, and nothing is made; a reading can be left', async ({ page }) => {
  await page.goto('/bring')
  const choose = async (name: string, text: string) => {
    const choosing = page.waitForEvent('filechooser')
    await page.getByRole('button', { name: 'Choose files' }).click()
    await (await choosing).setFiles({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(text) })
  }
  await choose('notes.db', 'no database at all')
  await expect(page.getByRole('alert')).toContainText('notes.db is no SQLite database, and no script')
  await choose('broken.db', `SQLite format 3\0${'x'.repeat(5000)}`)
  await expect(page.getByRole('alert')).toContainText('cannot be read as one')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('heading', { name: 'Your designs' })).toBeVisible()
  await expect(page.getByRole('link', { name: /entities/ })).toHaveCount(1)
})
