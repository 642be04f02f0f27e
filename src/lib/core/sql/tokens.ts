// The tokens that every SQL dialect shares. Total: any text gives tokens, and their texts joined give it back.

export type TokenKind = 'word' | 'quoted' | 'string' | 'number' | 'operator' | 'punctuation' | 'space' | 'comment'

export interface Token {
  readonly kind: TokenKind
  readonly text: string
  /** Offset of the first character. */
  readonly at: number
}

const patterns: readonly (readonly [TokenKind, RegExp])[] = [
  ['space', /\s+/y],
  ['comment', /--[^\n]*/y],
  ['string', /(?:[eE]'(?:[^'\\]|\\[\s\S]|'')*'?)|(?:[bBxXnN]?'(?:[^']|'')*'?)/y],
  ['string', /\$([\p{L}_]*)\$[\s\S]*?\$\1\$/uy],
  ['quoted', /"(?:[^"]|"")*"?|`(?:[^`]|``)*`?/y],
  ['word', /[\p{L}_][\p{L}\p{N}_$]*/uy],
  ['number', /(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/y],
  ['punctuation', /[(),;.[\]{}]/y],
  ['operator', /::|<=|>=|<>|!=|\|\||!~~\*|!~~|~~\*|~~|!~\*|!~|~\*|->>|->|=>|[-+*/%<>=~!^&|?#@:]/y]
]

/** Splits SQL into tokens; an unclosed quote or comment reaches to the end. */
export function tokenize(sql: string): Token[] {
  const tokens: Token[] = []
  let at = 0
  while (at < sql.length) {
    const token = sql.startsWith('/*', at)
      ? { kind: 'comment' as const, text: blockComment(sql, at), at }
      : next(sql, at)
    tokens.push(token)
    at += token.text.length
  }
  return tokens
}

function next(sql: string, at: number): Token {
  for (const [kind, pattern] of patterns) {
    pattern.lastIndex = at
    const match = pattern.exec(sql)
    if (match && match[0] !== '') return { kind, text: match[0], at }
  }
  return { kind: 'operator', text: sql[at] ?? '', at }
}

/** Block comments nest, as the SQL standard and PostgreSQL have it. */
function blockComment(sql: string, start: number): string {
  let depth = 0
  let at = start
  do {
    const [opens, closes] = [sql.startsWith('/*', at), sql.startsWith('*/', at)]
    depth += opens ? 1 : closes ? -1 : 0
    at += opens || closes ? 2 : 1
  } while (depth > 0 && at < sql.length)
  return sql.slice(start, at)
}

/** The tokens that mean something. */
export const significant = (sql: string): Token[] =>
  tokenize(sql).filter((token) => token.kind !== 'space' && token.kind !== 'comment')

/**
 * One form for all spellings of a name that an engine takes for the same. What stands in quotes keeps its case in most.
 */
export type Fold = (name: string, quoted?: boolean) => string

/** The name that a word or quoted token stands for, folded as the engine does. */
export function nameOf(token: Token, fold: Fold): string | undefined {
  if (token.kind === 'word') return fold(token.text)
  if (token.kind !== 'quoted') return undefined
  const quote = token.text[0] ?? '"'
  return fold(token.text.slice(1, -1).replaceAll(quote + quote, quote), true)
}
