// Debian's Chromium, without the services that would look for other machines.
import { spawn } from 'node:child_process'
import { chromium } from '@playwright/test'
import { firstFree, root } from './prepare.mjs'

export const launch = {
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: [
    '--headless',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync'
  ]
}

/** The built application at a free port, opened in a fresh browser; all is ended when the work is. */
export async function withApp(options, work) {
  const port = await firstFree(4190)
  const address = `http://127.0.0.1:${port}/`
  const env = { ...process.env, PORT: String(port), HOST: '127.0.0.1' }
  const server = spawn(process.execPath, ['build'], { cwd: root, env, stdio: 'ignore' })
  const browser = await chromium.launch(launch)
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, ...options })
    for (let tries = 0; tries < 50; tries++) {
      const open = await page.goto(address).then(
        () => true,
        () => false
      )
      if (open) break
      await page.waitForTimeout(200)
    }
    await work(page)
  } finally {
    await browser.close()
    server.kill()
  }
}
