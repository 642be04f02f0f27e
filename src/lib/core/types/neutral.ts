// The engine-neutral types, as people write them: `text(80)`, `decimal(12,2)`, `one of (bulk, tanker)`.
import * as v from 'valibot'
import { failed, ok, type Result } from '../notice'

const length = v.pipe(v.number(), v.integer(), v.minValue(1))

/** One value. Lengths are in characters (binary: bytes), precision in decimal digits. */
const plainTypes = [
  v.strictObject({ kind: v.literal('text'), length: v.optional(length) }),
  v.strictObject({ kind: v.literal('char'), length }),
  v.strictObject({ kind: v.picklist(['tiny', 'small', 'integer', 'big', 'float', 'double', 'boolean', 'date']) }),
  v.strictObject({ kind: v.picklist(['interval', 'uuid', 'json', 'xml']) }),
  v.strictObject({ kind: v.literal('object id') }),
  v.strictObject({
    kind: v.literal('decimal'),
    precision: length,
    scale: v.pipe(v.number(), v.integer(), v.minValue(0))
  }),
  v.strictObject({ kind: v.picklist(['time', 'timestamp']), zoned: v.optional(v.boolean()) }),
  v.strictObject({ kind: v.literal('binary'), length: v.optional(length) }),
  v.strictObject({
    kind: v.literal('oneOf'),
    values: v.pipe(
      v.array(v.string()),
      v.minLength(1),
      v.check((values) => new Set(values).size === values.length, 'a value stands twice in the list')
    )
  }),
  v.strictObject({ kind: v.literal('native'), text: v.pipe(v.string(), v.minLength(1)) })
] as const
const PlainTypeSchema = v.variant('kind', plainTypes)
/** What one column of any engine can hold. */
export type PlainType = v.InferOutput<typeof PlainTypeSchema>

/** What a column of a table holds: an object's id is text there. */
export type StoredType = Exclude<PlainType, { kind: 'object id' }>

/** A type: of one value, or of what holds others. */
export type NeutralType =
  | PlainType
  /** What it holds is said by the fields of the column. */
  | { readonly kind: 'object' }
  | { readonly kind: 'list'; readonly of: NeutralType }
  /** Values by keys, which are of a plain type. */
  | { readonly kind: 'map'; readonly key: PlainType; readonly of: NeutralType }
  /** Each value is of one of these. */
  | { readonly kind: 'either'; readonly of: readonly NeutralType[] }

const inner: v.GenericSchema<NeutralType> = v.lazy(() => NeutralTypeSchema)

/** The stored shape of a neutral type. */
export const NeutralTypeSchema: v.GenericSchema<NeutralType> = v.variant('kind', [
  ...plainTypes,
  v.strictObject({ kind: v.literal('object') }),
  v.strictObject({ kind: v.literal('list'), of: inner }),
  v.strictObject({ kind: v.literal('map'), key: PlainTypeSchema, of: inner }),
  v.strictObject({ kind: v.literal('either'), of: v.pipe(v.array(inner), v.minLength(2)) })
])

/** A type, and those of what it holds. */
export function typesIn(type: NeutralType): NeutralType[] {
  if (type.kind === 'list') return [type, ...typesIn(type.of)]
  if (type.kind === 'map') return [type, type.key, ...typesIn(type.of)]
  return type.kind === 'either' ? [type, ...type.of.flatMap(typesIn)] : [type]
}

/** Whether its values have fields, somewhere within. */
export const holdsFields = (type: NeutralType): boolean =>
  type.kind === 'object' || (!isPlain(type) && typesIn(type).some(({ kind }) => kind === 'object'))

export const isPlain = (type: NeutralType): type is PlainType =>
  type.kind !== 'object' && type.kind !== 'list' && type.kind !== 'map' && type.kind !== 'either'

/** The same where an engine holds one value in a column: a document for what holds others, text for an object's id. */
export const flatType = (type: NeutralType): StoredType =>
  !isPlain(type) ? { kind: 'json' } : type.kind === 'object id' ? OBJECT_ID : type

/** 24 hexadecimal digits (BSON specification 1.1, "ObjectId": 12 bytes). */
const OBJECT_ID: StoredType = { kind: 'char', length: 24 }

const plainKinds = [
  'tiny',
  'small',
  'integer',
  'big',
  'float',
  'double',
  'boolean',
  'date',
  'interval',
  'uuid',
  'json',
  'xml'
] as const
type PlainKind = (typeof plainKinds)[number]

const isPlainKind = (word: string): word is PlainKind => (plainKinds as readonly string[]).includes(word)

/** Whether its values are numbers. */
export const isNumber = ({ kind }: NeutralType): boolean =>
  ['tiny', 'small', 'integer', 'big', 'decimal', 'float', 'double'].includes(kind)

/** Prints a neutral type as a person writes it. `parseType(printType(t))` is `t`. */
export function printType(type: NeutralType): string {
  switch (type.kind) {
    case 'text':
    case 'binary':
      return type.length === undefined ? type.kind : `${type.kind}(${type.length})`
    case 'char':
      return `char(${type.length})`
    case 'decimal':
      return `decimal(${type.precision},${type.scale})`
    case 'time':
    case 'timestamp':
      return type.zoned ? `${type.kind} with zone` : type.kind
    case 'oneOf':
      return `one of (${type.values.map(printValue).join(', ')})`
    case 'native':
      return `native "${type.text.replaceAll('"', '""')}"`
    case 'list':
      return `list of ${grouped(type.of)}`
    case 'map':
      return `map of ${printType(type.key)} to ${grouped(type.of)}`
    case 'either':
      return type.of.map(grouped).join(' or ')
    default:
      return type.kind
  }
}

/** Of several, each stands for itself in parentheses. */
const grouped = (type: NeutralType): string => (type.kind === 'either' ? `(${printType(type)})` : printType(type))

const printValue = (value: string) =>
  /^[\p{L}\p{N}_][\p{L}\p{N}_ .-]*$/u.test(value) && value === value.trim() ? value : `"${value.replaceAll('"', '""')}"`

/** Reads a neutral type. Errors (`type-unknown`, `type-argument`) say what was expected. */
export function parseType(text: string): Result<NeutralType> {
  return parseWithin(text, 0)
}

/** More than anybody means. */
const DEEPEST = 20

function parseWithin(text: string, depth: number): Result<NeutralType> {
  const source = text.trim()
  if (depth > DEEPEST) return failed('type-argument', `“${source}” holds more within each other than anybody can read.`)
  const either = alternatives(source)
  if (either.length > 1) {
    const of: NeutralType[] = []
    for (const one of either) {
      const read = parseWithin(one, depth + 1)
      if (!read.ok) return read
      of.push(read.value)
    }
    return ok({ kind: 'either', of })
  }
  const group = isOneGroup(source) ? /^\(([\s\S]*)\)$/.exec(source) : null
  if (group) return parseWithin(group[1] ?? '', depth + 1)
  const list = /^list\s+of\s+([\s\S]+)$/i.exec(source)
  if (list) {
    const of = parseWithin(list[1] ?? '', depth + 1)
    return of.ok ? ok({ kind: 'list', of: of.value }) : of
  }
  const map = /^map\s+of\s+([\s\S]+?)\s+to\s+([\s\S]+)$/i.exec(source)
  if (map) {
    const [key, of] = [parseWithin(map[1] ?? '', depth + 1), parseWithin(map[2] ?? '', depth + 1)]
    if (!key.ok) return key
    if (!of.ok) return of
    if (!isPlain(key.value)) return failed('type-argument', `“${source}”: the keys of a map are of a plain type.`)
    return ok({ kind: 'map', key: key.value, of: of.value })
  }
  if (/^object$/i.test(source)) return ok({ kind: 'object' })
  if (/^object\s+id$/i.test(source)) return ok({ kind: 'object id' })
  const oneOf = /^one\s+of\s*\(([\s\S]*)\)$/i.exec(source)
  if (oneOf && isOneGroup(source.slice(source.indexOf('(')))) return parseOneOf(oneOf[1] ?? '')
  const native = /^native\s+"((?:[^"]|"")+)"$/i.exec(source)
  if (native) return ok({ kind: 'native', text: (native[1] ?? '').replaceAll('""', '"') })

  const match = /^([a-z]+)\s*(?:\(\s*([^)]*?)\s*\))?\s*(with\s+zone)?$/i.exec(source)
  const word = match?.[1]?.toLowerCase()
  if (!match || word === undefined) return unknown(source)
  const args = match[2] === undefined ? [] : match[2].split(/\s*,\s*/).map(Number)
  const zoned = match[3] !== undefined
  if (args.some((n) => !Number.isInteger(n) || n < 0))
    return failed('type-argument', `“${source}”: the numbers in parentheses must be whole.`)
  if (zoned && word !== 'time' && word !== 'timestamp') return unknown(source)

  const [first, second] = args
  switch (word) {
    case 'text':
    case 'binary':
      if (args.length > 1 || first === 0)
        return failed('type-argument', `“${source}”: ${word} takes one length, from 1.`)
      return ok(first === undefined ? { kind: word } : { kind: word, length: first })
    case 'char':
      if (args.length !== 1 || !first)
        return failed('type-argument', `“${source}”: char needs a length, as in char(2).`)
      return ok({ kind: 'char', length: first })
    case 'decimal': {
      if (!first || args.length > 2)
        return failed('type-argument', `“${source}”: decimal needs digits in all and after the point: decimal(12,2).`)
      const scale = second ?? 0
      if (scale > first)
        return failed('type-argument', `“${source}”: ${scale} digits after the point do not fit into ${first} in all.`)
      return ok({ kind: 'decimal', precision: first, scale })
    }
    case 'time':
    case 'timestamp':
      if (args.length) return failed('type-argument', `“${source}”: ${word} takes nothing in parentheses.`)
      return ok(zoned ? { kind: word, zoned } : { kind: word })
    default:
      if (!isPlainKind(word)) return unknown(source)
      if (args.length) return failed('type-argument', `“${source}”: ${word} takes nothing in parentheses.`)
      return ok({ kind: word })
  }
}

/** It is in parentheses as a whole: the first is closed by the last. */
function isOneGroup(source: string): boolean {
  if (!source.startsWith('(')) return false
  let depth = 0
  let quoted = false
  for (let i = 0; i < source.length; i++) {
    const character = source[i]
    if (character === '"') quoted = !quoted
    else if (quoted) continue
    else if (character === '(') depth += 1
    else if (character === ')' && --depth === 0) return i === source.length - 1
  }
  return false
}

/** What stands between the `or`s that are outside of quotes and parentheses. */
function alternatives(source: string): string[] {
  if (!/\sor\s/i.test(source)) return [source]
  const found = ['']
  let depth = 0
  for (const [piece] of source.matchAll(/"(?:[^"]|"")*"?|\s+or\s+|[()]|[^"()\s]+|\s+/gi)) {
    if (piece === '(') depth += 1
    else if (piece === ')') depth -= 1
    if (depth === 0 && /^\s+or\s+$/i.test(piece)) found.push('')
    else found[found.length - 1] += piece
  }
  return found
}

function parseOneOf(list: string): Result<NeutralType> {
  const values: string[] = []
  let rest = list.trim()
  while (rest !== '') {
    const item = /^(?:"((?:[^"]|"")*)"|([^",]+))\s*(?:,\s*|$)/.exec(rest)
    if (!item) return failed('type-argument', `The list of allowed values is not well formed at “${rest}”.`)
    values.push(item[1] === undefined ? (item[2] ?? '').trim() : item[1].replaceAll('""', '"'))
    rest = rest.slice(item[0].length)
  }
  if (values.length === 0) return failed('type-argument', 'A list of allowed values needs at least one value.')
  if (new Set(values).size < values.length)
    return failed('type-argument', 'The list of allowed values names a value twice.')
  return ok({ kind: 'oneOf', values })
}

const unknown = (source: string) =>
  failed('type-unknown', `“${source}” is no type. Types are text, char(n), integer, decimal(p,s), date, timestamp …`)

/** The types offered by pickers, in the order people look for them, with what each is for. */
export const TYPE_CHOICES: readonly { readonly type: NeutralType; readonly use: string }[] = [
  { type: { kind: 'text', length: 100 }, use: 'words up to a length' },
  { type: { kind: 'text' }, use: 'words of any length' },
  { type: { kind: 'char', length: 2 }, use: 'codes of one fixed length' },
  { type: { kind: 'integer' }, use: 'whole numbers' },
  { type: { kind: 'tiny' }, use: 'very small whole numbers' },
  { type: { kind: 'small' }, use: 'small whole numbers' },
  { type: { kind: 'big' }, use: 'very large whole numbers' },
  { type: { kind: 'decimal', precision: 12, scale: 2 }, use: 'exact numbers, money' },
  { type: { kind: 'float' }, use: 'measured numbers, 6 digits' },
  { type: { kind: 'double' }, use: 'measured numbers, 15 digits' },
  { type: { kind: 'boolean' }, use: 'yes or no' },
  { type: { kind: 'date' }, use: 'a day' },
  { type: { kind: 'time' }, use: 'a time of day' },
  { type: { kind: 'timestamp' }, use: 'a day and time, as the clock on the wall' },
  { type: { kind: 'timestamp', zoned: true }, use: 'a moment, the same everywhere' },
  { type: { kind: 'interval' }, use: 'a length of time' },
  { type: { kind: 'uuid' }, use: 'a universal identifier' },
  { type: { kind: 'binary' }, use: 'bytes' },
  { type: { kind: 'json' }, use: 'a document' },
  { type: { kind: 'xml' }, use: 'an XML document' },
  { type: { kind: 'object' }, use: 'fields of its own' },
  { type: { kind: 'list', of: { kind: 'object' } }, use: 'many, each with fields of its own' },
  { type: { kind: 'list', of: { kind: 'text', length: 100 } }, use: 'many values' },
  { type: { kind: 'map', key: { kind: 'text' }, of: { kind: 'text' } }, use: 'values by key' },
  { type: { kind: 'object id' }, use: 'the id of a document' }
]
