// The attributes of an entity as a tree: an attribute that holds objects has fields, which are attributes too, to any depth.
import type { Attribute, Entity } from './schema'
import { tidy } from './tidy'

/** An attribute where it stands in its tree. */
export interface Branch {
  readonly attribute: Attribute
  /** How deep it stands: 0 for a column of the entity. */
  readonly depth: number
  /** The attributes that it is in, from the outermost on. */
  readonly path: readonly Attribute[]
}

type Rooted = Pick<Entity, 'attributes'>

const NONE: readonly Attribute[] = []
export const fieldsOf = ({ fields }: Attribute): readonly Attribute[] => fields ?? NONE

/** Every attribute of an entity, each before its fields. */
export function allAttributes({ attributes }: Rooted): readonly Attribute[] {
  if (!attributes.some(({ fields }) => fields)) return attributes
  return attributes.flatMap((one) => [one, ...(one.fields ? allAttributes({ attributes: one.fields }) : NONE)])
}

/** The same with where each stands. */
export function branches({ attributes }: Rooted, path: readonly Attribute[] = []): Branch[] {
  return attributes.flatMap((attribute) => [
    { attribute, depth: path.length, path },
    ...(attribute.fields ? branches({ attributes: attribute.fields }, [...path, attribute]) : [])
  ])
}

/** The attribute of an id, at any depth. */
export function attributeIn({ attributes }: Rooted, id: string): Attribute | undefined {
  for (const one of attributes) {
    if (one.id === id) return one
    const inner = one.fields && attributeIn({ attributes: one.fields }, id)
    if (inner) return inner
  }
  return undefined
}

/** The attributes among which one stands, and the one that they are fields of. */
export function siblingsOf(
  entity: Rooted,
  id: string
): { readonly within?: Attribute; readonly among: readonly Attribute[] } | undefined {
  if (entity.attributes.some((one) => one.id === id)) return { among: entity.attributes }
  const within = allAttributes(entity).find(({ fields }) => fields?.some((one) => one.id === id))
  return within && { within, among: fieldsOf(within) }
}

/** With every attribute, at any depth, as `change` gives it, or without it; what does not change stays the same object. */
export function mapTree(
  attributes: readonly Attribute[],
  change: (attribute: Attribute) => Attribute | undefined
): Attribute[] {
  let same = true
  const next = attributes.flatMap((one) => {
    const fields = one.fields && mapTree(one.fields, change)
    // The last field that goes takes the list with it.
    const own = change(fields === one.fields ? one : tidy({ ...one, fields: fields?.length ? fields : undefined }))
    if (own !== one) same = false
    return own ?? []
  })
  return same ? (attributes as Attribute[]) : next
}
