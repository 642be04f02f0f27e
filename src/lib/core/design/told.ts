// Changes of a design in words, object by object.
import { printType, type NeutralType } from '../types'
import { diff, type DesignChange } from './diff'
import { ownerOf } from './owner'
import type { CollectionName, Design } from './schema'
import { allAttributes } from './tree'

/** What is otherwise about one object, in sentences without their end. */
export interface Told {
  readonly id: string
  /** What sort of thing it is: `entity`, `link`. */
  readonly kind: string
  readonly name: string
  readonly how: 'new' | 'gone' | 'changed'
  readonly parts: readonly string[]
}

const KINDS: Readonly<Record<CollectionName | 'design', string>> = {
  design: 'design',
  areas: 'area',
  checks: 'check',
  commons: 'column of every entity',
  diagrams: 'diagram',
  domains: 'domain',
  entities: 'entity',
  grades: 'grade of a check',
  links: 'link',
  subtypes: 'kinds',
  targets: 'target',
  views: 'view'
}

/** Fields by what people call them; others are called by their own names, apart at large letters. */
const FIELDS: Readonly<Record<string, string>> = {
  dbName: 'database name',
  means: 'meaning',
  primaryKey: 'key',
  keyName: 'name of the key',
  parentRequired: 'required',
  identifying: 'part of the key',
  parent: 'leads to',
  child: 'stands in',
  uniques: 'unique columns',
  attributes: 'columns',
  fields: 'fields',
  places: 'places',
  without: 'columns of every entity that it has not',
  '(order)': 'order'
}

const PARTS: Readonly<Record<string, string>> = {
  attributes: 'column',
  uniques: 'unique columns',
  indexes: 'index',
  rules: 'rule'
}

/** What is otherwise in the second state, the objects in the order of their kinds and names. */
export function told(before: Design, after: Design): Told[] {
  const objects = new Map<string, DesignChange[]>()
  for (const change of diff(before, after)) {
    const key = `${change.collection} ${change.id}`
    const list = objects.get(key)
    if (list) list.push(change)
    else objects.set(key, [change])
  }
  const name = namer(before, after)
  return [...objects.values()]
    .flatMap((changes): Told[] => {
      const [first] = changes
      if (!first) return []
      const { collection, id, path } = first
      const whole = path.length === 0
      const how = !whole ? 'changed' : first.after === undefined ? 'gone' : 'new'
      const parts = whole ? [] : partsOf(changes, name)
      return [{ id, kind: KINDS[collection], name: name(id), how, parts }]
    })
    .sort((a, b) => a.kind.localeCompare(b.kind) || a.name.localeCompare(b.name, 'en', { numeric: true }))
}

function partsOf(changes: readonly DesignChange[], name: (id: string) => string): string[] {
  // Where cards stand on a diagram is one thing, however many were moved.
  const placed = new Set(changes.flatMap(({ path }) => (path[0] === 'places' ? [path[1]] : [])))
  const rest = changes.filter(({ path }) => path[0] !== 'places' && path.at(-1) !== 'order')
  const sentences = rest.map(({ path, before, after }): string => {
    // A field of a column is told as a column.
    const inner = path.lastIndexOf('fields')
    const [list = '', id = '', ...fields] =
      inner > 0 && inner < path.length - 1 ? ['attributes', ...path.slice(inner + 1)] : path
    const part = PARTS[list]
    if (part === undefined || id === '(order)') return otherwise(path.map(fieldName).join(', '), before, after, name)
    const which = `${part} ${name(id)}`
    if (fields.length === 0) return `${after === undefined ? 'gone' : 'new'}: ${which}`
    if (fields.join() === 'name') return `${part} ${print(before, name)} is called ${print(after, name)}`
    return `${which}: ${otherwise(fields.map(fieldName).join(', '), before, after, name)}`
  })
  return [...new Set([...sentences, ...(placed.size > 0 ? [`${placed.size} moved`] : [])])]
}

const fieldName = (field: string) => FIELDS[field] ?? field.replace(/(?=[A-Z])/g, ' ').toLowerCase()

const otherwise = (field: string, before: unknown, after: unknown, name: (id: string) => string) =>
  before === undefined
    ? `${field} is ${print(after, name)}`
    : after === undefined
      ? `${field} is no longer ${print(before, name)}`
      : `${field} is ${print(after, name)}, before ${print(before, name)}`

/** A value in few words; ids as what they are called. */
function print(value: unknown, name: (id: string) => string): string {
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'string') return name(value)
  if (Array.isArray(value)) return value.length === 0 ? 'nothing' : value.map((item) => print(item, name)).join(', ')
  if (typeof value !== 'object' || value === null) return String(value)
  const fields = new Map<string, unknown>(Object.entries(value))
  if (fields.has('kind') && !fields.has('id')) return printType(value as NeutralType)
  return String(fields.get('name') ?? (fields.has('id') ? name(String(fields.get('id'))) : JSON.stringify(value)))
}

/** What an id is called in the later state, else in the earlier; other words are themselves. */
function namer(before: Design, after: Design): (id: string) => string {
  const known = new Map<string, string>()
  for (const design of [before, after]) {
    known.set(design.id, design.name)
    for (const entity of Object.values(design.entities))
      for (const part of [...allAttributes(entity), ...entity.uniques, ...entity.indexes, ...entity.rules])
        known.set(part.id, ('name' in part && part.name) || partName(design, part))
    for (const collection of ['areas', 'checks', 'diagrams', 'domains', 'entities', 'targets', 'views'] as const)
      for (const { id, name } of Object.values(design[collection])) known.set(id, name)
    for (const { id, parent, child, role } of Object.values(design.links)) {
      const [to, from] = [design.entities[parent]?.name ?? '?', design.entities[child]?.name ?? '?']
      known.set(id, `${from} to ${to}${role === undefined ? '' : `, ${role}`}`)
    }
    for (const { id, supertype, subtypes } of Object.values(design.subtypes)) {
      const names = subtypes.map((one) => design.entities[one]?.name ?? '?')
      known.set(id, `${names.join(', ')} of ${design.entities[supertype]?.name ?? '?'}`)
    }
    for (const { id, check } of Object.values(design.grades)) known.set(id, check)
  }
  return (id) => known.get(id) ?? id
}

/** Keys, indexes and rules are known by their columns where they have no name. */
function partName(design: Design, part: object): string {
  const fields = new Map<string, unknown>(Object.entries(part))
  const parts = fields.get('parts')
  if (!Array.isArray(parts))
    return String(fields.get('condition') ?? '').replace(/\{([^}]+)\}/g, (_, id: string) => nameIn(design, id))
  return parts
    .map((one: unknown) => (typeof one === 'string' ? one : String((one as { id?: unknown }).id)))
    .map((id) => nameIn(design, id))
    .join(', ')
}

function nameIn(design: Design, id: string): string {
  const { attribute, link } = ownerOf(design, id)
  return attribute?.name ?? (link ? (link.role ?? design.entities[link.parent]?.name ?? id) : id)
}
