import AxeBuilder from '@axe-core/playwright'
import { expect, type Locator, type Page } from '@playwright/test'

/** The demo, opened from the shelf, its database looked at. */
export async function openDemo(page: Page) {
  await page.goto('/')
  await page.getByRole('link', { name: /Tidewell Harbour/ }).click()
  await expect(targetLine(page, 'dev')).toContainText('behind')
}

/** A blank design, opened. */
export async function openBlank(page: Page) {
  await page.goto('/')
  await page.getByRole('button', { name: 'New design' }).click()
  await expect(page.getByRole('tab', { name: 'Diagram' }).first()).toBeVisible()
}

export const targetLine = (page: Page, name: string): Locator =>
  page.getByLabel('Targets').getByRole('link', { name: new RegExp(`^${name}`) })

/** The cell of the sheet that stands in an entity's row. */
export const cell = (page: Page, entity: string, row: string, column: number): Locator =>
  sheetRow(page, entity, row).getByRole('gridcell').nth(column)

export const sheetRow = (page: Page, entity: string, row: string): Locator =>
  page
    .getByRole('grid')
    .locator(`[role=row]:has([id^="cell-"][id$="-name"]:text-matches("^${row}\\\\??$"))`)
    .filter({ has: page.locator(`[id^="cell-${entity}-"]`) })

/** No serious finding of axe, in both themes. */
export async function expectAccessible(page: Page) {
  for (const theme of ['Dark theme', 'Light theme']) {
    const { violations } = await new AxeBuilder({ page }).analyze()
    const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical')
    expect(serious.map(({ id, nodes }) => `${id}: ${nodes[0]?.html ?? ''} ${nodes[0]?.failureSummary ?? ''}`)).toEqual(
      []
    )
    await page.getByRole('button', { name: theme }).click()
  }
}

/** Puts a dropped database row or any other statement through the page's own repair field of a step. */
export async function repair(page: Page, step: Locator, statement: string) {
  await step.getByLabel(/A statement of your own/).fill(statement)
  await step.getByRole('button', { name: 'Run it' }).click()
}
