// Whether a document meets a validator ("$jsonSchema", "JSON Schema": JSON Schema draft 4, with `bsonType`, without `$ref`,
// `$schema`, `default`, `definitions`, `format` and `id`, and without the type `integer`).
import type { Document } from 'bson'

/** Where and why a value does not fit; nothing where it does. */
export interface Misfit {
  /** Dotted, with places in lists; empty for the document itself. */
  readonly path: string
  readonly why: string
}

type Schema = Readonly<Record<string, unknown>>

/** What a keyword asks, of a value that is there. */
type Rule = (value: unknown, said: unknown, schema: Schema, path: string) => Misfit | undefined

const isSchema = (value: unknown): value is Schema =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
const at = (path: string, name: string | number) => (path === '' ? String(name) : `${path}.${name}`)

/**
 * All names that a value's type goes by. Numbers are kept as JavaScript has them: a whole one is an int, a long and a double alike,
 * unless its class says otherwise.
 */
export function typesOf(value: unknown): readonly string[] {
  if (value === null || value === undefined) return ['null']
  if (Array.isArray(value)) return ['array']
  switch (typeof value) {
    case 'string':
      return ['string']
    case 'boolean':
      return ['bool']
    case 'bigint':
      return ['long', 'number']
    case 'number': {
      const whole = Number.isInteger(value)
      const small = whole && Math.abs(value) <= 0x7fffffff
      return [...(small ? ['int'] : []), ...(whole ? ['long'] : []), 'double', 'decimal', 'number']
    }
    default:
  }
  if (value instanceof Date) return ['date']
  if (value instanceof RegExp) return ['regex']
  const kind = (value as { readonly _bsontype?: string })._bsontype
  return kind === undefined ? ['object'] : (BSON[kind] ?? [kind])
}
const BSON: Readonly<Record<string, readonly string[]>> = {
  ObjectId: ['objectId'],
  Binary: ['binData'],
  UUID: ['binData'],
  Timestamp: ['timestamp'],
  Decimal128: ['decimal', 'number'],
  Long: ['long', 'number'],
  Int32: ['int', 'number'],
  Double: ['double', 'number'],
  BSONRegExp: ['regex'],
  Code: ['javascript'],
  MinKey: ['minKey'],
  MaxKey: ['maxKey']
}
/** JSON Schema's own names for them. */
const PLAIN: Readonly<Record<string, string>> = { boolean: 'bool' }

const list = (said: unknown): readonly unknown[] => (Array.isArray(said) ? said : [said])
const ofType = (value: unknown, said: unknown) =>
  list(said).some((name) => typesOf(value).includes(PLAIN[String(name)] ?? String(name)))
const isObject = (value: unknown): value is Document => typesOf(value)[0] === 'object'
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

const typed: Rule = (value, said, _, path) =>
  ofType(value, said) ? undefined : { path, why: `is of type ${typesOf(value)[0]}, and not ${list(said).join(' or ')}` }
const number =
  (test: (value: number, said: number, schema: Schema) => boolean, why: (said: unknown) => string): Rule =>
  (value, said, schema, path) =>
    !ofType(value, 'number') || test(Number(String(value)), Number(said), schema) ? undefined : { path, why: why(said) }
const text =
  (test: (value: string, said: unknown) => boolean, why: (said: unknown) => string): Rule =>
  (value, said, _, path) =>
    typeof value !== 'string' || test(value, said) ? undefined : { path, why: why(said) }
const many =
  (test: (value: readonly unknown[], said: unknown) => boolean, why: (said: unknown) => string): Rule =>
  (value, said, _, path) =>
    !Array.isArray(value) || test(value, said) ? undefined : { path, why: why(said) }
const keys =
  (test: (count: number, said: number) => boolean, why: (said: unknown) => string): Rule =>
  (value, said, _, path) =>
    !isObject(value) || test(Object.keys(value).length, Number(said)) ? undefined : { path, why: why(said) }
const firstOf = <T>(items: readonly T[], test: (item: T, i: number) => Misfit | undefined): Misfit | undefined => {
  for (const [i, item] of items.entries()) {
    const found = test(item, i)
    if (found) return found
  }
  return undefined
}
const count = (value: string) => [...value].length
const none: Rule = () => undefined

const RULES: Readonly<Record<string, Rule>> = {
  bsonType: typed,
  type: typed,
  enum: (value, said, _, path) =>
    list(said).some((one) => same(one, value)) ? undefined : { path, why: `is none of ${JSON.stringify(said)}` },
  minimum: number(
    (value, least, { exclusiveMinimum }) => (exclusiveMinimum === true ? value > least : value >= least),
    (said) => `is less than ${String(said)}`
  ),
  maximum: number(
    (value, most, { exclusiveMaximum }) => (exclusiveMaximum === true ? value < most : value <= most),
    (said) => `is greater than ${String(said)}`
  ),
  multipleOf: number(
    (value, of) => Number.isInteger(value / of),
    (said) => `is no multiple of ${String(said)}`
  ),
  pattern: text(
    (value, said) => new RegExp(String(said), 'u').test(value),
    (said) => `does not look like ${String(said)}`
  ),
  minLength: text(
    (value, said) => count(value) >= Number(said),
    (said) => `has fewer than ${String(said)} characters`
  ),
  maxLength: text(
    (value, said) => count(value) <= Number(said),
    (said) => `has more than ${String(said)} characters`
  ),
  minItems: many(
    (value, said) => value.length >= Number(said),
    (said) => `has fewer than ${String(said)} items`
  ),
  maxItems: many(
    (value, said) => value.length <= Number(said),
    (said) => `has more than ${String(said)} items`
  ),
  uniqueItems: many(
    (value, said) => said !== true || new Set(value.map((one) => JSON.stringify(one))).size === value.length,
    () => 'has an item twice'
  ),
  items: (value, said, { additionalItems }, path) => {
    if (!Array.isArray(value)) return undefined
    if (!Array.isArray(said)) return firstOf(value, (item, i) => misfit(item, said, at(path, i)))
    return firstOf(value, (item, i) => {
      if (i < said.length) return misfit(item, said[i], at(path, i))
      if (additionalItems === false) return { path, why: `has more than ${said.length} items` }
      return misfit(item, additionalItems, at(path, i))
    })
  },
  minProperties: keys(
    (has, said) => has >= said,
    (said) => `has fewer than ${String(said)} fields`
  ),
  maxProperties: keys(
    (has, said) => has <= said,
    (said) => `has more than ${String(said)} fields`
  ),
  required: (value, said, _, path) =>
    isObject(value)
      ? firstOf(list(said), (name) =>
          value[String(name)] === undefined ? { path: at(path, String(name)), why: 'is not there' } : undefined
        )
      : undefined,
  properties: (value, said, _, path) =>
    isObject(value) && isSchema(said)
      ? firstOf(Object.entries(said), ([name, schema]) =>
          value[name] === undefined ? undefined : misfit(value[name], schema, at(path, name))
        )
      : undefined,
  patternProperties: (value, said, _, path) =>
    isObject(value) && isSchema(said)
      ? firstOf(Object.entries(said), ([pattern, schema]) =>
          firstOf(
            Object.keys(value).filter((name) => new RegExp(pattern, 'u').test(name)),
            (name) => misfit(value[name], schema, at(path, name))
          )
        )
      : undefined,
  additionalProperties: (value, said, schema, path) => {
    if (!isObject(value) || said === true) return undefined
    const known = Object.keys(isSchema(schema['properties']) ? schema['properties'] : {})
    const patterns = Object.keys(isSchema(schema['patternProperties']) ? schema['patternProperties'] : {})
    const others = Object.keys(value).filter(
      (name) => !known.includes(name) && !patterns.some((pattern) => new RegExp(pattern, 'u').test(name))
    )
    return firstOf(others, (name) =>
      said === false ? { path: at(path, name), why: 'is not known' } : misfit(value[name], said, at(path, name))
    )
  },
  dependencies: (value, said, _, path) =>
    isObject(value) && isSchema(said)
      ? firstOf(Object.entries(said), ([name, needs]) => {
          if (value[name] === undefined) return undefined
          if (!Array.isArray(needs)) return misfit(value, needs, path)
          return firstOf(needs, (other) =>
            value[String(other)] === undefined
              ? { path: at(path, String(other)), why: `is not there, but ${name} is` }
              : undefined
          )
        })
      : undefined,
  allOf: (value, said, _, path) => firstOf(list(said), (one) => misfit(value, one, path)),
  anyOf: (value, said, _, path) =>
    list(said).some((one) => !misfit(value, one, path)) ? undefined : { path, why: 'fits none of what it may be' },
  oneOf: (value, said, _, path) =>
    list(said).filter((one) => !misfit(value, one, path)).length === 1
      ? undefined
      : { path, why: 'does not fit just one of what it may be' },
  not: (value, said, _, path) => (misfit(value, said, path) ? undefined : { path, why: 'is what it may not be' }),
  description: none,
  title: none,
  exclusiveMinimum: none,
  exclusiveMaximum: none,
  additionalItems: none
}

/** The first thing of a value that does not fit. */
export function misfit(value: unknown, schema: unknown, path = ''): Misfit | undefined {
  if (!isSchema(schema)) return undefined
  return firstOf(Object.entries(schema), ([keyword, said]) => RULES[keyword]?.(value, said, schema, path))
}

/** The first keyword in a schema that MongoDB does not know, however deep; such a validator is refused. */
export function unknownKeyword(schema: unknown): string | undefined {
  if (!isSchema(schema)) return undefined
  for (const [keyword, said] of Object.entries(schema)) {
    if (!RULES[keyword]) return keyword
    const named = ['properties', 'patternProperties', 'dependencies'].includes(keyword)
    const within = named && isSchema(said) ? Object.values(said) : keyword === 'enum' ? [] : list(said)
    for (const one of within) {
      const found = unknownKeyword(one)
      if (found !== undefined) return found
    }
  }
  return undefined
}
