// What MySQL refuses of a structure, with its numbers and words ("Server Error Message Reference"). Sections are those of the manual, 8.4.
import type { Column, ForeignKey, Table } from '../../core/catalog'
import { typeText, usesColumn } from '../../core/catalog'
import { Misplaced, type Dialect, type Structure, type Touched } from '../../core/dialects'
import { nameOf, significant, type Token } from '../../core/sql'
import { Refused } from '../refused'
import { uniqueOf } from './rows'
import { familyOf, isUnsigned, plainName } from './values'

/** What may stand behind DEFAULT and is no plain value: what is said of the table's text stands behind its columns. */
const NO_VALUE = new Set(['(', 'null', 'collate', 'character', 'charset'])

/** "Data Type Default Values" (13.6): what is long has an expression for a default, in parentheses, or none. */
export function mustSayLongDefaults(sql: string, { write }: Dialect) {
  let column = ''
  const tokens = significant(sql, write.lexis)
  for (const [i, token] of tokens.entries()) {
    const [word, next] = [token.text.toLowerCase(), tokens[i + 1]?.text.toLowerCase()]
    if (word === ',') column = ''
    // A type stands behind its column's name.
    else if (token.kind === 'word' && LONG.test(word) && i > 0)
      column = nameOf(tokens[i - 1] as Token, write.lexis) ?? ''
    else if (token.kind === 'word' && word === 'default' && column !== '' && !NO_VALUE.has(next ?? ''))
      throw new Refused(`BLOB, TEXT, GEOMETRY or JSON column '${column}' can't have a default value`, 1101)
  }
}

/** What a statement that does not fit is told. */
export function misplaced({ what, about }: Misplaced, sql: string, home: string): Refused {
  switch (what) {
    case 'no table':
      if (/^\s*drop\b/i.test(sql)) return new Refused(`Unknown table '${home}.${about}'`, 1051)
      return new Refused(`Table '${home}.${about}' doesn't exist`, 1146)
    case 'a table':
      return new Refused(`Table '${about}' already exists`, 1050)
    case 'no column':
      return new Refused(`Unknown column '${about}'`, 1054)
    case 'a column':
      return new Refused(`Duplicate column name '${about}'`, 1060)
    case 'an index':
      return new Refused(`Duplicate key name '${about}'`, 1061)
    case 'a primary key':
      return new Refused('Multiple primary key defined', 1068)
    case 'no column of a key':
      return new Refused(`Key column '${about}' doesn't exist in table`, 1072)
    case 'no index':
      return new Refused(`Key '${about}' doesn't exist in table`, 1176)
    case 'nothing to remove':
      return new Refused(`Can't DROP '${about}'; check that column/key exists`, 1091)
    case 'no check':
      return new Refused(`Check constraint '${about}' is not found in the table.`, 3821)
    case 'a program':
      return new Refused(`${about} already exists`, 1304)
    case 'no program':
      return new Refused(`${about} does not exist`, 1305)
  }
}

/** "Data Type Default Values" of 5.7 (11.6): a value, or the moment. */
const PLAIN = /^([-+]?[\d.]+([eE][-+]?\d+)?|[bBxX]?'[\s\S]*'|null|true|false|current_timestamp(\(\d?\))?)$/i
const LONG = /^(tinytext|text|mediumtext|longtext|tinyblob|blob|mediumblob|longblob|json)$/

/** Throws what is wrong with the tables that a statement has left, and with those that lead to them. */
export function mustStand(
  touched: readonly Touched[],
  before: (table: string) => Table | undefined,
  structure: Structure,
  dialect: Dialect
) {
  for (const one of touched) {
    const old = one.was === undefined ? undefined : before(one.was)
    if (!one.now) continue
    if (old) mustBeFree(old, one, dialect)
    mustBeTable(one.now, old !== undefined, structure, dialect)
    if (one.unindexed !== undefined)
      throw new Refused(`Cannot drop index '${one.unindexed}': needed in a foreign key constraint`, 1553)
  }
  for (const { was, now } of touched) if (was !== undefined && !now) mustNotBeLedTo(was, structure)
  for (const { now, was } of touched)
    if (now && was !== undefined)
      for (const table of structure.leadingTo(now.name)) mustLead(table, structure, now.name)
}

/** Expressions do not follow a column that gets another name, or goes. */
function mustBeFree(old: Table, { now, columns }: Touched, { write }: Dialect) {
  const staying = new Map([...columns].map(([is, was]) => [was, is]))
  const others = old.columns.filter(({ name }) => staying.get(name) !== name)
  for (const { name } of others) {
    const check = now?.checks.find(
      (one) => old.checks.some((own) => own.name === one.name) && usesColumn('check', one, name, write.lexis)
    )
    if (check)
      throw new Refused(
        `Check constraint '${check.name}' uses column '${name}', hence column cannot be dropped or renamed.`,
        3959
      )
    const computed = now?.columns.find(
      (one) =>
        one.generated !== undefined &&
        one.name !== name &&
        columns.has(one.name) &&
        usesColumn('column', one, name, write.lexis)
    )
    if (computed) throw new Refused(`Column '${name}' has a generated column dependency.`, 3108)
  }
}

function mustBeTable(table: Table, wasThere: boolean, structure: Structure, dialect: Dialect) {
  const { profile, write } = dialect
  const { limit } = profile.names
  const named = [table, ...table.columns, ...table.uniques, ...table.indexes, ...table.checks, ...table.foreignKeys]
  // "Identifier Length Limits" (11.2.1).
  for (const { name } of named)
    if (limit !== undefined && [...name].length > limit)
      throw new Refused(`Identifier name '${name}' is too long`, 1059)
  if (table.columns.length === 0)
    throw wasThere
      ? new Refused("You can't delete all columns with ALTER TABLE; use DROP TABLE instead", 1090)
      : new Refused('A table must have at least 1 column', 1113)
  const numbered = table.columns.filter(({ identity }) => identity)
  const leads = ({ name }: Column) =>
    [...uniqueOf(table), ...plainOf(table)].some(([, [first]]) => first?.column === name)
  if (numbered.length > 1 || numbered.some((column) => !leads(column)))
    throw new Refused(
      'Incorrect table definition; there can be only one auto column and it must be defined as a key',
      1075
    )
  for (const column of table.columns) mustBeColumn(column, table, dialect)
  mustBeKeys(table, dialect)
  for (const check of table.checks) {
    for (const column of numbered)
      if (usesColumn('check', check, column.name, write.lexis))
        throw new Refused(`Check constraint '${check.name}' cannot refer to an auto-increment column.`, 3818)
    // "CHECK Constraints" (15.1.20.6).
    for (const fk of table.foreignKeys) {
      const acts = [fk.onDelete, fk.onUpdate].some((action) => ['cascade', 'set null', 'set default'].includes(action))
      const changes = fk.onDelete === 'set null' || ['cascade', 'set null'].includes(fk.onUpdate)
      const used = fk.columns.find((name) => usesColumn('check', check, name, write.lexis))
      if (acts && changes && used !== undefined)
        throw new Refused(
          `Column '${used}' cannot be used in a check constraint '${check.name}': needed in a foreign key constraint '${fk.name}' referential action.`,
          3823
        )
    }
  }
  mustLead(table, structure)
}

const plainOf = ({ indexes }: Table) =>
  indexes
    .filter(({ unique }) => !unique)
    .map(
      ({ name, parts }) =>
        [name, parts.flatMap(({ column, length }) => (column === undefined ? [] : [{ column, length }]))] as const
    )

function mustBeColumn(column: Column, { primaryKey, options }: Table, dialect: Dialect) {
  const { name, type } = column
  if (dialect.profile.version === '5.7' && column.default !== undefined && !PLAIN.test(column.default))
    throw new Refused(`Invalid default value for '${name}'`, 1067)
  if (type.name === 'json' && primaryKey?.columns.includes(name))
    throw new Refused(
      `JSON column '${name}' supports indexing only via generated columns on a specified JSON path.`,
      3152
    )
  if (type.name === 'decimal') {
    const [precision = 10, scale = 0] = (type.args ?? []).map(Number)
    if (precision > 65)
      throw new Refused(`Too big precision ${precision} specified for column '${name}'. Maximum is 65.`, 1426)
    if (scale > 30) throw new Refused(`Too big scale ${scale} specified for column '${name}'. Maximum is 30.`, 1425)
    if (scale > precision)
      throw new Refused(`For float(M,D), double(M,D) or decimal(M,D), M must be >= D (column '${name}').`, 1427)
  }
  const most = Math.floor(65_535 / bytesOf(column.collation ?? options?.['collation']))
  if (type.name === 'varchar' && Number(type.args?.[0] ?? 0) > most)
    throw new Refused(`Column length too big for column '${name}' (max = ${most}); use BLOB or TEXT instead`, 1074)
  const known =
    /^(tinyint|smallint|mediumint|int|bigint|decimal|float|double|bit|year|char|varchar|tinytext|text|mediumtext|longtext|binary|varbinary|tinyblob|blob|mediumblob|longblob|enum|set|date|time|datetime|timestamp|json)$/
  if (!known.test(plainName(type)))
    throw new Refused(`This stand-in keeps no ${dialect.write.type(type)} (column '${name}')`, 1064)
}

/** "Supported Character Sets and Collations" (12.10): the most bytes of a character. */
const bytesOf = (collation = 'utf8mb4'): number =>
  /^(utf8mb4|utf16|utf32)/.test(collation)
    ? 4
    : /^(utf8|utf8mb3|eucjpms|ujis)/.test(collation)
      ? 3
      : /^(ucs2|sjis|cp932|big5|gbk)/.test(collation)
        ? 2
        : 1

function mustBeKeys(table: Table, dialect: Dialect) {
  const bare = new Map(table.columns.map((column) => [column.name, column]))
  const all: readonly (readonly [
    string,
    readonly { readonly column: string; readonly length?: number | undefined }[],
    string?
  ])[] = [
    ...uniqueOf(table),
    ...table.indexes
      .filter(({ unique }) => !unique)
      .map(
        ({ name, parts, method }) =>
          [
            name,
            parts.flatMap(({ column, length }) => (column === undefined ? [] : [{ column, length }])),
            method
          ] as const
      )
  ]
  for (const [, parts, method] of all)
    for (const { column, length } of parts) {
      const own = bare.get(column)
      if (!own) throw new Refused(`Key column '${column}' doesn't exist in table`, 1072)
      if (own.type.name === 'json')
        throw new Refused(
          `JSON column '${column}' supports indexing only via generated columns on a specified JSON path.`,
          3152
        )
      if (LONG.test(own.type.name) && length === undefined && method !== 'fulltext' && method !== 'spatial')
        throw new Refused(`BLOB/TEXT column '${column}' used in key specification without a key length`, 1170)
    }
  const room = dialect.keyRoom
  if (!room) return
  const kinds = [
    ...(table.primaryKey
      ? [
          [
            'primaryKey',
            table.primaryKey.columns.map((column, i) => ({
              column,
              descending: false,
              ...table.primaryKey?.parts?.[i]
            }))
          ] as const
        ]
      : []),
    ...table.uniques.map(
      ({ columns, parts }) =>
        ['unique', columns.map((column, i) => ({ column, descending: false, ...parts?.[i] }))] as const
    ),
    ...table.indexes
      .filter(({ method }) => method === undefined || method === 'btree')
      .map(({ parts }) => ['index', parts] as const)
  ]
  for (const [kind, parts] of kinds) {
    const found = room(table, parts, kind)
    if (found && (found.bytes > found.most || found.widest > found.mostOfOne))
      throw new Refused(
        `Specified key was too long; max key length is ${found.bytes > found.most ? found.most : found.mostOfOne} bytes`,
        1071
      )
  }
}

/** "FOREIGN KEY Constraints" (15.1.20.5): those of a table, or only those that lead to one. */
function mustLead(table: Table, structure: Structure, to?: string) {
  for (const fk of table.foreignKeys) {
    if (to !== undefined && fk.references.table.toLowerCase() !== to.toLowerCase()) continue
    const parent =
      fk.references.table.toLowerCase() === table.name.toLowerCase() ? table : structure.table(fk.references.table)
    if (!parent) throw new Refused(`Failed to open the referenced table '${fk.references.table}'`, 1824)
    mustFit(fk, table, parent, to !== undefined)
  }
}

function mustFit(fk: ForeignKey, table: Table, parent: Table, isFromParent: boolean) {
  fk.columns.forEach((name, i) => {
    const own = table.columns.find((column) => column.name.toLowerCase() === name.toLowerCase())
    const key = parent.columns.find(
      (column) => column.name.toLowerCase() === (fk.references.columns[i] ?? '').toLowerCase()
    )
    if (!own && !isFromParent)
      throw new Refused(`Cannot drop column '${name}': needed in a foreign key constraint '${fk.name}'`, 1828)
    if (!key) {
      if (isFromParent)
        throw new Refused(
          `Cannot drop column '${fk.references.columns[i] ?? ''}': needed in a foreign key constraint '${fk.name}' of table '${table.name}'`,
          1829
        )
      throw new Refused(
        `Failed to add the foreign key constraint. Missing column '${fk.references.columns[i] ?? ''}' for constraint '${fk.name}' in the referenced table '${parent.name}'`,
        3734
      )
    }
    if (own && !alike(own, key))
      throw new Refused(
        `Referencing column '${name}' and referenced column '${key.name}' in foreign key constraint '${fk.name}' are incompatible.`,
        3780
      )
    if (own && !own.nullable && [fk.onDelete, fk.onUpdate].includes('set null'))
      throw new Refused(
        `Column '${name}' cannot be NOT NULL: needed in a foreign key constraint '${fk.name}' SET NULL`,
        1830
      )
    if (
      own?.generated !== undefined &&
      (own.virtual || ['set null', 'cascade'].includes(fk.onUpdate) || fk.onDelete === 'set null')
    )
      throw new Refused(
        `Cannot define foreign key with ${fk.onUpdate.toUpperCase()} clause on a generated column.`,
        3104
      )
  })
  const isKey = (parts: readonly { readonly column: string; readonly length?: number | undefined }[]) =>
    parts.length === fk.references.columns.length &&
    fk.references.columns.every(
      (name, i) => parts[i]?.column.toLowerCase() === name.toLowerCase() && parts[i]?.length === undefined
    )
  // “restrict_fk_on_non_standard_key”: a key that lets nothing stand twice, as it is unless somebody sets it otherwise.
  if (!uniqueOf(parent).some(([, parts]) => isKey(parts))) {
    const begins = plainOf(parent).some(([, parts]) =>
      fk.references.columns.every((name, i) => parts[i]?.column.toLowerCase() === name.toLowerCase())
    )
    throw new Refused(
      begins
        ? `Failed to add the foreign key constraint. Missing unique key for constraint '${fk.name}' in the referenced table '${parent.name}'`
        : `Failed to add the foreign key constraint. Missing index for constraint '${fk.name}' in the referenced table '${parent.name}'`,
      begins ? 6125 : 1822
    )
  }
}

/** Of one size and sign; texts of one character set and collation, of any length. */
function alike(a: Column, b: Column): boolean {
  const [first, second] = [familyOf(a.type), familyOf(b.type)]
  if (first !== second) return false
  if (first === 'text')
    return (a.collation ?? '') === (b.collation ?? '') && LONG.test(a.type.name) === LONG.test(b.type.name)
  if (first === 'bytes') return true
  if (first === 'whole') return plainName(a.type) === plainName(b.type) && isUnsigned(a.type) === isUnsigned(b.type)
  return typeText(a.type) === typeText(b.type)
}

function mustNotBeLedTo(name: string, structure: Structure) {
  const [from] = structure.leadingTo(name)
  const fk = from?.foreignKeys.find(({ references }) => references.table.toLowerCase() === name.toLowerCase())
  if (from && fk && !structure.table(name))
    throw new Refused(
      `Cannot drop table '${name}' referenced by a foreign key constraint '${fk.name}' on table '${from.name}'.`,
      3730
    )
}
