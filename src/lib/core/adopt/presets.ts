// A column's default as every engine may have it. What only its own engine has words for is for that engine's target to say.
import type { Attribute } from '../design'
import type { Dialect } from '../dialects'
import { significant } from '../sql'
import { defaultText } from './place'

const TEXTS = new Set(['text', 'char', 'oneOf'])
const NUMBERS = new Set(['tiny', 'small', 'integer', 'big', 'decimal', 'float', 'double'])
const MOMENTS = new Set(['date', 'time', 'timestamp'])
/** Manual of PostgreSQL, "Boolean Type": the words that stand for the two, as others keep them as texts. */
const [YES, NO] = [/^(true|t|yes|y|on|1)$/i, /^(false|f|no|n|off|0)$/i]
const NUMBER = /^[-+]?\d+(\.\d+)?$/

/** The functions that the standard has, and every engine too: ISO/IEC 9075-2, 6.12, 6.28, 6.30 (from memory). */
const EVERYWHERE = new Set(['coalesce', 'nullif', 'abs', 'lower', 'upper'])

/** The default of a column in the words of its own engine, so that others have it as well; nothing where they have none. */
export function presetForAll(said: string, { type }: Pick<Attribute, 'type'>, dialect: Dialect): string | undefined {
  // One that is nothing is none: PostgreSQL keeps it with its type.
  if (/^null(::.+)?$/i.test(said)) return undefined
  // In one engine alone there is a day nought.
  if (MOMENTS.has(type.kind) && /^'?(0|0000-00-00.*)'?$/.test(said)) return undefined
  const meant = ofKind(said, type, dialect)
  const isPlain = defaultText(meant, { type }, dialect)?.startsWith('(') === false
  // What a moment is that is none by itself, its own engine knows, as `'now'`.
  return isPlain || (!MOMENTS.has(type.kind) && isEverywhere(meant, dialect)) ? meant : undefined
}

/** A value as its column keeps it: what is a number in one engine is the text of it in another. */
function ofKind(said: string, type: Attribute['type'], { write }: Dialect): string {
  const text = /^'((?:[^']|'')*)'$/.exec(said)?.[1]
  const value = text ?? said
  if (NUMBERS.has(type.kind) && NUMBER.test(value)) return value
  // "Double-quoted String Literals Are Accepted" (sqlite.org/quirks.html): there is no column that a default could name.
  const name = /^"((?:[^"]|"")*)"$/.exec(said)?.[1]
  if (TEXTS.has(type.kind) && name !== undefined) return `'${name.replaceAll('""', '"').replaceAll("'", "''")}'`
  if (TEXTS.has(type.kind) && NUMBER.test(said)) return `'${said}'`
  const isYes = (text === undefined ? /^(true|1)$/i : YES).test(value)
  const isNo = (text === undefined ? /^(false|0)$/i : NO).test(value)
  return (type.kind === 'boolean' && (isYes || isNo) && write.value({ kind: 'boolean', value: isYes }, type)) || said
}

function isEverywhere(expression: string, { write }: Dialect): boolean {
  const tokens = significant(expression, write.lexis)
  return tokens.every(({ kind, text }, i) => {
    if (kind === 'quoted' || text === '::' || text === '||') return false
    // What a day more is, each engine says in its own way.
    if (/^current_/i.test(text) && tokens.length > 1) return false
    return kind !== 'word' || tokens[i + 1]?.text !== '(' || EVERYWHERE.has(text.toLowerCase())
  })
}
