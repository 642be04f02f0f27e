// Doors to the workers, each started when it is first used.
import * as Comlink from 'comlink'
import type { Core } from './core'
import type { Databases } from './databases'
import { packed, Sender } from './held'

export type { Compared, Core, Planned, ScriptChange, Scripted, Sides } from './core'
export type { Embedded } from './databases'

type CoreWorker = Comlink.Remote<Core>
let core: CoreWorker | undefined
let databases: Comlink.Remote<Databases> | undefined

/** A worker of the core; of the designs that it is sent, only what is other goes over. */
function startCore(): { readonly calls: CoreWorker; readonly end: () => void } {
  const worker = new Worker(new URL('./core.ts', import.meta.url), { type: 'module' })
  const remote = Comlink.wrap<Core>(worker)
  const sender = new Sender()
  const calls = new Proxy(remote, {
    get: (target, name) => {
      const call: unknown = Reflect.get(target, name)
      return typeof call !== 'function' || typeof name === 'symbol'
        ? call
        : (...args: unknown[]) =>
            Reflect.apply(
              call,
              target,
              args.map((arg) => packed(arg, sender))
            ) as unknown
    }
  })
  return { calls, end: () => worker.terminate() }
}

export const coreWorker = (): CoreWorker => (core ??= startCore().calls)

/** Said of a comparison that a newer one has taken the place of. */
export class GivenUp extends Error {
  override readonly name = 'GivenUp'
}

/** A worker for comparing alone, so that scripts and texts do not wait for it. */
let apart: { readonly calls: CoreWorker; readonly ended: Promise<never>; readonly end: () => void } | undefined
/** The target that is being compared there. */
let comparing: { readonly target: string } | undefined

function apartWorker() {
  if (apart) return apart
  const { calls, end } = startCore()
  let reject: (why: Error) => void = () => undefined
  const ended = new Promise<never>((_, no) => (reject = no))
  ended.catch(() => undefined)
  return (apart = {
    calls,
    ended,
    end: () => {
      end()
      apart = undefined
      reject(new GivenUp('A newer comparison has taken its place.'))
    }
  })
}

type Compare = Core['compare']

/**
 * Compares in a worker of its own. One of the same target that is still going on is given up for it, and what else the
 * worker had under way: they reject with `GivenUp`.
 */
export async function compareNewest(sides: Parameters<Compare>[0]): Promise<ReturnType<Compare>> {
  if (comparing?.target === sides.targetId) apart?.end()
  const { calls, ended } = apartWorker()
  const own = (comparing = { target: sides.targetId })
  try {
    return await Promise.race([calls.compare(sides), ended])
  } finally {
    if (comparing === own) comparing = undefined
  }
}

/** What both sides agree on, worked out there too. */
export async function agreeApart(...asked: Parameters<Core['agree']>): Promise<ReturnType<Core['agree']>> {
  const { calls, ended } = apartWorker()
  return Promise.race([calls.agree(...asked), ended])
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
