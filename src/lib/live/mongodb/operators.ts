// What pipelines may say that the package for them does not know: values of the engine's own.
import { calculateObjectSize, ObjectId, type Document } from 'bson'
import { Aggregator } from 'mingo/aggregator'
import { Context, evalExpr } from 'mingo/core'
import * as accumulator from 'mingo/operators/accumulator'
import * as expression from 'mingo/operators/expression'
import * as pipeline from 'mingo/operators/pipeline'
import * as projection from 'mingo/operators/projection'
import * as query from 'mingo/operators/query'
import * as window from 'mingo/operators/window'
import { Query } from 'mingo/query'
import type { Options } from 'mingo/types'
import { compare } from 'mingo/util'
import { Refused } from '../refused'

type Work = (document: unknown, expression: unknown, options: Options) => unknown

/** "$toObjectId": of 24 hexadecimal digits. */
function objectIdOf(value: unknown): unknown {
  if (value === null || value === undefined) return null
  if (value instanceof ObjectId) return value
  const text = String(value)
  if (!/^[0-9a-f]{24}$/i.test(text)) throw new Refused(`Failed to parse objectId '${text}' in $convert`, 241)
  return new ObjectId(text)
}

/** "$gt (aggregation)" and its like: of values of different types, which is the greater is said by their types. */
const byOrder =
  (isMeant: (order: number) => boolean): Work =>
  (document, expression, options) => {
    const [a, b] = evalExpr(document as never, expression as never, options) as unknown[]
    return isMeant(compare(a as never, b as never))
  }

const EXPRESSIONS: Readonly<Record<string, Work>> = {
  $toObjectId: (document, expression, options) => objectIdOf(evalExpr(document as never, expression as never, options)),
  $gt: byOrder((order) => order > 0),
  $gte: byOrder((order) => order >= 0),
  $lt: byOrder((order) => order < 0),
  $lte: byOrder((order) => order <= 0),
  // "$bsonSize": in bytes.
  $bsonSize: (document, expression, options) =>
    calculateObjectSize(evalExpr(document as never, expression as never, options) as Document)
}

/** Of one name, the package's own take what comes from outside for less: so all are named here. */
const OPERATORS = {
  context: Context.init({
    accumulator,
    expression: { ...expression, ...EXPRESSIONS } as never,
    pipeline,
    projection,
    query,
    window
  })
}

/** What stages make of documents, which they may change in place. */
export const piped = (
  documents: readonly Document[],
  stages: readonly Document[],
  options: Partial<Pick<Options, 'collectionResolver' | 'variables'>> = {}
): Document[] => new Aggregator([...stages], { ...OPERATORS, ...options }).run([...documents]) as Document[]

/** Whether a document meets conditions of the package's own. */
export const tested = (conditions: Document): ((document: Document) => boolean) => {
  const all = new Query(conditions, OPERATORS)
  return (document) => all.test(document)
}
