// The tables that a module makes for itself, which come and go with the virtual one: "FTS5", 4.5; "FTS3 and FTS4", 9; "The SQLite
// R*Tree Module", 2; their statements are those that version 3.40 leaves in its schema table. Asked of the engine they are told
// only where the module is at hand.
import { listParts } from '../../sql'
import { sqliteLexis } from './lexis'
import { moduleOf } from './read'

const SHADOWS: Readonly<Record<string, readonly string[]>> = {
  fts5: ['data', 'idx', 'content', 'docsize', 'config'],
  fts4: ['content', 'segments', 'segdir', 'docsize', 'stat'],
  fts3: ['content', 'segments', 'segdir'],
  rtree: ['node', 'rowid', 'parent'],
  rtree_i32: ['node', 'rowid', 'parent'],
  geopoly: ['node', 'rowid', 'parent']
}

const moduleIn = (sql: string): string => /^\w+/.exec(moduleOf(sql) ?? '')?.[0].toLowerCase() ?? ''

/** Their names, by the virtual table's and its statement: more than there are, where it leaves some out. */
export const shadowNames = (name: string, sql: string): string[] =>
  (SHADOWS[moduleIn(sql)] ?? []).map((suffix) => `${name}_${suffix}`)

/** Those that the statement of a virtual table makes, each with its own; none where that depends on more than is known. */
export function shadowTables(name: string, sql: string): { readonly name: string; readonly sql: string }[] {
  const said = moduleOf(sql) ?? ''
  const parts = listParts(said.slice(said.indexOf('(') + 1, said.lastIndexOf(')')), {
    ...sqliteLexis,
    fold: (text) => text
  })
  const settings = new Map(
    parts.flatMap((part) => {
      const [, key = '', value = ''] = /^(\w+)\s*=\s*(.*)$/s.exec(part) ?? []
      return key === '' ? [] : [[key.toLowerCase(), value.replace(/^['"]|['"]$/g, '')] as const]
    })
  )
  const columns = parts.filter((part) => !/^\w+\s*=/.test(part))
  const made = (suffix: string, definition: string) => ({
    name: `${name}_${suffix}`,
    sql: `CREATE TABLE "${`${name}_${suffix}`.replaceAll('"', '""')}"${definition}`
  })
  switch (moduleIn(sql)) {
    case 'fts5':
      return [
        made('data', '(id INTEGER PRIMARY KEY, block BLOB)'),
        made('idx', '(segid, term, pgno, PRIMARY KEY(segid, term)) WITHOUT ROWID'),
        ...(settings.has('content')
          ? []
          : [made('content', `(id INTEGER PRIMARY KEY${columns.map((_, i) => `, c${i}`).join('')})`)]),
        ...(settings.get('columnsize') === '0' ? [] : [made('docsize', '(id INTEGER PRIMARY KEY, sz BLOB)')]),
        made('config', '(k PRIMARY KEY, v) WITHOUT ROWID')
      ]
    case 'rtree':
    case 'rtree_i32':
      return columns.some((column) => column.startsWith('+'))
        ? []
        : [
            made('rowid', '(rowid INTEGER PRIMARY KEY,nodeno)'),
            made('node', '(nodeno INTEGER PRIMARY KEY,data)'),
            made('parent', '(nodeno INTEGER PRIMARY KEY,parentnode)')
          ]
    default:
      return []
  }
}
