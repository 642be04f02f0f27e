// What is let through where nothing may be written, and where what was written must be stored.
import type { Dialect } from '../core/dialects'
import { whyNotReading } from '../core/sql'

const why = (statement: string, { profile, write, whyNotReading: own }: Dialect): string | undefined =>
  own ? own(statement) : whyNotReading(statement, write.lexis, profile.reads)

/** Throws a sentence where a statement could write. */
export function mustRead(sql: string, dialect: Dialect): void {
  const not = why(sql, dialect)
  if (not !== undefined) throw new Error(not)
}

export const onlyReads = (sql: string, dialect: Dialect): boolean => why(sql, dialect) === undefined
