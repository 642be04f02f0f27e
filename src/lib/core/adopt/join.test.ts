// A database brought into a design that is there: all of it is there as it was, beside what the design had.
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { catalogs } from '../../../../tests/support/catalogs'
import { column, table, tables } from '../../../../tests/support/tables'
import { canonical } from '../catalog'
import { derive } from '../derive'
import { edit, parseDesign, printDesign, type Design } from '../design'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { adopt, joined } from '.'

const postgres = dialectOf('postgres') as Dialect

it.each(['', 'app_'])('with “%s” before the design’s own tables', (tablePrefix) => {
  const before: Design = { ...harbour(), settings: { ...harbour().settings, tablePrefix, identifier: 'uuid' } }
  fc.assert(
    fc.property(catalogs(postgres), ({ partial: _partial, ...catalog }) => {
      const other = { ...catalog, tables: catalog.tables.map((table) => ({ ...table })) }
      const { design, target } = adopt(other, postgres, { name: 'Other', target: 'dev' })
      const after = edit(before, joined(before, design))
      expect(parseDesign(printDesign(after))).toMatchObject({ ok: true })
      // What was there is there; a second “dev” has a name of its own.
      for (const id of Object.keys(before.entities)) expect(after.entities[id]).toEqual(before.entities[id])
      expect(Object.values(after.targets).map(({ name }) => name)).toContain('dev 2')
      const there = after.targets[target.id]
      const made = derive(after, there ?? target, postgres).catalog
      const taken = new Set(Object.values(before.entities).map(({ name }) => name.toLowerCase()))
      // A table whose entity had to be called otherwise is another matter.
      const alike = Object.values(design.entities).filter(({ name }) => !taken.has(name.toLowerCase()))
      for (const { id } of alike) {
        const [now] = made.tables.filter(({ origin }) => origin?.id === id)
        const [was] = derive(design, target, postgres).catalog.tables.filter(({ origin }) => origin?.id === id)
        const inner = (table: typeof now) => table && canonical({ ...catalog, tables: [{ ...table, foreignKeys: [] }] })
        expect(inner(now)).toEqual(inner(was))
      }
    }),
    { numRuns: 40 }
  )
})

it('no name of either changes by the other’s short words', () => {
  // The demo has a quantity and a weight, and is said in full.
  const firebird = dialectOf('firebird') as Dialect
  for (const dialect of [postgres, firebird]) {
    const { fold } = dialect.profile.names
    const cased = (name: string) => (fold === 'upper' ? name.toUpperCase() : name)
    const catalog = {
      ...tables(
        table(cased('landing'), [
          column(cased('landed_qty')),
          column(cased('est_draught')),
          column(cased('deadweight'))
        ])
      ),
      engine: dialect.profile.id
    }
    const placed = {
      ...catalog,
      defaultSchema: dialect.profile.defaultSchema,
      tables: catalog.tables.map((one) => ({ ...one, schema: dialect.profile.defaultSchema }))
    }
    const abbreviations = { qty: 'quantity', wgt: 'weight', est: 'estimated' }
    const { design, target } = adopt(placed, dialect, { name: 'Other', target: 'there', abbreviations })
    const before = harbour()
    const after = edit(before, joined(before, design))
    const named = (which: Design) =>
      derive(which, target, dialect).catalog.tables.map(({ name, columns }) =>
        [name, ...columns.map((c) => c.name)].join()
      )
    expect(named(after).filter((line) => named(before).includes(line))).toEqual(named(before))
    expect(named(after).find((line) => /landing/i.test(line))).toBe(
      ['landing', 'id', 'landed_qty', 'est_draught', 'deadweight']
        .filter((name) => name !== 'id')
        .map(cased)
        .join()
    )
  }
})
