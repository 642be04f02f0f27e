// What a column holds, taken apart: every dialect reads its own spelling into this, and prints it.

export interface DataType {
  /** What the engine calls it, in the dialect's one spelling; a type of the database's own as it is called, unquoted. */
  readonly name: string
  /** Where a type of the database's own is. */
  readonly schema?: string
  /** What stands in parentheses behind the name, each as it is written: `['10', '2']`, or `["'open'", "'shut'"]`. */
  readonly args?: readonly string[]
  /** Words that stand behind those, as `unsigned`. */
  readonly more?: string
  /** It is a list (`name` is `array`), and each of it is one of these. */
  readonly of?: DataType
}

const WORD = `(?:[\\p{L}_][\\p{L}\\p{N}_$]*|"(?:[^"]|"")+")`
const OF_A_SCHEMA = new RegExp(`^(${WORD})\\.(${WORD})$`, 'u')
const QUOTED = new RegExp('^"(?:[^"]|"")+"$')

/**
 * A type's text in the one spelling of its dialect, taken apart; `typeText` gives the same text again, but for quotes that
 * need not be. What does not come apart so is a name as a whole.
 */
export function readType(text: string): DataType {
  if (text.endsWith('[]') && text.length > 2) return { name: 'array', of: readType(text.slice(0, -2)) }
  const from = openingOf(text)
  const to = from < 0 ? -1 : closingOf(text, from)
  if (from > 0 && to < 0) return { name: text }
  const head = to < 0 ? text : text.slice(0, from)
  const more = to < 0 ? '' : text.slice(to + 1)
  if (more !== '' && !more.startsWith(' ')) return { name: text }
  return {
    ...named(head),
    ...(to < 0 ? {} : { args: split(text.slice(from + 1, to)) }),
    ...(more === '' ? {} : { more: more.slice(1) })
  }
}

function named(head: string): Pick<DataType, 'name' | 'schema'> {
  const [, schema, name] = OF_A_SCHEMA.exec(head) ?? []
  return schema === undefined || name === undefined ? { name: head } : { schema: bare(schema), name: bare(name) }
}

const bare = (word: string) => (QUOTED.test(word) ? word.slice(1, -1).replaceAll('""', '"') : word)

/** Steps over what stands in quotes. */
function* outside(text: string): Iterable<[character: string, at: number]> {
  let quote = ''
  for (let i = 0; i < text.length; i++) {
    const c = text.charAt(i)
    if (quote !== '') {
      if (c === '\\' && quote === "'") i++
      else if (c === quote) quote = ''
    } else if (c === "'" || c === '"') quote = c
    else yield [c, i]
  }
}

function openingOf(text: string): number {
  for (const [c, at] of outside(text)) if (c === '(') return at
  return -1
}

function closingOf(text: string, from: number): number {
  let depth = 0
  for (const [c, at] of outside(text)) {
    if (at < from) continue
    if (c === '(') depth++
    else if (c === ')' && --depth === 0) return at
  }
  return -1
}

function split(list: string): string[] {
  const parts: string[] = []
  let from = 0
  let depth = 0
  for (const [c, at] of outside(list)) {
    if (c === '(') depth++
    else if (c === ')') depth--
    else if (c === ',' && depth === 0) {
      parts.push(list.slice(from, at))
      from = at + 1
    }
  }
  return [...parts, list.slice(from)]
}

const quoted = (name: string) => (/^[a-z_][a-z0-9_$]*$/.test(name) ? name : `"${name.replaceAll('"', '""')}"`)

/** A type as a person reads it, or, with the engine's way to `quote` a name, as it stands in a statement. */
export function typeText(type: DataType, quote: (name: string) => string = quoted): string {
  if (type.of) return `${typeText(type.of, quote)}[]`
  const { name, schema, args, more } = type
  const head = schema === undefined ? name : `${quote(schema)}.${quote(name)}`
  return `${head}${args ? `(${args.join(',')})` : ''}${more === undefined ? '' : ` ${more}`}`
}

/** What stands in a type's parentheses, as numbers; nothing where there is none, or something else. */
export function numbersOf({ args = [] }: DataType): number[] {
  const numbers = args.map(Number)
  return numbers.every(Number.isFinite) ? numbers : []
}
