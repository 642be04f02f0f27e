// What one engine holds. Plain data: it crosses worker and network borders as it is.

/**
 * The design object that a catalogue object was made from, and which of the things made from it this one is
 * (`table`, `column`, `fk` …). Unique within a catalogue.
 */
export interface Origin {
  readonly id: string
  readonly part: string
}

export interface Catalog {
  readonly engine: string
  /** The schema that unqualified names live in. */
  readonly defaultSchema: string
  readonly serverVersion?: string
  readonly tables: readonly Table[]
  /** What the database holds that this catalogue does not describe, so that nothing is passed over in silence. */
  readonly unread: readonly UnreadObject[]
  /** Views and triggers: carried as they are, so that a plan can take them out of its way and put them back. */
  readonly opaque?: readonly OpaqueObject[]
  /** In an agreed state: what the engine prints for what was asked for, where their forms do not tell that they are one. */
  readonly printed?: readonly Printed[]
}

/** A property that a run of ours has made, and how the engine printed it right after; both in the database's names. */
export interface Printed {
  readonly origin: Origin
  readonly schema: string
  readonly table: string
  readonly property: string
  readonly wanted: unknown
  readonly printed: unknown
}

/** What depends on tables and is not designed here; the rights given on a table, which go when it is made again. */
export interface OpaqueObject {
  readonly kind: 'view' | 'materialized view' | 'trigger' | 'rights'
  readonly schema: string
  readonly name: string
  /** The table that a trigger belongs to. */
  readonly table?: string
  /** The statement that makes it. */
  readonly definition: string
  /** Statements that give it back its owner's words and rights: comments, grants. */
  readonly after?: readonly string[]
  /** The tables it reads or belongs to, and those of their columns that it names. */
  readonly uses: readonly { readonly schema: string; readonly table: string; readonly columns: readonly string[] }[]
}

export interface UnreadObject {
  readonly kind: string
  readonly name: string
}

export interface Table {
  readonly schema: string
  readonly name: string
  readonly comment?: string
  readonly columns: readonly Column[]
  readonly primaryKey?: Key
  readonly uniques: readonly Key[]
  readonly foreignKeys: readonly ForeignKey[]
  readonly checks: readonly Check[]
  readonly indexes: readonly Index[]
  readonly origin?: Origin
}

export interface Column {
  readonly name: string
  /** In the engine's own words and the dialect's canonical spelling. */
  readonly type: string
  readonly nullable: boolean
  /** It is never empty by what it is (SQLite's row number), without a word of its own that says so. */
  readonly neverEmpty?: true
  /** An SQL expression. */
  readonly default?: string
  /** Numbers made by the engine: always, or only where none is given. */
  readonly identity?: 'always' | 'by default'
  /** The expression of a computed column. */
  readonly generated?: string
  /** It is computed when it is read, and not stored. */
  readonly virtual?: true
  /** How its text is compared and sorted; where one side does not say, it is as the other has it. */
  readonly collation?: string
  readonly comment?: string
  readonly origin?: Origin
}

/** A primary key or unique constraint. */
export interface Key {
  readonly name: string
  readonly columns: readonly string[]
  readonly comment?: string
  readonly origin?: Origin
}

export type ReferentialAction = 'no action' | 'restrict' | 'cascade' | 'set null' | 'set default'

export interface ForeignKey {
  readonly name: string
  readonly columns: readonly string[]
  readonly references: {
    readonly schema: string
    readonly table: string
    readonly columns: readonly string[]
    /** The columns were not named: they are the parent's key, whatever it is. */
    readonly unnamed?: true
  }
  readonly onDelete: ReferentialAction
  readonly onUpdate: ReferentialAction
  readonly deferrable: 'no' | 'deferrable' | 'initially deferred'
  readonly comment?: string
  readonly origin?: Origin
}

export interface Check {
  readonly name: string
  /** An SQL condition without the outer parentheses. */
  readonly expression: string
  readonly comment?: string
  readonly origin?: Origin
}

export interface IndexPart {
  /** A column name, or an expression when `expression` is set. */
  readonly column?: string
  readonly expression?: string
  /** Only so many of the column's first characters. */
  readonly length?: number
  readonly descending: boolean
  readonly nulls?: 'first' | 'last'
}

export interface Index {
  readonly name: string
  readonly unique: boolean
  readonly parts: readonly IndexPart[]
  readonly include?: readonly string[]
  /** The condition of a partial index. */
  readonly where?: string
  /** Only where it is not the engine's usual one. */
  readonly method?: string
  readonly comment?: string
  readonly origin?: Origin
}

/** The kinds of things inside a table that are compared and changed one by one. */
export interface MemberOf {
  column: Column
  primaryKey: Key
  unique: Key
  foreignKey: ForeignKey
  check: Check
  index: Index
}
export type MemberKind = keyof MemberOf
export type ObjectKind = 'table' | MemberKind

/** Where a catalogue object stands. `name` is the member's own name; a table has none beside `table`. */
export interface Address {
  readonly kind: ObjectKind
  readonly schema: string
  readonly table: string
  readonly name: string
}
