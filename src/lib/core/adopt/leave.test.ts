// Some of a database is left out, and several scripts are read as one: what is left stands by itself.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { catalogs } from '../../../../tests/support/catalogs'
import { addressKey, canonical, find, findTable, tableKey } from '../catalog'
import { derive } from '../derive'
import { dialect as dialectOf, printScript, type Dialect } from '../dialects'
import { writeScript } from '../plan'
import { session } from '../session'
import { adopt, besideTables, leftOut, readTogether } from '.'

const READ = ['postgres', 'sqlite'].map((id) => dialectOf(id) as Dialect)

describe.each(READ.map((dialect) => [dialect.profile.label, dialect] as const))('of a database of %s', (_, dialect) => {
  it('tables are left out with all that stands on them, and the rest is in step with the whole', () => {
    fc.assert(
      fc.property(
        catalogs(dialect),
        fc.array(fc.boolean(), { minLength: 12, maxLength: 12 }),
        fc.array(fc.boolean(), { minLength: 12, maxLength: 12 }),
        ({ partial: _partial, ...catalog }, wanted, others) => {
          const chosen = new Set(
            catalog.tables.filter((_table, i) => wanted[i % 12]).map(({ schema, name }) => tableKey(schema, name))
          )
          const loose = besideTables(catalog)
          const kept = new Set(loose.filter((_address, i) => others[i % 12]).map(addressKey))
          const ignored = leftOut(
            catalog,
            ({ schema, name }) => chosen.has(tableKey(schema, name)),
            (address) => kept.has(addressKey(address))
          )
          const { design, target, left } = adopt(catalog, dialect, { name: 'Tidewell', target: 'quay', ignored })
          expect(left).toEqual([])
          const made = derive(design, target, dialect).catalog
          expect(made.tables.map(({ schema, name }) => tableKey(schema, name)).sort()).toEqual([...chosen].sort())
          for (const address of loose) if (!kept.has(addressKey(address))) expect(find(made, address)).toBeUndefined()
          for (const { references } of made.tables.flatMap(({ foreignKeys }) => foreignKeys))
            expect(findTable(made, references.schema, references.table)).toBeDefined()
          const beside = session(design, target, dialect).beside({ live: catalog, agreed: undefined, confirmed: [] })
          expect(beside.differences).toEqual([])
        }
      ),
      { numRuns: 60 }
    )
  })

  it('the statements of a script, each in a file of its own and in any order, make the same', () => {
    const arbitrary = catalogs(dialect)
      .map((catalog) => writeScript(catalog, dialect))
      .filter((statements) => statements.length > 0 && statements.length <= 12)
      .chain((statements) =>
        fc.tuple(fc.constant(statements), fc.shuffledSubarray([...statements.keys()], { minLength: statements.length }))
      )
    fc.assert(
      fc.property(arbitrary, ([statements, shuffled]) => {
        const texts = statements.map((statement) => printScript([statement], dialect))
        const whole = readTogether([texts.join('\n')], dialect.profile.id)
        const parted = readTogether(
          shuffled.map((i) => texts[i] ?? ''),
          dialect.profile.id
        )
        expect(parted?.statements.filter(({ how }) => how === 'unknown')).toEqual([])
        expect(parted && canonical(parted.catalog)).toEqual(whole && canonical(whole.catalog))
        expect(parted && [...parted.order].sort((a, b) => a - b)).toEqual([...statements.keys()])
      }),
      { numRuns: 30 }
    )
  })
})
