// A table as an entity, and its foreign keys as links: as much of them as a design can say. What it cannot say is left to
// the target that the table is in.
import {
  holderOf,
  leafOf,
  type Catalog,
  type Check,
  type Column,
  type ForeignKey,
  type Index,
  type Key,
  type Table
} from '../catalog'
import { plainName } from '../derive'
import {
  IDENTIFIER,
  Names,
  newEntity,
  newId,
  newLink,
  type Attribute,
  type Design,
  type Entity,
  type Link,
  type Settings
} from '../design'
import type { Dialect } from '../dialects'
import { spelledOut, wordsOf } from '../naming'
import { businessName, type Naming } from './names'
import { condition, rowsOf } from './place'

/** How a column becomes an attribute. */
export type MakeAttribute = (column: Column, name: string) => Attribute

interface Making extends Naming {
  readonly attribute: MakeAttribute
  /** The names of entities. */
  readonly names: Names
  /** The column that the design adds by itself, since rows are numbered by nothing else. */
  readonly identifier?: { readonly column: Column; readonly said: Pick<Entity, 'identifier'> } | undefined
  /** The name must be kept, whatever the rules would make of it. */
  readonly keepName?: boolean
}

export interface MadeEntity {
  readonly entity: Entity
  /** The attribute of each column, or the identifier. */
  readonly rows: ReadonlyMap<string, string>
}

export function entityOf(
  table: Table,
  { dialect, settings, attribute, names, identifier, keepName = false }: Making
): MadeEntity {
  const said = businessName(table.name, { dialect, settings }, true)
  const name = names.take(said.name)
  const own = new Names()
  const { fields = false } = dialect.profile.features
  const all = table.columns.filter((column) => column !== identifier?.column)
  const byHolder = new Map<string | undefined, Column[]>()
  for (const column of fields ? all : []) {
    const holder = holderOf(column.name)
    const own = byHolder.get(holder)
    if (own) own.push(column)
    else byHolder.set(holder, [column])
  }
  const made = (column: Column, among: Names): Attribute =>
    attribute(column, among.take(businessName(column.name, { dialect, settings }, false).name))
  /** An attribute with what its column holds. */
  const withFields = (column: Column, among: Names): Attribute => {
    const whole = made({ ...column, name: leafOf(column.name) }, among)
    const inside = byHolder.get(column.name) ?? []
    const taken = new Names()
    return inside.length === 0 ? whole : { ...whole, fields: inside.map((field) => withFields(field, taken)) }
  }
  const columns = fields ? (byHolder.get(undefined) ?? []) : all
  const attributes = columns.map((column) => (fields ? withFields(column, own) : made(column, own)))
  const rows = new Map(columns.map((column, i) => [column.name, attributes[i]?.id ?? '']))
  if (identifier) rows.set(identifier.column.name, IDENTIFIER)
  const entity = newEntity(name, {
    id: newId('ent'),
    ...(said.dbName !== undefined || name !== said.name || keepName ? { dbName: table.name } : {}),
    ...(table.comment === undefined ? {} : { means: table.comment }),
    ...(table.schema === dialect.profile.defaultSchema ? {} : { namespace: table.schema }),
    attributes,
    order: attributes.map((a) => a.id),
    primaryKey: identifier ? [] : (rowsOf(table.primaryKey?.columns ?? [], rows) ?? []),
    ...(table.primaryKey && table.primaryKey.name !== NAMELESS ? { keyName: table.primaryKey.name } : {}),
    ...(identifier?.said ?? (table.primaryKey ? {} : ownIdentifier(own))),
    uniques: table.uniques.flatMap((key) => uniqueOf(key, rows) ?? []),
    rules: table.checks.map((check) => ruleOf(check, rows, dialect)),
    indexes: table.indexes.flatMap((index) => indexOf(index, rows, dialect) ?? [])
  })
  return { entity, rows }
}

/** A table without a key gets an identifier, in engines that it does not come from: under a name that no column has. */
function ownIdentifier(names: Names): Pick<Entity, 'identifier'> {
  const name = names.take('id')
  return name === 'id' ? {} : { identifier: { name } }
}

/** What stands for a name that the engine gave. */
const NAMELESS = ''

/** A catalogue whose keys and rules have no names but those that somebody has given. */
export function withoutGiven(catalog: Catalog, { profile }: Dialect): Catalog {
  const { given } = profile.names
  if (!given) return catalog
  const bare = <T extends { readonly name: string }>(one: T): T =>
    given.test(one.name) ? { ...one, name: NAMELESS } : one
  return {
    ...catalog,
    tables: catalog.tables.map((table) => ({
      ...table,
      ...(table.primaryKey ? { primaryKey: bare(table.primaryKey) } : {}),
      uniques: table.uniques.map(bare),
      checks: table.checks.map(bare),
      foreignKeys: table.foreignKeys.map(bare)
    }))
  }
}

type Rows = ReadonlyMap<string, string>

/** Nothing where it stands on a column that no attribute or link brings. */
export function uniqueOf(key: Key, rows: Rows): Entity['uniques'][number] | undefined {
  const parts = rowsOf(key.columns, rows)
  return parts && { id: newId('key'), ...(key.name === NAMELESS ? {} : { name: key.name }), parts }
}

export const ruleOf = (check: Check, rows: Rows, dialect: Dialect): Entity['rules'][number] => ({
  id: newId('rul'),
  ...(check.name === NAMELESS ? {} : { dbName: check.name }),
  condition: condition(check.expression, rows, dialect)
})

/** Nothing for an index of expressions, or of one column twice. */
export function indexOf(
  { name, unique, parts, where }: Index,
  rows: Rows,
  dialect: Dialect
): Entity['indexes'][number] | undefined {
  const columns = parts.flatMap((part) => part.column ?? [])
  const ids = rowsOf(columns, rows)
  if (!ids || ids.length < parts.length) return undefined
  return {
    id: newId('idx'),
    name,
    unique,
    parts: parts.map(({ descending }, i) => ({ id: ids[i] ?? '', descending })),
    ...(where === undefined ? {} : { where: condition(where, rows, dialect) })
  }
}

/** What a link says that a foreign key says. */
export const linkSays = (fk: ForeignKey, parentRequired: boolean, parentKey: string | undefined): Partial<Link> => ({
  ...(fk.name === NAMELESS ? {} : { dbName: fk.name }),
  parentRequired,
  onDelete: fk.onDelete,
  onUpdate: fk.onUpdate,
  ...(fk.deferrable === 'no' ? {} : { deferrable: true }),
  ...(parentKey === undefined ? {} : { parentKey })
})

/** A key column of a parent, as a link brings it. */
export interface KeyColumn {
  readonly path: string
  readonly dbName: string
  readonly type: Attribute['type']
}

/**
 * The role that a link needs to bring a foreign key's only column itself, where the column says nothing more than the link
 * would: a foreign key stands in the design once, as a link. Nothing where its column must stay.
 */
export function roleOf(
  column: string,
  attribute: Attribute,
  key: KeyColumn,
  { parent, child, settings }: { readonly parent: Entity; readonly child: Entity; readonly settings: Settings }
): { readonly role?: string } | undefined {
  const used = [
    ...child.primaryKey,
    ...child.uniques.flatMap((u) => u.parts),
    ...child.indexes.flatMap((i) => i.parts.map((p) => p.id))
  ]
  const plain =
    attribute.default === undefined &&
    attribute.means === undefined &&
    attribute.domain === undefined &&
    JSON.stringify(attribute.type) === JSON.stringify(key.type) &&
    !used.includes(attribute.id) &&
    ![...child.rules.map((rule) => rule.condition), ...child.indexes.map((index) => index.where ?? '')].some((text) =>
      text.includes(`{${attribute.id}}`)
    )
  const end = `_${key.dbName}`.toLowerCase()
  const name = column.toLowerCase()
  if (!plain || !name.endsWith(end) || name.length === end.length) return undefined
  const said = spelledOut(wordsOf(name.slice(0, -end.length)), settings.abbreviations).join(' ')
  return plainName(parent.name, settings) === name.slice(0, -end.length) ? {} : { role: said }
}

/** A link of a design that is being made: `links` are those that the child has so far. */
export const linkOf = (
  design: Design,
  links: Design['links'],
  parent: Entity,
  child: Entity,
  more: Partial<Link>
): Link => newLink({ ...design, links }, parent, child, more)
