// What pipelines may say that the package for them does not know: values of the engine's own.
import { calculateObjectSize, ObjectId, type Document } from 'bson'
import { Context } from 'mingo'
import { evalExpr } from 'mingo/core'
import type { Options } from 'mingo/types'
import { Refused } from './store'

type Work = (document: unknown, expression: unknown, options: Options) => unknown

/** "$toObjectId": of 24 hexadecimal digits. */
function objectIdOf(value: unknown): unknown {
  if (value === null || value === undefined) return null
  if (value instanceof ObjectId) return value
  const text = String(value)
  if (!/^[0-9a-f]{24}$/i.test(text)) throw new Refused(`Failed to parse objectId '${text}' in $convert`, 241)
  return new ObjectId(text)
}

const EXPRESSIONS: Readonly<Record<string, Work>> = {
  $toObjectId: (document, expression, options) => objectIdOf(evalExpr(document as never, expression as never, options)),
  // "$bsonSize": in bytes.
  $bsonSize: (document, expression, options) =>
    calculateObjectSize(evalExpr(document as never, expression as never, options) as Document)
}

export const OPERATORS = { context: Context.init({ expression: EXPRESSIONS as never }) }
