// Attributes that hold others, where a target keeps them in tables of their own: as entities that the rest need not know from others.
import {
  allAttributes,
  fieldsOf,
  newAttribute,
  newEntity,
  own,
  rowIds,
  type Attribute,
  type Design,
  type Entity,
  type Link,
  type Target
} from '../design'
import type { Notice } from '../notice'
import { holdsFields, isPlain, type NeutralType } from '../types'

export interface Flattened {
  readonly design: Design
  readonly notices: readonly Notice[]
}

/** Whether an attribute can have a table of its own: one that may be of several types cannot. */
export const canBeTable = ({ type }: Pick<Attribute, 'type'>): boolean => !isPlain(type) && type.kind !== 'either'

/**
 * The design as a target's tables have it: what is nested and has a table there is an entity of the attribute's id, part of the one
 * that it was in. The same design where there is none.
 */
export function flattened(design: Design, { nested = {} }: Pick<Target, 'nested'>): Flattened {
  const chosen = new Set(Object.keys(nested).filter((id) => own(nested, id) === 'table'))
  if (chosen.size === 0) return { design, notices: [] }
  const notices: Notice[] = []
  const entities: Record<string, Entity> = { ...design.entities }
  const links: Record<string, Link> = { ...design.links }
  const open = Object.values(design.entities)
  for (let entity = open.pop(); entity; entity = open.pop()) {
    const moved = entity.attributes.filter((one) => chosen.has(one.id) && canBeTable(one))
    if (moved.length === 0) continue
    const gone = new Set(moved.map(({ id }) => id))
    entities[entity.id] = without(entity, gone, rowIds(design, entity), notices)
    for (const attribute of moved) {
      const made = tableOf(attribute, entity, design)
      entities[made.entity.id] = made.entity
      for (const link of made.links) links[link.id] = link
      open.push(made.entity)
    }
  }
  return { design: { ...design, entities, links }, notices }
}

/** The entity without some of its columns, and without what stands on them. */
function without(entity: Entity, gone: ReadonlySet<string>, order: readonly string[], notices: Notice[]): Entity {
  const stays = (kind: string, id: string, parts: readonly string[]) => {
    const lost = parts.some((part) => gone.has(part))
    if (lost)
      notices.push({
        code: 'nested-part',
        severity: 'warning',
        where: id,
        message: `${kind} of ${entity.name} is left out here: it stands on what has a table of its own.`
      })
    return !lost
  }
  const named = (text: string) => [...text.matchAll(/\{([^}]+)\}/g)].map(([, id = '']) => id)
  return {
    ...entity,
    attributes: entity.attributes.filter(({ id }) => !gone.has(id)),
    order: order.filter((id) => !gone.has(id)),
    primaryKey: entity.primaryKey.filter((id) => !gone.has(id)),
    uniques: entity.uniques.filter(({ id, parts }) => stays('A unique key', id, parts)),
    indexes: entity.indexes.filter(({ id, parts, where = '' }) =>
      stays('An index', id, [...parts.map((part) => part.id), ...named(where)])
    ),
    rules: entity.rules.filter(({ id, condition }) => stays('A rule', id, named(condition)))
  }
}

/** What an attribute holds as an entity, and the links by which its rows are a part of where it stood, and lead to others. */
function tableOf(attribute: Attribute, entity: Entity, design: Design): { entity: Entity; links: Link[] } {
  const { id, type } = attribute
  const many = type.kind === 'list' || type.kind === 'map'
  const of: NeutralType = many ? type.of : type
  // The place in the list, or the key of the map, tells the rows of one parent apart.
  const place = many
    ? [
        newAttribute(type.kind === 'map' ? 'key' : 'position', {
          id: `${id}:position`,
          type: type.kind === 'map' ? type.key : { kind: 'integer' },
          required: true
        })
      ]
    : []
  const link: Link = {
    id: `${id}:of`,
    parent: entity.id,
    child: id,
    kind: many ? 'one-to-many' : 'one-to-one',
    identifying: true,
    parentRequired: true,
    childRequired: !many && attribute.required,
    onDelete: 'cascade',
    onUpdate: 'no action',
    columns: {}
  }
  const rows = [...place, ...(of.kind === 'object' ? fieldsOf(attribute) : [valueOf(attribute, of)])]
  const leading = rows.flatMap((row) => leadingLink(row, id, design))
  const attributes = rows.filter((row) => !leading.some((one) => one.id === row.id))
  return {
    links: [link, ...leading],
    entity: newEntity(`${entity.name} ${attribute.name}`, {
      id,
      ...(attribute.dbName === undefined ? {} : { dbName: attribute.dbName }),
      ...(entity.namespace === undefined ? {} : { namespace: entity.namespace }),
      ...(attribute.means === undefined ? {} : { means: attribute.means }),
      attributes,
      order: [link.id, ...rows.map((one) => one.id)],
      primaryKey: [link.id, ...place.map((one) => one.id)],
      without: Object.keys(design.commons)
    })
  }
}

/** A field that leads to an entity is a link, in a table; many that do so are a list. */
function leadingLink(
  { id, name, dbName, means, required, type, leadsTo }: Attribute,
  child: string,
  design: Design
): Link[] {
  const parent = leadsTo === undefined ? undefined : design.entities[leadsTo]
  if (!parent || !isPlain(type)) return []
  return [
    {
      id,
      parent: parent.id,
      child,
      kind: 'one-to-many',
      identifying: false,
      parentRequired: required,
      childRequired: false,
      onDelete: 'restrict',
      onUpdate: 'no action',
      columns: {},
      ...(name.toLowerCase() === parent.name.toLowerCase() || name === VALUE ? {} : { role: name }),
      ...(dbName === undefined ? {} : { dbName }),
      ...(means === undefined ? {} : { means })
    }
  ]
}

/** What is called so is one of many values. */
const VALUE = 'value'

/** One of many values; what holds fields within it keeps them. */
function valueOf({ id, min, max, letters, fields, leadsTo }: Attribute, type: NeutralType): Attribute {
  return newAttribute(VALUE, {
    id: `${id}:value`,
    type,
    required: true,
    ...(min === undefined ? {} : { min }),
    ...(max === undefined ? {} : { max }),
    ...(letters === undefined ? {} : { letters }),
    ...(leadsTo === undefined ? {} : { leadsTo }),
    ...(fields !== undefined && holdsFields(type) ? { fields } : {})
  })
}

/** The attributes of a design that hold others and can have tables of their own, in the order of their entities. */
export const nestedIn = (design: Design): { readonly entity: Entity; readonly attribute: Attribute }[] =>
  Object.values(design.entities).flatMap((entity) =>
    allAttributes(entity)
      .filter(canBeTable)
      .map((attribute) => ({ entity, attribute }))
  )
