// MariaDB's way to write catalogue objects: CREATE TABLE and ALTER TABLE of its documentation. A column is always restated
// whole; comments stand in what they are about; a backslash in text is written twice.
import type { Check, Column, Key, Table } from '../../catalog'
import type { DefaultValue, EngineProfile, Writer } from '../dialect'
import { standardWriter } from '../standard'
import type { Member } from './family'
import { hasBody } from './programs'
import { tableOptions } from './options'
import { isText, literal, ON_UPDATE, WITH_COLUMN } from './words'

/** A default that stands without parentheses. */
export const bare =
  /^([+-]?\d+(\.\d+)?([eE][+-]?\d+)?|'([^'\\]|''|\\.)*'|null|true|false|current_timestamp(\(\d?\))?)$/i

export interface MariadbWriter extends Writer {
  /** All that is said of a column. */
  column(column: Column): string
  /** With the check that is said with it. */
  checkedColumn(table: Pick<Table, 'checks'>, column: Column): string
}

const isWorkedOut = ({ kind }: DefaultValue) => kind === 'now' || kind === 'user' || kind === 'new uuid'

export const isWithColumn = ({ options }: Check): boolean => options?.[WITH_COLUMN] !== undefined

export function mariadbWriter(profile: EngineProfile, member: Member): MariadbWriter {
  const standard = standardWriter(profile, {
    text: literal,
    keyColumns: (key) => (key.parts ? `(${keyParts(key)})` : undefined)
  })
  const { quote } = standard
  const of = (t: Table) => quote(t.name)
  /** Of a column whose values may be long, a key has only the beginning. */
  const keyParts = ({ columns, parts }: Key) =>
    columns.map((name, i) => quote(name) + (parts?.[i]?.length === undefined ? '' : `(${parts[i].length})`)).join(', ')
  const isLong = ({ type: { name } }: Column) =>
    member.longDefaults === 'expression' && /^(\w*text|\w*blob|json)$/.test(name)
  const column = (c: Column): string =>
    [
      quote(c.name),
      standard.type(c.type),
      c.collation !== undefined && isText(c.type) && `COLLATE ${c.collation}`,
      c.generated !== undefined && `GENERATED ALWAYS AS (${c.generated}) ${c.virtual ? 'VIRTUAL' : 'STORED'}`,
      // A timestamp that may be empty must say so.
      c.generated === undefined && (c.nullable ? 'NULL' : 'NOT NULL'),
      c.default !== undefined && `DEFAULT ${bare.test(c.default) && !isLong(c) ? c.default : `(${c.default})`}`,
      c.options?.[ON_UPDATE] !== undefined && `ON UPDATE ${c.options[ON_UPDATE]}`,
      c.options?.['invisible'] !== undefined && member.invisibleColumns && 'INVISIBLE',
      c.identity && 'AUTO_INCREMENT',
      c.comment !== undefined && `COMMENT ${literal(c.comment)}`
    ]
      .filter((part) => part)
      .join(' ')
  const checkedColumn: MariadbWriter['checkedColumn'] = ({ checks }, c) => {
    const own = checks.find((check) => isWithColumn(check) && check.name === c.name)
    return own ? `${column(c)} CHECK (${own.expression})` : column(c)
  }
  const foreignKey: Writer['constraint'] = (constraint) => {
    if (constraint.kind !== 'foreignKey') return standard.constraint(constraint)
    const { onDelete, onUpdate } = constraint.value
    // What is not said is RESTRICT.
    const plain = standard.constraint({
      kind: 'foreignKey',
      value: { ...constraint.value, onDelete: 'no action', onUpdate: 'no action', deferrable: 'no' }
    })
    return `${plain} ON DELETE ${onDelete.toUpperCase()} ON UPDATE ${onUpdate.toUpperCase()}`
  }
  /** "FULLTEXT", "SPATIAL": kinds of their own, where others are methods. */
  const createIndex: Writer['createIndex'] = (t, index) => {
    const { method, ...rest } = index
    const plain = standard.createIndex(t, rest)
    if (method === undefined) return plain
    return method === 'fulltext' || method === 'spatial'
      ? plain.replace(/^CREATE INDEX/, `CREATE ${method.toUpperCase()} INDEX`)
      : `${plain} USING ${method.toUpperCase()}`
  }
  return {
    ...standard,
    // "Delimiters in the mariadb Client": what has semicolons within is ended by something else.
    inScript: (sql) => (hasBody(sql) ? `DELIMITER $$\n\n${sql} $$\n\nDELIMITER ;` : `${sql};`),
    first: (query, rows) => `${query} LIMIT ${rows}`,
    column,
    checkedColumn,
    constraint: foreignKey,
    value: (value, type) => {
      if (value.kind === 'boolean') return value.value ? '1' : '0'
      // “Data Type Default Values”: of what is worked out, the moment alone.
      const isMoment = value.kind === 'now' && type.kind === 'timestamp'
      if (!member.expressions && (value.kind === 'expression' || (isWorkedOut(value) && !isMoment))) return undefined
      if (value.kind === 'new uuid') return 'uuid()'
      if (value.kind === 'user') return 'current_user()'
      if (value.kind === 'now')
        return type.kind === 'date' ? 'curdate()' : type.kind === 'time' ? 'curtime()' : 'current_timestamp(6)'
      return standard.value(value, type)
    },
    // Most collations take letters of both sorts for the same.
    inLetters: (column, letters) => `hex(${quote(column)}) = hex(${letters}(${quote(column)}))`,
    // Manual, "JSON_TYPE": the words for a document's kind are in capitals.
    shaped: (column, shape) => `json_type(${quote(column)}) = '${shape === 'list' ? 'ARRAY' : 'OBJECT'}'`,
    createTable: (t) => {
      const clauses = [
        ...t.columns.map((c) => checkedColumn(t, c)),
        ...(t.primaryKey ? [`PRIMARY KEY (${keyParts(t.primaryKey)})`] : []),
        ...t.uniques.map((value) => standard.constraint({ kind: 'unique', value })),
        ...t.checks
          .filter((check) => !isWithColumn(check))
          .map((value) => standard.constraint({ kind: 'check', value }))
      ]
      const first = t.columns.find(({ identity }) => identity)?.counting?.start
      const told = [
        ...tableOptions(t.options),
        ...(first === undefined ? [] : [`AUTO_INCREMENT=${first}`]),
        ...(t.comment === undefined ? [] : [`COMMENT = ${literal(t.comment)}`])
      ]
      const parted = t.parted === undefined ? [] : [`\nPARTITION BY ${t.parted}`]
      return [`CREATE TABLE ${of(t)} (\n  ${clauses.join(',\n  ')}\n)`, ...told, ...parted].join(' ')
    },
    addColumn: (t, c) => `ALTER TABLE ${of(t)} ADD COLUMN ${column(c)}`,
    renameMember: (t, kind, from, to) =>
      `ALTER TABLE ${of(t)} RENAME ${kind === 'column' ? 'COLUMN' : 'INDEX'} ${quote(from)} TO ${quote(to)}`,
    addConstraint: (t, constraint) =>
      constraint.kind === 'primaryKey'
        ? `ALTER TABLE ${of(t)} ADD PRIMARY KEY (${keyParts(constraint.value)})`
        : `ALTER TABLE ${of(t)} ADD ${foreignKey(constraint)}`,
    createIndex: (t, index) =>
      createIndex(t, index) +
      (index.comment === undefined ? '' : ` COMMENT ${literal(index.comment)}`) +
      (index.options?.['ignored'] === undefined || !member.unused ? '' : ` ${member.unused}`),
    dropIndex: (t, index) => `DROP INDEX ${quote(index.name)} ON ${of(t)}`,
    comment: (t, on, text) => (on.kind === 'table' ? [`ALTER TABLE ${of(t)} COMMENT = ${literal(text ?? '')}`] : [])
  }
}
