// Documents of one collection come to be in those of another, or come out of them: pipelines that end in "$merge". Each may be sent
// again if it was cut off.
import { created, hazard } from '../standard'
import { memberAddress, tableAddress, type Column, type Table } from '../../catalog'
import type { DocumentCarrier, Pairs, StepDraft } from '../dialect'
import { collModCommand, createCommand, statementOf, type Command } from './commands'
import { removeField } from './moves'
import type { Json } from './schema'
import { ROW_ID, ROW_ID_INDEX } from './settle'

/** "BSON Document Size", in bytes; what is left for the document around a list. */
const MOST = 16 * 1024 * 1024
const ROOM = 64 * 1024

/** "aggregate": a pipeline that writes, past the validators, and may keep what it groups on disk. */
const sent = (collection: string, pipeline: readonly Json[]): string =>
  statementOf({ aggregate: collection, pipeline, cursor: {}, bypassDocumentValidation: true, allowDiskUse: true })

const isMany = ({ type }: Column): boolean => type.of !== undefined

/** Each document with what it belongs to, and without saying so itself; those that belong to nothing are left out. */
const byHome = (pairs: Pairs): Json[] => [
  { $match: Object.fromEntries(pairs.map(({ own }) => [own, { $ne: null }])) },
  { $sort: { [ROW_ID]: 1 } },
  {
    $replaceWith: {
      key: Object.fromEntries(pairs.map(({ own }, i) => [`k${i}`, `$${own}`])),
      held: '$$ROOT'
    }
  },
  { $unset: pairs.map(({ own }) => `held.${own}`) }
]

function gather(own: Table, home: Table, columns: readonly Column[], pairs: Pairs): StepDraft[] {
  const [holder] = columns
  if (!holder) return []
  const told: Table = { ...home, columns: [...home.columns, ...columns] }
  const keys = pairs.map(({ key }) => key)
  const pipeline: Json[] = [
    ...byHome(pairs),
    { $group: { _id: '$key', held: { $push: '$held' } } },
    {
      $project: {
        _id: keys.includes(ROW_ID) ? '$_id.k0' : '$$REMOVE',
        ...Object.fromEntries(keys.flatMap((key, i) => (key === ROW_ID ? [] : [[key, `$_id.k${i}`]]))),
        held: isMany(holder) ? '$held' : { $first: '$held' }
      }
    },
    {
      $merge: {
        into: home.name,
        on: keys.length === 1 ? (keys[0] ?? ROW_ID) : keys,
        whenMatched: [{ $set: { [holder.name]: '$$new.held' } }],
        whenNotMatched: 'discard'
      }
    }
  ]
  const tooLarge: Json[] = [
    ...byHome(pairs),
    { $group: { _id: '$key', bytes: { $sum: { $bsonSize: '$held' } } } },
    { $match: { bytes: { $gt: MOST - ROOM } } }
  ]
  return [
    {
      statement: statementOf(collModCommand(told)),
      why: `${home.name} may hold ${own.name}`,
      effects: columns.map((value) => created(home, { kind: 'column', value })),
      hazards: [],
      undo: [statementOf(collModCommand(home))]
    },
    {
      statement: sent(own.name, pipeline),
      why: `puts each of ${own.name} into the ${home.name} that it belongs to`,
      about: memberAddress(home, 'column', holder),
      effects: [],
      hazards: [
        hazard('may fail', 'fails if what belongs to one document is more than the 16 MB that one may be'),
        hazard(
          'rewrites table',
          `every document of ${home.name} that gets some is written anew, and over what it may have as ${holder.name} already`
        )
      ],
      preflight: {
        question: `Which documents of ${home.name} would be too large?`,
        count: asked(own.name, [...tooLarge, { $count: 'n' }]),
        rows: asked(own.name, tooLarge)
      },
      undo: [statementOf(removeField(home.name, holder.name))],
      repeatable: true
    }
  ]
}

const asked = (collection: string, pipeline: readonly Json[]): string =>
  statementOf({ aggregate: collection, pipeline, cursor: {} })

/** "$rand": twelve bytes in hexadecimal digits, as an id. */
const NEW_ID: Json = {
  $toObjectId: {
    $reduce: {
      input: { $range: [0, 24] },
      initialValue: '',
      in: {
        $concat: [
          '$$value',
          { $substrCP: ['0123456789abcdef', { $toInt: { $floor: { $multiply: [{ $rand: {} }, 16] } } }, 1] }
        ]
      }
    }
  }
}

/** Each that lacks an id gets one, by which it is known if the next step is sent twice. */
function withIds(home: Table, holder: Column): Command {
  const known = (value: string): Json => ({
    $cond: [
      { $and: [{ $eq: [{ $type: value }, 'object'] }, { $eq: [{ $type: `${value}.${ROW_ID}` }, 'missing'] }] },
      { $mergeObjects: [{ [ROW_ID]: NEW_ID }, value] },
      value
    ]
  })
  const path = `$${holder.name}`
  const value: Json = isMany(holder)
    ? { $cond: [{ $isArray: [path] }, { $map: { input: path, as: 'each', in: known('$$each') } }, path] }
    : known(path)
  return {
    update: home.name,
    updates: [{ q: { [holder.name]: { $exists: true } }, u: [{ $set: { [holder.name]: value } }], multi: true }],
    bypassDocumentValidation: true
  }
}

function spread(made: Table, home: Table, holder: Column, pairs: Pairs): StepDraft[] {
  const id = made.columns.find(({ name }) => name === ROW_ID)
  const whole: Table = id ? { ...made, primaryKey: { name: ROW_ID_INDEX, columns: [ROW_ID] } } : made
  const pipeline: Json[] = [
    { $match: { [holder.name]: { $exists: true } } },
    { $unwind: `$${holder.name}` },
    { $match: { [holder.name]: { $type: 'object' } } },
    {
      $replaceWith: {
        $mergeObjects: [
          {
            [ROW_ID]: `$${holder.name}.${ROW_ID}`,
            ...Object.fromEntries(pairs.map(({ own, key }) => [own, `$${key}`]))
          },
          `$${holder.name}`
        ]
      }
    },
    { $merge: { into: made.name, whenMatched: 'replace', whenNotMatched: 'insert' } }
  ]
  // Ids of another type are nobody's to give.
  const given = id === undefined || id.type.name === 'objectId'
  const about = tableAddress(made)
  return [
    {
      statement: statementOf(createCommand(whole)),
      why: `makes the collection ${made.name}`,
      effects: [created(whole, { kind: 'table', value: whole })],
      hazards: [],
      undo: [statementOf({ drop: made.name })]
    },
    ...(given
      ? [
          {
            statement: statementOf(withIds(home, holder)),
            why: `gives each of ${holder.name} an id, by which it is known`,
            about: memberAddress(home, 'column', holder),
            effects: [],
            hazards: [],
            undo: [],
            repeatable: true as const
          }
        ]
      : []),
    {
      statement: sent(home.name, pipeline),
      why: `puts each of ${holder.name} into a document of its own`,
      about,
      effects: [],
      hazards: [],
      undo: [statementOf({ delete: made.name, deletes: [{ q: {}, limit: 0 }] })],
      ...(given ? { repeatable: true as const } : {})
    }
  ]
}

function leftBehind(own: Table, home: Table, pairs: Pairs): Pick<StepDraft, 'hazards' | 'changed'> {
  const [first, ...more] = pairs
  if (!first) return { hazards: [] }
  const all: Json = {
    $anyElementTrue: [
      {
        $map: {
          input: '$home',
          as: 'one',
          in: { $and: [true, ...more.map(({ own: name, key }): Json => ({ $eq: [`$$one.${key}`, `$${name}`] }))] }
        }
      }
    ]
  }
  const stray: Json[] = [
    { $lookup: { from: home.name, localField: first.own, foreignField: first.key, as: 'home' } },
    { $match: { $or: [...pairs.map(({ own: name }): Json => ({ [name]: null })), { $expr: { $not: [all] } }] } },
    { $unset: 'home' }
  ]
  return {
    hazards: [
      hazard('loses data', `those of ${own.name} that belong to no document of ${home.name} go with it`),
      hazard('cannot be undone', `the way back makes ${own.name} again of what ${home.name} holds then`)
    ],
    changed: {
      question: `Which documents of ${own.name} belong to none of ${home.name}?`,
      count: asked(own.name, [...stray, { $count: 'n' }]),
      rows: asked(own.name, stray)
    }
  }
}

export const mongodbDocuments: DocumentCarrier = { gather, spread, leftBehind }
