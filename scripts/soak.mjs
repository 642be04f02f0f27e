// `npm run soak -- --engine sqlite --cases 2000 --seed 7`: the laws on one engine, with as many random cases as wanted.
import { parseArgs } from 'node:util'
import { run } from './prepare.mjs'

const { values } = parseArgs({
  options: {
    engine: { type: 'string', default: 'postgres' },
    cases: { type: 'string', default: '2000' },
    seed: { type: 'string', default: String(Date.now() % 2 ** 31) }
  }
})
const env = { ...process.env, ENGINE: values.engine, CASES: values.cases, SEED: values.seed, NO_SHRINK: '1' }
console.log(`${values.engine}: ${values.cases} cases of each law from seed ${values.seed}`)
const ok = run('npx', ['vitest', 'run', 'tests/integration/engine-laws.test.ts'], { env })
console.log(`${values.engine}: ${ok ? 'all held' : 'a law did not hold'} (seed ${values.seed})`)
process.exitCode = ok ? 0 : 1
