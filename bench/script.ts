// The script of a database of 1,000 tables against the engine's own dump tool; comparing 4,000 with what was agreed against the
// same. The whole command is measured, from its start to its end.
import { execFileSync, spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { derive } from '../src/lib/core/derive'
import { printDesign } from '../src/lib/core/design'
import { dialect } from '../src/lib/core/dialects'
import { writeScript } from '../src/lib/core/plan'
import { postgresTools } from '../tests/support/dump'
import { servers } from '../tests/support/servers'
import { large } from './design'
import { median } from './median'

const engine = dialect('postgres')
if (!engine) throw new Error('PostgreSQL is known')
const command = (...args: string[]) => {
  const { status, stderr } = spawnSync(process.execPath, ['dist/cli/ramblet.js', ...args], { maxBuffer: 1 << 28 })
  if (status === 2 || status === null) throw new Error(String(stderr))
}
const on = ['--engine', 'postgres']
const nothing = median(() => spawnSync(process.execPath, ['-e', '0']), 5)
console.log('the command line:')
console.log(`  engines over node -e 0             ${(median(() => command('engines'), 5) / nothing).toFixed(2)} ×`)
if (servers.postgres.lacking) console.log(`  not measured with a server: ${servers.postgres.lacking}`)
else {
  const server = await servers.postgres.start()
  const folder = mkdtempSync(join(tmpdir(), 'bench-'))
  try {
    const make = async (tables: number) => {
      const design = large(tables)
      const [target] = Object.values(design.targets)
      if (!target) throw new Error('The design has a target')
      const url = await server.create(`bench_${tables}`)
      const client = new pg.Client({ connectionString: url })
      await client.connect()
      for (const { sql } of writeScript(derive(design, target, engine).catalog, engine)) await client.query(sql)
      await client.end()
      const file = join(folder, `${tables}.json`)
      writeFileSync(file, printDesign(design))
      return {
        url,
        file,
        dump: median(() => execFileSync(join(postgresTools, 'pg_dump'), ['-s', '-d', url], { maxBuffer: 1 << 28 }), 5)
      }
    }
    const thousand = await make(1000)
    const script = median(() => command('script', thousand.url, ...on), 5)
    console.log(`  script of 1,000 tables over dump   ${(script / thousand.dump).toFixed(2)} ×`)
    const more = await make(4000)
    const agreed = join(folder, 'agreed.json')
    command('baseline', more.file, more.url, '--target', 'dev', ...on, '--output', agreed)
    const compare = median(
      () => command('compare', more.file, more.url, '--target', 'dev', ...on, '--agreed', agreed),
      5
    )
    console.log(`  compare of 4,000 tables over dump  ${(compare / more.dump).toFixed(2)} ×`)
  } finally {
    await server.stop()
    rmSync(folder, { recursive: true })
  }
}
