// Which table or column a name in a query, trigger or grant stands for, so that a new name reaches a text only through the
// object that it names: `b.name` is left alone where `a.name` is renamed. A conservative reading of FROM, JOIN, INTO,
// UPDATE, aliases and nesting; what it does not know (views, functions, WITH) has no columns that would be renamed.
import type { Lexis } from './lexis'
import { nameOf, significant, type Token } from './tokens'

/** A table that a text may name. */
export interface NamedTable {
  /** Its name from now on, where that is another. */
  readonly to?: string | undefined
  /** Its columns by name (folded) with their names from now on. */
  readonly columns: ReadonlyMap<string, string>
}

export interface NamesOfText {
  readonly lexis: Lexis
  readonly quote: (name: string) => string
  /** Words that are a name only where nothing else can stand. */
  readonly keywords: ReadonlySet<string>
  /** What a query gives follows the names of what it reads, instead of keeping its own. */
  readonly following?: true
  /** The table of a name (folded), in a schema where the text says one; nothing for what is none. */
  table(schema: string | undefined, name: string): NamedTable | undefined
}

export interface Renamed {
  readonly sql: string
  /** Columns that two tables are joined by under one name, which they no longer share. */
  readonly joined: readonly string[]
}

/** The text with new names where it names what has them. What a query gives keeps its name: `a.title AS name`. */
export function renameReferences(sql: string, names: NamesOfText): Renamed {
  const reader = new Reader(significant(sql, names.lexis), names)
  const { edits, joined } = reader.read()
  let result = ''
  let from = 0
  for (const { at, length, text } of [...edits].sort((a, b) => a.at - b.at)) {
    result += sql.slice(from, at) + text
    from = at + length
  }
  return { sql: result + sql.slice(from), joined }
}

/** A table or view as a text names it where it reads from it. */
export interface NamedSource {
  readonly table: NamedTable
  /** Its own name there. */
  readonly token: Token
  readonly schema: string | undefined
}

/** What a text (its tokens that mean something) reads from, and the columns that it names of that; all columns where it does not name them. */
export function referencesIn(tokens: readonly Token[], names: NamesOfText) {
  const reader = new Reader(tokens, names)
  reader.read()
  const all = tokens.some(
    ({ text }, i) => text === '*' && /^(select|distinct|all|,|\.)$/i.test(tokens[i - 1]?.text ?? '')
  )
  return { sources: reader.named, columns: reader.used, all }
}

interface TextEdit {
  readonly at: number
  readonly length: number
  readonly text: string
}

interface Source {
  /** What it is called in the text (folded): its alias, or its own name. */
  readonly called: string
  /** It is called by its own name. */
  readonly plain: boolean
  readonly table: NamedTable | undefined
}

interface Use {
  /** `column`, `table.column` or `schema.table.column`. */
  readonly chain: readonly Token[]
  readonly clause: Clause
  /** All of what a query gives in one column: its name is that column's. */
  readonly whole: boolean
}

type Clause = 'select' | 'from' | 'order' | 'other'

/** One query, statement or head of one, with what it reads from and the names in it. */
interface Block {
  readonly outer: Block | undefined
  readonly sources: Source[]
  readonly uses: Use[]
  /** Names that it gives: aliases of columns, queries of a WITH. */
  readonly given: Set<string>
  readonly queries: Set<string>
  readonly using: Token[]
  natural: boolean
  clause: Clause
  begun: boolean
}

const sets = new Set(['union', 'intersect', 'except', 'minus'])
const clauses: Readonly<Record<string, Clause>> = {
  where: 'other',
  group: 'other',
  having: 'other',
  window: 'other',
  limit: 'other',
  offset: 'other',
  fetch: 'other',
  set: 'other',
  values: 'other',
  returning: 'other',
  order: 'order'
}
/** What may follow a source and is no alias of it. */
const noAlias = new Set([
  ...Object.keys(clauses),
  ...sets,
  ...'join left right inner outer full cross natural on using as begin for select default when before after instead not to with to from each execute active inactive position'.split(
    ' '
  )
])
/** Before these, `UPDATE` names an event and no table. */
const events = new Set(['on', 'for', 'do', 'before', 'after', 'or', 'of'])
const skipped = new Set(['lateral', 'only', 'table'])
/** After these, a word that may be a keyword is a name. */
const beforeName = new Set(
  'select distinct all by where and or not on then when else set case having using returning of in like between is'.split(
    ' '
  )
)

class Reader {
  private at = 0
  private readonly blocks: Block[] = []
  private readonly edits: TextEdit[] = []
  private readonly joined = new Set<string>()
  readonly named: NamedSource[] = []
  readonly used: { readonly table: NamedTable; readonly column: string }[] = []

  constructor(
    private readonly tokens: readonly Token[],
    private readonly names: NamesOfText
  ) {}

  read(): { edits: readonly TextEdit[]; joined: readonly string[] } {
    const head = this.open(undefined)
    if (/^(grant|revoke|comment)$/.test(this.word())) this.privileges(head)
    else this.statement(head)
    for (const block of this.blocks) this.resolve(block)
    return { edits: this.edits, joined: [...this.joined] }
  }

  private statement(head: Block) {
    while (this.at < this.tokens.length) {
      this.group(head, { plain: false, top: true })
      this.at++
    }
  }

  /** `GRANT SELECT (a, b) ON t TO somebody`: no word of it begins a query. */
  private privileges(head: Block) {
    for (let depth = 0; this.at < this.tokens.length; this.at++) {
      const word = this.word()
      depth += word === '(' ? 1 : word === ')' ? -1 : 0
      if (depth === 0 && /^(to|from|is)$/.test(word)) return
      if (depth > 0) this.use(head, true)
      else if (word === 'on') {
        this.at += this.word(this.at + 1) === 'table' ? 2 : 1
        this.source(head)
      }
    }
  }

  private open(outer: Block | undefined): Block {
    const block: Block = {
      outer,
      sources: [],
      uses: [],
      given: new Set(),
      queries: new Set(),
      using: [],
      natural: false,
      clause: 'other',
      begun: false
    }
    this.blocks.push(block)
    return block
  }

  private word(at = this.at): string {
    const token = this.tokens[at]
    return token === undefined ? '' : token.kind === 'word' ? token.text.toLowerCase() : token.text
  }

  /**
   * Reads up to the parenthesis that closes, which is left. `plain`: FROM has another meaning here, as in EXTRACT.
   * `joins`: the parentheses stand where a source would. `top`: what is made has a head, and a body of statements.
   */
  private group(start: Block, { plain = false, joins = false, top = false }) {
    let block = start
    let source = joins
    for (; this.at < this.tokens.length && this.word() !== ')'; this.at++) {
      const word = this.word()
      if (word === '(') {
        const inFrom = source
        source = false
        this.parenthesis(block, inFrom)
        continue
      }
      if (top && (word === ';' || word === 'begin')) {
        block = this.open(start)
        source = false
        continue
      }
      if (word === 'select' || word === 'with') {
        // The head of what is made has names of its own.
        if (top && block === start) block = this.open(start)
        block.begun = true
        block.clause = word === 'select' ? 'select' : 'other'
        if (word === 'with') this.with(block)
        continue
      }
      if (sets.has(word) && block.begun) {
        block = this.next(block)
        continue
      }
      const head = top && block === start
      if (!plain && this.begins(word, block, head)) {
        block.clause = 'from'
        source = true
        continue
      }
      if (word === ',' && block.clause === 'from' && !plain) {
        source = true
        continue
      }
      if (clauses[word] !== undefined && !this.isName(word)) {
        block.clause = clauses[word]
        continue
      }
      if (word === 'natural') block.natural = true
      if (word === 'as' && this.word(this.at + 1) !== '(') {
        const given = this.tokens[++this.at]
        if (given) this.give(block, given)
        if (top && /^(select|with|begin)$/.test(this.word())) this.at--
        continue
      }
      if (source && skipped.has(word)) continue
      if (source) source = !this.source(block)
      else this.use(block, plain || joins)
    }
  }

  private give(block: Block, token: Token) {
    const name = nameOf(token, this.names.lexis)
    if (name !== undefined) block.given.add(name)
  }

  /** What follows UNION and the like reads from tables of its own, but knows the queries of a WITH before it. */
  private next(block: Block): Block {
    const made = this.open(block.outer)
    made.begun = true
    for (const query of block.queries) made.queries.add(query)
    return made
  }

  private begins(word: string, block: Block, head: boolean): boolean {
    const before = this.word(this.at - 1)
    if (word === 'from') return before !== 'distinct'
    if (word === 'join' || word === 'into') return true
    if (word === 'update') return !events.has(before) && this.word(this.at + 1) !== 'of'
    // `CREATE TRIGGER … ON t`, `GRANT … ON t`, `CREATE TRIGGER … FOR t`.
    return head && !block.begun && (word === 'on' || word === 'for')
  }

  private parenthesis(block: Block, source: boolean) {
    const before = this.word(this.at - 1)
    this.at++
    if (/^(select|with|values)$/.test(this.word())) {
      this.group(this.open(block), {})
      if (source) this.alias(block, undefined)
    } else if (source) this.group(block, { joins: true })
    else if (before === 'using' && block.clause === 'from') {
      for (; this.at < this.tokens.length && this.word() !== ')'; this.at++) {
        const token = this.tokens[this.at]
        if (token && this.word() !== ',') block.using.push(token)
      }
    } else {
      const { clause } = block
      this.group(block, { plain: true })
      block.clause = clause
    }
  }

  /** `WITH a AS (…), b (x, y) AS (…)`: each is a query of that name. */
  private with(block: Block) {
    for (let at = this.at + 1, depth = 0; at < this.tokens.length; at++) {
      const word = this.word(at)
      depth += word === '(' ? 1 : word === ')' ? -1 : 0
      if (depth < 0 || (depth === 0 && /^(select|insert|update|delete)$/.test(word))) return
      const token = this.tokens[at]
      const name = token && depth === 0 ? nameOf(token, this.names.lexis) : undefined
      if (name !== undefined && word !== 'recursive' && word !== 'as') block.queries.add(name)
    }
  }

  private isNameToken(at: number): boolean {
    const kind = this.tokens[at]?.kind
    return kind === 'quoted' || kind === 'word'
  }

  /** Names joined by points, from here on; the place is left at the last. */
  private chain(): Token[] {
    const chain: Token[] = []
    for (;;) {
      const token = this.tokens[this.at]
      if (token) chain.push(token)
      if (this.word(this.at + 1) !== '.' || !this.isNameToken(this.at + 2)) return chain
      this.at += 2
    }
  }

  /** A table, view or function that is read from. False where none stands here. */
  private source(block: Block): boolean {
    if (!this.isNameToken(this.at)) return true
    const chain = this.chain()
    if (this.word(this.at + 1) === '(' && block.clause === 'from' && !this.isInsert(chain)) {
      this.at++
      this.parenthesis(block, false)
      this.alias(block, undefined)
      return true
    }
    const parts = chain.map((token) => nameOf(token, this.names.lexis) ?? '')
    const name = parts.at(-1) ?? ''
    const known = parts.length === 1 && this.isQuery(block, name) ? undefined : this.names.table(parts.at(-2), name)
    const last = chain.at(-1)
    if (known && last) this.named.push({ table: known, token: last, schema: parts.at(-2) })
    if (known?.to !== undefined && last) this.replace(last, known.to)
    this.alias(block, known, name)
    return true
  }

  /** `INSERT INTO t (a, b)`: what follows is a list of columns. */
  private isInsert(chain: readonly Token[]): boolean {
    const [first] = chain
    const at = first ? this.tokens.indexOf(first) : -1
    return this.word(at - 1) === 'into' || this.word(at - 1) === 'on'
  }

  private isQuery(block: Block | undefined, name: string): boolean {
    return block !== undefined && (block.queries.has(name) || this.isQuery(block.outer, name))
  }

  private alias(block: Block, table: NamedTable | undefined, own?: string) {
    const as = this.word(this.at + 1) === 'as' && this.isNameToken(this.at + 2)
    const at = this.at + (as ? 2 : 1)
    const token = this.tokens[at]
    const is = as || (this.isNameToken(at) && (token?.kind === 'quoted' || !noAlias.has(this.word(at))))
    const alias =
      is && token && !/^(select|with|begin)$/.test(this.word(at)) ? nameOf(token, this.names.lexis) : undefined
    if (alias !== undefined) this.at = at
    block.sources.push({ called: alias ?? own ?? '', plain: alias === undefined, table })
  }

  /** A word that could be a keyword is a name where only a name or value can stand. */
  private isName(word: string): boolean {
    if (this.tokens[this.at]?.kind === 'quoted') return true
    if (!this.names.keywords.has(word)) return clauses[word] === undefined
    const before = this.tokens[this.at - 1]
    if (!before || before.kind === 'operator' || /^[(,.]$/.test(before.text)) return clauses[word] === undefined
    return before.kind === 'word' && beforeName.has(before.text.toLowerCase()) && clauses[word] === undefined
  }

  private use(block: Block, inside: boolean) {
    if (!this.isNameToken(this.at) || !this.isName(this.word())) return
    const before = this.word(this.at - 1)
    const chain = this.chain()
    const next = this.tokens[this.at + 1]
    // Types, variables, functions, and constants with their type before them.
    if (['::', ':', '@'].includes(before) || next?.text === '(' || (next?.kind === 'string' && chain.length === 1))
      return
    if (before === '(' && this.word(this.at + 1) === 'from' && this.word(this.at - 2) === 'extract') return
    const ends =
      next === undefined ||
      [',', ')', ';', 'from', 'into', 'where'].includes(this.word(this.at + 1)) ||
      sets.has(this.word(this.at + 1))
    const whole = !inside && block.clause === 'select' && ends && ['select', 'distinct', 'all', ','].includes(before)
    block.uses.push({ chain, clause: block.clause, whole })
  }

  private replace(token: Token, name: string, after = '') {
    this.edits.push({ at: token.at, length: token.text.length, text: this.names.quote(name) + after })
  }

  private resolve(block: Block) {
    for (const use of block.uses) this.resolveUse(block, use)
    const renamed = (name: string) =>
      block.sources.some(({ table }) => table?.columns.has(name) && table.columns.get(name) !== name)
    for (const token of block.using) {
      const name = nameOf(token, this.names.lexis) ?? ''
      const now = new Set(block.sources.flatMap(({ table }) => table?.columns.get(name) ?? []))
      const unknown = block.sources.some(({ table }) => table === undefined)
      const [only] = now
      if (now.size === 1 && only !== undefined && only !== name && !unknown) this.replace(token, only)
      else if (renamed(name)) this.joined.add(name)
    }
    if (block.natural)
      for (const { table } of block.sources)
        for (const [name, now] of table?.columns ?? []) if (name !== now) this.joined.add(name)
  }

  private resolveUse(block: Block, { chain, clause, whole }: Use) {
    const parts = chain.map((token) => nameOf(token, this.names.lexis) ?? '')
    const column = parts.at(-1) ?? ''
    const last = chain.at(-1)
    const qualifier = parts.at(-2)
    if (!last) return
    // An alias of the query goes before a column in ORDER BY.
    if (qualifier === undefined && clause === 'order' && block.given.has(column)) return
    const source = qualifier === undefined ? this.owner(block, column) : this.called(block, qualifier)
    if (!source?.table) return
    const owner = chain.at(-2)
    if (owner && source.plain && source.table.to !== undefined && source.called === qualifier)
      this.replace(owner, source.table.to)
    const now = source.table.columns.get(column)
    if (now !== undefined) this.used.push({ table: source.table, column })
    if (now === undefined || this.names.lexis.fold(now, true) === column) return
    this.replace(last, now, whole && !this.names.following ? ` AS ${this.names.quote(written(last))}` : '')
  }

  /** The source that a bare column is of: one that has it; one that is not known may have any other. */
  private owner(block: Block, column: string): Source | undefined {
    const own = block.sources.find(({ table }) => table?.columns.has(column))
    if (own || block.sources.some(({ table }) => table === undefined)) return own
    return block.outer && this.owner(block.outer, column)
  }

  private called(block: Block, qualifier: string): Source | undefined {
    const own = block.sources.find(({ called }) => called === qualifier)
    if (own) return own
    if (block.outer) return this.called(block.outer, qualifier)
    // A trigger speaks of its table's rows as NEW and OLD.
    const [table] = block.sources.filter((source) => source.table)
    return /^(new|old)$/i.test(qualifier) && table ? { ...table, plain: false } : undefined
  }
}

const written = (token: Token): string => (token.kind === 'quoted' ? token.text.slice(1, -1) : token.text)
