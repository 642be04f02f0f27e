// Names of tables on a server that does not tell their letters apart: "Identifier Case-sensitivity", `lower_case_table_names`; of MySQL
// 11.2.3. With 1 it keeps them in small letters, with 2 as they were said first.
import { renameIn, tableKey, type Catalog, type NameRule } from '../../catalog'

/** How a server of a setting has names of tables; nothing where it tells all of them apart. */
export const lettersOf = (setting: string): Catalog['tableNames'] =>
  setting === '1' ? 'small' : setting === '2' ? 'as first said' : undefined

/** What is wanted, by the names that its tables and views have there, or will have. */
export function inLettersOf(wanted: Catalog, live: Catalog, rule: NameRule): Catalog {
  const { tableNames } = live
  if (tableNames === undefined) return wanted
  const there = new Map([...live.tables, ...(live.views ?? [])].map(({ name }) => [rule.lexis.fold(name), name]))
  const tables = new Map<string, string>()
  const taken = new Set<string>()
  for (const { schema, name } of [...wanted.tables, ...(wanted.views ?? [])]) {
    const folded = rule.lexis.fold(name)
    // Of two that are one name there, the server refuses the second.
    const now = taken.has(folded) ? name : (there.get(folded) ?? (tableNames === 'small' ? folded : name))
    taken.add(folded)
    if (now !== name) tables.set(tableKey(schema, name), now)
  }
  return renameIn(wanted, { tables, members: new Map(), others: new Map() }, rule)
}
