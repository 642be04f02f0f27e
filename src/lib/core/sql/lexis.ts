// What an engine's SQL is made of before any grammar: quotes, escapes, comments, what ends a statement and what keeps a
// semicolon from ending it. One of these an engine; the tokenizer, the splitter and the reader of expressions are one code.

/**
 * One form for all spellings of a name that an engine takes for the same. What stands in quotes keeps its case in most.
 */
export type Fold = (name: string, quoted?: boolean) => string

/**
 * How statements with statements inside are told from others.
 * `rules`: PostgreSQL. `BEGIN ATOMIC … END` of a routine, and the parentheses of a rule ("psql", "SQL interpolation").
 * `trigger`: SQLite. The body of a trigger ends with `; END ;` (sqlite.org/c3ref/complete.html).
 * `compound`: MariaDB. Blocks of a routine, trigger or event, each closed by its own END ("Programmatic & Compound Statements").
 * `psql`: Firebird. What follows AS up to the END of its last block ("Procedural SQL (PSQL) Statements").
 */
export type Bodies = 'rules' | 'trigger' | 'compound' | 'psql'

export interface Lexis {
  readonly fold: Fold
  /** What may stand around a name, by the mark that opens it. */
  readonly nameQuotes: readonly ('"' | '`' | '[')[]
  /** `"` stands around text (MariaDB, unless ANSI_QUOTES is set). */
  readonly doubleQuotedText?: boolean
  /** A backslash in any text says something of what follows it (MariaDB, unless NO_BACKSLASH_ESCAPES is set). */
  readonly backslashes?: boolean
  /** A backslash does so in `E'…'` (PostgreSQL). */
  readonly escapeText?: boolean
  /** `$tag$ … $tag$` (PostgreSQL). */
  readonly dollarText?: boolean
  /** `q'[ … ]'`, with any mark for the bracket (Firebird). */
  readonly alternativeText?: boolean
  /** `# …` is a comment to the end of the line (MariaDB). */
  readonly hashComments?: boolean
  /** `--` is a comment only before a blank or the end of the line (MariaDB). */
  readonly dashesNeedBlank?: boolean
  /** Comments stand in comments (the standard, PostgreSQL). */
  readonly nestedComments?: boolean
  /** A comment that begins with `!` or `M!` is carried out (MariaDB, "Comment Syntax"). */
  readonly executableComments?: boolean
  readonly bodies?: Bodies
  /** The command of the engine's own tool that sets what ends a statement. */
  readonly delimiterCommand?: 'delimiter' | 'set term'
}

/** The standard's own, for what stands above all engines. */
export const standardLexis: Lexis = { fold: (name) => name, nameQuotes: ['"'], nestedComments: true }
