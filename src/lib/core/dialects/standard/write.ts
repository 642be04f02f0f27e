// The SQL standard's way (ISO/IEC 9075-2, chapters 11.3 to 11.40, from memory) to write catalogue objects.
// An engine's writer takes these and replaces what its manual says otherwise.
import type { Column, ForeignKey, Index, IndexPart, Key, MemberKind, Table } from '../../catalog'
import type { Fold } from '../../sql'
import type { NeutralType } from '../../types'
import type { Constraint, DefaultValue, EngineProfile, Writer } from '../dialect'

/** Writes text as an SQL string literal. */
export const literal = (text: string): string => `'${text.replaceAll("'", "''")}'`

interface Habits {
  /** Writes a string literal. */
  readonly text?: (value: string) => string
  /** Writes all that is said of a column where its table is made, or where it is added. */
  readonly column?: (column: Column) => string
}

/** `habits` are where the engine differs in a part that other parts are made of. */
export function standardWriter(profile: EngineProfile, habits: Habits = {}): Writer {
  const { text = literal } = habits
  const { names, features } = profile
  const caseOf = names.caseless ? 'lower' : names.fold
  const fold: Fold = (name, quoted = false) => {
    if (caseOf === 'kept' || (quoted && !names.caseless)) return name
    return caseOf === 'lower' ? name.toLowerCase() : name.toUpperCase()
  }
  const plain = names.fold === 'upper' ? /^[A-Z_][A-Z0-9_$]*$/ : /^[a-z_][a-z0-9_]*$/
  const mark = names.quoteMark ?? '"'
  const quote = (name: string) =>
    plain.test(name) && !names.mustQuote.has(name.toLowerCase())
      ? name
      : `${mark}${name.replaceAll(mark, mark + mark)}${mark}`
  const table = (schema: string, name: string) =>
    // The default schema too: what a bare name means is for the session to say, not for us.
    features.schemas ? `${quote(schema)}.${quote(name)}` : quote(name)
  const list = (columns: readonly string[]) => `(${columns.map(quote).join(', ')})`
  const of = (t: Table) => table(t.schema, t.name)

  const standardColumn = (column: Column): string =>
    [
      quote(column.name),
      column.type,
      column.identity && `GENERATED ${column.identity.toUpperCase()} AS IDENTITY`,
      column.generated !== undefined &&
        `GENERATED ALWAYS AS (${column.generated}) ${column.virtual ? 'VIRTUAL' : 'STORED'}`,
      column.default !== undefined && `DEFAULT ${column.default}`,
      !column.nullable && 'NOT NULL'
    ]
      .filter((part) => part)
      .join(' ')

  const columnClause = habits.column ?? standardColumn

  const keyClause = (word: string, key: Key) => `CONSTRAINT ${quote(key.name)} ${word} ${list(key.columns)}`

  const foreignKeyClause = (fk: ForeignKey): string =>
    [
      `CONSTRAINT ${quote(fk.name)} FOREIGN KEY ${list(fk.columns)}`,
      `REFERENCES ${table(fk.references.schema, fk.references.table)}${fk.references.columns.length && !fk.references.unnamed ? ` ${list(fk.references.columns)}` : ''}`,
      fk.onDelete !== 'no action' && `ON DELETE ${fk.onDelete.toUpperCase()}`,
      fk.onUpdate !== 'no action' && `ON UPDATE ${fk.onUpdate.toUpperCase()}`,
      fk.deferrable !== 'no' && 'DEFERRABLE',
      fk.deferrable === 'initially deferred' && 'INITIALLY DEFERRED'
    ]
      .filter((part) => part)
      .join(' ')

  const constraintClause = (constraint: Constraint): string => {
    switch (constraint.kind) {
      case 'primaryKey':
        return keyClause('PRIMARY KEY', constraint.value)
      case 'unique':
        return keyClause('UNIQUE', constraint.value)
      case 'check':
        return `CONSTRAINT ${quote(constraint.value.name)} CHECK (${constraint.value.expression})`
      case 'foreignKey':
        return foreignKeyClause(constraint.value)
    }
  }

  const indexPart = (part: IndexPart): string =>
    (part.column === undefined ? `(${part.expression ?? ''})` : quote(part.column)) +
    (part.length === undefined ? '' : `(${part.length})`) +
    (part.descending ? ' DESC' : '') +
    (part.nulls ? ` NULLS ${part.nulls.toUpperCase()}` : '')

  const commentOn: Readonly<Record<'table' | MemberKind, string>> = {
    table: 'TABLE',
    column: 'COLUMN',
    primaryKey: 'CONSTRAINT',
    unique: 'CONSTRAINT',
    foreignKey: 'CONSTRAINT',
    check: 'CONSTRAINT',
    index: 'INDEX'
  }

  return {
    quote,
    lexis: { ...profile.lexis, fold },
    table,
    value: (value: DefaultValue, type: NeutralType) => {
      switch (value.kind) {
        case 'now':
          if (type.kind === 'date') return 'CURRENT_DATE'
          return type.kind === 'time' ? (type.zoned ? 'CURRENT_TIME' : 'LOCALTIME') : 'CURRENT_TIMESTAMP'
        case 'new uuid':
          return 'gen_random_uuid()'
        case 'boolean':
          return value.value ? 'TRUE' : 'FALSE'
        case 'text':
          return text(value.text)
        default:
          return value.text
      }
    },
    oneOf: (column, values) => `${quote(column)} IN (${values.map(text).join(', ')})`,
    range: (column, min, max) =>
      [min !== undefined && `${quote(column)} >= ${min}`, max !== undefined && `${quote(column)} <= ${max}`]
        .filter((part) => part)
        .join(' AND '),
    requiredWhen: (discriminator, values, column) =>
      `${quote(discriminator)} NOT IN (${values.map(text).join(', ')}) OR ${quote(column)} IS NOT NULL`,
    first: (query, rows) => `${query} FETCH FIRST ${rows} ROWS ONLY`,
    createSchema: (schema) => `CREATE SCHEMA ${features.ifExists ? 'IF NOT EXISTS ' : ''}${quote(schema)}`,
    insert: (t, values) => {
      const written = Object.values(values).map((value) =>
        value === null ? 'NULL' : typeof value === 'number' ? String(value) : text(value)
      )
      return `INSERT INTO ${of(t)} ${list(Object.keys(values).map((name) => fold(name)))} VALUES (${written.join(', ')})`
    },
    createTable: (t) => {
      const clauses = [
        ...t.columns.map(columnClause),
        ...(t.primaryKey ? [constraintClause({ kind: 'primaryKey', value: t.primaryKey })] : []),
        ...t.uniques.map((value) => constraintClause({ kind: 'unique', value })),
        ...t.checks.map((value) => constraintClause({ kind: 'check', value }))
      ]
      return clauses.length ? `CREATE TABLE ${of(t)} (\n  ${clauses.join(',\n  ')}\n)` : `CREATE TABLE ${of(t)} ()`
    },
    constraint: constraintClause,
    dropTable: (schema, name, ifExists) =>
      `DROP TABLE ${ifExists && features.ifExists ? 'IF EXISTS ' : ''}${table(schema, name)}`,
    renameTable: (schema, from, to) => `ALTER TABLE ${table(schema, from)} RENAME TO ${quote(to)}`,
    addColumn: (t, column) => `ALTER TABLE ${of(t)} ADD COLUMN ${columnClause(column)}`,
    dropColumn: (t, column) => `ALTER TABLE ${of(t)} DROP COLUMN ${quote(column.name)}`,
    renameMember: (t, kind, from, to) => {
      if (kind === 'index') return `ALTER INDEX ${table(t.schema, from)} RENAME TO ${quote(to)}`
      const what = kind === 'column' ? 'COLUMN' : 'CONSTRAINT'
      return `ALTER TABLE ${of(t)} RENAME ${what} ${quote(from)} TO ${quote(to)}`
    },
    addConstraint: (t, constraint) => `ALTER TABLE ${of(t)} ADD ${constraintClause(constraint)}`,
    dropConstraint: (t, name) => `ALTER TABLE ${of(t)} DROP CONSTRAINT ${quote(name)}`,
    createIndex: (t, index: Index) =>
      `CREATE ${index.unique ? 'UNIQUE ' : ''}INDEX ${quote(index.name)} ON ${of(t)}` +
      (index.method === undefined ? '' : ` USING ${index.method}`) +
      ` (${index.parts.map(indexPart).join(', ')})` +
      (index.include?.length ? ` INCLUDE ${list(index.include)}` : '') +
      (index.where === undefined ? '' : ` WHERE ${index.where}`),
    dropIndex: (t, index) => `DROP INDEX ${table(t.schema, index.name)}`,
    dropOpaque: ({ kind, schema, name, table: owner }) =>
      kind === 'trigger' && features.triggersInTable
        ? `DROP TRIGGER ${quote(name)} ON ${table(schema, owner ?? '')}`
        : `DROP ${kind.toUpperCase()} ${table(schema, name)}`,
    comment: (t, on, words) => {
      if (!features.comments) return []
      const what =
        on.kind === 'table'
          ? of(t)
          : on.kind === 'column'
            ? `${of(t)}.${quote(on.name)}`
            : on.kind === 'index'
              ? table(t.schema, on.name)
              : `${quote(on.name)} ON ${of(t)}`
      return [`COMMENT ON ${commentOn[on.kind]} ${what} IS ${words === undefined ? 'NULL' : text(words)}`]
    }
  }
}
