// Statements of a script: semicolons that end one, and those that do not.
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { splitStatements } from '.'

const parts = (script: string) => splitStatements(script).map((statement) => statement.sql)

it('ends a statement at a semicolon that stands in no quotes, comment or body', () => {
  expect(parts(`SELECT ';' ; -- ; a note\nSELECT "a;b"; /* ; */ SELECT $$;$$`)).toEqual([
    `SELECT ';'`,
    `SELECT "a;b"`,
    'SELECT $$;$$'
  ])
  const trigger = 'CREATE TRIGGER t AFTER INSERT ON v BEGIN UPDATE v SET a = CASE WHEN b THEN 1 END; DELETE FROM w; END'
  expect(parts(`${trigger};\nSELECT 1`)).toEqual([trigger, 'SELECT 1'])
  const block =
    'EXECUTE BLOCK AS DECLARE n BIGINT; DECLARE m BIGINT; BEGIN n = 1; BEGIN m = CASE n WHEN 1 THEN 2 END; END END'
  expect(parts(`${block};\nEXECUTE PROCEDURE block; SELECT 1`)).toEqual([block, 'EXECUTE PROCEDURE block', 'SELECT 1'])
  expect(parts('BEGIN; SELECT 1; COMMIT')).toEqual(['BEGIN', 'SELECT 1', 'COMMIT'])
  expect(parts(' ;; \n -- nothing\n')).toEqual([])
})

it('finds each statement where it stands, whatever the text', () => {
  fc.assert(
    fc.property(fc.string(), (script) => {
      for (const { sql, at } of splitStatements(script)) expect(script.slice(at, at + sql.length)).toBe(sql)
    })
  )
})
