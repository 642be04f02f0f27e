// What a script for the shell does, as the engine's own shell takes it (@mongosh, with nothing behind it that answers).
import { EventEmitter } from 'node:events'
import { runInContext, createContext } from 'node:vm'
import { ShellInstanceState } from '@mongosh/shell-api'
import { ShellEvaluator } from '@mongosh/shell-evaluator'
import * as bson from 'bson'
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { edits } from '../../../../../tests/support/designs'
import { DOCUMENTS } from '../../../../../tests/support/documents'
import { derive } from '../../derive'
import { edit } from '../../design'
import { writeScript } from '../../plan'
import { shellText } from './shell'
import { dialect as dialectOf, printScript, type Dialect } from '..'

const dialect = dialectOf('mongodb') as Dialect

/** The commands that a script sends. */
async function sent(script: string): Promise<unknown[]> {
  const commands: unknown[] = []
  const answer = { ok: 1, cursor: { id: 0, ns: 'test.x', firstBatch: [] } }
  const record = async (_: string, command: unknown) => {
    commands.push(command)
    return answer
  }
  const provider = {
    initialDb: 'test',
    bsonLibrary: bson,
    platform: 'CLI',
    runCommand: record,
    runCommandWithCheck: record,
    renameCollection: async (_: string, from: string, to: string) => {
      commands.push({ renameCollection: from, to })
      return answer
    },
    getConnectionInfo: async () => ({ buildInfo: { version: '8.0.0' } }),
    getTopology: () => undefined,
    getFleOptions: () => undefined,
    getURI: () => 'mongodb://nowhere'
  }
  const state = new ShellInstanceState(provider as never, new EventEmitter() as never)
  const context = createContext({})
  state.setCtx(context)
  const evaluator = new ShellEvaluator(state)
  const evaluate = async (text: string, where: object) => runInContext(text, where as never) as unknown
  await evaluator.customEval(evaluate as never, script, context, 'script')
  return commands
}

it('does the commands that are meant, as the shell of the engine takes it', async () => {
  await fc.assert(
    fc.asyncProperty(edits, async (makes) => {
      const design = makes.reduce((now, make) => edit(now, make(now)), DOCUMENTS)
      const { catalog } = derive(design, { subtypeTables: {}, schemas: {} }, dialect)
      const statements = writeScript(catalog, dialect)
      expect(JSON.parse(JSON.stringify(await sent(printScript(statements, dialect))))).toEqual(
        statements.map(({ sql }) => JSON.parse(sql) as unknown)
      )
    }),
    { numRuns: 20 }
  )
  // What somebody has written is as it was written.
  expect(shellText('db.vessel.drop()')).toBe('db.vessel.drop();')
  expect(await sent('db.getCollection("a").renameCollection("b");')).toEqual([{ renameCollection: 'a', to: 'b' }])
}, 120_000)
