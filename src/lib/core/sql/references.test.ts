// New names reach a text only through the object that it names.
import { expect, it } from 'vitest'
import { dialect, type Dialect } from '../dialects'
import { renameReferences } from '.'

/** `a.name` is called `title` from now on, table `c` is called `ship`, and its `id` `imo`. */
const tables: Readonly<Record<string, { to?: string; columns: Readonly<Record<string, string>> }>> = {
  a: { columns: { id: 'id', name: 'title', code: 'code' } },
  b: { columns: { id: 'id', name: 'name', a_id: 'a_id' } },
  c: { to: 'ship', columns: { id: 'imo', note: 'note' } }
}

function renamed(sql: string, engine = 'postgres') {
  const { write, profile } = dialect(engine) as Dialect
  return renameReferences(sql, {
    ...write,
    keywords: profile.names.mustQuote,
    table: (_, name) => {
      const found = tables[name]
      return found && { to: found.to, columns: new Map(Object.entries(found.columns)) }
    }
  })
}

it.each([
  [
    'SELECT a.name, b.name AS bname FROM a JOIN b ON b.a_id = a.id',
    'SELECT a.title AS name, b.name AS bname FROM a JOIN b ON b.a_id = a.id'
  ],
  ['SELECT x.name FROM b x, a y WHERE y.name = x.name', 'SELECT x.name FROM b x, a y WHERE y.title = x.name'],
  ['SELECT upper(name) AS u FROM a', 'SELECT upper(title) AS u FROM a'],
  ['SELECT name FROM a UNION SELECT name FROM b', 'SELECT title AS name FROM a UNION SELECT name FROM b'],
  [
    'SELECT name FROM b WHERE EXISTS (SELECT 1 FROM a WHERE a.id = a_id AND name > 1)',
    'SELECT name FROM b WHERE EXISTS (SELECT 1 FROM a WHERE a.id = a_id AND title > 1)'
  ],
  [
    'SELECT (SELECT max(name) FROM a WHERE a.id = b.a_id) AS m, name FROM b',
    'SELECT (SELECT max(title) FROM a WHERE a.id = b.a_id) AS m, name FROM b'
  ],
  ['SELECT s.name FROM (SELECT name FROM a) s', 'SELECT s.name FROM (SELECT title AS name FROM a) s'],
  ['WITH a AS (SELECT name FROM b) SELECT name FROM a', 'WITH a AS (SELECT name FROM b) SELECT name FROM a'],
  [
    'WITH n AS (SELECT name FROM a) SELECT n.name, code FROM n JOIN a ON a.name = n.name',
    'WITH n AS (SELECT title AS name FROM a) SELECT n.name, code FROM n JOIN a ON a.title = n.name'
  ],
  [
    "SELECT ((x.name)::text || 'name') FROM ((a x JOIN b ON (x.id = b.a_id)) LEFT JOIN c ON (c.id = b.id))",
    "SELECT ((x.title)::text || 'name') FROM ((a x JOIN b ON (x.id = b.a_id)) LEFT JOIN ship ON (ship.imo = b.id))"
  ],
  ['SELECT code AS name FROM a ORDER BY name', 'SELECT code AS name FROM a ORDER BY name'],
  ['SELECT code FROM a ORDER BY name DESC', 'SELECT code FROM a ORDER BY title DESC'],
  [
    "SELECT EXTRACT(year FROM name), name(1), name 'x' FROM a",
    "SELECT EXTRACT(year FROM title), name(1), name 'x' FROM a"
  ],
  [
    'CREATE VIEW name AS SELECT code FROM a WHERE name IS DISTINCT FROM code',
    'CREATE VIEW name AS SELECT code FROM a WHERE title IS DISTINCT FROM code'
  ],
  [
    'SELECT c.id, z.note FROM public.c AS c JOIN c z ON true',
    'SELECT c.imo AS id, z.note FROM public.ship AS c JOIN ship z ON true'
  ],
  [
    'CREATE TRIGGER t BEFORE UPDATE OF name ON a FOR EACH ROW WHEN (old.name <> new.name) EXECUTE FUNCTION name()',
    'CREATE TRIGGER t BEFORE UPDATE OF title ON a FOR EACH ROW WHEN (old.title <> new.title) EXECUTE FUNCTION name()'
  ],
  ['GRANT SELECT (name, code) ON a TO name', 'GRANT SELECT (title, code) ON a TO name'],
  ['GRANT SELECT ON c TO c', 'GRANT SELECT ON ship TO c']
])('PostgreSQL: %s', (sql, wanted) => {
  expect(renamed(sql)).toEqual({ sql: wanted, joined: [] })
})

it.each([
  [
    'CREATE TRIGGER t AFTER UPDATE OF name ON a BEGIN UPDATE b SET name = NEW.name WHERE a_id = NEW.id; INSERT INTO a (name, code) VALUES (OLD.name, 1); DELETE FROM c WHERE id = 1; END',
    'CREATE TRIGGER t AFTER UPDATE OF title ON a BEGIN UPDATE b SET name = NEW.title WHERE a_id = NEW.id; INSERT INTO a (title, code) VALUES (OLD.title, 1); DELETE FROM ship WHERE imo = 1; END'
  ],
  ['CREATE VIEW v AS SELECT [name], "code" FROM A', 'CREATE VIEW v AS SELECT title AS name, "code" FROM A']
])('SQLite: %s', (sql, wanted) => {
  expect(renamed(sql, 'sqlite')).toEqual({ sql: wanted, joined: [] })
})

it('tables that no longer share the name they are joined by are told', () => {
  expect(renamed('SELECT 1 FROM a JOIN b USING (name)').joined).toEqual(['name'])
  expect(renamed('SELECT 1 FROM a NATURAL JOIN b').joined).toEqual(['name'])
  expect(renamed('SELECT 1 FROM b JOIN b x USING (id)').joined).toEqual([])
})
