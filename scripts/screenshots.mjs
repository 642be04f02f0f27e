// Takes the pictures in docs/screenshots from the demo: `node scripts/screenshots.mjs`.
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { withApp } from './browser.mjs'
import { build, install, root } from './prepare.mjs'

install()
build()

/** What somebody left of an earlier Tidewell. */
const OLD = `CREATE TABLE berth (code TEXT PRIMARY KEY, quay VARCHAR(40) NOT NULL DEFAULT 'North', max_draught_m NUMERIC(5,2));
CREATE TABLE vessel (imo INTEGER PRIMARY KEY, name TEXT NOT NULL, flag CHAR(2));
CREATE TABLE pilot (licence VARCHAR(12) PRIMARY KEY, name TEXT NOT NULL);
CREATE TABLE visit (id INTEGER PRIMARY KEY, vessel_imo INTEGER NOT NULL REFERENCES vessel, berth_code TEXT REFERENCES berth,
  pilot_licence VARCHAR(12) REFERENCES pilot, arrives_at TIMESTAMP NOT NULL);
CREATE TABLE cargo_line (visit_id INTEGER NOT NULL REFERENCES visit, line INTEGER NOT NULL, goods TEXT, tonnes NUMERIC(9,3),
  PRIMARY KEY (visit_id, line));
CREATE TABLE tide_log (gauge TEXT, taken_at TIMESTAMP, level_m REAL);
CREATE TABLE tariff (code TEXT PRIMARY KEY, amount NUMERIC(9,2) NOT NULL);
CREATE TABLE inspection (id INTEGER PRIMARY KEY, vessel_imo INTEGER NOT NULL, held_on DATE, passed BOOLEAN);
CREATE VIEW at_north AS SELECT v.id FROM visit v JOIN berth b ON b.code = v.berth_code WHERE b.quay = 'North';
CREATE TRIGGER counted AFTER INSERT ON visit BEGIN UPDATE tariff SET amount = amount + 1 WHERE code = 'visits'; END;
INSERT INTO tariff VALUES ('visits', 0);
CREATE TABEL spare (x);`

const folder = join(root, 'docs/screenshots')
mkdirSync(folder, { recursive: true })
await withApp({ reducedMotion: 'reduce' }, async (page) => {
  const shot = async (name) => {
    await page.waitForTimeout(500)
    await page.screenshot({ path: join(folder, `${name}.png`) })
  }
  await page.getByRole('link', { name: /Tidewell Harbour/ }).waitFor()
  await shot('shelf')
  await page.getByRole('link', { name: 'Start from what exists' }).click()
  const choosing = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Choose files' }).click()
  await (await choosing).setFiles({ name: 'tidewell_2019.sql', mimeType: 'text/plain', buffer: Buffer.from(OLD) })
  await page.getByRole('region', { name: 'What was read' }).waitFor()
  await shot('bring')
  await page.getByRole('link', { name: 'Ramblet, to the shelf' }).click()
  await page.getByRole('link', { name: /Tidewell Harbour/ }).click()
  await page.getByText('10 behind').waitFor()
  await page.locator('[data-card=ent_visit] [data-row=lnk_visit_berth]').click()
  await shot('draft')
  await page.getByRole('button', { name: 'Outline' }).click()
  await page.getByRole('treeitem', { name: /^Visit/ }).click()
  await shot('outline')
  await page.getByRole('button', { name: 'Outline' }).click()
  await page.locator('[data-card=ent_visit] [data-row=lnk_visit_berth]').click()

  // A link that is being drawn, and taken back.
  await page.getByRole('toolbar', { name: 'Diagram' }).getByRole('button', { name: 'Link', exact: true }).click()
  const [from, to] = await Promise.all(
    ['pilot', 'berth'].map((id) => page.locator(`[data-card=ent_${id}]`).boundingBox())
  )
  await page.mouse.move(from.x + 40, from.y + 8)
  await page.mouse.down()
  await page.mouse.move(to.x + 30, to.y + 8, { steps: 4 })
  await shot('drawing')
  await page.mouse.up()
  await page.getByRole('button', { name: 'Undo' }).click()
  await page.locator('[data-card=ent_visit] [data-row=lnk_visit_berth]').click()

  await page.getByRole('button', { name: 'All of it' }).click()
  await shot('entity')
  await page.getByRole('button', { name: 'All of it' }).click()

  const right = page.getByRole('tablist', { name: 'right pane' })
  await right.getByRole('tab', { name: 'Text' }).click()
  await page.locator('.cm-content', { hasText: 'entity Visit' }).waitFor()
  await shot('text')
  await right.getByRole('tab', { name: 'Words' }).click()
  await page.getByRole('region', { name: 'Left unsaid' }).getByRole('button').first().waitFor()
  await shot('words')
  const everywhere = page.getByRole('form', { name: 'Add a column to every entity' })
  for (const [name, filled] of [
    ['made at', 'when made'],
    ['changed at', 'when changed'],
    ['changed by', 'who changed it']
  ]) {
    await everywhere.getByLabel('Name of').fill(name)
    await everywhere.getByLabel('What fills').selectOption(filled)
    await everywhere.getByRole('button').click()
  }
  await page.getByLabel('The letters of names').selectOption('humps: cargoLine')
  await page.getByText(/names would change/).waitFor()
  await page.getByRole('navigation', { name: 'Parts of this page' }).getByText('Columns of every entity').click()
  await shot('everywhere')
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Undo' }).click()
  await right.getByRole('tab', { name: 'Script' }).click()
  await page.getByRole('button', { name: 'Options' }).click()
  await page.getByRole('toolbar', { name: 'Script' }).getByRole('button', { name: 'Save' }).click()
  await shot('script')
  await page.getByRole('button', { name: 'Leave it' }).click()
  await page.getByRole('button', { name: 'Options' }).click()
  await right.getByRole('tab', { name: 'Sheet' }).click()

  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: 'Find anything' }).fill('New view')
  await page.keyboard.press('Enter')
  const view = page.getByRole('group', { name: /^The view (View|Berth use)$/ })
  await view.getByLabel('View', { exact: true }).fill('Berth use')
  await page.keyboard.press('Enter')
  await view.getByLabel('means').fill('how often each berth was taken')
  await view.getByRole('textbox', { name: /^Query of the view/ }).click()
  await page.keyboard.type(
    'SELECT b.code, count(*) AS visits\nFROM berth b JOIN visit v ON v.berth_code = b.code\nGROUP BY b.code'
  )
  await page.keyboard.press('Escape')
  await view.getByRole('button', { name: 'Keep the query' }).click()
  await page.getByRole('button', { name: 'Fit' }).click()
  await shot('view')
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Undo' }).click()

  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: 'Find anything' }).fill('lin')
  await page.keyboard.press('Escape')

  await page.getByRole('link', { name: /^Review/ }).click()
  await page.getByRole('article', { name: 'Foreign key without an index' }).waitFor()
  await shot('review')
  await page.getByRole('link', { name: 'Draft' }).click()

  const target = (name) => page.getByLabel('Targets').getByRole('link', { name: new RegExp(`^${name}`) })
  await target('production').click()
  await page.getByRole('row', { name: /depth column/ }).waitFor()
  await page
    .getByRole('row', { name: /service column/ })
    .getByRole('radio', { name: 'take' })
    .click()
  await shot('compare')
  const beside = page.getByLabel('Beside the design')
  await beside.getByRole('button', { name: 'in_port', exact: true }).click()
  await beside.scrollIntoViewIfNeeded()
  await shot('beside')
  await target('test').click()
  await page.getByRole('link', { name: 'Queries' }).click()
  await page
    .getByLabel('Statements to send')
    .fill(
      'SELECT v.name, v.loa, v.trade, c.name AS flag\nFROM vessel v JOIN country c ON c.iso = v.flag_iso\nORDER BY v.imo;\n' +
        'SELECT count(*) AS visits FROM visit;\nDELETE FROM visit;'
    )
  await page.keyboard.press('Control+Enter')
  await page.getByRole('alert').waitFor()
  await shot('queries')
  await page.getByRole('link', { name: 'Targets' }).click()
  await shot('targets')

  await page.getByRole('button', { name: 'Dark theme' }).click()
  await target('archive').click()
  await page.getByRole('link', { name: 'Queries' }).click()
  await page.getByLabel('Statements to send').fill('db.inspection.find({ "findings.severity": "major" })')
  await page.keyboard.press('Control+Enter')
  const found = page.getByRole('region', { name: 'Documents of answer 1' })
  await found.getByText('findings', { exact: true }).click()
  await found.getByText('line_no, severity, remark').click()
  await shot('documents-dark')
  await target('dev').click()
  await page.getByRole('checkbox', { name: /loses data/ }).check()
  await page.getByRole('button', { name: 'Run all' }).click()
  const refused = page.getByText('contains null values')
  await refused.waitFor()
  await refused.scrollIntoViewIfNeeded()
  await shot('run-dark')
  await page.getByRole('link', { name: 'Runs' }).click()
  await page.getByText('a step was refused').waitFor()
  await shot('runs-dark')
})
