// What the engines of this family have otherwise: they come from one, and are not the same. "MariaDB Server Documentation"; "MySQL
// Reference Manual" of 5.7, 8.0 and 8.4, whose sections are named beside each.

export interface Member {
  readonly id: 'mariadb' | 'mysql'
  readonly label: string
  /** An index goes whether or not it is there: DROP INDEX IF EXISTS. */
  readonly ifExists: boolean
  /** How a check goes; nothing where there are none: they are read, and kept by nobody. */
  readonly checks: 'DROP CONSTRAINT' | 'DROP CHECK' | undefined
  /** A column gets another name without being stated anew. */
  readonly renamesColumns: boolean
  /** A default is any expression, in parentheses where it is no plain value. */
  readonly expressions: boolean
  /** Long texts, bytes and documents have a default: as others do, as an expression, or none. */
  readonly longDefaults: 'plain' | 'expression' | undefined
  /** The word for an index that no query uses. */
  readonly unused: 'IGNORED' | 'INVISIBLE' | undefined
  readonly invisibleColumns: boolean
  /** A column is added, or goes, without a row being written. */
  readonly addsAtOnce: boolean
  readonly dropsAtOnce: boolean
  readonly sequences: boolean
  readonly uuid: boolean
  /** The most digits behind a decimal's point. */
  readonly scale: number
  /** How text of utf8mb4 is compared when nothing is said. */
  readonly collation: string
}

export const mariadbMember = (version: string): Member => ({
  id: 'mariadb',
  label: 'MariaDB',
  ifExists: true,
  checks: 'DROP CONSTRAINT',
  renamesColumns: true,
  expressions: true,
  longDefaults: 'plain',
  unused: 'IGNORED',
  invisibleColumns: true,
  // "Instant ADD COLUMN for InnoDB", from 10.3; "Instant DROP COLUMN", from 10.4.
  addsAtOnce: true,
  dropsAtOnce: true,
  sequences: true,
  // "UUID Data Type": from 10.7.
  uuid: version !== '10.6',
  scale: 38,
  // "Setting Character Sets and Collations": another one from 11.5.
  collation: version === '11.8' ? 'utf8mb4_uca1400_ai_ci' : 'utf8mb4_general_ci'
})

export function mysqlMember(version: string): Member {
  const is8 = version !== '5.7'
  return {
    id: 'mysql',
    label: 'MySQL',
    // "DROP INDEX Statement": it has no IF EXISTS.
    ifExists: false,
    // 15.1.20.6 "CHECK Constraints": from 8.0.16; "ALTER TABLE Statement": DROP CONSTRAINT only from 8.0.19.
    checks: is8 ? 'DROP CHECK' : undefined,
    // "ALTER TABLE Statement", "Renaming, Redefining, and Reordering Columns": RENAME COLUMN is none of 5.7.
    renamesColumns: is8,
    // 13.6 "Data Type Default Values": expressions from 8.0.13; BLOB, TEXT, GEOMETRY and JSON have none but those.
    expressions: is8,
    longDefaults: is8 ? 'expression' : undefined,
    // 10.3.12 "Invisible Indexes"; 15.1.20.10 "Invisible Columns": from 8.0.23.
    unused: is8 ? 'INVISIBLE' : undefined,
    invisibleColumns: is8,
    // 17.12.1 "Online DDL Operations": INSTANT from 8.0.12, and of columns that go from 8.0.29; rebuilt in place before.
    addsAtOnce: is8,
    dropsAtOnce: version === '8.4',
    sequences: false,
    uuid: false,
    // 13.1.3 "Fixed-Point Types": 65 digits, 30 behind the point.
    scale: 30,
    // 12.3.3 "Database Character Set and Collation" and "Server Character Set and Collation" of each.
    collation: is8 ? 'utf8mb4_0900_ai_ci' : 'utf8mb4_general_ci'
  }
}
