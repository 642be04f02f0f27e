// One seed for all random cases of a run, printed, so that a failure can be had again: SEED=… npx vitest run …
import fc from 'fast-check'

const seed = Number(process.env['SEED'] ?? Math.floor(Math.random() * 0x7fffffff))
console.log(`random cases from seed ${seed}`)
fc.configureGlobal({ seed })
