// What is new in a database, as edits of the design: a table, a column, a key, a check, an index, a link.
import {
  findTable,
  holdingLink,
  holderOf,
  isFree,
  leafOf,
  namesOf,
  typeText,
  type CatalogObject,
  type Change,
  type ForeignKey,
  type Table
} from '../catalog'
import { logical } from '../derive'
import { IDENTIFIER, Names, newLink, ownerOf, type Design, type Entity } from '../design'
import { entityOf, indexOf, linkSays, roleOf, ruleOf, uniqueOf } from './entity'
import { identifierOf } from './identifier'
import { NOT_DESIGNED, type Place, type Edits, homeEntity, rowsByColumn, rowsOf, newAttributeFor } from './place'

export function added(object: CatalogObject, change: Change, place: Place): Edits {
  const { design, dialect } = place
  if (object.kind === 'table') return addedTable(object.value, place)
  if (isFree(object.kind)) return NOT_DESIGNED
  const entity = homeEntity(place, change)
  if (!entity) return `The table ${namesOf(change.address).table} comes from no entity.`
  const rows = rowsByColumn(place, entity)
  switch (object.kind) {
    case 'column': {
      if (object.value.generated !== undefined) return 'The design cannot say how a column is computed yet.'
      const { name } = object.value
      const path = dialect.profile.features.fields ? holderOf(name) : undefined
      const column = path === undefined ? object.value : { ...object.value, name: leafOf(name) }
      const holder = path === undefined ? { entity } : holderAt(path, place, change)
      if (!holder) return `${path ?? ''}, which it is in, comes from no attribute.`
      return [
        {
          kind: 'attribute.add',
          entity: holder.entity.id,
          attribute: newAttributeFor(column, { dialect, settings: design.settings }),
          ...(holder.within === undefined ? {} : { within: holder.within })
        }
      ]
    }
    case 'unique': {
      const key = uniqueOf(object.value, rows)
      return key
        ? [{ kind: 'part.set', list: 'uniques', entity: entity.id, part: key }]
        : 'It stands on a column that no attribute or link brings.'
    }
    case 'index': {
      const { include, method } = object.value
      const index = include || method !== undefined ? undefined : indexOf(object.value, rows, dialect)
      return index
        ? [{ kind: 'part.set', list: 'indexes', entity: entity.id, part: index }]
        : 'The design cannot say what this index does yet: an expression, more columns or a method.'
    }
    case 'check':
      return [{ kind: 'part.set', list: 'rules', entity: entity.id, part: ruleOf(object.value, rows, dialect) }]
    case 'primaryKey': {
      const parts = rowsOf(object.value.columns, rows)
      if (!parts?.every((part) => part !== IDENTIFIER)) return 'It stands on a column that no attribute or link brings.'
      return [{ kind: 'entity.set', id: entity.id, set: { primaryKey: parts, ...keyNamed(object.value.name, place) } }]
    }
    case 'foreignKey':
      return addedLink(object.value, entity, rows, design, place)
    default:
      return NOT_DESIGNED
  }
}

/** A name that the engine gives is nobody's. */
const keyNamed = (name: string, { dialect }: Place): { keyName?: string } =>
  dialect.profile.names.given?.test(name) ? {} : { keyName: name }

/** What a field is in: an attribute that holds others, or the documents of an entity that are kept in another's. */
function holderAt(
  path: string,
  { catalog, design }: Place,
  { address }: Change
): { readonly entity: Entity; readonly within?: string } | undefined {
  const { schema, table } = namesOf(address)
  const origin = findTable(catalog, schema, table)?.columns.find(({ name }) => name === path)?.origin
  const { entity, attribute } = ownerOf(design, origin?.id)
  if (!origin || !entity) return undefined
  // Of two that lead to many of each other, only the keys are kept there.
  const isPair = design.links[origin.id] !== undefined
  if (holdingLink(origin) !== undefined) return isPair ? undefined : { entity }
  return attribute ? { entity, within: attribute.id } : undefined
}

function addedTable(table: Table, place: Place): Edits {
  const { design, dialect } = place
  const { settings } = design
  if (table.columns.some((column) => column.generated !== undefined))
    return 'The design cannot say how a column is computed yet.'
  const numbered = table.columns.find((column) => column.identity)
  const key = table.primaryKey?.columns
  // A table numbered by the engine under the name that an entity without a key gets has no key of its own.
  const identifier = numbered && key?.length === 1 && key[0] === numbered.name
  if (numbered && !identifier) return 'The design numbers rows only by an identifier of its own.'
  const own = identifier && numbered ? identifierOf(numbered, design, dialect) : undefined
  if (numbered && !own) return `A key of type ${typeText(numbered.type)} cannot be numbered by the design.`
  const { entity } = entityOf(table, {
    dialect,
    settings,
    attribute: (column, name) => newAttributeFor(column, { dialect, settings }, name),
    names: new Names(Object.values(design.entities).map((e) => e.name)),
    identifier: own,
    keepName: settings.tablePrefix !== ''
  })
  // Its foreign keys come when all tables are there.
  return [{ kind: 'object.set', collection: 'entities', object: entity }]
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
  const parentKey = isKey ? undefined : unique?.id
  const [attribute] = attributes
  const key = model?.columns.find((column) => column.path === paths[0])
  const role =
    ids.length === 1 && attribute && key && isFresh(place, child, attribute.id)
      ? roleOf(fk.columns[0] ?? '', attribute, key, { parent, child, settings: design.settings })
      : undefined
  if (role && attribute) {
    const link = newLink(design, parent, child, { ...linkSays(fk, attribute.required, parentKey), ...role })
    const order = child.order
    const next = order[order.indexOf(attribute.id) + 1]
    return [
      { kind: 'attribute.remove', entity: child.id, id: attribute.id },
      { kind: 'link.add', link, ...(next === undefined ? {} : { before: next }) }
    ]
  }
  const required = attributes.every((a) => a.required)
  const columnsOf = Object.fromEntries(paths.map((path, i) => [path ?? '', ids[i] ?? '']))
  const link = newLink(design, parent, child, { ...linkSays(fk, required, parentKey), columns: columnsOf })
  return [{ kind: 'link.add', link }]
}

/** Whether an attribute has just been taken, and nobody has said anything of it yet. */
const isFresh = ({ edits = [] }: Place, child: Entity, id: string): boolean =>
  edits.some(
    (e) =>
      (e.kind === 'attribute.add' && e.attribute.id === id) || (e.kind === 'object.set' && e.object.id === child.id)
  )
