// Changes as people make them in PostgreSQL: a database, and the statements that somebody else has run in a copy of it. A plan
// leads from the one to the other, and back.
export interface ForeignChange {
  readonly shows: string
  readonly since?: number
  readonly sql: string
  readonly then: string
  /** What rows there are, and what becomes of them; on the way back they are as they were, but for what went. */
  readonly rows?: { readonly query: string; readonly there: readonly string[]; readonly back: readonly string[] }
}

const TIDES = `CREATE TYPE tide AS ENUM ('low', 'high', 'slack'); CREATE TABLE gauge (id int, tide tide DEFAULT 'low' NOT NULL, old tide[]);
  CREATE VIEW now AS SELECT id, tide FROM gauge WHERE tide <> 'slack'; CREATE INDEX gt ON gauge (tide)`
const VESSELS = `CREATE TABLE vessel (id int PRIMARY KEY, name text, tons numeric(8,2)); CREATE VIEW named AS SELECT id, name FROM vessel;
  CREATE VIEW counted AS SELECT count(*) AS n FROM named; COMMENT ON VIEW counted IS 'how many'; GRANT SELECT ON counted TO agent; ALTER VIEW counted OWNER TO agent`

export const POSTGRES_CHANGES: readonly ForeignChange[] = [
  {
    shows: 'type: an enum gets values',
    sql: TIDES,
    then: `ALTER TYPE tide ADD VALUE 'spring' BEFORE 'high'; ALTER TYPE tide ADD VALUE 'neap'`
  },
  {
    shows: 'type: an enum loses a value',
    sql: TIDES,
    then: `DROP VIEW now; DROP INDEX gt; ALTER TABLE gauge ALTER tide DROP DEFAULT; ALTER TYPE tide RENAME TO was; CREATE TYPE tide AS ENUM ('low', 'high');
      ALTER TABLE gauge ALTER tide TYPE tide USING tide::text::tide, ALTER old TYPE tide[] USING old::text[]::tide[]; ALTER TABLE gauge ALTER tide SET DEFAULT 'low';
      DROP TYPE was; CREATE INDEX gt ON gauge (tide); CREATE VIEW now AS SELECT id, tide FROM gauge WHERE tide <> 'high'`
  },
  {
    shows: 'type: a domain gets a default and another check',
    sql: `CREATE DOMAIN depth AS numeric(6,2) CONSTRAINT deep CHECK (VALUE > 0); CREATE TABLE s (d depth)`,
    then: `ALTER DOMAIN depth SET DEFAULT 1; ALTER DOMAIN depth DROP CONSTRAINT deep; ALTER DOMAIN depth ADD CONSTRAINT deep CHECK (VALUE >= 0); ALTER DOMAIN depth SET NOT NULL; COMMENT ON DOMAIN depth IS 'below'`
  },
  {
    shows: 'type: a domain on another type',
    sql: `CREATE DOMAIN code AS varchar(8); CREATE TABLE t (c code DEFAULT 'A', n int)`,
    then: `ALTER TABLE t ALTER c DROP DEFAULT, ALTER c TYPE text; DROP DOMAIN code; CREATE DOMAIN code AS text; ALTER TABLE t ALTER c TYPE code, ALTER c SET DEFAULT 'A'`
  },
  {
    shows: 'type: a composite type gets and loses fields',
    sql: `CREATE TYPE place AS (quay text, berth int)`,
    then: `ALTER TYPE place ADD ATTRIBUTE since date; ALTER TYPE place ALTER ATTRIBUTE quay TYPE varchar(20); COMMENT ON COLUMN place.berth IS 'from the north'; ALTER TYPE place DROP ATTRIBUTE berth`
  },
  {
    shows: 'type: fields of a composite type that a column has are called otherwise, added, and gone',
    sql: `CREATE TYPE place AS (quay text, berth int, side char(1)); CREATE TABLE t (id int, at place CHECK ((at).berth > 0));
      INSERT INTO t VALUES (1, ('north', 3, 'p')), (2, NULL), (3, (NULL, NULL, NULL)); CREATE VIEW berths AS SELECT (at).berth FROM t; COMMENT ON TYPE place IS 'where'`,
    then: `ALTER TYPE place RENAME ATTRIBUTE berth TO number; ALTER TYPE place ADD ATTRIBUTE since date; ALTER TYPE place DROP ATTRIBUTE side;
      DROP VIEW berths; CREATE VIEW berths AS SELECT (at).number FROM t`,
    rows: {
      query: 'SELECT at::text FROM t ORDER BY id',
      there: ['(north,3,)', '', '(,,)'],
      back: ['(north,3,)', '', '(,,)']
    }
  },
  {
    shows:
      'type: a field of a composite type in a column gets another type, in front of another; an enum within it loses a value',
    sql: `CREATE TYPE tide AS ENUM ('low', 'high', 'slack'); CREATE TYPE place AS (quay text, berth int, tide tide); CREATE DOMAIN stay AS place;
      CREATE TABLE t (id int, at place, was stay, all_of place[]); GRANT USAGE ON TYPE place TO agent; ALTER TYPE place OWNER TO agent; COMMENT ON COLUMN place.quay IS 'from the north';
      INSERT INTO t VALUES (1, ('north', 3, 'low'), ('south', 4, 'high')), (2, NULL, (NULL, NULL, NULL))`,
    then: `ALTER TABLE t DROP at, DROP was, DROP all_of; DROP DOMAIN stay; DROP TYPE place; DROP TYPE tide; CREATE TYPE tide AS ENUM ('low', 'high'); CREATE TYPE place AS (berth bigint, quay text, tide tide);
      CREATE DOMAIN stay AS place; ALTER TABLE t ADD at place, ADD was stay, ADD all_of place[]; GRANT USAGE ON TYPE place TO agent; ALTER TYPE place OWNER TO agent; COMMENT ON COLUMN place.quay IS 'from the north'`,
    rows: {
      query: 'SELECT at::text, was::text FROM t ORDER BY id',
      there: ['(3,north,low)|(4,south,high)', '|(,,)'],
      back: ['(north,3,low)|(south,4,high)', '|(,,)']
    }
  },
  {
    shows: 'sequence: every setting, and another owner',
    sql: `CREATE SEQUENCE q; CREATE TABLE t (n int); CREATE SEQUENCE r OWNED BY t.n`,
    then: `ALTER SEQUENCE q AS integer INCREMENT 5 MINVALUE -10 MAXVALUE 1000 START 20 CACHE 3 CYCLE OWNED BY t.n; ALTER SEQUENCE r OWNED BY NONE NO MAXVALUE; COMMENT ON SEQUENCE q IS 'tickets'`
  },
  {
    shows: 'column: identity counted otherwise, no longer, and from now on',
    sql: `CREATE TABLE t (a int GENERATED ALWAYS AS IDENTITY, b int GENERATED BY DEFAULT AS IDENTITY, c int NOT NULL)`,
    then: `ALTER TABLE t ALTER a SET INCREMENT BY 7 SET START WITH 3 SET MAXVALUE 999 SET CYCLE, ALTER b DROP IDENTITY, ALTER c ADD GENERATED ALWAYS AS IDENTITY (START WITH 40)`
  },
  {
    shows: 'column: collation, storage, statistics, default, comment, rights',
    sql: `CREATE TABLE t (a text, b varchar(20) COLLATE "C", c text); GRANT SELECT (a) ON t TO agent`,
    then: `ALTER TABLE t ALTER a TYPE text COLLATE "C", ALTER b TYPE varchar(40), ALTER c SET STORAGE EXTERNAL, ALTER c SET STATISTICS 90, ALTER c SET DEFAULT 'x'; COMMENT ON COLUMN t.c IS 'said'; GRANT UPDATE (c) ON t TO agent; REVOKE SELECT (a) ON t FROM agent`
  },
  {
    shows: 'view: one under others reads otherwise',
    sql: VESSELS,
    then: `CREATE OR REPLACE VIEW named AS SELECT id, name FROM vessel WHERE tons > 1; COMMENT ON COLUMN named.name IS 'its name'`
  },
  {
    shows: 'view: a column under views on views gets another type',
    sql: VESSELS,
    then: `DROP VIEW counted; DROP VIEW named; ALTER TABLE vessel ALTER id TYPE bigint; CREATE VIEW named AS SELECT id, name FROM vessel; CREATE VIEW counted AS SELECT count(*) AS n FROM named;
      COMMENT ON VIEW counted IS 'how many'; GRANT SELECT ON counted TO agent; ALTER VIEW counted OWNER TO agent`
  },
  {
    shows: 'view: options; materialized: another index',
    sql: `CREATE TABLE v (id int); CREATE VIEW w AS SELECT id FROM v; CREATE MATERIALIZED VIEW m AS SELECT id FROM v; CREATE INDEX mi ON m (id)`,
    then: `ALTER VIEW w SET (security_barrier=true); DROP INDEX mi; CREATE UNIQUE INDEX mj ON m (id); COMMENT ON INDEX mj IS 'its key'; ALTER MATERIALIZED VIEW m SET (fillfactor=70)`
  },
  {
    shows: 'routine: another body; another signature, with what calls it',
    sql: `CREATE FUNCTION clean(t text) RETURNS text LANGUAGE sql IMMUTABLE AS 'SELECT lower(t)'; CREATE FUNCTION size(t text) RETURNS int LANGUAGE sql IMMUTABLE AS 'SELECT length(t)';
      CREATE TABLE a (n text DEFAULT clean('X') CHECK (clean(n) = n), s bigint DEFAULT size('abc')); CREATE INDEX ai ON a (clean(n)); CREATE VIEW av AS SELECT size(n) AS s FROM a; GRANT EXECUTE ON FUNCTION size(text) TO agent`,
    then: `CREATE OR REPLACE FUNCTION clean(t text) RETURNS text LANGUAGE sql IMMUTABLE AS 'SELECT lower(trim(t))'; DROP VIEW av; ALTER TABLE a ALTER s DROP DEFAULT; DROP FUNCTION size(text);
      CREATE FUNCTION size(t text) RETURNS bigint LANGUAGE sql IMMUTABLE AS 'SELECT length(t)::bigint'; GRANT EXECUTE ON FUNCTION size(text) TO agent; ALTER TABLE a ALTER s SET DEFAULT size('abc'); CREATE VIEW av AS SELECT size(n) AS s FROM a`
  },
  {
    shows: 'trigger, rule, policy: done otherwise, switched off and on',
    sql: `CREATE TABLE t (id int, name text); CREATE FUNCTION f() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN NEW; END'; CREATE TRIGGER a BEFORE INSERT ON t FOR EACH ROW EXECUTE FUNCTION f();
      CREATE TRIGGER b AFTER UPDATE ON t FOR EACH ROW EXECUTE FUNCTION f(); CREATE RULE r AS ON DELETE TO t DO ALSO NOTHING; CREATE POLICY p ON t USING (id > 0); ALTER TABLE t DISABLE TRIGGER b`,
    then: `DROP TRIGGER a ON t; CREATE TRIGGER a BEFORE INSERT OR UPDATE OF name ON t FOR EACH ROW EXECUTE FUNCTION f('x'); ALTER TABLE t ENABLE TRIGGER b; ALTER TABLE t DISABLE RULE r;
      DROP POLICY p ON t; CREATE POLICY p ON t FOR SELECT USING (id > 5); ALTER TABLE t ENABLE ROW LEVEL SECURITY; COMMENT ON TRIGGER a ON t IS 'first'; COMMENT ON POLICY p ON t IS 'some'; COMMENT ON RULE r ON t IS 'off'`
  },
  {
    shows: 'table: options, row-level security, comments, rights, inheritance',
    sql: `CREATE TABLE p (id int); CREATE TABLE t (id int, x int) WITH (fillfactor=70); GRANT SELECT ON t TO PUBLIC; CREATE TABLE c () INHERITS (p); CREATE TABLE p2 (z int); CREATE TABLE c2 (w int) INHERITS (p2); CREATE UNLOGGED TABLE u (x int)`,
    then: `ALTER TABLE t RESET (fillfactor); ALTER TABLE t SET (autovacuum_enabled=off); ALTER TABLE t ENABLE ROW LEVEL SECURITY; ALTER TABLE t FORCE ROW LEVEL SECURITY; COMMENT ON TABLE t IS 'kept';
      GRANT INSERT ON t TO agent; REVOKE SELECT ON t FROM PUBLIC; ALTER TABLE t INHERIT p; ALTER TABLE u SET LOGGED; ALTER TABLE p2 ADD y int`
  },
  {
    shows: 'table: parts come and go, indexes of the whole',
    sql: `CREATE TABLE m (id int NOT NULL, at date NOT NULL) PARTITION BY RANGE (at); CREATE TABLE m_25 PARTITION OF m FOR VALUES FROM ('2025-01-01') TO ('2026-01-01');
      CREATE TABLE m_26 PARTITION OF m FOR VALUES FROM ('2026-01-01') TO ('2027-01-01')`,
    then: `ALTER TABLE m DETACH PARTITION m_25; CREATE TABLE m_27 PARTITION OF m FOR VALUES FROM ('2027-01-01') TO ('2028-01-01'); ALTER TABLE m ADD note text; CREATE INDEX mi ON m (id)`
  },
  {
    shows: 'unique, primaryKey, foreignKey, check, exclusion, index: said otherwise',
    since: 15,
    sql: `CREATE TABLE p (a int PRIMARY KEY, b int UNIQUE, c tstzrange, CONSTRAINT x EXCLUDE USING gist (c WITH &&)); CREATE TABLE t (a int REFERENCES p, b int, CONSTRAINT k CHECK (b > 0)); CREATE INDEX i ON t (b)`,
    then: `ALTER TABLE p DROP CONSTRAINT p_b_key; ALTER TABLE p ADD CONSTRAINT p_b_key UNIQUE NULLS NOT DISTINCT (b) DEFERRABLE; ALTER TABLE p DROP CONSTRAINT x; ALTER TABLE p ADD CONSTRAINT x EXCLUDE USING gist (c WITH &&) DEFERRABLE;
      ALTER TABLE t DROP CONSTRAINT t_a_fkey; ALTER TABLE p DROP CONSTRAINT p_pkey; ALTER TABLE p ADD CONSTRAINT p_pkey PRIMARY KEY (a) INCLUDE (b) WITH (fillfactor=70); ALTER TABLE t ADD CONSTRAINT t_a_fkey FOREIGN KEY (a) REFERENCES p MATCH FULL NOT VALID; ALTER TABLE t DROP CONSTRAINT k; ALTER TABLE t ADD CONSTRAINT k CHECK (b > 0) NO INHERIT;
      DROP INDEX i; CREATE INDEX i ON t (b DESC NULLS LAST) INCLUDE (a) WITH (fillfactor=60)`
  },
  {
    shows: 'schema, extension, defaultRights: come, go and are said otherwise',
    sql: `CREATE SCHEMA quay; CREATE TABLE quay.t (x int); CREATE EXTENSION pg_trgm; ALTER DEFAULT PRIVILEGES IN SCHEMA quay GRANT SELECT ON TABLES TO agent`,
    then: `COMMENT ON SCHEMA quay IS 'another'; GRANT USAGE ON SCHEMA quay TO agent; CREATE SCHEMA roads; CREATE TABLE roads.t (x int); ALTER EXTENSION pg_trgm SET SCHEMA quay; CREATE EXTENSION citext;
      ALTER DEFAULT PRIVILEGES IN SCHEMA quay REVOKE SELECT ON TABLES FROM agent; ALTER DEFAULT PRIVILEGES IN SCHEMA quay GRANT INSERT ON TABLES TO agent; ALTER DEFAULT PRIVILEGES IN SCHEMA roads GRANT USAGE ON SEQUENCES TO PUBLIC`
  }
]
