// Whose part of a design an id is of.
import type { Attribute, Design, Entity, Link } from './schema'
import { allAttributes } from './tree'

export interface Owner {
  readonly entity?: Entity
  readonly attribute?: Attribute
  readonly link?: Link
}

const known = new WeakMap<Design['entities'], Map<string, Owner>>()

/** The entity that something is or is part of; for a link, itself and its child. Nothing of what is in no entity. */
export function ownerOf(design: Design, id: string | undefined): Owner {
  if (id === undefined) return {}
  const link = design.links[id]
  if (link) {
    const entity = design.entities[link.child]
    return entity ? { link, entity } : { link }
  }
  let owners = known.get(design.entities)
  if (!owners) known.set(design.entities, (owners = ownersIn(design)))
  // What a target has for an attribute that holds others is the attribute's: `id:position`.
  return owners.get(id) ?? owners.get(id.replace(/:[^:]*$/, '')) ?? {}
}

function ownersIn({ entities }: Design): Map<string, Owner> {
  const owners = new Map<string, Owner>()
  for (const entity of Object.values(entities)) {
    for (const { id } of [...entity.uniques, ...entity.indexes, ...entity.rules]) owners.set(id, { entity })
    for (const attribute of allAttributes(entity)) owners.set(attribute.id, { entity, attribute })
    owners.set(entity.id, { entity })
  }
  return owners
}
