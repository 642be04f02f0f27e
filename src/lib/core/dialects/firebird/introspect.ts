// Asks a Firebird server what the database of the connection holds: "Firebird Language Reference", appendix "System Tables".
// Sources of defaults, checks and computed columns are kept there as they were written.
import { addressOf, readType } from '../../catalog'
import type {
  Catalog,
  Check,
  Column,
  ForeignKey,
  Index,
  Key,
  Ref,
  ReferentialAction,
  Right,
  Table,
  Trigger,
  View
} from '../../catalog'
import type { CatalogQueries, RunQuery } from '../dialect'
import { beyond } from './check-refs'
import { FIELD, typeOf } from './fields'
import { KIND, programs, type Beside } from './programs'
import { grouped, inside, num, presetOf, quote, str, words, type Row } from './rows'

export const firebirdQueries: CatalogQueries = {
  read: async (query): Promise<Catalog> => {
    const [server] = await query(
      `SELECT rdb$get_context('SYSTEM', 'ENGINE_VERSION') AS version, trim(d.RDB$CHARACTER_SET_NAME) AS charset FROM RDB$DATABASE d`
    )
    const relations = await query(
      `SELECT trim(RDB$RELATION_NAME) AS name, RDB$DESCRIPTION AS words, RDB$VIEW_SOURCE AS source, coalesce(RDB$RELATION_TYPE, 0) AS kind
       FROM RDB$RELATIONS WHERE coalesce(RDB$SYSTEM_FLAG, 0) = 0 ORDER BY RDB$RELATION_NAME`
    )
    const columns = grouped(await query(COLUMNS), 'owner')
    const constraints = grouped(await query(CONSTRAINTS), 'owner')
    const indexes = await query(INDEXES)
    const segments = grouped(
      await query(
        `SELECT trim(RDB$INDEX_NAME) AS ix, trim(RDB$FIELD_NAME) AS part FROM RDB$INDEX_SEGMENTS ORDER BY RDB$INDEX_NAME, RDB$FIELD_POSITION`
      ),
      'ix'
    )
    const constraintOf = new Map([...(await query(KEYS))].map((row) => [str(row, 'name'), row]))
    const byIndex = grouped([...constraintOf.values()], 'ix')
    const { views, triggersOf, rightsOf, beside } = await dependents(query)
    const told = await programs(
      query,
      { charset: str(server ?? {}, 'charset'), old: str(server ?? {}, 'version').startsWith('3.') },
      beside
    )
    const unread = [...told.unread]
    const ownIndexes = grouped(
      indexes.filter((row) => byIndex(str(row, 'name')).length === 0),
      'owner'
    )
    const parts = (index: string) => segments(index).map((row) => str(row, 'part'))

    const tables = relations.flatMap((relation): Table[] => {
      const name = str(relation, 'name')
      if (isView(relation)) return []
      if (num(relation, 'kind') !== 0) {
        unread.push({ kind: num(relation, 'kind') === 2 ? 'external table' : 'temporary table', name })
        return []
      }
      const key = (row: Row): Key => ({ name: str(row, 'name'), columns: parts(str(row, 'ix')) })
      const own = constraints(name)
      const of = (kind: string) => own.filter((row) => str(row, 'kind') === kind)
      const [primary] = of('PRIMARY KEY')
      const comment = words(relation)
      const made = columns(name).map((row) => columnOf(row, str(server ?? {}, 'charset')))
      return [
        {
          schema: 'main',
          name,
          ...(comment === '' ? {} : { comment }),
          ...rightsOf(name),
          ...triggersOf(name),
          columns: made.map((column) => ({ ...column, ...rightsOf(name, column.name) })),
          ...(primary ? { primaryKey: key(primary) } : {}),
          uniques: of('UNIQUE').map(key),
          foreignKeys: of('FOREIGN KEY').map((row): ForeignKey => {
            const parent = constraintOf.get(str(row, 'parent_key'))
            return {
              name: str(row, 'name'),
              columns: parts(str(row, 'ix')),
              references: {
                schema: 'main',
                table: str(parent ?? {}, 'owner'),
                columns: parts(str(parent ?? {}, 'ix'))
              },
              onDelete: action(str(row, 'on_delete')),
              onUpdate: action(str(row, 'on_update')),
              deferrable: 'no'
            }
          }),
          // A check is kept as two triggers, before a row is added and before it is changed: with one text.
          checks: [...new Map(of('CHECK').map((row) => [str(row, 'name'), row])).values()].map((row): Check => ({
            name: str(row, 'name'),
            expression: inside(str(row, 'source').replace(/^check/i, '')),
            ...beyond(name, beside.refsOf(KIND.trigger, str(row, 'guard')).refs)
          })),
          indexes: ownIndexes(name).map((row): Index => {
            const descending = num(row, 'descending') === 1
            const expression =
              row['source'] === null || row['source'] === undefined ? undefined : inside(str(row, 'source'))
            const comment = words(row)
            if (num(row, 'off') === 1)
              unread.push({
                kind: 'switched-off state of index',
                name: str(row, 'name'),
                of: [addressOf('index', 'main', name, str(row, 'name'))]
              })
            return {
              name: str(row, 'name'),
              unique: num(row, 'is_unique') === 1,
              parts:
                expression === undefined
                  ? parts(str(row, 'name')).map((column) => ({ column, descending }))
                  : [{ expression, descending }],
              ...(comment === '' ? {} : { comment })
            }
          })
        }
      ]
    })
    for (const row of await query(COLLATIONS)) unread.push({ kind: 'collation', name: str(row, 'name') })
    return {
      engine: 'firebird',
      defaultSchema: 'main',
      serverVersion: str(server ?? {}, 'version'),
      ...(told.types.length > 0 ? { types: told.types } : {}),
      ...(told.sequences.length > 0 ? { sequences: told.sequences } : {}),
      ...(told.routines.length > 0 ? { routines: told.routines } : {}),
      tables,
      unread,
      ...(views.length ? { views } : {})
    }
  }
}

const isView = (relation: Row) => relation['source'] !== null && relation['source'] !== undefined

const COLUMNS = `SELECT trim(r.RDB$RELATION_NAME) AS owner, trim(r.RDB$FIELD_NAME) AS name, trim(r.RDB$FIELD_SOURCE) AS source,
    ${FIELD}, f.RDB$COMPUTED_SOURCE AS computed,
    iif(r.RDB$COLLATION_ID IS DISTINCT FROM coalesce(u.RDB$COLLATION_ID, f.RDB$COLLATION_ID), trim(o.RDB$COLLATION_NAME), NULL) AS coll,
    iif(f.RDB$FIELD_NAME STARTING WITH 'RDB$', coalesce(r.RDB$DEFAULT_SOURCE, f.RDB$DEFAULT_SOURCE), r.RDB$DEFAULT_SOURCE) AS preset,
    iif(f.RDB$FIELD_NAME STARTING WITH 'RDB$', coalesce(r.RDB$NULL_FLAG, f.RDB$NULL_FLAG, 0), coalesce(r.RDB$NULL_FLAG, 0)) AS required, r.RDB$IDENTITY_TYPE AS numbers, r.RDB$DESCRIPTION AS words
  FROM RDB$RELATION_FIELDS r
  JOIN RDB$RELATIONS t ON t.RDB$RELATION_NAME = r.RDB$RELATION_NAME AND coalesce(t.RDB$SYSTEM_FLAG, 0) = 0
  JOIN RDB$FIELDS f ON f.RDB$FIELD_NAME = r.RDB$FIELD_SOURCE
  LEFT JOIN RDB$CHARACTER_SETS c ON c.RDB$CHARACTER_SET_ID = f.RDB$CHARACTER_SET_ID
  LEFT JOIN RDB$COLLATIONS o ON o.RDB$CHARACTER_SET_ID = f.RDB$CHARACTER_SET_ID AND o.RDB$COLLATION_ID = r.RDB$COLLATION_ID
  LEFT JOIN RDB$COLLATIONS u ON f.RDB$FIELD_NAME STARTING WITH 'RDB$' AND u.RDB$CHARACTER_SET_ID = f.RDB$CHARACTER_SET_ID
    AND u.RDB$COLLATION_NAME = c.RDB$DEFAULT_COLLATE_NAME
  ORDER BY r.RDB$RELATION_NAME, r.RDB$FIELD_POSITION`

const COLLATIONS = `SELECT trim(RDB$COLLATION_NAME) AS name FROM RDB$COLLATIONS WHERE coalesce(RDB$SYSTEM_FLAG, 0) = 0 ORDER BY 1`

const CONSTRAINTS = `SELECT trim(c.RDB$RELATION_NAME) AS owner, trim(c.RDB$CONSTRAINT_NAME) AS name, trim(c.RDB$CONSTRAINT_TYPE) AS kind,
    trim(c.RDB$INDEX_NAME) AS ix, trim(f.RDB$CONST_NAME_UQ) AS parent_key, trim(f.RDB$DELETE_RULE) AS on_delete,
    trim(f.RDB$UPDATE_RULE) AS on_update, t.RDB$TRIGGER_SOURCE AS source, trim(k.RDB$TRIGGER_NAME) AS guard
  FROM RDB$RELATION_CONSTRAINTS c
  LEFT JOIN RDB$REF_CONSTRAINTS f ON f.RDB$CONSTRAINT_NAME = c.RDB$CONSTRAINT_NAME
  LEFT JOIN RDB$CHECK_CONSTRAINTS k ON k.RDB$CONSTRAINT_NAME = c.RDB$CONSTRAINT_NAME AND c.RDB$CONSTRAINT_TYPE = 'CHECK'
  LEFT JOIN RDB$TRIGGERS t ON t.RDB$TRIGGER_NAME = k.RDB$TRIGGER_NAME AND c.RDB$CONSTRAINT_TYPE = 'CHECK'
  WHERE c.RDB$CONSTRAINT_TYPE <> 'NOT NULL'
  ORDER BY c.RDB$RELATION_NAME, c.RDB$CONSTRAINT_NAME`

const KEYS = `SELECT trim(RDB$CONSTRAINT_NAME) AS name, trim(RDB$RELATION_NAME) AS owner, trim(RDB$INDEX_NAME) AS ix
  FROM RDB$RELATION_CONSTRAINTS WHERE RDB$INDEX_NAME IS NOT NULL`

const INDEXES = `SELECT trim(RDB$RELATION_NAME) AS owner, trim(RDB$INDEX_NAME) AS name, coalesce(RDB$UNIQUE_FLAG, 0) AS is_unique,
    coalesce(RDB$INDEX_TYPE, 0) AS descending, coalesce(RDB$INDEX_INACTIVE, 0) AS off, RDB$EXPRESSION_SOURCE AS source, RDB$DESCRIPTION AS words
  FROM RDB$INDICES WHERE coalesce(RDB$SYSTEM_FLAG, 0) = 0 ORDER BY RDB$INDEX_NAME`

const action = (rule: string): ReferentialAction =>
  rule === 'RESTRICT' ? 'no action' : (rule.toLowerCase() as ReferentialAction)

function columnOf(row: Row, charset: string): Column {
  const source = str(row, 'source')
  const preset = presetOf(row)
  const computed = row['computed'] === null || row['computed'] === undefined ? undefined : inside(str(row, 'computed'))
  const numbers = row['numbers']
  const comment = words(row)
  return {
    name: str(row, 'name'),
    type: source.startsWith('RDB$') ? readType(typeOf(row, charset)) : { name: source, schema: 'main' },
    nullable: num(row, 'required') !== 1,
    ...(preset === '' || computed !== undefined ? {} : { default: preset }),
    ...(numbers === null || numbers === undefined
      ? {}
      : { identity: Number(numbers) === 0 ? ('always' as const) : ('by default' as const) }),
    ...(computed === undefined ? {} : { generated: computed }),
    ...(row['coll'] && computed === undefined ? { collation: str(row, 'coll') } : {}),
    ...(comment === '' ? {} : { comment })
  }
}

interface Dependents {
  readonly views: readonly View[]
  /** Of a table or view. */
  triggersOf(relation: string): { readonly triggers?: readonly Trigger[] }
  /** Of a table or view, or of one of its columns. */
  rightsOf(relation: string, column?: string): { readonly rights?: readonly Right[] }
  readonly beside: Beside
}

/** "RDB$OBJECT_TYPE" of rights: a relation is one, whether table or view. */
const RELATION = 0
const keyOf = (kind: number, name: string) => `${kind} ${name}`

/** What the head of a package says things to be of stands in no dependency of it: domains, and columns. */
const ofHeads = (table: string): string =>
  `UNION SELECT '${KIND.package} ' || trim(p.RDB$PACKAGE_NAME), iif(p.RDB$RELATION_NAME IS NULL, ${KIND.field}, ${RELATION}),
     trim(coalesce(p.RDB$RELATION_NAME, p.RDB$FIELD_SOURCE)), iif(p.RDB$RELATION_NAME IS NULL, NULL, trim(p.RDB$FIELD_NAME))
   FROM ${table} p WHERE p.RDB$PACKAGE_NAME IS NOT NULL AND coalesce(p.RDB$SYSTEM_FLAG, 0) = 0
     AND (p.RDB$RELATION_NAME IS NOT NULL OR p.RDB$FIELD_SOURCE NOT STARTING WITH 'RDB$')`

/**
 * Views, triggers and rights, with what texts stand on: "RDB$DEPENDENCIES", where a view's expressions stand under their own names (3).
 * An engine's own objects are no ground.
 */
async function dependents(query: RunQuery): Promise<Dependents> {
  const uses = grouped(
    await query(
      `SELECT DISTINCT RDB$DEPENDENT_TYPE || ' ' || trim(RDB$DEPENDENT_NAME) AS name,
         iif(RDB$PACKAGE_NAME IS NULL, RDB$DEPENDED_ON_TYPE, 18) AS kind, trim(coalesce(RDB$PACKAGE_NAME, RDB$DEPENDED_ON_NAME)) AS target,
         trim(RDB$FIELD_NAME) AS part
       FROM RDB$DEPENDENCIES WHERE RDB$DEPENDENT_TYPE IN (1, 2, 5, 15, 18, 19)
         AND RDB$DEPENDED_ON_NAME NOT STARTING WITH 'RDB$' AND RDB$DEPENDED_ON_NAME NOT STARTING WITH 'MON$'
       UNION SELECT '1 ' || trim(f.RDB$RELATION_NAME), d.RDB$DEPENDED_ON_TYPE, trim(d.RDB$DEPENDED_ON_NAME), trim(d.RDB$FIELD_NAME)
       FROM RDB$DEPENDENCIES d
       JOIN RDB$RELATION_FIELDS f ON f.RDB$FIELD_SOURCE = d.RDB$DEPENDENT_NAME
       JOIN RDB$RELATIONS v ON v.RDB$RELATION_NAME = f.RDB$RELATION_NAME AND v.RDB$VIEW_SOURCE IS NOT NULL
       WHERE d.RDB$DEPENDENT_TYPE = 3 AND d.RDB$DEPENDED_ON_TYPE IN (0, 1)
       ${['RDB$FUNCTION_ARGUMENTS', 'RDB$PROCEDURE_PARAMETERS'].map(ofHeads).join(' ')}`
    ),
    'name'
  )
  const rights = grouped(
    await query(
      `SELECT DISTINCT iif(RDB$OBJECT_TYPE = 1, 0, RDB$OBJECT_TYPE) || ' ' || trim(RDB$RELATION_NAME) AS name, trim(RDB$USER) AS who,
         RDB$USER_TYPE AS kind, trim(RDB$PRIVILEGE) AS what, RDB$GRANT_OPTION AS pass, trim(RDB$FIELD_NAME) AS part
       FROM RDB$USER_PRIVILEGES WHERE RDB$OBJECT_TYPE IN (0, 1, 5, 7, 14, 15, 18) AND RDB$USER <> RDB$GRANTOR ORDER BY 1, 2, 4, 6`
    ),
    'name'
  )
  const refsOf = (kind: number, name: string): { readonly refs?: readonly Ref[] } => {
    const refs = uses(keyOf(kind, name)).flatMap((row): Ref[] => {
      const [target, on] = [str(row, 'target'), num(row, 'kind')]
      // One that calls itself stands on nothing more for it.
      if (on === kind && target === name) return []
      if (on === RELATION || on === KIND.view) {
        if (row['part']) return [{ to: addressOf('column', 'main', target, str(row, 'part')) }]
        return [{ to: addressOf(isViewNamed(target) ? 'view' : 'table', 'main', target) }]
      }
      const free = FREE_KINDS[on]
      return free ? [{ to: addressOf(free, 'main', target) }] : []
    })
    return refs.length ? { refs } : {}
  }
  const views = await query(
    `SELECT trim(RDB$RELATION_NAME) AS name, RDB$VIEW_SOURCE AS source, RDB$DESCRIPTION AS words,
       (SELECT list(trim(f.RDB$FIELD_NAME), ascii_char(10)) FROM (SELECT x.RDB$FIELD_NAME FROM RDB$RELATION_FIELDS x
          WHERE x.RDB$RELATION_NAME = r.RDB$RELATION_NAME ORDER BY x.RDB$FIELD_POSITION) f) AS columns
     FROM RDB$RELATIONS r WHERE RDB$VIEW_SOURCE IS NOT NULL AND coalesce(RDB$SYSTEM_FLAG, 0) = 0 ORDER BY RDB$RELATION_NAME`
  )
  const triggers = await query(
    `SELECT trim(RDB$TRIGGER_NAME) AS name, trim(RDB$RELATION_NAME) AS owner, RDB$TRIGGER_TYPE AS kind, RDB$TRIGGER_SEQUENCE AS place,
       coalesce(RDB$TRIGGER_INACTIVE, 0) AS off, RDB$TRIGGER_SOURCE AS source, RDB$DESCRIPTION AS words
     FROM RDB$TRIGGERS WHERE coalesce(RDB$SYSTEM_FLAG, 0) = 0 AND RDB$RELATION_NAME IS NOT NULL ORDER BY RDB$RELATION_NAME, RDB$TRIGGER_SEQUENCE`
  )
  const viewNames = new Set(views.map((row) => str(row, 'name')))
  const isViewNamed = (name: string) => viewNames.has(name)
  const said = (row: Row) => (words(row) === '' ? {} : { comment: words(row) })
  const byOwner = grouped(triggers, 'owner')
  const triggersOf = (relation: string) => {
    const own = byOwner(relation).map((row): Trigger => {
      const [name, table] = [str(row, 'name'), str(row, 'owner')]
      return {
        name,
        definition: `CREATE TRIGGER ${quote(name)} FOR ${quote(table)} ${num(row, 'off') === 1 ? 'INACTIVE' : 'ACTIVE'} ${moment(num(row, 'kind'))} POSITION ${num(row, 'place')}\n${str(row, 'source')}`,
        ...refsOf(KIND.trigger, name),
        ...said(row)
      }
    })
    return own.length ? { triggers: own } : {}
  }
  const rightsOf = (relation: string, column = '') => {
    const own = rights(keyOf(RELATION, relation))
      .filter((row) => (row['part'] ? str(row, 'part') : '') === column)
      .flatMap(rightOf)
    return own.length ? { rights: own } : {}
  }
  return {
    views: views.map((row): View => {
      const name = str(row, 'name')
      return {
        schema: 'main',
        name,
        columns: str(row, 'columns').split(FIELD_BREAK),
        query: str(row, 'source'),
        ...refsOf(KIND.view, name),
        ...said(row),
        ...rightsOf(name),
        ...triggersOf(name)
      }
    }),
    triggersOf,
    rightsOf,
    beside: {
      refsOf,
      rightsOf: (kind, name) => {
        const own = rights(keyOf(kind, name)).flatMap(rightOf)
        return own.length > 0 ? { rights: own } : {}
      }
    }
  }
}

/** What a text may stand on beside tables and views. */
const FREE_KINDS: Readonly<Record<number, 'routine' | 'sequence' | 'type'>> = {
  [KIND.procedure]: 'routine',
  [KIND.exception]: 'routine',
  [KIND.package]: 'routine',
  [KIND.function]: 'routine',
  [KIND.field]: 'type',
  [KIND.generator]: 'sequence'
}

/** Between the names of a view's columns, in one text. */
const FIELD_BREAK = '\n'

const RIGHTS: Readonly<Record<string, string>> = {
  S: 'SELECT',
  I: 'INSERT',
  U: 'UPDATE',
  D: 'DELETE',
  R: 'REFERENCES',
  X: 'EXECUTE',
  G: 'USAGE'
}
/** "RDB$USER_TYPE". */
const HOLDERS: Readonly<Record<number, string>> = {
  1: 'VIEW',
  2: 'TRIGGER',
  5: 'PROCEDURE',
  8: 'USER',
  13: 'ROLE',
  15: 'FUNCTION',
  18: 'PACKAGE'
}

function rightOf(row: Row): Right[] {
  const [may, holder] = [RIGHTS[str(row, 'what')], HOLDERS[num(row, 'kind')]]
  if (!may || !holder) return []
  const to = str(row, 'who') === 'PUBLIC' ? 'PUBLIC' : `${holder} ${quote(str(row, 'who'))}`
  return [{ to, may, ...(num(row, 'pass') === 1 ? { grantable: true as const } : {}) }]
}

/** "RDB$TRIGGER_TYPE": one more than three pairs of bits tell what sets it off; what is left tells when. */
function moment(type: number): string {
  const events = ['', 'INSERT', 'UPDATE', 'DELETE']
  const code = type + 1
  const found = [1, 3, 5].flatMap((shift) => events[(code >> shift) & 3] || [])
  return `${code & 1 ? 'AFTER' : 'BEFORE'} ${found.join(' OR ')}`
}
