// Columns that follow a domain: each holds what it has of it, so that whoever reads a column need not know of domains.
import { sameValue } from '../catalog'
import type { Draft } from './draft'
import type { Attribute, Design, Domain, Entity } from './schema'
import { tidy } from './tidy'
import { allAttributes, mapTree } from './tree'
import { holdsFields } from '../types'

/** What a column has from its domain. Its type is always the domain's; the rest may be its own. */
const FOLLOWS = ['type', 'default', 'min', 'max', 'letters'] as const

/**
 * An attribute after an edit: one that joins a domain takes what that says, one whose type becomes another leaves it.
 */
export function changed(design: Design, attribute: Attribute, set: Partial<Omit<Attribute, 'id'>>): Attribute {
  // Whoever says what it is has no need of a guess.
  if (attribute.guess && !('guess' in set) && ('type' in set || 'required' in set))
    return changed(design, tidy({ ...attribute, guess: undefined }), set)
  // Of another type, or of a domain, it leads nowhere.
  const stays = !('type' in set || set.domain !== undefined) || 'leadsTo' in set
  const plain = tidy({ ...attribute, ...(stays ? {} : { leadsTo: undefined }), ...set })
  // What is no object has no fields.
  const next = plain.fields && !holdsFields(plain.type) ? tidy({ ...plain, fields: undefined }) : plain
  const domain = next.domain === undefined ? undefined : design.domains[next.domain]
  if (!domain) return next
  if (set.domain !== undefined) return following(next, undefined, domain)
  return sameValue(domain.type, next.type) ? next : tidy({ ...next, domain: undefined })
}

/** An attribute after its domain has changed; what it had otherwise than the domain before stays so. */
function following(attribute: Attribute, before: Domain | undefined, domain: Domain): Attribute {
  const taken = FOLLOWS.filter((field) =>
    before ? sameValue(attribute[field], before[field]) : field === 'type' || domain[field] !== undefined
  )
  return tidy({
    ...attribute,
    ...Object.fromEntries(taken.map((field) => [field, domain[field]])),
    type: domain.type,
    domain: domain.id
  })
}

/** The attributes that are of a domain. */
export const attributesOf = (design: Design, id: string): readonly Attribute[] =>
  Object.values(design.entities).flatMap((entity) => allAttributes(entity).filter(({ domain }) => domain === id))

/** With every attribute of the type that its domain has: what two people have made of one design may need that. */
export function inDomains(design: Design): Design {
  const entities = Object.values(design.entities).map((entity): Entity => {
    const attributes = mapTree(entity.attributes, (attribute) => {
      const domain = attribute.domain === undefined ? undefined : design.domains[attribute.domain]
      return !domain || sameValue(domain.type, attribute.type) ? attribute : { ...attribute, type: domain.type }
    })
    return attributes === entity.attributes ? entity : { ...entity, attributes }
  })
  return entities.every((entity) => entity === design.entities[entity.id])
    ? design
    : { ...design, entities: Object.fromEntries(entities.map((entity) => [entity.id, entity])) }
}

function each(draft: Draft, id: string, change: (attribute: Attribute) => Attribute): void {
  for (const entity of Object.values(draft.now.entities))
    if (allAttributes(entity).some(({ domain }) => domain === id))
      draft.put('entities', {
        ...entity,
        attributes: mapTree(entity.attributes, (attribute) => (attribute.domain === id ? change(attribute) : attribute))
      })
}

export function setDomain(draft: Draft, domain: Domain): void {
  const before = draft.now.domains[domain.id]
  draft.put('domains', domain)
  if (before) each(draft, domain.id, (attribute) => following(attribute, before, domain))
}

/** Its columns stay as they are, and follow it no more. */
export function removeDomain(draft: Draft, id: string): void {
  draft.remove('domains', id)
  each(draft, id, (attribute) => tidy({ ...attribute, domain: undefined }))
}
