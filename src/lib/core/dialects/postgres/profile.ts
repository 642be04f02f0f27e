// What PostgreSQL is, by version.
import type { Lexis } from '../../sql'
import type { EngineProfile } from '../dialect'
import { versionsOf } from '../known'
import { mustQuote, reserved } from './words'

export const DEFAULT_SCHEMA = 'public'

/** Manual, 4.1 Lexical Structure. */
export const postgresLexis: Omit<Lexis, 'fold'> = {
  nameQuotes: ['"'],
  escapeText: true,
  dollarText: true,
  nestedComments: true,
  bodies: 'rules'
}

export const postgresProfile = (version: string): EngineProfile => ({
  id: 'postgres',
  label: 'PostgreSQL',
  versions: versionsOf('postgres'),
  version,
  defaultSchema: DEFAULT_SCHEMA,
  names: {
    fold: 'lower',
    // NAMEDATALEN - 1; manual, 4.1.1 Identifiers and Key Words.
    limit: 63,
    unit: 'bytes',
    mustQuote,
    reserved
  },
  lexis: postgresLexis,
  signs: [
    /\b(big|small)?serial\b/i,
    /[\w')]::\w/,
    /\$\w*\$/,
    /\bset\s+search_path\b/i,
    /\bowner\s+to\b/i,
    /\bcreate\s+extension\b/i,
    /\blanguage\s+'?plpgsql/i,
    /\bnextval\s*\(/i,
    /\bfrom\s+stdin\b/i,
    /\btimestamp(tz|\s+with(out)?\s+time\s+zone)\b/i,
    /\b(bytea|jsonb|tsvector)\b/i,
    /\balter\s+table\s+only\b/i,
    /\bcharacter\s+varying\b/i,
    /\bcreate\s+(or\s+replace\s+)?(rule|aggregate|domain)\b/i
  ],
  reads: ['select', 'with', 'values', 'table', 'show', 'explain'],
  features: {
    transactionalDdl: true,
    ifExists: true,
    dropCascade: true,
    comments: true,
    schemas: true,
    renameTable: true,
    renameUsedColumn: true,
    renameConstraint: true,
    renameIndex: true,
    foreignKeysInTable: false,
    triggersInTable: true,
    namesInSchema: ['primaryKey', 'unique', 'index'],
    indexesBesideTables: true,
    counts: 'whole',
    partialIndexes: true,
    identities: ['by default', 'always']
  },
  proof: 'run here'
})
