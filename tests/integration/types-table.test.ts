// The table of types in `docs/types.md` is what the dialects say; where an engine runs here, it takes each type and shows it as it was
// written. `UPDATE=1` writes the table anew.
import { readFileSync, writeFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { typeText } from '../../src/lib/core/catalog'
import { dialect as dialectOf, ENGINES, type Dialect } from '../../src/lib/core/dialects'
import { parseType, type NeutralType } from '../../src/lib/core/types'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'
import { column, table } from '../support/tables'

const TYPES = [
  ...[
    'text',
    'text(80)',
    'text(20000)',
    'char(4)',
    'tiny',
    'small',
    'integer',
    'big',
    'decimal(12,2)',
    'decimal(60,35)'
  ],
  ...[
    'float',
    'double',
    'boolean',
    'date',
    'time',
    'timestamp',
    'timestamp with zone',
    'interval',
    'uuid',
    'xml',
    'json'
  ],
  ...['binary', 'binary(16)', 'one of (due, in port)', 'list of integer', 'object', 'object id']
]
const neutral = (text: string): NeutralType => {
  const read = parseType(text)
  if (!read.ok) throw new Error(`${text} is a type`)
  return read.value
}

interface Cell {
  readonly type: string
  readonly grade: string
  readonly note: string
}
const cellOf = (dialect: Dialect, text: string): Cell => {
  const { type, grade, note = '' } = dialect.types.fromNeutral(neutral(text))
  return { type: typeText(type), grade, note }
}

/** For each engine, its versions by what they make of a type: those that are alike stand together. */
function lines(id: string, versions: readonly string[], text: string): string[] {
  const groups = new Map<string, { cell: Cell; versions: string[] }>()
  for (const version of versions) {
    const cell = cellOf(dialectOf(id, version) as Dialect, text)
    const key = JSON.stringify(cell)
    groups.set(key, { cell, versions: [...(groups.get(key)?.versions ?? []), version] })
  }
  const all = groups.size === 1
  return [...groups.values()].map(
    ({ cell, versions: own }) =>
      `| ${text} | ${all ? 'all' : own.join(', ')} | \`${cell.type}\` | ${cell.grade} | ${cell.note} |`
  )
}

const written = (): string =>
  [
    '# Types',
    'What each type of a design becomes, by engine and version, how well that carries it, and why. Made from the dialects by',
    '`types-table.test.ts`, which has every type made and shown again by the engines that run here.',
    ...ENGINES.flatMap(({ id, label, versions }) => [
      '',
      `## ${label}`,
      '',
      '| type | versions | there | grade | why |',
      '| --- | --- | --- | --- | --- |',
      ...TYPES.flatMap((text) => lines(id, versions, text))
    ])
  ]
    .join('\n')
    .replace('# Types\n', '# Types\n\n') + '\n'

it('is what the dialects say', () => {
  const file = 'docs/types.md'
  if (process.env['UPDATE']) writeFileSync(file, written())
  // However wide its columns are.
  const tidy = (text: string) => text.replace(/ +/g, ' ').replace(/-+/g, '-').trim()
  expect(tidy(readFileSync(file, 'utf8'))).toBe(tidy(written()))
})

describe.each(ENGINES_UNDER_TEST)('$label', ({ open, lacking }) => {
  let db: Playground
  beforeAll(async () => {
    if (lacking === undefined) db = await open()
  }, 120_000)
  afterAll(() => db?.close())

  it.skipIf(lacking !== undefined)('takes each, and shows it as it was written', async () => {
    for (const text of TYPES) {
      const { dialect } = db
      const { type } = dialect.types.fromNeutral(neutral(text))
      const { defaultSchema } = dialect.profile
      const made = { ...table('kept', [column('value')]), schema: defaultSchema }
      await db.reset()
      await db.exec(dialect.write.createTable({ ...made, columns: [{ name: 'value', type, nullable: true }] }))
      const [shown] = (await db.live.catalog()).tables
      const there = shown?.columns[0]?.type
      expect(
        there && dialect.types.same(there, type),
        `${text}: ${typeText(type)}, shown as ${there ? typeText(there) : ''}`
      ).toBe(true)
    }
  })
})
