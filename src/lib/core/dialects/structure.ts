// What statements leave in a database, one after the other: what a reader of scripts and a stand-in for an engine have in common.
import type { Catalog, Table } from '../catalog'
import { NotUnderstood } from '../sql'
import type { ReadStatement } from './dialect'

/** The structure of a database that takes statements; empty at first. */
export interface Structure {
  /** What becomes of a statement. Throws `NotUnderstood`, or `Misplaced` where the statement does not fit, and nothing has changed. */
  take(sql: string): ReadStatement['how']
  /** Takes the last statement back. */
  back(): void
  /** The tables that the last statement has made, changed, renamed or removed. */
  touched(): readonly Touched[]
  /** A table as it is now. */
  table(name: string): Table | undefined
  /** The tables whose foreign keys lead to one. */
  leadingTo(name: string): readonly Table[]
  catalog(): Catalog
}

/** A table before and after a statement. */
export interface Touched {
  /** Its name before; nothing where it was not there. */
  readonly was?: string
  /** Nothing where it is no longer there. */
  readonly now?: Table
  /** The name that each column had before, by its name now; a new one is not there. */
  readonly columns: ReadonlyMap<string, string>
  /** A foreign key that no index of the table begins with, where the engine wants one. */
  readonly unindexed?: string
}

/** What a statement speaks of and is not there, or makes and is there. */
export type Misplacement =
  | 'no table'
  | 'no column'
  | 'no column of a key'
  | 'no index'
  | 'no check'
  | 'nothing to remove'
  | 'a table'
  | 'a column'
  | 'an index'
  | 'a primary key'
  | 'a program'
  | 'no program'

/** A statement that is understood, and does not fit what is there. */
export class Misplaced extends NotUnderstood {
  constructor(
    readonly what: Misplacement,
    /** What it speaks of. */
    readonly about: string,
    sentence: string
  ) {
    super(sentence)
  }
}
