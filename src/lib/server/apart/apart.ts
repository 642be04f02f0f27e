// Databases by drivers that run apart, a thread a session. The thread has a bound of memory and no environment: what the
// operator of this server has set for his own sessions reaches nobody else's.
import { setTimeout as pause } from 'node:timers/promises'
import { Worker } from 'node:worker_threads'
import { code } from 'virtual:driver'
import type { DatabaseSettings } from '../../core/dialects'
import { LineLost, type LiveDatabase } from '../../live'
import type { Access } from '../open'
import type { Asked, Opening, Question, Reply } from './protocol'

/** Megabytes of memory that one session's driver may hold. */
const MEMORY = 256

/** Milliseconds for which a driver may take leave of its server. */
const GRACE = 1000

interface Waiting {
  resolve(value: never): void
  reject(error: Error): void
}

class Thread {
  private readonly worker = new Worker(code, {
    eval: true,
    env: {},
    resourceLimits: { maxOldGenerationSizeMb: MEMORY }
  })
  private readonly waiting = new Map<number, Waiting>()
  private asked = 0
  private gone: string | undefined

  constructor() {
    this.worker.unref()
    this.worker.on('message', (reply: Reply) => {
      const own = this.waiting.get(reply.id)
      this.waiting.delete(reply.id)
      if (this.waiting.size === 0) this.worker.unref()
      if ('value' in reply) own?.resolve(reply.value as never)
      else own?.reject(errorOf(reply.error))
    })
    this.worker.on('error', (error: Error & { code?: string }) => this.end(whatEnded(error)))
    this.worker.on('exit', () => this.end('the driver has ended'))
  }

  ask<T>(what: Asked, ...args: readonly unknown[]): Promise<T> {
    if (this.gone !== undefined) return Promise.reject(this.lost())
    const id = ++this.asked
    this.worker.ref()
    return new Promise<T>((resolve, reject) => {
      this.waiting.set(id, { resolve, reject })
      this.worker.postMessage({ id, what, args } satisfies Question)
    })
  }

  async stop(): Promise<void> {
    await this.worker.terminate()
  }

  private end(why: string) {
    this.gone ??= why
    for (const { reject } of this.waiting.values()) reject(this.lost())
    this.waiting.clear()
  }

  private lost = () => new LineLost(`The connection to the database was lost: ${this.gone ?? ''}.`)
}

const whatEnded = ({ code, message }: Error & { code?: string }): string =>
  code === 'ERR_WORKER_OUT_OF_MEMORY'
    ? `what it sent is more than the ${MEMORY} MB that one session may hold`
    : `its driver could not make sense of what the server sent (${message})`

const errorOf = ({ name, message }: { name: string; message: string }): Error =>
  name === 'LineLost' ? new LineLost(message) : Object.assign(new Error(message), { name })

export async function openApart(engine: string, access: Access): Promise<LiveDatabase> {
  const thread = new Thread()
  try {
    const can = await thread.ask<{ settled: boolean; cancel: boolean; rehearse: boolean }>('open', {
      engine,
      access
    } satisfies Opening)
    return {
      engine,
      catalog: () => thread.ask('catalog'),
      query: (sql, options) => thread.ask('query', sql, options),
      rows: (sql) => thread.ask('rows', sql),
      endRows: () => thread.ask('endRows'),
      run: (statements, options) => thread.ask('run', statements, options),
      ...(can.settled ? { settled: () => thread.ask<void>('settled') } : {}),
      ...(can.rehearse ? { rehearse: (before, steps) => thread.ask('rehearse', before, steps) } : {}),
      ...(can.cancel ? { cancel: () => thread.ask<void>('cancel') } : {}),
      close: async () => {
        await Promise.race([thread.ask('close').catch(() => undefined), pause(GRACE, undefined, { ref: false })])
        await thread.stop()
      }
    }
  } catch (error) {
    await thread.stop()
    throw error
  }
}

export const databasesApart = (engine: string, access: Access): Promise<string[]> =>
  askedOnce('databases', { engine, access })

/** Makes a database; rejects with what is wrong. */
export const makeApart = (engine: string, access: Access, settings: DatabaseSettings): Promise<void> =>
  askedOnce('make', { engine, access, settings })

async function askedOnce<T>(what: Asked, opening: Opening): Promise<T> {
  const thread = new Thread()
  try {
    return await thread.ask<T>(what, opening)
  } finally {
    await thread.stop()
  }
}
