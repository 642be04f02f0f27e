// Fields as a validator says them, and back ("$jsonSchema", "JSON Schema": draft 4, with `bsonType` and without `$ref`, `format`
// and `integer`). What a field's row has no place for is kept with it as it was written, and written again.
import { sameValue, typeText, type Column, type DataType, type Options, type Table } from '../../catalog'
import { EACH, EVERY, holderOf, leafOf } from '../../catalog'
import { mongodbTypes } from './types'

export type Json = string | number | boolean | null | readonly Json[] | { readonly [key: string]: Json }
export type Schema = { readonly [key: string]: Json }

/** The options of a field that its values must keep to. */
export const BOUNDS = ['values', 'minimum', 'maximum', 'pattern'] as const

/** What a collection's validator says of its documents. */
export function schemaOf({ columns, comment, options = {} }: Pick<Table, 'columns' | 'comment' | 'options'>): Schema {
  const inside = new Map<string | undefined, Column[]>()
  for (const column of columns) {
    const holder = holderOf(column.name)
    const own = inside.get(holder)
    if (own) own.push(column)
    else inside.set(holder, [column])
  }
  return {
    bsonType: 'object',
    ...(comment === undefined ? {} : { description: comment }),
    ...fields(undefined, inside),
    ...parsed(options['schema'])
  }
}

type Inside = ReadonlyMap<string | undefined, readonly Column[]>

function fields(holder: string | undefined, inside: Inside): Schema {
  const own = inside.get(holder) ?? []
  const required = own.filter(({ nullable }) => !nullable).map(({ name }) => leafOf(name))
  return {
    // An empty list is refused.
    ...(required.length > 0 ? { required } : {}),
    ...(own.length > 0
      ? { properties: Object.fromEntries(own.map((column) => [leafOf(column.name), field(column, inside)])) }
      : {})
  }
}

function field(column: Column, inside: Inside): Schema {
  const { comment, options = {}, nullable } = column
  const value = valueOf(column.type, column, inside)
  const empty = (options['null'] ?? (nullable ? 'allowed' : 'refused')) === 'allowed'
  return {
    ...(empty ? orNull(value) : value),
    ...(comment === undefined ? {} : { description: comment }),
    ...parsed(options['more'])
  }
}

function valueOf(type: DataType, column: Column, inside: Inside): Schema {
  const { name, args = [] } = type
  const bounds = boundsOf(column.options)
  if (type.of) return { bsonType: 'array', items: valueOf(type.of, column, inside) }
  const [first = 'any', second] = args
  switch (name) {
    case 'object':
      return { bsonType: 'object', ...fields(column.name, inside) }
    case 'map':
      return { bsonType: 'object', additionalProperties: valueOf(mongodbTypes.read(first), column, inside) }
    case 'either': {
      const each = args.map((one) => valueOf(mongodbTypes.read(one), { ...column, options: {} }, inside))
      const types = each.flatMap((one) => (Object.keys(one).length === 1 ? (one['bsonType'] ?? []) : []))
      return { ...(types.length === each.length ? { bsonType: types as Json } : { anyOf: each }), ...bounds }
    }
    case 'any':
      return bounds
    case 'string':
      return {
        bsonType: 'string',
        ...(second === undefined ? {} : { minLength: Number(second) }),
        ...(args.length > 0 ? { maxLength: Number(first) } : {}),
        ...bounds
      }
    default:
      return { bsonType: name, ...bounds }
  }
}

const parsed = (text: string | undefined): Schema => (text === undefined ? {} : (JSON.parse(text) as Schema))

function boundsOf(options: Options = {}): Schema {
  const { values, minimum, maximum, pattern } = options
  return {
    ...(values === undefined ? {} : { enum: JSON.parse(values) as Json }),
    ...(minimum === undefined ? {} : { minimum: Number(minimum) }),
    ...(maximum === undefined ? {} : { maximum: Number(maximum) }),
    ...(pattern === undefined ? {} : { pattern })
  }
}

/** The same, or nothing. */
function orNull(value: Schema): Schema {
  const { bsonType, anyOf, enum: values } = value
  return {
    ...value,
    ...(bsonType === undefined ? {} : { bsonType: [...(Array.isArray(bsonType) ? bsonType : [bsonType]), 'null'] }),
    ...(Array.isArray(anyOf) ? { anyOf: [...anyOf, { bsonType: 'null' }] } : {}),
    ...(Array.isArray(values) ? { enum: [...values, null] } : {})
  }
}

/** The fields that a validator speaks of, and what is said of the documents besides. */
export function readSchema(schema: Schema): Pick<Table, 'columns' | 'comment' | 'options'> {
  const { bsonType, description, required, properties, ...more } = schema
  const columns = fieldsFrom(properties, required, '')
  const plain = typeof description === 'string' ? { comment: description } : {}
  const rest = bsonType === undefined || bsonType === 'object' ? more : { bsonType, ...more }
  const table = {
    columns,
    ...plain,
    ...(Object.keys(rest).length > 0 ? { options: { schema: JSON.stringify(rest) } } : {})
  }
  // What is written otherwise than it would be here stands as it is.
  const said = { ...(bsonType === undefined ? {} : { bsonType }), ...schemaOf(table) }
  return sameValue(said, { ...schema, bsonType: bsonType ?? 'object' })
    ? table
    : { columns: [], ...plain, options: { schema: JSON.stringify(schema) } }
}

function fieldsFrom(properties: Json | undefined, required: Json | undefined, prefix: string): Column[] {
  const names = Array.isArray(required) ? required : []
  return Object.entries(isSchema(properties) ? properties : {}).flatMap(([name, said]) =>
    fieldFrom(prefix + name, isSchema(said) ? said : {}, !names.includes(name))
  )
}

const isSchema = (value: Json | undefined): value is Schema =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** A field and those in it; one that would not be written so again is kept as it stands. */
function fieldFrom(name: string, schema: Schema, nullable: boolean): Column[] {
  const { description, ...value } = schema
  const comment = typeof description === 'string' ? { comment: description } : {}
  const { type, inner, options, empty } = typeFrom(value, name)
  const usual = empty === undefined || nullable === empty
  const own: Options = { ...options, ...(usual ? {} : { null: empty ? 'allowed' : 'refused' }) }
  const column: Column = { name, type, nullable, ...comment, ...(Object.keys(own).length > 0 ? { options: own } : {}) }
  const all = [column, ...inner]
  const again = schemaOf({ columns: atTop(all, name) }).properties
  if (isSchema(again) && sameValue(again[leafOf(name)], schema)) return all
  return [{ name, type: { name: 'any' }, nullable, options: { more: JSON.stringify(schema) } }]
}

const atTop = (columns: readonly Column[], name: string): Column[] =>
  columns.map((column) => ({ ...column, name: leafOf(name) + column.name.slice(name.length) }))

interface Found {
  readonly type: DataType
  readonly inner: readonly Column[]
  readonly options: Options
  /** It may be null; nothing is said where it may be anything. */
  readonly empty: boolean | undefined
}

function typeFrom(schema: Schema, path: string): Found {
  const { bsonType, items, properties, required, additionalProperties, minLength, maxLength, ...left } = schema
  const { enum: values, minimum, maximum, pattern, anyOf, ...more } = left
  const all = (Array.isArray(bsonType) ? bsonType : bsonType === undefined ? [] : [bsonType]) as readonly string[]
  const names = all.filter((name) => name !== 'null')
  const choices = Array.isArray(anyOf) ? (anyOf as readonly Schema[]) : []
  const isNull = (one: Schema) => one['bsonType'] === 'null'
  const listed = Array.isArray(values) ? values.includes(null) : undefined
  const empty = all.length > 0 ? all.includes('null') : choices.length > 0 ? choices.some(isNull) : listed
  const options: Record<string, string> = {
    ...(Array.isArray(values)
      ? { values: JSON.stringify(values.filter((one) => one !== null || empty !== true)) }
      : {}),
    ...(typeof minimum === 'number' ? { minimum: String(minimum) } : {}),
    ...(typeof maximum === 'number' ? { maximum: String(maximum) } : {}),
    ...(typeof pattern === 'string' ? { pattern } : {}),
    ...(Object.keys(more).length > 0 ? { more: JSON.stringify(more) } : {})
  }
  const found = (type: DataType, inner: readonly Column[] = []): Found => ({ type, inner, options, empty })
  const [only] = names
  if (names.length > 1) return found({ name: 'either', args: names })
  if (only === undefined) {
    const parts = choices.filter((one) => !isNull(one)).map((one) => typeFrom(one, path))
    if (parts.length < 2) return found({ name: 'any' })
    return found(
      { name: 'either', args: parts.map(({ type }) => typeText(type)) },
      parts.flatMap(({ inner }) => inner)
    )
  }
  if (only === 'array' && isSchema(items)) {
    const each = typeFrom(items, path + EACH)
    return {
      type: { name: 'array', of: each.type },
      inner: each.inner,
      options: { ...options, ...each.options },
      empty
    }
  }
  if (only === 'object' && isSchema(additionalProperties)) {
    const each = typeFrom(additionalProperties, path + EVERY)
    return {
      ...each,
      type: { name: 'map', args: [typeText(each.type)] },
      options: { ...options, ...each.options },
      empty
    }
  }
  if (only === 'object') return found({ name: 'object' }, fieldsFrom(properties, required, `${path}.`))
  if (only === 'string' && typeof maxLength === 'number')
    return found({
      name: 'string',
      args: [maxLength, ...(typeof minLength === 'number' ? [minLength] : [])].map(String)
    })
  return found({ name: only })
}
