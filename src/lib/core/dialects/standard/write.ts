// The SQL standard's way (ISO/IEC 9075-2, chapters 11.3 to 11.40, from memory) to write catalogue objects.
// An engine's writer takes these and replaces what its manual says otherwise.
import { typeText } from '../../catalog'
import type {
  Check,
  Column,
  DataType,
  Deferrable,
  ForeignKey,
  Index,
  IndexPart,
  Key,
  MemberKind,
  Table
} from '../../catalog'
import type { Fold } from '../../sql'
import type { NeutralType } from '../../types'
import type { Constraint, DefaultValue, EngineProfile, Quoting, Writer } from '../dialect'

/** Writes text as an SQL string literal. */
export const literal = (text: string): string => `'${text.replaceAll("'", "''")}'`

interface Habits {
  /** Writes a type. */
  readonly type?: (type: DataType, quote: (name: string) => string) => string
  /** Writes a string literal. */
  readonly text?: (value: string) => string
  /** Writes all that is said of a column where its table is made, or where it is added. */
  readonly column?: (column: Column) => string
  /** That a column is never empty, where there is more to it. */
  readonly required?: (column: Column) => string | undefined
  /** What is said of how a column is stored, behind its type. */
  readonly stored?: (column: Column) => string | undefined
  /** How its numbers are counted. */
  readonly counting?: (column: Column) => string
  readonly keyColumns?: (key: Key) => string | undefined
  readonly keyOptions?: (key: Key) => string | undefined
  readonly periodColumns?: (fk: ForeignKey, columns: readonly string[]) => string | undefined
  /** The columns that alone are emptied. */
  readonly setsOnly?: (fk: ForeignKey) => string
  /** That rows which are there need not fit, or none. */
  readonly unchecked?: (constraint: ForeignKey | Check) => string | undefined
  readonly indexOptions?: (index: Index) => string
  /** What stands between CREATE and TABLE, and behind the columns. */
  readonly around?: (table: Table) => { readonly before: string; readonly after: string }
}

/** The profile of an engine that is written to with names in quotes as wanted. */
export const quoted = (profile: EngineProfile, quoting: Quoting | undefined): EngineProfile =>
  quoting === undefined ? profile : { ...profile, names: { ...profile.names, quoting } }

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
    names.quoting === undefined && plain.test(name) && !names.mustQuote.has(name.toLowerCase())
      ? name
      : `${mark}${name.replaceAll(mark, mark + mark)}${mark}`
  const table = (schema: string, name: string) =>
    // The default schema too: what a bare name means is for the session to say, not for us.
    features.schemas ? `${quote(schema)}.${quote(name)}` : quote(name)
  const type = (given: DataType) => (habits.type ?? typeText)(given, quote)
  const list = (columns: readonly string[]) => `(${columns.map(quote).join(', ')})`
  const of = (t: Table) => table(t.schema, t.name)

  /** A name that the engine gives is for it to give. */
  const labelled = (name: string) => (names.given?.test(name) ? '' : `CONSTRAINT ${quote(name)} `)

  const standardColumn = (column: Column): string =>
    [
      quote(column.name),
      type(column.type),
      column.collation && `COLLATE ${column.collation}`,
      habits.stored?.(column),
      column.identity && `GENERATED ${column.identity.toUpperCase()} AS IDENTITY${habits.counting?.(column) ?? ''}`,
      column.generated !== undefined &&
        `GENERATED ALWAYS AS (${column.generated}) ${column.virtual ? 'VIRTUAL' : 'STORED'}`,
      column.default !== undefined && `DEFAULT ${column.default}`,
      !column.nullable && (habits.required?.(column) ?? 'NOT NULL')
    ]
      .filter((part) => part)
      .join(' ')

  const columnClause = habits.column ?? standardColumn

  const deferral = (deferrable: Deferrable | undefined) => [
    deferrable !== undefined && deferrable !== 'no' && 'DEFERRABLE',
    deferrable === 'initially deferred' && 'INITIALLY DEFERRED'
  ]
  const joined = (parts: readonly (string | false | undefined)[]) => parts.filter((part) => part).join(' ')

  const keyClause = (word: string, key: Key) =>
    joined([
      `${labelled(key.name)}${word}`,
      key.nullsAlike && 'NULLS NOT DISTINCT',
      habits.keyColumns?.(key) ?? list(key.columns),
      key.include !== undefined && `INCLUDE ${list(key.include)}`,
      habits.keyOptions?.(key),
      ...deferral(key.deferrable)
    ])

  const foreignKeyClause = (fk: ForeignKey): string =>
    joined([
      `${labelled(fk.name)}FOREIGN KEY ${habits.periodColumns?.(fk, fk.columns) ?? list(fk.columns)}`,
      `REFERENCES ${table(fk.references.schema, fk.references.table)}${fk.references.columns.length && !fk.references.unnamed ? ` ${habits.periodColumns?.(fk, fk.references.columns) ?? list(fk.references.columns)}` : ''}`,
      fk.match && `MATCH ${fk.match.toUpperCase()}`,
      fk.onDelete !== 'no action' && `ON DELETE ${fk.onDelete.toUpperCase()}${habits.setsOnly?.(fk) ?? ''}`,
      fk.onUpdate !== 'no action' && `ON UPDATE ${fk.onUpdate.toUpperCase()}`,
      ...deferral(fk.deferrable),
      habits.unchecked?.(fk)
    ])

  const constraintClause = (constraint: Constraint): string => {
    switch (constraint.kind) {
      case 'primaryKey':
        return keyClause('PRIMARY KEY', constraint.value)
      case 'unique':
        return keyClause('UNIQUE', constraint.value)
      case 'check':
        return joined([
          `${labelled(constraint.value.name)}CHECK (${constraint.value.expression})`,
          habits.unchecked?.(constraint.value)
        ])
      case 'foreignKey':
        return foreignKeyClause(constraint.value)
      case 'exclusion':
        return `CONSTRAINT ${quote(constraint.value.name)} ${constraint.value.definition}`
    }
  }

  const indexPart = (part: IndexPart): string =>
    (part.column === undefined ? `(${part.expression ?? ''})` : quote(part.column)) +
    (part.length === undefined ? '' : `(${part.length})`) +
    (part.collation === undefined ? '' : ` COLLATE ${part.collation}`) +
    (part.operators === undefined ? '' : ` ${part.operators}`) +
    (part.descending ? ' DESC' : '') +
    (part.nulls ? ` NULLS ${part.nulls.toUpperCase()}` : '')

  const commentOn: Readonly<Record<'table' | MemberKind, string>> = {
    table: 'TABLE',
    column: 'COLUMN',
    primaryKey: 'CONSTRAINT',
    unique: 'CONSTRAINT',
    foreignKey: 'CONSTRAINT',
    check: 'CONSTRAINT',
    exclusion: 'CONSTRAINT',
    trigger: 'TRIGGER',
    policy: 'POLICY',
    rule: 'RULE',
    index: 'INDEX'
  }

  return {
    quote,
    lexis: { ...profile.lexis, fold },
    keywords: names.mustQuote,
    table,
    type,
    value: (value: DefaultValue, type: NeutralType) => {
      switch (value.kind) {
        case 'now':
          if (type.kind === 'date') return 'CURRENT_DATE'
          return type.kind === 'time' ? (type.zoned ? 'CURRENT_TIME' : 'LOCALTIME') : 'CURRENT_TIMESTAMP'
        case 'user':
          return 'CURRENT_USER'
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
    inLetters: (column, letters) => `${quote(column)} = ${letters}(${quote(column)})`,
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
      const { before = '', after = '' } = habits.around?.(t) ?? {}
      const what = `CREATE ${before}TABLE ${of(t)}`
      return (clauses.length ? `${what} (\n  ${clauses.join(',\n  ')}\n)` : `${what} ()`) + after
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
      (index.nullsAlike ? ' NULLS NOT DISTINCT' : '') +
      (habits.indexOptions?.(index) ?? '') +
      (index.where === undefined ? '' : ` WHERE ${index.where}`),
    dropIndex: (t, index) => `DROP INDEX ${table(t.schema, index.name)}`,
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
