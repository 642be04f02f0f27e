// One change of a catalogue as edits of the design it was derived from: what the design must say for the change to follow.
import { holdingLink, leafOf, type Change, type Counting, type DataType, type Options, type Origin } from '../catalog'
import { ownerOf, type Attribute, type Edit, type Entity, type Link } from '../design'
import type { Dialect } from '../dialects'
import { significant, textOf } from '../sql'
import { added } from './added'
import { viewEdits } from './views'
import {
  NOT_DESIGNED,
  type Place,
  type Edits,
  objectOrigin,
  rowsByColumn,
  rowsOf,
  condition,
  defaultText,
  designedType
} from './place'

export function editsFor(change: Change, place: Place): Edits {
  if (change.address.kind === 'view') return viewEdits(change, place)
  switch (change.action) {
    case 'create':
      return added(change.object, change, place)
    case 'drop':
      return removed(change, place)
    case 'rename':
      return renamed(change, place)
    case 'alter':
      return altered(change, place)
  }
}

type Of<A extends Change['action']> = Change & { action: A }

function removed(change: Of<'drop'>, place: Place): Edits {
  const { design } = place
  const origin = objectOrigin(place, change) ?? change.origin
  const { entity, attribute, link } = ownerOf(design, origin?.id)
  const { kind } = change.address
  if (kind === 'table') {
    if (entity && !link) return [{ kind: 'object.remove', collection: 'entities', id: entity.id }]
    return link ? [{ kind: 'object.remove', collection: 'links', id: link.id }] : 'It comes from nothing in the design.'
  }
  if (!entity || !origin) return 'It comes from nothing in the design.'
  const common = commonOf(origin)
  if (common !== undefined)
    return kind === 'column'
      ? [{ kind: 'entity.set', id: entity.id, set: { without: [...(entity.without ?? []), common] } }]
      : OF_EVERY
  switch (kind) {
    case 'column':
      if (attribute) return [{ kind: 'attribute.remove', entity: entity.id, id: attribute.id }]
      if (holdingLink(origin) !== undefined && !link)
        return `It holds the documents of ${entity.name}: say in the design where they are kept.`
      return link
        ? [{ kind: 'object.remove', collection: 'links', id: link.id }]
        : 'It is what tells one row from another.'
    case 'unique':
      if (link) return [{ kind: 'link.set', id: link.id, set: { kind: 'one-to-many' } }]
      return [{ kind: 'part.remove', list: 'uniques', entity: entity.id, id: origin.id }]
    case 'index':
      return [{ kind: 'part.remove', list: 'indexes', entity: entity.id, id: origin.id }]
    case 'check':
      if (!attribute) return [{ kind: 'part.remove', list: 'rules', entity: entity.id, id: origin.id }]
      if (origin.part === 'rule') return 'It is the rule of a domain: change it there.'
      return [{ kind: 'attribute.set', entity: entity.id, id: attribute.id, set: withoutCheck(attribute, origin.part) }]
    case 'foreignKey':
      return link
        ? [{ kind: 'object.remove', collection: 'links', id: link.id }]
        : 'It joins a subtype to its supertype.'
    case 'primaryKey':
      return 'An entity always has a key in the design.'
    default:
      return NOT_DESIGNED
  }
}

function withoutCheck(attribute: Attribute, part: string): Partial<Omit<Attribute, 'id'>> {
  if (part === 'letters') return { letters: undefined } as unknown as Partial<Attribute>
  if (part === 'range') return { min: undefined, max: undefined } as unknown as Partial<Attribute>
  const { type } = attribute
  if (type.kind !== 'oneOf') return {}
  return { type: { kind: 'text', length: Math.max(20, ...type.values.map((value) => [...value].length)) } }
}

function renamed(change: Of<'rename'>, place: Place): Edits {
  const { design } = place
  const origin = objectOrigin(place, change) ?? change.origin
  const { entity, attribute, link } = ownerOf(design, origin?.id)
  const { to } = change
  if (origin && commonOf(origin) !== undefined) return OF_EVERY
  switch (change.address.kind) {
    case 'table':
      if (link) return [{ kind: 'link.set', id: link.id, set: { dbName: to } }]
      return entity
        ? [{ kind: 'entity.set', id: entity.id, set: { dbName: to } }]
        : 'It comes from nothing in the design.'
    case 'column':
      if (entity && origin?.part === 'identifier')
        return [{ kind: 'entity.set', id: entity.id, set: { identifier: { ...entity.identifier, dbName: to } } }]
      if (origin && holdingLink(origin) !== undefined)
        return [
          {
            kind: 'link.set',
            id: holdingLink(origin) ?? '',
            set: link ? { role: leafOf(to) } : { childRole: leafOf(to) }
          }
        ]
      if (!entity || !attribute) return 'Its name follows from the key that a link brings.'
      return [{ kind: 'attribute.set', entity: entity.id, id: attribute.id, set: { dbName: ownName(to, place) } }]
    case 'primaryKey':
      return entity && !link
        ? [{ kind: 'entity.set', id: entity.id, set: { keyName: to } }]
        : 'Its name follows from the link.'
    case 'foreignKey':
      return link ? [{ kind: 'link.set', id: link.id, set: { dbName: to } }] : 'It joins a subtype to its supertype.'
    default: {
      if (!entity || !origin) return 'It comes from nothing in the design.'
      const [key, index, rule] = [
        entity.uniques.find((k) => k.id === origin.id),
        entity.indexes.find((i) => i.id === origin.id),
        entity.rules.find((r) => r.id === origin.id)
      ]
      if (key) return [{ kind: 'part.set', list: 'uniques', entity: entity.id, part: { ...key, name: to } }]
      if (index) return [{ kind: 'part.set', list: 'indexes', entity: entity.id, part: { ...index, name: to } }]
      if (rule) return [{ kind: 'part.set', list: 'rules', entity: entity.id, part: { ...rule, dbName: to } }]
      return 'Its name follows from an attribute.'
    }
  }
}

/** A field's own name, where a path leads to it. */
const ownName = (path: string, { dialect }: Place): string => (dialect.profile.features.fields ? leafOf(path) : path)

function altered(change: Of<'alter'>, place: Place): Edits {
  const { design, dialect } = place
  const origin = objectOrigin(place, change) ?? change.origin
  const { entity, attribute, link } = ownerOf(design, origin?.id)
  const { kind } = change.address
  const to = change.to
  if (!origin) return 'It comes from nothing in the design.'
  if (kind === 'table') {
    if (change.property !== 'comment') return 'The design cannot say this yet.'
    const means = to as string | undefined
    if (link) return [{ kind: 'link.set', id: link.id, set: { means } as Partial<Link> }]
    return entity
      ? [{ kind: 'entity.set', id: entity.id, set: { means } as Partial<Entity> }]
      : 'It comes from nothing in the design.'
  }
  if (!entity) return 'It comes from nothing in the design.'
  if (commonOf(origin) !== undefined) return OF_EVERY
  if (kind === 'column') {
    if (!attribute) {
      if (holdingLink(origin) !== undefined && change.property === 'comment')
        return link
          ? [{ kind: 'link.set', id: link.id, set: { means: to as string | undefined } as Partial<Link> }]
          : [{ kind: 'entity.set', id: entity.id, set: { means: to as string | undefined } as Partial<Entity> }]
      if (origin.part === 'identifier' && change.property === 'counting')
        return [{ kind: 'entity.set', id: entity.id, set: { identifier: counted(entity, to as Counting | undefined) } }]
      const kind = (['integer', 'big', 'small'] as const).find(
        (k) =>
          change.property === 'type' && dialect.types.same(dialect.types.fromNeutral({ kind: k }).type, to as DataType)
      )
      if (origin.part === 'identifier' && change.property === 'type' && kind)
        return [{ kind: 'entity.set', id: entity.id, set: { identifier: { ...entity.identifier, kind } } }]
      if (link && change.property === 'nullable')
        return [{ kind: 'link.set', id: link.id, set: { parentRequired: to !== true } }]
      return 'It follows from the key that a link brings: take the change of that key.'
    }
    const set = (values: Partial<Omit<Attribute, 'id'>>): Edit[] => [
      { kind: 'attribute.set', entity: entity.id, id: attribute.id, set: values }
    ]
    switch (change.property) {
      case 'type':
        return set({ type: designedType(to as DataType, dialect) })
      case 'nullable':
        return set({ required: to !== true })
      case 'default':
        return set({ default: defaultText(to as string | undefined, attribute, dialect) } as Partial<Attribute>)
      case 'comment':
        return set({ means: to as string | undefined } as Partial<Attribute>)
      case 'options': {
        if (!dialect.bounded) return 'The design cannot say this yet.'
        const { type } = attribute
        const plain = type.kind === 'oneOf' ? ({ kind: 'text' } as const) : type
        const none = { min: undefined, max: undefined, letters: undefined, type: plain }
        return set({ ...none, ...dialect.bounded(plain, (to ?? {}) as Options) } as Partial<Attribute>)
      }
      default:
        return 'The design cannot say this yet.'
    }
  }
  if (kind === 'foreignKey') {
    if (!link) return 'It joins a subtype to its supertype.'
    if (change.property === 'onDelete' || change.property === 'onUpdate')
      return [{ kind: 'link.set', id: link.id, set: { [change.property]: to } as Partial<Link> }]
    if (change.property === 'deferrable') return [{ kind: 'link.set', id: link.id, set: { deferrable: to !== 'no' } }]
    return 'It goes to another table, or by other columns: take it by leaving the old link and adding a new one.'
  }
  const rows = rowsByColumn(place, entity)
  const rule = entity.rules.find((r) => r.id === origin.id)
  if (kind === 'check' && change.property === 'expression') {
    if (rule)
      return [
        {
          kind: 'part.set',
          list: 'rules',
          entity: entity.id,
          part: { ...rule, condition: condition(String(to), rows, dialect) }
        }
      ]
    const values = attribute && valuesOf(String(to), dialect)
    if (attribute && values && attribute.type.kind === 'oneOf')
      return [{ kind: 'attribute.set', entity: entity.id, id: attribute.id, set: { type: { kind: 'oneOf', values } } }]
    return 'It follows from what an attribute allows, and the design cannot say it in that way.'
  }
  const key = entity.uniques.find((k) => k.id === origin.id)
  if (kind === 'unique' && change.property === 'columns' && key && Array.isArray(to)) {
    const parts = rowsOf(to.map(String), rows)
    return parts
      ? [{ kind: 'part.set', list: 'uniques', entity: entity.id, part: { ...key, parts } }]
      : 'It stands on a column that no attribute or link brings.'
  }
  const index = entity.indexes.find((i) => i.id === origin.id)
  if (kind === 'index' && index && change.property === 'where') {
    const { where: _was, ...rest } = index
    const where = to === undefined ? {} : { where: condition(String(to), rows, dialect) }
    return [{ kind: 'part.set', list: 'indexes', entity: entity.id, part: { ...rest, ...where } }]
  }
  if (kind === 'index' && index && change.property === 'unique')
    return [{ kind: 'part.set', list: 'indexes', entity: entity.id, part: { ...index, unique: to === true } }]
  return 'The design cannot say this yet.'
}

const OF_EVERY = 'It is of a column that every entity has: change it there, or take it for this target only.'

/** The column of every entity that something was made for. */
const commonOf = ({ part }: Origin): string | undefined => /^(?:common|keep) (\S+)/.exec(part)?.[1]

/** Where numbers begin and how they go on. */
function counted({ identifier }: Entity, { start, increment }: Counting = {}): NonNullable<Entity['identifier']> {
  const { start: _start, step: _step, ...rest } = identifier ?? {}
  return {
    ...rest,
    ...(start === undefined ? {} : { start: Number(start) }),
    ...(increment === undefined ? {} : { step: Number(increment) })
  }
}

/** The values of `x IN ('a', 'b')`, in whatever words the engine prints it. */
function valuesOf(expression: string, { write: { lexis } }: Dialect): string[] | undefined {
  const strings = significant(expression, lexis).flatMap((token) => textOf(token, lexis) ?? [])
  return strings.length ? strings : undefined
}
