// A database that can be asked and changed, wherever it runs.
import type { Catalog } from '../core/catalog'

/** What a query gave: column names and rows of text, numbers, booleans or nothing, in order. */
export interface QueryResult {
  readonly columns: readonly string[]
  readonly rows: readonly (readonly unknown[])[]
  /** Each row is a document: its columns are its fields, and what it does not have is null. */
  readonly documents?: true
  /** Rows that a statement changed. */
  readonly affected: number
  /** What the engine said besides. */
  readonly messages?: readonly string[]
  /** There are more rows than these: only the first are taken from the engine. */
  readonly more?: true
  /** A transaction is open in the session that the statement was sent in: what was done may still be undone. */
  readonly open?: true
}

export interface QueryOptions {
  /** Only what is known to read is sent, and the engine refuses to change anything. */
  readonly readOnly?: boolean
  /**
   * Sent by a person, in a session of his own where there can be one: what he leaves open there is his. Everything else is
   * asked outside of it, and waits until he has ended it.
   */
  readonly byHand?: boolean
}

/** Rows of an answer that are taken from the engine at most. */
export const ROWS_SHOWN = 5000

/** Said where a person's own transaction stands in the way of what would be read or run in the same session. */
export const STILL_OPEN = 'A transaction that was begun in Queries is still open here: commit it or roll it back first.'

/** What the engine said when it refused. */
export interface Refusal {
  /** The engine's own words, with the place in the statement (from 1) where it says so. */
  readonly message: string
  readonly code?: string
  readonly detail?: string
  readonly position?: number
}

/**
 * The way to the engine is gone, and it has not said what became of what was under way: that may have been done or not.
 * Whatever is not the engine's own word is no refusal.
 */
export class LineLost extends Error {
  override readonly name = 'LineLost'
}

/** What became of one statement of a group. */
export interface StatementOutcome {
  readonly ok: boolean
  /** Milliseconds. */
  readonly time: number
  readonly affected: number
  readonly error?: Refusal
}

/** Which of its ways a step was tried in with success, from 0; or what the engine said to the last: the steps after it are not tried. */
export type Rehearsed = { readonly way: number } | { readonly error: Refusal }

export interface RunOptions {
  /** An embedded database may keep what was done with what comes after it: keeping takes longer than most statements. */
  readonly later?: boolean
}

export interface LiveDatabase {
  readonly engine: string
  catalog(): Promise<Catalog>
  /** One statement; rejects with what the engine says. */
  query(sql: string, options?: QueryOptions): Promise<QueryResult>
  /**
   * Every row of a statement that reads, batch by batch, in a session of its own: with a statement it begins, without one
   * it goes on, for as long as there is `more`.
   */
  rows(sql?: string): Promise<QueryResult>
  /** The rest of the rows is not wanted. */
  endRows(): Promise<void>
  /**
   * Runs statements as one: all of them or, when one is refused, none. Outcomes end with the one refused; rejects with
   * `LineLost` when nobody can say what became of them. What it says was done is kept: it survives whatever happens next. Engines that commit each statement by itself are given
   * one at a time. With `later`, what was done may be kept only by the next `keep`, or by itself some seconds later.
   */
  run(statements: readonly string[], options?: RunOptions): Promise<readonly StatementOutcome[]>
  /** What was done so far is kept, once this resolves. Absent where that is so all the time, as on a server. */
  keep?(): Promise<void>
  /** Resolves once nothing of an earlier session of ours is under way. Absent where an engine undoes what is cut off. */
  settled?(): Promise<void>
  /**
   * Makes a database of its own beside this one, puts `before` into it and tries each step there, in the first of its ways that is taken;
   * then the database goes again, however it ended. Rejects where it cannot be made. Absent where there can be no such database.
   */
  rehearse?(before: readonly string[], steps: readonly (readonly string[])[]): Promise<readonly Rehearsed[]>
  /** Asks the engine to give up what it is at: that call then rejects. Absent where an engine cannot be asked meanwhile. */
  cancel?(): Promise<void>
  close(): Promise<void>
}
