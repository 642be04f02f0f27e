// Changing a table by making it again, the way SQLite documents it ("Making Other Kinds Of Table Schema Changes",
// sqlite.org/lang_altertable.html#otheralter): a new table, the rows copied over, the old one gone, the new one renamed,
// indexes made again. Foreign keys are switched off outside the transaction, and checked before it ends.
import {
  sameValue,
  typeText,
  usersOfColumn,
  usesColumn,
  type Change,
  type Column,
  type DataType,
  type ForeignKey,
  type Index,
  type Table
} from '../../catalog'
import { renameNames } from '../../sql'
import type { Hazard, Preflight, Rebuilder, RebuildNames, StepDraft, Writer } from '../dialect'
import { hazard, literal } from '../standard'
import { affinityOf } from './types'
import { numbered } from './write'

const draft = (statement: string, why: string, more: Partial<StepDraft> = {}): StepDraft => ({
  statement,
  why,
  effects: [],
  hazards: [],
  ...more
})

export function sqliteRebuilder(write: Writer): Rebuilder {
  const { quote } = write
  return {
    inPlace: (table, change) => inPlace(table, change, write),
    steps: (from, to, names) => {
      if (from.module !== undefined || to.module !== undefined) return anew(from, to, write)
      const away: Table = { ...to, name: names.temporary }
      const copied = to.columns.filter(
        (c) => c.generated === undefined && from.columns.some((old) => old.name === c.name)
      )
      const rows = risks(from, to, names, write)
      const steps = [
        draft(write.createTable(away), `makes ${to.name} as it is wanted, under another name for now`),
        draft(copy(from, away, copied, quote), `copies the rows of ${to.name}`, {
          hazards: [
            ...rows.hazards,
            ...losses(from, to),
            hazard('rewrites table', 'every row is copied; nothing else can be written meanwhile')
          ],
          ...(rows.preflight ? { preflight: rows.preflight } : {})
        })
      ]
      if (numbered(from) && numbered(to))
        steps.push(
          draft(`DELETE FROM sqlite_sequence WHERE name = ${literal(away.name)}`, 'numbering goes on where it was'),
          draft(
            `INSERT INTO sqlite_sequence (name, seq) SELECT ${literal(away.name)}, seq FROM sqlite_sequence WHERE name = ${literal(from.name)}`,
            'numbering goes on where it was'
          )
        )
      return [
        ...steps,
        draft(`DROP TABLE ${quote(from.name)}`, `removes the old ${to.name}, whose rows have been copied`),
        draft(`ALTER TABLE ${quote(away.name)} RENAME TO ${quote(to.name)}`, `gives the new ${to.name} its name`),
        ...to.indexes.map((index) => draft(write.createIndex(to, index), `makes the index ${index.name} again`))
      ]
    }
  }
}

/** What a module keeps cannot be copied by us: it is made anew. */
const anew = (from: Table, to: Table, write: Writer): StepDraft[] => [
  draft(write.dropTable(from.schema, from.name, false), `removes the old ${to.name}`, {
    hazards: [
      hazard('loses data', `what ${from.name} holds goes with it`),
      hazard('cannot be undone', 'the way back makes it again, empty')
    ]
  }),
  draft(write.createTable(to), `makes ${to.name} as it is wanted`)
]

/** Changes that ALTER TABLE can make: "ALTER TABLE ADD COLUMN" and "ALTER TABLE DROP COLUMN" say when. */
function inPlace(table: Table, change: Change, write: Writer): boolean {
  const { kind } = change.address
  if (kind === 'index') return true
  if (kind !== 'column' || (change.action !== 'create' && change.action !== 'drop') || change.object.kind !== 'column')
    return false
  const column = change.object.value
  if (column.generated !== undefined) return false
  if (change.action === 'create') {
    if (column.identity) return false
    const constant = column.default !== undefined && /^(-?\d+(\.\d+)?|'([^']|'')*')$/.test(column.default)
    return column.default === undefined ? column.nullable : constant
  }
  const computed = table.columns.some((c) => c.generated !== undefined)
  return !computed && usersOfColumn({ tables: [table] }, table, column.name, write.lexis).length === 0
}

function copy(from: Table, to: Table, copied: readonly Column[], quote: (name: string) => string): string {
  const filler = rowIdOf(to) ?? to.columns.find((c) => c.generated === undefined)
  if (copied.length === 0 && filler) {
    // A row's number is given where there is none.
    const value = filler === rowIdOf(to) ? 'NULL' : (filler.default ?? 'NULL')
    return `INSERT INTO ${quote(to.name)} (${quote(filler.name)}) SELECT ${value} FROM ${quote(from.name)}`
  }
  const list = copied.map((c) => quote(c.name)).join(', ')
  return `INSERT INTO ${quote(to.name)} (${list}) SELECT ${list} FROM ${quote(from.name)}`
}

/** The column that is the row's own number: "ROWIDs and the INTEGER PRIMARY KEY" (sqlite.org/lang_createtable.html#rowid). */
function rowIdOf(table: Table): Column | undefined {
  const key = table.primaryKey?.columns
  if (key?.length !== 1 || table.options?.['without rowid'] !== undefined) return undefined
  return table.columns.find((c) => c.name === key[0] && typeText(c.type) === 'integer')
}

function losses(from: Table, to: Table): Hazard[] {
  const found: Hazard[] = []
  for (const column of from.columns) {
    const now = to.columns.find((c) => c.name === column.name)
    if (!now)
      found.push(
        hazard('loses data', `what ${column.name} holds goes with it`),
        hazard('cannot be undone', 'the way back makes the column again, empty')
      )
    else if (affinityOf(column.type) === 'text' && ['integer', 'real', 'numeric'].includes(affinityOf(now.type)))
      found.push(
        hazard('loses data', `text in ${now.name} that reads as a number becomes one: how it was written is lost`)
      )
    else if (now.generated !== undefined && column.generated === undefined)
      found.push(hazard('loses data', `${now.name} is computed from now on: what it holds goes`))
  }
  return found
}

/** Rows that the new table will not take, as one condition over the table as it is now. */
function risks(
  from: Table,
  to: Table,
  names: RebuildNames,
  write: Writer
): { hazards: Hazard[]; preflight?: Preflight } {
  const questions: string[] = []
  const conditions: string[] = []
  let asked = true
  const live = names.live(from.name)
  if (!live) return { hazards: [] }
  const t = write.quote(live.table)
  const ask = (question: string, condition: string | undefined) => {
    questions.push(question)
    if (condition === undefined) asked = false
    else conditions.push(condition)
  }
  const old = (name: string) => from.columns.find((c) => c.name === name)
  /** The value that a column will have, in terms of the table as it is. */
  const value = (column: Column, alias = t): string => {
    const was = old(column.name)
    const name = was && live.column(was.name)
    if (!was || name === undefined) return column.default === undefined ? 'NULL' : `(${column.default})`
    return asAffinity(`${alias}.${write.quote(name)}`, was.type, column.type)
  }
  const sameAsBefore = (names: readonly string[]) =>
    names.every((name) => {
      const [was, now] = [old(name), to.columns.find((c) => c.name === name)]
      return was && now && affinityOf(was.type) === affinityOf(now.type)
    })
  const rowId = rowIdOf(to)
  /** A number that is yet to be given: there will be one, and nobody knows which. */
  const isGiven = (column: Column) => column === rowId && !old(column.name)

  for (const column of to.columns) {
    if (column.generated !== undefined || column === rowId) continue
    const was = old(column.name)
    if (!column.nullable && (!was ? column.default === undefined : was.nullable))
      ask(`no ${column.name}`, was ? `${value(column)} IS NULL` : '1 = 1')
  }
  if (rowId && rowIdOf(from)?.name !== rowId.name)
    ask(`a ${rowId.name} that is no whole number`, `typeof(${value(rowId)}) NOT IN ('integer', 'null')`)

  const keys: readonly { columns: readonly string[]; where?: string | undefined; before: boolean }[] = [
    ...(to.primaryKey
      ? [{ columns: to.primaryKey.columns, before: sameValue(from.primaryKey?.columns, to.primaryKey.columns) }]
      : []),
    ...to.uniques.map((u) => ({
      columns: u.columns,
      before: from.uniques.some((x) => sameValue(x.columns, u.columns))
    })),
    ...to.indexes
      .filter((i) => i.unique && i.parts.every((p) => p.column !== undefined))
      .map((i) => ({
        columns: i.parts.flatMap((p) => p.column ?? []),
        where: i.where,
        before: from.indexes.some((x) => sameIndex(x, i))
      }))
  ]
  for (const { columns, where, before } of keys) {
    if (before && sameAsBefore(columns)) continue
    const parts = columns.flatMap((name) => to.columns.find((c) => c.name === name) ?? [])
    // A number that is yet to be given is nobody else's.
    if (parts.some(isGiven)) continue
    if (where !== undefined && !sameAsBefore(columns)) ask(`${columns.join(', ')} twice`, undefined)
    else
      ask(
        `${columns.join(', ')} that another row has too`,
        twice(parts, value, t, where && substitute(where, to, value, write))
      )
  }
  for (const check of to.checks) {
    const used = to.columns.filter((c) => usesColumn('check', check, c.name, write.lexis)).map((c) => c.name)
    const before = from.checks.some((c) => c.expression === check.expression)
    if (!before || !sameAsBefore(used))
      ask(
        `what breaks ${check.name}`,
        rowId && isGiven(rowId) && used.includes(rowId.name)
          ? undefined
          : `NOT (${substitute(check.expression, to, value, write)})`
      )
  }
  for (const fk of to.foreignKeys) {
    const before = from.foreignKeys.some(
      (x) => sameValue(x.columns, fk.columns) && sameValue(x.references, fk.references)
    )
    if (!before || !sameAsBefore(fk.columns))
      ask(`no row of ${fk.references.table} to go to`, orphans(fk, to, names, { value, isGiven }, write))
  }
  if (questions.length === 0) return { hazards: [] }
  const where = conditions.map((c) => `(${c})`).join(' OR ')
  return {
    hazards: [hazard('may fail', `fails if a row has ${questions.join(', or ')}`)],
    ...(asked
      ? {
          preflight: {
            question: `Which rows have ${questions.join(', or ')}?`,
            count: `SELECT count(*) AS n FROM ${t} WHERE ${where}`,
            rows: `SELECT * FROM ${t} WHERE ${where}`
          }
        }
      : {})
  }
}

const sameIndex = (a: Index, b: Index) => a.unique && sameValue(a.parts, b.parts) && a.where === b.where

type ValueOf = (column: Column, alias?: string) => string

/** Rows whose values stand in another row too; asked of groups, so that the work grows with the rows and not with their square. */
function twice(columns: readonly Column[], value: ValueOf, table: string, where: string | undefined): string {
  const filled = columns.map((c) => `${value(c)} IS NOT NULL`)
  const others = columns.map((c) => value(c, 'other'))
  const inOther = [
    ...others.map((other) => `${other} IS NOT NULL`),
    ...(where === undefined ? [] : [`(${where.replaceAll(`${table}.`, 'other.')})`])
  ]
  const keys = others.map((_, i) => `k${i}`).join(', ')
  const values = others.map((other, i) => `${other} AS k${i}`).join(', ')
  const groups =
    `SELECT ${keys} FROM (SELECT ${values} FROM ${table} other WHERE ${inOther.join(' AND ')}) ` +
    `GROUP BY ${keys} HAVING count(*) > 1`
  const repeated = `${rowOf(columns.map((c) => value(c)))} IN (${groups})`
  return [...filled, ...(where === undefined ? [] : [`(${where})`]), repeated].join(' AND ')
}

/** One value, or several as a row. */
const rowOf = (values: readonly string[]): string =>
  values.length === 1 ? (values[0] ?? '') : `(${values.join(', ')})`

function orphans(
  fk: ForeignKey,
  to: Table,
  names: RebuildNames,
  { value, isGiven }: { readonly value: ValueOf; readonly isGiven: (column: Column) => boolean },
  write: Writer
): string | undefined {
  const own = fk.columns.flatMap((name) => to.columns.find((c) => c.name === name) ?? [])
  const filled = own.filter((c) => !isGiven(c)).map((c) => `${value(c)} IS NOT NULL`)
  const parent = names.live(fk.references.table)
  if (!parent) return filled.join(' AND ') || '1 = 1'
  if (own.some(isGiven)) return undefined
  const keys = fk.references.columns.map((name) => parent.column(name))
  if (keys.some((name) => name === undefined)) return undefined
  const listed = keys.map((key) => `parent.${write.quote(key ?? '')}`)
  const known = `SELECT ${listed.join(', ')} FROM ${write.quote(parent.table)} parent WHERE ${listed.map((name) => `${name} IS NOT NULL`).join(' AND ')}`
  return [...filled, `${rowOf(own.map((c) => value(c)))} NOT IN (${known})`].join(' AND ')
}

/** An expression of the new table, with each column's name replaced by the value that it will have. */
function substitute(expression: string, to: Table, value: ValueOf, write: Writer): string {
  const values = new Map(to.columns.map((c) => [c.name, value(c)]))
  return renameNames(expression, values, write.lexis, (text) => text)
}

/** What a value becomes when it is stored under another affinity: "Type Conversions Prior To Storage", 3. */
function asAffinity(value: string, from: DataType, to: DataType): string {
  const [was, now] = [affinityOf(from), affinityOf(to)]
  if (was === now || now === 'blob') return value
  if (now === 'text')
    return `CASE WHEN typeof(${value}) IN ('integer', 'real') THEN CAST(${value} AS TEXT) ELSE ${value} END`
  if (was === 'text' || was === 'blob')
    return (
      `CASE WHEN typeof(${value}) = 'text' AND CAST(CAST(${value} AS NUMERIC) AS TEXT) = ${value} ` +
      `THEN CAST(${value} AS NUMERIC) ELSE ${value} END`
    )
  return value
}
