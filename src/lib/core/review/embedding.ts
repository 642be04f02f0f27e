// Whether documents had better be kept in those that they belong to, or refer to them: what speaks for each, and what it costs.
// Where no page of a manual is named, it is common practice, no source.
import { logical, whyNotEmbedded } from '../derive'
import { fieldsOf, linksAt, type Attribute, type Design, type Entity, type Link } from '../design'
import type { NeutralType } from '../types'

export interface Embedding {
  /** What is kept by itself or in another, in words: an entity, or the pairs of two. */
  readonly held: string
  /** The entity that it may be kept in. */
  readonly home: string
  /** Why the one cannot be kept in the other; nothing where it can. */
  readonly impossible?: string
  /** What is proposed. */
  readonly embed: boolean
  /** What speaks for it, the weightiest first. */
  readonly reasons: readonly string[]
  /** What comes of either. */
  readonly embedded: readonly string[]
  readonly referred: readonly string[]
}

/** "BSON Document Size", in bytes. */
const MOST = 16 * 1024 * 1024
/** Values of a list that nobody has said the length of, and bytes of a text without one. */
const [SOME, TEXT] = [10, 200]

/** Bytes of a value ("BSON Types", the BSON specification 1.1), a text as long as it may be. */
function bytesOf(type: NeutralType, fields: readonly Attribute[]): number {
  switch (type.kind) {
    case 'text':
    case 'char':
      return 5 + (type.length ?? TEXT)
    case 'boolean':
      return 1
    case 'tiny':
    case 'small':
    case 'integer':
      return 4
    case 'decimal':
      return 16
    case 'object id':
      return 12
    case 'uuid':
      return 21
    case 'json':
    case 'binary':
    case 'xml':
      return TEXT
    case 'object':
      return documentOf(fields)
    case 'list':
      return 5 + SOME * (3 + bytesOf(type.of, fields))
    case 'map':
      return 5 + SOME * (12 + bytesOf(type.of, fields))
    case 'either':
      return Math.max(...type.of.map((one) => bytesOf(one, fields)))
    default:
      return 8
  }
}
/** A byte for the type and one behind the name, four for the length of the whole, and its end. */
const documentOf = (attributes: readonly Attribute[]): number =>
  5 + attributes.reduce((sum, one) => sum + 2 + one.name.length + bytesOf(one.type, fieldsOf(one)), 0)

export function embedding(design: Design, link: Link): Embedding {
  const [child, parent] = [design.entities[link.child], design.entities[link.parent]]
  const isPair = link.kind === 'many-to-many'
  const names = isPair
    ? { held: `which ${parent?.name ?? ''} each ${child?.name ?? ''} leads to`, home: child?.name ?? '' }
    : { held: child?.name ?? '', home: parent?.name ?? '' }
  const none = { ...names, embed: false, reasons: [], embedded: [], referred: [] }
  const impossible = whyNotEmbedded(link)
  if (impossible !== undefined || !child || !parent) return { ...none, ...(impossible ? { impossible } : {}) }
  if (isPair) return { ...names, ...pairs(design, parent, child) }

  const others = linksAt(design, child.id).filter(({ id, drawnOnly }) => id !== link.id && !drawnOnly)
  const users = others.filter((one) => one.parent === child.id && one.child !== child.id && !one.embedded)
  const homes = others.filter((one) => one.child === child.id && one.parentRequired && one.kind !== 'many-to-many')
  const nameOf = (id: string) => design.entities[id]?.name ?? ''
  const list = (links: readonly Link[], side: 'child' | 'parent') =>
    [...new Set(links.map((one) => nameOf(one[side])))].sort().join(', ')
  const size = documentOf(child.attributes)
  const fit = Math.max(1, Math.floor(MOST / size))
  const isOne = link.kind === 'one-to-one'
  const isOwned = link.identifying || link.onDelete === 'cascade'

  const against = [
    ...(users.length > 0
      ? [`${list(users, 'child')} lead to ${child.name}: what is within another is not led to.`]
      : []),
    ...(homes.length > 0
      ? [`It belongs to ${list(homes, 'parent')} as well: one of them would have it, the other look for it.`]
      : []),
    ...(link.parentRequired || link.identifying
      ? []
      : [`There may be ${child.name} that belongs to no ${parent.name}.`])
  ]
  const pro = [
    ...(link.identifying ? [`Its key is a part of ${parent.name}’s: it is nothing without it.`] : []),
    ...(link.onDelete === 'cascade' ? [`It goes with ${parent.name} anyway.`] : []),
    ...(isOne ? [`There is one at most for each ${parent.name}.`] : [])
  ]
  const embed = against.length === 0 && (isOwned || isOne)
  const bounds =
    against.length === 0 && !embed
      ? [`Nothing says how many one ${parent.name} may come to have: a list that only grows is better kept apart.`]
      : []
  const key = (logical(design).entity(parent.id)?.key ?? []).map(({ name }) => name).join(', ')
  return {
    ...names,
    embed,
    reasons: embed ? pro : [...against, ...bounds],
    embedded: [
      `Each ${parent.name} is read with ${isOne ? 'it' : 'all of them'} at once, and changed with ${isOne ? 'it' : 'them'} as one.`,
      isOne
        ? `About ${size.toLocaleString('en')} bytes more in each ${parent.name}.`
        : `About ${size.toLocaleString('en')} bytes each: some ${fit.toLocaleString('en')} fit in the 16 MB that a document may be.`,
      ...(users.length > 0 ? [`${list(users, 'child')} keep its key, and nobody sees to it that it is there.`] : []),
      'What is asked of all of them goes through the documents that they are in.'
    ],
    referred: [
      'Reading both takes a second query, or $lookup.',
      `Each keeps the ${key === '' ? 'key' : key} of its ${parent.name}, and nobody sees to it that there is one.`,
      'Any number of them, each changed by itself.'
    ]
  }
}

/** Of two that lead to many of each other: the keys of the one in a list in the other, or a document for each pair. */
function pairs(design: Design, parent: Entity, child: Entity): Omit<Embedding, 'held' | 'home'> {
  const key = logical(design).entity(parent.id)?.key ?? []
  const size = 8 + key.reduce((sum, { name, type }) => sum + 2 + name.length + bytesOf(type, []), 0)
  const fit = Math.floor(MOST / size)
  return {
    embed: true,
    reasons: [
      `No collection stands between ${child.name} and ${parent.name}, and each ${child.name} tells all at once.`
    ],
    embedded: [
      `Each ${child.name} has the keys of its ${parent.name} in a list, and nobody sees to it that they are there.`,
      `About ${size} bytes each: some ${fit.toLocaleString('en')} fit in the 16 MB that a document may be.`,
      `From ${parent.name} back, the lists of all ${child.name} are looked through, or an index on them.`
    ],
    referred: [
      'A document for each pair, in a collection of its own.',
      'Reading across takes two more queries, or $lookup twice.',
      'Any number of them, each made and removed by itself.'
    ]
  }
}
