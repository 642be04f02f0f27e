// Random catalogues for the laws: small, crossed with keys of every kind, with names that need care.
import fc from 'fast-check'
import {
  readType,
  typeText,
  MEMBER_KINDS,
  applied,
  memberAddress,
  members,
  tableAddress,
  namesOf,
  type Address,
  type Catalog,
  type Change,
  type Check,
  type Column,
  type ForeignKey,
  type Index,
  type Key,
  type Table
} from '../../src/lib/core/catalog'
import type { Dialect } from '../../src/lib/core/dialects'
import { shorten } from '../../src/lib/core/naming'

const tableNames = [
  'vessel',
  'berth',
  'visit',
  'order',
  'Cargo line',
  'pilot',
  'désc',
  'LIGHTS',
  'tariff_of_the_inner_harbour_and_the_outer_roads_with_all_its_parts'
]
const columnNames = [
  'id',
  'name',
  'desc',
  'DEPTH',
  'mixedCase',
  'imo',
  'weight',
  'Arrives At',
  'quote"d',
  'code',
  'état'
]

interface Kind {
  readonly type: string
  readonly defaults: readonly string[]
  readonly checks: readonly string[]
  readonly values: readonly string[]
  /** It can be numbered by the engine. */
  readonly numbers?: boolean
}

/** What most engines have alike; each says below what it calls it, and what it has otherwise. */
const integer: Kind = {
  type: 'integer',
  defaults: ['0', '-5', '42'],
  checks: ['$ > 0', '$ BETWEEN 1 AND 99', '$ <> -1 OR $ IS NULL'],
  values: ['1', '7', '70000', '-3']
}
const smallint: Kind = {
  type: 'smallint',
  defaults: ['1'],
  checks: ['$ >= 0'],
  values: ['1', '2', '300']
}
const bigint: Kind = {
  type: 'bigint',
  defaults: ['9000000000'],
  checks: ['$ IN (1, 2, 9000000000)', '$ % 2 = 0'],
  values: ['1', '2', '9000000000']
}
const amount: Kind = {
  type: 'numeric(8,2)',
  defaults: ['0', '1.5'],
  checks: ['$ >= 0', '$ < 999.5 AND NOT ($ = 13)'],
  values: ['1', '12.25', '999999.99']
}
const measure: Kind = {
  type: 'numeric(12,4)',
  defaults: ['0.25'],
  checks: ['$ > -1.5'],
  values: ['1.0001', '2', '12345678.4321']
}
const double: Kind = {
  type: 'double precision',
  defaults: ['1.5'],
  checks: ['$ > 0'],
  values: ['1.5', '2.25', '100000']
}
const words: Kind = {
  type: 'varchar(20)',
  defaults: ["'in port'", "'it''s'"],
  checks: ["$ IN ('a', 'bb', 'in port')", "$ LIKE 'a%'", 'lower($) = $'],
  values: ["'a'", "'bb'", "'12'", "'a longer text'"]
}
const word: Kind = {
  type: 'varchar(6)',
  defaults: ["''"],
  checks: ["$ <> ''"],
  values: ["'a'", "'12'", "'sixsix'"]
}
const flag: Kind = {
  type: 'char(2)',
  defaults: ["'NL'"],
  checks: ["$ <> 'XX'"],
  values: ["'NL'", "'GB'"]
}

/** Types of each engine, each with expressions that may be its default and conditions that may be its check (`$` is the column). */
const postgresKinds: readonly Kind[] = [
  integer,
  smallint,
  bigint,
  amount,
  measure,
  double,
  words,
  word,
  {
    type: 'text',
    defaults: ["'none'"],
    checks: ["$ IN ('a')", 'char_length($) > 0', "$ || 'x' <> 'x'"],
    values: ["'a'", "'12'", "'2024-02-29'", "'any text at all'"]
  },
  flag,
  {
    type: 'boolean',
    defaults: ['true', 'false'],
    checks: ['$ IS NOT NULL', 'NOT $ OR $ IS TRUE'],
    values: ['true', 'false']
  },
  {
    type: 'date',
    defaults: ["'2020-01-31'", 'CURRENT_DATE'],
    checks: ["$ > '2000-01-01'"],
    values: ["'2024-02-29'", "'1999-12-31'"]
  },
  {
    type: 'timestamp',
    defaults: ['CURRENT_TIMESTAMP', 'now()'],
    checks: ["$ >= '2000-01-01 00:00:00'"],
    values: ["'2024-02-29 12:30:00'", "'2001-01-01 00:00:00.5'"]
  },
  {
    type: 'timestamptz',
    defaults: ['now()'],
    checks: ["$ IS DISTINCT FROM '2000-01-01 00:00:00+00'"],
    values: ["'2024-02-29 12:30:00+00'"]
  },
  {
    type: 'uuid',
    defaults: ['gen_random_uuid()'],
    checks: ['$ IS NOT NULL'],
    values: ["'00000000-0000-4000-8000-000000000001'", "'00000000-0000-4000-8000-000000000002'"]
  }
]

const sqliteKinds: readonly Kind[] = [
  { ...integer, numbers: true },
  { ...amount, values: ['1', '12.25'] },
  { ...double, type: 'real', values: ['1.5', '2.25', '100000.5'] },
  { ...words, defaults: ["'in port'", "'it''s'", "'a, b) c'"] },
  {
    type: 'text',
    defaults: ["'none'", "'a' || 'b'"],
    checks: ["$ IN ('a')", 'length($) > 0', "$ || 'x' <> 'x'", "$ NOT IN ('(', ',')"],
    values: ["'a'", "'12'", "'2024-02-29'", "'any text at all'"]
  },
  flag,
  { type: 'boolean', defaults: ['1', '0'], checks: ['$ IS NOT NULL', '$ IN (0, 1)'], values: ['1', '0'] },
  { type: 'date', defaults: ["'2020-01-31'", 'CURRENT_DATE'], checks: ["$ > '2000-01-01'"], values: ["'2024-02-29'"] },
  {
    type: 'timestamp',
    defaults: ['CURRENT_TIMESTAMP', "datetime('now')"],
    checks: ["$ >= '2000-01-01 00:00:00'"],
    values: ["'2024-02-29 12:30:00'"]
  },
  { type: 'blob', defaults: ["x'00ff'"], checks: ['length($) < 100'], values: ["x'0102'", "x''"] }
]

const mariadbKinds: readonly Kind[] = [
  { ...integer, type: 'int', numbers: true },
  { ...smallint, numbers: true },
  { ...bigint, numbers: true },
  { ...amount, type: 'decimal(8,2)' },
  { ...measure, type: 'decimal(12,4)' },
  { ...double, type: 'double' },
  { ...words, defaults: ["'in port'", "'it''s'", "'back\\\\slash'"] },
  word,
  flag,
  { type: 'tinyint(1)', defaults: ['1', '0'], checks: ['$ IS NOT NULL', '$ IN (0, 1)'], values: ['1', '0'] },
  {
    type: 'date',
    defaults: ["'2020-01-31'", 'curdate()'],
    checks: ["$ > '2000-01-01'"],
    values: ["'2024-02-29'", "'1999-12-31'"]
  },
  {
    type: 'datetime(6)',
    defaults: ['current_timestamp(6)', 'CURRENT_TIMESTAMP(6)'],
    checks: ["$ >= '2000-01-01 00:00:00'"],
    values: ["'2024-02-29 12:30:00'", "'2001-01-01 00:00:00.5'"]
  },
  {
    type: 'uuid',
    defaults: ['uuid()'],
    checks: ['$ IS NOT NULL'],
    values: ["'00000000-0000-4000-8000-000000000001'", "'00000000-0000-4000-8000-000000000002'"]
  }
]

const firebirdKinds: readonly Kind[] = [
  integer,
  smallint,
  { ...bigint, checks: ['$ IN (1, 2, 9000000000)', 'mod($, 2) = 0'] },
  amount,
  measure,
  { type: 'decimal(4,1)', defaults: ['0.2'], checks: ['$ > -1.5'], values: ['1.1', '2', '123.4'] },
  double,
  words,
  word,
  flag,
  {
    type: 'boolean',
    defaults: ['true', 'false'],
    checks: ['$ IS NOT NULL', 'NOT $ OR $ IS TRUE'],
    values: ['true', 'false']
  },
  {
    type: 'date',
    defaults: ["'2020-01-31'", 'CURRENT_DATE'],
    checks: ["$ > '2000-01-01'"],
    values: ["'2024-02-29'", "'1999-12-31'"]
  },
  {
    type: 'timestamp',
    defaults: ['CURRENT_TIMESTAMP'],
    checks: ["$ >= '2000-01-01 00:00:00'"],
    values: ["'2024-02-29 12:30:00'", "'2001-01-01 00:00:00.5'"]
  },
  {
    type: 'char(16) character set octets',
    defaults: ["x'00000000000040008000000000000001'"],
    checks: ['$ IS NOT NULL'],
    values: ["x'00000000000040008000000000000001'", "x'00000000000040008000000000000002'"]
  }
]

const testingKinds: readonly Kind[] = [
  { ...integer, type: 'COUNT4' },
  { ...smallint, type: 'COUNT2' },
  { ...bigint, type: 'COUNT8' },
  { ...amount, type: 'SUM<8:2>' },
  { ...words, type: 'WORD<20>' },
  { ...word, type: 'WORD<6>' },
  { ...flag, type: 'CODE<2>' },
  { type: 'FLAG', defaults: ['TRUE'], checks: ['$ IS NOT NULL'], values: ['TRUE'] }
]

const kinds: Readonly<Record<string, readonly Kind[]>> = {
  testing: testingKinds,
  sqlite: sqliteKinds,
  mariadb: mariadbKinds,
  // It has no uuid.
  mysql: mariadbKinds.filter(({ type }) => type !== 'uuid'),
  firebird: firebirdKinds
}
const isOfFamily = (engine: string) => engine === 'mariadb' || engine === 'mysql'
const kindsOf = (dialect: Dialect) => kinds[dialect.profile.id] ?? postgresKinds

/** Values that a column of a type can hold, for inserting rows. */
export const valuesOf = (dialect: Dialect, type: string): readonly string[] =>
  kindsOf(dialect).find((t) => t.type === type)?.values ?? ['NULL']

const pick = <T>(list: readonly T[], n: number): T => list[n % list.length] as T

interface Seeds {
  readonly tables: readonly {
    readonly columns: readonly { type: number; nullable: boolean; extra: number; comment: boolean }[]
    readonly names: readonly number[]
    readonly key: number
    readonly unique: number
    readonly check: number
    readonly index: number
    readonly fk: number
    readonly comment: boolean
    readonly schema: boolean
  }[]
  readonly names: readonly number[]
}

const byte = fc.nat(255)
const seeds: fc.Arbitrary<Seeds> = fc.record({
  names: fc.shuffledSubarray([...tableNames.keys()], { minLength: 5, maxLength: 5 }),
  tables: fc.array(
    fc.record({
      columns: fc.array(fc.record({ type: byte, nullable: fc.boolean(), extra: byte, comment: fc.boolean() }), {
        minLength: 1,
        maxLength: 6
      }),
      names: fc.shuffledSubarray([...columnNames.keys()], { minLength: 6, maxLength: 6 }),
      key: byte,
      unique: byte,
      check: byte,
      index: byte,
      fk: byte,
      comment: fc.boolean(),
      schema: fc.boolean()
    }),
    { minLength: 1, maxLength: 5 }
  )
})

/** Catalogues that a dialect's engine can hold. */
export const catalogs = (dialect: Dialect): fc.Arbitrary<Catalog> => seeds.map((seed) => build(seed, dialect))

function build(seed: Seeds, dialect: Dialect): Catalog {
  const types = kindsOf(dialect)
  const { profile, write } = dialect
  const name = (text: string) =>
    shorten(profile.names.fold === 'upper' ? text.toUpperCase() : text, profile.names.limit, profile.names.unit)
  const tables = seed.tables.map((s, t): Table => {
    const tableName = name(pick(tableNames, seed.names[t] ?? t))
    const columns = s.columns.map((c, i): Column => {
      const kind = pick(types, c.type)
      const numbered = /^(integer|bigint|smallint|int|COUNT[248])$/.test(kind.type) && c.extra % 5 === 0
      return {
        name: name(pick(columnNames, s.names[i] ?? i)),
        type: readType(kind.type),
        nullable: numbered ? false : c.nullable,
        ...(numbered ? { identity: c.extra % 2 ? ('always' as const) : ('by default' as const) } : {}),
        ...(!numbered && c.extra % 3 === 0 ? { default: pick(kind.defaults, c.extra) } : {}),
        ...(c.comment && profile.features.comments ? { comment: `It's column ${i}` } : {})
      }
    })
    const some = (n: number) =>
      [...new Set([n % columns.length, (n >> 2) % columns.length])].map((i) => pick(columns, i))
    const keyColumns = s.key % 4 === 0 ? [] : some(s.key)
    const primaryKey: Key | undefined = keyColumns.length
      ? { name: name(`pk_${tableName}`), columns: keyColumns.map((c) => c.name) }
      : undefined
    const uniques: Key[] =
      s.unique % 3 === 0 ? [{ name: name(`uq_${tableName}`), columns: some(s.unique).map((c) => c.name) }] : []
    const checked = pick(columns, s.check)
    const checks: Check[] =
      s.check % 2 === 0
        ? [
            {
              name: name(`ck_${tableName}`),
              expression: pick(
                types.find((x) => x.type === typeText(checked.type))?.checks ?? [],
                s.check >> 3
              ).replaceAll('$', () => write.quote(checked.name))
            }
          ]
        : []
    const indexes: Index[] =
      s.index % 2 === 0
        ? [
            {
              name: name(`ix_${tableName}`),
              unique: s.index % 8 === 0,
              parts: some(s.index >> 1).map((c, i) => ({ column: c.name, descending: (s.index >> i) % 3 === 0 })),
              ...indexExtras(columns, s.index, dialect),
              ...(s.index % 5 === 0 ? { where: `${write.quote(checked.name)} IS NOT NULL` } : {}),
              ...(s.comment && profile.features.comments ? { comment: 'for the harbour board' } : {})
            }
          ]
        : []
    const computed = computedColumn(columns, s.unique, name, dialect)
    return {
      schema: s.schema && s.key % 7 === 0 && profile.features.schemas ? 'quay' : profile.defaultSchema,
      name: tableName,
      ...(s.comment && profile.features.comments ? { comment: 'a table' } : {}),
      columns: [...columns.map((c) => (keyColumns.includes(c) ? { ...c, nullable: false } : c)), ...computed],
      ...(primaryKey ? { primaryKey } : {}),
      uniques,
      checks,
      indexes,
      foreignKeys: []
    }
  })
  const fitting = tables.map((table) => fit(table, dialect))
  const made = {
    engine: profile.id,
    defaultSchema: profile.defaultSchema,
    // Like what a design says: nothing of rights, owners and the engine's own options.
    partial: true as const,
    unread: [],
    tables: fitting.map((table, t) => withForeignKey(table, fitting, seed.tables[t]?.fk ?? 0, name, dialect))
  }
  return dialect.settle?.(made) ?? made
}

const isWord = (column: Column) => /char|WORD/i.test(column.type.name) && column.type.more !== 'character set octets'

/** Now and then a column that is worked out from another, stored or not. */
function computedColumn(
  columns: readonly Column[],
  seed: number,
  name: (text: string) => string,
  { profile, write }: Dialect
): Column[] {
  // How long a CHAR is when it is read depends on the session in MariaDB: it may not be worked out from.
  const from = columns.find((c) => isWord(c) && !(isOfFamily(profile.id) && c.type.name === 'char'))
  if (!from || seed % 5 !== 0) return []
  // Firebird stores none; PostgreSQL stores all of them up to version 17.
  const choice = profile.id !== 'firebird' && !(profile.id === 'postgres' && Number(profile.version) < 18)
  return [
    {
      name: name('worked out'),
      type: readType(typeText(from.type).replace(/\d+/, '20')),
      nullable: true,
      generated: `upper(${write.quote(from.name)})`,
      ...(choice && seed % 2 === 0 ? { virtual: true as const } : {})
    }
  ]
}

/** What some engines have in an index besides columns: expressions, methods, columns that are only carried. */
function indexExtras(columns: readonly Column[], seed: number, { profile, write }: Dialect): Partial<Index> {
  const word = columns.find(isWord)
  const expressions = ['postgres', 'sqlite', 'firebird'].includes(profile.id)
  if (word && expressions && seed % 14 === 0)
    return { unique: false, parts: [{ expression: `lower(${write.quote(word.name)})`, descending: false }] }
  if (profile.id !== 'postgres') return {}
  const [first] = columns
  if (first && seed % 22 === 0)
    return { unique: false, method: 'hash', parts: [{ column: first.name, descending: false }] }
  const carried = columns.at(-1)
  return carried && seed % 10 === 0 ? { include: [carried.name] } : {}
}

/** Rows are numbered only where the engine can: SQLite the key's one column. */
function fit(table: Table, dialect: Dialect): Table {
  const { identities } = dialect.profile.features
  const key = table.primaryKey?.columns
  return {
    ...table,
    columns: table.columns.map((column) => {
      if (!column.identity) return column
      const may = dialect.profile.id !== 'sqlite' || (key?.length === 1 && key[0] === column.name)
      const { identity, ...rest } = column
      return may ? { ...rest, identity: identities.includes(identity) ? identity : 'by default' } : rest
    })
  }
}

const actions = ['restrict', 'cascade', 'no action', 'set null'] as const

function withForeignKey(
  table: Table,
  tables: readonly Table[],
  seed: number,
  name: (text: string) => string,
  { profile, write }: Dialect
): Table {
  // MariaDB lets no foreign key write a column that another is worked out from: "Generated Columns" of its documentation.
  const source = (column: string) =>
    isOfFamily(profile.id) && table.columns.some(({ generated }) => generated?.includes(write.quote(column)))
  const parent = pick(tables, seed)
  const key = seed % 2 ? parent.primaryKey : (parent.uniques[0] ?? parent.primaryKey)
  if (!key) return table
  const used = new Set<string>()
  const columns = key.columns.map((column) => {
    const type = parent.columns.find((c) => c.name === column)?.type
    // None on a column that is worked out: "Generated Columns" of PostgreSQL's manual, 5.4, bars it, or what it does then.
    const own = table.columns.find(
      (c) =>
        type !== undefined &&
        typeText(c.type) === typeText(type) &&
        c.generated === undefined &&
        !used.has(c.name) &&
        !source(c.name)
    )
    if (own) used.add(own.name)
    return own?.name
  })
  if (columns.some((column) => column === undefined)) return table
  const fk: ForeignKey = {
    name: name(`fk_${table.name}`),
    columns: columns.map(String),
    references: { schema: parent.schema, table: parent.name, columns: key.columns },
    onDelete: pick(actions, seed >> 3),
    onUpdate: seed % 3 ? 'no action' : 'cascade',
    deferrable: seed % 11 === 0 ? 'initially deferred' : 'no'
  }
  return { ...table, foreignKeys: [fk] }
}

/** Gives each object an identity. */
export function withOrigins(catalog: Catalog): Catalog {
  return { ...catalog, tables: catalog.tables.map((table, t) => identified(table, `t${t}`, (c) => c)) }
}

/**
 * Gives the objects of one catalogue the identities of another's at random, so that they are renames of them:
 * chains and swaps of names among them.
 */
export function asRenamed(catalog: Catalog, agreed: Catalog, shift: number): Catalog {
  return {
    ...catalog,
    tables: catalog.tables.map((table, t) => {
      const from = (t + shift) % Math.max(agreed.tables.length, catalog.tables.length)
      const columns = Math.max(table.columns.length, agreed.tables[from]?.columns.length ?? 1)
      return identified(table, `t${from}`, (c) => (c + shift) % columns)
    })
  }
}

/** The same catalogue with letters of its names made large, as a pattern has it: for what the engine does not tell apart. */
export function inOtherCase(catalog: Catalog, large: readonly boolean[], dialect: Dialect): Catalog {
  const other = (name: string) =>
    name.replace(/[a-z]/g, (letter, i: number) =>
      large[(i + name.length) % large.length] ? letter.toUpperCase() : letter
    )
  const rename = (address: Address): Change => ({ action: 'rename', address, to: other(namesOf(address).name) })
  const renames = catalog.tables.flatMap((table) => [
    ...(dialect.profile.names.caseless === 'all' ? [rename(tableAddress(table))] : []),
    ...MEMBER_KINDS.flatMap((kind) =>
      (members(table, kind) as readonly { name: string }[]).map((member) => rename(memberAddress(table, kind, member)))
    )
  ])
  return applied(renames, catalog, dialect.write)
}

function identified(table: Table, id: string, column: (c: number) => number): Table {
  const mark = <T extends object>(part: string, list: readonly T[]) =>
    list.map((object, n) => ({ ...object, origin: { id: `${id}${part}${n}`, part } }))
  const { primaryKey } = table
  return {
    ...table,
    origin: { id, part: 'table' },
    columns: table.columns.map((c, n) => ({ ...c, origin: { id: `${id}c${column(n)}`, part: 'column' } })),
    ...(primaryKey ? { primaryKey: { ...primaryKey, origin: { id, part: 'pk' } } } : {}),
    uniques: mark('unique', table.uniques),
    foreignKeys: mark('fk', table.foreignKeys),
    checks: mark('check', table.checks),
    indexes: mark('index', table.indexes)
  }
}
