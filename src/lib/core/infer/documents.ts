// Documents as a catalogue: what their fields hold, told by the values themselves, to any depth. Extended JSON says what JSON cannot
// ("MongoDB Extended JSON (v2)"): `{ "$date": … }` is a moment, `{ "$oid": … }` an object's id.
import {
  EACH,
  EVERY,
  holderOf,
  memberAddress,
  typeText,
  type Catalog,
  type Change,
  type Column,
  type DataType,
  type Seen,
  type Table
} from '../catalog'
import type { Dialect } from '../dialects'
import { roomFor } from './rows'
import type { Suggestion } from './suggest'

export interface Documents {
  /** What the collection is called. */
  readonly name: string
  readonly documents: readonly unknown[]
}

type Plain = Readonly<Record<string, unknown>>
const isObject = (value: unknown): value is Plain =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** What stands for a value of another type in extended JSON. */
const WRAPPED: Readonly<Record<string, string>> = {
  $oid: 'objectId',
  $date: 'date',
  $numberInt: 'int',
  $numberLong: 'long',
  $numberDouble: 'double',
  $numberDecimal: 'decimal',
  $binary: 'binData',
  $uuid: 'binData',
  $regularExpression: 'regex',
  $timestamp: 'timestamp'
}
const SMALL = 2 ** 31

function typeOf(value: unknown): string {
  if (value === null || value === undefined) return 'null'
  if (Array.isArray(value)) return 'array'
  if (isObject(value)) {
    const [only, another] = Object.keys(value)
    return (another === undefined && only !== undefined && WRAPPED[only]) || 'object'
  }
  if (typeof value === 'number') return !Number.isInteger(value) ? 'double' : Math.abs(value) < SMALL ? 'int' : 'long'
  return typeof value === 'boolean' ? 'bool' : 'string'
}

/** Numbers of several sorts are of the widest. */
const NUMBERS = ['int', 'long', 'double', 'decimal']

interface Told {
  readonly type: DataType
  readonly inner: readonly Column[]
}

/** What all of some values are: of several types, if they differ. */
function toldBy(values: readonly unknown[], path: string): Told {
  const types = new Map<string, unknown[]>()
  for (const value of values) {
    const type = typeOf(value)
    if (type === 'null') continue
    const own = types.get(type)
    if (own) own.push(value)
    else types.set(type, [value])
  }
  const numbers = NUMBERS.filter((type) => types.has(type))
  for (const narrow of numbers.slice(0, -1)) types.delete(narrow)
  const parts = [...types].map(([type, own]): Told => {
    if (type === 'object') {
      const objects = own as Plain[]
      if (!isMap(objects)) return { type: { name: 'object' }, inner: fieldsOf(objects, `${path}.`) }
      const of = toldBy(
        objects.flatMap((object) => Object.values(object)),
        path + EVERY
      )
      return { type: { name: 'map', args: [typeText(of.type)] }, inner: of.inner }
    }
    if (type === 'array') {
      const of = toldBy((own as unknown[][]).flat(), path + EACH)
      return { type: { name: 'array', of: of.type }, inner: of.inner }
    }
    if (type !== 'string') return { type: { name: type }, inner: [] }
    const room = roomFor(own as string[])
    return { type: { name: 'string', ...(room === undefined ? {} : { args: [String(room)] }) }, inner: [] }
  })
  const [only, another] = parts
  if (!only) return { type: { name: 'any' }, inner: [] }
  if (another === undefined) return only
  // Objects beside other things: their fields are not told apart from those.
  const names = parts.map(({ type }) => (type.of ? 'array' : type.name))
  return { type: { name: 'either', args: names }, inner: [] }
}

/** Keys of objects in one place that are no names of fields: many, of which few objects share many. */
const [MANY, SHARED] = [8, 0.5]
/** Even of a single object, nobody names so many fields of one sort. */
const TOO_MANY = 64

/** Whether what stands in objects is one thing by many keys, rather than many things by their names. */
function isMap(objects: readonly Plain[]): boolean {
  const keys = new Map<string, number>()
  const kinds = new Set<string>()
  for (const object of objects)
    for (const [key, value] of Object.entries(object)) {
      keys.set(key, (keys.get(key) ?? 0) + 1)
      const kind = typeOf(value)
      if (kind !== 'null') kinds.add(NUMBERS.includes(kind) ? 'number' : kind)
    }
  if (keys.size < MANY || kinds.size !== 1) return false
  if (keys.size >= TOO_MANY) return true
  const odd = [...keys.keys()].filter((key) => !/^[\p{L}_][\p{L}\p{N}_ -]*$/u.test(key)).length
  if (odd * 2 > keys.size) return true
  const shared = [...keys.values()].reduce((sum, n) => sum + n, 0) / (keys.size * objects.length)
  return shared < SHARED && kinds.has('object')
}

/** The fields of objects that stand in one place, in the order in which they come up. */
function fieldsOf(objects: readonly Plain[], prefix: string): Column[] {
  const found = new Map<string, unknown[]>()
  for (const object of objects)
    for (const [name, value] of Object.entries(object)) {
      const values = found.get(name)
      if (values) values.push(value)
      else found.set(name, [value])
    }
  return [...found].flatMap(([name, values]): Column[] => {
    // What a path cannot say, and what no validator could speak of.
    if (name === '' || /[.[\]{}$\0]/.test(name)) return []
    const { type, inner } = toldBy(values, prefix + name)
    const there = values.filter((value) => typeOf(value) !== 'null').length
    const lists = values.flatMap((value) => (Array.isArray(value) ? value.length : []))
    const seen: Seen = {
      of: objects.length,
      there,
      ...(lists.length > 0 ? { longest: lists.reduce((most, length) => Math.max(most, length), 0) } : {})
    }
    return [{ name: prefix + name, type, nullable: there < objects.length, seen }, ...inner]
  })
}

/** `_id`, or else the first field that every document has, each another. */
function keyOf(columns: readonly Column[], documents: readonly Plain[]): string | undefined {
  const plain = columns.filter(
    ({ name, nullable, type }) => !name.includes('.') && !nullable && !type.of && type.name !== 'object'
  )
  if (plain.some(({ name }) => name === '_id')) return '_id'
  if (documents.length < 2) return undefined
  return plain.find(({ name, type }) => {
    if (!['string', 'int', 'long', 'objectId', 'binData'].includes(type.name)) return false
    return new Set(documents.map((document) => JSON.stringify(document[name]))).size === documents.length
  })?.name
}

/** Collections as a catalogue of an engine that keeps documents. What is no object is left out. */
export function catalogOfDocuments(collections: readonly Documents[], { profile }: Dialect): Catalog {
  return {
    engine: profile.id,
    defaultSchema: profile.defaultSchema,
    tables: collections.map(({ name, documents }): Table => {
      const objects = documents.filter(isObject)
      const columns = fieldsOf(objects, '')
      const key = keyOf(columns, objects)
      return {
        schema: profile.defaultSchema,
        name,
        columns,
        ...(key === undefined ? {} : { primaryKey: { name: key === '_id' ? '_id_' : `pk_${name}`, columns: [key] } }),
        uniques: [],
        foreignKeys: [],
        checks: [],
        indexes: []
      }
    }),
    unread: []
  }
}

/** What documents have that no field of their collection is, each by its path; what is in something of another type is left out. */
export function undesigned({ columns }: Pick<Table, 'columns'>, documents: readonly unknown[]): Column[] {
  const known = new Set(columns.map(({ name }) => name))
  const open = new Set(columns.flatMap(({ name, type }) => (holdsObjects(type) ? [name] : [])))
  const found: Column[] = []
  for (const column of fieldsOf(documents.filter(isObject), '')) {
    const holder = holderOf(column.name)
    if (known.has(column.name) || column.name === '_id' || (holder !== undefined && !open.has(holder))) continue
    found.push(column)
    if (holdsObjects(column.type)) open.add(column.name)
  }
  return found
}

const holdsObjects = ({ name, of, args = [] }: DataType): boolean =>
  name === 'object' || (name === 'map' && args.includes('object')) || (of !== undefined && holdsObjects(of))

/** The fields of collections that some of their documents have, and that no validator speaks of. */
export function likelyFields({ tables }: Catalog, samples: readonly Documents[]): Suggestion[] {
  return tables.flatMap((table): Suggestion[] => {
    const { documents = [] } = samples.find(({ name }) => name === table.name) ?? {}
    const columns = undesigned(table, documents)
    if (columns.length === 0) return []
    const shown = columns.slice(0, 4).map(({ name }) => name)
    return [
      {
        kind: 'field',
        about: [table],
        says: `${table.name}: ${shown.join(', ')}${columns.length > 4 ? ` and ${columns.length - 4} more` : ''}`,
        why: `told by ${documents.length.toLocaleString('en')} of its documents; no validator speaks of ${columns.length === 1 ? 'it' : 'them'}`,
        sure: 0.9,
        // Where a validator says some of it, the rest may be left over from before.
        usual: table.columns.length === 0,
        changes: columns.map((value): Change => ({
          action: 'create',
          address: memberAddress(table, 'column', value),
          object: { kind: 'column', value }
        }))
      }
    ]
  })
}

/** The collections in a text: a list of documents, one a line, one alone, or an object with a list for each collection. */
export function documentsIn(text: string, name: string): Documents[] {
  const lists = (value: unknown): Documents[] => {
    if (Array.isArray(value)) return [{ name, documents: value as unknown[] }]
    if (!isObject(value)) throw new Error(`${name} holds no documents: a document is an object.`)
    const all = Object.entries(value)
    const isDump =
      all.length > 0 && all.every(([, list]) => Array.isArray(list) && list.length > 0 && list.every(isObject))
    return isDump
      ? all.map(([called, list]) => ({ name: called, documents: list as unknown[] }))
      : [{ name, documents: [value] }]
  }
  const whole = tried(text)
  if (whole !== undefined) return lists(whole)
  const lines = text.split('\n').map((line, i) => ({ line: line.trim(), number: i + 1 }))
  const documents = lines.flatMap(({ line, number }) => {
    if (line === '') return []
    const value = tried(line)
    if (value === undefined) throw new Error(`${name}, line ${number}: this is no JSON.`)
    return [value]
  })
  return [{ name, documents }]
}

function tried(text: string): unknown {
  try {
    return JSON.parse(text) as unknown
  } catch {
    return undefined
  }
}
