// DDL as people write it for SQLite: after the examples of "SQL As Understood By SQLite", with the harbour's names.
import type { Foreign } from './postgres'

export const SQLITE: readonly Foreign[] = [
  {
    shows: 'table: strict, without rowid',
    sql: `CREATE TABLE a (id INTEGER PRIMARY KEY, name TEXT NOT NULL) STRICT; CREATE TABLE b (code TEXT PRIMARY KEY, n INT) WITHOUT ROWID; CREATE TABLE c (x ANY, y INT PRIMARY KEY) STRICT, WITHOUT ROWID`
  },
  {
    shows: 'column: collations, generated, defaults of every form; primaryKey: as it was written',
    sql: `CREATE TABLE t ("id" integer primary key desc, a text collate nocase default "x y", b int generated always as (a || 1) virtual, c as (id * 2) stored, d default (datetime('now')), e default -1.5, f default current_date, g UNSIGNED BIG INT default open) -- said here
    ; CREATE TABLE u ([my id] INTEGER PRIMARY KEY AUTOINCREMENT, n numeric(8, 2) /* two places */ not null default 0)`
  },
  {
    shows: 'unique, primaryKey, check: conflict clauses, order and collation in keys',
    sql: `CREATE TABLE t (a int NOT NULL ON CONFLICT REPLACE, b text UNIQUE ON CONFLICT IGNORE, c int CHECK (c > 0) , PRIMARY KEY (a DESC, b COLLATE NOCASE) ON CONFLICT ROLLBACK, CONSTRAINT u UNIQUE (b COLLATE RTRIM, c) ON CONFLICT FAIL)`
  },
  {
    shows: 'foreignKey: of every form',
    sql: `CREATE TABLE p (a int, b int, PRIMARY KEY (a, b)); CREATE TABLE c (x int REFERENCES p ON DELETE CASCADE, y int, z int, CONSTRAINT f FOREIGN KEY (y, z) REFERENCES p (a, b) ON UPDATE SET NULL DEFERRABLE INITIALLY DEFERRED, FOREIGN KEY (x, y) REFERENCES "not there")`
  },
  {
    shows: 'index: expression, partial, collation, order',
    sql: `CREATE TABLE t (a text, b int); CREATE UNIQUE INDEX i ON t (a COLLATE NOCASE DESC, b); CREATE INDEX j ON t (lower(a), b + 1) WHERE b IS NOT NULL; CREATE INDEX "k k" ON t (substr(a, 1, 2) COLLATE RTRIM)`
  },
  {
    shows: 'view, trigger: of every form',
    sql: `CREATE TABLE t (a text, b int); CREATE VIEW v (one, "t w o") AS SELECT a, b FROM t WHERE b > 0; CREATE VIEW w AS SELECT one FROM v;
    CREATE TRIGGER x AFTER UPDATE OF a ON t FOR EACH ROW WHEN new.b > 1 BEGIN UPDATE t SET b = b + 1 WHERE a = new.a; SELECT 1; END; CREATE TRIGGER y INSTEAD OF INSERT ON v BEGIN INSERT INTO t VALUES (new.one, new."t w o"); END`
  }
]
