// Edits: plain functions from a design to a design. What an edit removes, it removes with all that pointed at it.
import { holdsFields } from '../types'
import { Draft, rowsOf } from './draft'
import { removeCommon } from './commons'
import { changed, removeDomain, setDomain } from './domains'
import { replaceReferences } from './references'
import { tidy } from './tidy'
import { allAttributes, attributeIn, fieldsOf, mapTree, siblingsOf } from './tree'
import type { Attribute, CollectionName, Design, Entity, Link, Place, Settings } from './schema'

/** A whole object of a collection, in the place of the one of its id where there is one. */
type Put = {
  readonly [C in CollectionName]: {
    readonly kind: 'object.set'
    readonly collection: C
    readonly object: Design[C][string]
  }
}[CollectionName]

/** What an entity has in lists beside its attributes. */
type PartList = 'uniques' | 'indexes' | 'rules'
type PutPart = {
  readonly [L in PartList]: {
    readonly kind: 'part.set'
    readonly entity: string
    readonly list: L
    readonly part: Entity[L][number]
  }
}[PartList]

export type Edit =
  | { readonly kind: 'design.set'; readonly set: { readonly name?: string; readonly settings?: Settings } }
  | { readonly kind: 'entity.set'; readonly id: string; readonly set: Partial<Omit<Entity, 'id' | 'attributes'>> }
  /**
   * `before` is the id of a row (attribute or link) of the entity, or of another field where it is to be one `within` an
   * attribute; at the end when absent.
   */
  | {
      readonly kind: 'attribute.add'
      readonly entity: string
      readonly attribute: Attribute
      readonly within?: string
      readonly before?: string
    }
  | {
      readonly kind: 'attribute.set'
      readonly entity: string
      readonly id: string
      readonly set: Partial<Omit<Attribute, 'id'>>
    }
  | { readonly kind: 'attribute.remove'; readonly entity: string; readonly id: string }
  /** `within` is the attribute that it is to be a field of; a column of the entity when absent. */
  | {
      readonly kind: 'row.move'
      readonly entity: string
      readonly id: string
      readonly within?: string
      readonly before?: string
    }
  /** Puts an attribute or link into the primary key, or takes it out; a link becomes identifying with it. */
  | { readonly kind: 'key.toggle'; readonly entity: string; readonly id: string }
  | PutPart
  | { readonly kind: 'part.remove'; readonly entity: string; readonly list: PartList; readonly id: string }
  | { readonly kind: 'link.add'; readonly link: Link; readonly before?: string }
  | { readonly kind: 'link.set'; readonly id: string; readonly set: Partial<Omit<Link, 'id'>> }
  | { readonly kind: 'diagram.place'; readonly id: string; readonly places: Readonly<Record<string, Place>> }
  | Put
  /** It goes with all that points at it. */
  | { readonly kind: 'object.remove'; readonly collection: CollectionName; readonly id: string }
  /** Several edits that are one to the person who makes them. */
  | { readonly kind: 'all'; readonly edits: readonly Edit[] }

/** The design after an edit. An edit of something that is not there gives the same design. */
export function edit(design: Design, e: Edit): Design {
  const draft = new Draft(design)
  make(draft, e)
  return draft.done()
}

/** The design after many edits, each made on what the ones before have left: each costs what it changes. */
export class Editing {
  private readonly draft: Draft
  constructor(design: Design) {
    this.draft = new Draft(design)
  }
  edit(e: Edit): void {
    make(this.draft, e)
  }
  /** What is there by now, to look something up in; it moves on with the next edit. */
  get now(): Design {
    return this.draft.now
  }
  /** The design as it is, for good. */
  done(): Design {
    return this.draft.done()
  }
}

function make(draft: Draft, e: Edit): void {
  switch (e.kind) {
    case 'all':
      for (const one of e.edits) make(draft, one)
      return
    case 'design.set':
      return draft.set(e.set)
    case 'entity.set':
      return draft.entity(e.id, (entity) => tidy({ ...entity, ...e.set }))
    case 'attribute.add':
      return draft.entity(e.entity, (entity) => withAttribute(draft, entity, e.attribute, e.within, e.before))
    case 'attribute.set':
      return draft.entity(e.entity, (entity) => ({
        ...entity,
        attributes: mapTree(entity.attributes, (a) => (a.id === e.id ? changed(draft.now, a, e.set) : a))
      }))
    case 'attribute.remove':
      return removeAttribute(draft, e.entity, e.id)
    case 'row.move':
      return moveRow(draft, e)
    case 'key.toggle':
      return toggleKey(draft, e.entity, e.id)
    case 'part.set':
      return draft.entity(e.entity, (entity) => ({
        ...entity,
        [e.list]: putIn<{ id: string }>(entity[e.list], e.part)
      }))
    case 'part.remove':
      return removePart(draft, e.entity, e.list, e.id)
    case 'link.add':
      draft.put('links', e.link)
      return settle(draft, e.link.id, e.before)
    case 'link.set':
      return setLink(draft, e.id, e.set)
    case 'diagram.place': {
      const diagram = draft.now.diagrams[e.id]
      if (!diagram) return
      // What is put on a diagram of a few things is one of them.
      const only = diagram.only && [...new Set([...diagram.only, ...Object.keys(e.places)])]
      draft.put('diagrams', tidy({ ...diagram, places: { ...diagram.places, ...e.places }, only }))
      return
    }
    case 'object.set':
      return put(draft, e)
    case 'object.remove':
      return (REMOVE[e.collection] ?? ((d, id) => d.remove(e.collection, id)))(draft, e.id)
  }
}

/** What goes with an object of a collection; of the other collections nothing hangs on an object. */
const REMOVE: { readonly [C in CollectionName]?: (draft: Draft, id: string) => void } = {
  areas: removeArea,
  commons: (draft, id) => removeCommon(draft, id, dropPart),
  domains: removeDomain,
  entities: removeEntity,
  links: removeLink,
  subtypes: removeSubtypes,
  views: removeView
}

function put(draft: Draft, { collection, object }: Put): void {
  // The columns of a domain follow it: in type, and in what they had as the domain had it.
  if (collection === 'domains') return setDomain(draft, object)
  draft.put(collection, object)
  if (collection === 'links') settle(draft, object.id)
}

const putIn = <T extends { readonly id: string }>(list: readonly T[], item: T): T[] =>
  list.some(({ id }) => id === item.id) ? list.map((old) => (old.id === item.id ? item : old)) : [...list, item]

/** The list with an id at a place, taken from where it was. */
function insert(list: readonly string[], id: string, before: string | undefined): string[] {
  if (id === before) return [...list]
  const rest = list.filter((other) => other !== id)
  const at = before === undefined ? -1 : rest.indexOf(before)
  return at < 0 ? [...rest, id] : [...rest.slice(0, at), id, ...rest.slice(at)]
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
    .filter((index) => index.parts.length > 0 && !isNamed(index.where, id)),
  rules: entity.rules.filter(({ condition }) => !isNamed(condition, id)),
  attributes: entity.attributes.map((a) => (isNamed(a.computed, id) ? tidy({ ...a, computed: undefined }) : a))
})

/** Whether a condition speaks of a column, or of one that a link brings. */
const isNamed = (condition: string | undefined, id: string): boolean =>
  condition !== undefined && (condition.includes(`{${id}}`) || condition.includes(`{${id}/`))

/** Views that name what goes keep its name, and say that it is gone. */
function forget(draft: Draft, gone: ReadonlyMap<string, string>): void {
  const lost = (text: string) =>
    replaceReferences(text, ({ id }) => {
      const name = gone.get(id)
      return name === undefined ? undefined : `{?${name.replace(/[{}]/g, '')}}`
    })
  for (const view of Object.values(draft.now.views)) {
    const texts = Object.fromEntries(Object.entries(view.texts).map(([engine, text]) => [engine, lost(text)]))
    const next = { ...view, text: lost(view.text), texts }
    if (next.text !== view.text || Object.entries(texts).some(([engine, text]) => text !== view.texts[engine]))
      draft.put('views', next)
  }
}

function removeView(draft: Draft, id: string): void {
  const view = draft.now.views[id]
  if (!view) return
  forget(draft, new Map([[id, view.name]]))
  forgetPlaces(draft, id)
  draft.remove('views', id)
}

/** Among the columns of an entity, or among the fields of one of its attributes. */
function withAttribute(
  draft: Draft,
  entity: Entity,
  attribute: Attribute,
  within: string | undefined,
  before: string | undefined
): Entity {
  if (within === undefined)
    return {
      ...entity,
      attributes: [...entity.attributes, attribute],
      order: insert(rowsOf(draft, entity), attribute.id, before)
    }
  const into = (fields: readonly Attribute[]): Attribute[] => {
    const at = fields.findIndex(({ id }) => id === before)
    return at < 0 ? [...fields, attribute] : [...fields.slice(0, at), attribute, ...fields.slice(at)]
  }
  return {
    ...entity,
    attributes: mapTree(entity.attributes, (a) =>
      a.id === within && holdsFields(a.type) ? { ...a, fields: into(fieldsOf(a)) } : a
    )
  }
}

/** An attribute, or a link, to another place; what becomes a field is in no key any more. */
function moveRow(draft: Draft, { entity: entityId, id, within, before }: Edit & { kind: 'row.move' }): void {
  const entity = draft.now.entities[entityId]
  const attribute = entity && attributeIn(entity, id)
  const from = entity && siblingsOf(entity, id)?.within?.id
  if (!entity || (from === undefined && within === undefined))
    return draft.entity(entityId, (e) => ({ ...e, order: insert(rowsOf(draft, e), id, before) }))
  // Nothing is put into itself.
  const into = within === undefined ? undefined : attributeIn(entity, within)
  if (!attribute || id === before || (within !== undefined && !(into && holdsFields(into.type)))) return
  if (allAttributes({ attributes: [attribute] }).some((one) => one.id === within)) return
  if (from === undefined) leaveKeys(draft, entityId, id)
  draft.entity(entityId, (e) => {
    const without = { ...e, attributes: mapTree(e.attributes, (a) => (a.id === id ? undefined : a)) }
    return withAttribute(draft, without, attribute, within, before)
  })
}

function removeAttribute(draft: Draft, entityId: string, id: string): void {
  const entity = draft.now.entities[entityId]
  const attribute = entity && attributeIn(entity, id)
  if (attribute)
    forget(draft, new Map(allAttributes({ attributes: [attribute] }).map((one) => [one.id, one.name] as const)))
  leaveKeys(draft, entityId, id)
  draft.entity(entityId, (e) => ({ ...e, attributes: mapTree(e.attributes, (a) => (a.id === id ? undefined : a)) }))
}

/** What stands on a column of an entity goes. */
function leaveKeys(draft: Draft, entityId: string, id: string): void {
  draft.entity(entityId, (entity) => dropPart(entity, id))
  dropStaleKeys(draft, entityId)
  for (const link of draft.linksAt(entityId))
    if (Object.values(link.columns).includes(id)) {
      const columns = Object.fromEntries(Object.entries(link.columns).filter(([, own]) => own !== id))
      draft.put('links', { ...link, columns })
    }
}

function removePart(draft: Draft, entity: string, list: PartList, id: string): void {
  draft.entity(entity, (e) => ({ ...e, [list]: e[list].filter((part) => part.id !== id) }))
  if (list === 'uniques') dropStaleKeys(draft, entity)
}

/** Links to a unique key of an entity that is gone go to its primary key. */
function dropStaleKeys(draft: Draft, entity: string): void {
  const keys = new Set(draft.now.entities[entity]?.uniques.map((key) => key.id))
  for (const link of draft.linksAt(entity))
    if (link.parent === entity && link.parentKey !== undefined && !keys.has(link.parentKey))
      draft.put('links', tidy({ ...link, parentKey: undefined, columns: {} }))
}

function removeEntity(draft: Draft, id: string): void {
  for (const link of draft.linksAt(id)) removeLink(draft, link.id)
  const entity = draft.now.entities[id]
  if (entity) forget(draft, new Map([[id, entity.name], ...allAttributes(entity).map((a) => [a.id, a.name] as const)]))
  for (const group of Object.values(draft.now.subtypes)) {
    if (group.supertype === id) removeSubtypes(draft, group.id)
    else if (group.subtypes.includes(id)) {
      const subtypes = group.subtypes.filter((other) => other !== id)
      if (subtypes.length) draft.put('subtypes', { ...group, subtypes })
      else removeSubtypes(draft, group.id)
    }
  }
  forgetPlaces(draft, id)
  draft.remove('entities', id)
  // What led to it holds what it held.
  const freed = (one: Attribute) => (one.leadsTo === id ? tidy({ ...one, leadsTo: undefined }) : one)
  for (const other of Object.values(draft.now.entities)) {
    const attributes = mapTree(other.attributes, freed)
    if (attributes !== other.attributes) draft.put('entities', { ...other, attributes })
  }
}

function removeSubtypes(draft: Draft, id: string): void {
  const group = draft.now.subtypes[id]
  if (group) forget(draft, new Map([[id, group.discriminator]]))
  draft.remove('subtypes', id)
}

function forgetPlaces(draft: Draft, id: string): void {
  for (const diagram of Object.values(draft.now.diagrams))
    if (diagram.places[id] || diagram.only?.includes(id)) {
      const places = Object.fromEntries(Object.entries(diagram.places).filter(([key]) => key !== id))
      draft.put('diagrams', tidy({ ...diagram, places, only: diagram.only?.filter((other) => other !== id) }))
    }
}

function removeArea(draft: Draft, id: string): void {
  draft.remove('areas', id)
  for (const entity of Object.values(draft.now.entities))
    if (entity.area === id) draft.put('entities', tidy({ ...entity, area: undefined }))
  for (const view of Object.values(draft.now.views))
    if (view.area === id) draft.put('views', tidy({ ...view, area: undefined }))
  for (const diagram of Object.values(draft.now.diagrams)) if (diagram.area === id) draft.remove('diagrams', diagram.id)
}

function setLink(draft: Draft, id: string, set: Partial<Omit<Link, 'id'>>): void {
  const link = draft.now.links[id]
  if (!link) return
  const changed = tidy({ ...link, ...set })
  // Another parent, child or key means other columns.
  const same = changed.parent === link.parent && changed.child === link.child && changed.parentKey === link.parentKey
  const moved = link.child !== changed.child || changed.kind === 'many-to-many'
  if (moved) draft.entity(link.child, (entity) => dropPart(entity, id))
  draft.put('links', same ? changed : tidy({ ...changed, columns: set.columns ?? {}, bridge: set.bridge }))
  settle(draft, id)
}

/** Puts a link where it belongs in its child: among the rows, and in the key exactly when it identifies. */
function settle(draft: Draft, id: string, before?: string): void {
  const link = draft.now.links[id]
  if (!link || link.kind === 'many-to-many') return
  if (link.identifying && !link.parentRequired) draft.put('links', { ...link, parentRequired: true })
  draft.entity(link.child, (entity) => {
    const rows = rowsOf(draft, entity)
    // A parent's key leads the key it joins, unless somebody has put it elsewhere.
    const first = link.identifying ? rows.find((row) => row !== id) : undefined
    const order = entity.order.includes(id) && before === undefined ? entity.order : insert(rows, id, before ?? first)
    const others = entity.primaryKey.filter((other) => other !== id)
    const primaryKey = !link.identifying ? others : entity.primaryKey.includes(id) ? entity.primaryKey : [id, ...others]
    return { ...entity, order, primaryKey }
  })
}

function removeLink(draft: Draft, id: string): void {
  const link = draft.now.links[id]
  if (!link) return
  forget(draft, new Map([[id, link.role ?? draft.now.entities[link.parent]?.name ?? id]]))
  draft.remove('links', id)
  draft.entity(link.child, (entity) => dropPart(entity, id))
}

function toggleKey(draft: Draft, entityId: string, id: string): void {
  const link = draft.now.links[id]
  if (link) return setLink(draft, id, { identifying: !link.identifying })
  draft.entity(entityId, (entity) => {
    if (entity.primaryKey.includes(id))
      return { ...entity, primaryKey: entity.primaryKey.filter((other) => other !== id) }
    const rank = new Map(rowsOf(draft, entity).map((row, i) => [row, i]))
    const primaryKey = [...entity.primaryKey, id].sort((a, b) => (rank.get(a) ?? 0) - (rank.get(b) ?? 0))
    // A key cannot be empty.
    return {
      ...entity,
      primaryKey,
      attributes: entity.attributes.map((a) => (a.id === id ? { ...a, required: true } : a))
    }
  })
}
