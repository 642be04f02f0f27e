// What SQLite alone has: sqlite.org/lang_createtable.html, /stricttables.html, /withoutrowid.html, /lang_conflict.html.
import { MADE_BY, type DeclaredOption } from '../dialect'

const HOW = ['rollback', 'fail', 'ignore', 'replace'] as const

export const sqliteOptions: readonly DeclaredOption[] = [
  {
    name: 'collation',
    on: ['column'],
    at: { property: 'collation' },
    values: ['NOCASE', 'RTRIM'],
    usual: 'BINARY',
    meaning: 'How its text is compared: letters of either case alike, or spaces at the end not counted.',
    changes: 'again'
  },
  {
    name: 'collation',
    on: ['index'],
    at: { part: 'collation' },
    values: ['BINARY', 'NOCASE', 'RTRIM'],
    meaning: 'How its text is compared here; as in the column when not said.',
    changes: 'again'
  },
  {
    name: 'strict',
    on: ['table'],
    values: ['yes'],
    meaning: 'Values of another type than the column’s are refused.',
    changes: 'again'
  },
  {
    name: 'without rowid',
    on: ['table'],
    values: ['yes'],
    meaning: 'The rows are kept by their primary key.',
    changes: 'again'
  },
  {
    name: MADE_BY,
    on: ['table'],
    values: 'a name',
    meaning: 'The virtual table that made it for itself.',
    changes: 'never',
    found: true
  },
  {
    name: 'on conflict',
    on: ['primaryKey', 'unique'],
    values: HOW,
    usual: 'abort',
    meaning: 'What becomes of a row that is there twice.',
    changes: 'again'
  },
  {
    name: 'not null on conflict',
    on: ['column'],
    values: HOW,
    usual: 'abort',
    meaning: 'What becomes of a row without a value.',
    changes: 'again'
  }
]
