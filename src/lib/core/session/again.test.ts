// Columns, pictures, catalogues and scripts after an edit are what working them out anew gives; and what the edit does not reach is not
// done again.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { nestedAs, edits } from '../../../../tests/support/designs'
import { edit, type Design } from '../design'
import { dialect as dialectOf, type Dialect } from '../dialects'
import type { Notice } from '../notice'
import { picture } from '../picture'
import { writeAgain, writeScript, type Written } from '../plan'
import { derive, deriveAgain, logical, type DeriveTarget, type Standing } from '../derive'

const engines = ['postgres', 'sqlite', 'mariadb', 'firebird'].map((id) => dialectOf(id) as Dialect)
const asSet = (notices: readonly Notice[]) =>
  [...new Set(notices.map(({ code, where, message }) => `${code} ${where} ${message}`))].sort()

describe('what is worked out again after each edit', () => {
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
        for (const make of [undefined, ...makes.slice(0, 8)]) {
          if (make) design = edit(design, make(design))
          standing = deriveAgain(design, target, dialect, standing)
          // Of a copy, nothing is remembered.
          const copy = structuredClone(design)
          const whole = derive(copy, target, dialect)
          const [now, anew] = [logical(design), logical(copy)]
          for (const id in design.entities) expect(now.entity(id)).toEqual(anew.entity(id))
          const [diagram] = Object.values(design.diagrams)
          if (diagram) expect(picture(design, diagram)).toEqual(picture(copy, diagram))
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
  }, 300_000)
})
