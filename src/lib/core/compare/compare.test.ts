// Matching: when a new name is a rename, and when it is only likely to be one.
import { describe, expect, it } from 'vitest'
import { column, table, tables as catalog } from '../../../../tests/support/tables'
import { readType, applied, namesOf } from '../catalog'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { agree, compare } from '.'

const postgres = dialectOf('postgres') as Dialect

const said = (input: Parameters<typeof compare>[0]) =>
  compare(input, postgres).changes.map(
    (c) =>
      `${c.action} ${c.address.kind} ${namesOf(c.address).table}.${namesOf(c.address).name}${c.action === 'rename' ? ` ${c.to}` : c.action === 'alter' ? ` ${c.property}` : ''}`
  )

const live = catalog(table('vessel', [column('imo'), column('length_m', 'numeric(6,2)')]))
const wanted = catalog(
  table('vessel', [column('imo', 'integer', { origin: 'a1' }), column('loa', 'numeric(6,2)', { origin: 'a2' })], {
    origin: 'e1'
  })
)
const agreed = catalog(
  table('vessel', [column('imo', 'integer', { origin: 'a1' }), column('length_m', 'numeric(6,2)', { origin: 'a2' })], {
    origin: 'e1'
  })
)

describe('a new name', () => {
  it('is a rename where both sides agreed on what it was', () => {
    expect(said({ wanted, live, agreed })).toEqual(['rename column vessel.length_m loa'])
  })

  it('is a loss and a likely rename by name alone, and a rename once confirmed', () => {
    const found = compare({ wanted, live }, postgres)
    expect(said({ wanted, live })).toEqual(['drop column vessel.length_m', 'create column vessel.loa'])
    expect(found.likely).toEqual([
      { schema: 'public', table: 'vessel', column: 'length_m', to: 'loa', because: 'both are numeric(6,2)' }
    ])
    expect(said({ wanted, live, confirmed: found.likely })).toEqual(['rename column vessel.length_m loa'])
  })

  it('is known of a table too, and reaches the foreign keys that name it', () => {
    const fk = (to: string) => ({
      name: 'fk',
      columns: ['ship'],
      references: { schema: 'public', table: to, columns: ['imo'] },
      onDelete: 'restrict' as const,
      onUpdate: 'no action' as const,
      deferrable: 'no' as const
    })
    const visit = (to: string) => table('visit', [column('ship')], { foreignKeys: [fk(to)] })
    const now = catalog(...live.tables, visit('vessel'))
    const then = catalog(table('craft', [column('imo'), column('length_m', 'numeric(6,2)')]), visit('craft'))
    const confirmed = compare({ wanted: then, live: now }, postgres).likely
    expect(confirmed).toMatchObject([{ table: 'vessel', to: 'craft' }])
    expect(said({ wanted: then, live: now, confirmed })).toEqual(['rename table vessel.vessel craft'])
    expect(applied(compare({ wanted: then, live: now, confirmed }, postgres).changes, now, postgres.write)).toEqual(
      then
    )
  })

  it('may be swapped with another', () => {
    const swapped = catalog(
      table(
        'vessel',
        [column('length_m', 'integer', { origin: 'a1' }), column('imo', 'numeric(6,2)', { origin: 'a2' })],
        {
          origin: 'e1'
        }
      )
    )
    expect(said({ wanted: swapped, live, agreed })).toEqual([
      'rename column vessel.imo length_m',
      'rename column vessel.length_m imo'
    ])
  })

  it('of a key or index that is otherwise the same needs nobody’s word: it holds no rows', () => {
    const index = (name: string) => ({
      indexes: [{ name, unique: false, parts: [{ column: 'imo', descending: false }] }]
    })
    const [a, b] = [
      catalog(table('vessel', [column('imo')], index('vessel_imo_idx'))),
      catalog(table('vessel', [column('imo')], index('ix_vessel_imo')))
    ]
    expect(said({ wanted: b, live: a })).toEqual(['rename index vessel.vessel_imo_idx ix_vessel_imo'])
  })
})

describe('a difference', () => {
  it('is told property by property', () => {
    const other = catalog(
      table(
        'vessel',
        [
          { name: 'imo', type: readType('bigint'), nullable: false, default: '1', comment: 'hull' },
          { name: 'length_m', type: postgres.types.read('DECIMAL (6, 2)'), nullable: true }
        ],
        { comment: 'floats' }
      )
    )
    expect(said({ wanted: other, live })).toEqual([
      'alter table vessel.vessel comment',
      'alter column vessel.imo type',
      'alter column vessel.imo nullable',
      'alter column vessel.imo default',
      'alter column vessel.imo comment'
    ])
  })

  it('that cannot be told is marked so', () => {
    const check = (expression: string) =>
      catalog(table('vessel', [column('imo')], { checks: [{ name: 'ck', expression }] }))
    const [change] = compare({ wanted: check('imo::bigint > 5'), live: check('imo > 5') }, postgres).changes
    expect(change).toMatchObject({ action: 'alter', property: 'expression', certain: false })
  })
})

describe('what is agreed', () => {
  const agreeOn = (input: Parameters<typeof compare>[0]) => agree(input, compare(input, postgres).changes, postgres)
  it('has the identity of each object, under the name the database has', () => {
    expect(agreeOn({ wanted, live, agreed })).toEqual(agreed)
  })
  it('leaves out what only the database has and what the two sides have differently', () => {
    const stranger = catalog(...live.tables, table('tide', [column('height')]))
    expect(agreeOn({ wanted, live: stranger, agreed })).toEqual(agreed)
    const other = catalog(table('vessel', [column('imo', 'bigint', { origin: 'a1' })], { origin: 'e1' }))
    expect(agreeOn({ wanted: other, live }).tables[0]?.columns).toEqual([])
  })
})
