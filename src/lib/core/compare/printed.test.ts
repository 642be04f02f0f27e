// What a run of ours has made is as wanted, in whatever words the engine prints it right after.
import { expect, it } from 'vitest'
import { column, table, tables } from '../../../../tests/support/tables'
import type { Change } from '../catalog'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { catalogSession } from '../session'

const postgres = dialectOf('postgres') as Dialect
const ours = 'id >= 0'
const printed = '((id)::numeric >= (0)::numeric)'
const vessel = (expression: string, key = 'id') =>
  table('vessel', [column(key, 'integer', { origin: 'c' })], {
    origin: 'v',
    checks: [{ name: 'ck', expression, origin: { id: 'k', part: 'check' } }]
  })
const made = (expression: string): Change => ({
  action: 'create',
  address: { kind: 'check', path: ['public', 'vessel', 'ck'] },
  object: { kind: 'check', value: { name: 'ck', expression } }
})
const left = (wanted: string, live: string, agreed?: ReturnType<typeof tables>, key = 'id', liveKey = key) =>
  catalogSession(tables(vessel(wanted, key)), {}, postgres)
    .beside({ live: tables(vessel(live, liveKey)), agreed })
    .differences.map(({ change }) =>
      change.action === 'alter' ? `${change.property} ${change.certain}` : change.action
    )
const agree = (effects: readonly Change[], agreed?: ReturnType<typeof tables>) =>
  catalogSession(tables(vessel(ours)), {}, postgres)
    .beside({ live: tables(vessel(printed)), agreed })
    .agree(effects)

it('is known after the run that made it, and after any look that follows', () => {
  expect(left(ours, printed)).toEqual(['expression false'])
  const agreed = agree([made(ours)])
  expect(left(ours, printed, agreed)).toEqual([])
  expect(left(ours, printed, agree([], agreed))).toEqual([])
})

it('is not known when somebody else made it, or made something else, or either side has moved on', () => {
  expect(left(ours, printed, agree([]))).toEqual(['expression false'])
  expect(left(ours, printed, agree([made('id > 0')]))).toEqual(['expression false'])
  const agreed = agree([made(ours)])
  expect(left(ours, '((id)::bigint >= (0)::bigint)', agreed)).toEqual(['expression false'])
  expect(left('id > 0', printed, agreed)).toEqual(['expression true'])
})

it('is known under a new name too', () => {
  const agreed = agree([made(ours)])
  expect(left('nr >= 0', printed, agreed, 'nr', 'id')).toEqual(['rename'])
})
