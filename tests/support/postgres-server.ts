// A private PostgreSQL server on this machine, with a data folder of its own, for as long as a test file runs.
import { execFileSync, spawn } from 'node:child_process'
import { chownSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { createServer, type AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'

export interface Server {
  /** Address of a database on it; the name is made up by the caller. */
  create(database: string): Promise<string>
  stop(): Promise<void>
}

const home = '/usr/lib/postgresql'

/** Why there can be no server here; nothing when there can. */
export function whyNoServer(): string | undefined {
  if (!existsSync(home) || readdirSync(home).length === 0)
    return 'PostgreSQL is not installed (Debian package postgresql)'
  if (process.getuid?.() === 0 && !user()) return 'there is no user postgres to run the server as'
  return undefined
}

function user(): { uid: number; gid: number } | undefined {
  const line = readFileSync('/etc/passwd', 'utf8')
    .split('\n')
    .find((l) => l.startsWith('postgres:'))
  const [, , uid, gid] = line?.split(':') ?? []
  return uid && gid ? { uid: Number(uid), gid: Number(gid) } : undefined
}

export async function startServer(): Promise<Server> {
  const bin = join(home, readdirSync(home).sort((a, b) => Number(b) - Number(a))[0] ?? '', 'bin')
  const folder = mkdtempSync(join(tmpdir(), 'server-'))
  const as = process.getuid?.() === 0 ? user() : undefined
  if (as) chownSync(folder, as.uid, as.gid)
  const options = { ...as, cwd: folder, env: { PATH: process.env['PATH'], LC_ALL: 'C.UTF-8' } }
  const data = join(folder, 'data')
  execFileSync(
    join(bin, 'initdb'),
    ['-D', data, '-U', 'postgres', '-A', 'trust', '-E', 'UTF8', '--locale=C.UTF-8', '--no-sync', '--no-instructions'],
    { ...options, stdio: 'ignore' }
  )
  const port = await freePort()
  const settings = [
    'listen_addresses=127.0.0.1',
    'fsync=off',
    'synchronous_commit=off',
    'full_page_writes=off',
    'shared_buffers=32MB',
    'max_connections=30'
  ]
  const child = spawn(
    join(bin, 'postgres'),
    ['-D', data, '-p', String(port), '-k', folder, ...settings.flatMap((s) => ['-c', s])],
    { ...options, stdio: 'ignore' }
  )
  const url = (database: string) => `postgres://postgres@127.0.0.1:${port}/${database}`
  const run = async (sql: string) => {
    const client = new pg.Client({ connectionString: url('postgres') })
    await client.connect()
    try {
      await client.query(sql)
    } finally {
      await client.end()
    }
  }
  for (let tries = 0; ; tries++)
    try {
      await run('SELECT 1')
      break
    } catch (error) {
      if (tries > 100) throw error
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
  return {
    create: async (database) => {
      await run(`CREATE DATABASE ${pg.escapeIdentifier(database)}`)
      return url(database)
    },
    stop: async () => {
      const gone = new Promise((resolve) => child.once('exit', resolve))
      child.kill('SIGINT')
      const force = setTimeout(() => child.kill('SIGKILL'), 1500)
      await gone
      clearTimeout(force)
      rmSync(folder, { recursive: true, force: true })
    }
  }
}

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer()
    probe.once('error', reject)
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo
      probe.close(() => resolve(port))
    })
  })
}
