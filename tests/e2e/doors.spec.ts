// The doors of the built server: what it says with every answer, where it listens, whom it lets in, and how it ends.
import { spawn, type ChildProcess } from 'node:child_process'
import { networkInterfaces } from 'node:os'
import { expect, test } from '@playwright/test'
import { freePort } from '../support/servers'

async function start(
  port: number,
  env: Record<string, string> = {}
): Promise<{ app: ChildProcess; said: () => string }> {
  const { HOST: _, ...rest } = process.env
  const app = spawn('node', ['build'], { env: { ...rest, PORT: String(port), ...env } })
  let text = ''
  app.stdout.on('data', (data: Buffer) => (text += data.toString()))
  await expect.poll(() => text).toContain('Listening')
  return { app, said: () => text }
}
const ended = (app: ChildProcess) => new Promise<number | null>((resolve) => app.once('exit', (code) => resolve(code)))
const mine = () =>
  Object.values(networkInterfaces())
    .flatMap((list) => list ?? [])
    .find(({ family, internal }) => family === 'IPv4' && !internal)?.address

test('pages run no script but the app’s own, are in no frame, and tell nobody where they are', async ({ page }) => {
  const answer = await page.goto('/')
  const headers = answer?.headers() ?? {}
  const policy = headers['content-security-policy'] ?? ''
  const scripts = /script-src ([^;]*)/.exec(policy)?.[1] ?? ''
  expect(scripts).toMatch(/'(nonce|sha256)-/)
  expect(scripts).not.toMatch(/unsafe-inline|'unsafe-eval'/)
  for (const part of ["object-src 'none'", "base-uri 'none'", "form-action 'self'", "frame-ancestors 'none'"])
    expect(policy).toContain(part)
  expect(headers).toMatchObject({
    'x-content-type-options': 'nosniff',
    'referrer-policy': 'no-referrer',
    'x-frame-options': 'DENY'
  })
})

test('it listens on this machine alone, and ends at once when it is told to', async () => {
  const port = await freePort()
  const { app } = await start(port)
  try {
    expect((await fetch(`http://127.0.0.1:${port}/`)).status).toBe(200)
    const address = mine()
    if (address) await expect(fetch(`http://${address}:${port}/`)).rejects.toThrow()
  } finally {
    const gone = ended(app)
    app.kill('SIGTERM')
    await gone
  }
})

test('told to listen for others, it lets in who knows the token', async () => {
  const port = await freePort()
  const { app, said } = await start(port, { HOST: '0.0.0.0' })
  try {
    const at = `http://127.0.0.1:${port}`
    await expect.poll(async () => (await fetch(at)).status).toBe(401)
    expect((await fetch(`${at}/api/databases/close`, { method: 'POST' })).status).not.toBe(200)
    const [, token = ''] = /token=([\w-]+)/.exec(said()) ?? []
    expect((await fetch(`${at}/?token=${token}x`)).status).toBe(401)
    const entered = await fetch(`${at}/?token=${token}`, { redirect: 'manual' })
    expect([entered.status, entered.headers.get('location')]).toEqual([303, '/'])
    const cookie = entered.headers.get('set-cookie')?.split(';')[0] ?? ''
    expect((await fetch(at, { headers: { cookie } })).status).toBe(200)
  } finally {
    const gone = ended(app)
    app.kill('SIGTERM')
    await gone
  }
})
