// What the stand-in shows of itself: the tables of INFORMATION_SCHEMA with the columns that are asked for ("INFORMATION_SCHEMA Tables",
// 28, of MySQL's manual, 8.4), filled from the structure.
import { typeText, type Catalog, type Column, type Index, type Table } from '../../core/catalog'
import type { Dialect } from '../../core/dialects'
import { significant, textOf } from '../../core/sql'
import { familyOf } from './values'
import { eventOf, programOf, triggerOf } from './programs'
import { uniqueOf } from './rows'
import { quote } from './words'

type Cell = string | number | null
type Line = readonly Cell[]

export interface InformationTable {
  readonly name: string
  readonly columns: readonly string[]
  readonly rows: readonly Line[]
}

/** What is known of the database besides its structure. */
export interface Home {
  readonly name: string
  readonly collation: string
}

const table = (name: string, columns: string, rows: readonly Line[]): InformationTable => ({
  name,
  columns: columns.split(' '),
  rows
})

/** "YES" and "NO". */
const yes = (is: boolean): string => (is ? 'YES' : 'NO')
const charsetOf = (collation: string): string => collation.split('_')[0] ?? collation

export function information(catalog: Catalog, home: Home, dialect: Dialect): InformationTable[] {
  const { tables, views = [], routines = [] } = catalog
  const { name } = home
  const collationOf = ({ options }: Table) => options?.['collation'] ?? home.collation
  const programs = routines.filter(({ form }) => form !== 'event').map((one) => programOf(one, dialect))
  return [
    table('schemata', 'catalog_name schema_name default_character_set_name default_collation_name', [
      ['def', name, charsetOf(home.collation), home.collation]
    ]),
    table(
      'tables',
      'table_catalog table_schema table_name table_type engine table_collation create_options table_comment',
      [
        ...tables.map((one): Line => [
          ...['def', name, one.name, 'BASE TABLE', one.options?.['engine'] ?? 'InnoDB', collationOf(one)],
          createOptions(one),
          one.comment ?? ''
        ]),
        ...views.map((one): Line => ['def', name, one.name, 'VIEW', null, null, null, 'VIEW'])
      ]
    ),
    table(
      'columns',
      'table_schema table_name column_name ordinal_position column_default is_nullable data_type character_set_name collation_name column_type column_key extra column_comment generation_expression',
      tables.flatMap((one) =>
        one.columns.map((column, i): Line => {
          const text = ['text', 'list'].includes(familyOf(column.type)) ? (column.collation ?? collationOf(one)) : null
          return [
            ...[
              name,
              one.name,
              column.name,
              i + 1,
              shownDefault(column, dialect),
              yes(column.nullable),
              column.type.name
            ],
            ...[text === null ? null : charsetOf(text), text, typeText(column.type), keyOf(one, column.name)],
            ...[extraOf(column, dialect), column.comment ?? '', column.generated ?? '']
          ]
        })
      )
    ),
    table(
      'statistics',
      'table_schema table_name non_unique index_schema index_name seq_in_index column_name collation sub_part nullable index_type index_comment is_visible expression',
      tables.flatMap((one) => indexesOf(one).flatMap((index) => statistics(name, one, index)))
    ),
    table(
      'key_column_usage',
      'constraint_schema constraint_name table_schema table_name column_name ordinal_position referenced_table_schema referenced_table_name referenced_column_name',
      tables.flatMap((one) => [
        ...[...(one.primaryKey ? [one.primaryKey] : []), ...one.uniques].flatMap((key) =>
          key.columns.map((column, i): Line => [name, key.name, name, one.name, column, i + 1, null, null, null])
        ),
        ...one.foreignKeys.flatMap((fk) =>
          fk.columns.map((column, i): Line => {
            const { table: parent, columns } = fk.references
            return [name, fk.name, name, one.name, column, i + 1, name, parent, columns[i] ?? null]
          })
        )
      ])
    ),
    table(
      'referential_constraints',
      'constraint_schema constraint_name update_rule delete_rule table_name referenced_table_name',
      tables.flatMap((one) =>
        one.foreignKeys.map((fk): Line => [
          ...[name, fk.name, fk.onUpdate.toUpperCase(), fk.onDelete.toUpperCase(), one.name, fk.references.table]
        ])
      )
    ),
    table(
      'table_constraints',
      'constraint_schema constraint_name table_schema table_name constraint_type enforced',
      tables.flatMap((one) => {
        const of = (names: readonly { readonly name: string }[], type: string): Line[] =>
          names.map((member) => [name, member.name, name, one.name, type, 'YES'])
        return [
          ...of(one.primaryKey ? [one.primaryKey] : [], 'PRIMARY KEY'),
          ...of(one.uniques, 'UNIQUE'),
          ...of(one.foreignKeys, 'FOREIGN KEY'),
          ...of(one.checks, 'CHECK')
        ]
      })
    ),
    table(
      'check_constraints',
      'constraint_schema constraint_name check_clause',
      tables.flatMap((one) => one.checks.map((check): Line => [name, check.name, `(${check.expression})`]))
    ),
    table(
      'views',
      'table_schema table_name view_definition check_option security_type is_updatable',
      views.map(({ name: own, query, columns, options = {} }): Line => [
        ...[name, own, columns ? withColumns(query, columns) : query],
        ...[(options['check'] ?? 'none').toUpperCase(), (options['security'] ?? 'definer').toUpperCase(), 'NO']
      ])
    ),
    table(
      'triggers',
      'trigger_schema trigger_name event_object_table action_timing event_manipulation action_statement sql_mode action_order',
      tables.flatMap((one) =>
        (one.triggers ?? []).map((trigger, i): Line => [
          name,
          trigger.name,
          one.name,
          ...triggerOf(trigger, dialect),
          '',
          i + 1
        ])
      )
    ),
    table(
      'routines',
      'routine_schema specific_name routine_name routine_type dtd_identifier routine_definition is_deterministic sql_data_access security_type routine_comment sql_mode character_set_name collation_name',
      programs.map((one): Line => [
        ...[name, one.name, one.name, one.form.toUpperCase(), one.gives, one.body, yes(one.deterministic), one.access],
        ...[one.security, one.comment, '', null, null]
      ])
    ),
    table(
      'parameters',
      'specific_schema specific_name routine_type parameter_mode parameter_name dtd_identifier ordinal_position character_set_name collation_name',
      programs.flatMap((one) =>
        one.parameters.map(({ mode, name: own, type }, i): Line => [
          ...[
            name,
            one.name,
            one.form.toUpperCase(),
            one.form === 'function' ? null : mode,
            own,
            type,
            i + 1,
            null,
            null
          ]
        ])
      )
    ),
    table(
      'events',
      'event_schema event_name event_type execute_at interval_value interval_field starts ends on_completion status event_comment event_definition sql_mode',
      routines.filter(({ form }) => form === 'event').map((one): Line => [name, one.name, ...eventOf(one, dialect), ''])
    )
  ]
}

/** "TABLES Table": options other than the engine and the collation. */
function createOptions({ options = {}, parted }: Table): string {
  const told = Object.entries(options).filter(([option]) => option !== 'engine' && option !== 'collation')
  return [
    ...told.map(([option, value]) => `${option}=${value}`),
    ...(parted === undefined ? [] : ['partitioned'])
  ].join(' ')
}

const isPlain = (value: string, { write }: Dialect): boolean => {
  const [first, second, ...more] = significant(value, write.lexis)
  const digit = first?.text === '-' || first?.text === '+' ? second : first
  return more.length === 0 && (digit?.kind === 'number' || (first?.kind === 'string' && second === undefined))
}

/** "COLUMNS Table": a value without its quotes. */
function shownDefault({ default: value }: Column, dialect: Dialect): string | null {
  if (value === undefined) return null
  const [first] = significant(value, dialect.write.lexis)
  const said = first && isPlain(value, dialect) ? textOf(first, dialect.write.lexis) : undefined
  return said ?? value
}

function extraOf({ identity, default: value, generated, virtual, options }: Column, dialect: Dialect): string {
  const onUpdate = options?.['on update']
  return [
    identity && 'auto_increment',
    value !== undefined && !isPlain(value, dialect) && 'DEFAULT_GENERATED',
    onUpdate !== undefined && `on update ${onUpdate}`,
    generated !== undefined && (virtual ? 'VIRTUAL GENERATED' : 'STORED GENERATED'),
    options?.['invisible'] !== undefined && 'INVISIBLE'
  ]
    .filter(Boolean)
    .join(' ')
}

function keyOf(one: Table, column: string): string {
  if (one.primaryKey?.columns.includes(column)) return 'PRI'
  if (uniqueOf(one).some(([, parts]) => parts[0]?.column === column)) return 'UNI'
  return one.indexes.some(({ parts }) => parts[0]?.column === column) ? 'MUL' : ''
}

/** All indexes, those of keys among them, and those that foreign keys brought along. */
function indexesOf(one: Table): Index[] {
  const keys = [...(one.primaryKey ? [one.primaryKey] : []), ...one.uniques]
  const begins = (columns: readonly string[], { parts }: Index) => columns.every((name, i) => parts[i]?.column === name)
  const own = [
    ...keys.map(({ name, columns, parts }): Index => ({
      name,
      unique: true,
      parts: columns.map((column, i) => ({ column, descending: false, ...parts?.[i] }))
    })),
    ...one.indexes
  ]
  const brought = one.foreignKeys
    .filter(({ columns }) => !own.some((index) => begins(columns, index)))
    .map(({ name, columns }): Index => ({
      name,
      unique: false,
      parts: columns.map((column) => ({ column, descending: false }))
    }))
  return [...own, ...brought]
}

const statistics = (home: string, one: Table, index: Index): Line[] =>
  index.parts.map((part, i) => [
    ...[
      home,
      one.name,
      index.unique ? 0 : 1,
      home,
      index.name,
      i + 1,
      part.column ?? null,
      part.descending ? 'D' : 'A'
    ],
    part.length ?? null,
    one.columns.find(({ name }) => name === part.column)?.nullable ? 'YES' : '',
    // "CREATE INDEX Statement": what an engine makes of it when nothing is said.
    (index.method ?? (one.options?.['engine'] === 'MEMORY' ? 'hash' : 'btree')).toUpperCase(),
    index.comment ?? '',
    yes(index.options?.['ignored'] === undefined),
    part.expression ?? null
  ])

const withColumns = (query: string, columns: readonly string[]): string =>
  `WITH shown (${columns.map(quote).join(', ')}) AS (${query}) SELECT * FROM shown`
