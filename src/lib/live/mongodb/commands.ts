// The commands that the stand-in knows ("Database Commands"). Anything else is refused by its name.
import { EJSON, type Document } from 'bson'
import { find, updateMany } from 'mingo'
import { meets } from './meets'
import { piped } from './operators'
import type { Answer } from './rows'
import { copy } from './copy'
import { Refused } from '../refused'
import type { IndexSpec, Store } from './store'

const NOTHING: Answer = { documents: [], affected: 0 }
const done = (affected: number): Answer => ({ documents: [], affected })

/** What "create" may say that is not kept here. */
const NOT_HELD = ['timeseries', 'collation', 'expireAfterSeconds']

type Work = (store: Store, name: string, command: Document) => Answer

const documentsOf = (store: Store, name: string): readonly Document[] => {
  const found = store.find(name)
  const viewOn: unknown = found?.options['viewOn']
  if (typeof viewOn !== 'string') return found?.documents ?? []
  return run(store, viewOn, (found?.options['pipeline'] ?? []) as Document[])
}

function run(store: Store, name: string, pipeline: readonly Document[]): Document[] {
  const [first, ...rest] = pipeline
  const { size } = (first?.['$sample'] ?? {}) as { readonly size?: number }
  const all = [...documentsOf(store, name)]
  // Stages change what they are given in place.
  return piped(copy(size === undefined ? all : some(all, size)), size === undefined ? pipeline : rest, {
    collectionResolver: (other) => [...documentsOf(store, other)]
  })
}

/** "$sample": each document once at most. */
function some(all: Document[], size: number): Document[] {
  for (let i = 0; i < Math.min(size, all.length); i++) {
    const other = i + Math.floor(Math.random() * (all.length - i))
    ;[all[i], all[other]] = [all[other] as Document, all[i] as Document]
  }
  return all.slice(0, size)
}

/** "$out", "$merge": what a pipeline gives goes into a collection. */
function write(store: Store, stage: Document, found: readonly Document[], bypass: boolean): number {
  const out = stage['$out'] as string | undefined
  const merge = stage['$merge'] as Document | string | undefined
  const into = out ?? (typeof merge === 'string' ? merge : (merge?.['into'] as string))
  const said = typeof merge === 'object' ? merge : {}
  const there = store.find(into)
  if (out !== undefined && there) there.documents = []
  const target = there ?? store.create(into, {})
  const on = [said['on'] ?? '_id'].flat() as string[]
  // "$merge, on": some index of just these fields lets nothing stand twice.
  const isKey = target.indexes.some(
    ({ key, unique, name }) =>
      (unique === true || name === '_id_') && [...Object.keys(key)].sort().join() === [...on].sort().join()
  )
  if (!isKey) throw new Refused('Cannot find index to verify that join fields will be unique', 51183)
  const keyOf = (document: Document) => EJSON.stringify(on.map((path) => document[path] as unknown))
  const at = new Map(target.documents.map((document, i) => [keyOf(document), i]))
  for (const document of found) {
    const place = at.get(keyOf(document))
    const same = place === undefined ? undefined : target.documents[place]
    if (place === undefined || !same) {
      if (said['whenNotMatched'] === 'fail') throw new Refused('$merge could not find a matching document', 13113)
      if (said['whenNotMatched'] === 'discard') continue
      store.insert(into, copy(document), bypass)
      const last = target.documents.length - 1
      at.set(keyOf(target.documents[last] ?? {}), last)
    } else if (Array.isArray(said['whenMatched'])) {
      const [next] = piped([copy(same)], said['whenMatched'] as Document[], { variables: { new: document } })
      if (next) store.replace(target, place, next, bypass)
    } else if (said['whenMatched'] === 'replace') store.replace(target, place, copy(document), bypass)
    else if (said['whenMatched'] === 'fail') throw new Refused('$merge found a matching document', 11000)
    else if (said['whenMatched'] !== 'keepExisting')
      store.replace(target, place, { ...copy(same), ...copy(document) }, bypass)
  }
  return found.length
}

const COMMANDS: Readonly<Record<string, Work>> = {
  ping: () => NOTHING,
  // It is of no version.
  buildInfo: () => NOTHING,
  listCollections: (store) => ({
    documents: store.names.map(({ name, options }) => ({
      name,
      type: options['viewOn'] === undefined ? 'collection' : 'view',
      options
    })),
    affected: 0
  }),
  listIndexes: (store, name) => ({ documents: store.must(name).indexes.map((one) => ({ v: 2, ...one })), affected: 0 }),
  collStats: (store, name) => ({ documents: [{ ns: name, count: documentsOf(store, name).length }], affected: 0 }),
  create: (store, name, { create: _, ...options }) => {
    const odd = NOT_HELD.find((option) => options[option] !== undefined)
    if (odd !== undefined) throw new Refused(`The stand-in keeps no collection with “${odd}”.`, 72)
    store.create(name, options)
    return NOTHING
  },
  drop: (store, name) => {
    store.drop(name)
    return NOTHING
  },
  renameCollection: (store, name, { to }) => {
    store.rename(name, String(to))
    return NOTHING
  },
  collMod: (store, name, command) => {
    store.modify(name, command)
    return NOTHING
  },
  createIndexes: (store, name, { indexes }) => {
    for (const spec of indexes as IndexSpec[]) store.index(name, spec)
    return NOTHING
  },
  dropIndexes: (store, name, { index }) => {
    store.dropIndex(name, String(index))
    return NOTHING
  },
  insert: (store, name, { documents, bypassDocumentValidation }) => {
    const given = documents as Document[]
    for (const one of given) store.insert(name, one, bypassDocumentValidation === true)
    return done(given.length)
  },
  update: (store, name, { updates, bypassDocumentValidation }) => {
    let changed = 0
    for (const { q, u, multi, upsert, arrayFilters } of updates as Document[]) {
      const collection = store.find(name)
      const test = meets(q as Document)
      const meant = collection?.documents.flatMap((document, i) => (test(document) ? [i] : [])) ?? []
      const chosen = multi === true ? meant : meant.slice(0, 1)
      const old = chosen.map((at) => copy(collection?.documents[at] ?? {}))
      const next = updated(old, u as Document | Document[], arrayFilters as Document[] | undefined)
      for (const [i, at] of chosen.entries()) {
        const document = next[i]
        if (!collection || !document) continue
        store.replace(collection, at, document, bypassDocumentValidation === true)
        changed++
      }
      if (meant.length === 0 && upsert === true) {
        store.insert(name, updated([{}], u as Document, undefined)[0] ?? {})
        changed++
      }
    }
    return done(changed)
  },
  delete: (store, name, { deletes }) => {
    let gone = 0
    for (const { q, limit } of deletes as Document[]) {
      const collection = store.find(name)
      const test = meets(q as Document)
      if (!collection) continue
      collection.documents = collection.documents.filter((document) => {
        const goes = test(document) && (limit !== 1 || gone === 0)
        if (goes) gone++
        return !goes
      })
    }
    return done(gone)
  },
  find: (store, name, { filter = {}, projection = {}, sort, skip, limit }) => {
    const meant = documentsOf(store, name).filter(meets(filter as Document))
    const cursor = find(meant, {}, projection as Document)
    if (sort) cursor.sort(sort as Record<string, 1 | -1>)
    if (skip) cursor.skip(Number(skip))
    if (limit) cursor.limit(Number(limit))
    return { documents: cursor.all() as Document[], affected: 0 }
  },
  aggregate: (store, name, { pipeline, bypassDocumentValidation }) => {
    const stages = pipeline as Document[]
    const last = stages.at(-1)
    if (!last || (last['$out'] === undefined && last['$merge'] === undefined))
      return { documents: run(store, name, stages), affected: 0 }
    return done(write(store, last, run(store, name, stages.slice(0, -1)), bypassDocumentValidation === true))
  },
  count: (store, name, { query = {} }) => ({
    documents: [{ n: documentsOf(store, name).filter(meets(query as Document)).length }],
    affected: 0
  }),
  distinct: (store, name, { key, query = {} }) => {
    const stages = [
      { $match: query as Document },
      { $unwind: `$${String(key)}` },
      { $group: { _id: `$${String(key)}` } }
    ]
    return { documents: run(store, name, stages).map((one) => ({ value: one['_id'] as unknown })), affected: 0 }
  }
}

/** "Updates with Aggregation Pipeline", or by operators, or another document in its place; in their order. */
function updated(
  documents: readonly Document[],
  change: Document | Document[],
  arrayFilters: Document[] | undefined
): readonly Document[] {
  if (Array.isArray(change)) return piped(documents, change as Document[])
  if (!Object.keys(change).some((key) => key.startsWith('$')))
    return documents.map((document) => ({ _id: document['_id'] as unknown, ...change }))
  const all = [...documents]
  updateMany(all, {}, change as never, arrayFilters ? { arrayFilters } : {})
  return all
}

/** Carries a command out. Throws `Refused` in the engine's words. */
export function carryOut(store: Store, command: Document): Answer {
  const [word = ''] = Object.keys(command)
  const work = COMMANDS[word]
  if (!work)
    throw new Refused(`The stand-in has no command “${word}”. It knows ${Object.keys(COMMANDS).join(', ')}.`, 59)
  store.expire()
  const value: unknown = command[word]
  return work(store, typeof value === 'string' ? value : '', command)
}
