// The questions as the `mariadb` client asks them (knowledge base, "mariadb Command-Line Client": --raw writes texts as they are).
import type { AskedByHand } from '../dialect'
import { literal } from './words'

/** The names that the columns of a question have: all are given with AS, in its first SELECT. */
function columnsOf(sql: string): string[] {
  const [first = ''] = sql.split(/\bFROM\b/)
  return [...first.matchAll(/\bAS (\w+)/g)].flatMap(([, name]) => name ?? [])
}

/** The client of each takes the same. */
export const byHand = (client: 'mariadb' | 'mysql'): AskedByHand => ({
  command: `${client} --batch --raw --skip-column-names DATABASE`,
  before: [],
  heading: (says) => `SELECT JSON_MERGE_PATCH(${literal(JSON.stringify(says))}, JSON_OBJECT('taken', now()));`,
  // Without a limit, the order within is not kept (knowledge base, "Why is ORDER BY in a FROM Subquery Ignored?").
  each: (sql, question) =>
    `SELECT JSON_OBJECT('question', ${question}, 'row', JSON_OBJECT(${columnsOf(sql)
      .map((name) => `'${name}', a.\`${name}\``)
      .join(', ')})) FROM (${sql} LIMIT 18446744073709551615) a;`,
  ending: (questions) => `SELECT JSON_OBJECT('answered', ${questions});`
})
