// What is written for Firebird, by example. That a server takes it and does what is said is tested in tests/integration.
import { describe, expect, it } from 'vitest'
import { column, table as anyTable, tables } from '../../../../../tests/support/tables'
import type { Catalog, Column, Table } from '../../catalog'
import { compare } from '../../compare'
import { writeScript, plan } from '../../plan'
import { printScript, type Dialect } from '..'
import { firebird } from '.'

const old = firebird('3.0')
const table = (name: string, columns: readonly Column[]) => anyTable(name, columns, { schema: 'main' })
const catalog = (...list: Table[]): Catalog => ({ ...tables(...list), engine: 'firebird', defaultSchema: 'main' })
const steps = (live: Catalog, wanted: Catalog, dialect: Dialect = old) =>
  plan(live, compare({ wanted, live }, dialect).changes, dialect).steps

describe('a script', () => {
  const vessel = table('VESSEL', [column('IMO', 'integer', { nullable: false }), column('ORDER', 'varchar(20)')])

  it('looks whether a table is there before it goes, in a body with an end of its own', () => {
    const text = printScript(writeScript(catalog(vessel), old, { make: 'both' }), old)
    expect(text).toContain(`SET TERM ^ ;

EXECUTE BLOCK AS
BEGIN
  IF (EXISTS (SELECT 1 FROM RDB$RELATIONS WHERE RDB$RELATION_NAME = 'VESSEL')) THEN EXECUTE STATEMENT 'DROP TABLE VESSEL';
END^

SET TERM ; ^

COMMIT;
`)
    expect(text).toContain('CREATE TABLE VESSEL (\n  IMO integer NOT NULL,\n  "ORDER" varchar(20)\n);')
  })

  it('commits what changes rows, since only what changes the structure commits by itself', () => {
    const other = catalog({
      ...vessel,
      columns: [column('IMO', 'smallint', { nullable: false }), column('ORDER', 'varchar(20)')]
    })
    const text = printScript(
      steps(catalog(vessel), other).map(({ statement }) => ({ sql: statement })),
      old
    )
    expect(text).toContain('UPDATE VESSEL SET IMO$NEW = CAST(IMO AS SMALLINT);\n\nCOMMIT;')
  })
})

describe('a plan', () => {
  const kinds = (from: Column, to: Column, dialect = old) =>
    steps(catalog(table('VESSEL', [from])), catalog(table('VESSEL', [to])), dialect).map(({ statement, hazards }) => [
      statement
        .split(/[\s(]+/)
        .slice(0, 2)
        .join(' '),
      ...hazards.map(({ kind }) => kind)
    ])

  it.each([
    [column('C', 'varchar(20)'), column('C', 'varchar(40)'), [['ALTER TABLE']]],
    [column('C', 'integer'), column('C', 'bigint'), [['ALTER TABLE']]],
    [column('C', 'numeric(8,2)'), column('C', 'numeric(12,2)'), [['ALTER TABLE']]],
    [
      column('C', 'bigint'),
      column('C', 'integer'),
      [['ALTER TABLE'], ['UPDATE VESSEL', 'may fail', 'rewrites table'], ['ALTER TABLE']]
    ],
    [
      column('C', 'timestamp'),
      column('C', 'date'),
      [['ALTER TABLE'], ['UPDATE VESSEL', 'loses data', 'rewrites table'], ['ALTER TABLE']]
    ],
    [column('C', 'date'), column('C', 'boolean'), [['ALTER TABLE', 'loses data', 'cannot be undone']]]
  ])('of %o to %o', (from, to, expected) => {
    expect(kinds(from, to)).toEqual(expected)
  })

  it('makes a table again that begins to number its rows, after 3.0 too', () => {
    const [from, to] = [
      column('C', 'integer', { nullable: false }),
      column('C', 'integer', { nullable: false, identity: 'by default' })
    ]
    for (const version of ['3.0', '4.0'])
      expect(kinds(from, to, firebird(version)).map(([statement]) => statement)).toEqual([
        'CREATE TABLE',
        'INSERT INTO',
        'EXECUTE BLOCK',
        'DROP TABLE',
        'CREATE TABLE',
        'INSERT INTO',
        'EXECUTE BLOCK',
        'DROP TABLE'
      ])
    // A column that stops numbering keeps its numbers: from 4.0 in place.
    expect(kinds(to, from, firebird('4.0'))).toEqual([['ALTER TABLE']])
    expect(kinds(to, from)).toHaveLength(4)
  })
})
