// Words that both reading and writing have.
import type { DataType } from '../../catalog'

/** What fills a column anew whenever its row changes: "TIMESTAMP", "Automatic Values". */
export const ON_UPDATE = 'on update'

/** The table options that have words of their own; all others are settings by the name that the server shows. */
export const [ENGINE, COLLATION] = ['engine', 'collation'] as const

/** The option that says by what a table's rows are kept in parts. */
export const PARTITION_BY = 'partition by'

/** The option by which a column's allowed values are its type. */
export const VALUES_AS = 'allowed values'

/** The option of a check that is said with its column: it is called like that, and goes when the column is stated anew without it. */
export const WITH_COLUMN = 'with column'

export const literal = (text: string): string => `'${text.replaceAll('\\', '\\\\').replaceAll("'", "''")}'`

/** What has a collation: "Character Sets and Collations". */
export const isText = ({ name }: Pick<DataType, 'name'>): boolean => /^(char|varchar|\w*text|enum|set)$/.test(name)

/** "Microseconds in MariaDB"; of MySQL 13.2.6 "Fractional Seconds in Time Values": a moment has as many digits as its column. */
export function asShown(preset: string, { name, args = [] }: DataType): string {
  if (!/^(time|datetime|timestamp)$/.test(name)) return preset
  const [, moment, digits = ''] = /^'(.*\d\d:\d\d:\d\d)(?:\.(\d+))?'$/.exec(preset) ?? []
  const shown = Number(args[0] ?? 0)
  // One with more digits is rounded, and may be another second.
  return moment === undefined || digits.length > shown || shown === 0
    ? preset
    : `'${moment}.${digits.padEnd(shown, '0')}'`
}

/** "CREATE INDEX", "Index Types": how an index is kept that says nothing of it. */
export const usualMethod = (engine: string | undefined): string => (engine === 'MEMORY' ? 'hash' : 'btree')
