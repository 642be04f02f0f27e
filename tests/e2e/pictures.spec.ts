// A diagram in each notation, and what is saved of it: read again, and held against the screen point by point.
import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, openDemo } from './support'

const bar = (page: Page) => page.getByRole('form', { name: 'Picture of the diagram' })

async function saved(page: Page): Promise<Buffer> {
  const coming = page.waitForEvent('download')
  await bar(page).getByRole('button', { name: 'Save', exact: true }).click()
  return readFileSync(await (await coming).path())
}

test('a notation is chosen for a diagram, said by its legend, kept, and taken back', async ({ page }) => {
  await openDemo(page)
  await page.getByRole('button', { name: 'Look', exact: true }).click()
  const notation = page.getByLabel('Notation')
  const legend = page.getByRole('group', { name: 'Legend' })
  const visit = page.locator('[data-card=ent_visit]')
  await expect(notation).toHaveValue('crows foot')
  await expect(visit).toContainText('departs at?')
  await page.getByLabel('Columns shown').selectOption('names')
  await expect(visit).not.toContainText('departs at?')
  await page.getByLabel('Columns shown').selectOption('all')
  for (const [id, said, shown] of [
    ['idef1x', 'there may be no parent', 'vessel (FK)'],
    ['uml', '{id} tells it from others', 'arrives at:'],
    ['barker', '# tells it from others', 'VISIT'],
    ['chen', 'attribute, underlined in the key', 'draught']
  ] as const) {
    await notation.selectOption(id)
    await expect(legend).toContainText(said)
    await expect(visit).toContainText(shown)
  }
  // What a link brings is told by its line alone.
  await expect(visit).not.toContainText('vessel')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(notation).toHaveValue('barker')
  await page.getByRole('button', { name: 'Redo' }).click()
  await expect(notation).toHaveValue('chen')
  await expect(page.getByText('saved')).toBeVisible()
  await page.reload()
  await page.getByRole('button', { name: 'Look', exact: true }).click()
  await expect(notation).toHaveValue('chen')
  await expectAccessible(page)
})

test('a picture is saved as SVG, PNG and PDF, as it is on the screen', async ({ page }) => {
  await openDemo(page)
  await page.getByRole('button', { name: 'Picture' }).click()
  await expectAccessible(page)
  const svg = (await saved(page)).toString('utf8')
  for (const text of ['Pilotage job', 'may be empty', 'Whole harbour']) expect(svg).toContain(text)
  await bar(page).getByLabel('Save as').selectOption('png')
  await bar(page).getByLabel('Size').selectOption('twice')
  const png = await saved(page)
  const [, width = ''] = /viewBox="0 0 (\d+)/.exec(svg) ?? []
  expect(png.readUInt32BE(16)).toBe(Number(width) * 2)
  await bar(page).getByLabel('Save as').selectOption('pdf')
  await bar(page).getByLabel('Paper').selectOption('sheets of A4')
  await bar(page).getByLabel('all diagrams').check()
  const pdf = (await saved(page)).toString('latin1')
  expect(pdf.startsWith('%PDF-')).toBe(true)
  expect([...pdf.matchAll(/\/Type \/Page\b/g)].length).toBeGreaterThan(4)

  // One card on the screen, and where it is in the file.
  const card = page.locator('[data-card=ent_berth]')
  await page.getByRole('button', { name: 'Picture' }).click()
  await expect(bar(page)).toHaveCount(0)
  const drawnAt = await card.evaluate((node: SVGGElement) => {
    const { a, e, f } = node.getScreenCTM() ?? { a: 1, e: 0, f: 0 }
    return { scale: a, x: e, y: f, width: node.getBBox().width, height: node.getBBox().height }
  })
  const inner = { x: drawnAt.x + 4, y: drawnAt.y + 4, width: 88, height: 48 }
  const screen = await page.screenshot({ clip: inner })
  const other = await page.context().newPage()
  await other.setContent(
    `<body style="margin:0"><div style="transform-origin:0 0;transform:scale(${drawnAt.scale})">${svg}</div></body>`
  )
  const place = await other.getByText('Berth', { exact: true }).evaluate((node: SVGTextElement) => {
    const { e, f } = node.getScreenCTM() ?? { e: 0, f: 0 }
    return { x: e, y: f }
  })
  const file = await other.screenshot({ clip: { ...inner, x: place.x + 4, y: place.y + 4 }, fullPage: true })
  const differ = await other.evaluate(
    async ([one = '', two = '']) => {
      const pixels = async (base64: string) => {
        const image = new Image()
        image.src = `data:image/png;base64,${base64}`
        await image.decode()
        // A quarter as large: letters are drawn at other fractions of a pixel.
        const [width, height] = [Math.ceil(image.width / 4), Math.ceil(image.height / 4)]
        const context = Object.assign(document.createElement('canvas'), { width, height }).getContext('2d')
        if (!context) return new Uint8ClampedArray()
        context.imageSmoothingQuality = 'high'
        context.drawImage(image, 0, 0, width, height)
        return context.getImageData(0, 0, width, height).data
      }
      const [a, b] = await Promise.all([pixels(one), pixels(two)])
      let most = 0
      for (const [i, value] of a.entries()) most = Math.max(most, Math.abs(value - (b[i] ?? 0)))
      return { most, count: a.length }
    },
    [screen.toString('base64'), file.toString('base64')]
  )
  expect(differ.count).toBeGreaterThan(500)
  expect(differ.most).toBeLessThan(60)
})

test('what is chosen is saved alone, through the browser’s own dialog, and printed alone on its page', async ({
  page
}) => {
  await page.addInitScript(() => {
    const told = window as unknown as { written?: string; printedAs?: string; showSaveFilePicker: unknown }
    told.showSaveFilePicker = ({ suggestedName }: { suggestedName: string }) =>
      Promise.resolve({
        createWritable: () =>
          Promise.resolve({
            write: async (blob: Blob) => {
              told.written = `${suggestedName}\n${await blob.text()}`
            },
            close: () => Promise.resolve()
          })
      })
    window.print = () => {
      const [image] = document.querySelectorAll<HTMLImageElement>('body > .printed')
      told.printedAs = image ? `${image.naturalWidth > 100}` : 'nothing'
      window.dispatchEvent(new Event('afterprint'))
    }
  })
  await openDemo(page)
  await page.locator('[data-card=ent_berth]').click()
  await page.locator('[data-card=ent_visit]').click({ modifiers: ['Shift'], position: { x: 30, y: 8 } })
  await expect(page.getByRole('group', { name: 'Cards that are chosen' })).toContainText('2 cards')
  await page.getByRole('button', { name: 'Picture' }).click()
  await bar(page).getByLabel('only what is chosen').check()
  await bar(page).getByRole('button', { name: 'Save to …' }).click()
  const written = () => page.evaluate(() => (window as unknown as { written?: string }).written ?? '')
  await expect.poll(written).toContain('Tidewell Harbour, Whole harbour.svg')
  expect(await written()).toContain('>Berth<')
  expect(await written()).not.toContain('>Pilotage job<')
  await bar(page).getByRole('button', { name: 'Print …' }).click()
  await expect.poll(() => page.evaluate(() => (window as unknown as { printedAs?: string }).printedAs)).toBe('true')
  await expect(page.locator('.printed')).toHaveCount(0)
})
