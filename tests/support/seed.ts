// One seed for all random cases of a run. It is kept here, so that one commit gives one result; other seeds are for the
// soak: SEED=… npm run soak. What failed once under another seed is kept as a case beside its law.
import fc from 'fast-check'

const KEPT = 20261125
fc.configureGlobal({ seed: Number(process.env['SEED'] ?? KEPT) })
