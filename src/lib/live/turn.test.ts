// What an embedded database does in turn, and when it is kept, against a model: whatever is asked and however saving goes.
import fc from 'fast-check'
import { describe, expect, it, vi } from 'vitest'
import type { LiveDatabase } from './database'
import { inTurn } from './turn'

/** A database that is a list of statements; `no` is refused. */
function listed() {
  const held: string[] = []
  let busy = false
  const alone = async <T>(work: () => T): Promise<T> => {
    expect(busy, 'two calls meet').toBe(false)
    busy = true
    await new Promise((resolve) => setTimeout(resolve, 0))
    busy = false
    return work()
  }
  const live: LiveDatabase = {
    engine: 'list',
    catalog: () => alone(() => ({ engine: 'list', defaultSchema: '', tables: [], unread: [] })),
    rows: async () => ({ columns: [], rows: [], affected: 0 }),
    endRows: async () => undefined,
    query: () => alone(() => ({ columns: [], rows: held.map((sql) => [sql]), affected: 0 })),
    run: (statements) =>
      alone(() => {
        const refused = statements.includes('no')
        if (!refused) held.push(...statements)
        return statements.map((sql) =>
          sql === 'no'
            ? { ok: false, time: 0, affected: 0, error: { message: 'no' } }
            : { ok: true, time: 0, affected: 1 }
        )
      }),
    close: () => alone(() => undefined)
  }
  return { live, held }
}

type Asked = 'run' | 'later' | 'refused' | 'keep' | 'look' | 'full' | 'room'
const asked = fc.array(fc.constantFrom<Asked>('run', 'later', 'later', 'refused', 'keep', 'look', 'full', 'room'), {
  maxLength: 30
})

describe('in turn', () => {
  it('nothing meets, and what is said to be kept is kept', async () => {
    await fc.assert(
      fc.asyncProperty(asked, fc.boolean(), async (list, waiting) => {
        const { live, held } = listed()
        let kept: readonly string[] = []
        let full = false
        const turned = inTurn(live, async () => {
          if (full) throw new Error('no room')
          kept = [...held]
        })
        /** What is done of the first so many. */
        const done = (end: number) =>
          list.slice(0, end).flatMap((what, n) => (what === 'run' || what === 'later' ? [`s${n}`] : []))
        const said: Promise<unknown>[] = []
        for (const [n, what] of list.entries()) {
          if (what === 'full' || what === 'room') {
            // What was asked for before is done before: the disk is full from here on.
            await Promise.allSettled(said)
            full = what === 'full'
            continue
          }
          const statement = what === 'refused' ? 'no' : `s${n}`
          const call =
            what === 'keep'
              ? turned.keep?.()
              : what === 'look'
                ? turned.query('')
                : turned.run([statement], { later: what === 'later' })
          const checked = Promise.resolve(call).then(
            () => {
              if (what === 'run') expect(kept).toContain(statement)
              if (what === 'keep')
                expect(kept.length).toBeGreaterThanOrEqual(held.filter((s) => kept.includes(s)).length)
              expect(held).not.toContain('no')
            },
            (error: unknown) => expect([what, String(error)]).toEqual([what, 'Error: no room'])
          )
          said.push(checked)
          if (waiting) await checked
        }
        await Promise.all(said)
        full = false
        await turned.keep?.()
        // Nothing that was done is left out, and it stands in the order in which it was asked for.
        expect(kept).toEqual(held)
        expect(held).toEqual(done(list.length))
      }),
      { numRuns: 200 }
    )
  })

  it('a server’s database has nothing to keep', () => {
    expect(inTurn(listed().live).keep).toBeUndefined()
  })

  it('keeps once for many statements, and not at all where there is nothing to keep', async () => {
    const { live } = listed()
    const save = vi.fn(async () => undefined)
    const turned = inTurn(live, save)
    for (let n = 0; n < 5; n++) await turned.run([`s${n}`], { later: true })
    expect(save).not.toHaveBeenCalled()
    await turned.keep?.()
    await turned.keep?.()
    await turned.run(['no'])
    expect(save).toHaveBeenCalledTimes(1)
  })
})
