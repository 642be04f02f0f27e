// Types in anybody's words.
import { describe, expect, it } from 'vitest'
import { typeText } from '../catalog'
import { dialect, ENGINES } from '../dialects'
import { parseType, printType, spokenType, TYPE_CHOICES } from '../types'
import { typedType } from '.'

const meant = (text: string) => {
  const read = typedType(text)
  return 'value' in read ? printType(read.value.type) + (read.value.numbered ? ', numbered' : '') : read.error
}

describe('a type', () => {
  it.each(ENGINES.flatMap(({ id }) => dialect(id) ?? []).map((engine) => [engine.profile.label, engine] as const))(
    'is understood in the words of %s, and means what the engine means',
    (_, { types }) => {
      for (const { type } of TYPE_CHOICES) {
        const own = types.fromNeutral(type).type
        const text = typeText(own)
        // What means something here by itself, or to most engines, does so whatever one of them makes of it.
        if (parseType(text).ok || ['timestamp(6)', 'real', 'decimal'].includes(text) || own.name === 'map') continue
        expect([text, meant(text)]).toEqual([text, printType(types.toNeutral(own))])
      }
    }
  )

  // PostgreSQL: "Data Types" of its manual. MariaDB: "Data Types". SQL Server and Oracle Database: from memory.
  it.each([
    ['varchar(40)', 'text(40)'],
    ['VARCHAR2(40 )', 'text(40)'],
    ['nvarchar(max)', 'text'],
    ['character varying (12)', 'text(12)'],
    ['char', 'char(1)'],
    ['int', 'integer'],
    ['int(11)', 'integer'],
    ['int unsigned', 'big'],
    ['bigint unsigned', 'decimal(20,0)'],
    ['tinyint(1)', 'boolean'],
    ['bit', 'boolean'],
    ['number(10)', 'decimal(10,0)'],
    ['number(10, 2)', 'decimal(10,2)'],
    ['numeric', 'decimal(12,2)'],
    ['money', 'decimal(19,4)'],
    ['float(53)', 'double'],
    ['double precision', 'double'],
    ['datetime2(7)', 'timestamp'],
    ['timestamp(3) with time zone', 'timestamp with zone'],
    ['datetimeoffset', 'timestamp with zone'],
    ['uniqueidentifier', 'uuid'],
    ['varbinary(16)', 'binary(16)'],
    [`enum('bulk', 'it''s "new"')`, 'one of (bulk, "it\'s ""new""")'],
    ['serial', 'integer, numbered'],
    ['bigserial', 'big, numbered']
  ])('“%s” is %s', (text, type) => {
    expect(meant(text)).toBe(type)
  })

  it.each(['varchar(x)', 'number(2,5)', 'float(80)', 'bit(8)', 'serial(4)', 'enum()', 'int(', 'whatever'])(
    '“%s” is refused',
    (text) => {
      expect(typedType(text)).toHaveProperty('error')
    }
  )

  it('of the design’s own words means itself', () => {
    for (const { type } of TYPE_CHOICES) expect(spokenType(printType(type))).toEqual({ ok: true, value: { type } })
    expect(parseType('int').ok).toBe(false)
  })
})
