// What the browser keeps: designs object by object, databases, agreed states, and the record of runs.
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import type { Catalog } from '../core/catalog'

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

export interface RunRecord {
  readonly target: string
  readonly at: number
  readonly statement: string
  readonly result: 'done' | 'failed'
  readonly message?: string
  /** Milliseconds. */
  readonly time: number
}

interface Schema extends DBSchema {
  designs: { key: string; value: DesignHead }
  /** Key: design, collection, object id. */
  objects: { key: [string, string, string]; value: unknown }
  /** Key: target. */
  dumps: { key: string; value: Blob }
  agreed: { key: string; value: Catalog }
  runs: { key: number; value: RunRecord; indexes: { target: string } }
}

let opened: Promise<IDBPDatabase<Schema>> | undefined

export function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>('ramblet', 1, {
    upgrade(db) {
      db.createObjectStore('designs', { keyPath: 'id' })
      db.createObjectStore('objects')
      db.createObjectStore('dumps')
      db.createObjectStore('agreed')
      db.createObjectStore('runs', { autoIncrement: true }).createIndex('target', 'target')
    }
  })
  return opened
}
