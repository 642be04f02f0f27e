export type { LiveDatabase, QueryResult, StatementOutcome } from './database'
export { runMigration, type RunOptions, type StepResult } from './run'
