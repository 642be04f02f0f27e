// Entities whose rows are rows of another one, as the subtypes that they are.
import { plainName } from '../derive'
import {
  freeName,
  IDENTIFIER,
  linksAt,
  newId,
  referencesIn,
  type Design,
  type Edit,
  type Entity,
  type Link
} from '../design'

/** The edit that makes subtypes of those that are no more than that, under the same names; nothing where none is. */
export function asSubtypes(design: Design, supertype: string, ids: readonly string[]): Edit | undefined {
  const parent = design.entities[supertype]
  const found = ids.flatMap((id) => {
    const entity = design.entities[id]
    const link = entity && parent && linkUp(design, parent, entity)
    return entity && link ? [{ entity, link }] : []
  })
  if (!parent || found.length === 0) return undefined
  const named = found.flatMap(({ entity, link }) =>
    link.dbName === undefined ? [] : [[entity.id, link.dbName] as const]
  )
  const names = [parent, ...found.map(({ entity }) => entity)].flatMap(({ attributes }) =>
    attributes.map((a) => a.name)
  )
  return {
    kind: 'all',
    edits: [
      ...found.flatMap(({ entity, link }): Edit[] => [
        { kind: 'object.remove', collection: 'links', id: link.id },
        ...Object.values(link.columns).map((id): Edit => ({ kind: 'attribute.remove', entity: entity.id, id }))
      ]),
      {
        kind: 'object.set',
        collection: 'subtypes',
        object: {
          id: newId('sub'),
          supertype,
          subtypes: found.map(({ entity }) => entity.id),
          discriminator: freeName('kind', names),
          complete: false,
          exclusive: false,
          ...(named.length > 0 ? { foreignKeys: Object.fromEntries(named) } : {})
        }
      }
    ]
  }
}

/** The link that a subtype's key is: its columns are called as the supertype's, come first, and serve nothing else. */
function linkUp(design: Design, parent: Entity, entity: Entity): Link | undefined {
  const links = linksAt(design, entity.id)
  const link = links.find(
    (one) =>
      one.parent === parent.id &&
      one.child === entity.id &&
      one.parentKey === undefined &&
      !one.deferrable &&
      !one.drawnOnly &&
      one.means === undefined &&
      Object.values(one.columns).join() === entity.primaryKey.join() &&
      entity.primaryKey.length > 0
  )
  if (!link || parent.id === entity.id) return undefined
  const held = new Set(entity.primaryKey)
  const called = (one: { readonly name: string; readonly dbName?: string | undefined } | undefined) =>
    one && (one.dbName ?? plainName(one.name, design.settings))
  const keyName = (path: string) =>
    path === IDENTIFIER
      ? (parent.identifier?.dbName ?? plainName(parent.identifier?.name ?? 'id', design.settings))
      : called(parent.attributes.find(({ id }) => id === path))
  const alike = Object.entries(link.columns).every(([path, id]) => {
    const attribute = entity.attributes.find((one) => one.id === id)
    return (
      called(attribute) === keyName(path) &&
      attribute?.default === undefined &&
      attribute?.means === undefined &&
      attribute?.domain === undefined
    )
  })
  const used = [
    ...entity.uniques.flatMap(({ parts }) => parts),
    ...entity.indexes.flatMap(({ parts }) => parts.map(({ id }) => id)),
    ...links.flatMap((other) => (other.child === entity.id && other !== link ? Object.values(other.columns) : []))
  ]
  const isNamed =
    links.some((other) => other.parent === entity.id) ||
    Object.values(design.subtypes).some(
      ({ supertype, subtypes }) => supertype === entity.id || subtypes.includes(entity.id)
    ) ||
    entity.rules.some(({ condition }) => [...held].some((id) => condition.includes(`{${id}}`))) ||
    Object.values(design.views).some((view) =>
      [view.text, ...Object.values(view.texts)].some((text) => referencesIn(text).some(({ id }) => held.has(id)))
    )
  const first = entity.order.slice(0, held.size).join() === entity.primaryKey.join()
  return alike && first && !isNamed && !used.some((id) => held.has(id)) ? link : undefined
}
