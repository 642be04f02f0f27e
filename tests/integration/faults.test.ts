// A run that is cut at every boundary: before a transaction, inside it, after it but before anybody was told, and after
// several that an embedded database has not kept yet. Taken up each time, it ends in the same state, and no statement is applied twice. "Inside" is a real cut, see `half` in
// `support/engines.ts`: a server ends the connection that is at work; an embedded engine ends before it has stored what it did.
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { compare } from '../../src/lib/core/compare'
import { writeScript, plan } from '../../src/lib/core/plan'
import { runMigration, type LiveDatabase, type Recorded } from '../../src/lib/live'
import { asRenamed, catalogs, withOrigins } from '../support/catalogs'
import { leftAfter } from '../support/agreed'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'

class Killed extends Error {}
const KILLS = ['before', 'inside', 'after', 'before keeping'] as const
const PLANS = Number(process.env['CASES'] ?? 8)

describe.each(ENGINES_UNDER_TEST)('$label', (engine) => {
  const dialect = dialectOf(engine.engine, engine.version) as Dialect
  let db: Playground
  beforeAll(async () => {
    if (!engine.lacking) db = await engine.open()
  }, 60_000)
  afterAll(() => db?.close())

  it.skipIf(engine.lacking).each(KILLS.filter((kill) => kill !== 'before keeping' || engine.forgets))(
    'killed %s every transaction, ends as if it had not been',
    async (kill) => {
      const told = { plans: 0, kills: 0, statements: 0 }
      const cases = fc.tuple(catalogs(dialect), catalogs(dialect), fc.nat(4), fc.boolean())
      await fc.assert(
        fc.asyncProperty(cases, async ([a, b, shift, renaming]) => {
          await db.reset()
          for (const { sql } of writeScript(a, dialect)) await db.exec(sql)
          const agreed = renaming ? withOrigins(a) : undefined
          const wanted = agreed ? asRenamed(b, agreed, shift) : withOrigins(b)
          const live = await db.live.catalog()
          const migration = plan(live, compare({ wanted, live, agreed }, dialect).changes, dialect)
          const applied = new Map<string, number>()
          const recorded = new Map<number, Recorded>()
          const killed = new Set<number>()
          let group = 0
          let unkept: string[] = []
          /** What is lost was never applied. */
          const forget = () => {
            for (const sql of unkept) applied.set(sql, (applied.get(sql) ?? 0) - 1)
            unkept = []
          }
          const fragile: LiveDatabase = {
            ...db.live,
            catalog: () => db.live.catalog(),
            ...(db.live.keep
              ? {
                  keep: async () => {
                    unkept = []
                    await db.live.keep?.()
                  }
                }
              : {}),
            run: async (statements, options) => {
              const now = !killed.has(group) && (kill !== 'before keeping' || unkept.length > 2)
              if (now) killed.add(group)
              if (now && kill === 'before keeping') {
                await db.live.run(statements, { later: true })
                await db.lose?.()
                forget()
                throw new Killed()
              }
              if (now && kill === 'before') throw new Killed()
              if (now && kill === 'inside') {
                await db.half(statements)
                if (engine.forgets) forget()
                throw new Killed()
              }
              const outcomes = await db.live.run(statements, options)
              if (options?.later && db.live.keep) unkept.push(...statements)
              expect(outcomes.flatMap((o) => o.error?.message ?? [])).toEqual([])
              for (const sql of statements) applied.set(sql, (applied.get(sql) ?? 0) + 1)
              if (now) throw new Killed()
              return outcomes
            }
          }
          for (let rounds = 0; ; rounds++) {
            expect(rounds, 'it comes to an end').toBeLessThan(1000)
            try {
              const { how } = await runMigration(migration, fragile, dialect, {
                recorded,
                onBegin: async (ids) => {
                  group = ids[0] ?? 0
                  for (const id of ids) recorded.set(id, 'begun')
                },
                onResults: (told) => {
                  for (const { step, result } of told) if (result.state === 'done') recorded.set(step.group, 'done')
                }
              })
              if (how === 'unknown') {
                // Nothing in the structure tells: a person looks, and says.
                if (kill === 'after') recorded.set(group, 'done')
                else recorded.delete(group)
                continue
              }
              expect(how).toBe('complete')
              break
            } catch (error) {
              if (!(error instanceof Killed)) throw error
              told.kills++
            }
          }
          const after = await db.live.catalog()
          expect(leftAfter(migration, { wanted, live: after, agreed }, dialect)).toEqual([])
          const twice = [...applied].filter(
            ([sql, times]) => times !== migration.steps.filter((s) => s.statement === sql).length
          )
          expect(twice).toEqual([])
          told.plans++
          told.statements += applied.size
        }),
        { numRuns: PLANS, endOnFailure: true }
      )
      console.log(
        `${engine.label}, killed ${kill}: ${told.plans} plans, ${told.kills} kills, ${told.statements} statements, each applied once`
      )
    },
    1_200_000
  )
})
