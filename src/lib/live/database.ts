// A database that can be asked and changed, wherever it runs.
import type { Catalog } from '../core/catalog'

/** What a query gave: column names and rows of text, numbers, booleans or nothing, in order. */
export interface QueryResult {
  readonly columns: readonly string[]
  readonly rows: readonly (readonly unknown[])[]
  /** Rows that a statement changed. */
  readonly affected: number
}

/** What became of one statement of a group. */
export interface StatementOutcome {
  readonly ok: boolean
  /** Milliseconds. */
  readonly time: number
  readonly affected: number
  /** The engine's own words where it refused, with the place in the statement (from 1) where it says so. */
  readonly error?: {
    readonly message: string
    readonly code?: string
    readonly detail?: string
    readonly position?: number
  }
}

export interface LiveDatabase {
  readonly engine: string
  catalog(): Promise<Catalog>
  query(sql: string): Promise<QueryResult>
  /**
   * Runs statements as one: all of them or, when one is refused, none. Outcomes end with the one refused. What it
   * says was done is kept: it survives whatever happens next.
   */
  run(statements: readonly string[]): Promise<readonly StatementOutcome[]>
  close(): Promise<void>
}
