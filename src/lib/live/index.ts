export type { LiveDatabase, QueryOptions, QueryResult, Refusal, RunOptions, StatementOutcome } from './database'
export { groupStates, runMigration, type Ended, type Recorded, type StepResult } from './run'
export { inTurn } from './turn'
export { breakLock, openLedger, withoutLedger, type Held, type Ledger } from './ledger'
