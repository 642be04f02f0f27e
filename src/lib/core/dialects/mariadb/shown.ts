// How each server of the family shows what it holds, where they differ: "Information Schema Tables" of MariaDB's documentation;
// "INFORMATION_SCHEMA Tables" (28) of MySQL's manual, 8.4, and (24) of 5.7.
import type { DataType } from '../../catalog'
import { textOf, tokenize } from '../../sql'
import { mariadbLexis } from './lexis'
import type { Row } from './programs'
import { literal } from './words'

export interface Shown {
  readonly engine: 'mariadb' | 'mysql'
  /** What says that no query uses an index. */
  readonly unused: string
  /** The question for checks; nothing where there are none. */
  readonly checks: string | undefined
  readonly views: string
  /** A column's default in words of SQL; nothing where it has none. */
  defaultOf(row: Row, type: DataType): string | undefined
  /** What a check or a computed column says. */
  expression(printed: string): string
}

const views = (algorithm: string): string =>
  `SELECT table_name AS name, view_definition AS text, check_option AS checked, security_type AS security, ${algorithm} AS algorithm
     FROM information_schema.views WHERE table_schema = database() ORDER BY table_name`

export const mariadbShown: Shown = {
  engine: 'mariadb',
  unused: 'ignored',
  checks: `SELECT table_name AS owner, constraint_name AS name, level AS level, check_clause AS clause
         FROM information_schema.check_constraints WHERE constraint_schema = database() ORDER BY constraint_name`,
  views: views('algorithm'),
  // "COLUMNS Table": no default reads as NULL where a value may be missing, and is nothing where it may not.
  defaultOf: ({ value }) => (value === null || value === undefined || value === 'NULL' ? undefined : String(value)),
  expression: asWritten
}

/** As the server of a version has it; 5.7 shows neither checks nor invisible indexes. */
export function mysqlShown(version: string): Shown {
  const is8 = !version.startsWith('5.')
  return {
    engine: 'mysql',
    // 28.3.34 "STATISTICS Table".
    unused: is8 ? `CASE WHEN is_visible = 'NO' THEN 'YES' ELSE 'NO' END` : `'NO'`,
    // 28.3.5 "CHECK_CONSTRAINTS Table" says nothing of the table; 28.3.42 "TABLE_CONSTRAINTS Table" does.
    checks: is8
      ? `SELECT t.table_name AS owner, c.constraint_name AS name, 'Table' AS level, c.check_clause AS clause
         FROM information_schema.check_constraints c JOIN information_schema.table_constraints t
           ON t.constraint_schema = c.constraint_schema AND t.constraint_name = c.constraint_name AND t.constraint_type = 'CHECK'
         WHERE c.constraint_schema = database() ORDER BY c.constraint_name`
      : undefined,
    views: views("'UNDEFINED'"),
    defaultOf: (row, { name }) => {
      const { value, extra } = row
      if (value === null || value === undefined) return undefined
      const said = String(value)
      // 28.3.8 "COLUMNS Table": a value as it is, without quotes; an expression, and a moment by its function, are told by EXTRA.
      if (/default_generated/i.test(String(extra))) return bare(said)
      if (/^(timestamp|datetime)$/.test(name) && /^current_timestamp/i.test(said)) return said.toLowerCase()
      return /^(tinyint|smallint|mediumint|int|bigint|decimal|float|double|bit|year)\b/.test(name)
        ? said
        : literal(said)
    },
    expression: (printed) => asWritten(bare(printed))
  }
}

/** Texts in expressions have their character set before them, and a backslash before their quotes. */
function bare(printed: string): string {
  const plain = printed.replace(/\\'/g, "'")
  return plain.replace(/\b_(utf8mb4|utf8mb3|utf8|latin1|ascii|binary)(?=')/g, '')
}

/**
 * An expression in words that every reader of SQL knows: the server prints a quote in text behind a backslash, LENGTH by
 * its other name, and the character set of a cast.
 */
export function asWritten(printed: string): string {
  const tokens = tokenize(printed, mariadbLexis)
  const written: string[] = []
  for (const [i, token] of tokens.entries()) {
    const text = textOf(token, mariadbLexis)
    const charset = token.kind === 'word' && token.text === 'charset' && tokens[i - 2]?.text === ')'
    // What no file or script can hold as it is stays behind its backslashes.
    if (text !== undefined) written.push(UNWRITABLE.test(text) ? token.text : literal(text))
    else if (token.kind === 'word' && token.text === 'octet_length') written.push('length')
    else if (charset) written.length -= 1
    else if (!(tokens[i - 2]?.text === 'charset' && tokens[i - 4]?.text === ')')) written.push(token.text)
  }
  return written.join('')
}

const UNWRITABLE = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/
