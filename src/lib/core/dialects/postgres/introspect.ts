// Asks a PostgreSQL server what it holds: manual, chapter 52 System Catalogs. (`information_schema` is ten times slower.)
import type {
  Catalog,
  Check,
  Column,
  ForeignKey,
  Index,
  IndexPart,
  Key,
  OpaqueObject,
  ReferentialAction,
  Table,
  UnreadObject
} from '../../catalog'
import type { CatalogQueries, RunQuery } from '../dialect'
import { literal } from '../standard'
import { DEFAULT_SCHEMA } from './profile'
import { canonicalType } from './types'

type Row = Readonly<Record<string, unknown>>

const str = (row: Row, key: string): string => String(row[key] ?? '')
const optional = (row: Row, key: string): string | undefined => {
  const value = row[key]
  return value === null || value === undefined ? undefined : String(value)
}
const list = (row: Row, key: string): string[] => {
  const value = row[key]
  return Array.isArray(value) ? value.map(String) : []
}
/** `{ [key]: value }`, or nothing when the value is undefined. */
const some = <K extends string, V>(key: K, value: V | undefined) =>
  value === undefined ? {} : ({ [key]: value } as { [P in K]: V })

const actions: Readonly<Record<string, ReferentialAction>> = {
  a: 'no action',
  r: 'restrict',
  c: 'cascade',
  n: 'set null',
  d: 'set default'
}

/** Objects that came with an extension are the extension's own. */
const notOfExtension = (oid: string) =>
  `NOT EXISTS (SELECT FROM pg_depend e WHERE e.objid = ${oid} AND e.deptype = 'e')`

const searchPath = (path: string) => `SELECT set_config('search_path', ${literal(path)}, false)`

/** What a session was told to look through decides how the engine prints a name: it is put aside, and put back. */
async function read(query: RunQuery, schemas?: readonly string[]): Promise<Catalog> {
  const [session] = await query(`SELECT current_setting('search_path') AS path`)
  await query(searchPath(DEFAULT_SCHEMA))
  try {
    return await readAll(query, schemas)
  } finally {
    await query(searchPath(str(session ?? {}, 'path'))).catch(() => undefined)
  }
}

async function readAll(query: RunQuery, schemas?: readonly string[]): Promise<Catalog> {
  const inSchemas = schemas
    ? `n.nspname IN (${schemas.map(literal).join(', ')})`
    : `n.nspname NOT LIKE 'pg\\_%' AND n.nspname <> 'information_schema'`
  const inTables = `c.relkind = 'r' AND NOT c.relispartition AND ${inSchemas} AND ${notOfExtension('c.oid')}`

  const [server] = await query(`SELECT current_setting('server_version') AS version`)
  const tables = await query(
    `SELECT c.oid::int8::text AS id, n.nspname AS schema, c.relname AS name, obj_description(c.oid, 'pg_class') AS comment
     FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE ${inTables} ORDER BY n.nspname, c.relname`
  )
  const columns = await query(
    `SELECT c.oid::int8::text AS id, a.attname AS name, format_type(a.atttypid, a.atttypmod) AS type, a.attnotnull AS required,
       a.attidentity AS identity, a.attgenerated AS generated, pg_get_expr(d.adbin, d.adrelid) AS expression,
       col_description(c.oid, a.attnum) AS comment
     FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
     JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped
     LEFT JOIN pg_attrdef d ON d.adrelid = c.oid AND d.adnum = a.attnum
     WHERE ${inTables} ORDER BY c.oid, a.attnum`
  )
  const names = (keys: string, table: string) =>
    `(SELECT json_agg(a.attname ORDER BY k.place) FROM unnest(${keys}) WITH ORDINALITY k(number, place)
      JOIN pg_attribute a ON a.attrelid = ${table} AND a.attnum = k.number)`
  const constraints = await query(
    `SELECT c.oid::int8::text AS id, o.conname AS name, o.contype AS type, ${names('o.conkey', 'o.conrelid')} AS columns,
       pn.nspname AS parent_schema, p.relname AS parent, ${names('o.confkey', 'o.confrelid')} AS parent_columns,
       o.confdeltype AS on_delete, o.confupdtype AS on_update, o.condeferrable AS deferrable, o.condeferred AS deferred,
       pg_get_expr(o.conbin, o.conrelid) AS expression, obj_description(o.oid, 'pg_constraint') AS comment
     FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace JOIN pg_constraint o ON o.conrelid = c.oid
     LEFT JOIN pg_class p ON p.oid = o.confrelid LEFT JOIN pg_namespace pn ON pn.oid = p.relnamespace
     WHERE ${inTables} AND o.contype IN ('p', 'u', 'f', 'c') ORDER BY o.conname`
  )
  const indexes = await query(
    `SELECT c.oid::int8::text AS id, x.relname AS name, i.indisunique AS unique, m.amname AS method,
       pg_get_expr(i.indpred, i.indrelid) AS condition, obj_description(x.oid, 'pg_class') AS comment,
       (SELECT json_agg(json_build_object('column', a.attname, 'expression', pg_get_indexdef(x.oid, k.place::int, false),
          'options', i.indoption[k.place - 1]) ORDER BY k.place)
        FROM unnest(i.indkey::int2[]) WITH ORDINALITY k(number, place)
        LEFT JOIN pg_attribute a ON a.attrelid = i.indrelid AND a.attnum = k.number AND k.number > 0) AS parts,
       i.indnkeyatts AS keys
     FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace JOIN pg_index i ON i.indrelid = c.oid
     JOIN pg_class x ON x.oid = i.indexrelid JOIN pg_am m ON m.oid = x.relam
     WHERE ${inTables} AND NOT EXISTS (SELECT FROM pg_constraint o WHERE o.conindid = x.oid AND o.contype IN ('p', 'u', 'x'))
     ORDER BY x.relname`
  )
  const unread = await query(unreadQuery(inSchemas, inTables))
  // What is carried as it is names everything with its schema, so that it means the same wherever it is run.
  await query(searchPath(''))
  const opaque = [...(await query(viewsQuery(inSchemas))), ...(await query(triggersQuery(inSchemas)))].map(opaqueOf)

  const at = (rows: readonly Row[]) => {
    const groups = new Map<string, Row[]>()
    for (const row of rows) {
      const id = str(row, 'id')
      const group = groups.get(id)
      if (group) group.push(row)
      else groups.set(id, [row])
    }
    return (id: string) => groups.get(id) ?? []
  }
  const [columnsOf, constraintsOf, indexesOf] = [at(columns), at(constraints), at(indexes)]
  return {
    engine: 'postgres',
    defaultSchema: DEFAULT_SCHEMA,
    ...some('serverVersion', server && optional(server, 'version')),
    tables: tables.map((row): Table => {
      const id = str(row, 'id')
      const own = constraintsOf(id)
      const [primary] = own.filter((c) => c['type'] === 'p').map(keyOf)
      return {
        schema: str(row, 'schema'),
        name: str(row, 'name'),
        ...some('comment', optional(row, 'comment')),
        columns: columnsOf(id).map(columnOf),
        ...some('primaryKey', primary),
        uniques: own.filter((c) => c['type'] === 'u').map(keyOf),
        foreignKeys: own.filter((c) => c['type'] === 'f').map(foreignKeyOf),
        checks: own.filter((c) => c['type'] === 'c').map(checkOf),
        indexes: indexesOf(id).map(indexOf)
      }
    }),
    unread: unread.map((row): UnreadObject => ({ kind: str(row, 'kind'), name: str(row, 'name') })),
    ...(opaque.length ? { opaque } : {})
  }
}

function columnOf(row: Row): Column {
  const identity = str(row, 'identity')
  const generated = str(row, 'generated')
  const expression = optional(row, 'expression')
  return {
    name: str(row, 'name'),
    type: canonicalType(str(row, 'type')),
    nullable: row['required'] !== true,
    ...(generated === '' ? some('default', expression) : some('generated', expression)),
    ...(generated === 'v' ? { virtual: true as const } : {}),
    ...(identity === '' ? {} : { identity: identity === 'a' ? ('always' as const) : ('by default' as const) }),
    ...some('comment', optional(row, 'comment'))
  }
}

const keyOf = (row: Row): Key => ({
  name: str(row, 'name'),
  columns: list(row, 'columns'),
  ...some('comment', optional(row, 'comment'))
})

const foreignKeyOf = (row: Row): ForeignKey => ({
  name: str(row, 'name'),
  columns: list(row, 'columns'),
  references: { schema: str(row, 'parent_schema'), table: str(row, 'parent'), columns: list(row, 'parent_columns') },
  onDelete: actions[str(row, 'on_delete')] ?? 'no action',
  onUpdate: actions[str(row, 'on_update')] ?? 'no action',
  deferrable: row['deferred'] === true ? 'initially deferred' : row['deferrable'] === true ? 'deferrable' : 'no',
  ...some('comment', optional(row, 'comment'))
})

const checkOf = (row: Row): Check => ({
  name: str(row, 'name'),
  expression: str(row, 'expression'),
  ...some('comment', optional(row, 'comment'))
})

function indexOf(row: Row): Index {
  const all = Array.isArray(row['parts']) ? (row['parts'] as Row[]) : []
  const keys = Number(row['keys'])
  const method = str(row, 'method')
  const include = all.slice(keys).map((part) => str(part, 'column'))
  return {
    name: str(row, 'name'),
    unique: row['unique'] === true,
    parts: all.slice(0, keys).map((part): IndexPart => {
      // Manual, 52.26 pg_index: bit 1 of an option is DESC, bit 2 is NULLS FIRST; descending parts have them first.
      const options = Number(part['options'] ?? 0)
      const descending = (options & 1) === 1
      const first = (options & 2) === 2
      const column = optional(part, 'column')
      return {
        ...(column === undefined ? { expression: str(part, 'expression').replace(/^\((.*)\)$/s, '$1') } : { column }),
        descending,
        ...(first === descending ? {} : { nulls: first ? ('first' as const) : ('last' as const) })
      }
    }),
    ...(include.length ? { include } : {}),
    ...some('where', optional(row, 'condition')),
    ...(method === 'btree' ? {} : { method }),
    ...some('comment', optional(row, 'comment'))
  }
}

const uses = (rows: string) =>
  `(SELECT json_agg(json_build_object('schema', tn.nspname, 'table', t.relname, 'column', a.attname)) FROM pg_depend d
    JOIN pg_class t ON t.oid = d.refobjid JOIN pg_namespace tn ON tn.oid = t.relnamespace
    LEFT JOIN pg_attribute a ON a.attrelid = t.oid AND a.attnum = d.refobjsubid AND d.refobjsubid > 0
    WHERE d.refclassid = 'pg_class'::regclass AND ${rows}) AS uses`

/** Views, with their comments and the rights of others to them: manual, 9.27.4 (aclexplode) and 52.44 pg_rewrite. */
const viewsQuery = (inSchemas: string) => `
  SELECT CASE c.relkind WHEN 'v' THEN 'view' ELSE 'materialized view' END AS kind, n.nspname AS schema, c.relname AS name,
    format('%I.%I', n.nspname, c.relname) AS quoted, pg_get_viewdef(c.oid) AS definition,
    obj_description(c.oid, 'pg_class') AS comment, array_to_string(c.reloptions, ', ') AS options,
    (SELECT json_agg(format('GRANT %s ON %I.%I TO %s%s', x.privilege_type, n.nspname, c.relname,
       CASE WHEN x.grantee = 0 THEN 'PUBLIC' ELSE quote_ident(pg_get_userbyid(x.grantee)) END,
       CASE WHEN x.is_grantable THEN ' WITH GRANT OPTION' ELSE '' END))
     FROM aclexplode(c.relacl) x WHERE x.grantee <> c.relowner) AS grants,
    ${uses(`d.classid = 'pg_rewrite'::regclass AND d.refobjid <> c.oid AND d.objid IN (SELECT r.oid FROM pg_rewrite r WHERE r.ev_class = c.oid)`)}
  FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
  WHERE ${inSchemas} AND c.relkind IN ('v', 'm') AND ${notOfExtension('c.oid')} ORDER BY 2, 3`

const triggersQuery = (inSchemas: string) => `
  SELECT 'trigger' AS kind, n.nspname AS schema, g.tgname AS name, c.relname AS owner, pg_get_triggerdef(g.oid) AS definition,
    format('%I ON %I.%I', g.tgname, n.nspname, c.relname) AS quoted, obj_description(g.oid, 'pg_trigger') AS comment,
    ${uses(`d.classid = 'pg_trigger'::regclass AND d.objid = g.oid`)}
  FROM pg_trigger g JOIN pg_class c ON c.oid = g.tgrelid JOIN pg_namespace n ON n.oid = c.relnamespace
  WHERE ${inSchemas} AND NOT g.tgisinternal AND c.relkind = 'r' ORDER BY 2, 4, 3`

function opaqueOf(row: Row): OpaqueObject {
  const [kind, schema] = [str(row, 'kind') as OpaqueObject['kind'], str(row, 'schema')]
  const owner = optional(row, 'owner')
  const used = new Map<string, { schema: string; table: string; columns: string[] }>()
  const use = (at: string, table: string, column: string | undefined) => {
    const key = JSON.stringify([at, table])
    const known = used.get(key) ?? { schema: at, table, columns: [] }
    if (column !== undefined) known.columns.push(column)
    used.set(key, known)
  }
  if (owner !== undefined) use(schema, owner, undefined)
  for (const item of Array.isArray(row['uses']) ? (row['uses'] as Row[]) : [])
    use(str(item, 'schema'), str(item, 'table'), optional(item, 'column'))
  const options = optional(row, 'options')
  const body = str(row, 'definition').trim().replace(/;$/, '')
  const quoted = str(row, 'quoted')
  const comment = optional(row, 'comment')
  const after = [
    ...list(row, 'grants'),
    ...(comment === undefined ? [] : [`COMMENT ON ${kind.toUpperCase()} ${quoted} IS ${literal(comment)}`])
  ]
  return {
    kind,
    schema,
    name: str(row, 'name'),
    ...some('table', owner),
    definition:
      kind === 'trigger'
        ? body
        : `CREATE ${kind.toUpperCase()} ${quoted}${options === undefined ? '' : ` WITH (${options})`} AS\n${body}`,
    ...(after.length ? { after } : {}),
    uses: [...used.values()]
  }
}

/** Everything in the schemas that a Catalog does not describe. */
const unreadQuery = (inSchemas: string, inTables: string) => `
  SELECT CASE c.relkind WHEN 'S' THEN 'sequence' WHEN 'f' THEN 'foreign table'
    WHEN 'p' THEN 'partitioned table' WHEN 'r' THEN 'partition' ELSE 'composite type' END AS kind, n.nspname || '.' || c.relname AS name
  FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
  WHERE ${inSchemas} AND ${notOfExtension('c.oid')} AND (c.relkind IN ('f', 'p', 'c') OR (c.relkind = 'r' AND c.relispartition)
    OR (c.relkind = 'S' AND NOT EXISTS (SELECT FROM pg_depend d WHERE d.objid = c.oid AND d.deptype = 'i')))
  UNION ALL SELECT CASE t.typtype WHEN 'e' THEN 'enum type' WHEN 'd' THEN 'domain' ELSE 'range type' END, n.nspname || '.' || t.typname
  FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace WHERE ${inSchemas} AND t.typtype IN ('e', 'd', 'r') AND ${notOfExtension('t.oid')}
  UNION ALL SELECT 'routine', n.nspname || '.' || p.proname FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace
  WHERE ${inSchemas} AND ${notOfExtension('p.oid')}
  UNION ALL SELECT 'row policy', c.relname || '.' || y.polname FROM pg_policy y JOIN pg_class c ON c.oid = y.polrelid
  JOIN pg_namespace n ON n.oid = c.relnamespace WHERE ${inSchemas}
  UNION ALL SELECT 'exclusion constraint', c.relname || '.' || o.conname FROM pg_constraint o JOIN pg_class c ON c.oid = o.conrelid
  JOIN pg_namespace n ON n.oid = c.relnamespace WHERE ${inSchemas} AND o.contype = 'x'
  UNION ALL SELECT 'constraint not yet validated', c.relname || '.' || o.conname FROM pg_constraint o JOIN pg_class c ON c.oid = o.conrelid
  JOIN pg_namespace n ON n.oid = c.relnamespace WHERE ${inTables} AND NOT o.convalidated AND o.contype IN ('f', 'c')
  UNION ALL SELECT 'collation of column', c.relname || '.' || a.attname FROM pg_attribute a JOIN pg_class c ON c.oid = a.attrelid
  JOIN pg_namespace n ON n.oid = c.relnamespace JOIN pg_type t ON t.oid = a.atttypid
  WHERE ${inTables} AND a.attnum > 0 AND NOT a.attisdropped AND a.attcollation <> t.typcollation
  UNION ALL SELECT 'operator class of index', x.relname FROM pg_index i JOIN pg_class c ON c.oid = i.indrelid JOIN pg_class x ON x.oid = i.indexrelid
  JOIN pg_namespace n ON n.oid = c.relnamespace
  WHERE ${inTables} AND EXISTS (SELECT FROM pg_opclass o WHERE o.oid = ANY (i.indclass::oid[]) AND NOT o.opcdefault)
  ORDER BY 1, 2`

export const postgresQueries: CatalogQueries = { read }
