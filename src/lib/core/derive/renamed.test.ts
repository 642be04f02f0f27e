// Names by rule: what other rules change, and what stays.
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { edit, newTarget, type Settings } from '../design'
import { dialect, type Dialect } from '../dialects'
import { derive, renamedBy } from '.'

const design = harbour()
const target = newTarget('any')
const postgres = dialect('postgres') as Dialect
const by = (values: Partial<Settings>) => ({ ...design.settings, ...values })
const ruled = (settings: Settings) => ({ kind: 'design.set', set: { settings } }) as const
const named = (settings: Settings) => derive({ ...design, settings }, target, postgres).catalog

describe('other rules for names', () => {
  it('are shown by every name that they change, and by no other', () => {
    const settings = by({
      tables: 'plural',
      tablePrefix: 'th_',
      patterns: { pk: '{table}_key', ix: 'idx_{table}_{columns}' }
    })
    const list = renamedBy(design, target, ruled(settings))
    const [before, after] = [named(design.settings), named(settings)]
    const names = ({ tables }: typeof before) => [
      ...tables.map((table) => table.name),
      ...tables.flatMap((table) =>
        [table.primaryKey, ...table.uniques, ...table.indexes, ...table.foreignKeys].flatMap((one) => one?.name ?? [])
      ),
      ...tables.flatMap((table) => table.columns.map((column) => `${table.origin?.id} ${column.name}`))
    ]
    expect(list.find(({ from }) => from === 'cargo_line')).toMatchObject({ kind: 'table', to: 'th_cargo_lines' })
    expect(list.find(({ from }) => from === 'pk_visit')).toMatchObject({ to: 'th_visits_key' })
    // What is gone from one side is what the list says, name by name.
    const lost = new Set(names(before).filter((name) => !names(after).includes(name)))
    expect(new Set(list.map(({ from }) => from)).size).toBeGreaterThan(40)
    for (const name of lost) expect(list.map(({ from }) => from)).toContain(name.replace(/^\S+ /, ''))
    expect(renamedBy(design, target, ruled(design.settings))).toEqual([])
  })

  it('leave names that were set by hand', () => {
    const byHand = edit(design, { kind: 'entity.set', id: 'ent_visit', set: { dbName: 'stay', keyName: 'stay_is' } })
    const list = renamedBy(byHand, target, ruled(by({ tables: 'plural', patterns: { pk: '{table}_key' } })))
    expect(list.filter(({ from }) => from === 'stay' || from === 'stay_is')).toEqual([])
  })
})
