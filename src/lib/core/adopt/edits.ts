// One change of a catalogue as edits of the design it was derived from: what the design must say for the change to follow.
import {
  findTable,
  type Catalog,
  type CatalogObject,
  type Change,
  type Column,
  type ForeignKey,
  type Table
} from '../catalog'
import { logical, plainName } from '../derive'
import {
  freeName,
  newAttribute,
  newEntity,
  newId,
  newLink,
  type Attribute,
  type Design,
  type Edit,
  type Entity,
  type Link
} from '../design'
import type { Dialect } from '../dialects'
import { renameNames, significant, textOf } from '../sql'
import { businessName } from './names'

export interface Place {
  readonly design: Design
  /** What the design gives before the change. */
  readonly catalog: Catalog
  readonly dialect: Dialect
  /** What has been taken with it so far. */
  readonly edits?: readonly Edit[]
}

/** Edits, or why there are none. */
export type Edits = readonly Edit[] | string

export function editsFor(change: Change, place: Place): Edits {
  switch (change.action) {
    case 'create':
      return added(change.object, change, place)
    case 'drop':
      return removed(change, place)
    case 'rename':
      return renamed(change, place)
    case 'alter':
      return altered(change, place)
  }
}

type Of<A extends Change['action']> = Change & { action: A }

interface Owner {
  readonly entity?: Entity
  readonly attribute?: Attribute
  readonly link?: Link
}

function ownerOf(design: Design, id: string | undefined): Owner {
  if (id === undefined) return {}
  const link = design.links[id]
  if (link) {
    const entity = design.entities[link.child]
    return entity ? { link, entity } : { link }
  }
  const entity = design.entities[id]
  if (entity) return { entity }
  for (const owner of Object.values(design.entities)) {
    const attribute = owner.attributes.find((a) => a.id === id)
    if (attribute) return { entity: owner, attribute }
    const inside = [...owner.uniques, ...owner.indexes, ...owner.rules].some((part) => part.id === id)
    if (inside) return { entity: owner }
  }
  return {}
}

const objectOrigin = ({ catalog }: Place, change: Change) => {
  const { kind, schema, table, name } = change.address
  const home = findTable(catalog, schema, table)
  if (!home || kind === 'table') return home?.origin
  const lists = {
    column: home.columns,
    primaryKey: home.primaryKey ? [home.primaryKey] : [],
    unique: home.uniques,
    foreignKey: home.foreignKeys,
    check: home.checks,
    index: home.indexes
  }
  return lists[kind].find((member) => member.name === name)?.origin
}

const homeEntity = ({ design, catalog }: Place, change: Change): Entity | undefined => {
  const id = findTable(catalog, change.address.schema, change.address.table)?.origin?.id
  return id === undefined ? undefined : design.entities[id]
}

/** The row (attribute or link) of an entity that each column of its table belongs to. */
function rowsByColumn({ design, catalog }: Place, entity: Entity): Map<string, string> {
  const table = catalog.tables.find((t) => t.origin?.id === entity.id && t.origin.part === 'table')
  const model = logical(design).entity(entity.id)
  const rows = new Map<string, string>()
  for (const column of table?.columns ?? []) {
    const found = model?.columns.find((c) => c.origin.id === column.origin?.id && c.origin.part === column.origin.part)
    if (found?.row !== undefined) rows.set(column.name, found.row)
  }
  return rows
}

const rowsOf = (columns: readonly string[], rows: ReadonlyMap<string, string>): string[] | undefined => {
  const found = columns.map((column) => rows.get(column))
  return found.some((row) => row === undefined) ? undefined : (found as string[])
}

/** A condition with `{id}` for each attribute it names. */
const condition = (expression: string, rows: ReadonlyMap<string, string>, dialect: Dialect): string =>
  renameNames(expression, rows, dialect.write.lexis, (row) => `{${row}}`)

/** A default as people write it, for the expression that a column has. */
export function defaultText(expression: string | undefined, { type }: Pick<Attribute, 'type'>): string | undefined {
  if (expression === undefined) return undefined
  const text = /^'((?:[^']|'')*)'$/.exec(expression)?.[1]
  const number = /^-?\d+(\.\d+)?$/.test(expression)
  if (number && ['tiny', 'small', 'integer', 'big', 'decimal', 'float', 'double'].includes(type.kind)) return expression
  if (text !== undefined && ['text', 'char', 'oneOf'].includes(type.kind)) return `"${text.replaceAll("''", "'")}"`
  return `(${expression})`
}

const newAttributeFor = (column: Column, dialect: Dialect): Attribute => {
  const type = dialect.types.toNeutral(column.type)
  // A type that comes back otherwise is kept in the engine's own words.
  const exact = dialect.types.fromNeutral(type).type === dialect.types.canonical(column.type)
  const kept = exact ? type : ({ kind: 'native', text: column.type } as const)
  const value = defaultText(column.default, { type: kept })
  const { name, dbName } = businessName(column.name, dialect.profile, false)
  return newAttribute(name, {
    id: newId('att'),
    type: kept,
    required: !column.nullable,
    ...(dbName === undefined ? {} : { dbName }),
    ...(value === undefined ? {} : { default: value }),
    ...(column.comment === undefined ? {} : { means: column.comment })
  })
}

function added(object: CatalogObject, change: Change, place: Place): Edits {
  const { design, dialect } = place
  if (object.kind === 'table') return addedTable(object.value, place)
  const entity = homeEntity(place, change)
  if (!entity) return `The table ${change.address.table} comes from no entity.`
  const rows = rowsByColumn(place, entity)
  switch (object.kind) {
    case 'column':
      if (object.value.generated !== undefined) return 'The design cannot say how a column is computed yet.'
      return [{ kind: 'attribute.add', entity: entity.id, attribute: newAttributeFor(object.value, dialect) }]
    case 'unique': {
      const parts = rowsOf(object.value.columns, rows)
      if (!parts) return 'It stands on a column that no attribute or link brings.'
      return [{ kind: 'unique.set', entity: entity.id, key: { id: newId('key'), name: object.value.name, parts } }]
    }
    case 'index': {
      const { name, unique, parts, where, include, method } = object.value
      const ids = rowsOf(
        parts.flatMap((part) => part.column ?? []),
        rows
      )
      if (!ids || ids.length < parts.length || where !== undefined || include || method !== undefined)
        return 'The design cannot say what this index does yet: an expression, a condition, more columns or a method.'
      const own = parts.map((part, i) => ({ id: ids[i] ?? '', descending: part.descending }))
      return [{ kind: 'index.set', entity: entity.id, index: { id: newId('idx'), name, unique, parts: own } }]
    }
    case 'check': {
      const rule = {
        id: newId('rul'),
        dbName: object.value.name,
        condition: condition(object.value.expression, rows, dialect)
      }
      return [{ kind: 'rule.set', entity: entity.id, rule }]
    }
    case 'primaryKey': {
      const parts = rowsOf(object.value.columns, rows)
      if (!parts) return 'It stands on a column that no attribute or link brings.'
      return [{ kind: 'entity.set', id: entity.id, set: { primaryKey: parts, keyName: object.value.name } }]
    }
    case 'foreignKey':
      return addedLink(object.value, entity, rows, design, place)
  }
}

/** What an entity must say of its identifier, so that the engine's numbered key is it; or why it cannot. */
function identifierFor(column: Column, design: Design, dialect: Dialect): Pick<Entity, 'identifier'> | string {
  const kind = (['integer', 'big', 'small'] as const).find(
    (k) => dialect.types.fromNeutral({ kind: k }).type === dialect.types.canonical(column.type)
  )
  if (!kind) return `A key of type ${column.type} cannot be numbered by the design.`
  const usual = dialect.types.fromNeutral({ kind: design.settings.identifier }).type
  const same = usual === dialect.types.canonical(column.type) && design.settings.identifier !== 'uuid'
  const { name, dbName } = businessName(column.name, dialect.profile, false)
  const identifier = {
    ...(name === 'id' && dbName === undefined ? {} : { name, ...(dbName === undefined ? {} : { dbName }) }),
    ...(same ? {} : { kind })
  }
  return Object.keys(identifier).length > 0 ? { identifier } : {}
}

function addedTable(table: Table, place: Place): Edits {
  const { design, dialect } = place
  if (table.columns.some((column) => column.generated !== undefined))
    return 'The design cannot say how a column is computed yet.'
  const numbered = table.columns.find((column) => column.identity)
  const key = table.primaryKey?.columns
  const taken = Object.values(design.entities).map((e) => e.name)
  const said = businessName(table.name, dialect.profile, true)
  const name = freeName(said.name, taken)
  // A table numbered by the engine under the name that an entity without a key gets has no key of its own.
  const identifier = numbered && key?.length === 1 && key[0] === numbered.name
  if (numbered && !identifier) return 'The design numbers rows only by an identifier of its own.'
  const own = identifier && numbered ? identifierFor(numbered, design, dialect) : {}
  if (typeof own === 'string') return own
  const columns = table.columns.filter((column) => column !== numbered)
  const attributes = columns.map((column) => newAttributeFor(column, dialect))
  const rows = new Map(columns.map((column, i) => [column.name, attributes[i]?.id ?? '']))
  const entity = newEntity(name, {
    id: newId('ent'),
    ...(said.dbName !== undefined || name !== said.name || design.settings.tablePrefix !== ''
      ? { dbName: table.name }
      : {}),
    ...(table.comment === undefined ? {} : { means: table.comment }),
    ...(table.schema === dialect.profile.defaultSchema ? {} : { namespace: table.schema }),
    attributes,
    order: attributes.map((a) => a.id),
    primaryKey: identifier ? [] : (rowsOf(key ?? [], rows) ?? []),
    ...(table.primaryKey ? { keyName: table.primaryKey.name } : {}),
    ...own,
    uniques: table.uniques.map((u) => ({ id: newId('key'), name: u.name, parts: rowsOf(u.columns, rows) ?? [] })),
    rules: table.checks.map((c) => ({
      id: newId('rul'),
      dbName: c.name,
      condition: condition(c.expression, rows, dialect)
    })),
    indexes: table.indexes.map((i) => ({
      id: newId('idx'),
      name: i.name,
      unique: i.unique,
      parts: i.parts.map((p) => ({ id: rows.get(p.column ?? '') ?? '', descending: p.descending }))
    }))
  })
  // Its foreign keys come when all tables are there.
  return [{ kind: 'entity.add', entity }]
}

function addedLink(
  fk: ForeignKey,
  child: Entity,
  rows: ReadonlyMap<string, string>,
  design: Design,
  place: Place
): Edits {
  const { schema, table, columns } = fk.references
  const parentTable = findTable(place.catalog, schema, table)
  const parent = parentTable?.origin ? design.entities[parentTable.origin.id] : undefined
  if (!parent || !parentTable) return `The table ${table} that it goes to comes from no entity.`
  const ids = rowsOf(fk.columns, rows)
  if (!ids) return 'It stands on a column that no attribute brings.'
  if (!ids.every((row) => child.attributes.some((a) => a.id === row)))
    return 'It stands on a column that another link brings.'
  const model = logical(design).entity(parent.id)
  const same = (list: readonly string[]) => list.length === columns.length && list.every((c) => columns.includes(c))
  const unique = parent.uniques.find((key) => {
    const made = parentTable.uniques.find((u) => u.origin?.id === key.id)
    return made && same(made.columns)
  })
  const isKey = same(parentTable.primaryKey?.columns ?? [])
  if (!isKey && !unique) return 'It goes to columns that are no key of the design.'
  const pathOf = (column: string) => {
    const origin = parentTable.columns.find((c) => c.name === column)?.origin
    return model?.columns.find((c) => c.origin.id === origin?.id && c.origin.part === origin.part)?.path
  }
  const paths = columns.map(pathOf)
  if (paths.some((path) => path === undefined)) return 'It goes to a column that no attribute brings.'
  const attributes = ids.flatMap((row) => child.attributes.find((a) => a.id === row) ?? [])
  const role = roleOf(fk, ids, paths, { place, parent, child })
  if (role) {
    const [attribute] = attributes
    const link = newLink(design, parent, child, {
      dbName: fk.name,
      parentRequired: attribute?.required ?? false,
      onDelete: fk.onDelete,
      onUpdate: fk.onUpdate,
      ...(fk.deferrable === 'no' ? {} : { deferrable: true }),
      ...(isKey || !unique ? {} : { parentKey: unique.id }),
      ...role
    })
    const id = attribute?.id ?? ''
    const order = child.order
    const next = order[order.indexOf(id) + 1]
    return [
      { kind: 'attribute.remove', entity: child.id, id },
      { kind: 'link.add', link, ...(next === undefined ? {} : { before: next }) }
    ]
  }
  const link = newLink(design, parent, child, {
    dbName: fk.name,
    parentRequired: attributes.every((a) => a.required),
    onDelete: fk.onDelete,
    onUpdate: fk.onUpdate,
    ...(fk.deferrable === 'no' ? {} : { deferrable: true }),
    ...(isKey || !unique ? {} : { parentKey: unique.id }),
    columns: Object.fromEntries(paths.map((path, i) => [path ?? '', ids[i] ?? '']))
  })
  return [{ kind: 'link.add', link }]
}

/**
 * The role that a link needs to bring a foreign key's only column itself, where that column has just been taken and says
 * nothing more than the link would: a foreign key stands in the design once, as a link.
 */
function roleOf(
  fk: ForeignKey,
  ids: readonly string[],
  paths: readonly (string | undefined)[],
  { place, parent, child }: { place: Place; parent: Entity; child: Entity }
): { role?: string } | undefined {
  const [id] = ids
  const [column] = fk.columns
  const fresh =
    place.edits?.some(
      (e) =>
        (e.kind === 'attribute.add' && e.attribute.id === id) || (e.kind === 'entity.add' && e.entity.id === child.id)
    ) === true
  const attribute = child.attributes.find((a) => a.id === id)
  const key = logical(place.design)
    .entity(parent.id)
    ?.columns.find((c) => c.path === paths[0])
  if (ids.length !== 1 || !fresh || !attribute || !key || column === undefined) return undefined
  const used = [
    ...child.primaryKey,
    ...child.uniques.flatMap((u) => u.parts),
    ...child.indexes.flatMap((i) => i.parts.map((p) => p.id))
  ]
  const plain =
    attribute.default === undefined &&
    attribute.means === undefined &&
    JSON.stringify(attribute.type) === JSON.stringify(key.type) &&
    !used.includes(attribute.id) &&
    !child.rules.some((rule) => rule.condition.includes(`{${attribute.id}}`))
  const end = `_${key.dbName}`.toLowerCase()
  const name = column.toLowerCase()
  if (!plain || !name.endsWith(end) || name.length === end.length) return undefined
  const said = name.slice(0, -end.length).replaceAll('_', ' ')
  return plainName(parent.name) === name.slice(0, -end.length) ? {} : { role: said }
}

function removed(change: Of<'drop'>, place: Place): Edits {
  const { design } = place
  const origin = objectOrigin(place, change) ?? change.origin
  const { entity, attribute, link } = ownerOf(design, origin?.id)
  const { kind } = change.address
  if (kind === 'table') {
    if (entity && !link) return [{ kind: 'entity.remove', id: entity.id }]
    return link ? [{ kind: 'link.remove', id: link.id }] : 'It comes from nothing in the design.'
  }
  if (!entity || !origin) return 'It comes from nothing in the design.'
  switch (kind) {
    case 'column':
      if (attribute) return [{ kind: 'attribute.remove', entity: entity.id, id: attribute.id }]
      return link ? [{ kind: 'link.remove', id: link.id }] : 'It is what tells one row from another.'
    case 'unique':
      if (link) return [{ kind: 'link.set', id: link.id, set: { kind: 'one-to-many' } }]
      return [{ kind: 'unique.remove', entity: entity.id, id: origin.id }]
    case 'index':
      return [{ kind: 'index.remove', entity: entity.id, id: origin.id }]
    case 'check':
      if (!attribute) return [{ kind: 'rule.remove', entity: entity.id, id: origin.id }]
      return [{ kind: 'attribute.set', entity: entity.id, id: attribute.id, set: withoutCheck(attribute, origin.part) }]
    case 'foreignKey':
      return link ? [{ kind: 'link.remove', id: link.id }] : 'It joins a subtype to its supertype.'
    case 'primaryKey':
      return 'An entity always has a key in the design.'
  }
}

function withoutCheck(attribute: Attribute, part: string): Partial<Omit<Attribute, 'id'>> {
  if (part === 'range') return { min: undefined, max: undefined } as unknown as Partial<Attribute>
  const { type } = attribute
  if (type.kind !== 'oneOf') return {}
  return { type: { kind: 'text', length: Math.max(20, ...type.values.map((value) => [...value].length)) } }
}

function renamed(change: Of<'rename'>, place: Place): Edits {
  const { design } = place
  const origin = objectOrigin(place, change) ?? change.origin
  const { entity, attribute, link } = ownerOf(design, origin?.id)
  const { to } = change
  switch (change.address.kind) {
    case 'table':
      if (link) return [{ kind: 'link.set', id: link.id, set: { dbName: to } }]
      return entity
        ? [{ kind: 'entity.set', id: entity.id, set: { dbName: to } }]
        : 'It comes from nothing in the design.'
    case 'column':
      if (entity && origin?.part === 'identifier')
        return [{ kind: 'entity.set', id: entity.id, set: { identifier: { ...entity.identifier, dbName: to } } }]
      if (!entity || !attribute) return 'Its name follows from the key that a link brings.'
      return [{ kind: 'attribute.set', entity: entity.id, id: attribute.id, set: { dbName: to } }]
    case 'primaryKey':
      return entity && !link
        ? [{ kind: 'entity.set', id: entity.id, set: { keyName: to } }]
        : 'Its name follows from the link.'
    case 'foreignKey':
      return link ? [{ kind: 'link.set', id: link.id, set: { dbName: to } }] : 'It joins a subtype to its supertype.'
    default: {
      if (!entity || !origin) return 'It comes from nothing in the design.'
      const [key, index, rule] = [
        entity.uniques.find((k) => k.id === origin.id),
        entity.indexes.find((i) => i.id === origin.id),
        entity.rules.find((r) => r.id === origin.id)
      ]
      if (key) return [{ kind: 'unique.set', entity: entity.id, key: { ...key, name: to } }]
      if (index) return [{ kind: 'index.set', entity: entity.id, index: { ...index, name: to } }]
      if (rule) return [{ kind: 'rule.set', entity: entity.id, rule: { ...rule, dbName: to } }]
      return 'Its name follows from an attribute.'
    }
  }
}

function altered(change: Of<'alter'>, place: Place): Edits {
  const { design, dialect } = place
  const origin = objectOrigin(place, change) ?? change.origin
  const { entity, attribute, link } = ownerOf(design, origin?.id)
  const { kind } = change.address
  const to = change.to
  if (!origin) return 'It comes from nothing in the design.'
  if (kind === 'table') {
    if (change.property !== 'comment') return 'The design cannot say this yet.'
    const means = to as string | undefined
    if (link) return [{ kind: 'link.set', id: link.id, set: { means } as Partial<Link> }]
    return entity
      ? [{ kind: 'entity.set', id: entity.id, set: { means } as Partial<Entity> }]
      : 'It comes from nothing in the design.'
  }
  if (!entity) return 'It comes from nothing in the design.'
  if (kind === 'column') {
    if (!attribute) {
      const kind = (['integer', 'big', 'small'] as const).find(
        (k) => dialect.types.fromNeutral({ kind: k }).type === to
      )
      if (origin.part === 'identifier' && change.property === 'type' && kind)
        return [{ kind: 'entity.set', id: entity.id, set: { identifier: { ...entity.identifier, kind } } }]
      if (link && change.property === 'nullable')
        return [{ kind: 'link.set', id: link.id, set: { parentRequired: to !== true } }]
      return 'It follows from the key that a link brings: take the change of that key.'
    }
    const set = (values: Partial<Omit<Attribute, 'id'>>): Edit[] => [
      { kind: 'attribute.set', entity: entity.id, id: attribute.id, set: values }
    ]
    switch (change.property) {
      case 'type':
        return set({ type: newAttributeFor({ name: 'x', type: String(to), nullable: true }, dialect).type })
      case 'nullable':
        return set({ required: to !== true })
      case 'default':
        return set({ default: defaultText(to as string | undefined, attribute) } as Partial<Attribute>)
      case 'comment':
        return set({ means: to as string | undefined } as Partial<Attribute>)
      default:
        return 'The design cannot say this yet.'
    }
  }
  if (kind === 'foreignKey') {
    if (!link) return 'It joins a subtype to its supertype.'
    if (change.property === 'onDelete' || change.property === 'onUpdate')
      return [{ kind: 'link.set', id: link.id, set: { [change.property]: to } as Partial<Link> }]
    if (change.property === 'deferrable') return [{ kind: 'link.set', id: link.id, set: { deferrable: to !== 'no' } }]
    return 'It goes to another table, or by other columns: take it by leaving the old link and adding a new one.'
  }
  const rows = rowsByColumn(place, entity)
  const rule = entity.rules.find((r) => r.id === origin.id)
  if (kind === 'check' && change.property === 'expression') {
    if (rule)
      return [
        { kind: 'rule.set', entity: entity.id, rule: { ...rule, condition: condition(String(to), rows, dialect) } }
      ]
    const values = attribute && valuesOf(String(to), dialect)
    if (attribute && values && attribute.type.kind === 'oneOf')
      return [{ kind: 'attribute.set', entity: entity.id, id: attribute.id, set: { type: { kind: 'oneOf', values } } }]
    return 'It follows from what an attribute allows, and the design cannot say it in that way.'
  }
  const key = entity.uniques.find((k) => k.id === origin.id)
  if (kind === 'unique' && change.property === 'columns' && key && Array.isArray(to)) {
    const parts = rowsOf(to.map(String), rows)
    return parts
      ? [{ kind: 'unique.set', entity: entity.id, key: { ...key, parts } }]
      : 'It stands on a column that no attribute or link brings.'
  }
  const index = entity.indexes.find((i) => i.id === origin.id)
  if (kind === 'index' && index && change.property === 'unique')
    return [{ kind: 'index.set', entity: entity.id, index: { ...index, unique: to === true } }]
  return 'The design cannot say this yet.'
}

/** The values of `x IN ('a', 'b')`, in whatever words the engine prints it. */
function valuesOf(expression: string, { write: { lexis } }: Dialect): string[] | undefined {
  const strings = significant(expression, lexis).flatMap((token) => textOf(token, lexis) ?? [])
  return strings.length ? strings : undefined
}
