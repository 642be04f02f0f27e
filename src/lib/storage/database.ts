// What the browser keeps: designs object by object, databases, agreed states, and the record of runs.
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import { eachOf, isTarget, withAddresses } from './older'
import { withTypes, type Catalog } from '../core/catalog'
import { withPaths, type DesignChange } from '../core/design'
import type { Migration } from '../core/plan'
import { StorageError, storageError } from './trouble'

/** The head of a design; its objects are kept one by one. */
export interface DesignHead {
  readonly id: string
  readonly name: string
  readonly settings: unknown
  /** Milliseconds since 1970. */
  readonly changedAt: number
  readonly entities: number
  /** Grows by one with each save, so that two tabs notice each other. */
  readonly revision: number
}

/** One run of a plan: what was to be done, and how it went. */
export interface RunRecord {
  readonly id: string
  /** Key: target. */
  readonly target: string
  /** Who ran it, as they call themselves in this browser. */
  readonly who: string
  /** Milliseconds since 1970. */
  readonly startedAt: number
  /** Nothing while it runs, or when it was cut off. */
  readonly endedAt?: number
  /** It is written down in the database too, and was from its beginning. */
  readonly ledger?: true
  readonly how?: 'complete' | 'stopped' | 'failed' | 'unknown' | 'changed' | 'given up'
  readonly migration: Migration
}

/** One line of the record of a run, written as it happens. */
export interface RunEntry {
  readonly run: string
  readonly at: number
  readonly group: number
  /** Nothing for a line about a whole transaction. */
  readonly step?: string
  readonly statement?: string
  readonly state: 'begun' | 'under way' | 'done' | 'failed' | 'unknown'
  /** Milliseconds. */
  readonly time?: number
  readonly affected?: number
  /** Of a step that goes range by range: where the last one ended, as the dialect writes it. */
  readonly upTo?: string
  readonly message?: string
  /** It was found done and was not run. */
  readonly found?: boolean
}

/** A statement that was sent by hand. */
export interface QueryRecord {
  readonly target: string
  readonly at: number
  readonly sql: string
  readonly time: number
  readonly rows?: number
  readonly error?: string
}

/** A state of a design that somebody gave a name. */
export interface Checkpoint {
  readonly id: string
  readonly design: string
  readonly name: string
  /** Milliseconds since 1970. */
  readonly at: number
  /** The design file, as it was written then. */
  readonly text: string
}

/** The steps back from a design as it was saved, and those that were undone. */
export interface HistoryRecord {
  readonly design: string
  readonly revision: number
  readonly back: readonly (readonly DesignChange[])[]
  readonly ahead: readonly (readonly DesignChange[])[]
}

interface Schema extends DBSchema {
  designs: { key: string; value: DesignHead }
  /** Key: design, collection, object id. */
  objects: { key: [string, string, string]; value: unknown }
  /** Key: target. */
  dumps: { key: string; value: Blob }
  agreed: { key: string; value: Catalog }
  runs: { key: string; value: RunRecord; indexes: { target: string } }
  entries: { key: number; value: RunEntry; indexes: { run: string } }
  queries: { key: number; value: QueryRecord; indexes: { target: string } }
  checkpoints: { key: string; value: Checkpoint; indexes: { design: string } }
  histories: { key: string; value: HistoryRecord }
}

let opened: Promise<IDBPDatabase<Schema>> | undefined

/** What this browser keeps. Rejects with a `StorageError`; asked again, it tries again. */
export function database(): Promise<IDBPDatabase<Schema>> {
  if (!opened) {
    const opening = open()
    opened = opening
    opening.catch(() => forget(opening))
  }
  return opened
}

function forget(one: Promise<unknown> | undefined) {
  if (opened === one) opened = undefined
}

const open = (): Promise<IDBPDatabase<Schema>> =>
  new Promise((resolve, reject) => {
    // Some browsers say of a private window that it is in no state to open anything.
    const failed = (error: unknown) => reject(isNoState(error) ? new StorageError('denied') : storageError(error))
    try {
      make(() => failed(new StorageError('blocked'))).then(resolve, failed)
    } catch (error) {
      failed(error)
    }
  })

const isNoState = (error: unknown) => error instanceof DOMException && error.name === 'InvalidStateError'

const targetNow = (target: unknown) => {
  const [now] = (withPaths([target]).targets as unknown[]) ?? []
  return withTypes(now)
}

const make = (onblocked: () => void) =>
  openDB<Schema>('ramblet', 5, {
    blocked: onblocked,
    // A newer one wants to change what is kept: this one lets go, and what it is asked from then on fails as too old.
    blocking: (_now, _wanted, event) => {
      forget(opened)
      ;(event.target as IDBDatabase).close()
    },
    terminated: () => forget(opened),
    async upgrade(db, before, _now, tx) {
      db.createObjectStore('checkpoints', { keyPath: 'id' }).createIndex('design', 'design')
      db.createObjectStore('histories', { keyPath: 'design' })
      if (before === 4) return
      if (before === 2 || before === 3) {
        await eachOf(tx.objectStore('objects'), (object) => (isTarget(object) ? targetNow(object) : undefined))
        await eachOf(tx.objectStore('runs'), (record) => withTypes(withAddresses(record)) as RunRecord)
        await eachOf(tx.objectStore('agreed'), (catalog) => withTypes(catalog) as Catalog)
        return
      }
      if (before < 1) {
        db.createObjectStore('designs', { keyPath: 'id' })
        db.createObjectStore('objects')
        db.createObjectStore('dumps')
        db.createObjectStore('agreed')
      }
      // The first version wrote single statements into `runs`; nothing read them.
      else db.deleteObjectStore('runs')
      db.createObjectStore('runs', { keyPath: 'id' }).createIndex('target', 'target')
      db.createObjectStore('entries', { autoIncrement: true }).createIndex('run', 'run')
      db.createObjectStore('queries', { autoIncrement: true }).createIndex('target', 'target')
    }
  })
