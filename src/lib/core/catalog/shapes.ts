// What one engine holds. Plain data: it crosses worker and network borders as it is.
import type { DataType } from './data-type'

/**
 * The design object that a catalogue object was made from, and which of the things made from it this one is
 * (`table`, `column`, `fk` …). Unique within a catalogue.
 */
export interface Origin {
  readonly id: string
  readonly part: string
}

/**
 * Where a catalogue object stands: the names from the outermost to its own. A schema is `[name]`, what lives in one
 * `[schema, name]`, what lives in a table or view `[schema, table, name]`. A routine's name has the types that it is given.
 */
export interface Address {
  readonly kind: Kind
  readonly path: readonly string[]
}

/** Something that an object stands on: it cannot be made before it, nor stay without it. */
export interface Ref {
  readonly to: Address
  /** An object that goes with the other, as a sequence with the column that it numbers. */
  readonly owned?: true
}

/** What somebody may do with an object, beside or instead of what the engine allows by itself. */
export interface Right {
  /** A role; `PUBLIC` stands for everybody. */
  readonly to: string
  readonly may: string
  /** He may hand it on. */
  readonly grantable?: true
  /** It is taken away, where the engine would give it by itself. */
  readonly revoked?: true
}

/** What engines alone have, by the names that the dialect declares. */
export type Options = Readonly<Record<string, string>>

/** What every object may have. */
interface Held {
  readonly name: string
  readonly comment?: string
  readonly origin?: Origin
}

/** What objects have that somebody owns. Nothing is said of it where a design stands behind the object. */
interface Owned extends Held {
  readonly owner?: string
  readonly rights?: readonly Right[]
}

/** What stands on others by its text. */
interface Referring extends Held {
  readonly refs?: readonly Ref[]
}

export interface Catalog {
  readonly engine: string
  /** The schema that unqualified names live in. */
  readonly defaultSchema: string
  readonly serverVersion?: string
  /** How its server keeps names of tables, where it does not tell their letters apart. */
  readonly tableNames?: 'small' | 'as first said' | undefined
  /** How its text is compared where no table says it. */
  readonly collation?: string
  /**
   * It says only what was designed: of what it does not mention, an object or an engine's own option, nothing is wanted
   * otherwise than it is.
   */
  readonly partial?: true
  readonly schemas?: readonly Schema[]
  readonly extensions?: readonly Extension[]
  readonly types?: readonly TypeObject[]
  readonly sequences?: readonly Sequence[]
  readonly routines?: readonly Routine[]
  readonly tables: readonly Table[]
  readonly views?: readonly View[]
  readonly defaultRights?: readonly DefaultRights[]
  /** What the database holds that this catalogue does not describe, so that nothing is passed over in silence. */
  readonly unread: readonly UnreadObject[]
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

export interface UnreadObject {
  readonly kind: string
  readonly name: string
  /** The objects that it belongs to: a step that takes one of them away, states it anew or makes it again loses it. */
  readonly of?: readonly Address[]
}

export type Schema = Owned

export interface Extension extends Held {
  /** The schema that its objects are in. */
  readonly schema?: string
}

/** A type that the database has beside the engine's own. */
export interface TypeObject extends Owned, Referring {
  readonly schema: string
  readonly form: 'enum' | 'domain' | 'composite' | 'range'
  /** The values of an enum, in their order. */
  readonly values?: readonly string[]
  /** What a domain is made of. */
  readonly base?: DataType
  readonly collation?: string
  readonly nullable?: false
  readonly default?: string
  readonly checks?: readonly Check[]
  /** The fields of a composite type. */
  readonly fields?: readonly TypeField[]
  /** What is said of a range in parentheses. */
  readonly options?: Options
}

export interface TypeField {
  readonly name: string
  readonly type: DataType
  readonly collation?: string
  readonly comment?: string
}

/** How numbers are given out; what is not said is as the engine does it. */
export interface Counting {
  /** What the engine calls what counts. */
  readonly name?: string
  readonly start?: string
  readonly increment?: string
  readonly min?: string
  readonly max?: string
  readonly cache?: string
  readonly cycle?: true
}

export interface Sequence extends Owned, Omit<Counting, 'name'> {
  readonly schema: string
  readonly type?: string
  /** The column that it goes with. */
  readonly ownedBy?: { readonly schema: string; readonly table: string; readonly column: string }
  readonly options?: Options
}

/** A function, procedure or aggregate: the statement that makes it. */
export interface Routine extends Owned, Referring {
  readonly schema: string
  readonly form: string
  readonly definition: string
  /** What it gives back and is called with: while this stays, it can be replaced in place. */
  readonly signature?: string
}

/** The rights that new objects of a kind get. Its name is made of whose they are, where, and of which kind. */
export interface DefaultRights extends Held {
  readonly role: string
  readonly schema?: string
  readonly of: string
  readonly rights: readonly Right[]
}

export interface Table extends Owned, Referring {
  readonly schema: string
  readonly columns: readonly Column[]
  readonly primaryKey?: Key
  readonly uniques: readonly Key[]
  readonly foreignKeys: readonly ForeignKey[]
  readonly checks: readonly Check[]
  readonly exclusions?: readonly Exclusion[]
  readonly indexes: readonly Index[]
  readonly triggers?: readonly Trigger[]
  readonly policies?: readonly Policy[]
  readonly rules?: readonly Rule[]
  /** The tables whose columns and checks it has too. */
  readonly inherits?: readonly Relation[]
  /** The table that its rows are a part of, and which part. */
  readonly partition?: { readonly of: Relation; readonly bound: string }
  /** By what its rows are kept in parts that are no tables, in the engine's words. */
  readonly parted?: string
  /** What keeps its rows, in the engine's words, where that is not the engine itself. */
  readonly module?: string
  /** The statement that made it, as somebody wrote it: it makes it again, for as long as it says the same. */
  readonly written?: string
  /** Which documents of others its documents name: no engine of documents knows, and who moves them needs it. */
  readonly joins?: readonly Join[]
  readonly options?: Options
}

/** The link that says so, and the columns on both sides by what they were made from: whatever they are called. */
export interface Join {
  readonly link: string
  readonly pairs: readonly { readonly own: Origin; readonly key: Origin }[]
}

/** A table or view by its names. */
export interface Relation {
  readonly schema: string
  readonly name: string
}

export interface View extends Owned, Referring {
  readonly schema: string
  /** What it reads, in the engine's words. */
  readonly query: string
  /** Its columns' names, where its head says them. */
  readonly columns?: readonly string[]
  /** It keeps its rows. */
  readonly materialized?: true
  /** What is said of its columns. */
  readonly notes?: readonly ColumnNote[]
  readonly indexes?: readonly Index[]
  readonly triggers?: readonly Trigger[]
  readonly rules?: readonly Rule[]
  readonly options?: Options
}

/** What is said of a view's column. */
export interface ColumnNote {
  readonly name: string
  readonly comment?: string
  readonly default?: string
  readonly rights?: readonly Right[]
}

/** How a field stands in the documents, or objects, that were looked at. */
export interface Seen {
  readonly of: number
  readonly there: number
  /** The longest list. */
  readonly longest?: number
}

export interface Column extends Held, Referring {
  readonly type: DataType
  readonly nullable: boolean
  /** It is never empty by what it is (SQLite's row number), or since a parent's is not, without a word of its own that says so. */
  readonly neverEmpty?: true
  /** An SQL expression. */
  readonly default?: string
  /** Numbers made by the engine: always, or only where none is given. */
  readonly identity?: 'always' | 'by default'
  readonly counting?: Counting
  /** The expression of a computed column. */
  readonly generated?: string
  /** It is computed when it is read, and not stored. */
  readonly virtual?: true
  /** How its text is compared and sorted. */
  readonly collation?: string
  /** It comes from a table that its own inherits from. */
  readonly inherited?: true
  readonly rights?: readonly Right[]
  readonly options?: Options
  /** What documents that lack it get when it is added, as an expression of the engine's that keeps no defaults. */
  readonly fill?: string
  /** What it was told by, where nobody said it: values that were looked at. */
  readonly seen?: Seen
}

/** A primary key or unique constraint. */
export interface Key extends Held {
  readonly columns: readonly string[]
  readonly include?: readonly string[]
  /** How the columns are compared and ordered, and how much of them, each in its place, where that is said in the key. */
  readonly parts?: readonly { readonly collation?: string; readonly descending?: true; readonly length?: number }[]
  /** Two rows without a value are alike. */
  readonly nullsAlike?: true
  readonly deferrable?: Exclude<Deferrable, 'no'>
  readonly options?: Options
}

export type ReferentialAction = 'no action' | 'restrict' | 'cascade' | 'set null' | 'set default'
export type Deferrable = 'no' | 'deferrable' | 'initially deferred'

export interface ForeignKey extends Held {
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
  readonly deferrable: Deferrable
  readonly match?: 'full'
  readonly options?: Options
}

export interface Check extends Referring {
  /** An SQL condition without the outer parentheses. */
  readonly expression: string
  /** It comes from a table that its own inherits from. */
  readonly inherited?: true
  readonly options?: Options
}

/** No two rows that are alike in a way of their own. */
export interface Exclusion extends Referring {
  /** All that is said of it behind its name. */
  readonly definition: string
}

export interface IndexPart {
  /** A column name, or an expression when `expression` is set. */
  readonly column?: string
  readonly expression?: string
  /** Only so many of the column's first characters. */
  readonly length?: number
  readonly descending: boolean
  readonly nulls?: 'first' | 'last'
  readonly collation?: string
  /** How its values are ordered, where that is not the type's usual way. */
  readonly operators?: string
}

export interface Index extends Referring {
  readonly unique: boolean
  readonly parts: readonly IndexPart[]
  readonly include?: readonly string[]
  /** The condition of a partial index. */
  readonly where?: string
  /** Only where it is not the engine's usual one. */
  readonly method?: string
  /** Two rows without a value are alike. */
  readonly nullsAlike?: true
  readonly options?: Options
}

export interface Trigger extends Referring {
  /** The statement that makes it. */
  readonly definition: string
  /** When it acts, where that is not whenever rows change; `no` for never. */
  readonly enabled?: string
}

/** Which rows somebody sees or may write. */
export interface Policy extends Referring {
  /** All that is said of it behind its table. */
  readonly definition: string
}

/** Something done in the place of, or beside, what is asked. */
export interface Rule extends Referring {
  /** The statement that makes it. */
  readonly definition: string
  readonly enabled?: string
}

/** The kinds of things inside a table. */
export interface MemberOf {
  column: Column
  primaryKey: Key
  unique: Key
  foreignKey: ForeignKey
  check: Check
  exclusion: Exclusion
  index: Index
  trigger: Trigger
  policy: Policy
  rule: Rule
}
export type MemberKind = keyof MemberOf

/** The kinds of things that stand by themselves. */
export interface FreeOf {
  schema: Schema
  extension: Extension
  type: TypeObject
  sequence: Sequence
  routine: Routine
  table: Table
  view: View
  defaultRights: DefaultRights
}
export type FreeKind = keyof FreeOf

export type Kind = FreeKind | MemberKind
