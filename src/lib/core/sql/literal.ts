// Constants and the casts that engines write beside them: `'-5'::integer` is `-5`, `'x'::character varying` is `'x'`; but
// `1.5::integer` is 2, and `'abc'::varchar(2)` is `'ab'`.
import type { Node, Sameness } from './expression'

/** A constant as it stands, with the type it is cast to, in one spelling, where it is. */
interface Literal {
  readonly kind: 'number' | 'text' | 'word'
  /** Without quotes. */
  readonly value: string
  readonly type?: string
}

const spellings: readonly (readonly [RegExp, string])[] = [
  [/^(character varying|char varying|nvarchar)\b/, 'varchar'],
  [/^(character|bpchar|nchar)\b/, 'char'],
  [/^(int|int4|signed|signed integer)$/, 'integer'],
  [/^int2$/, 'smallint'],
  [/^int8$/, 'bigint'],
  [/^(decimal|dec)\b/, 'numeric'],
  [/^(double precision|float8|float)$/, 'double'],
  [/^float4$/, 'real'],
  [/^bool$/, 'boolean'],
  [/^timestamp without time zone$/, 'timestamp'],
  [/^timestamp with time zone$/, 'timestamptz'],
  [/^time without time zone$/, 'time'],
  [/^time with time zone$/, 'timetz']
]

/** One spelling for the names of a type that the standard and the engines have. */
export const typeName = (type: string): string =>
  spellings.reduce((text, [pattern, name]) => text.replace(pattern, name), type.trim().toLowerCase())

/** Text of any length: a cast to it changes no text. */
export const unbounded = (type: string): boolean => /^(text|varchar|char|name|clob)$/.test(type)

/** `1.50` is `1.5`, and `0.00` is `0`: engines fill up to the scale of a column. */
export const plainNumber = (text: string): string =>
  /^\d+\.\d*$/.test(text) ? text.replace(/0+$/, '').replace(/\.$/, '') : text

/** The constant that an expression is. */
export function literalOf(node: Node): Literal | undefined {
  if (node.is === 'cast') {
    const inner = literalOf(node.value)
    if (!inner || (inner.type !== undefined && !unbounded(inner.type))) return undefined
    return { ...inner, type: node.type }
  }
  if (node.is !== 'leaf' || !node.literal) return undefined
  const { literal: kind, text } = node
  return { kind, value: kind === 'text' && /^'[\s\S]*'$/.test(text) ? text.slice(1, -1).replaceAll("''", "'") : text }
}

const wholes: Readonly<Record<string, bigint>> = { smallint: 15n, integer: 31n, bigint: 63n }
const floats: Readonly<Record<string, number>> = { real: 6, double: 15 }
const moments = new Set(['date', 'time', 'timetz', 'timestamp', 'timestamptz', 'interval'])

/** `strict`: whether a number is whole, exact or floating decides what becomes of it. */
export function compareLiterals(a: Literal, b: Literal, strict: boolean): Sameness {
  if (a.value === b.value && a.kind === b.kind && a.type === b.type) return 'equal'
  if (a.kind === 'word' || b.kind === 'word')
    return a.kind === b.kind && a.value === b.value
      ? a.value === 'null' || !strict
        ? 'equal'
        : 'cannot tell'
      : 'different'
  const [left, right] = [numberOf(a), numberOf(b)]
  if (left && right) {
    if (left.value !== right.value) return left.certain && right.certain ? 'different' : 'cannot tell'
    if (!left.certain || !right.certain) return 'cannot tell'
    return !strict || left.family === right.family ? 'equal' : 'cannot tell'
  }
  if (left ?? right) return 'different'
  return compareTexts(a, b)
}

interface Numeral {
  readonly value: string
  readonly family: 'whole' | 'exact' | 'floating'
  /** The cast leaves the value as it is. */
  readonly certain: boolean
}

function numberOf({ kind, value: text, type }: Literal): Numeral | undefined {
  if (kind === 'text' && (type === undefined || !/^-?\d+(\.\d+)?$/.test(text))) return undefined
  const value = text.startsWith('-') ? '-' + plainNumber(text.slice(1)) : plainNumber(text)
  const whole = /^-?\d+$/.test(value)
  if (type === undefined) return { value, family: whole ? 'whole' : 'exact', certain: true }
  const [, name = type, args] = /^([a-z ]+)(?:\(([\d,]+)\))?$/.exec(type) ?? []
  const bits = wholes[name]
  if (bits !== undefined) {
    const fits = whole && BigInt(value) >= -(2n ** bits) && BigInt(value) < 2n ** bits
    return { value, family: 'whole', certain: fits }
  }
  const [before = '', after = ''] = value.replace('-', '').split('.')
  const digits = floats[name]
  if (digits !== undefined) return { value, family: 'floating', certain: (before + after).length <= digits }
  if (name !== 'numeric') return kind === 'text' ? undefined : { value, family: 'exact', certain: false }
  if (args === undefined) return { value, family: 'exact', certain: true }
  const [precision = 0, scale = 0] = args.split(',').map(Number)
  return { value, family: 'exact', certain: after.length <= scale && before.length <= precision - scale }
}

function compareTexts(a: Literal, b: Literal): Sameness {
  const [left, right] = [typeOfText(a), typeOfText(b)]
  if (left === 'cut' || right === 'cut') return 'cannot tell'
  if (left !== undefined && right !== undefined && left !== right) return 'cannot tell'
  if (a.value === b.value) return 'equal'
  // The engine fills up a moment: a day in words is that day at midnight.
  const moment = [left, right].some((type) => type !== undefined && moments.has(type))
  return moment && (a.value.startsWith(b.value) || b.value.startsWith(a.value)) ? 'cannot tell' : 'different'
}

/** The type that a text is read as; nothing for text as it stands, `cut` where the cast may have changed it. */
function typeOfText({ value, type }: Literal): string | undefined {
  if (type === undefined || unbounded(type)) return undefined
  const [, name = type, size] = /^([a-z ]+)\((\d+)\)$/.exec(type) ?? []
  if (size === undefined) return type
  const length = [...value].length
  if (name === 'varchar') return length <= Number(size) ? undefined : 'cut'
  if (name === 'char') return length === Number(size) ? undefined : 'cut'
  return 'cut'
}
