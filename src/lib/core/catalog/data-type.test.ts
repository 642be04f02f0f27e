// Types taken apart and put together again: nothing of what was written is lost, whatever it was.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { applied, readType, tableKey, typeText, withTypes, type Catalog } from '.'
import { column, table, tables } from '../../../../tests/support/tables'
import { dialect, ENGINES } from '../dialects'
import { TYPE_CHOICES } from '../types'

describe('a type', () => {
  it.each([
    ['varchar(20)', { name: 'varchar', args: ['20'] }],
    ['numeric(6,2)[]', { name: 'array', of: { name: 'numeric', args: ['6', '2'] } }],
    ["enum('a,b','it''s)')", { name: 'enum', args: ["'a,b'", "'it''s)'"] }],
    ['int(10) unsigned', { name: 'int', args: ['10'], more: 'unsigned' }],
    ['geometry(Point,4326)', { name: 'geometry', args: ['Point', '4326'] }],
    ['double precision', { name: 'double precision' }],
    ['harbour."Visit state"[]', { name: 'array', of: { schema: 'harbour', name: 'Visit state' } }],
    // What does not come apart so is a name.
    ['WORD<20>', { name: 'WORD<20>' }],
    ['odd(', { name: 'odd(' }],
    ['', { name: '' }]
  ])('%s', (text, type) => {
    expect(readType(text)).toEqual(type)
    expect(typeText(readType(text))).toBe(text)
  })

  it('is the same text again, whatever was written', () => {
    const word = fc.constantFrom('a', 'b c', '(', ')', ',', "'x,)'", '"q"', '.', '[]', ' ', '8')
    fc.assert(
      fc.property(fc.array(word, { maxLength: 8 }), (words) => {
        const text = words.join('')
        // Quotes that need not be are left out.
        const bare = (given: string) => given.replaceAll('"', '')
        expect(bare(typeText(readType(text)))).toBe(bare(text))
      })
    )
  })

  it.each(ENGINES.map(({ id }) => id))('is one in all spellings: %s', (id) => {
    const { types, write } = dialect(id) as NonNullable<ReturnType<typeof dialect>>
    for (const { type } of TYPE_CHOICES) {
      const own = types.fromNeutral(type).type
      expect(
        types.same(
          types.read(
            ` ${write
              .type(own)
              .toUpperCase()
              .replace(/'.*'/, (values) => values.toLowerCase())} `
          ),
          own
        )
      ).toBe(true)
      expect(types.read(write.type(own))).toEqual(own)
    }
  })

  it('of the database’s own follows its new name: in columns, lists, and the fields of other types', () => {
    const postgres = dialect('postgres') as NonNullable<ReturnType<typeof dialect>>
    const catalog: Catalog = {
      ...tables(
        table('visit', [column('state', 'public.state'), column('past', 'public.state[]'), column('note', 'text')])
      ),
      types: [
        { schema: 'public', name: 'state', form: 'enum', values: ['due'] },
        {
          schema: 'public',
          name: 'call',
          form: 'composite',
          fields: [{ name: 'was', type: readType('public.state') }]
        },
        { schema: 'public', name: 'known', form: 'domain', base: readType('public.state') }
      ]
    }
    const address = { kind: 'type', path: ['public', 'state'] } as const
    const now = applied([{ action: 'rename', address, to: 'stage' }], catalog, postgres.write)
    expect(now.tables[0]?.columns.map(({ type }) => typeText(type))).toEqual(['public.stage', 'public.stage[]', 'text'])
    expect(now.types?.[1]?.fields?.map(({ type }) => typeText(type))).toEqual(['public.stage'])
    expect(now.types?.[2]?.base).toEqual({ schema: 'public', name: 'stage' })
  })
})

it('what was kept with types as texts has them taken apart, in objects, changes and facts', () => {
  const kept = {
    [tableKey('public', 'visit')]: { columns: [{ name: 'loa', type: 'numeric(6,2)', nullable: true }] },
    sequence: { name: 's', type: 'smallint' },
    effects: [
      { action: 'alter', address: { kind: 'column', path: [] }, property: 'type', from: 'text', to: 'varchar(9)' },
      { action: 'alter', address: { kind: 'sequence', path: [] }, property: 'type', from: 'bigint', to: 'integer' }
    ],
    after: [{ address: { kind: 'column', path: [] }, present: true, property: { name: 'type', value: 'text' } }],
    types: [
      { form: 'domain', base: 'text' },
      { form: 'composite', fields: [{ name: 'a', type: 'text[]' }] }
    ],
    departures: [{ id: 'a', part: 'column', property: 'type', value: 'text' }]
  }
  const text = { name: 'text' }
  expect(withTypes(kept)).toEqual({
    [tableKey('public', 'visit')]: {
      columns: [{ name: 'loa', type: { name: 'numeric', args: ['6', '2'] }, nullable: true }]
    },
    sequence: { name: 's', type: 'smallint' },
    effects: [{ ...kept.effects[0], from: text, to: { name: 'varchar', args: ['9'] } }, kept.effects[1]],
    after: [{ ...kept.after[0], property: { name: 'type', value: text } }],
    types: [
      { form: 'domain', base: text },
      { form: 'composite', fields: [{ name: 'a', type: { name: 'array', of: text } }] }
    ],
    departures: [{ ...kept.departures[0], value: text }]
  })
  // What has them already is as it was.
  expect(withTypes(withTypes(kept))).toEqual(withTypes(kept))
})
