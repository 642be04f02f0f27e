// A link as it is drawn from one entity to another, and what it will mean.
import { logical } from '../derive'
import { edit, newId, newLink, type Design, type Edit, type Entity } from '../design'
import { commit, rowsOf } from './cells'

export const LINK_KINDS = ['one-to-many', 'one-to-one', 'many-to-many', 'part of', 'kind of'] as const
export type LinkKind = (typeof LINK_KINDS)[number]

export interface LinkToBe {
  readonly edit: Edit
  /** The link that is made; none where the child becomes a subtype. */
  readonly link?: string
  /** What will be, in a sentence's words. */
  readonly says: string
}

/**
 * From the entity that is referred to, to the one that refers to it. `onto` is a column of that one: it becomes the link's, as it is where
 * the parent's key is one column of its type.
 */
export function drawnLink(
  design: Design,
  parentId: string,
  childId: string,
  kind: LinkKind,
  onto?: string
): LinkToBe | { readonly error: string } {
  const [parent, child] = [design.entities[parentId], design.entities[childId]]
  if (!parent || !child) return { error: 'A link is drawn from an entity to an entity.' }
  if (kind === 'kind of') return asSubtype(design, parent, child)
  if (kind === 'part of' && parent === child) return { error: `${child.name} cannot be part of itself.` }
  const more = {
    kind: kind === 'part of' ? 'one-to-many' : kind,
    identifying: kind === 'part of',
    ...(kind === 'part of' ? { parentRequired: true } : {})
  } as const
  const row = onto === undefined ? undefined : rowsOf(design, child).find(({ id }) => id === onto)
  const attribute = row?.within ? undefined : row?.attribute
  if (row && attribute && kind !== 'many-to-many') {
    const [key, ...others] = logical(design).entity(parent.id)?.key ?? []
    if (key && others.length === 0 && JSON.stringify(key.type) === JSON.stringify(attribute.type)) {
      const required = { parentRequired: attribute.required || more.identifying }
      const link = newLink(design, parent, child, { ...more, ...required, columns: { [key.path]: attribute.id } })
      return { edit: { kind: 'link.add', link }, link: link.id, says: `${child.name}.${attribute.name} is its column` }
    }
    const words = kind === 'one-to-one' ? `one ${parent.name}` : parent.name
    const done = commit(design, child, row, 'type', words)
    if ('edit' in done && done.row !== undefined) {
      const identifying: Edit = { kind: 'link.set', id: done.row, set: more }
      const all: Edit = { kind: 'all', edits: [done.edit, ...(more.identifying ? [identifying] : [])] }
      return { edit: all, link: done.row, says: saysOf(design, all, done.row, child, `instead of ${attribute.name}`) }
    }
  }
  const link = newLink(design, parent, child, more)
  const made: Edit = { kind: 'link.add', link }
  if (kind === 'many-to-many') return { edit: made, link: link.id, says: 'a table between them has both keys' }
  return { edit: made, link: link.id, says: saysOf(design, made, link.id, child) }
}

/** The columns that the child has for it. */
function saysOf(design: Design, made: Edit, link: string, child: Entity, instead = ''): string {
  const model = logical(edit(design, made)).entity(child.id)
  const key = model?.foreignKeys.find((one) => one.link.id === link)
  const names = (key?.pairs ?? []).map(({ child: column }) => column.name)
  const gets = names.length === 0 ? 'refers to it' : `gets ${names.join(', ')}`
  return `${child.name} ${gets}${instead && ` ${instead}`}${model?.circular ? '; its key would be in a circle' : ''}`
}

function asSubtype(design: Design, supertype: Entity, child: Entity): LinkToBe | { readonly error: string } {
  const groups = Object.values(design.subtypes)
  if (groups.some((group) => group.subtypes.includes(child.id)))
    return { error: `${child.name} is a kind of another entity already.` }
  const above = (id: string): readonly string[] =>
    groups
      .filter(({ subtypes }) => subtypes.includes(id))
      .flatMap((group) => [group.supertype, ...above(group.supertype)])
  if (supertype === child || above(supertype.id).includes(child.id))
    return { error: `${child.name} cannot be a kind of itself.` }
  const there = groups.find((group) => group.supertype === supertype.id)
  const group = there ?? {
    id: newId('sub'),
    supertype: supertype.id,
    subtypes: [],
    discriminator: 'kind',
    complete: false,
    exclusive: true
  }
  return {
    edit: {
      kind: 'object.set',
      collection: 'subtypes',
      object: { ...group, subtypes: [...group.subtypes, child.id] }
    },
    says: `${child.name} is a kind of ${supertype.name}, and has its key`
  }
}
