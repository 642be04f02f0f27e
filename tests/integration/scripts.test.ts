// A script that is read is what the engine makes of it: random ones, other people's, and some that are almost right.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { compare } from '../../src/lib/core/compare'
import { dialect as dialectOf, printScript, type Dialect, type ReadStatement } from '../../src/lib/core/dialects'
import { writeScript } from '../../src/lib/core/plan'
import type { Catalog } from '../../src/lib/core/catalog'
import { catalogs } from '../support/catalogs'
import { madeSqlite } from '../support/dump'
import { packagedScript } from '../support/packaged'
import { SQLITE } from '../foreign/sqlite'
import { SQLITE_PACKAGES } from '../foreign/packages'

const sqlite = dialectOf('sqlite') as Dialect
const read = (script: string) => {
  const found = sqlite.readScript?.(script)
  if (!found) throw new Error('SQLite’s scripts are read')
  return found
}
/** What one of the two has and the other has not. */
const between = (a: Catalog, b: Catalog) => [
  ...compare({ wanted: a, live: b }, sqlite).changes,
  ...compare({ wanted: b, live: a }, sqlite).changes
]
const ways = (statements: readonly ReadStatement[]) => statements.map(({ how }) => how)

describe('an SQLite script', () => {
  it('is what the engine makes of it, whatever it holds', async () => {
    await fc.assert(
      fc.asyncProperty(catalogs(sqlite), async (catalog) => {
        const script = printScript(writeScript(catalog, sqlite), sqlite)
        const { catalog: told, statements } = read(script)
        expect(statements.filter(({ how }) => how === 'unknown')).toEqual([])
        expect(between(told, (await madeSqlite([script])).catalog)).toEqual([])
      }),
      { numRuns: 60 }
    )
  })

  it.each(SQLITE)('of other people’s: $shows', async ({ sql }) => {
    const { catalog, statements } = read(sql)
    expect(statements.filter(({ how }) => how === 'unknown')).toEqual([])
    // The tables that a module makes for itself, only the engine makes.
    const made = (await madeSqlite([sql])).catalog
    const own = { ...made, tables: made.tables.filter((table) => table.options?.['made by'] === undefined) }
    expect(between(catalog, own)).toEqual([])
  })

  it.for(SQLITE_PACKAGES)('of an application’s: $package', async (script, { skip }) => {
    const found = packagedScript(script)
    if ('lacking' in found) return skip(found.lacking)
    expect(between(read(found.text).catalog, (await madeSqlite([found.text], true)).catalog)).toEqual([])
  })

  it('that changes what it has made leaves what the engine then has', async () => {
    const script = `.mode box
      PRAGMA foreign_keys = ON;
      CREATE TABLE main.Berth (code TEXT PRIMARY KEY, quay TEXT, "max draught" REAL); -- where vessels lie
      CREATE TABLE IF NOT EXISTS berth (never TEXT);
      CREATE TABLE visit (id INTEGER PRIMARY KEY, berth_code TEXT REFERENCES Berth (code), note TEXT CHECK (note <> ';'));
      INSERT INTO Berth VALUES ('N1', 'North; and more', 9.5);
      CREATE INDEX visit_note ON visit (lower(note)) WHERE berth_code IS NOT NULL;
      CREATE VIEW at_berth AS SELECT v.id, b.quay FROM visit v JOIN Berth b ON b.code = v.berth_code;
      CREATE TRIGGER counted AFTER INSERT ON visit BEGIN UPDATE Berth SET quay = 'taken'; DELETE FROM visit WHERE id < 0; END;
      ALTER TABLE visit ADD COLUMN pilot TEXT DEFAULT 'none' NOT NULL;
      ALTER TABLE Berth RENAME COLUMN quay TO side;
      ALTER TABLE Berth DROP COLUMN "max draught";
      ALTER TABLE visit RENAME TO stay;
      CREATE TEMP TABLE scratch (x);
      CREATE TABLE gone (x); CREATE INDEX gone_x ON gone (x); DROP TABLE gone; DROP TABLE IF EXISTS gone;`
    const { catalog, statements } = read(script)
    expect(between(catalog, (await madeSqlite([script.replace('.mode box', '')])).catalog)).toEqual([])
    expect(ways(statements).filter((how) => how === 'data')).toHaveLength(3)
    expect(ways(statements).filter((how) => how === 'carried')).toHaveLength(2)
    expect(statements.some(({ how }) => how === 'unknown')).toBe(false)
  })

  it('makes what a module makes for itself, and takes it away with it', () => {
    // "FTS5", 4.5 The FTS5 Data Structures: none for the content of another table.
    const made = `CREATE VIRTUAL TABLE said USING fts5(words, at, content='notices', tokenize = 'porter');
      CREATE VIRTUAL TABLE logged USING fts5(line); CREATE VIRTUAL TABLE roads USING rtree(id, west, east); DROP TABLE logged;`
    const { catalog, statements } = read(made)
    expect(ways(statements)).toEqual(['carried', 'carried', 'carried', 'read'])
    expect(catalog.tables.map(({ name, options }) => [name, options?.['made by']])).toEqual([
      ['roads', undefined],
      ...['node', 'parent', 'rowid'].map((part) => [`roads_${part}`, 'roads']),
      ['said', undefined],
      ...['config', 'data', 'docsize', 'idx'].map((part) => [`said_${part}`, 'said'])
    ])
  })

  it('that is broken in one place is read in all others, and says where and why', () => {
    const script = `CREATE TABLE a (x);\nCREATE TABEL b (y);\nCREATE TABLE c AS SELECT 1;\nDROP TABLE d;\nCREATE INDEX i ON e (x);\nALTER TABLE a DROP COLUMN z;\nGRANT ALL;\nCREATE TABLE f (x)`
    const { catalog, statements } = read(script)
    expect(catalog.tables.map((table) => table.name)).toEqual(['a', 'f'])
    expect(
      statements.flatMap(({ at, how, why }) =>
        how === 'unknown' ? [[script.slice(0, at).split('\n').length, why]] : []
      )
    ).toEqual([
      [2, 'SQLite makes no tabel.'],
      [3, 'The table c is made of a query: what its columns are, only the engine knows.'],
      [4, 'There is no table d to remove.'],
      [5, 'There is no table e for it to be on.'],
      [6, 'a has no column z.'],
      [7, 'No statement of SQLite begins with “grant”.']
    ])
  })

  it('fails at nothing, however it is cut and mixed', () => {
    const pieces = SQLITE.flatMap(({ sql }) => sql.split(/(?<=[\s(),;'"])/))
    fc.assert(
      fc.property(fc.array(fc.nat(pieces.length - 1), { maxLength: 60 }), (picks) => {
        const script = picks.map((n) => pieces[n]).join('')
        for (const { at, sql } of read(script).statements) expect(script.slice(at, at + sql.length)).toBe(sql)
      }),
      { numRuns: 400 }
    )
  })
})
