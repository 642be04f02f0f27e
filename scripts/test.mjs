// `npm test`: sets up what the tests need, then lint, types, unit, integration and end-to-end tests.
// The last line counts them: `N passed, N failed, N skipped`.
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { firstFree, install, run } from './prepare.mjs'

const root = process.getuid?.() === 0
const needed = [
  {
    what: 'the browser for end-to-end tests',
    package: 'chromium',
    there: () => existsSync(process.env.CHROMIUM ?? '/usr/bin/chromium')
  },
  {
    what: 'a PostgreSQL server, for laws and commands on a real server',
    package: 'postgresql',
    there: () => existsSync('/usr/lib/postgresql')
  },
  {
    what: 'a MariaDB server, for laws, commands and pages on a real server',
    package: 'mariadb-server',
    there: () => existsSync('/usr/sbin/mariadbd')
  },
  {
    what: 'a Firebird server, for laws and commands on a real server',
    package: 'firebird3.0-server',
    there: () => existsSync('/usr/sbin/firebird')
  }
]

install()
const missing = needed.filter((item) => !item.there())
if (missing.length > 0 && root && existsSync('/usr/bin/apt-get')) {
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
  run('apt-get', ['update', '-qq'], { env })
  run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...missing.map((item) => item.package)], {
    env,
    stdio: ['ignore', 'ignore', 'inherit']
  })
}
const lacking = needed.filter((item) => !item.there())
for (const item of lacking)
  console.log(`Missing: ${item.what} (Debian package ${item.package}). What needs it is skipped.`)

const folder = mkdtempSync(join(tmpdir(), 'results-'))
const counts = { passed: 0, failed: 0, skipped: 0 }

function check(name, ok) {
  console.log(`${ok ? '✓' : '✗'} ${name}`)
  counts[ok ? 'passed' : 'failed']++
  return ok
}

run('npm', ['run', '--silent', 'template'])
check('lint and the doors between rooms', run('npm', ['run', '--silent', 'lint']))
check('types', run('npm', ['run', '--silent', 'check']))

const unit = join(folder, 'unit.json')
const unitOk = run('npx', ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${unit}`])
const unitResult = read(unit)
if (unitResult) {
  counts.passed += unitResult.numPassedTests
  counts.failed += unitResult.numFailedTests
  counts.skipped += unitResult.numPendingTests + unitResult.numTodoTests
}
if (!unitOk && !(unitResult?.numFailedTests > 0)) check('unit and integration tests ran to their end', false)

const built = check('build', run('npm', ['run', '--silent', 'build']))
if (built && lacking.some((item) => item.package === 'chromium')) counts.skipped++
else if (built) {
  const e2e = join(folder, 'e2e.json')
  const e2eOk = run('npx', ['playwright', 'test', '--reporter=list,json'], {
    env: { ...process.env, PLAYWRIGHT_JSON_OUTPUT_NAME: e2e, E2E_PORT: String(await firstFree(4178)) }
  })
  const stats = read(e2e)?.stats
  if (stats) {
    counts.passed += stats.expected + stats.flaky
    counts.failed += stats.unexpected
    counts.skipped += stats.skipped
  }
  if (!e2eOk && !(stats?.unexpected > 0)) check('end-to-end tests ran to their end', false)
}

rmSync(folder, { recursive: true, force: true })
console.log(`\n${counts.passed} passed, ${counts.failed} failed${counts.skipped ? `, ${counts.skipped} skipped` : ''}`)
process.exitCode = counts.failed > 0 ? 1 : 0

function read(file) {
  return existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : undefined
}
