// Fields that lead to an entity: each holds the key of one of it, or a list or map of such keys. What leads from an entity itself to one
// other is a link.
import { parseType, printType, type NeutralType } from '../types'
import type { Attribute, Design } from './schema'
import { allAttributes } from './tree'

/** What stands in such a field's type for that of the key, which is the entity's own affair. */
export const LEADING: NeutralType = { kind: 'integer' }
const STANDS = printType(LEADING)

/** `list of Berth`, `map of text to Berth` or `Berth`; nothing where no entity is named. */
export function leadingType<E>(
  text: string,
  find: (name: string) => E | undefined
): { readonly type: NeutralType; readonly to: E } | undefined {
  const [, holders = '', name = ''] = /^((?:list\s+of\s+|map\s+of\s+[^]+?\s+to\s+)*)([^]*)$/i.exec(text.trim()) ?? []
  const to = find(name)
  const read = to === undefined ? undefined : parseType(`${holders}${STANDS}`)
  return to !== undefined && read?.ok ? { type: read.value, to } : undefined
}

/** The type of an attribute in words, with what the entity is called that it leads to. */
export function typeWords(
  { entities }: Pick<Design, 'entities'>,
  { type, leadsTo }: Pick<Attribute, 'type' | 'leadsTo'>,
  called: (name: string) => string = (name) => name
): string {
  const to = leadsTo === undefined ? undefined : entities[leadsTo]
  return to ? printType(type).slice(0, -STANDS.length) + called(to.name) : printType(type)
}

/** Its type, once the key's is known. */
export function ledType(type: NeutralType, key: NeutralType): NeutralType {
  return type.kind === 'list' || type.kind === 'map' ? { ...type, of: ledType(type.of, key) } : key
}

const known = new WeakMap<Design['entities'], boolean>()

/** Whether a design has such fields. */
export function leads({ entities }: Design): boolean {
  const before = known.get(entities)
  if (before !== undefined) return before
  const found = Object.values(entities).some((entity) => allAttributes(entity).some(isLeading))
  known.set(entities, found)
  return found
}

const isLeading = ({ leadsTo }: Attribute): boolean => leadsTo !== undefined
