// The collections of the stand-in: documents, validators and indexes in memory. Rules are those of the manual, each with its page.
import { calculateObjectSize, EJSON, ObjectId, type Document } from 'bson'
import { Refused } from '../refused'
import { misfit, unknownKeyword } from './fits'
import { meets } from './meets'

export interface IndexSpec {
  readonly name: string
  readonly key: Readonly<Record<string, unknown>>
  readonly unique?: boolean
  readonly sparse?: boolean
  readonly expireAfterSeconds?: number
  readonly partialFilterExpression?: Document
}

export interface Collection {
  readonly name: string
  options: Document
  indexes: IndexSpec[]
  documents: Document[]
}

const ID: IndexSpec = { name: '_id_', key: { _id: 1 } }

export class Store {
  private readonly collections = new Map<string, Collection>()

  get names(): readonly Collection[] {
    return [...this.collections.values()]
  }

  find = (name: string): Collection | undefined => this.collections.get(name)

  must(name: string): Collection {
    const found = this.collections.get(name)
    if (!found) throw new Refused(`ns does not exist: ${name}`, 26)
    return found
  }

  /** "create". A collection is made by its first document, too. */
  create(name: string, options: Document): Collection {
    if (this.collections.has(name)) throw new Refused(`Collection already exists. NS: ${name}`, 48)
    if (name === '' || name.includes('$') || name.startsWith('system.'))
      throw new Refused(`Invalid collection name: ${name}`, 73)
    checkValidator(options['validator'])
    checkCreated(options)
    const made: Collection = {
      name,
      options: { ...options },
      indexes: options['viewOn'] === undefined ? [ID] : [],
      documents: []
    }
    this.collections.set(name, made)
    return made
  }

  drop(name: string) {
    this.must(name)
    this.collections.delete(name)
  }

  rename(from: string, to: string) {
    const found = this.must(from)
    if (this.collections.has(to)) throw new Refused('target namespace exists', 48)
    this.collections.delete(from)
    this.collections.set(to, { ...found, name: to })
  }

  /** "collMod": what is said takes the place of what was. */
  modify(name: string, { validator, validationLevel, validationAction }: Document) {
    const found = this.must(name)
    checkValidator(validator)
    const next = { ...found.options }
    for (const [option, value] of Object.entries({ validator, validationLevel, validationAction }))
      if (value !== undefined) next[option] = value
    if (Object.keys((next['validator'] ?? {}) as Document).length === 0) delete next['validator']
    found.options = next
  }

  /** "createIndexes": one of the same name and key is there already; a unique one is refused where values stand twice ("Unique Indexes"). */
  index(name: string, spec: IndexSpec) {
    const collection = this.find(name) ?? this.create(name, {})
    const there = collection.indexes.find((one) => one.name === spec.name)
    if (there && JSON.stringify(there.key) === JSON.stringify(spec.key)) return
    if (there) throw new Refused(`An existing index has the same name as the requested index: ${spec.name}`, 86)
    const alike = collection.indexes.find((one) => JSON.stringify(one.key) === JSON.stringify(spec.key))
    if (alike) throw new Refused(`Index already exists with a different name: ${alike.name}`, 85)
    const next = [...collection.indexes, spec]
    const seen = new Set<string>()
    if (spec.unique)
      for (const document of collection.documents)
        for (const key of keysOf(spec, document)) {
          if (seen.has(key)) throw duplicate(name, spec, key)
          seen.add(key)
        }
    collection.indexes = next
  }

  dropIndex(name: string, index: string) {
    const collection = this.must(name)
    if (index === '_id_') throw new Refused('cannot drop _id index', 72)
    const left = collection.indexes.filter((one) => one.name !== index && (index !== '*' || one.name === '_id_'))
    if (left.length === collection.indexes.length && index !== '*')
      throw new Refused(`index not found with name [${index}]`, 27)
    collection.indexes = left
  }

  /** A document comes in, with an id where it has none ("Insert Methods"). */
  insert(name: string, given: Document, bypass = false): Document {
    const collection = this.find(name) ?? this.create(name, {})
    const document = given['_id'] === undefined ? { _id: new ObjectId(), ...given } : given
    if (!bypass) check(collection, document)
    put(collection, document)
    collection.documents.push(document)
    if (collection.options['capped'] === true) this.cap(collection)
    return document
  }

  /**
   * A document in the place of another, which is the one at a place ("Schema Validation": at the level `moderate`, one that did not fit
   * before need not now).
   */
  replace(collection: Collection, at: number, next: Document, bypass = false) {
    const old = collection.documents[at] ?? {}
    if (!bypass && !(collection.options['validationLevel'] === 'moderate' && whyNot(collection, old)))
      check(collection, next)
    put(collection, next, old)
    collection.documents[at] = next
  }

  /** "Capped Collections": the oldest documents make room for new ones. */
  private cap(collection: Collection) {
    const { size, max } = collection.options as { size: number; max?: number }
    const { documents } = collection
    // A size is brought up to a multiple of 256, and is 4,096 at least.
    const most = Math.max(4096, Math.ceil(size / 256) * 256)
    let from = max === undefined ? 0 : Math.max(0, documents.length - max)
    let bytes = 0
    for (let i = documents.length - 1; i >= from; i--) {
      bytes += calculateObjectSize(documents[i] ?? {})
      if (bytes > most) from = i + 1
    }
    // Another list: what its indexes have of it is found anew.
    if (from > 0) collection.documents = documents.slice(from)
  }

  /** "TTL Indexes": documents go once the date in them is so many seconds ago. */
  expire(now = Date.now()) {
    for (const collection of this.collections.values())
      for (const { key, expireAfterSeconds } of collection.indexes) {
        const [field] = Object.keys(key)
        if (expireAfterSeconds === undefined || field === undefined) continue
        const left = collection.documents.filter((document) => {
          const value: unknown = document[field]
          return !(value instanceof Date) || value.getTime() + expireAfterSeconds * 1000 > now
        })
        if (left.length < collection.documents.length) collection.documents = left
      }
  }

  /** All of it as text, and back. */
  save = (): string => EJSON.stringify(this.names, { relaxed: false })
  load(text: string) {
    for (const one of EJSON.parse(text) as Collection[]) this.collections.set(one.name, one)
  }
}

function checkValidator(validator: unknown) {
  const schema = (validator as Document | undefined)?.['$jsonSchema'] as unknown
  const unknown = unknownKeyword(schema)
  if (unknown !== undefined) throw new Refused(`Unknown $jsonSchema keyword: ${unknown}`, 9)
}

/** "create": a capped collection says its size; "Clustered Collections": their key is the id, and lets nothing stand twice. */
function checkCreated({ capped, size, clusteredIndex }: Document) {
  if (capped === true && !(typeof size === 'number' && size > 0))
    throw new Refused("the 'size' field is required when 'capped' is true", 72)
  if (clusteredIndex === undefined) return
  if (capped === true) throw new Refused('A capped collection cannot be clustered.', 72)
  const { key, unique } = clusteredIndex as Document
  if (JSON.stringify(key) !== '{"_id":1}' || unique !== true)
    throw new Refused('A clustered collection has the key {"_id": 1}, and is unique.', 67)
}

/** Why a document does not meet its collection's validator; nothing where it does. */
export function whyNot({ options }: Collection, document: Document): string | undefined {
  const { $jsonSchema: schema, ...others } = (options['validator'] ?? {}) as Document
  const found = misfit(document, schema)
  if (found) return `${found.path === '' ? 'the document' : found.path} ${found.why}`
  if (Object.keys(others).length > 0 && !meets(others)(document)) return `it does not meet ${JSON.stringify(others)}`
  return undefined
}

function check(collection: Collection, document: Document) {
  const { validationLevel, validationAction } = collection.options
  if (validationLevel === 'off' || validationAction === 'warn') return
  const why = whyNot(collection, document)
  if (why !== undefined) throw new Refused(`Document failed validation: ${why}`, 121)
}

const duplicate = (name: string, { name: index }: IndexSpec, key: string) =>
  new Refused(`E11000 duplicate key error collection: ${name} index: ${index} dup key: ${key}`, 11000)

/** Of each index that lets nothing stand twice, the documents by what it has of them; made when it is first asked for. */
const held = new WeakMap<Document[], Map<IndexSpec, Map<string, Document>>>()

function keysIn({ documents, indexes }: Collection): Map<IndexSpec, Map<string, Document>> {
  const known = held.get(documents) ?? new Map<IndexSpec, Map<string, Document>>()
  held.set(documents, known)
  for (const spec of indexes)
    if ((spec.unique || spec.name === '_id_') && !known.has(spec)) {
      const keys = new Map<string, Document>()
      for (const document of documents) for (const key of keysOf(spec, document)) keys.set(key, document)
      known.set(spec, keys)
    }
  return known
}

/** Has a document stand where another stood, or beside all others; refused where an index lets nothing stand twice. */
function put(collection: Collection, document: Document, old?: Document) {
  const known = [...keysIn(collection)].filter(([spec]) => collection.indexes.includes(spec))
  const own = known.map(([spec, keys]) => ({ spec, keys, now: keysOf(spec, document) }))
  for (const { spec, keys, now } of own) {
    const twice = now.find((key) => keys.has(key) && keys.get(key) !== old)
    if (twice !== undefined) throw duplicate(collection.name, spec, twice)
  }
  for (const { spec, keys, now } of own) {
    if (old) for (const key of keysOf(spec, old)) keys.delete(key)
    for (const key of now) keys.set(key, document)
  }
}

/** All values at a path, through lists ("Multikey Indexes"). */
function valuesAt(value: unknown, path: readonly string[]): unknown[] {
  if (Array.isArray(value)) return value.flatMap((one) => valuesAt(one, path))
  const [name, ...deeper] = path
  if (name === undefined) return [value]
  return typeof value === 'object' && value !== null ? valuesAt((value as Document)[name], deeper) : [undefined]
}

/** What an index has of a document: a field that is not there counts as null ("Unique Indexes", "Missing Document Field"). */
function keysOf({ key, sparse, partialFilterExpression: only }: IndexSpec, document: Document): string[] {
  if (only && !meets(only)(document)) return []
  const each = Object.keys(key).map((path) => valuesAt(document, path.split('.')))
  if (sparse && each.every((values) => values.every((value) => value === undefined))) return []
  const combined = each.reduce<unknown[][]>(
    (all, values) => all.flatMap((one) => [...new Set(values)].map((value) => [...one, value ?? null])),
    [[]]
  )
  return [...new Set(combined.map((values) => EJSON.stringify(values, { relaxed: true })))]
}
