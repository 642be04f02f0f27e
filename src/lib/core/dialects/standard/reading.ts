// What is told of each statement of a script that is read.
import { NotUnderstood } from '../../sql'
import type { ReadStatement } from '../dialect'

/** What becomes of one: what is not understood costs that statement alone. */
export function readStatement(
  { sql, at }: Pick<ReadStatement, 'sql' | 'at'>,
  take: (sql: string) => ReadStatement['how']
): ReadStatement {
  try {
    return { sql, at, how: take(sql) }
  } catch (error) {
    if (!(error instanceof NotUnderstood)) throw error
    return { sql, at, how: 'unknown', why: error.message }
  }
}
