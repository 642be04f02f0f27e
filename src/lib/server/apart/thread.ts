// A driver in a thread of its own: what a bad peer makes it throw, or hold in memory, ends this thread and nothing else.
import { parentPort } from 'node:worker_threads'
import type { LiveDatabase } from '../../live'
import { DRIVERS } from '../open'
import type { Opening, Question, Reply } from './protocol'

let live: LiveDatabase | undefined

async function answer({ what, args }: Question): Promise<unknown> {
  if (what === 'open' || what === 'databases' || what === 'make') {
    const { engine, access, settings = {} } = args[0] as Opening
    const driver = DRIVERS[engine]
    if (!driver) throw new Error(`This server has no driver for the engine “${engine}”.`)
    if (what === 'databases') return driver.databases(access)
    if (what === 'make') {
      if (!driver.make) throw new Error('A database of this engine is made by what is put into it.')
      return driver.make(access, settings)
    }
    live = await driver.open(access)
    return {
      settled: live.settled !== undefined,
      cancel: live.cancel !== undefined,
      rehearse: live.rehearse !== undefined
    }
  }
  const method = live?.[what] as ((...args: readonly unknown[]) => Promise<unknown>) | undefined
  return method?.apply(live, [...args])
}

parentPort?.on('message', (question: Question) => {
  const { id } = question
  answer(question).then(
    (value) => parentPort?.postMessage({ id, value } satisfies Reply),
    (error: unknown) => {
      const { name, message } = error instanceof Error ? error : new Error(String(error))
      parentPort?.postMessage({ id, error: { name, message: message || name } } satisfies Reply)
    }
  )
})
