// What PostgreSQL alone has, beside what every engine has: manual, "SQL Commands" of the statement that makes each kind.
import type { Kind } from '../../catalog'
import type { DeclaredOption } from '../dialect'

const KEYS: readonly Kind[] = ['primaryKey', 'unique']

/** Settings have names of the engine's own. */
const SETTING = /^(toast\.)?[a-z_]+$/

export const postgresOptions: readonly DeclaredOption[] = [
  {
    name: 'method',
    on: ['index'],
    at: { property: 'method' },
    values: ['hash', 'gin', 'gist', 'spgist', 'brin'],
    usual: 'btree',
    meaning:
      'How it is kept: hash for what is alike, gin for what is in lists and documents, gist for places and ranges, brin for long tables in order.',
    changes: 'again'
  },
  {
    name: 'operators',
    on: ['index'],
    at: { part: 'operators' },
    values: 'a name',
    meaning: 'The operator class by which its values are ordered, such as text_pattern_ops.',
    changes: 'again'
  },
  {
    name: 'collation',
    on: ['index'],
    at: { part: 'collation' },
    values: 'a name',
    meaning: 'How its text is sorted here; as in the column when not said.',
    changes: 'again'
  },
  {
    name: 'collation',
    on: ['column'],
    at: { property: 'collation' },
    values: 'a name',
    meaning: 'How its text is compared and sorted; as in the database when not said.',
    changes: 'in place'
  },
  {
    name: 'persistence',
    on: ['table', 'sequence'],
    values: ['unlogged'],
    meaning: 'It is not written to the log: faster, empty after a crash, and not on a standby.',
    changes: 'in place'
  },
  {
    name: 'partition by',
    on: ['table'],
    values: 'text',
    meaning: 'How its rows are parted among its partitions.',
    changes: 'never'
  },
  {
    name: 'of type',
    on: ['table'],
    values: 'a name',
    meaning: 'The composite type that its columns are those of.',
    changes: 'never',
    found: true
  },
  {
    name: 'tablespace',
    on: ['table'],
    values: 'a name',
    meaning: 'Where its files are; where the database has them when not said.',
    changes: 'in place'
  },
  {
    name: 'tablespace',
    on: ['view', 'index', ...KEYS],
    values: 'a name',
    meaning: 'Where its files are; where the database has them when not said.',
    changes: 'again'
  },
  {
    name: 'access method',
    on: ['table'],
    values: 'a name',
    usual: 'heap',
    meaning: 'How its rows are kept.',
    changes: 'in place'
  },
  {
    name: 'access method',
    on: ['view'],
    values: 'a name',
    usual: 'heap',
    meaning: 'How its rows are kept.',
    changes: 'again'
  },
  {
    name: 'row security',
    on: ['table'],
    values: ['on', 'forced', 'forced, off'],
    meaning: 'Row policies hold; forced: for its owner too.',
    changes: 'in place'
  },
  {
    name: 'replica identity',
    on: ['table'],
    values: 'text',
    usual: 'default',
    meaning: 'What of the old row is told to subscribers: its key, an index’s columns, all, or nothing.',
    changes: 'in place'
  },
  {
    name: 'cluster on',
    on: ['table'],
    values: 'a name',
    meaning: 'The index whose order CLUSTER puts the rows in.',
    changes: 'in place'
  },
  {
    name: 'storage',
    on: ['column'],
    values: ['plain', 'external', 'main', 'extended'],
    meaning: 'Whether long values are packed, and kept apart; as the type usually is when not said.',
    changes: 'in place'
  },
  {
    name: 'compression',
    on: ['column'],
    values: ['pglz', 'lz4'],
    meaning: 'How long values are packed.',
    changes: 'in place',
    since: 14
  },
  {
    name: 'statistics',
    on: ['column'],
    values: 'a number',
    usual: '-1',
    meaning: 'How closely its values are counted for the planner.',
    changes: 'in place'
  },
  {
    name: 'not null',
    on: ['column'],
    values: 'a name',
    meaning: 'The name of the constraint that keeps it from being empty.',
    changes: 'in place',
    since: 18
  },
  {
    name: 'not valid',
    on: ['check', 'foreignKey'],
    values: ['yes'],
    meaning: 'Rows that were there before need not fit.',
    changes: 'again'
  },
  {
    name: 'not enforced',
    on: ['check', 'foreignKey'],
    values: ['yes'],
    meaning: 'It is written down, and held against nothing.',
    changes: 'again',
    since: 18
  },
  {
    name: 'no inherit',
    on: ['check'],
    values: ['yes'],
    meaning: 'It does not hold for tables that inherit.',
    changes: 'again'
  },
  {
    name: 'set only',
    on: ['foreignKey'],
    values: 'text',
    meaning: 'The columns that ON DELETE SET … sets, as a list.',
    changes: 'again',
    since: 15
  },
  {
    name: 'with period',
    on: ['foreignKey'],
    values: ['yes'],
    meaning: 'The last column is a period that the parent’s periods cover.',
    changes: 'again',
    since: 18,
    found: true
  },
  {
    name: 'without overlaps',
    on: KEYS,
    values: ['yes'],
    meaning: 'No two rows alike in the other columns overlap in the last.',
    changes: 'again',
    since: 18
  },
  {
    name: 'comment on index',
    on: KEYS,
    values: 'text',
    meaning: 'What is said of the index behind the key.',
    changes: 'again'
  },
  {
    name: 'part of',
    on: ['index', ...KEYS],
    values: 'a name',
    meaning: 'What of the partitioned table it is a part of.',
    changes: 'again',
    found: true
  },
  {
    name: 'no data',
    on: ['view'],
    values: ['yes'],
    meaning: 'It was never filled, and cannot be read before it is.',
    changes: 'again',
    found: true
  },
  {
    name: 'a setting',
    on: ['table', 'view', 'column'],
    values: 'text',
    every: SETTING,
    meaning: 'A storage parameter, or an attribute of a view or column, by its own name.',
    changes: 'in place'
  },
  {
    name: 'a setting',
    on: ['index', ...KEYS],
    values: 'text',
    every: SETTING,
    meaning: 'A storage parameter, by its own name.',
    changes: 'again'
  },
  {
    name: 'a setting of a range',
    on: ['type'],
    values: 'text',
    every: /^[a-z_]+$/,
    meaning: 'What CREATE TYPE … AS RANGE is told in parentheses.',
    changes: 'again'
  }
]
