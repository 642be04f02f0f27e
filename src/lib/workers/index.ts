// Doors to the workers, each started when it is first used.
import * as Comlink from 'comlink'
import type { Core } from './core'
import type { Databases } from './databases'

export type { Compared, Core, Planned, Scripted, Sides } from './core'
export type { Embedded } from './databases'

let core: Comlink.Remote<Core> | undefined
let databases: Comlink.Remote<Databases> | undefined

export function coreWorker(): Comlink.Remote<Core> {
  core ??= Comlink.wrap<Core>(new Worker(new URL('./core.ts', import.meta.url), { type: 'module' }))
  return core
}

export function databaseWorker(): Comlink.Remote<Databases> {
  if (databases) return databases
  if (typeof SharedWorker === 'undefined')
    databases = Comlink.wrap<Databases>(new Worker(new URL('./databases.ts', import.meta.url), { type: 'module' }))
  else {
    const shared = new SharedWorker(new URL('./databases.ts', import.meta.url), {
      type: 'module',
      name: 'ramblet-databases'
    })
    databases = Comlink.wrap<Databases>(shared.port)
  }
  return databases
}
