import { describe, expect, it } from 'vitest'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { parseType } from '../types'
import { presetForAll } from './presets'

/** Engine, type and default of a column; what others have. */
const CASES: readonly (readonly [string, string, string, string | undefined])[] = [
  ['postgres', 'text(40)', 'NULL::character varying', undefined],
  ['sqlite', 'big', 'NULL', undefined],
  ['sqlite', 'big', "'-1'", '-1'],
  ['sqlite', 'text', '1', "'1'"],
  ['sqlite', 'text', "'1'", "'1'"],
  ['sqlite', 'boolean', 'false', '0'],
  ['mariadb', 'boolean', "'1'", '1'],
  ['mariadb', 'timestamp', "'0000-00-00 00:00:00'", undefined],
  ['sqlite', 'timestamp', '0', undefined],
  ['sqlite', 'boolean', "'t'", '1'],
  ['sqlite', 'boolean', "'F'", '0'],
  ['sqlite', 'text', '"it\'s"', "'it''s'"],
  ['postgres', 'date', "('now')", undefined],
  ['sqlite', 'text', "datetime('now')", undefined],
  ['postgres', 'timestamp', "current_timestamp + '1 day'", undefined],
  ['postgres', 'timestamp', 'current_timestamp', 'current_timestamp'],
  ['postgres', 'uuid', 'gen_random_uuid()', 'gen_random_uuid()'],
  ['postgres', 'integer', '(2 + 3)', '(2 + 3)'],
  ['postgres', 'text', "'a' || 'b'", undefined],
  ['postgres', 'text', "lower('A')", "lower('A')"]
]

describe('a default', () => {
  it.each(CASES)('of %s, %s: %s', (engine, type, said, all) => {
    const read = parseType(type)
    if (!read.ok) throw new Error(type)
    expect(presetForAll(said, { type: read.value }, dialectOf(engine) as Dialect)).toBe(all)
  })
})
