// `npm run soak -- --engine sqlite --cases 2000 --seed 7`: the laws on one engine, with as many random cases as wanted.
// `npm run soak -- --faults`: peers that say anything at all, and design files, scripts and expressions that are almost right.
import { parseArgs } from 'node:util'
import { run } from './prepare.mjs'

const { values } = parseArgs({
  options: {
    engine: { type: 'string', default: 'postgres' },
    faults: { type: 'boolean', default: false },
    cases: { type: 'string', default: '2000' },
    seed: { type: 'string', default: String(Date.now() % 2 ** 31) }
  }
})
const { engine, faults, cases, seed } = values
const env = { ...process.env, ENGINE: engine, CASES: cases, SEED: seed, NO_SHRINK: '1' }
const what = faults ? 'faults' : engine
const tests = faults
  ? ['tests/integration/mutated.test.ts', 'tests/integration/doors.test.ts', '-t', 'almost right|anything at all']
  : ['tests/integration/engine-laws.test.ts']
console.log(`${what}: ${cases} cases of each law from seed ${seed}`)
const ok = run('npx', ['vitest', 'run', ...tests], { env })
console.log(`${what}: ${ok ? 'all held' : 'a law did not hold'} (seed ${seed})`)
process.exitCode = ok ? 0 : 1
