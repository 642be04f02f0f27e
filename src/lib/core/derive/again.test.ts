// A catalogue after an edit is what deriving all of it anew gives; and what the edit does not reach is not done again.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { nestedAs, edits } from '../../../../tests/support/designs'
import { edit, type Design } from '../design'
import { dialect as dialectOf, type Dialect } from '../dialects'
import type { Notice } from '../notice'
import { writeAgain, writeScript, type Written } from '../plan'
import { derive, deriveAgain, type DeriveTarget, type Standing } from '.'

const engines = ['postgres', 'sqlite', 'mariadb', 'firebird'].map((id) => dialectOf(id) as Dialect)
const asSet = (notices: readonly Notice[]) =>
  [...new Set(notices.map(({ code, where, message }) => `${code} ${where} ${message}`))].sort()

describe('what is derived again after each edit', () => {
  it('is what all of it gives, on every engine, however it is nested and shared', () => {
    let [partly, kept, all] = [0, 0, 0]
    fc.assert(
      fc.property(edits, fc.nat(3), fc.nat(8), (makes, which, n) => {
        const dialect = engines[which] as Dialect
        let design: Design = harbour()
        let standing: Standing | undefined
        let written: Written | undefined
        const target: DeriveTarget = {
          subtypeTables: n % 2 ? { sub_vessel: 'one table' } : {},
          schemas: {},
          nested: nestedAs(
            makes.reduce((d, make) => edit(d, make(d)), design),
            n
          ),
          departures:
            n % 3
              ? []
              : [{ id: 'att_berth_code', part: 'column', property: 'comment', value: 'what it is called here' }]
        }
        for (const make of [undefined, ...makes]) {
          if (make) design = edit(design, make(design))
          standing = deriveAgain(design, target, dialect, standing)
          const whole = derive(design, target, dialect)
          expect(standing.catalog).toEqual(whole.catalog)
          expect(asSet(standing.notices)).toEqual(asSet(whole.notices))
          expect(standing.trace()).toEqual(whole.trace)
          written = writeAgain(standing.catalog, dialect, {}, written)
          expect(written.statements).toEqual(writeScript(whole.catalog, dialect))
          if (written.kept) kept += 1
          all += 1
          if (standing.redone) partly += 1
        }
      }),
      { numRuns: 300 }
    )
    // It would be no law of anything if all were done anew each time.
    expect(partly / all).toBeGreaterThan(0.3)
    expect(kept / all).toBeGreaterThan(0.2)
  })
})
