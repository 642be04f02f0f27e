// What the commands that do their own set-up share.
import { spawnSync } from 'node:child_process'
import { existsSync, readdirSync, statSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = fileURLToPath(new URL('..', import.meta.url))

/** Runs a command to its end, its output shown; true when it went well. */
export function run(command, args, options = {}) {
  return spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options }).status === 0
}

/** Runs a command with a line that says what it is; what it says itself is shown when it goes wrong, in full. */
function stage(what, command, args, wrong) {
  console.log(what)
  const { status, stdout, stderr, error } = spawnSync(command, args, { cwd: root, maxBuffer: 2 ** 28 })
  if (status === 0) return
  process.stderr.write(Buffer.concat([stdout ?? Buffer.alloc(0), stderr ?? Buffer.alloc(0)]))
  fail(error ? `${wrong} ${error.message}` : wrong)
}

/** Installs packages where they are missing or older than the lock file. */
export function install() {
  const done = join(root, 'node_modules/.package-lock.json')
  if (existsSync(done) && statSync(done).mtimeMs >= statSync(join(root, 'package-lock.json')).mtimeMs) return
  const args = ['install', '--no-audit', '--no-fund']
  stage('Installing packages …', 'npm', args, 'The packages could not be installed: see above.')
}

/** Builds the application and the command line where they are missing or older than their sources. */
export function build() {
  const built = join(root, 'build/index.js')
  const since = existsSync(built) ? statSync(built).mtimeMs : 0
  const sources = ['src', 'demo', 'static', 'package-lock.json', 'vite.config.ts', 'svelte.config.js']
  if (
    since > Math.max(...sources.map((name) => newest(join(root, name)))) &&
    existsSync(join(root, 'dist/cli/ramblet.js'))
  )
    return
  stage('Building …', 'npm', ['run', '--silent', 'build'], 'The build failed: see above.')
}

function newest(path) {
  const stat = statSync(path)
  if (!stat.isDirectory()) return stat.mtimeMs
  return Math.max(0, ...readdirSync(path).map((name) => newest(join(path, name))))
}

/** The first port from a number on that nobody on this machine listens at. */
export function firstFree(from) {
  return new Promise((resolve) => {
    const probe = createServer()
    probe.once('error', () => resolve(firstFree(from + 1)))
    probe.listen(from, '127.0.0.1', () => probe.close(() => resolve(from)))
  })
}

export function fail(message) {
  console.error(message)
  process.exit(1)
}
