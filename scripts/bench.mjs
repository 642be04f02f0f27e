// `npm run bench`: speed as ratios. First the core against JSON.parse, then whole commands against the engine's tools, then frames in a real browser against the pace of
// the display (1.0: every frame is shown).
import { build as bundle } from 'esbuild'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { withApp } from './browser.mjs'
import { build, install, root } from './prepare.mjs'

install()
build()

async function bundled(entry) {
  const outfile = join(root, 'dist', entry.replace('.ts', '.js'))
  await bundle({
    entryPoints: [join(root, entry)],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    logLevel: 'error'
  })
  return import(pathToFileURL(outfile).href)
}

await bundled('bench/core.ts')
await bundled('bench/script.ts')
await bundled('bench/layout.ts')
const { largeFile } = await bundled('bench/design.ts')

await withApp({}, async (page) => {
  const choosing = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Open a file' }).click()
  await (
    await choosing
  ).setFiles({ name: 'large.ramblet', mimeType: 'application/json', buffer: Buffer.from(largeFile(1000)) })
  await page.getByRole('button', { name: 'Fit' }).waitFor()
  await page.getByText('Laying out …').waitFor({ state: 'detached', timeout: 120_000 })
  await page.waitForTimeout(8000)
  const plane = page.getByRole('application')
  const { x, y, width, height } = await plane.boundingBox()
  const [cx, cy] = [x + width / 2, y + height / 2]

  /** Frame times while something is done, over that of an idle page. */
  async function frames(work) {
    await page.evaluate(() => {
      window.times = []
      let last = performance.now()
      const tick = (now) => {
        window.times.push(now - last)
        last = now
        window.ticking = requestAnimationFrame(tick)
      }
      window.ticking = requestAnimationFrame(tick)
    })
    await work()
    const times = await page.evaluate(() => (cancelAnimationFrame(window.ticking), window.times.slice(2)))
    times.sort((a, b) => a - b)
    return { median: times[Math.floor(times.length / 2)], p95: times[Math.floor(times.length * 0.95)] }
  }
  /** Beside all cards: what begins on one moves that. */
  const free = () =>
    page.evaluate(
      ([x, y, width, height]) => {
        for (let i = 0; i < 400; i++) {
          const at = [x + 40 + ((i * 37) % (width - 80)), y + 60 + ((i * 61) % (height - 160))]
          if (document.elementFromPoint(...at)?.getAttribute('role') === 'application') return at
        }
        return [x + width / 2, y + height / 2]
      },
      [x, y, width, height]
    )
  const pan = async () => {
    const [cx, cy] = await free()
    await page.mouse.move(cx, cy)
    await page.mouse.down()
    for (let i = 0; i < 60; i++) await page.mouse.move(cx + Math.sin(i / 5) * 200, cy + Math.cos(i / 5) * 150)
    await page.mouse.up()
  }
  const zoom = async () => {
    await page.mouse.move(cx, cy)
    for (let i = 0; i < 40; i++) await page.mouse.wheel(0, i % 20 < 10 ? 60 : -60)
  }
  const idle = await frames(() => page.waitForTimeout(1000))
  console.log('1,000 tables in the browser, frame time over that of an idle page (median / 95 of 100):')
  const report = (name, { median, p95 }) =>
    console.log(`  ${name.padEnd(32)} ${(median / idle.median).toFixed(1)} × / ${(p95 / idle.median).toFixed(1)} ×`)
  await page.getByRole('button', { name: 'Fit' }).click()
  report('panning, everything in view', await frames(pan))
  report('zooming, everything in view', await frames(zoom))
  // A card in the middle of the design comes into view, and is read at its full size.
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: 'Find anything' }).fill('buoy 500')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Fit' }).click()
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: 'Find anything' }).fill('buoy 501')
  while (parseInt(await page.getByText(/^\d+ %$/).innerText()) < 90)
    await page.getByRole('button', { name: 'Zoom in' }).click({ force: true })
  await page.keyboard.press('Enter')
  await page.locator('[data-card]').first().waitFor()
  report('panning, near', await frames(pan))
  report('zooming, near', await frames(zoom))

  // Fifty cards or so that are chosen by a frame, far out, and dragged by one of them, near.
  await page.getByRole('button', { name: 'Fit' }).click()
  await page.getByRole('button', { name: 'Choose', exact: true }).click()
  await page.mouse.move(cx - width / 5, cy - height / 5)
  await page.mouse.down()
  await page.mouse.move(cx, cy, { steps: 3 })
  await page.mouse.up()
  const chosen = await page.getByRole('group', { name: 'Cards that are chosen' }).locator('b').innerText()
  await page.mouse.move(cx - width / 10, cy - height / 10)
  while ((await page.locator('[data-card][aria-pressed=true]').count()) === 0) await page.mouse.wheel(0, -200)
  const held = await page.locator('[data-card][aria-pressed=true]').first().boundingBox()
  const dragging = async () => {
    const [hx, hy] = [held.x + held.width / 2, held.y + 8]
    await page.mouse.move(hx, hy)
    await page.mouse.down()
    for (let i = 0; i < 60; i++) await page.mouse.move(hx + Math.sin(i / 5) * 100, hy + Math.cos(i / 5) * 80)
    await page.mouse.up()
  }
  report(`dragging ${chosen} of 1,000`, await frames(dragging))

  // The sheet of 300 tables.
  await page.goto(page.url().replace(/design\/.*/, ''))
  const opening = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Open a file' }).click()
  await (
    await opening
  ).setFiles({ name: 'sheet.ramblet', mimeType: 'application/json', buffer: Buffer.from(largeFile(300)) })
  await page.getByRole('grid', { name: 'Columns of all entities' }).waitFor()
  await page.waitForTimeout(6000)
  console.log('the sheet of 300 tables, frame time over that of an idle page (median / 95 of 100):')
  const cell = page.locator('[id^="cell-"][id$="-meaning"]').nth(3)
  await cell.click()
  report(
    'typing into a cell',
    await frames(async () => {
      await page.keyboard.type('a buoy that marks the fairway, seen from afar', { delay: 20 })
      await page.keyboard.press('Enter')
    })
  )
  report(
    'choosing 200 rows',
    await frames(async () => {
      for (let i = 0; i < 200; i++) await page.keyboard.press('Shift+ArrowDown')
    })
  )
  report(
    'one value for 200 rows',
    await frames(async () => {
      await page.keyboard.type('seen')
      await page.keyboard.press('Enter')
      await page.waitForTimeout(1500)
    })
  )
  await page.getByRole('button', { name: 'Show', exact: true }).click()
  report(
    'narrowing the rows',
    await frames(async () => {
      await page.getByLabel('Only rows with').pressSequentially('seen', { delay: 60 })
      await page.waitForTimeout(500)
    })
  )

  console.log('letters typed into the words, frame time over that of an idle page (median / 95 of 100):')
  for (const tables of [50, 200, 1000]) {
    await page.goto(page.url().replace(/design\/.*/, ''))
    const file = page.waitForEvent('filechooser')
    await page.getByRole('button', { name: 'Open a file' }).click()
    await (
      await file
    ).setFiles({ name: 'words.ramblet', mimeType: 'application/json', buffer: Buffer.from(largeFile(tables)) })
    await page.getByRole('tablist', { name: 'left pane' }).getByRole('tab', { name: 'Text' }).click()
    const text = page.getByRole('textbox', { name: 'The design in words' })
    await page.locator('.cm-content').getByText('jot 1').waitFor({ timeout: 60_000 })
    for (const lens of ['Script', 'Diagram']) {
      await page.getByRole('tablist', { name: 'right pane' }).getByRole('tab', { name: lens }).click()
      await page.waitForTimeout(tables > 500 ? 12_000 : 4000)
      await text.focus()
      await page.keyboard.press('Control+End')
      await page.keyboard.insertText(`\nentity Lamp ${lens}\n  mark:`)
      await page.keyboard.press('Escape')
      await page.waitForTimeout(3000)
      const typed = await frames(async () => {
        await page.keyboard.type(' means a lamp that is seen from afar', { delay: 40 })
        await page.waitForTimeout(600)
      })
      report(`${tables} tables, words beside ${lens.toLowerCase()}`, typed)
    }
  }
})
