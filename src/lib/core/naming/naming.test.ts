import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  constraintName,
  databaseName,
  inLetters,
  linkColumnName,
  nameLength,
  patterned,
  shorten,
  shortened,
  spelledOut,
  whyNoPattern,
  wordsOf,
  type NamingRules
} from '.'

const postgres: NamingRules = { fold: 'lower', limit: 63, unit: 'bytes', tablePrefix: '' }
const narrow: NamingRules = { fold: 'upper', limit: 30, unit: 'bytes', tablePrefix: '' }

describe('names', () => {
  it.each([
    ['Cargo line', 'cargo_line'],
    ['arrives at', 'arrives_at'],
    ['lengthOverall', 'length_overall'],
    ['Vessel’s flag', 'vessels_flag'],
    ['  spaces — and dashes ', 'spaces_and_dashes'],
    ['état', 'état'],
    ['2nd berth', '_2nd_berth'],
    ['…', 'unnamed']
  ])('%s becomes %s', (business, name) => {
    expect(databaseName(business, postgres)).toBe(name)
    expect(databaseName(business, narrow)).toBe(name.toUpperCase())
  })

  it('of links and constraints follow from what they join', () => {
    expect(linkColumnName('last port', 'code', postgres)).toBe('last_port_code')
    expect(constraintName('fk', ['visit', 'vessel'], postgres)).toBe('fk_visit_vessel')
    expect(wordsOf('Tide gauge No2B')).toEqual(['Tide', 'gauge', 'No2', 'B'])
  })

  it('fit the limit in the engine’s unit, are the same each time, and stay apart', () => {
    const long = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 120 })
    fc.assert(
      fc.property(
        long,
        long,
        fc.constantFrom('bytes' as const, 'characters' as const),
        fc.integer({ min: 20, max: 64 }),
        (a, b, unit, limit) => {
          const [x, y] = [shorten(a, limit, unit), shorten(b, limit, unit)]
          expect(nameLength(x, unit)).toBeLessThanOrEqual(limit)
          expect(shorten(a, limit, unit)).toBe(x)
          if (nameLength(a, unit) <= limit) expect(x).toBe(a)
          if (a !== b) expect(x).not.toBe(y)
        }
      ),
      { numRuns: 300 }
    )
  })

  it('have short words for what people say, and the other way round', () => {
    const abbreviations = { qty: 'quantity', no: 'number', nr: 'number' }
    expect(databaseName('Quantity of number 7', { ...postgres, abbreviations })).toBe('qty_of_no_7')
    expect(spelledOut(['Qty', 'nr', 'berth'], abbreviations)).toEqual(['quantity', 'number', 'berth'])
    expect(shortened(['Qty', 'nr', 'berth'], abbreviations)).toEqual(['Qty', 'nr', 'berth'])
    // Whatever order they are said in.
    expect(shortened(['number'], { nr: 'number', no: 'number' })).toEqual(['no'])
  })

  it.each([
    ['lower', '_', 'cargo_line_no'],
    ['upper', '_', 'CARGO_LINE_NO'],
    ['camel', '_', 'cargoLineNo'],
    ['pascal', undefined, 'CargoLineNo'],
    ['upper', '', 'CARGOLINENO'],
    [undefined, '', 'cargolineno'],
    [undefined, undefined, 'cargo_line_no']
  ] as const)('are in letters of a habit: %s, “%s”', (letters, separator, name) => {
    expect(inLetters('cargo_line_no', { letters, separator })).toBe(name)
  })

  it('are of patterns that tell them apart', () => {
    expect(patterned('bridge', { parent: 'pilot', child: 'vessel' }, { bridge: '{child}_of_{parent}' })).toBe(
      'vessel_of_pilot'
    )
    expect(patterned('table', { name: 'visit' }, undefined)).toBe('visit')
    expect(whyNoPattern('table', 'th_')).toContain('{name}')
    expect(whyNoPattern('bridge', '{parent}')).toContain('{child}')
    expect(whyNoPattern('ix', 'ix {table}')).toContain('“ ” cannot stand in a name')
    expect(whyNoPattern('ix', 'ix_{table}_{columns}')).toBeUndefined()
  })
})
