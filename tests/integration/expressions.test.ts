// What an engine prints back of an expression is never a difference, and what is a difference is never missed: a table of
// forms for each engine, each made on the engine and read back. (PostgreSQL's are in postgres-engine.test.ts.)
import { writeScript } from '../../src/lib/core/plan'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readType, type Catalog, type Column, type Table } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

interface Forms {
  readonly columns: readonly (readonly [name: string, type: string])[]
  /** Each with a near one that means something else. */
  readonly checks: readonly (readonly [form: string, other: string])[]
  readonly defaults: readonly (readonly [type: string, form: string, other: string])[]
}

const checks: Forms['checks'] = [
  ['n > 0', 'n >= 0'],
  ['((n > 0))', '((n < 0))'],
  ['n BETWEEN 1 AND 9', 'n BETWEEN 1 AND 8'],
  ['n NOT BETWEEN 1 AND 9', 'n BETWEEN 1 AND 9'],
  ['n IN (1, 2, 3)', 'n IN (1, 2)'],
  ['n NOT IN (1, 2)', 'n IN (1, 2)'],
  ['n IN (1)', 'n IN (2)'],
  ['n <> 5', 'n <> 6'],
  ['n != 5', 'n = 5'],
  ['NOT (n = 5)', 'n = 5'],
  ['n > -5', 'n > 5'],
  ['n + 2 * n > 3', '(n + 2) * n > 3'],
  ['n % 2 = 0', 'n % 3 = 0'],
  ["a = 'x' AND n = 1 OR n = 2", "a = 'x' AND (n = 1 OR n = 2)"],
  ["a LIKE 'N%'", "a LIKE 'n_'"],
  ["a NOT LIKE 'N%'", "a LIKE 'N%'"],
  ['a IS NULL OR n IS NOT NULL', 'a IS NULL OR n IS NULL'],
  ['lower(a) = a', 'upper(a) = a'],
  ['length(a) < 9', 'length(a) < 8'],
  ["a = 'it''s'", "a = 'its'"],
  ["CASE WHEN n > 1 THEN a ELSE 'b' END = a", "CASE WHEN n > 1 THEN a ELSE 'c' END = a"],
  ['coalesce(n, 0) > 1', 'coalesce(n, 1) > 1'],
  ['"order" > 1', '"order" > 2'],
  ['CAST(n AS char(9)) <> a', 'CAST(n AS char(8)) <> a']
]

const engines: Readonly<Record<string, Forms>> = {
  sqlite: {
    columns: [
      ['n', 'integer'],
      ['a', 'varchar(20)'],
      ['order', 'integer']
    ],
    checks: [...checks, ["a GLOB 'N*'", "a GLOB 'M*'"], ["a || 'x' <> 'yx'", "a || 'y' <> 'yx'"]],
    defaults: [
      ['integer', '0', '1'],
      ['integer', '-5', '5'],
      ['numeric(8,2)', '1.50', '1.51'],
      ['varchar(20)', "'it''s'", "'its'"],
      ['date', 'CURRENT_DATE', 'CURRENT_TIMESTAMP'],
      ['text', "datetime('now')", "date('now')"],
      ['text', "lower('A') || 'b'", "lower('A') || 'c'"],
      ['blob', "x'00ff'", "x'00fe'"]
    ]
  },
  mariadb: {
    columns: [
      ['n', 'int'],
      ['a', 'varchar(20)'],
      ['order', 'int']
    ],
    checks: checks.map(([form, other]) => [form.replaceAll('"', '`'), other.replaceAll('"', '`')] as const),
    defaults: [
      ['int', '0', '1'],
      ['int', '-5', '5'],
      ['decimal(8,2)', '1.5', '1.6'],
      ['decimal(8,2)', '0', '1'],
      ['varchar(20)', "'it''s'", "'its'"],
      ['varchar(20)', "''", "' '"],
      ['datetime', 'CURRENT_TIMESTAMP', "'2000-01-01 00:00:00'"],
      ['datetime(6)', 'now(6)', 'now(3)'],
      ['date', 'curdate()', "'2000-01-01'"],
      ['uuid', 'uuid()', 'uuid_v4()'],
      ['varchar(20)', "concat('a', 'b')", "concat('a', 'c')"]
    ]
  },
  firebird: {
    columns: [
      ['N', 'integer'],
      ['A', 'varchar(20)'],
      ['ORDER', 'integer']
    ],
    checks: [
      ...checks.map(
        ([form, other]) =>
          [form, other].map((text) =>
            text
              .replace('"order"', '"ORDER"')
              .replace('length(', 'char_length(')
              .replace(/n % (\d)/, 'mod(n, $1)')
          ) as [string, string]
      ),
      ["a || 'x' <> 'yx'", "a || 'y' <> 'yx'"],
      ["a SIMILAR TO '[A-Z]+'", "a SIMILAR TO '[a-z]+'"],
      ["a STARTING WITH 'N'", "a STARTING WITH 'M'"],
      ['a IS DISTINCT FROM cast(n as varchar(20))', 'a IS NOT DISTINCT FROM cast(n as varchar(20))'],
      ['EXTRACT(YEAR FROM CURRENT_DATE) > n', 'EXTRACT(MONTH FROM CURRENT_DATE) > n']
    ],
    defaults: [
      ['integer', '0', '1'],
      ['integer', '-5', '5'],
      ['numeric(8,2)', '1.50', '1.51'],
      ['varchar(20)', "'it''s'", "'its'"],
      ['varchar(20)', "''", "' '"],
      ['varchar(128)', 'USER', 'CURRENT_ROLE'],
      ['boolean', 'TRUE', 'FALSE'],
      ['date', 'CURRENT_DATE', "'2000-01-01'"],
      ['timestamp', 'CURRENT_TIMESTAMP', "'now'"],
      ['char(2) character set octets', "x'00ff'", "x'00fe'"]
    ]
  }
}

describe.each(ENGINES_UNDER_TEST.filter((engine) => engines[engine.engine]))('$label', (engine) => {
  const forms = engines[engine.engine]
  let db: Playground
  beforeAll(async () => {
    if (!engine.lacking) db = await engine.open()
  }, 60_000)
  afterAll(() => db?.close())

  /** What compare says of a form and of another beside it, once the engine has the first. */
  async function said(made: Table, other: Table) {
    const catalog = (table: Table): Catalog => ({
      engine: engine.engine,
      defaultSchema: db.dialect.profile.defaultSchema,
      partial: true,
      unread: [],
      tables: [table]
    })
    await db.reset()
    for (const { sql } of writeScript(catalog(made), db.dialect)) await db.exec(sql)
    const live = await db.live.catalog()
    return [made, other].map((table) => compare({ wanted: catalog(table), live }, db.dialect).changes.length)
  }
  const column = (name: string, type: string): Column => ({ name, type: readType(type), nullable: true })
  const table = (columns: readonly Column[], expression?: string): Table => ({
    schema: db.dialect.profile.defaultSchema,
    name: 'visit',
    columns,
    uniques: [],
    foreignKeys: [],
    checks: expression === undefined ? [] : [{ name: 'ck', expression }],
    indexes: []
  })

  it.skipIf(engine.lacking).each(forms?.checks ?? [])('CHECK (%s) is not CHECK (%s)', async (form, other) => {
    const columns = (forms?.columns ?? []).map(([name, type]) => column(name, type))
    expect(await said(table(columns, form), table(columns, other))).toEqual([0, 1])
  })

  it.skipIf(engine.lacking).each(forms?.defaults ?? [])(
    '%s DEFAULT %s is not DEFAULT %s',
    async (type, form, other) => {
      const withDefault = (value: string) => table([{ ...column('d', type), default: value }])
      expect(await said(withDefault(form), withDefault(other))).toEqual([0, 1])
    }
  )
})
