// Statements of a script: what ends one, and what does not, in each engine's words.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { dialect, ENGINES } from '../dialects'
import { splitStatements, type Lexis } from '.'

const lexisOf = (engine: string) => dialect(engine)?.write.lexis as Lexis
const parts = (script: string, engine: string) => splitStatements(script, lexisOf(engine)).map((s) => s.sql)

describe.each(ENGINES.map(({ id }) => id))('a script of %s', (engine) => {
  it('ends a statement at a semicolon that stands in no quotes and no comment', () => {
    expect(parts(`SELECT ';' ; -- ; a note\nSELECT 'it''s;'; /* ; */ SELECT 1`, engine)).toEqual([
      `SELECT ';'`,
      `SELECT 'it''s;'`,
      'SELECT 1'
    ])
    expect(parts('BEGIN; SELECT 1; COMMIT', engine)).toEqual(['BEGIN', 'SELECT 1', 'COMMIT'])
    expect(parts(' ;; \n -- nothing\n', engine)).toEqual([])
  })

  it.each(['case', 'begin', 'end', 'if', 'loop', 'trigger', 'atomic'])('a name %s opens nothing', (name) => {
    expect(parts(`SELECT 1 AS ${name}; COMMIT; DROP TABLE t`, engine)).toEqual([
      `SELECT 1 AS ${name}`,
      'COMMIT',
      'DROP TABLE t'
    ])
    expect(parts(`SELECT t.${name} FROM t; DROP TABLE t`, engine)).toHaveLength(2)
    expect(parts(`CREATE TABLE ${name} (a int); CREATE TRIGGER_LOG; DROP TABLE t`, engine)).toHaveLength(3)
  })

  it('finds each statement where it stands, and loses nothing that means something, whatever the text', () => {
    const words = [
      'BEGIN',
      'END',
      'CASE',
      ';',
      "'",
      '"',
      '`',
      '$$',
      '--',
      '\n',
      '/*',
      '*/',
      'AS',
      'CREATE',
      'TRIGGER',
      '('
    ]
    const text = fc.array(fc.oneof(fc.constantFrom(...words), fc.string())).map((list) => list.join(' '))
    fc.assert(
      fc.property(text, (script) => {
        let at = 0
        for (const statement of splitStatements(script, lexisOf(engine))) {
          expect(statement.at).toBeGreaterThanOrEqual(at)
          at = statement.at + statement.sql.length
          expect(script.slice(statement.at, at)).toBe(statement.sql)
        }
      })
    )
  })
})

describe('bodies', () => {
  it.each([
    ['sqlite', 'CREATE TRIGGER t AFTER INSERT ON v BEGIN UPDATE v SET a = CASE WHEN b THEN 1 END; DELETE FROM w; END'],
    ['sqlite', 'CREATE TEMP TRIGGER t AFTER INSERT ON v BEGIN SELECT 1; /* ; */ END'],
    [
      'postgres',
      'CREATE FUNCTION f() RETURNS int LANGUAGE sql BEGIN ATOMIC SELECT CASE WHEN true THEN 1 END; SELECT 2; END'
    ],
    ['postgres', 'CREATE FUNCTION f() RETURNS int AS $body$ BEGIN; END; $body$ LANGUAGE plpgsql'],
    ['postgres', 'CREATE RULE r AS ON INSERT TO v DO ALSO (INSERT INTO a VALUES (1); INSERT INTO b VALUES (2))'],
    ['mariadb', 'CREATE TRIGGER t BEFORE INSERT ON v FOR EACH ROW BEGIN IF NEW.a THEN SET NEW.b = 1; END IF; END'],
    ['mariadb', 'CREATE TRIGGER t BEFORE INSERT ON v FOR EACH ROW IF NEW.a THEN SET NEW.b = 1; SET NEW.c = 2; END IF'],
    ['mariadb', 'CREATE TRIGGER t BEFORE INSERT ON v FOR EACH ROW SET NEW.a = IF(NEW.b, 1, 2)'],
    [
      'mariadb',
      `CREATE DEFINER=\`a\`@\`%\` PROCEDURE IF NOT EXISTS p(x INT) COMMENT 'one; two' BEGIN
         DECLARE y INT DEFAULT CASE x WHEN 1 THEN IF(x, 1, 2) ELSE 3 END;
         CASE y WHEN 1 THEN SELECT 1; ELSE BEGIN SELECT 2; END; END CASE;
         again: LOOP SET y = y + 1; IF y > 9 THEN LEAVE again; END IF; END LOOP again;
         WHILE y > 0 DO SET y = y - 1; END WHILE; REPEAT SET y = REPEAT('a', 2); UNTIL y END REPEAT;
         FOR i IN 1..3 DO SELECT i; END FOR;
       END`
    ],
    ['mariadb', 'CREATE FUNCTION f(a INT) RETURNS INT DETERMINISTIC RETURN CASE WHEN a THEN 1 ELSE 2 END'],
    ['mariadb', 'CREATE EVENT e ON SCHEDULE EVERY 1 DAY DO BEGIN DELETE FROM v; DELETE FROM w; END'],
    ['mariadb', 'BEGIN NOT ATOMIC SELECT 1; SELECT 2; END'],
    [
      'firebird',
      'EXECUTE BLOCK AS DECLARE n BIGINT; DECLARE m BIGINT; BEGIN n = 1; BEGIN m = CASE n WHEN 1 THEN 2 END; END END'
    ],
    ['firebird', 'CREATE OR ALTER TRIGGER t FOR v BEFORE INSERT AS BEGIN IF (NEW.a > 1) THEN NEW.a = 1; END'],
    [
      'firebird',
      `CREATE PROCEDURE p (a VARCHAR(3) = 'x') AS DECLARE PROCEDURE q AS DECLARE z INT; BEGIN z = 1; END
         DECLARE n INT; BEGIN n = CAST(1 AS INT); EXECUTE PROCEDURE q; END`
    ],
    ['firebird', `CREATE PROCEDURE p AS BEGIN EXECUTE STATEMENT q'[a;b']'; END`]
  ])('%s: %s', (engine, statement) => {
    expect(parts(`${statement};\nSELECT 1; DROP TABLE t;`, engine)).toEqual([statement, 'SELECT 1', 'DROP TABLE t'])
  })

  it('that are not there are not waited for', () => {
    expect(parts('ALTER TRIGGER t INACTIVE; SELECT 1', 'firebird')).toHaveLength(2)
    expect(parts('EXECUTE PROCEDURE block; SELECT 1', 'firebird')).toHaveLength(2)
    expect(parts('CREATE TABLE p (f INT); SELECT 1', 'mariadb')).toHaveLength(2)
    expect(parts(`CREATE FUNCTION f RETURNS STRING SONAME 'u.so'; SELECT 1`, 'mariadb')).toHaveLength(2)
  })
})

describe('quotes and comments', () => {
  it.each([
    ['mariadb', `SELECT 'it\\'s; one'; SELECT 'x\\\\'; SELECT "a;b"`, 3],
    ['mariadb', 'SELECT 1 # one; two\n; SELECT 5--3; SELECT 2 -- a; b\n', 3],
    ['mariadb', 'SELECT 1 /* /* ; */ ; SELECT 2', 2],
    ['mariadb', '/*!40101 SET NAMES utf8; */; SELECT 1', 2],
    ['sqlite', 'SELECT [a;b] FROM t; SELECT `c;d`', 2],
    ['sqlite', `SELECT 'a\\'; SELECT 2`, 2],
    ['postgres', 'SELECT $tag1$ ; $tag$ ; $tag1$; SELECT $$;$$', 2],
    ['postgres', 'SELECT /* /* ; */ ; */ 1; SELECT 2', 2],
    ['postgres', `SELECT E'it\\'s;'; SELECT 'a\\'; SELECT a[1]; SELECT U&'\\0061;'`, 4],
    ['postgres', 'SELECT 1 # 2; SELECT 3', 2],
    ['firebird', `SELECT q'{it's; one}', Q'!;'!' FROM t; SELECT 2 FROM t`, 2]
  ])('%s: %s', (engine, script, count) => {
    expect(parts(script, engine)).toHaveLength(count)
  })

  it('what ends a statement can be set, as the engines’ own tools have it', () => {
    const trigger = 'CREATE TRIGGER t BEFORE INSERT ON v FOR EACH ROW BEGIN SET NEW.a = 1; END'
    for (const mark of ['//', '$$', ';;', '|'])
      expect(
        parts(
          `SELECT 1;\nDELIMITER ${mark}\n${trigger}${mark}\nSELECT '${mark}'${mark}\ndelimiter ;\nSELECT 3;`,
          'mariadb'
        )
      ).toEqual(['SELECT 1', trigger, `SELECT '${mark}'`, 'SELECT 3'])
    expect(
      parts(
        'SET TERM ^ ;\nCREATE TRIGGER t FOR v AS BEGIN a = 1; END^\nSET TERM ;^\nSELECT 1 FROM t; COMMIT;',
        'firebird'
      )
    ).toEqual(['CREATE TRIGGER t FOR v AS BEGIN a = 1; END', 'SELECT 1 FROM t', 'COMMIT'])
  })
})
