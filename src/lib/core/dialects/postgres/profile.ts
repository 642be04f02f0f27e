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
    identities: ['by default', 'always']
  },
  proof: 'run here'
})
