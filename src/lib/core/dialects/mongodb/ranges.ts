// What changes many documents, carried out range by range of their ids. Ids of every type come in one order and never change
// ("Comparison/Sort Order", "The _id Field"): who goes through them meets each once, whatever becomes of its document.
import type { InRanges } from '../dialect'
import { commandIn, statementOf, type Command } from './commands'
import type { Json } from './schema'
import { ROW_ID } from './settle'

/** Documents of one range. */
const SIZE = 1000

/** Stages that take each document by itself: what they do to all is what they do to the ranges, one after the other. */
const ONE_BY_ONE: readonly string[] = ['$match', '$unwind', '$replaceWith', '$set', '$unset', '$project', '$merge']

/** Where a range ends, as it is written down: extended JSON. Ids of other types than these are left in one range. */
const ENDS: Readonly<Record<string, (value: unknown) => Json | undefined>> = {
  int: (value) => Number(value),
  long: (value) => Number(value),
  double: (value) => Number(value),
  string: (value) => String(value),
  objectId: (value) => ({ $oid: /[0-9a-f]{24}/.exec(String(value))?.[0] ?? '' })
}

interface Documents {
  readonly collection: string
  readonly filter: Command
  /** The statement for those that meet a condition. */
  readonly narrowed: (filter: Json) => Command
}

function documentsOf(command: Command): Documents | undefined {
  const { update, aggregate, updates, pipeline } = command
  if (typeof update === 'string' && Array.isArray(updates) && updates.length === 1) {
    const [one] = updates as readonly Command[]
    if (one?.['multi'] !== true) return undefined
    const filter = (one['q'] ?? {}) as Command
    return { collection: update, filter, narrowed: (q) => ({ ...command, updates: [{ ...one, q }] }) }
  }
  const stages = Array.isArray(pipeline) ? (pipeline as readonly Command[]) : []
  const names = stages.map((stage) => Object.keys(stage).join())
  if (typeof aggregate !== 'string' || names.at(-1) !== '$merge' || !names.every((name) => ONE_BY_ONE.includes(name)))
    return undefined
  const filter = names[0] === '$match' ? ((stages[0]?.['$match'] ?? {}) as Command) : {}
  const rest = names[0] === '$match' ? stages.slice(1) : stages
  return {
    collection: aggregate,
    filter,
    narrowed: ($match) => ({ ...command, pipeline: [{ $match }, ...rest] })
  }
}

/** "$expr": unlike a query's own comparisons, it takes ids of every type. */
const compared = (operator: '$gt' | '$lte', end: string | undefined): Json[] =>
  end === undefined ? [] : [{ $expr: { [operator]: [`$${ROW_ID}`, { $literal: JSON.parse(end) as Json }] } }]

const all = (conditions: readonly Json[]): Json =>
  conditions.length === 1 ? (conditions[0] ?? {}) : { $and: conditions }

/** How a statement is carried out range by range; nothing where it is one whole. */
export function inRanges(statement: string, size = SIZE): InRanges | undefined {
  const command = commandIn(statement)
  const documents = command && documentsOf(command)
  if (!documents) return undefined
  const { collection, filter, narrowed } = documents
  return {
    end: (after) =>
      statementOf({
        aggregate: collection,
        pipeline: [
          { $match: all([filter, ...compared('$gt', after)]) },
          { $sort: { [ROW_ID]: 1 } },
          { $skip: size - 1 },
          { $limit: 1 },
          { $project: { [ROW_ID]: 0, id: `$${ROW_ID}`, type: { $type: `$${ROW_ID}` } } }
        ],
        cursor: {}
      }),
    endIn: ([id, type]) => {
      const end = ENDS[String(type)]?.(id)
      return end === undefined ? undefined : JSON.stringify(end)
    },
    within: (after, upTo) => statementOf(narrowed(all([filter, ...compared('$gt', after), ...compared('$lte', upTo)])))
  }
}
