// Steps of a person's own keep their place when a plan is made again.
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { column, table, tables } from '../../../../tests/support/tables'
import { compare } from '../compare'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { testingDialect } from '../dialects/testing'
import { plan, stepKey, weave } from '.'

const live = tables(table('vessel', [column('imo')]))
const planned = (dialect: Dialect, ...more: string[]) => {
  const wanted = tables(table('vessel', [column('imo'), ...more.map((name) => column(name))]))
  return plan(live, compare({ live, wanted }, dialect).changes, dialect)
}
const said = (migration: ReturnType<typeof planned>) =>
  migration.steps.map((step) => `${step.group} ${step.hand ?? step.effects[0]?.address.path.at(-1) ?? ''}`)

it('stands by the step it was written for, in its transaction where the engine has any', () => {
  for (const dialect of [dialectOf('postgres') as Dialect, testingDialect()]) {
    const first = planned(dialect, 'loa', 'beam')
    const anchor = stepKey(first.steps[1] as never)
    const own = [{ id: 'fill', statement: 'UPDATE vessel SET beam = 1', place: 'after' as const, anchor }]
    const woven = weave(first, own, dialect)
    const inside = dialect.profile.features.transactionalDdl
    expect(said(woven).map((line) => line.split(' ')[1])).toEqual(['loa', 'beam', 'fill'])
    expect(woven.steps[2]?.group === woven.steps[1]?.group).toBe(inside)
    expect(woven.groups.map((group) => group.id)).toEqual([...new Set(woven.steps.map((step) => step.group))])
    // The plan is made again, with one more column before it and one less after.
    expect(said(weave(planned(dialect, 'draught', 'beam'), own, dialect)).map((line) => line.split(' ')[1])).toEqual([
      'draught',
      'beam',
      'fill'
    ])
  }
})

it('runs last, and says so, where its step has gone', () => {
  const dialect = dialectOf('postgres') as Dialect
  const own = [{ id: 'fill', statement: 'SELECT 1', place: 'after' as const, anchor: 'nothing' }]
  const woven = weave(planned(dialect, 'loa'), own, dialect)
  expect(woven.steps.at(-1)).toMatchObject({ hand: 'fill', why: expect.stringContaining('runs last') as string })
})

it('keeps the order of the list at every place, and each transaction whole', () => {
  const anchors = ['loa', 'beam', 'gone'] as const
  const list = fc.array(
    fc.record({ anchor: fc.constantFrom(...anchors), place: fc.constantFrom('before' as const, 'after' as const) }),
    { maxLength: 12 }
  )
  for (const dialect of [dialectOf('postgres') as Dialect, testingDialect()]) {
    const first = planned(dialect, 'loa', 'beam')
    const key = (name: string) =>
      first.steps.filter((s) => s.effects[0]?.address.path.at(-1) === name).map(stepKey)[0] ?? name
    fc.assert(
      fc.property(list, (items) => {
        const own = items.map((item, n) => ({ ...item, id: `${n}`, statement: 'SELECT 1', anchor: key(item.anchor) }))
        const { steps, groups } = weave(first, own, dialect)
        for (const anchor of anchors)
          for (const place of ['before', 'after'] as const) {
            const mine = own.filter((o) => o.anchor === key(anchor) && o.place === place).map((o) => o.id)
            const found = steps.flatMap((s) => (s.hand !== undefined && mine.includes(s.hand) ? s.hand : []))
            expect(found).toEqual(mine)
            const at = (id: string) => steps.findIndex((s) => s.hand === id)
            const own0 = steps.findIndex((s) => s.hand === undefined && stepKey(s) === key(anchor))
            for (const id of mine)
              if (own0 >= 0) expect(at(id) < own0).toBe(place === 'before')
              else expect(at(id) < steps.findIndex((s) => s.hand === undefined)).toBe(place === 'before')
          }
        expect(groups.map((g) => g.id)).toEqual([...new Set(steps.map((s) => s.group))])
      })
    )
  }
})
