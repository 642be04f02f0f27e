import AxeBuilder from '@axe-core/playwright'
import { expect, type Locator, type Page } from '@playwright/test'

/** The demo, opened from the shelf, its database looked at. */
export async function openDemo(page: Page, at = '/') {
  await page.goto(at)
  await page.getByRole('link', { name: /Tidewell Harbour/ }).click()
  // The first look compiles the embedded engine.
  await expect(targetLine(page, 'dev')).toContainText('behind', { timeout: 60_000 })
}

/** A blank design, opened. */
export async function openBlank(page: Page) {
  await page.goto('/')
  await page.getByRole('button', { name: 'New design' }).click()
  await expect(page.getByRole('tab', { name: 'Diagram' }).first()).toBeVisible()
}

export const targetLine = (page: Page, name: string): Locator =>
  page.getByLabel('Targets').getByRole('link', { name: new RegExp(`^${name}`) })

/** No serious finding of axe, in both themes. */
export async function expectAccessible(page: Page) {
  for (const theme of ['Dark theme', 'Light theme']) {
    await expectNoSeriousFinding(page)
    await page.getByRole('button', { name: theme }).click()
  }
}

export async function expectNoSeriousFinding(page: Page) {
  const { violations } = await new AxeBuilder({ page }).analyze()
  const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical')
  expect(serious.map(({ id, nodes }) => `${id}: ${nodes[0]?.html ?? ''} ${nodes[0]?.failureSummary ?? ''}`)).toEqual([])
}

/**
 * Two slow steps in the plan for the demo's dev: the first takes so long that what is before it is told, and in the second
 * there is time to stop or to cut off the run.
 */
export async function slowDown(page: Page) {
  const steps = page.getByLabel('Plan').getByRole('listitem')
  for (const { anchor, seconds } of [
    { anchor: 'RENAME CONSTRAINT', seconds: 3 },
    { anchor: 'ALTER COLUMN depth', seconds: 8 }
  ]) {
    const step = steps.filter({ hasText: anchor })
    await step.getByRole('button', { name: 'before' }).click()
    const own = step.getByLabel(/A statement of your own/)
    await own.fill(`SELECT pg_sleep(${seconds})`)
    await own.press('Enter')
    await expect(steps.filter({ hasText: `pg_sleep(${seconds})` })).toBeVisible()
  }
}

/** Runs a statement of one's own by a step's field for it. */
export async function repair(page: Page, step: Locator, statement: string) {
  await step.getByLabel(/A statement of your own/).fill(statement)
  await step.getByRole('button', { name: 'Run it' }).click()
}

/** Sends a statement by the pane for queries, in the place of what was there, once what was sent before is answered. */
export async function send(page: Page, statement: string) {
  await page.getByRole('textbox', { name: 'Statements to send' }).click()
  await page.keyboard.press('Control+a')
  await page.keyboard.insertText(statement)
  await expect(page.getByRole('button', { name: 'Send', exact: true })).toBeEnabled()
  await page.keyboard.press('Control+Enter')
}
