// Carrying new names through a whole catalogue: a column's new name reaches its keys, indexes, checks, the foreign keys of
// other tables, and the texts of views, triggers and rules that name it, as it does in an engine that renames.
import { renameNames, renameReferences, type Lexis, type NamedTable } from '../sql'
import { FREE_KINDS, MEMBER_KINDS, VIEW_MEMBER_KINDS, isFree } from './kinds'
import type { DataType } from './data-type'
import type { Address, Catalog, FreeKind, MemberKind, Printed, Ref, Relation, Table, TypeObject, View } from './shapes'
import {
  addressKey,
  addressOf,
  freeAddress,
  members,
  namesOf,
  objectsOf,
  renamedTo,
  withMembers,
  withObjects
} from './walk'

/** New names by what they rename; all are meant at once, so that two objects may swap names. */
export interface Renames {
  /** `schema, old name` → new name, of tables and views. */
  readonly tables: ReadonlyMap<string, string>
  /** `schema, old table name` → kind → old name → new name. */
  readonly members: ReadonlyMap<string, ReadonlyMap<MemberKind, ReadonlyMap<string, string>>>
  /** Of whatever else stands by itself: `addressKey` → new name. */
  readonly others: ReadonlyMap<string, string>
}

/** What naming needs to know of an engine to carry a new name into expressions. */
export interface NameRule {
  readonly lexis: Lexis
  readonly quote: (name: string) => string
  /** Words that are a name only where nothing else can stand. */
  readonly keywords: ReadonlySet<string>
  /** What a query gives follows the names of what it reads, instead of keeping its own. */
  readonly following?: true
}

export const tableKey = (schema: string, table: string): string => JSON.stringify([schema, table])

const none: ReadonlyMap<string, string> = new Map()

export function renameIn(catalog: Catalog, renames: Renames, rule: NameRule): Catalog {
  if (renames.tables.size + renames.members.size + renames.others.size === 0) return catalog
  const { lexis, quote } = rule
  const tableName = (schema: string, name: string) => renames.tables.get(tableKey(schema, name)) ?? name
  const columnsOf = (schema: string, name: string) => renames.members.get(tableKey(schema, name))?.get('column') ?? none
  const isTouched = ({ schema, name }: Relation) =>
    renames.tables.has(tableKey(schema, name)) || renames.members.has(tableKey(schema, name))
  const relation = (named: Relation): Relation => ({ ...named, name: tableName(named.schema, named.name) })
  const place = (address: Address): Address => {
    const { kind, schema, table, name } = namesOf(address)
    if (kind === 'table' || kind === 'view') return renamedTo(address, tableName(schema, name))
    if (isFree(kind)) return renamedTo(address, renames.others.get(addressKey(address)) ?? name)
    const now = renames.members.get(tableKey(schema, table))?.get(kind)?.get(name) ?? name
    return addressOf(kind, schema, tableName(schema, table), now)
  }
  const texts = new TextRenames(catalog, renames, rule)
  const newType = (type: DataType): DataType => {
    if (renames.others.size === 0) return type
    if (type.of) return { ...type, of: newType(type.of) }
    const { schema, name } = type
    return schema === undefined
      ? type
      : { ...type, name: renames.others.get(addressKey(addressOf('type', schema, name))) ?? name }
  }

  /** What a text object says and stands on, in the new names. */
  const referring = <T extends { readonly refs?: readonly Ref[] }>(object: T, fields: readonly (keyof T)[]): T => {
    const { refs } = object
    if (!refs?.some(({ to }) => isTouched(relationOf(to)) || renames.others.has(addressKey(to)))) return object
    const said = fields.map((field) => [field, texts.rename(String(object[field]))] as const)
    return { ...object, ...Object.fromEntries(said), refs: refs.map((ref) => ({ ...ref, to: place(ref.to) })) }
  }
  const withReferring = <H extends Table | View>(home: H): H => {
    let result = home
    for (const kind of ['exclusion', 'trigger', 'policy', 'rule'] as const)
      if (members(home, kind).length > 0)
        result = withMembers(
          result,
          kind,
          members(home, kind).map((member) => referring(member, ['definition']))
        )
    return result
  }
  const withOwnNames = <H extends Table | View>(home: H, kinds: readonly MemberKind[]): H =>
    kinds.reduce((result, kind) => {
      const names = renames.members.get(tableKey(home.schema, home.name))?.get(kind)
      if (!names) return result
      const list = members(result, kind).map((member) => ({ ...member, name: names.get(member.name) ?? member.name }))
      return withMembers(result, kind, list)
    }, home)

  /** What is of a type, in the types' new names. */
  const withNewTypes = (table: Table): Table =>
    renames.others.size === 0
      ? table
      : {
          ...table,
          columns: table.columns.map((column) => ({
            ...column,
            type: newType(column.type),
            ...(column.refs ? { refs: column.refs.map((ref) => ({ ...ref, to: place(ref.to) })) } : {})
          }))
        }
  const ofNewTypes = (object: TypeObject): TypeObject => ({
    ...object,
    ...(object.base ? { base: newType(object.base) } : {}),
    ...(object.fields ? { fields: object.fields.map((field) => ({ ...field, type: newType(field.type) })) } : {})
  })

  const renameTable = (table: Table): Table => {
    const columns = columnsOf(table.schema, table.name)
    const parents = [...table.foreignKeys.map((fk) => ({ schema: fk.references.schema, name: fk.references.table }))]
    const families = [...(table.inherits ?? []), ...(table.partition ? [table.partition.of] : [])]
    const carried = withReferring(withNewTypes(table))
    if (!isTouched(table) && ![...parents, ...families].some(isTouched)) return carried
    const column = (name: string) => columns.get(name) ?? name
    const text = (sql: string) => renameNames(sql, columns, lexis, quote)
    const result: Table = {
      ...carried,
      columns: carried.columns.map((c) => (c.generated === undefined ? c : { ...c, generated: text(c.generated) })),
      ...(table.primaryKey
        ? { primaryKey: { ...table.primaryKey, columns: table.primaryKey.columns.map(column) } }
        : {}),
      uniques: table.uniques.map((key) => ({ ...key, columns: key.columns.map(column) })),
      checks: table.checks.map((check) => ({ ...check, expression: text(check.expression) })),
      indexes: table.indexes.map((index) => ({
        ...index,
        parts: index.parts.map((part) => ({
          ...part,
          ...(part.column === undefined ? {} : { column: column(part.column) }),
          ...(part.expression === undefined ? {} : { expression: text(part.expression) })
        })),
        ...(index.include ? { include: index.include.map(column) } : {}),
        ...(index.where === undefined ? {} : { where: text(index.where) })
      })),
      foreignKeys: table.foreignKeys.map((fk) => {
        const { schema, table: parent, columns: keys } = fk.references
        const parentColumns = columnsOf(schema, parent)
        return {
          ...fk,
          columns: fk.columns.map(column),
          references: {
            ...fk.references,
            table: tableName(schema, parent),
            columns: keys.map((name) => parentColumns.get(name) ?? name)
          }
        }
      }),
      ...(table.inherits ? { inherits: table.inherits.map(relation) } : {}),
      ...(table.partition ? { partition: { ...table.partition, of: relation(table.partition.of) } } : {})
    }
    return { ...withOwnNames(result, MEMBER_KINDS), name: tableName(table.schema, table.name) }
  }
  const renameView = (view: View): View => {
    const named = withOwnNames(withReferring(referring(view, ['query'])), VIEW_MEMBER_KINDS)
    return isTouched(view) ? { ...named, name: tableName(view.schema, view.name) } : named
  }
  const renameFree = (result: Catalog, kind: FreeKind): Catalog => {
    const list = objectsOf(catalog, kind)
    if (renames.others.size === 0 || list.length === 0) return result
    const named = list.map((object) => ({ ...object, name: namesOf(place(freeAddress(kind, object))).name }))
    return withObjects(result, kind, (kind === 'type' ? (named as TypeObject[]).map(ofNewTypes) : named) as never)
  }
  const others = FREE_KINDS.filter((kind) => kind !== 'table' && kind !== 'view')
  return {
    ...others.reduce(renameFree, catalog),
    tables: catalog.tables.map(renameTable),
    ...(catalog.views ? { views: catalog.views.map(renameView) } : {}),
    ...(catalog.printed ? { printed: printedIn(catalog, renames, rule) } : {})
  }
}

/** What the engine prints for what was asked for, both in the new names. */
export function printedIn(catalog: Catalog, renames: Renames, rule: NameRule): readonly Printed[] {
  const { lexis, quote } = rule
  const texts = new TextRenames(catalog, renames, rule)
  return (catalog.printed ?? []).map((item) => {
    const columns = renames.members.get(tableKey(item.schema, item.table))?.get('column') ?? none
    const text = (value: unknown) => {
      if (typeof value !== 'string') return value
      return item.property === 'query' ? texts.rename(value) : renameNames(value, columns, lexis, quote)
    }
    return {
      ...item,
      table: renames.tables.get(tableKey(item.schema, item.table)) ?? item.table,
      wanted: text(item.wanted),
      printed: text(item.printed)
    }
  })
}

const relationOf = (address: Address): Relation => {
  const { schema, table } = namesOf(address)
  return { schema, name: table }
}

/** New names in texts that name tables and columns from anywhere. */
export class TextRenames {
  private readonly named: (schema: string | undefined, name: string) => NamedTable | undefined

  constructor(
    catalog: Catalog,
    renames: Pick<Renames, 'tables' | 'members'>,
    private readonly rule: NameRule
  ) {
    const { lexis } = rule
    const key = (schema: string, name: string) => tableKey(schema, lexis.fold(name, true))
    const columns = ({ schema, name, columns: list }: Table): NamedTable => {
      const names = renames.members.get(tableKey(schema, name))?.get('column') ?? none
      return {
        to: renames.tables.get(tableKey(schema, name)),
        columns: new Map(list.map((c) => [lexis.fold(c.name, true), names.get(c.name) ?? c.name]))
      }
    }
    // Made when it is first asked for: most renames reach no text at all.
    let known: Map<string, Table | View> | undefined
    this.named = (schema, name) => {
      known ??= new Map([...(catalog.views ?? []), ...catalog.tables].map((t) => [key(t.schema, t.name), t]))
      const found = known.get(key(schema ?? catalog.defaultSchema, name))
      if (!found) return undefined
      return 'query' in found
        ? { to: renames.tables.get(tableKey(found.schema, found.name)), columns: new Map() }
        : columns(found)
    }
  }

  rename(sql: string): string {
    return this.read(sql).sql
  }

  read(sql: string): ReturnType<typeof renameReferences> {
    return renameReferences(sql, { ...this.rule, table: (schema, name) => this.named(schema, name) })
  }
}
