// MongoDB: a collection is a table of the catalogue, a field a column by its path, what a validator says of it its options. Statements
// are commands, as extended JSON; a script is for the engine's shell.
import { dotted, EVERY, type View } from '../../catalog'
import type { Carrier, DefaultValue, Dialect, StepDraft } from '../dialect'
import { hazard } from '../standard'
import type { NeutralType } from '../../types'
import { mongodbAlterer } from './alter'
import { inRanges } from './ranges'
import { whyNotReading } from './reading'
import { commandIn, statementOf, validatorOf, type Command } from './commands'
import { counted } from './moves'
import { mongodbQueries } from './introspect'
import { mongodbOptions } from './options'
import { mongodbProfile } from './profile'
import type { Json } from './schema'
import { ROW_ID, settle } from './settle'
import { mongodbTypes } from './types'
import { LETTERS, mongodbWriter } from './write'

const carry: Carrier = {
  kinds: new Set(['view']),
  create: ({ address, ...object }) => {
    if (object.kind !== 'view') return []
    const view = object.value
    return [
      {
        statement: statementOf({ create: view.name, ...(JSON.parse(view.query) as Command) }),
        why: `makes the view ${view.name}`,
        effects: [{ action: 'create', address, object }],
        hazards: []
      }
    ]
  },
  drop: ({ address, ...object }): StepDraft[] => [
    {
      statement: statementOf({ drop: (object.value as View).name }),
      why: `removes the view ${(object.value as View).name}`,
      effects: [{ action: 'drop', address, object }],
      hazards: object.kind === 'view' ? [] : [hazard('loses data', 'what it holds goes with it')]
    }
  ],
  alter: () => undefined
}

/** "Aggregation Variables": the moment. */
const NOW = '$$NOW'

/** A default as an expression; nothing for what is nobody's to say here. */
function filledWith(value: DefaultValue): Json | undefined {
  switch (value.kind) {
    case 'now':
      return NOW
    case 'number':
      return Number(value.text)
    case 'text':
      return { $literal: value.text }
    case 'boolean':
      return value.value
    default:
      return undefined
  }
}

/** What lists and maps are of. */
const eachOf = (type: NeutralType): NeutralType =>
  type.kind === 'list' || type.kind === 'map' ? eachOf(type.of) : type
const NUMBERS = ['tiny', 'small', 'integer', 'big', 'decimal', 'float', 'double', 'either']
const isNumber = ({ kind }: NeutralType): boolean => NUMBERS.includes(kind)

export function mongodb(version: string): Dialect {
  const profile = mongodbProfile(version)
  return {
    profile,
    types: mongodbTypes,
    write: mongodbWriter(profile),
    alter: mongodbAlterer,
    carry,
    options: mongodbOptions.filter(({ since = 0 }) => since <= Number(version)),
    settle,
    // "schema.ts": what may lack may be null as well.
    isUsual: ({ nullable }, option, value) => option === 'null' && value === (nullable ? 'allowed' : 'refused'),
    introspect: mongodbQueries,
    rowId: { name: ROW_ID, type: { kind: 'object id' } },
    bounds: ({ type, min, max, letters }) => {
      const value = eachOf(type)
      const isText = value.kind === 'text' || value.kind === 'char'
      return {
        ...(value.kind === 'oneOf' ? { values: JSON.stringify(value.values) } : {}),
        ...(min === undefined || !isNumber(value) ? {} : { minimum: String(min) }),
        ...(max === undefined || !isNumber(value) ? {} : { maximum: String(max) }),
        ...(letters === undefined || !isText ? {} : { pattern: LETTERS[letters] })
      }
    },
    bounded: (type, { values, minimum, maximum, pattern }) => {
      const list: unknown = values === undefined ? [] : JSON.parse(values)
      const texts = Array.isArray(list) && list.length > 0 && list.every((one) => typeof one === 'string')
      const letters = (['upper', 'lower'] as const).find((one) => LETTERS[one] === pattern)
      return {
        ...(texts && type.kind === 'text' ? { type: { kind: 'oneOf', values: [...new Set(list as string[])] } } : {}),
        ...(minimum === undefined ? {} : { min: Number(minimum) }),
        ...(maximum === undefined ? {} : { max: Number(maximum) }),
        ...(letters ? { letters } : {})
      }
    },
    misfits: (table) => ({
      question: `Which documents of ${table.name} do not fit?`,
      ...counted(table.name, { $nor: [validatorOf(table) ?? {}] })
    }),
    filled: (value, { name }) => {
      const plain = filledWith(value)
      if (plain === undefined) return undefined
      const isConverted = ['int', 'long', 'double', 'decimal', 'date', 'objectId'].includes(name)
      return JSON.stringify(isConverted && plain !== NOW ? { $convert: { input: plain, to: name } } : plain)
    },
    sample: (collection, size) => statementOf({ aggregate: collection, pipeline: [{ $sample: { size } }], cursor: {} }),
    having: (collection, path) => ({
      question: `Which documents of ${collection} have ${path}?`,
      ...counted(collection, { [dotted(path.split(EVERY, 1).join())]: { $exists: true } })
    }),
    whyNotReading: (statement) => whyNotReading(statement, profile.reads),
    inRanges,
    // A validator is stated whole: the last word on a collection says what those before it did.
    joined: (first, second) => {
      const [a, b] = [first, second].map(({ statement }) => commandIn(statement))
      if (a?.['collMod'] === undefined || a['collMod'] !== b?.['collMod']) return undefined
      return {
        ...second,
        why: first.why === second.why ? first.why : `${first.why}; ${second.why}`,
        effects: [...first.effects, ...second.effects],
        hazards: [
          ...first.hazards,
          ...second.hazards.filter((one) => !first.hazards.some((h) => h.sentence === one.sentence))
        ],
        ...(first.undo ? { undo: first.undo } : {}),
        ...(first.preflight && !second.preflight ? { preflight: first.preflight } : {})
      }
    }
  }
}
