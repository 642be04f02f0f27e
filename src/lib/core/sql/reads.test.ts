// What is let through as reading, by each engine's own list.
import { describe, expect, it } from 'vitest'
import { dialect, type Dialect } from '../dialects'
import { whyNotReading } from '.'

const why = (id: string, sql: string) => {
  const { profile, write } = dialect(id) as Dialect
  return whyNotReading(sql, write.lexis, profile.reads)
}

describe('a statement reads', () => {
  it.each([
    ['postgres', 'SELECT 1'],
    ['postgres', '(SELECT 1) UNION (SELECT 2)'],
    ['postgres', `WITH a AS (SELECT 'delete') SELECT * FROM a -- update`],
    ['postgres', 'EXPLAIN ANALYZE SELECT "update" FROM t'],
    ['postgres', `SELECT replace(name, 'a', 'b') FROM vessel`],
    ['mariadb', 'SHOW CREATE TABLE vessel'],
    ['sqlite', 'PRAGMA table_info(vessel)'],
    ['sqlite', 'PRAGMA user_version'],
    ['firebird', 'SELECT FIRST 1 * FROM vessel']
  ])('%s: %s', (id, sql) => expect(why(id, sql)).toBeUndefined())
})

describe('a statement may write', () => {
  it.each([
    ['postgres', 'SELECT 1; DELETE FROM t'],
    ['postgres', 'WITH gone AS (DELETE FROM t RETURNING 1) SELECT * FROM gone'],
    ['postgres', 'EXPLAIN ANALYZE DELETE FROM t'],
    ['postgres', 'SELECT * INTO taken FROM t'],
    ['postgres', 'COMMIT'],
    ['postgres', 'SELECT * FROM t FOR UPDATE'],
    ['postgres', ''],
    ['mariadb', 'SET STATEMENT max_statement_time = 9 FOR DELETE FROM t'],
    ['mariadb', 'BEGIN NOT ATOMIC DELETE FROM t; END'],
    ['mariadb', 'CALL forget()'],
    ['mariadb', 'SELECT 1 /*!50000 INTO OUTFILE "x" */'],
    ['mariadb', `WITH a AS (SELECT 1) REPLACE INTO t SELECT * FROM a`],
    ['mariadb', 'SELECT NEXT VALUE FOR numbers'],
    ['sqlite', 'PRAGMA query_only = OFF'],
    ['sqlite', 'PRAGMA user_version(3)'],
    ['sqlite', 'PRAGMA writable_schema(1)'],
    ['sqlite', `ATTACH 'x' AS y`],
    ['firebird', 'SELECT GEN_ID(numbers, 1) FROM RDB$DATABASE'],
    ['firebird', 'EXECUTE BLOCK AS BEGIN DELETE FROM t; END']
  ])('%s: %s', (id, sql) => expect(why(id, sql)).toMatch(/^Read-only /))
})
