// The engine-neutral types, as people write them: `text(80)`, `decimal(12,2)`, `one of (bulk, tanker)`.
import * as v from 'valibot'
import { failed, ok, type Result } from '../notice'

const length = v.pipe(v.number(), v.integer(), v.minValue(1))

/** The stored shape of a neutral type. Lengths are in characters (binary: bytes), precision in decimal digits. */
export const NeutralTypeSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('text'), length: v.optional(length) }),
  v.strictObject({ kind: v.literal('char'), length }),
  v.strictObject({ kind: v.picklist(['tiny', 'small', 'integer', 'big', 'float', 'double', 'boolean', 'date']) }),
  v.strictObject({ kind: v.picklist(['interval', 'uuid', 'json', 'xml']) }),
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
])
export type NeutralType = v.InferOutput<typeof NeutralTypeSchema>

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

const isPlain = (word: string): word is PlainKind => (plainKinds as readonly string[]).includes(word)

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
    default:
      return type.kind
  }
}

const printValue = (value: string) =>
  /^[\p{L}\p{N}_][\p{L}\p{N}_ .-]*$/u.test(value) && value === value.trim() ? value : `"${value.replaceAll('"', '""')}"`

/** Reads a neutral type. Errors (`type-unknown`, `type-argument`) say what was expected. */
export function parseType(text: string): Result<NeutralType> {
  const source = text.trim()
  const oneOf = /^one\s+of\s*\(([\s\S]*)\)$/i.exec(source)
  if (oneOf) return parseOneOf(oneOf[1] ?? '')
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
      if (!isPlain(word)) return unknown(source)
      if (args.length) return failed('type-argument', `“${source}”: ${word} takes nothing in parentheses.`)
      return ok({ kind: word })
  }
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
  { type: { kind: 'xml' }, use: 'an XML document' }
]
