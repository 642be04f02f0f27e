import {
  findTable,
  usesColumn,
  withProperty,
  type Catalog,
  type Check,
  type Column,
  type ForeignKey,
  type Index,
  type ReferentialAction,
  type Table
} from '../../catalog'
import { NotUnderstood, type Lexis } from '../../sql'
import { PATIENCE, type Dialect, type EngineProfile, type Quoting } from '../dialect'
import { quoted } from '../standard'
import { mariadbAlterer } from './alter'
import { mariadbCarrier } from './carry'
import { mariadbQueries, mysqlQueries } from './introspect'
import { joined } from './joined'
import { inKeys } from './in-keys'
import { keyRoom } from './key-bytes'
import { mariadbMember, mysqlMember, type Member } from './family'
import { partition } from './partitions'
import { inLettersOf } from './letters'
import { listed } from './listed'
import { mariadbDatabase } from './new-database'
import { mariadbOptions, mysqlOptions } from './options'
import { mariadbProfile, mysqlProfile } from './profile'
import { mariadbStructure, readMariadbScript } from './read'
import { inUnicode, withoutUsual } from './recoded'
import { mariadbTypes } from './types'
import { waysOf } from './ways'
import { asShown, ENGINE, ON_UPDATE, PARTITION_BY, usualMethod } from './words'
import { bare, isWithColumn, mariadbWriter } from './write'

export function mariadb(version: string, quoting?: Quoting): Dialect {
  const member = mariadbMember(version)
  return {
    ...ofFamily(quoted(mariadbProfile(version), quoting), member),
    options: mariadbOptions,
    introspect: mariadbQueries
  }
}

export function mysql(version: string, quoting?: Quoting): Dialect {
  const member = mysqlMember(version)
  return {
    ...ofFamily(quoted(mysqlProfile(version), quoting), member),
    options: mysqlOptions(member),
    introspect: mysqlQueries
  }
}

function ofFamily(profile: EngineProfile, member: Member): Omit<Dialect, 'options'> {
  const write = mariadbWriter(profile, member)
  const types = mariadbTypes(member)
  return {
    profile,
    types,
    write,
    alter: mariadbAlterer(write, member),
    carry: mariadbCarrier(write, member),
    joined,
    // "TIMESTAMP", "DATETIME": only what holds a moment can be filled so; the value says as many digits as the column has.
    keepUp: (_, column, value) =>
      /^(timestamp|datetime)$/.test(column.type.name)
        ? { column: { ...column, options: { ...column.options, [ON_UPDATE]: value } } }
        : {},
    readScript: (script) => readMariadbScript(script, member),
    structure: () => mariadbStructure(member),
    asThere: (wanted, live) => withoutUsual(inLettersOf(wanted, live, write), live),
    unicode: (collation) => inUnicode(collation, member.collation),
    newDatabase: mariadbDatabase(write.quote, member),
    inKeys: (table) => inKeys(table, member.collation),
    // "Unique Index": what is too long for a tree MariaDB keeps by a hash.
    keyRoom: (table, parts, kind) =>
      kind === 'unique' && member.id === 'mariadb' ? undefined : keyRoom(table, parts, member.collation),
    whyNoOption: (name, value) => {
      const read = name === PARTITION_BY ? inParts(value) : undefined
      return read && 'why' in read ? read.why : undefined
    },
    // "SQL_MODE": a value that does not fit is refused and not cut, a backslash and a quote mean what our literals take them
    // for, and a 0 stays 0 where numbers are given from then on.
    // "lock_wait_timeout": who waits for a table has all behind him wait, for a day if nobody says otherwise.
    waysOf,
    session: [
      `SET SESSION sql_mode = 'STRICT_ALL_TABLES,ERROR_FOR_DIVISION_BY_ZERO,NO_AUTO_VALUE_ON_ZERO,NO_ENGINE_SUBSTITUTION', SESSION lock_wait_timeout = ${PATIENCE}`
    ],
    settle: (catalog: Catalog) => ({
      ...catalog,
      tables: catalog.tables.map((table) => withinReach(listed(settle(table, catalog, write.lexis), types), member))
    })
  }
}

/** Without what this engine of the family does not keep. */
function withinReach(table: Table, { checks, longDefaults, expressions }: Member): Table {
  if (checks && longDefaults && expressions) return table
  const isLong = ({ type: { name } }: Column) => /^(\w*text|\w*blob|json)$/.test(name)
  return {
    ...table,
    ...(checks ? {} : { checks: [] }),
    columns: table.columns.map((c) => {
      const isKept = (longDefaults || !isLong(c)) && (expressions || bare.test(c.default ?? ''))
      return isKept || c.default === undefined ? c : withProperty<Column>(c, 'default', undefined)
    })
  }
}

/** "Partitioning Limitations": nothing leads to, or from, what is in parts. */
const keepsLinks = (table: Table | undefined): boolean =>
  (table?.options?.[ENGINE] ?? 'InnoDB') === 'InnoDB' && table?.parted === undefined

/** What is nothing of the sort stays what it is, for the server to refuse. */
function partedAs(said: string): string {
  const read = inParts(said)
  return 'parted' in read ? read.parted : said
}

/** How rows are parted, as the server prints it; or why it is nothing of the sort. */
function inParts(said: string): { readonly parted: string } | { readonly why: string } {
  try {
    return { parted: partition(said) }
  } catch (error) {
    if (error instanceof NotUnderstood) return { why: error.message }
    throw error
  }
}

/** What other engines than MEMORY take for hash, they keep as trees. */
const methodIn = ({ options }: Table, { method }: Index): string | undefined =>
  method === usualMethod(options?.[ENGINE]) || (method === 'hash' && options?.[ENGINE] !== 'MEMORY')
    ? undefined
    : method

/**
 * A table as the engine holds it: a primary key is always called PRIMARY; a plain unique index is a unique rule; one
 * number is given a table, to what leads its key; constraints have no comments and are never put off; a value that
 * must be there is never set to nothing.
 */
function settle(table: Table, catalog: Catalog, lexis: Lexis): Table {
  const { primaryKey } = table
  const unique = table.indexes.filter(
    (i) => i.unique && i.comment === undefined && i.parts.every((p) => p.column !== undefined && !p.descending)
  )
  const required = new Set(table.columns.filter((c) => !c.nullable).map((c) => c.name))
  const checked = (column: string) => table.checks.some((check) => usesColumn('check', check, column, lexis))
  const parentOf = ({ references }: ForeignKey) => findTable(catalog, references.schema, references.table)
  const action = (fk: ForeignKey, wanted: ReferentialAction, sets: readonly ReferentialAction[]): ReferentialAction => {
    if (wanted === 'set default') return 'restrict'
    if (wanted === 'set null' && fk.columns.some((c) => required.has(c))) return 'restrict'
    // MDEV-34392: a parent's value that may become nothing cannot be passed on to where one must be.
    const parent = parentOf(fk)
    const mayVanish = (i: number) =>
      required.has(fk.columns[i] ?? '') &&
      parent?.columns.find((c) => c.name === fk.references.columns[i])?.nullable === true
    if (wanted === 'cascade' && sets.includes('cascade') && fk.columns.some((_, i) => mayVanish(i))) return 'restrict'
    // "CONSTRAINT, CHECK": a column that the engine itself changes cannot be checked.
    return sets.includes(wanted) && fk.columns.some(checked) ? 'restrict' : wanted
  }
  const plain = <T extends { readonly comment?: string }>({ comment: _, ...rest }: T) => rest
  return {
    ...table,
    ...(table.parted === undefined ? {} : { parted: partedAs(table.parted) }),
    columns: table.columns.map((column) => {
      const { identity, counting, ...rest } = column
      // What the engine numbers cannot be checked either.
      const leads = primaryKey?.columns[0] === column.name
      const preset = column.default === undefined ? {} : { default: asShown(column.default, column.type) }
      return identity && leads && column.default === undefined && !checked(column.name)
        ? { ...rest, identity: 'by default', ...(counting ? { counting } : {}) }
        : { ...rest, ...preset }
    }),
    ...(primaryKey ? { primaryKey: { ...plain(primaryKey), name: 'PRIMARY' } } : {}),
    uniques: [
      ...table.uniques.map(plain),
      ...unique.map((i) => ({
        name: i.name,
        columns: i.parts.flatMap((p) => p.column ?? []),
        ...(i.parts.some((p) => p.length !== undefined)
          ? { parts: i.parts.map(({ length }) => (length === undefined ? {} : { length })) }
          : {}),
        ...(i.origin ? { origin: i.origin } : {})
      }))
    ],
    indexes: table.indexes
      .filter((i) => !unique.includes(i))
      .map((index) => withProperty<Index>(index, 'method', methodIn(table, index)))
      .map(({ where: _where, include: _include, ...index }) => ({
        ...index,
        parts: index.parts.map(({ nulls: _nulls, ...part }) => part)
      })),
    checks: table.checks.map((check) =>
      isWithColumn(check) && !table.columns.some(({ name }) => name === check.name)
        ? withProperty<Check>(plain(check), 'options', undefined)
        : plain(check)
    ),
    // "Foreign Keys": other engines than InnoDB take them and keep none.
    foreignKeys: table.foreignKeys
      .filter((fk) => keepsLinks(table) && keepsLinks(parentOf(fk)))
      .map((fk) => ({
        ...plain(fk),
        onDelete: action(fk, fk.onDelete, ['set null']),
        onUpdate: action(fk, fk.onUpdate, ['set null', 'cascade']),
        deferrable: 'no'
      }))
  }
}
