// What MongoDB alone has, beside fields and indexes: "create", "Schema Validation", "createIndexes" and the pages of each kind of
// collection and index in the manual.
import type { DeclaredOption } from '../dialect'
import { WILDCARD, type CREATED, type INDEX_OPTIONS } from './commands'
import { BOUNDS } from './schema'

const MEANINGS: Readonly<Record<(typeof BOUNDS)[number], string>> = {
  values: 'The values that a field may have, as a list.',
  minimum: 'The least number that a field may have.',
  maximum: 'The greatest number that a field may have.',
  pattern: 'What its text must look like, as a regular expression.'
}

type Told = Pick<DeclaredOption, 'values' | 'meaning'> & Partial<DeclaredOption>

/** "create"; "Capped Collections", "Time Series Collections", "Clustered Collections", "Change Streams". */
const OF_COLLECTIONS: Readonly<Record<(typeof CREATED)[number], Told>> = {
  capped: { values: ['true'], meaning: 'The oldest documents go when it is full: it needs a size.' },
  size: { values: 'a number', meaning: 'The bytes that a capped collection may take.' },
  max: { values: 'a number', meaning: 'The documents that a capped collection may have.' },
  collation: { values: 'json', meaning: 'How its text is compared, such as {"locale": "de", "strength": 2}.' },
  timeseries: {
    values: 'json',
    meaning:
      'It keeps measures by their time, such as {"timeField": "at", "metaField": "berth", "granularity": "hours"}.'
  },
  expireAfterSeconds: {
    values: 'a number',
    meaning: 'The seconds after which what a time series or clustered collection has goes.'
  },
  clusteredIndex: {
    values: 'json',
    meaning: 'Documents are kept by their _id: {"key": {"_id": 1}, "unique": true}.',
    // "Clustered Collections": new in version 5.3.
    since: 6
  },
  changeStreamPreAndPostImages: {
    values: 'json',
    meaning: 'Change streams tell what a document was before: {"enabled": true}.',
    since: 6
  }
}

/** "createIndexes"; "Sparse Indexes", "TTL Indexes", "Hidden Indexes", "Text Indexes", "2d Indexes", "Wildcard Indexes". */
const OF_INDEXES: Readonly<Record<(typeof INDEX_OPTIONS)[number], Told>> = {
  sparse: { values: ['true'], meaning: 'Documents without the field are not in it.' },
  expireAfterSeconds: {
    values: 'a number',
    meaning: 'Documents go by themselves, so many seconds after the date in the field.'
  },
  hidden: { values: ['true'], meaning: 'It is kept, and no query uses it.' },
  collation: { values: 'json', meaning: 'How its text is compared, such as {"locale": "de", "strength": 2}.' },
  weights: { values: 'json', meaning: 'What each field of a text index counts for, such as {"name": 10}.' },
  default_language: { values: 'a name', meaning: 'The language by which a text index finds stems.' },
  language_override: { values: 'a name', meaning: 'The field of a document that says its language.' },
  textIndexVersion: { values: 'a number', meaning: 'The version of a text index.', found: true },
  '2dsphereIndexVersion': { values: 'a number', meaning: 'The version of an index of places.', found: true },
  bits: { values: 'a number', meaning: 'How finely a flat index of places is divided, up to 32.' },
  min: { values: 'a number', meaning: 'The least of a flat index of places.' },
  max: { values: 'a number', meaning: 'The bound of a flat index of places.' },
  wildcardProjection: { values: 'json', meaning: 'The fields that an index of all fields has, or leaves out.' }
}

const declared = (told: Readonly<Record<string, Told>>, on: DeclaredOption['on'], changes: DeclaredOption['changes']) =>
  Object.entries(told).map(([name, one]): DeclaredOption => ({ name, on, changes, ...one }))

export const mongodbOptions: readonly DeclaredOption[] = [
  ...BOUNDS.map((name): DeclaredOption => ({
    name,
    on: ['column'],
    values: 'text',
    meaning: MEANINGS[name],
    changes: 'in place',
    // The design says them, for every engine.
    found: true
  })),
  {
    name: 'null',
    on: ['column'],
    values: ['allowed', 'refused'],
    meaning: 'Whether it may be null, other than lacking.',
    changes: 'in place'
  },
  {
    name: 'more',
    on: ['column'],
    values: 'json',
    meaning: 'What else a validator says of it, such as {"not": {"enum": ["none"]}}.',
    changes: 'in place'
  },
  {
    name: 'validationLevel',
    on: ['table'],
    values: ['strict', 'moderate', 'off'],
    usual: 'strict',
    meaning: 'Whether documents that never fitted must do so when they change.',
    changes: 'in place'
  },
  {
    name: 'validationAction',
    on: ['table'],
    values: ['error', 'warn'],
    usual: 'error',
    meaning: 'Whether a document that does not fit is refused, or only logged.',
    changes: 'in place'
  },
  {
    name: 'validator',
    on: ['table'],
    values: 'json',
    meaning: 'What documents must meet besides, as a query: {"$expr": {"$lt": ["$begins", "$ends"]}}.',
    changes: 'in place'
  },
  {
    name: 'schema',
    on: ['table'],
    values: 'json',
    meaning: 'What a validator says of whole documents, such as {"additionalProperties": false}.',
    changes: 'in place'
  },
  ...declared(OF_COLLECTIONS, ['table'], 'never'),
  {
    name: 'kind',
    on: ['index'],
    at: { part: 'operators' },
    values: ['text', '2dsphere', '2d', 'hashed', WILDCARD],
    meaning: 'Words of a text, places on the globe or in a plane, values spread evenly, or all that a field holds.',
    changes: 'again'
  },
  {
    name: 'partial',
    on: ['index'],
    at: { property: 'where' },
    values: 'json',
    meaning: 'Only documents that match are in it, such as {"gone": false}.',
    changes: 'again'
  },
  ...declared(OF_INDEXES, ['index'], 'again')
]
