// The tokens of SQL, by an engine's lexis. Total: any text gives tokens, and their texts joined give it back.
import type { Lexis } from './lexis'

/** `executable` is a comment that the engine carries out. */
export type TokenKind =
  'word' | 'quoted' | 'string' | 'number' | 'operator' | 'punctuation' | 'space' | 'comment' | 'executable'

export interface Token {
  readonly kind: TokenKind
  readonly text: string
  /** Offset of the first character. */
  readonly at: number
}

type Pattern = readonly [TokenKind, RegExp]

const word: Pattern = ['word', /[\p{L}_][\p{L}\p{N}_$]*/uy]
const common: readonly Pattern[] = [
  word,
  ['number', /0[xX][0-9a-fA-F]+|(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/y],
  ['punctuation', /[(),;.[\]{}]/y],
  ['operator', /::|<=>|<=|>=|<>|!=|\|\||!~~\*|!~~|~~\*|~~|!~\*|!~|~\*|->>|->|=>|:=|[-+*/%<>=~!^&|?#@:]/y]
]

const nameQuotes = { '"': /"(?:[^"]|"")*"?/y, '`': /`(?:[^`]|``)*`?/y, '[': /\[[^\]]*\]?/y } as const

const compiled = new WeakMap<Lexis, readonly Pattern[]>()

function patternsOf(lexis: Lexis): readonly Pattern[] {
  const known = compiled.get(lexis)
  if (known) return known
  const text = (mark: string, prefix = '') =>
    new RegExp(
      lexis.backslashes
        ? `${prefix}${mark}(?:[^${mark}\\\\]|\\\\[\\s\\S]?|${mark}${mark})*${mark}?`
        : `${prefix}${mark}(?:[^${mark}]|${mark}${mark})*${mark}?`,
      'y'
    )
  const made: Pattern[] = [
    ['space', /\s+/y],
    ['comment', lexis.dashesNeedBlank ? /--(?=[\s]|$)[^\n]*/y : /--[^\n]*/y],
    ...(lexis.hashComments ? [['comment', /#[^\n]*/y] as const] : []),
    ...(lexis.escapeText ? [['string', /[eE]'(?:[^'\\]|\\[\s\S]?|'')*'?/y] as const] : []),
    ...(lexis.alternativeText
      ? [
          [
            'string',
            /[qQ]'(?:\[[\s\S]*?(?:\]'|$)|\{[\s\S]*?(?:\}'|$)|\([\s\S]*?(?:\)'|$)|<[\s\S]*?(?:>'|$)|([^\s[{(<'])[\s\S]*?(?:\1'|$))/y
          ] as const
        ]
      : []),
    ['string', text("'", '(?:[bBxXnN]|[uU]&)?')],
    ...(lexis.dollarText ? [['string', /\$((?:[\p{L}_][\p{L}\p{N}_]*)?)\$[\s\S]*?(?:\$\1\$|$)/uy] as const] : []),
    ...(lexis.doubleQuotedText ? [['string', text('"')] as const] : []),
    ...lexis.nameQuotes.map((mark) => ['quoted', nameQuotes[mark]] as const),
    ...common
  ]
  compiled.set(lexis, made)
  return made
}

/** Splits SQL into tokens; an unclosed quote or comment reaches to the end. */
export function tokenize(sql: string, lexis: Lexis): Token[] {
  const tokens: Token[] = []
  for (let at = 0; at < sql.length;) {
    const token = tokenAt(sql, at, lexis)
    tokens.push(token)
    at += token.text.length
  }
  return tokens
}

/** The token that begins at an offset within the text. */
export const tokenAt = (sql: string, at: number, lexis: Lexis): Token =>
  plainToken(sql, at, lexis) ??
  (sql.startsWith('/*', at) ? blockComment(sql, at, lexis) : next(sql, at, patternsOf(lexis)))

const [LETTER, DIGIT, BLANK, MARK] = [1, 2, 3, 4]
/** What ASCII's characters are to a token that begins or goes on with them. */
const SORTS = Uint8Array.from({ length: 128 }, (_, code) => {
  const character = String.fromCharCode(code)
  if (/[A-Za-z_]/.test(character)) return LETTER
  if (/[0-9$]/.test(character)) return DIGIT
  if (/\s/.test(character)) return BLANK
  return /[(),;\]{}]/.test(character) ? MARK : 0
})

/** Most of any script is words of ASCII, blanks, and marks of one character: they are told without trying every pattern. */
function plainToken(sql: string, at: number, lexis: Lexis): Token | undefined {
  const sort = SORTS[sql.charCodeAt(at)]
  if (sort === MARK) return { kind: 'punctuation', text: sql.charAt(at), at }
  if (sort !== LETTER && sort !== BLANK) return undefined
  let end = at + 1
  if (sort === BLANK) {
    while (SORTS[sql.charCodeAt(end)] === BLANK) end++
    // Other blanks than ASCII's may follow.
    return sql.charCodeAt(end) > 127 ? undefined : { kind: 'space', text: sql.slice(at, end), at }
  }
  for (let next = SORTS[sql.charCodeAt(end)]; next === LETTER || next === DIGIT; next = SORTS[sql.charCodeAt(end)])
    end++
  const code = sql.charCodeAt(end)
  // A text may begin with a letter before its mark.
  if (code > 127 || (end - at < 3 && (code === 39 || code === 38 || (code === 34 && lexis.doubleQuotedText))))
    return undefined
  return { kind: 'word', text: sql.slice(at, end), at }
}

function next(sql: string, at: number, patterns: readonly Pattern[]): Token {
  for (const [kind, pattern] of patterns) {
    pattern.lastIndex = at
    const match = pattern.exec(sql)
    if (match && match[0] !== '') return { kind, text: match[0], at }
  }
  return { kind: 'operator', text: sql[at] ?? '', at }
}

function blockComment(sql: string, start: number, { nestedComments, executableComments }: Lexis): Token {
  let depth = 1
  let at = start + 2
  while (depth > 0 && at < sql.length) {
    const [opens, closes] = [nestedComments === true && sql.startsWith('/*', at), sql.startsWith('*/', at)]
    depth += opens ? 1 : closes ? -1 : 0
    at += opens || closes ? 2 : 1
  }
  const text = sql.slice(start, at)
  return { kind: executableComments && /^\/\*M?!/.test(text) ? 'executable' : 'comment', text, at: start }
}

/** Whether a token means something. */
export const isSignificant = (token: Token): boolean => token.kind !== 'space' && token.kind !== 'comment'

/** The tokens that mean something. */
export const significant = (sql: string, lexis: Lexis): Token[] => tokenize(sql, lexis).filter(isSignificant)

/** The name that a word or quoted token stands for, folded as the engine does. */
export function nameOf(token: Token, { fold }: Lexis): string | undefined {
  if (token.kind === 'word') return fold(token.text)
  return token.kind === 'quoted' ? fold(unquoted(token.text), true) : undefined
}

/** What stands in quotes, as it is meant. */
export function unquoted(text: string): string {
  const mark = text[0] ?? '"'
  if (mark === '[') return text.slice(1, text.endsWith(']') ? -1 : undefined)
  return text.slice(1, text.length > 1 && text.endsWith(mark) ? -1 : undefined).replaceAll(mark + mark, mark)
}

/** What the text of a string token says, without its quotes and escapes; nothing for one that is not plain text. */
export function textOf(token: Token, lexis: Lexis): string | undefined {
  const { text } = token
  const mark = text[0]
  if (token.kind !== 'string' || (mark !== "'" && mark !== '"') || text.length < 2 || !text.endsWith(mark))
    return undefined
  return text
    .slice(1, -1)
    .replace(lexis.backslashes ? /\\([\s\S])|''|""/g : /''|""/g, (part, c: string | undefined) =>
      c !== undefined ? (escapes[c] ?? c) : part[0] === mark ? mark : part
    )
}

/** "String Literals" of MariaDB's documentation. `\%` and `\_` stay as they are. */
const escapes: Readonly<Record<string, string>> = {
  '0': '\0',
  b: '\b',
  n: '\n',
  r: '\r',
  t: '\t',
  Z: '\x1a',
  '%': '\\%',
  _: '\\_'
}
