export { LineLost, ROWS_SHOWN, STILL_OPEN } from './database'
export type {
  LiveDatabase,
  QueryOptions,
  QueryResult,
  Refusal,
  Rehearsed,
  RunOptions,
  StatementOutcome
} from './database'
export { groupStates, runMigration, type Ended, type Recorded, type StepResult, type Told } from './run'
export type { Reached } from './ranges'
export { mustRead, onlyReads } from './reading'
export { inBatches, nextRows, type RowSource } from './batches'
export { inTurn } from './turn'
export { askLedger, breakLock, openLedger, withoutLedger, type Held, type Ledger, type LedgerLine } from './ledger'
