// How the server may be told to carry a change of a table out, from what disturbs others least on: it refuses what it cannot do so.
// "ALTER TABLE", ALGORITHM and LOCK; of MySQL "ALTER TABLE Statement", "CREATE INDEX Statement", and 15.12 "InnoDB and Online DDL".
import type { Way } from '../dialect'

const WAYS = [
  { clauses: ['ALGORITHM=INSTANT'], how: 'at once: no row is touched' },
  // MariaDB alone has this word.
  {
    clauses: ['ALGORITHM=NOCOPY', 'LOCK=NONE'],
    how: 'in place, no row is written again: others read and write meanwhile'
  },
  { clauses: ['ALGORITHM=INPLACE', 'LOCK=NONE'], how: 'in place: others read and write meanwhile' },
  { clauses: ['ALGORITHM=INPLACE', 'LOCK=SHARED'], how: 'in place: others can only read meanwhile' },
  { clauses: ['ALGORITHM=INPLACE'], how: 'in place: others wait' }
]
const PLAINLY = 'by copying every row: others can only read meanwhile'

/** Rows in parts are changed by words that stand alone; names and row formats by statements that have no such words. */
const STANDS_ALONE = /\b(PARTITION|PARTITIONING)\b/

export function waysOf(statement: string): readonly Way[] {
  const [, index, table] = /^DROP INDEX (?:IF EXISTS )?(\S+) ON (\S+)$/.exec(statement) ?? []
  const asked = index === undefined ? statement : `ALTER TABLE ${table} DROP INDEX ${index}`
  const isAlter = asked.startsWith('ALTER TABLE ') && !STANDS_ALONE.test(asked)
  const between = isAlter ? ', ' : ' '
  if (!isAlter && !/^CREATE (UNIQUE |FULLTEXT |SPATIAL )?INDEX /.test(asked)) return [{ sql: statement }]
  return [
    ...WAYS.map(({ clauses, how }) => ({ how, sql: [asked, ...clauses].join(between) })),
    { how: PLAINLY, sql: statement }
  ]
}
