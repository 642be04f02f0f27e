// What is new in a database, as edits of the design: a table, a column, a key, a check, an index, a link.
import {
  findTable,
  isFree,
  namesOf,
  typeText,
  type CatalogObject,
  type Change,
  type Column,
  type ForeignKey,
  type Table
} from '../catalog'
import { logical, plainName } from '../derive'
import { freeName, newEntity, newId, newLink, type Design, type Entity } from '../design'
import type { Dialect } from '../dialects'
import { businessName } from './names'
import {
  NOT_DESIGNED,
  type Place,
  type Edits,
  homeEntity,
  rowsByColumn,
  rowsOf,
  condition,
  newAttributeFor
} from './place'

export function added(object: CatalogObject, change: Change, place: Place): Edits {
  const { design, dialect } = place
  if (object.kind === 'table') return addedTable(object.value, place)
  if (isFree(object.kind)) return NOT_DESIGNED
  const entity = homeEntity(place, change)
  if (!entity) return `The table ${namesOf(change.address).table} comes from no entity.`
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
    default:
      return NOT_DESIGNED
  }
}

/** What an entity must say of its identifier, so that the engine's numbered key is it; or why it cannot. */
function identifierFor(column: Column, design: Design, dialect: Dialect): Pick<Entity, 'identifier'> | string {
  const { types } = dialect
  const kind = (['integer', 'big', 'small'] as const).find((k) =>
    types.same(types.fromNeutral({ kind: k }).type, column.type)
  )
  if (!kind) return `A key of type ${typeText(column.type)} cannot be numbered by the design.`
  const usual = types.fromNeutral({ kind: design.settings.identifier }).type
  const isUsual = types.same(usual, column.type) && design.settings.identifier !== 'uuid'
  const { name, dbName } = businessName(column.name, dialect.profile, false)
  const identifier = {
    ...(name === 'id' && dbName === undefined ? {} : { name, ...(dbName === undefined ? {} : { dbName }) }),
    ...(isUsual ? {} : { kind })
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
