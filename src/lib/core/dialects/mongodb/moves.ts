// What becomes of the values when fields change: updates of all documents by a pipeline ("Updates with Aggregation Pipeline"). They
// pass by the validator ("bypassDocumentValidation"), which is told before or after them what it should let in.
import type { Command } from './commands'
import { beside, dotted, EACH, EVERY, leafOf } from '../../catalog'
import type { Json } from './schema'
import { ROW_ID } from './settle'

/** An expression with something done to each object that fields are in: in lists, to each of them. */
function within(
  holder: string | undefined,
  change: (object: Json) => Json
): { readonly field: string; readonly value: Json } | undefined {
  if (holder === undefined) return undefined
  const steps = holder.split('.')
  const [first = '', ...deeper] = steps
  const top = first.replace(/(\[\]|\{\})+$/, '')
  const into = (object: Json, marks: string, rest: readonly string[], depth: number): Json => {
    if (marks.startsWith(EACH)) {
      const name = `each${depth}`
      const mapped = {
        $map: { input: object, as: name, in: into(`$$${name}`, marks.slice(EACH.length), rest, depth + 1) }
      }
      return { $cond: [{ $isArray: [object] }, mapped, object] }
    }
    if (marks.startsWith(EVERY)) {
      const name = `each${depth}`
      const inner = into(`$$${name}.v`, marks.slice(EVERY.length), rest, depth + 1)
      const pairs = { $map: { input: { $objectToArray: object }, as: name, in: { k: `$$${name}.k`, v: inner } } }
      return { $cond: [{ $eq: [{ $type: object }, 'object'] }, { $arrayToObject: pairs }, object] }
    }
    const [next, ...others] = rest
    if (next === undefined) return { $cond: [{ $eq: [{ $type: object }, 'object'] }, change(object), object] }
    const name = next.replace(/(\[\]|\{\})+$/, '')
    const inner: Json = { $getField: { field: { $literal: name }, input: object } }
    const value = into(inner, next.slice(name.length), others, depth)
    const set: Json = { $setField: { field: { $literal: name }, input: object, value } }
    return { $cond: [{ $eq: [{ $type: inner }, 'missing'] }, object, set] }
  }
  return { field: top, value: into(`$${top}`, first.slice(top.length), deeper, 0) }
}

const update = (collection: string, filter: Command, pipeline: Json): Command => ({
  update: collection,
  updates: [{ q: filter, u: pipeline, multi: true }],
  bypassDocumentValidation: true
})

/** Documents that may have it: the keys of a map nobody can name. */
const present = (path: string): Command => ({ [dotted(path.split(EVERY, 1).join())]: { $exists: true } })

/** Marks that hold on to the end of the path are of the holder as its values are reached. */
const holderWithMarks = (path: string): string | undefined => {
  const at = path.lastIndexOf('.')
  return at < 0 ? undefined : path.slice(0, at)
}

/** A field gets another name, or another place; nothing where a list or a map is between the two. */
export function moveField(collection: string, from: string, to: string): Command | undefined {
  const [old, now] = [leafOf(from), leafOf(to)]
  // "The _id Field": it never changes; it can be said once more.
  if (to === ROW_ID) return undefined
  if (from === ROW_ID) return update(collection, present(from), [{ $set: { [to]: `$${from}` } }])
  // "$rename": it does not reach into lists.
  if (!/[\]}]/.test(from + to)) return update(collection, present(from), { $rename: { [from]: to } })
  const move = beside(from, now) === to ? within(holderWithMarks(from), renaming) : undefined
  return move && update(collection, present(from), [{ $set: { [move.field]: move.value } }])

  function renaming(object: Json): Json {
    const value: Json = { $getField: { field: { $literal: old }, input: object } }
    const moved: Json = {
      $setField: {
        field: { $literal: now },
        input: { $unsetField: { field: { $literal: old }, input: object } },
        value
      }
    }
    return { $cond: [{ $eq: [{ $type: value }, 'missing'] }, object, moved] }
  }
}

/** A field goes, and all that it holds. */
export function removeField(collection: string, path: string): Command {
  const move = within(holderWithMarks(path), (object) => ({
    $unsetField: { field: { $literal: leafOf(path) }, input: object }
  }))
  if (!move) return update(collection, present(path), { $unset: { [path]: '' } })
  return update(collection, present(path), [{ $set: { [move.field]: move.value } }])
}

/** "$convert": a value that does not become one of the type stays what it is. */
export function convertField(collection: string, path: string, to: string): Command {
  const converted = (value: Json): Json => ({ $convert: { input: value, to, onError: value, onNull: null } })
  const move = within(holderWithMarks(path), (object) => {
    const value: Json = { $getField: { field: { $literal: leafOf(path) }, input: object } }
    const set: Json = { $setField: { field: { $literal: leafOf(path) }, input: object, value: converted(value) } }
    return { $cond: [{ $eq: [{ $type: value }, 'missing'] }, object, set] }
  })
  if (!move) return update(collection, present(path), [{ $set: { [path]: converted(`$${path}`) } }])
  return update(collection, present(path), [{ $set: { [move.field]: move.value } }])
}

/** What lacks a field gets a value, by an expression. */
export function fillField(collection: string, path: string, value: Json): Command {
  const move = within(holderWithMarks(path), (object) => {
    const field: Json = { $literal: leafOf(path) }
    const set: Json = { $setField: { field, input: object, value } }
    return { $cond: [{ $eq: [{ $type: { $getField: { field, input: object } } }, 'missing'] }, set, object] }
  })
  if (!move) return update(collection, { [path]: { $exists: false } }, [{ $set: { [path]: value } }])
  return update(collection, { [dotted(move.field)]: { $exists: true } }, [{ $set: { [move.field]: move.value } }])
}

/** How many documents meet a condition, and which. */
export const counted = (collection: string, match: Command): { readonly count: string; readonly rows: string } => ({
  count: JSON.stringify({ count: collection, query: match }),
  rows: JSON.stringify({ find: collection, filter: match, limit: 1000 })
})
