// Where a change of a catalogue meets the design it was derived from: who owns an object, and what columns and values are there.
import { isNumber } from '../types'
import { findTable, isFree, members, namesOf, type Catalog, type Change, type Column, type DataType } from '../catalog'
import { logical, parseDefault } from '../derive'
import { IDENTIFIER, newAttribute, newId, type Attribute, type Design, type Edit, type Entity } from '../design'
import type { Dialect } from '../dialects'
import { compareExpressions, renameNames } from '../sql'
import { businessName, type Naming } from './names'

export interface Place {
  readonly design: Design
  /** What the design gives before the change. */
  readonly catalog: Catalog
  readonly dialect: Dialect
  /** What has been taken with it so far. */
  readonly edits?: readonly Edit[]
}

/** Said of what a design has no words for. */
export const NOT_DESIGNED = 'A design does not say such things: take it for this target only.'

/** Edits, or why there are none. */
export type Edits = readonly Edit[] | string

export const objectOrigin = ({ catalog }: Place, change: Change) => {
  const { kind, schema, table, name } = namesOf(change.address)
  const home = findTable(catalog, schema, table)
  if (!home || kind === 'table') return home?.origin
  return isFree(kind) ? undefined : members(home, kind).find((member) => member.name === name)?.origin
}

export const homeEntity = ({ design, catalog }: Place, change: Change): Entity | undefined => {
  const id = findTable(catalog, namesOf(change.address).schema, namesOf(change.address).table)?.origin?.id
  return id === undefined ? undefined : design.entities[id]
}

/** The row (attribute, link or identifier) of an entity that each column of its table belongs to. */
export function rowsByColumn({ design, catalog, dialect }: Place, entity: Entity): Map<string, string> {
  const table = catalog.tables.find((t) => t.origin?.id === entity.id && t.origin.part === 'table')
  const model = logical(design).entity(entity.id)
  const rows = new Map<string, string>()
  for (const column of table?.columns ?? []) {
    const found = model?.columns.find((c) => c.origin.id === column.origin?.id && c.origin.part === column.origin.part)
    const row = found?.path === IDENTIFIER ? IDENTIFIER : found?.row
    if (row !== undefined) rows.set(column.name, row)
    else if (dialect.profile.features.fields && column.origin) rows.set(column.name, column.origin.id)
  }
  return rows
}

export const rowsOf = (columns: readonly string[], rows: ReadonlyMap<string, string>): string[] | undefined => {
  const found = columns.map((column) => rows.get(column))
  return found.some((row) => row === undefined) ? undefined : (found as string[])
}

/** A condition with `{id}` for each attribute it names. */
export const condition = (expression: string, rows: ReadonlyMap<string, string>, dialect: Dialect): string =>
  renameNames(expression, rows, dialect.write.lexis, (row) => `{${row}}`)

/**
 * A default as people write it, for the expression that a column has: what every engine has, where the engine would write it
 * so; else the expression as it is.
 */
export function defaultText(
  expression: string | undefined,
  { type }: Pick<Attribute, 'type'>,
  dialect: Dialect
): string | undefined {
  if (expression === undefined) return undefined
  const { write } = dialect
  const text = /^'((?:[^']|'')*)'(?:::[\w ."(),[\]]+)?$/.exec(expression)?.[1]
  const number = /^-?\d+(\.\d+)?$/.test(expression)
  const said = [
    ...(number && isNumber(type) ? [expression] : []),
    ...(WORDS[type.kind] ?? []),
    ...(text === undefined ? [] : [`"${text.replaceAll("''", "'")}"`])
  ]
  const isSo = (candidate: string) => {
    const read = parseDefault(candidate, type)
    const written = read.ok ? write.value(read.value, type) : undefined
    if (written === undefined) return false
    const [own, there] = candidate === 'now' ? [written, expression].map(undivided) : [written, expression]
    return compareExpressions(own, there, write.lexis) === 'equal'
  }
  return said.find(isSo) ?? `(${expression})`
}

/** A moment whatever the digits of its second: those are its column's. */
const undivided = (expression: string): string =>
  expression.replace(/\b(current_timestamp|localtimestamp|localtime)\s*\(\d?\)/gi, '$1')

/** What people say for values that engines have words of their own for. */
const WORDS: Readonly<Record<string, readonly string[]>> = {
  boolean: ['yes', 'no'],
  date: ['now'],
  time: ['now'],
  timestamp: ['now'],
  uuid: ['new']
}

/** A column's type as a design has it: a type that would come back otherwise is kept in the engine's own words. */
export function designedType(type: DataType, { types, write }: Dialect): Attribute['type'] {
  const near = types.toNeutral(type)
  return types.same(types.fromNeutral(near).type, type) ? near : { kind: 'native', text: write.type(type) }
}

/** An attribute for a column, all of it in the engine's own words where there are no others; `name` is what people call it. */
export const newAttributeFor = (column: Column, naming: Naming, name?: string): Attribute =>
  attributeOf(column, designedType(column.type, naming.dialect), naming, name)

export function attributeOf(column: Column, type: Attribute['type'], naming: Naming, called?: string): Attribute {
  const value = defaultText(column.default, { type }, naming.dialect)
  const said = businessName(column.name, naming, false)
  const name = called ?? said.name
  return newAttribute(name, {
    id: newId('att'),
    type,
    required: !column.nullable,
    ...(said.dbName === undefined && name === said.name ? {} : { dbName: column.name }),
    ...(value === undefined ? {} : { default: value }),
    ...(column.comment === undefined ? {} : { means: column.comment }),
    ...(column.seen ? { guess: column.seen } : {}),
    ...(naming.dialect.bounded?.(type, column.options ?? {}) ?? {})
  })
}
