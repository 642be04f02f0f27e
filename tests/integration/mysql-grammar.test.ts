// MySQL does not run here: every statement that is written for it is held against two grammars of its own that others have made, one of
// them at the version, and scripts that other people wrote for it are written again and held against those, too.
import { createRequire } from 'node:module'
import { MySQL } from 'dt-sql-parser'
import fc from 'fast-check'
import { afterAll, describe, expect, it } from 'vitest'
import { compare } from '../../src/lib/core/compare'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { plan, writeScript } from '../../src/lib/core/plan'
import { MARIADB_PACKAGES } from '../foreign/packages'
import { throughDesign } from '../support/adopted'
import { catalogs, withOrigins } from '../support/catalogs'
import { packagedScript } from '../support/packaged'
import '../support/seed'

const grammar = new MySQL()
const whyNot = (sql: string): string | undefined => grammar.validate(`${sql};`)[0]?.message

interface AtVersion {
  parse(sql: string): {
    readonly parserError?: { readonly message: string }
    readonly lexerError?: { readonly message: string }
  }
}
const { default: SecondGrammar } = createRequire(import.meta.url)('ts-mysql-parser') as {
  default: new (how: { readonly version: string }) => AtVersion
}
/** The newest of each line that it knows. */
const NEWEST: Readonly<Record<string, string>> = { '5.7': '5.7.44', '8.0': '8.0.30', '8.4': '8.0.30' }
const secondAt = (version: string) => {
  const second = new SecondGrammar({ version: NEWEST[version] ?? version })
  return (sql: string): string | undefined => {
    const { parserError, lexerError } = second.parse(`${sql};`)
    return (parserError ?? lexerError)?.message
  }
}

/** What the second refuses falsely, each with the manual's section that has it. */
const FALSELY: readonly (readonly [RegExp, string])[] = [
  [/ DROP CHECK /, '15.1.9 “ALTER TABLE Statement”: DROP CHECK, from 8.0.16']
]

describe.each(['5.7', '8.0', '8.4'])('MySQL %s', (version) => {
  // The grammar takes words such as `type` for no names; the manual's list of keywords (“Keywords and Reserved Words”) has them as
  // words that need no quotes. So what is held against it has all names in quotes.
  const mysql = dialectOf('mysql', version, 'always') as Dialect
  const second = secondAt(version)
  let count = 0
  let falsely = 0
  const refused = (statements: readonly string[]) => {
    count += statements.length
    return statements.flatMap((sql) => {
      const again = second(sql)
      const isFalse = again !== undefined && FALSELY.some(([pattern]) => pattern.test(sql))
      if (isFalse) falsely++
      const why = whyNot(sql) ?? (isFalse ? undefined : again)
      return why === undefined ? [] : [`${why} — ${sql}`]
    })
  }
  afterAll(
    () =>
      void process.stdout.write(
        `MySQL ${version}: ${count} statements held against both grammars, ${falsely} refused falsely by the second\n`
      )
  )

  it('every statement of a script, a plan and its way back is one', () => {
    fc.assert(
      fc.property(catalogs(mysql), catalogs(mysql), (from, to) => {
        const live = mysql.settle?.(withOrigins(from)) ?? from
        const wanted = mysql.settle?.(to) ?? to
        const { changes } = compare({ wanted, live }, mysql)
        const statements = [
          ...writeScript(live, mysql).map(({ sql }) => sql),
          ...plan(live, changes, mysql).steps.map(({ statement }) => statement)
        ]
        expect(refused(statements)).toEqual([])
      }),
      { numRuns: Number(process.env['CASES'] ?? 15) }
    )
  }, 120_000)

  it.for(MARIADB_PACKAGES)('$package $files', (script, { skip }) => {
    const found = packagedScript(script)
    if ('lacking' in found) return skip(found.lacking)
    const read = mysql.readScript?.(found.text)
    if (!read) throw new Error('scripts are read')
    expect(read.statements.flatMap(({ how, why }) => (how === 'unknown' ? [why] : []))).toEqual([])
    expect(read.catalog.tables.length).toBeGreaterThan(0)
    const statements = writeScript(throughDesign(read.catalog, mysql), mysql).map(({ sql }) => sql)
    expect(refused(statements)).toEqual([])
    // What was written is read again as what it was written from.
    const again = mysql.readScript?.(statements.map((sql) => `${mysql.write.inScript?.(sql) ?? ''}`).join('\n\n'))
    expect(compare({ wanted: read.catalog, live: again?.catalog ?? read.catalog }, mysql).changes).toEqual([])
  })
})

it('refuses what is no statement of it', () => {
  for (const sql of [
    'CREATE TABLE t (a int, )',
    'ALTER TABLE t ADD CONSTRAINT c',
    'CREATE INDEX i ON t',
    'DROP TABLE'
  ]) {
    expect(whyNot(sql), sql).toBeDefined()
    expect(secondAt('8.0')(sql), sql).toBeDefined()
  }
  // 13.1.8 of the manual of 5.7, “ALTER TABLE Statement”: it has no RENAME COLUMN.
  expect(secondAt('5.7')('ALTER TABLE t RENAME COLUMN a TO b')).toBeDefined()
})
