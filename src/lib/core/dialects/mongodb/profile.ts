// What MongoDB is: collections of documents, told by commands. "MongoDB Limits and Thresholds" for names and sizes.
import type { EngineProfile } from '../dialect'
import { versionsOf } from '../known'

export const mongodbProfile = (version: string): EngineProfile => ({
  id: 'mongodb',
  label: 'MongoDB',
  versions: versionsOf('mongodb'),
  version,
  defaultSchema: 'main',
  names: {
    fold: 'kept',
    // "Namespace Length": 255 bytes with the name of the database, which has 63 at most, and the dot between.
    limit: 191,
    unit: 'bytes',
    mustQuote: new Set(),
    reserved: new Set()
  },
  lexis: { nameQuotes: [], doubleQuotedText: true, backslashes: true, dashesNeedBlank: true },
  signs: [/\bdb\.(runCommand|createCollection|getCollection)\b/, /\$jsonSchema\b/, /\bbsonType\b/],
  reads: ['find', 'aggregate', 'count', 'distinct', 'listCollections', 'listIndexes', 'collStats', 'buildInfo'],
  features: {
    transactionalDdl: false,
    ifExists: false,
    dropCascade: false,
    comments: true,
    schemas: false,
    renameTable: true,
    renameUsedColumn: true,
    renameConstraint: false,
    renameIndex: false,
    foreignKeysInTable: false,
    triggersInTable: false,
    namesInSchema: [],
    fields: true,
    commands: 'js',
    partialIndexes: true,
    identities: []
  },
  words: { table: ['collection', 'collections'], column: ['field', 'fields'] },
  proof: 'by manual'
})
