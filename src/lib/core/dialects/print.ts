// The text of a script.
import type { Dialect } from './dialect'

/** Each statement ended, a blank line between statements. */
export const printScript = (statements: readonly { readonly sql: string }[], dialect: Dialect): string =>
  statements.map(({ sql }) => `${printStatement(sql, dialect)}\n`).join('\n')

/** A statement with its end, as it stands in a script. */
export const printStatement = (sql: string, { write }: Dialect): string => write.inScript?.(sql) ?? `${sql};`
