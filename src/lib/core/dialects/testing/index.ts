// An engine that does not exist, as unlike PostgreSQL as real ones get: 30-byte names, upper case, no IF EXISTS, no
// transaction around DDL, no renaming of constraints, types of its own. Derive, write and plan are tested on it too, so that nothing in
// them leans on one engine's habits.
import type { Dialect, EngineProfile } from '../dialect'
import { standardAlterer, standardCarrier, standardWriter } from '../standard'
import { testingTypes } from './types'

const profile: EngineProfile = {
  id: 'testing',
  label: 'Narrow engine',
  versions: ['1'],
  version: '1',
  defaultSchema: 'MAIN',
  names: {
    fold: 'upper',
    limit: 30,
    unit: 'bytes',
    mustQuote: new Set(['order', 'desc', 'user']),
    reserved: new Set(['desc'])
  },
  lexis: { nameQuotes: ['"'] },
  reads: ['select'],
  features: {
    transactionalDdl: false,
    ifExists: false,
    dropCascade: false,
    comments: false,
    schemas: false,
    renameTable: true,
    renameUsedColumn: true,
    renameConstraint: false,
    renameIndex: true,
    foreignKeysInTable: false,
    triggersInTable: false,
    namesInSchema: ['primaryKey', 'unique', 'index'],
    counts: 'whole',
    partialIndexes: true,
    identities: ['by default', 'always']
  },
  signs: [],
  proof: 'test only'
}

export function testingDialect(): Dialect {
  const write = standardWriter(profile)
  return {
    profile,
    types: testingTypes,
    write,
    alter: standardAlterer(write, profile.features),
    carry: standardCarrier(write, { kinds: [], comments: false }),
    options: []
  }
}
