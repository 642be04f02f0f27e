// Nothing is lost in the browser: reloads, other tabs, a browser that keeps nothing, and records that are damaged.
import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, openBlank } from './support'

async function add(page: Page, name: string) {
  await page.getByLabel('Name of a new entity').fill(name)
  await page.keyboard.press('Enter')
}
/** Told with the count: a word of the save before what was done last is none of it. */
const saved = (page: Page, count = '') => page.getByText(`${count} · saved`, { exact: false })
const card = (page: Page, name: string) =>
  page.getByLabel(`Entity ${name}`).or(page.getByRole('button', { name })).first()

test('an edit is kept when the page is loaded again at once', async ({ page }) => {
  await openBlank(page)
  for (const [n, name] of ['Berth', 'Buoy', 'Crane'].entries()) {
    await add(page, name)
    // The pause after which it is saved is longer.
    await page.evaluate(() => location.reload())
    await expect(saved(page, `${n + 1} ${n === 0 ? 'entity' : 'entities'}`)).toBeVisible()
  }
  await expect(card(page, 'Crane')).toBeVisible()
})

test('a design that another tab removes is said, and can be put back whole', async ({ page, context }) => {
  await openBlank(page)
  await add(page, 'Berth')
  await expect(saved(page, '1 entity')).toBeVisible()
  const other = await context.newPage()
  await other.goto('/')
  await other.getByRole('button', { name: 'Remove New design' }).click()
  await expect(other.getByText('It is open in another tab.')).toBeVisible()
  await other.getByRole('button', { name: 'Remove', exact: true }).click()
  await expect(other.getByRole('link', { name: /New design/ })).toBeHidden()
  await expect(page.getByText('taken off the shelf in another tab')).toBeVisible()
  // What is typed after it is not lost either.
  await add(page, 'Buoy')
  const download = page.waitForEvent('download')
  await page.getByRole('alert').getByRole('button', { name: 'Save to a file' }).click()
  expect((await download).suggestedFilename()).toBe('New design.ramblet')
  await page.getByRole('button', { name: 'Put it back' }).click()
  await expect(saved(page)).toBeVisible()
  await other.reload()
  await expect(other.getByRole('link', { name: /New design 2 entities/ })).toBeVisible()
})

test('a browser that keeps nothing says so, and what to do', async ({ page }) => {
  await page.addInitScript(() => {
    Object.defineProperty(IDBFactory.prototype, 'open', {
      value: () => {
        throw new DOMException('denied', 'SecurityError')
      }
    })
  })
  await page.goto('/')
  await expect(page.getByRole('alert')).toContainText('Allow it to keep data')
  await expect(page.getByText('Looking …')).toBeHidden()
  await page.getByRole('button', { name: 'New design' }).click()
  await expect(page.getByRole('alert')).toContainText('Allow it to keep data')
  await page.goto('/design/des_any')
  await expect(page.getByRole('alert')).toContainText('Allow it to keep data')
  await expectAccessible(page)
})

test('a disk that is full is said, and the design can be saved to a file', async ({ page }) => {
  await openBlank(page)
  await expect(saved(page)).toBeVisible()
  await page.evaluate(() => {
    const { put } = IDBObjectStore.prototype
    Object.assign(window, { free: () => Object.assign(IDBObjectStore.prototype, { put }) })
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('full', 'QuotaExceededError')
    }
  })
  await add(page, 'Berth')
  await expect(page.getByRole('alert')).toContainText('no room left')
  const download = page.waitForEvent('download')
  await page.getByRole('alert').getByRole('button', { name: 'Save to a file' }).click()
  expect((await download).suggestedFilename()).toBe('New design.ramblet')
  await page.evaluate(() => (window as unknown as { free: () => void }).free())
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect(saved(page)).toBeVisible()
})

test('what a newer one keeps is said, and an old tab lets go when a new one asks', async ({ page }) => {
  await openBlank(page)
  await expect(saved(page)).toBeVisible()
  // A newer one, in another tab, changes what is kept: it gets its turn at once.
  const opened = await page.evaluate(
    () =>
      new Promise<string>((resolve) => {
        const request = indexedDB.open('ramblet', 99)
        request.onblocked = () => resolve('blocked')
        request.onsuccess = () => {
          request.result.close()
          resolve('opened')
        }
      })
  )
  expect(opened).toBe('opened')
  await add(page, 'Berth')
  await expect(page.getByRole('alert')).toContainText('A newer Ramblet has been used')
  await page.goto('/')
  await expect(page.getByRole('alert')).toContainText('A newer Ramblet has been used')
})

test('an older tab that does not let go is said', async ({ page }) => {
  // It holds what was kept before the shapes that are kept now.
  await page.route('**/old', (route) => route.fulfill({ contentType: 'text/html', body: '<title>Old</title>' }))
  await page.goto('/old')
  await page.evaluate(
    () =>
      new Promise((resolve) => {
        const request = indexedDB.open('ramblet', 1)
        request.onsuccess = () => resolve(Object.assign(window, { held: request.result }) && undefined)
        request.onupgradeneeded = () => {
          request.result.createObjectStore('designs', { keyPath: 'id' })
          for (const name of ['objects', 'dumps', 'agreed', 'runs']) request.result.createObjectStore(name)
        }
      })
  )
  const page2 = await page.context().newPage()
  await page2.goto('/')
  await expect(page2.getByRole('alert')).toContainText('Close that tab')
  await page.close()
  await page2.getByRole('button', { name: 'Try again' }).click()
  await expect(page2.getByRole('link', { name: /Tidewell Harbour/ })).toBeVisible()
})

test('one damaged record leaves the rest to be opened, and all of it to be saved', async ({ page }) => {
  await openBlank(page)
  for (const name of ['Berth', 'Buoy']) await add(page, name)
  await expect(saved(page, '2 entities')).toBeVisible()
  await page.evaluate(
    () =>
      new Promise((resolve, reject) => {
        const request = indexedDB.open('ramblet')
        request.onerror = reject
        request.onsuccess = () => {
          const tx = request.result.transaction('objects', 'readwrite')
          const all = tx.objectStore('objects').openCursor()
          all.onsuccess = () => {
            const cursor = all.result
            if (cursor?.value.name === 'Buoy') cursor.update({ ...cursor.value, attributes: 7 })
            cursor?.continue()
          }
          tx.oncomplete = () => resolve(request.result.close())
        }
      })
  )
  await page.reload()
  await expect(page.getByRole('heading', { name: 'This design cannot be opened' })).toBeVisible()
  await expect(page.getByText('Buoy of the entities could not be read')).toBeVisible()
  await expectAccessible(page)
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: /Save all of it/ }).click()
  expect((await download).suggestedFilename()).toBe('New design as it stands.json')
  await page.getByRole('button', { name: /Open the rest/ }).click()
  await expect(page.getByText('1 entity ·')).toBeVisible()
  await expect(card(page, 'Berth')).toBeVisible()
})

/** As a page that went at once would have left it; a save that is still under way would take it away again. */
const leaves = (page: Page, values: Readonly<Record<string, string>>) =>
  expect
    .poll(() =>
      page.evaluate(async (left) => {
        Object.assign(localStorage, left)
        await new Promise((resolve) => setTimeout(resolve, 1000))
        return Object.entries(left).every(([key, value]) => localStorage.getItem(key) === value)
      }, values)
    )
    .toBe(true)

test('what was typed last and overtaken by another tab’s save is offered, not put over it', async ({ page }) => {
  await openBlank(page)
  await add(page, 'Berth')
  await expect(saved(page, '1 entity')).toBeVisible()
  const id = new URL(page.url()).pathname.split('/').at(-1) ?? ''
  const unsaved = {
    revision: 0,
    name: 'Typed last',
    settings: { identifier: 'integer', tablePrefix: '' },
    changed: []
  }
  const left = { [`ramblet.unsaved.${id}`]: JSON.stringify(unsaved) }
  for (const choice of ['Let it go', 'Have it instead']) {
    await leaves(page, left)
    await page.reload()
    await expect(page.getByRole('alert')).toContainText('another tab has saved since')
    await expect(page.getByLabel('Name of the design')).toHaveValue('New design')
    await page.getByRole('button', { name: choice }).click()
    await expect(page.getByRole('alert')).toBeHidden()
    if (choice === 'Let it go') {
      await page.reload()
      await expect(saved(page)).toBeVisible()
      await expect(page.getByRole('alert')).toBeHidden()
    }
  }
  await expect(page.getByLabel('Name of the design')).toHaveValue('Typed last')
  await expect(saved(page)).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByLabel('Name of the design')).toHaveValue('New design')
})
