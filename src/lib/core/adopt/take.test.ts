// Changes made in a database, taken into the design: the law over random databases, and each kind of thing by example.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { catalogs, inOtherCase } from '../../../../tests/support/catalogs'
import { edits, type Make } from '../../../../tests/support/designs'
import { column, table } from '../../../../tests/support/tables'
import { readType, applied, findTable, invert, withTable, namesOf, type Catalog, type Table } from '../catalog'
import { asSpelled, compare } from '../compare'
import { derive } from '../derive'
import { edit, newDesign, newTarget, type Design } from '../design'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { closureOfTaking } from '../plan'
import { take, takeHere } from '.'

const postgres = dialectOf('postgres') as Dialect
const target = newTarget('dev')
const design = harbour()
const wanted = derive(design, target, postgres).catalog

const after = (start: Design, makes: readonly Make[]) => makes.reduce((d, make) => edit(d, make(d)), start)

/** What a design holds less and more than a database, when everything that differs is taken. */
function takeAll(from: Design, catalog: Catalog, live: Catalog) {
  const { changes } = compare({ wanted: catalog, live }, postgres)
  return { changes, taken: take({ design: from, target, changes, wanted: catalog }, postgres) }
}

const changed = (name: string, change: (table: Table) => Table): Catalog => {
  const found = findTable(wanted, 'public', name)
  return found ? withTable(wanted, 'public', name, change(found)) : wanted
}
const withColumn = (name: string, of: string, set: object): Catalog =>
  changed(of, (t) => ({ ...t, columns: t.columns.map((c) => (c.name === name ? { ...c, ...set } : c)) }))

describe('taking', () => {
  const cases: readonly (readonly [string, Catalog])[] = [
    ['a type', withColumn('quay', 'berth', { type: readType('varchar(90)') })],
    ['a type that the design has no word for', withColumn('quay', 'berth', { type: readType('inet') })],
    ['that a value may be missing', withColumn('quay', 'berth', { nullable: true })],
    ['that a parent must be named', withColumn('berth_code', 'visit', { nullable: false })],
    ['a default of text', withColumn('quay', 'berth', { default: "'North'" })],
    ['a default that is worked out', withColumn('quay', 'berth', { default: "lower('NORTH')" })],
    ['no default', withColumn('trade', 'vessel', { default: undefined })],
    ['a comment', withColumn('quay', 'berth', { comment: 'where it lies' })],
    ['a comment on a table', changed('berth', (t) => ({ ...t, comment: 'a place' }))],
    ['a column', changed('berth', (t) => ({ ...t, columns: [...t.columns, column('call_sign', 'varchar(7)')] }))],
    ['that a column is gone', changed('berth', (t) => ({ ...t, columns: t.columns.filter((c) => c.name !== 'quay') }))],
    [
      'a table',
      {
        ...wanted,
        tables: [
          ...wanted.tables,
          table('tug_log', [column('note', 'text', { nullable: false })], {
            primaryKey: { name: 'tug_log_pkey', columns: ['note'] }
          })
        ]
      }
    ],
    ['a unique rule', changed('berth', (t) => ({ ...t, uniques: [{ name: 'berth_quay_key', columns: ['quay'] }] }))],
    [
      'an index',
      changed('berth', (t) => ({
        ...t,
        indexes: [{ name: 'i', unique: false, parts: [{ column: 'quay', descending: true }] }]
      }))
    ],
    ['a check', changed('berth', (t) => ({ ...t, checks: [...t.checks, { name: 'deep', expression: "quay <> ''" }] }))],
    ['that a check is gone', changed('berth', (t) => ({ ...t, checks: [] }))],
    [
      'what an attribute may be',
      changed('vessel', (t) => ({
        ...t,
        checks: t.checks.map((c) =>
          c.expression.includes('tanker') ? { ...c, expression: "trade IN ('bulk', 'ferry')" } : c
        )
      }))
    ],
    [
      'what happens when a parent goes',
      changed('cargo_line', (t) => ({
        ...t,
        foreignKeys: t.foreignKeys.map((fk) => ({ ...fk, onDelete: 'restrict' as const }))
      }))
    ]
  ]
  it.each(cases)('%s', (_, live) => {
    const { changes, taken } = takeAll(design, wanted, live)
    expect(changes.length).toBeGreaterThan(0)
    expect(taken.refused).toEqual([])
    expect(
      compare({ wanted: derive(edit(design, taken.edit), target, postgres).catalog, live }, postgres).changes
    ).toEqual([])
  })

  it('says why a change of what only follows from the design cannot be taken', () => {
    const { taken } = takeAll(design, wanted, withColumn('vessel_id', 'visit', { type: readType('bigint') }))
    expect(taken.refused.map((r) => r.conflict)).toEqual([
      'It follows from the key that a link brings: take the change of that key.'
    ])
  })

  it('takes the rest, whatever one of the changes is refused for, and names the cause', () => {
    const numbered = (name: string, key: string, type = 'integer') =>
      table(name, [column(key, type, { nullable: false, identity: 'by default' }), column('note', 'text')], {
        primaryKey: { name: `pk_${name}`, columns: [key] }
      })
    const fk = (name: string, of: string, to: string, key: string) => ({
      name,
      columns: [of],
      references: { schema: 'public', table: to, columns: [key] },
      onDelete: 'no action' as const,
      onUpdate: 'no action' as const,
      deferrable: 'no' as const
    })
    const live: Catalog = {
      ...wanted,
      tables: [
        ...wanted.tables,
        numbered('boat', 'boat_id', 'bigint'),
        table('oar', [column('length', 'integer', { generated: 'id * 2' }), column('id')]),
        table(
          'crew',
          [column('name', 'text', { nullable: false }), column('boat_boat_id', 'bigint'), column('oar_id')],
          {
            primaryKey: { name: 'pk_crew', columns: ['name'] },
            foreignKeys: [fk('fk_crew_boat', 'boat_boat_id', 'boat', 'boat_id')]
          }
        ),
        table('rack', [column('oar_id')], { foreignKeys: [fk('fk_rack', 'oar_id', 'oar', 'id')] })
      ]
    }
    const { taken } = takeAll(design, wanted, live)
    expect(taken.taken.map((c) => namesOf(c.address).table).sort()).toEqual(['boat', 'crew'])
    expect(taken.refused.map((r) => `${namesOf(r.change.address).table}: ${r.conflict}`).sort()).toEqual([
      'oar: The design cannot say how a column is computed yet.',
      'rack: It needs a table that is not taken: The design cannot say how a column is computed yet.'
    ])
    const next = edit(design, taken.edit)
    const entity = Object.values(next.entities).find((e) => e.name === 'Crew')
    // The foreign key stands there once, as the link that brings its column.
    expect(entity?.attributes.map((a) => a.name)).toEqual(['name', 'oar id'])
    expect(Object.values(next.links).filter((l) => l.child === entity?.id)).toHaveLength(1)
    expect(derive(next, target, postgres).catalog.tables.find((t) => t.name === 'boat')?.columns[0]).toMatchObject({
      name: 'boat_id',
      type: readType('bigint'),
      identity: 'by default'
    })
  })

  it('for one target leaves the design and every other target as they are', () => {
    const live = withColumn('quay', 'berth', { type: readType('varchar(90)') })
    const { changes } = compare({ wanted, live }, postgres)
    const here = { ...target, id: 'here' }
    const start = edit(design, { kind: 'object.set', collection: 'targets', object: here })
    const taken = takeHere({ target: here, changes })
    expect(taken.refused).toEqual([])
    const next = edit(start, taken.edit)
    const departed = next.targets['here']
    expect(departed && compare({ wanted: derive(next, departed, postgres).catalog, live }, postgres).changes).toEqual(
      []
    )
    expect(derive(next, target, postgres).catalog).toEqual(wanted)
  })
})

describe('taking from a database that spells names otherwise', () => {
  const sqlite = dialectOf('sqlite') as Dialect
  const at = newTarget('here', { engine: 'sqlite', version: sqlite.profile.version })
  const given = derive(design, at, sqlite).catalog
  const spelled = inOtherCase(given, [true, false, false], sqlite)

  it.each([take, takeHere])('%o takes what differs, and nothing of the spelling', (how) => {
    const name = spelled.tables.find((t) => t.name.toLowerCase() === 'berth')?.name ?? ''
    const there = findTable(spelled, 'main', name)
    if (!there) throw new Error('no such table')
    const live = withTable(spelled, 'main', name, {
      ...there,
      columns: [
        ...there.columns.map((c) => ({ ...c, type: /quay/i.test(c.name) ? readType('blob') : c.type })),
        column('Lamp', 'text')
      ]
    })
    const spell = (catalog: Catalog) => asSpelled({ wanted: catalog, live }, sqlite)
    const { changes } = compare({ wanted: spell(given), live }, sqlite)
    expect(changes.map((c) => `${c.action} ${namesOf(c.address).name.toLowerCase()}`)).toEqual([
      'drop lamp',
      'alter quay'
    ])
    const taken = how({ design, target: at, changes, wanted: spell(given), spell }, sqlite)
    expect(taken.refused).toEqual([])
    const next = edit(edit(design, { kind: 'object.set', collection: 'targets', object: at }), taken.edit)
    const now = derive(next, next.targets[at.id] ?? at, sqlite).catalog
    expect(compare({ wanted: spell(now), live }, sqlite).changes).toEqual([])
  })
})

describe('the law: derive(take(design, change)) = apply(change, derive(design))', () => {
  const some = fc.array(fc.nat(1000), { minLength: 1, maxLength: 3 })
  interface Count {
    take: number
    takeHere: number
  }
  const check = (from: Design, live: Catalog, picks: readonly number[], count: Count) => {
    const before = derive(from, target, postgres).catalog
    const all = compare({ wanted: before, live }, postgres).changes
    const chosen = picks.flatMap((n) => all[n % Math.max(all.length, 1)] ?? [])
    const { changes } = closureOfTaking({ chosen, all, live, wanted: before }, postgres)
    for (const how of [take, takeHere]) {
      const taken = how({ design: from, target, changes, wanted: before }, postgres)
      for (const { conflict } of taken.refused) expect(conflict).toMatch(/\.$/)
      const told = new Set([...taken.taken, ...taken.refused.map((r) => r.change)])
      expect(changes.filter((change) => !told.has(change))).toEqual([])
      count[how === take ? 'take' : 'takeHere'] += taken.taken.length > 0 ? 1 : 0
      const expected = applied(invert(taken.taken), before, postgres.write)
      const next = edit(from, taken.edit)
      const at = how === take ? target : (next.targets[target.id] ?? target)
      expect(compare({ wanted: derive(next, at, postgres).catalog, live: expected }, postgres).changes).toEqual([])
    }
  }

  it('for databases that a changed design would have made', () => {
    const count: Count = { take: 0, takeHere: 0 }
    fc.assert(
      fc.property(edits, some, (makes, picks) => {
        const other = derive(after(design, makes), target, postgres)
        fc.pre(!other.notices.some((notice) => notice.severity === 'error'))
        check(design, other.catalog, picks, count)
      }),
      { numRuns: 60 }
    )
    // Each by itself: what the design takes for all, and what one target takes.
    expect(count.take).toBeGreaterThan(25)
    expect(count.takeHere).toBeGreaterThan(25)
  })

  it('for databases that nobody designed', () => {
    const count: Count = { take: 0, takeHere: 0 }
    fc.assert(
      fc.property(catalogs(postgres), some, (live, picks) => check(newDesign('Harbour'), live, picks, count)),
      { numRuns: 150 }
    )
    expect(count.take).toBeGreaterThan(60)
    expect(count.takeHere).toBeGreaterThan(60)
  })
})
