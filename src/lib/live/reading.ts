// What is let through where nothing may be written, and where what was written must be stored.
import type { Dialect } from '../core/dialects'
import { whyNotReading } from '../core/sql'

/** Throws a sentence where a statement could write. */
export function mustRead(sql: string, { profile, write }: Dialect): void {
  const why = whyNotReading(sql, write.lexis, profile.reads)
  if (why !== undefined) throw new Error(why)
}

export const onlyReads = (sql: string, { profile, write }: Dialect): boolean =>
  whyNotReading(sql, write.lexis, profile.reads) === undefined
