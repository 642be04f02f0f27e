// What MariaDB alone has: "CREATE TABLE", "Table Options", "Index Options", "Character Sets and Collations" of its documentation.
import type { Options } from '../../catalog'
import type { DeclaredOption } from '../dialect'
import type { Member } from './family'
import { COLLATION, ENGINE, PARTITION_BY, literal, ON_UPDATE, VALUES_AS, WITH_COLUMN } from './words'

/** "CREATE TABLE", "Table Options": what the server shows of them, with `=`. */
const SETTING = /^(?!engine$|collation$)[a-z][a-z_]*$/

/** Table options as they stand behind a table's columns, or behind ALTER TABLE. */
export const tableOptions = (options: Options = {}): string[] =>
  Object.entries(options).map(([name, value]) => {
    const word = name === COLLATION ? 'DEFAULT COLLATE' : name.toUpperCase()
    return `${word}=${/^\w+$/.test(value) ? value : literal(value)}`
  })

/** What a table option is when it is taken away. */
export function usualOption(name: string): string {
  if (name === ENGINE) return 'ENGINE=InnoDB'
  // "Setting Character Sets and Collations": that of the database.
  if (name === COLLATION) return 'DEFAULT CHARACTER SET=DEFAULT'
  if (name === 'row_format') return 'ROW_FORMAT=DEFAULT'
  return /^(max_rows|min_rows|avg_row_length|key_block_size|checksum|delay_key_write|table_checksum)$/.test(name)
    ? `${name.toUpperCase()}=0`
    : `${name.toUpperCase()}=DEFAULT`
}

export const mariadbOptions: readonly DeclaredOption[] = [
  {
    name: ENGINE,
    on: ['table'],
    values: ['InnoDB', 'MyISAM', 'Aria', 'MEMORY', 'ARCHIVE', 'CSV'],
    usual: 'InnoDB',
    meaning:
      'What keeps the rows. Only InnoDB has foreign keys and transactions, and loses nothing when the server stops.',
    changes: 'in place'
  },
  {
    name: COLLATION,
    on: ['table'],
    values: 'a name',
    meaning:
      'How its text is kept, compared and sorted, such as utf8mb4_uca1400_ai_ci; as in the database when not said.',
    changes: 'in place'
  },
  {
    name: 'row_format',
    on: ['table'],
    values: ['COMPACT', 'REDUNDANT', 'COMPRESSED', 'DYNAMIC', 'FIXED', 'PAGE'],
    meaning: 'How a row is kept. A key of COMPACT or REDUNDANT rows may have 767 bytes, one of others 3,072.',
    changes: 'in place'
  },
  {
    name: PARTITION_BY,
    on: ['table'],
    at: { property: 'parted' },
    values: 'text',
    meaning:
      'By what its rows are kept in parts: HASH (imo) PARTITIONS 4, or RANGE (year(begins)) (PARTITION p0 VALUES LESS THAN (2026), PARTITION p1 VALUES LESS THAN MAXVALUE). All its keys have those columns, and no foreign key leads there.',
    changes: 'in place'
  },
  {
    name: 'a setting',
    on: ['table'],
    values: 'text',
    every: SETTING,
    meaning: 'A table option by the name that the server shows, such as max_rows or stats_persistent.',
    changes: 'in place'
  },
  {
    name: 'collation',
    on: ['column'],
    at: { property: 'collation' },
    values: 'a name',
    meaning: 'How its text is kept, compared and sorted; as in the table when not said.',
    changes: 'in place'
  },
  {
    name: VALUES_AS,
    on: ['column'],
    values: ['enum'],
    meaning: 'The values that it may have are its type, in their order, and not a check beside it.',
    changes: 'in place'
  },
  {
    name: ON_UPDATE,
    on: ['column'],
    values: 'text',
    meaning: 'What the column is filled with whenever its row changes: a moment, such as current_timestamp(6).',
    changes: 'in place'
  },
  {
    name: 'invisible',
    on: ['column'],
    values: ['yes'],
    meaning: 'It is not among the columns that “*” stands for.',
    changes: 'in place'
  },
  {
    name: WITH_COLUMN,
    on: ['check'],
    values: ['yes'],
    meaning: 'It is said with the column that it is called after.',
    changes: 'again',
    found: true
  },
  {
    name: 'method',
    on: ['index'],
    at: { property: 'method' },
    values: ['hash', 'btree', 'fulltext', 'spatial'],
    meaning:
      'How it is kept: hash in tables of MEMORY (there, unless btree is said), fulltext for words, spatial for places.',
    changes: 'again'
  },
  {
    name: 'length',
    on: ['index'],
    at: { part: 'length' },
    values: 'a number',
    meaning:
      'Only so many of the first characters, so that the key is not longer than 3,072 bytes (767 in older row formats).',
    changes: 'again'
  },
  {
    name: 'ignored',
    on: ['index'],
    values: ['yes'],
    meaning: 'It is kept, and no query uses it.',
    changes: 'again'
  }
]

/** "CREATE TABLE Statement" and "CREATE INDEX Statement" of MySQL's manual. */
export const mysqlOptions = ({ invisibleColumns, unused }: Member): readonly DeclaredOption[] =>
  mariadbOptions.flatMap((option): DeclaredOption[] => {
    if (option.name === ENGINE) return [{ ...option, values: ['InnoDB', 'MyISAM', 'MEMORY', 'ARCHIVE', 'CSV'] }]
    if (option.name === COLLATION && option.on.includes('table'))
      return [{ ...option, meaning: option.meaning.replace('utf8mb4_uca1400_ai_ci', 'utf8mb4_0900_ai_ci') }]
    if (option.name === 'row_format')
      return [{ ...option, values: ['COMPACT', 'REDUNDANT', 'COMPRESSED', 'DYNAMIC', 'FIXED'] }]
    if (option.name === 'invisible' && !invisibleColumns) return []
    return option.name === 'ignored' && !unused ? [] : [option]
  })
