// What SQLite is. Versions that matter here: RENAME COLUMN from 3.25, STORED columns from 3.31, DROP COLUMN from 3.35.
import type { EngineProfile } from '../dialect'
import { versionsOf } from '../known'
import { sqliteLexis } from './lexis'

/** "SQLite Keywords" (sqlite.org/lang_keywords.html): those that cannot stand as a name without quotes. */
const words =
  `add all alter and as autoincrement between case check collate commit constraint create default deferrable delete distinct
drop else escape except exists foreign from group having if in index insert intersect into is isnull join limit not notnull
null on or order primary references select set table then to transaction union unique update using values when where
nothing returning cast current_date current_time current_timestamp abort action after always analyze asc attach before
begin by cascade column conflict cross current database deferred desc detach do each end exclude exclusive explain fail
filter first following for full generated glob groups ignore immediate indexed initially inner instead key last left like
match materialized natural no nulls of offset others outer over partition plan pragma preceding query raise range
recursive regexp reindex release rename replace restrict right rollback row rows savepoint temp temporary ties trigger
unbounded vacuum view virtual window with without`.split(/\s+/)

/** Of those, the ones that SQLite takes without quotes too, but a person had better not use. */
const reserved = new Set(words.slice(0, words.indexOf('nothing')))

export const sqliteProfile = (version: string): EngineProfile => ({
  id: 'sqlite',
  label: 'SQLite',
  versions: versionsOf('sqlite'),
  version,
  defaultSchema: 'main',
  names: {
    fold: 'kept',
    limit: Infinity,
    unit: 'characters',
    mustQuote: new Set(words),
    reserved,
    caseless: 'all'
  },
  lexis: sqliteLexis,
  signs: [
    /\bautoincrement\b/i,
    /\bpragma\s+\w/i,
    /\bwithout\s+rowid\b/i,
    /\bcreate\s+virtual\s+table\b/i,
    /\bsqlite_\w/i,
    /\bcollate\s+nocase\b/i,
    /\bbegin\s+transaction\b/i,
    /\binsert\s+or\s+(replace|ignore)\b/i,
    /\binteger\s+(not\s+null\s+)?primary\s+key\b/i
  ],
  reads: ['select', 'with', 'values', 'explain', 'pragma'],
  features: {
    transactionalDdl: true,
    ifExists: true,
    dropCascade: false,
    comments: false,
    schemas: false,
    renameTable: true,
    renameUsedColumn: true,
    renameConstraint: false,
    renameIndex: false,
    foreignKeysInTable: true,
    triggersInTable: false,
    namesInSchema: ['index'],
    indexesBesideTables: true,
    partialIndexes: true,
    identities: ['by default']
  },
  proof: 'run here'
})
