// What the engine that keeps the rows says, in MySQL's words and with its numbers ("Server Error Message Reference").
import type { Table } from '../../core/catalog'
import { Refused } from '../refused'
import { uniqueOf } from './rows'

const PATTERNS: readonly (readonly [RegExp, (said: RegExpExecArray, sql: string, find: Find) => Refused])[] = [
  [/^no such table: (?:main\.)?(.+)$/, ([, name = '']) => new Refused(`Table 'main.${name}' doesn't exist`, 1146)],
  [/^no such column: (.+)$/, ([, name = '']) => new Refused(`Unknown column '${name}' in 'field list'`, 1054)],
  [
    /^table (.+) has no column named (.+)$/,
    ([, , name = '']) => new Refused(`Unknown column '${name}' in 'field list'`, 1054)
  ],
  [
    /^ambiguous column name: (.+)$/,
    ([, name = '']) => new Refused(`Column '${name}' in field list is ambiguous`, 1052)
  ],
  [
    /^no such function: _?(.+)$/,
    ([, name = '']) => new Refused(`This stand-in knows no function ${name.toUpperCase()}`, 1305)
  ],
  [
    /^(?:table .+ has (\d+) columns but (\d+) values were supplied|(\d+) values for (\d+) columns)$/,
    () => new Refused("Column count doesn't match value count", 1136)
  ],
  [
    /^UNIQUE constraint failed: index '(.+)'$/,
    ([, name = '']) => new Refused(`Duplicate entry for key '${name}'`, 1062)
  ],
  [/^UNIQUE constraint failed: (.+)$/, ([, list = ''], _, find) => duplicate(list, find)],
  [/^NOT NULL constraint failed: (.+)\.([^.]+)$/, ([, , name = ''], sql) => lacking(name, sql)],
  [/^FOREIGN KEY constraint failed$/, (_, sql) => orphan(sql)],
  [
    /^near "(.*)": syntax error$/,
    ([, near = '']) => new Refused(`You have an error in your SQL syntax near '${near}'`, 1064)
  ],
  [
    /^(incomplete input|unrecognized token: .*)$/,
    ([said = '']) => new Refused(`You have an error in your SQL syntax: ${said}`, 1064)
  ]
]

type Find = (table: string) => Table | undefined

export function told(error: unknown, sql: string, find: Find): Error {
  if (error instanceof Refused) return error
  const message = error instanceof Error ? error.message : String(error)
  for (const [pattern, make] of PATTERNS) {
    const said = pattern.exec(message)
    if (said) return make(said, sql, find)
  }
  return error instanceof Error ? error : new Error(message)
}

/** Of which key the values stand twice. */
function duplicate(list: string, find: Find): Refused {
  const parts = list.split(', ')
  const name = (parts[0] ?? '').split('.')[0] ?? ''
  const columns = parts.map((part) => part.slice(name.length + 1))
  const key = (find(name) ? uniqueOf(find(name) as Table) : []).find(
    ([, own]) => own.map(({ column }) => column).join() === columns.join()
  )
  return new Refused(`Duplicate entry for key '${name}.${key?.[0] ?? columns.join()}'`, 1062)
}

/** "Data Type Default Values" (13.6), in strict mode. */
function lacking(name: string, sql: string): Refused {
  if (/^\s*alter\b/i.test(sql)) return new Refused(`Invalid use of NULL value (column '${name}')`, 1138)
  const head = /^\s*(insert|replace)\b[\s\S]*?\bvalues?\b/i.exec(sql)?.[0]
  return head?.includes('(') && !head.toLowerCase().includes(name.toLowerCase())
    ? new Refused(`Field '${name}' doesn't have a default value`, 1364)
    : new Refused(`Column '${name}' cannot be null`, 1048)
}

const orphan = (sql: string): Refused =>
  /^\s*(insert|replace)\b/i.test(sql)
    ? new Refused('Cannot add or update a child row: a foreign key constraint fails', 1452)
    : /^\s*(delete|truncate)\b/i.test(sql)
      ? new Refused('Cannot delete or update a parent row: a foreign key constraint fails', 1451)
      : new Refused('Cannot add or update a row: a foreign key constraint fails', 1452)
