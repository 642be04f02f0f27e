// Edits: plain functions from a design to a design. What an edit removes, it removes with all that pointed at it.
import type {
  Area,
  Attribute,
  CollectionName,
  Design,
  Diagram,
  Entity,
  Index,
  Key,
  Link,
  Place,
  Rule,
  Settings,
  Subtypes,
  Target
} from './schema'

export type Edit =
  | { readonly kind: 'design.set'; readonly set: { readonly name?: string; readonly settings?: Settings } }
  | { readonly kind: 'entity.add'; readonly entity: Entity }
  | { readonly kind: 'entity.set'; readonly id: string; readonly set: Partial<Omit<Entity, 'id' | 'attributes'>> }
  | { readonly kind: 'entity.remove'; readonly id: string }
  /** `before` is the id of a row (attribute or link) of the entity; at the end when absent. */
  | { readonly kind: 'attribute.add'; readonly entity: string; readonly attribute: Attribute; readonly before?: string }
  | {
      readonly kind: 'attribute.set'
      readonly entity: string
      readonly id: string
      readonly set: Partial<Omit<Attribute, 'id'>>
    }
  | { readonly kind: 'attribute.remove'; readonly entity: string; readonly id: string }
  | { readonly kind: 'row.move'; readonly entity: string; readonly id: string; readonly before?: string }
  /** Puts an attribute or link into the primary key, or takes it out; a link becomes identifying with it. */
  | { readonly kind: 'key.toggle'; readonly entity: string; readonly id: string }
  | { readonly kind: 'unique.set'; readonly entity: string; readonly key: Key }
  | { readonly kind: 'unique.remove'; readonly entity: string; readonly id: string }
  | { readonly kind: 'index.set'; readonly entity: string; readonly index: Index }
  | { readonly kind: 'index.remove'; readonly entity: string; readonly id: string }
  | { readonly kind: 'rule.set'; readonly entity: string; readonly rule: Rule }
  | { readonly kind: 'rule.remove'; readonly entity: string; readonly id: string }
  | { readonly kind: 'link.add'; readonly link: Link; readonly before?: string }
  | { readonly kind: 'link.set'; readonly id: string; readonly set: Partial<Omit<Link, 'id'>> }
  | { readonly kind: 'link.remove'; readonly id: string }
  | { readonly kind: 'subtypes.set'; readonly subtypes: Subtypes }
  | { readonly kind: 'subtypes.remove'; readonly id: string }
  | { readonly kind: 'area.set'; readonly area: Area }
  | { readonly kind: 'area.remove'; readonly id: string }
  | { readonly kind: 'diagram.set'; readonly diagram: Diagram }
  | { readonly kind: 'diagram.remove'; readonly id: string }
  | { readonly kind: 'diagram.place'; readonly id: string; readonly places: Readonly<Record<string, Place>> }
  | { readonly kind: 'target.set'; readonly target: Target }
  | { readonly kind: 'target.remove'; readonly id: string }
  /** Several edits that are one to the person who makes them. */
  | { readonly kind: 'all'; readonly edits: readonly Edit[] }

/** The design after an edit. An edit of something that is not there gives the same design. */
export function edit(design: Design, e: Edit): Design {
  switch (e.kind) {
    case 'all':
      return e.edits.reduce(edit, design)
    case 'design.set':
      return { ...design, ...e.set }
    case 'entity.add':
      return put(design, 'entities', e.entity)
    case 'entity.set':
      return withEntity(design, e.id, (entity) => tidy({ ...entity, ...e.set }))
    case 'entity.remove':
      return removeEntity(design, e.id)
    case 'attribute.add':
      return withEntity(design, e.entity, (entity) => ({
        ...entity,
        attributes: [...entity.attributes, e.attribute],
        order: insert(rowIds(design, entity), e.attribute.id, e.before)
      }))
    case 'attribute.set':
      return withEntity(design, e.entity, (entity) => ({
        ...entity,
        attributes: entity.attributes.map((a) => (a.id === e.id ? tidy({ ...a, ...e.set }) : a))
      }))
    case 'attribute.remove':
      return removeAttribute(design, e.entity, e.id)
    case 'row.move':
      return withEntity(design, e.entity, (entity) => ({
        ...entity,
        order: insert(rowIds(design, entity), e.id, e.before)
      }))
    case 'key.toggle':
      return toggleKey(design, e.entity, e.id)
    case 'unique.set':
      return withEntity(design, e.entity, (entity) => ({ ...entity, uniques: putIn(entity.uniques, e.key) }))
    case 'unique.remove':
      return removeUnique(design, e.entity, e.id)
    case 'index.set':
      return withEntity(design, e.entity, (entity) => ({ ...entity, indexes: putIn(entity.indexes, e.index) }))
    case 'index.remove':
      return withEntity(design, e.entity, (entity) => ({
        ...entity,
        indexes: entity.indexes.filter((i) => i.id !== e.id)
      }))
    case 'rule.set':
      return withEntity(design, e.entity, (entity) => ({ ...entity, rules: putIn(entity.rules, e.rule) }))
    case 'rule.remove':
      return withEntity(design, e.entity, (entity) => ({ ...entity, rules: entity.rules.filter((r) => r.id !== e.id) }))
    case 'link.add':
      return addLink(design, e.link, e.before)
    case 'link.set':
      return setLink(design, e.id, e.set)
    case 'link.remove':
      return removeLink(design, e.id)
    case 'subtypes.set':
      return put(design, 'subtypes', e.subtypes)
    case 'subtypes.remove':
      return without(design, 'subtypes', e.id)
    case 'area.set':
      return put(design, 'areas', e.area)
    case 'area.remove':
      return removeArea(design, e.id)
    case 'diagram.set':
      return put(design, 'diagrams', e.diagram)
    case 'diagram.remove':
      return without(design, 'diagrams', e.id)
    case 'diagram.place': {
      const diagram = design.diagrams[e.id]
      return diagram ? put(design, 'diagrams', { ...diagram, places: { ...diagram.places, ...e.places } }) : design
    }
    case 'target.set':
      return put(design, 'targets', e.target)
    case 'target.remove':
      return without(design, 'targets', e.id)
  }
}

const put = <C extends CollectionName>(design: Design, collection: C, object: Design[C][string]): Design => ({
  ...design,
  [collection]: { ...design[collection], [object.id]: object }
})

function without(design: Design, collection: CollectionName, id: string): Design {
  const entries = Object.entries(design[collection]).filter(([key]) => key !== id)
  return { ...design, [collection]: Object.fromEntries(entries) }
}

function withEntity(design: Design, id: string, change: (entity: Entity) => Entity): Design {
  const entity = design.entities[id]
  return entity ? put(design, 'entities', change(entity)) : design
}

/** Without the fields that were set to nothing. */
const tidy = <T extends object>(object: T): T =>
  Object.fromEntries(Object.entries(object).filter(([, value]) => value !== undefined)) as T

const putIn = <T extends { readonly id: string }>(list: readonly T[], item: T): T[] =>
  list.some(({ id }) => id === item.id) ? list.map((old) => (old.id === item.id ? item : old)) : [...list, item]

/** The list with an id at a place, taken from where it was. */
function insert(list: readonly string[], id: string, before: string | undefined): string[] {
  if (id === before) return [...list]
  const rest = list.filter((other) => other !== id)
  const at = before === undefined ? -1 : rest.indexOf(before)
  return at < 0 ? [...rest, id] : [...rest.slice(0, at), id, ...rest.slice(at)]
}

/**
 * The rows of an entity in order: its attributes, and the links that bring it a parent's key. Links that were
 * never placed come first when they identify, else last.
 */
export function rowIds(design: Design, entity: Entity): string[] {
  const links = linksByChild(design).get(entity.id) ?? []
  const known = new Set([...entity.attributes.map((a) => a.id), ...links.map((l) => l.id)])
  const placed = entity.order.filter((id) => known.delete(id))
  const left = [...known]
  const leads = (id: string) => design.links[id]?.identifying === true
  return [...left.filter(leads), ...placed, ...left.filter((id) => !leads(id))]
}

const byChild = new WeakMap<Design['links'], Map<string, Link[]>>()

/** The links that bring keys, by the entity they end at; worked out once for a set of links. */
function linksByChild(design: Design): Map<string, Link[]> {
  const known = byChild.get(design.links)
  if (known) return known
  const made = new Map<string, Link[]>()
  for (const link of Object.values(design.links)) {
    if (link.kind === 'many-to-many') continue
    const list = made.get(link.child)
    if (list) list.push(link)
    else made.set(link.child, [link])
  }
  byChild.set(design.links, made)
  return made
}

const dropPart = (entity: Entity, id: string): Entity => ({
  ...entity,
  order: entity.order.filter((other) => other !== id),
  primaryKey: entity.primaryKey.filter((other) => other !== id),
  uniques: entity.uniques
    .map((key) => ({ ...key, parts: key.parts.filter((p) => p !== id) }))
    .filter((key) => key.parts.length > 0),
  indexes: entity.indexes
    .map((index) => ({ ...index, parts: index.parts.filter((p) => p.id !== id) }))
    .filter((index) => index.parts.length > 0)
})

function removeAttribute(design: Design, entityId: string, id: string): Design {
  const smaller = withEntity(design, entityId, (entity) => ({
    ...dropPart(entity, id),
    attributes: entity.attributes.filter((a) => a.id !== id),
    rules: entity.rules.filter((rule) => !rule.condition.includes(`{${id}}`))
  }))
  const links = Object.values(smaller.links).filter((link) => Object.values(link.columns).includes(id))
  return links.reduce(
    (d, link) =>
      put(d, 'links', {
        ...link,
        columns: Object.fromEntries(Object.entries(link.columns).filter(([, own]) => own !== id))
      }),
    dropStaleKeys(smaller)
  )
}

function removeUnique(design: Design, entity: string, id: string): Design {
  return dropStaleKeys(withEntity(design, entity, (e) => ({ ...e, uniques: e.uniques.filter((key) => key.id !== id) })))
}

/** Links to a unique key that is gone go to the primary key. */
function dropStaleKeys(design: Design): Design {
  const stale = Object.values(design.links).filter(
    (link) =>
      link.parentKey !== undefined && !design.entities[link.parent]?.uniques.some((key) => key.id === link.parentKey)
  )
  return stale.reduce((d, link) => put(d, 'links', tidy({ ...link, parentKey: undefined, columns: {} })), design)
}

function removeEntity(design: Design, id: string): Design {
  let result = design
  for (const link of Object.values(design.links))
    if (link.parent === id || link.child === id) result = removeLink(result, link.id)
  for (const group of Object.values(result.subtypes)) {
    if (group.supertype === id) result = without(result, 'subtypes', group.id)
    else if (group.subtypes.includes(id)) {
      const subtypes = group.subtypes.filter((other) => other !== id)
      result = subtypes.length ? put(result, 'subtypes', { ...group, subtypes }) : without(result, 'subtypes', group.id)
    }
  }
  for (const diagram of Object.values(result.diagrams))
    if (diagram.places[id]) {
      const places = Object.fromEntries(Object.entries(diagram.places).filter(([key]) => key !== id))
      result = put(result, 'diagrams', { ...diagram, places })
    }
  return without(result, 'entities', id)
}

function removeArea(design: Design, id: string): Design {
  let result = without(design, 'areas', id)
  for (const entity of Object.values(result.entities))
    if (entity.area === id) result = withEntity(result, entity.id, (e) => tidy({ ...e, area: undefined }))
  for (const diagram of Object.values(result.diagrams))
    if (diagram.area === id) result = without(result, 'diagrams', diagram.id)
  return result
}

function addLink(design: Design, link: Link, before: string | undefined): Design {
  const result = put(design, 'links', link)
  return link.kind === 'many-to-many' ? result : settle(result, link.id, before)
}

function setLink(design: Design, id: string, set: Partial<Omit<Link, 'id'>>): Design {
  const link = design.links[id]
  if (!link) return design
  const changed = tidy({ ...link, ...set })
  // Another parent, child or key means other columns.
  const same = changed.parent === link.parent && changed.child === link.child && changed.parentKey === link.parentKey
  const moved = link.child !== changed.child || changed.kind === 'many-to-many'
  const base = moved ? withEntity(design, link.child, (entity) => dropPart(entity, id)) : design
  return settle(put(base, 'links', same ? changed : { ...changed, columns: set.columns ?? {} }), id)
}

/** Puts a link where it belongs in its child: among the rows, and in the key exactly when it identifies. */
function settle(design: Design, id: string, before?: string): Design {
  const link = design.links[id]
  if (!link || link.kind === 'many-to-many') return design
  const required =
    link.identifying && !link.parentRequired ? put(design, 'links', { ...link, parentRequired: true }) : design
  return withEntity(required, link.child, (entity) => {
    const rows = rowIds(required, entity)
    // A parent's key leads the key it joins, unless somebody has put it elsewhere.
    const first = link.identifying ? rows.find((row) => row !== id) : undefined
    const order = entity.order.includes(id) && before === undefined ? entity.order : insert(rows, id, before ?? first)
    const others = entity.primaryKey.filter((other) => other !== id)
    const primaryKey = !link.identifying ? others : entity.primaryKey.includes(id) ? entity.primaryKey : [id, ...others]
    return { ...entity, order, primaryKey }
  })
}

function removeLink(design: Design, id: string): Design {
  const link = design.links[id]
  if (!link) return design
  return withEntity(without(design, 'links', id), link.child, (entity) => dropPart(entity, id))
}

function toggleKey(design: Design, entityId: string, id: string): Design {
  const link = design.links[id]
  if (link) return setLink(design, id, { identifying: !link.identifying })
  return withEntity(design, entityId, (entity) => {
    if (entity.primaryKey.includes(id))
      return { ...entity, primaryKey: entity.primaryKey.filter((other) => other !== id) }
    const rank = new Map(rowIds(design, entity).map((row, i) => [row, i]))
    const primaryKey = [...entity.primaryKey, id].sort((a, b) => (rank.get(a) ?? 0) - (rank.get(b) ?? 0))
    // A key cannot be empty.
    return {
      ...entity,
      primaryKey,
      attributes: entity.attributes.map((a) => (a.id === id ? { ...a, required: true } : a))
    }
  })
}
