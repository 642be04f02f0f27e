// All that is different between engines, behind one interface. Nothing outside this room asks which engine it is.
import type {
  Address,
  Catalog,
  CatalogObject,
  Change,
  Column,
  Constrained,
  DataType,
  Key,
  ForeignKey,
  Check,
  Exclusion,
  Index,
  IndexPart,
  Kind,
  MemberKind,
  MemberOf,
  NameRule,
  Options,
  Routine,
  Table,
  Trigger
} from '../catalog'
import type { NamingRules } from '../naming'
import type { Lexis } from '../sql'
import type { NeutralType } from '../types'
import type { Structure } from './structure'

export interface Dialect {
  readonly profile: EngineProfile
  readonly types: TypeSystem
  readonly write: Writer
  readonly alter: Alterer
  readonly carry: Carrier
  /** What this engine alone has of some kinds, by name; each is declared here and nowhere else. */
  readonly options: readonly DeclaredOption[]
  /** Whether a column is so anyway, beside what is declared as usual for all: an engine does not show that it was said. */
  isUsual?(column: Column, option: string, value: string): boolean
  /** For an engine that changes a table by making it again. */
  readonly rebuild?: Rebuilder
  /** Absent for an engine that cannot be told so from here. */
  readonly keepUp?: KeepUp
  /** The key that every row has by itself, whatever the design says: it stands for the number that others are given. */
  readonly rowId?: { readonly name: string; readonly type: NeutralType }
  /** Why a statement may do more than read, in a sentence; absent for an engine whose statements are SQL. */
  whyNotReading?(statement: string): string | undefined
  /** What the engine says of a column's values with the column; absent where that is what checks are for. */
  bounds?(of: Bounded): Options
  /** The same back: what a design says for options that a column has. */
  bounded?(type: NeutralType, options: Options): Partial<Bounded>
  /** What tells which rows of a table are not as it says, where an engine lets such stay; absent where it does not. */
  misfits?(table: Table): Preflight
  /** For an engine that keeps no defaults: what what is there gets where a field is added; nothing for what it has no words for. */
  filled?(value: DefaultValue, type: DataType): string | undefined
  /** So many of a collection's documents, as they come. */
  sample?(collection: string, size: number): string
  /** Which documents of a collection have something at a path. */
  having?(collection: string, path: string): Preflight
  /** Two statements that come one after the other as one that does both; nothing where they stay two. */
  joined?(first: StepDraft, second: StepDraft): StepDraft | undefined
  /** How many bytes a key takes of those that it may have; nothing where that is not known. */
  keyRoom?(
    table: Table,
    parts: readonly Pick<IndexPart, 'column' | 'length'>[],
    kind: 'primaryKey' | 'unique' | 'index' | 'foreignKey'
  ): KeyRoom | undefined
  /** A table of which the engine can make every key and index: what it takes no whole column into is shorter, or in it by its beginning. */
  inKeys?(table: Table): Table
  /** Why a text cannot be an option of that name, in a sentence; nothing where it can. */
  whyNoOption?(name: string, value: string): string | undefined
  /**
   * The ways in which a statement may be carried out, from what disturbs others least on: the engine refuses those that it cannot go. The
   * last is the statement as it is. Absent where an engine is not asked so.
   */
  waysOf?(statement: string): readonly Way[]
  /** How a statement on many rows is carried out range by range; nothing where it is sent whole. */
  inRanges?(statement: string, size?: number): InRanges | undefined
  /** What is wanted, as a database shows it that has some of it by itself. */
  asThere?(wanted: Catalog, live: Catalog): Catalog
  /** The nearest collation that has all of Unicode, itself where it has; absent for an engine whose text always has. */
  unicode?(collation: string): string
  /** How a database is made on a server; absent where opening it, or what is put into it, makes it. */
  readonly newDatabase?: NewDatabase
  /** A catalogue in the form that the engine holds it in: what it cannot keep is gone. */
  settle?(catalog: Catalog): Catalog
  /**
   * Said before each transaction of a run, and of a script where statements commit by themselves: what the session was
   * told before must not change what is meant.
   */
  readonly session?: readonly string[]
  /** An expression as other engines may have it, too, where the engine prints more than was meant. */
  plain?(expression: string): string
  /** Said at the beginning of a script of a catalogue. */
  opening?(catalog: Catalog): readonly string[]
  /** Absent for an engine that cannot be asked from here. */
  readonly introspect?: CatalogQueries
  /** Absent for an engine whose scripts cannot be read yet. Nothing in a script makes it fail. */
  readScript?(script: string): ScriptRead
  /** An empty database that keeps what statements make: what answers in the place of an engine that does not run here. */
  structure?(): Structure
}

/** What fills a column anew whenever its row changes: nothing where there is no way. */
export interface KeptUp {
  /** The column with a word of its own for it. */
  readonly column?: Column
  readonly trigger?: Trigger
  /** What the trigger calls; several tables may call one. */
  readonly routine?: Routine
}

/** `value` is an SQL expression; `called` a name that the trigger may have. */
export type KeepUp = (table: Table, column: Column, value: string, called: string) => KeptUp

/** What a design says of the values of a column. */
export interface Bounded {
  readonly type: NeutralType
  readonly min?: number | undefined
  readonly max?: number | undefined
  readonly letters?: 'upper' | 'lower' | undefined
}

/** What a script leaves in an empty database, and what became of each of its statements. */
export interface ScriptRead {
  readonly catalog: Catalog
  readonly statements: readonly ReadStatement[]
}

export interface ReadStatement {
  readonly sql: string
  /** Offset of its first character in the script. */
  readonly at: number
  /** Understood in all that a catalogue holds; kept as its own text; passed over, since it makes nothing; not understood. */
  readonly how: 'read' | 'carried' | 'data' | 'unknown'
  /** Why it was not understood, in a sentence; or what there is to say of it otherwise. */
  readonly why?: string
}

/** An option that objects of some kinds may have. */
export interface DeclaredOption {
  readonly name: string
  readonly on: readonly Kind[]
  /** Where it stands, if not among the options: a property of the object's own, or of each part of an index. */
  readonly at?: { readonly property: string } | { readonly part: 'operators' | 'collation' | 'length' }
  /** The values it can have; that it is not there is none of them. */
  readonly values: readonly string[] | 'a name' | 'a number' | 'text' | 'json'
  /** What it is when nothing is said. */
  readonly usual?: string
  /** In one sentence, for whoever chooses. */
  readonly meaning: string
  /** How another value comes about: the object stays, is made again, or cannot have it. */
  readonly changes: 'in place' | 'again' | 'never'
  /** The first version that knows it. */
  readonly since?: number
  /** It stands for all options of such names that have no row of their own. */
  readonly every?: RegExp
  /** It is kept as it was found in a database, and nobody says it by hand. */
  readonly found?: true
}

/** A statement as it is sent, and how it is carried out if it is taken, where that is known. */
export interface Way {
  readonly sql: string
  readonly how?: string
}

/** Seconds for which a statement of a run waits for a table that others are at: then it is refused, and may be sent again. */
export const PATIENCE = 30

export type Quoting = 'always'

export interface EngineProfile {
  readonly id: string
  readonly label: string
  readonly versions: readonly string[]
  readonly version: string
  readonly defaultSchema: string
  readonly names: Omit<NamingRules, 'tablePrefix'> & {
    /** Words that must be quoted when used as a name. */
    readonly mustQuote: ReadonlySet<string>
    /** Words that a person should rather not use as a name; a part of `mustQuote`. */
    readonly reserved: ReadonlySet<string>
    /** Names that are the same whatever their case, quoted or not: all, or all but those of tables. */
    readonly caseless?: 'all' | 'but tables'
    /** Names of keys and rules that the engine gives by itself: nobody has said them, and another is as good. */
    readonly given?: RegExp
    /** What stands around a quoted name, where it is not `"`. */
    readonly quoteMark?: string
    /** Every name is quoted, whether or not it must be. */
    readonly quoting?: Quoting
  }
  readonly lexis: Omit<Lexis, 'fold'>
  /** One form for what the engine shows alike of its own descriptions, where a character of four bytes in UTF-8 is lost. */
  readonly told?: (text: string) => string
  readonly features: Features
  /** What a script has that is written for this engine, and for hardly any other. */
  readonly signs: readonly RegExp[]
  /** What the engine calls what others call otherwise: one of it, and many. */
  readonly words?: Readonly<Partial<Record<Kind, readonly [one: string, many: string]>>>
  /** Words that a statement begins with which asks something and changes nothing. */
  readonly reads: readonly string[]
  /** How what we say of this engine is proved in the project's own tests. */
  readonly proof: 'run here' | 'grammar-checked' | 'by manual' | 'test only'
}

export interface Features {
  /** Statements are commands, and no SQL: scripts of them are for the engine's shell, whose files end in this. */
  readonly commands?: 'js'
  /** Statements that define structure can be undone with their transaction; else each commits by itself. */
  readonly transactionalDdl: boolean
  /** DROP … IF EXISTS is understood. */
  readonly ifExists: boolean
  /** DROP … CASCADE takes what depends on a table with it. */
  readonly dropCascade: boolean
  /** COMMENT ON is understood. */
  readonly comments: boolean
  /** More than one schema in a database. */
  readonly schemas: boolean
  /** A table can be renamed in place; else it is made again, and all that stands on it with it. */
  readonly renameTable: boolean
  /** A column can be renamed while a key, a check or a foreign key uses it; or only while no expression does. */
  readonly renameUsedColumn: boolean | 'but in expressions'
  /** Views, triggers and routines keep their words when what they name is called otherwise: they are made again. */
  readonly wordsStay?: boolean
  /** A constraint can be renamed in place; else it is dropped and made again. */
  readonly renameConstraint: boolean
  /** An index can be renamed in place; else it is dropped and made again. */
  readonly renameIndex: boolean
  /** Foreign keys are written in their table's statement, where they may name tables that are yet to come. */
  readonly foreignKeysInTable: boolean
  /** A foreign key stands on an index of its own table, which cannot go before it. */
  readonly foreignKeysNeedIndex?: boolean
  /** An index may be of some rows only. */
  readonly partialIndexes?: boolean
  /** A foreign key has an index by itself. */
  readonly indexesForeignKeys?: boolean
  /** A column that a foreign key's action changes cannot be checked. */
  readonly actionsBarChecks?: boolean
  /** A table's options say what can stand in it: they come before that, and not at last. */
  readonly optionsFirst?: boolean
  /** A trigger's name is one in its table, and said with it. */
  readonly triggersInTable: boolean
  /** What has a name that is one in its schema, not only in its table. */
  readonly namesInSchema: readonly MemberKind[]
  /** No index has a name that a table of its schema has. */
  readonly indexesBesideTables?: boolean
  /** What holds fields has them in the one table, each a column by its path. */
  readonly fields?: boolean
  /** It can be told with which number rows begin, and by how much each is greater; or the first alone, as a table is made, and shows it no more. */
  readonly counts?: 'whole' | 'as made'
  /** The ways in which the engine numbers rows. */
  readonly identities: readonly NonNullable<Column['identity']>[]
}

/** How well an engine's type carries a neutral one. */
export type Grade = 'exact' | 'wider' | 'narrower' | 'emulated' | 'impossible'

export interface TypeSystem {
  fromNeutral(type: NeutralType): { readonly type: DataType; readonly grade: Grade; readonly note?: string }
  /** The nearest neutral type, or `native`. */
  toNeutral(type: DataType): NeutralType
  /** A type as somebody, or the engine, has written it: all spellings of one type of this engine are one. */
  read(text: string): DataType
  same(a: DataType, b: DataType): boolean
  /** Range in words and storage in bytes, as the engine's manual has them. */
  describe(type: DataType): { readonly range: string; readonly bytes: string }
}

/** A column's default as people mean it, before an engine's words. */
export type DefaultValue =
  | { readonly kind: 'now' | 'new uuid' | 'user' }
  | { readonly kind: 'number' | 'text' | 'expression'; readonly text: string }
  | { readonly kind: 'boolean'; readonly value: boolean }

/** Catalogue objects to SQL. Statements carry no separator. */
export interface Writer extends NameRule {
  table(schema: string, name: string): string
  type(type: DataType): string
  /** Nothing for what the engine cannot have as a default. */
  value(value: DefaultValue, type: NeutralType): string | undefined
  oneOf(column: string, values: readonly string[]): string
  range(column: string, min: number | undefined, max: number | undefined): string
  /** The column's text is in letters of one sort. */
  inLetters(column: string, letters: 'upper' | 'lower'): string
  /** The column holds a document of this shape; nothing where the engine cannot tell. */
  shaped?(column: string, shape: 'list' | 'object'): string
  /** True when `when` is not the discriminator's value, or the column is filled. */
  requiredWhen(discriminator: string, values: readonly string[], column: string): string
  createSchema(schema: string): string
  /** A query's first rows only. */
  first(query: string, rows: number): string
  /** One row; values by column name. */
  insert(table: Table, values: Readonly<Record<string, string | number | null>>): string
  createTable(table: Table): string
  constraint(constraint: Constraint): string
  dropTable(schema: string, name: string, ifExists: boolean): string
  renameTable(schema: string, from: string, to: string): string
  addColumn(table: Table, column: Column): string
  dropColumn(table: Table, column: Column): string
  renameMember(table: Table, kind: MemberKind, from: string, to: string): string
  addConstraint(table: Table, constraint: Constraint): string
  /** `ifExists` only where the engine can be asked. */
  dropConstraint(table: Table, name: string, ifExists?: boolean): string
  createIndex(table: Table, index: Index): string
  dropIndex(table: Table, index: Index): string
  /** What stands before and after the statements of a transaction in a script that must be one. */
  readonly around?: { readonly before: readonly string[]; readonly after: readonly string[] }
  /** A statement as it stands in a script, with its end, where a semicolon behind it is not enough. */
  inScript?(sql: string): string
  /** Nothing where the engine has no comments. */
  comment(table: Table, on: { kind: 'table' } | { kind: MemberKind; name: string }, text: string | undefined): string[]
}

export type Constraint =
  | { readonly kind: 'primaryKey' | 'unique'; readonly value: Key }
  | { readonly kind: 'foreignKey'; readonly value: ForeignKey }
  | { readonly kind: 'check'; readonly value: Check }
  | { readonly kind: 'exclusion'; readonly value: Exclusion }

export type HazardKind = 'loses data' | 'may fail' | 'rewrites table' | 'locks table' | 'cannot be undone'

/** What may go wrong, in a sentence. */
export interface Hazard {
  readonly kind: HazardKind
  readonly sentence: string
}

/** Queries that tell beforehand whether a step will fail: a count (one row, column `n`), and the rows themselves. */
export interface Preflight {
  readonly question: string
  readonly count: string
  readonly rows: string
  /** They are of what the steps before make of it: asked too early, they would be answered wrongly. */
  readonly later?: true
}

/** The option of a table that a virtual one makes for itself: that one's name. */
export const MADE_BY = 'made by'

/** One statement and what it does to the catalogue. The plan turns drafts into steps. */
export interface StepDraft {
  readonly statement: string
  readonly why: string
  readonly effects: readonly Change[]
  readonly hazards: readonly Hazard[]
  readonly preflight?: Preflight
  /** Which values stay, but not as they are: rounded, cut, or written otherwise. */
  readonly changed?: Preflight
  /** What it is about, where its effects do not say. */
  readonly about?: Address
  /** Statements that bring the structure back, where the effects turned round do not say. */
  readonly undo?: readonly string[]
  /** What was cut off may be sent again: what it has done it does not do twice. */
  readonly repeatable?: true
}

/** Bytes of a key, and of the widest of its columns, with the most that there may be of each. */
export interface KeyRoom {
  readonly bytes: number
  readonly most: number
  readonly widest: number
  readonly mostOfOne: number
}

/** A statement that changes many rows, carried out range by range: each is done by itself, and what was cut off goes on behind the last. */
export interface InRanges {
  /** Asks where the next range ends: one row, or none where it is the last. */
  end(after: string | undefined): string
  /** The end that a row says, as it is written down; nothing where it can be said of no such row. */
  endIn(row: readonly unknown[]): string | undefined
  /** The statement for what comes after one end, up to and with another; nothing said is all there is. */
  within(after: string | undefined, upTo: string | undefined): string
}

/** Which columns of documents name those that they belong to, and what is named. */
export type Pairs = readonly { readonly own: string; readonly key: string }[]

/** Documents of a table of their own that come to be in those of another, or come out of them; the tables as they stand by then. */
export interface DocumentCarrier {
  /** `columns`: what will hold them, and all that is in it by its path. */
  gather(own: Table, home: Table, columns: readonly Column[], pairs: Pairs): StepDraft[]
  spread(made: Table, home: Table, holder: Column, pairs: Pairs): StepDraft[]
  /** What a table that goes takes along, though its documents were gathered. */
  leftBehind(own: Table, home: Table, pairs: Pairs): Pick<StepDraft, 'hazards' | 'changed'>
}

export type InTheWay = 'nothing' | 'checks and foreign keys' | 'all that use it' | 'all of the table'

/** Changes of one object to statements, with their hazards; each function is told the table as it stands then. */
export interface Alterer {
  createTable(table: Table): StepDraft[]
  dropTable(table: Table): StepDraft[]
  renameTable(table: Table, to: string): StepDraft[]
  commentTable(table: Table, comment: string | undefined): StepDraft[]
  /** Another property of a table; nothing where the engine has no way to it. */
  alterTable(table: Table, property: string, to: unknown): StepDraft[] | undefined
  readonly documents?: DocumentCarrier
  /** What a new table gets once its keys and indexes are there. */
  finish?(table: Table): StepDraft[]
  addColumn(table: Table, column: Column): StepDraft[]
  dropColumn(table: Table, column: Column): StepDraft[]
  /** All changes of one column at once, but its name. */
  alterColumn(table: Table, from: Column, to: Column): StepDraft[]
  /** What must be taken out of the way, and put back, while a column changes. */
  inTheWay(from: Column, to: Column): InTheWay
  /** For a column that can be added only by making its table again: nothing may stand on the table then. */
  addedByRemaking?(column: Column): boolean
  renameMember(table: Table, kind: MemberKind, from: string, to: string): StepDraft[]
  addMember<K extends Constrained>(table: Table, kind: K, member: MemberOf[K]): StepDraft[]
  dropMember<K extends Constrained>(table: Table, kind: K, member: MemberOf[K]): StepDraft[]
  commentMember(
    table: Table,
    kind: MemberKind,
    name: string,
    from: string | undefined,
    to: string | undefined
  ): StepDraft[]
}

/** Something that stands by itself, or in a table or view by its own text. */
export type Carried = CatalogObject & { readonly address: Address }

/** Statements for what is no table and no column or key of one, and for what is said of any object from outside. */
export interface Carrier {
  /** The kinds that this engine can have. */
  readonly kinds: ReadonlySet<Kind>
  /** It is made with its comment and rights, and without what stands in it. */
  create(object: Carried): StepDraft[]
  drop(object: Carried): StepDraft[]
  /**
   * One property in place; nothing where the object must be made again for it. Of tables and columns: rights and owner.
   * `held` says of a type that rows have values of it.
   */
  alter(object: Carried, property: string, to: unknown, held?: boolean): StepDraft[] | undefined
  /** Several properties at once, where the engine judges them together; nothing where each is said by itself. */
  together?(object: Carried, changes: readonly (Change & { readonly action: 'alter' })[]): StepDraft[] | undefined
  /** Types made beside the old ones, which their columns then have; those that others are made of come first. */
  replaced?(types: readonly TypeAgain[]): StepDraft[]
}

/** A type that is made again beside the old one, and the columns that have it. */
export interface TypeAgain {
  readonly was: Carried
  readonly now: Carried
  readonly users: readonly TypeUser[]
}

/** A column of a type that is made again. */
export interface TypeUser {
  readonly table: Table
  readonly column: Column
}

/** The names that tables and columns of a plan have in the live database before its first step. */
export interface RebuildNames {
  /** A name that nobody has. */
  readonly temporary: string
  /** Nothing for a table that is yet to be made; `column` gives nothing for a column that is. */
  live(table: string): { readonly table: string; column(name: string): string | undefined } | undefined
}

/** Makes tables again. What it makes runs as one transaction, with foreign keys switched off around it. */
export interface Rebuilder {
  /** Whether the engine can make a change of a table without making the table again. */
  inPlace(table: Table, change: Change): boolean
  /** From one form of a table to another of the same name; columns of one name hold the same values. No effects are told. */
  steps(from: Table, to: Table, names: RebuildNames): StepDraft[]
}

/** Runs one read-only query; rows are keyed by column name. */
export type RunQuery = (sql: string) => Promise<readonly Readonly<Record<string, unknown>>[]>

export interface CatalogQueries {
  /** Reads the schemas named (all that are not the engine's own when none are), of a server whose version may be known. */
  read(query: RunQuery, schemas?: readonly string[], version?: string): Promise<Catalog>
  /** Absent for an engine whose client prints no such answers. */
  readonly byHand?: AskedByHand
}

/** How an engine's own client prints answers as lines of JSON. */
export interface AskedByHand {
  /** The client, as it is called in a shell: it reads statements and writes what they print. */
  readonly command: string
  readonly before: readonly string[]
  /** Prints what the answers are, and `taken`: the time. */
  heading(says: Readonly<Record<string, string>>): string
  /** Prints `{ question, row }` for each row. */
  each(sql: string, question: number): string
  /** Prints `{ answered }`. */
  ending(questions: number): string
}

/** What is said of a database as it is made, and can be said but at great cost later. */
export interface DatabaseSetting {
  readonly name: string
  readonly label: string
  /** What stands there when nobody says anything else. */
  readonly usual: string
  readonly meaning: string
  /** All that may stand there; absent where it is a name that only the server knows to have. */
  readonly values?: readonly string[]
}

/** Each by its name. */
export type DatabaseSettings = Readonly<Record<string, string>>

export interface NewDatabase {
  readonly settings: readonly DatabaseSetting[]
  /** The statement, with all settings said. Throws what is wrong, in a sentence, where a value is none. */
  statement(name: string, settings: DatabaseSettings): string
  /** What has the engine's own tool go there then; absent where making it does. */
  enter?(name: string): string
}
