// What the route to databases answers. Errors carry what an engine said, never what it was signed in with.
import * as v from 'valibot'
import { lineText } from '../core/design'
import { LineLost } from '../live'
import { hostRefusal, refusal, rulesOf } from './allowed'
import { databasesApart, makeApart, openApart } from './apart/apart'
import { DRIVERS, type Access } from './open'
import { endSession, inSession, keepSession } from './sessions'

export interface Answer {
  readonly status: number
  readonly body: { readonly value: unknown } | { readonly message: string }
}

const AccessSchema = v.object({
  engine: v.string(),
  host: v.pipe(lineText, v.minLength(1)),
  port: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(65535)),
  database: lineText,
  user: lineText,
  password: lineText,
  tls: v.optional(v.boolean()),
  /** Of a database that is to be made. */
  settings: v.optional(v.record(v.string(), lineText))
})
const SessionSchema = v.object({ session: v.string() })
const QuerySchema = v.object({
  session: v.string(),
  sql: v.string(),
  readOnly: v.optional(v.boolean()),
  byHand: v.optional(v.boolean())
})
const RowsSchema = v.object({ session: v.string(), sql: v.optional(v.string()) })
const RunSchema = v.object({ session: v.string(), statements: v.array(v.string()) })

const RehearseSchema = v.object({
  session: v.string(),
  before: v.array(v.string()),
  steps: v.array(v.array(v.string()))
})

const ODD = 'The request is not in the form that is expected.'

const value = (given: unknown): Answer => ({ status: 200, body: { value: given ?? null } })
const refused = (status: number, message: string): Answer => ({ status, body: { message } })

/** Answers one request. `what` is `open`, `list`, `make`, `catalog`, `query`, `rows`, `endRows`, `run`, `rehearse`, `settled`, `cancel` or `close`. */
export async function answer(
  what: string,
  headers: Pick<Headers, 'get'>,
  read: () => Promise<unknown>,
  env: Readonly<Record<string, string | undefined>>
): Promise<Answer> {
  const rules = rulesOf(env)
  const no = refusal(headers, rules)
  if (no !== undefined) return refused(403, no)
  const body: unknown = await read().catch(() => undefined)
  let secret = ''
  try {
    if (what === 'open' || what === 'list' || what === 'make') {
      const { engine, tls, settings = {}, ...rest } = v.parse(AccessSchema, body)
      const access: Access = { ...rest, ...(tls ? { tls } : {}) }
      secret = access.password
      const far = hostRefusal(access.host, rules)
      if (far !== undefined) return refused(403, far)
      const driver = Object.hasOwn(DRIVERS, engine) ? DRIVERS[engine] : undefined
      if (!driver) return refused(400, `This server has no driver for the engine “${engine}”.`)
      // Nobody's own name is put in where none is given.
      if (access.user === '' && !driver.openToAll) return refused(400, 'A user is needed.')
      if (what === 'list') return value(await databasesApart(engine, access))
      if (what === 'make') return value(await makeApart(engine, access, settings))
      let version = ''
      const address = JSON.stringify([engine, access.host, access.port, access.database, access.user])
      const session = await keepSession(address, async () => {
        const live = await openApart(engine, access)
        try {
          version = (await live.catalog()).serverVersion ?? ''
          return live
        } catch (error) {
          await live.close()
          throw error
        }
      })
      return value({ session, version })
    }
    if (what === 'close') {
      await endSession(v.parse(SessionSchema, body).session)
      return value(null)
    }
    const { session } = v.parse(SessionSchema, body)
    const work = inSession(session, async (live) => {
      if (what === 'catalog') return live.catalog()
      if (what === 'settled') return live.settled?.()
      if (what === 'cancel') return live.cancel?.()
      if (what === 'rows') return live.rows(v.parse(RowsSchema, body).sql)
      if (what === 'endRows') return live.endRows()
      if (what === 'run') return live.run(v.parse(RunSchema, body).statements)
      if (what === 'rehearse') {
        const { before, steps } = v.parse(RehearseSchema, body)
        if (!live.rehearse) throw new Error('This engine is not asked how it would carry a change out.')
        return live.rehearse(before, steps)
      }
      if (what !== 'query') throw new Error(`Nothing here is called “${what}”.`)
      const { sql, readOnly = false, byHand = false } = v.parse(QuerySchema, body)
      return live.query(sql, { readOnly, byHand })
    })
    if (!work) return refused(401, 'The session is not open any more: sign in again.')
    return value(await work)
  } catch (error) {
    if (error instanceof v.ValiError)
      return refused(400, error.issues.map((issue) => issue.message).find((text) => text.endsWith('.')) ?? ODD)
    // The session is of no more use: the page asks for the password again.
    const { session } = v.is(SessionSchema, body) ? body : { session: '' }
    if (error instanceof LineLost && session !== '') {
      await endSession(session)
      return refused(401, error.message)
    }
    const message = error instanceof Error ? error.message || error.name : String(error)
    return refused(502, secret === '' ? message : message.replaceAll(secret, '…'))
  }
}
