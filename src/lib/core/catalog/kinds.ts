// The one table of the kinds of things that a catalogue holds. Whatever walks, compares, orders or names objects reads it.
import type { FreeKind, FreeOf, Kind, MemberKind, MemberOf } from './shapes'

export interface KindRow {
  /** What it is called in a sentence, and many of it. */
  readonly word: string
  readonly many: string
  /** Where its objects stand in a catalogue, or in the table or view that they are in; a list, but for `single`. */
  readonly list: string
  readonly single?: true
  /** It stands in a schema. */
  readonly inSchema?: true
  /** A design says all of it. What is only carried is left as it is where a design does not mention it. */
  readonly designed?: true
  /** The properties that are compared and changed one by one. */
  readonly properties: readonly string[]
  /** What is kept of it, and is no difference by itself. */
  readonly silent?: readonly string[]
}

const owned = ['comment', 'rights'] as const
const counting = ['start', 'increment', 'min', 'max', 'cache', 'cycle'] as const

/** Kinds that stand by themselves, in the order in which a script of a whole database has them where nothing else decides. */
export const FREE: { readonly [K in FreeKind]: KindRow & { readonly list: keyof CatalogLists } } = {
  schema: { word: 'schema', many: 'schemas', list: 'schemas', properties: owned },
  extension: { word: 'extension', many: 'extensions', list: 'extensions', properties: ['schema', 'comment'] },
  type: {
    word: 'type',
    many: 'types',
    list: 'types',
    inSchema: true,
    properties: ['form', 'values', 'base', 'collation', 'nullable', 'default', 'checks', 'fields', 'options', ...owned]
  },
  sequence: {
    word: 'sequence',
    many: 'sequences',
    list: 'sequences',
    inSchema: true,
    properties: ['type', ...counting, 'ownedBy', 'options', ...owned]
  },
  routine: {
    word: 'routine',
    many: 'routines',
    list: 'routines',
    inSchema: true,
    properties: ['form', 'signature', 'definition', ...owned]
  },
  table: {
    word: 'table',
    many: 'tables',
    list: 'tables',
    inSchema: true,
    designed: true,
    properties: ['inherits', 'partition', 'parted', 'module', 'options', ...owned],
    silent: ['written', 'joins', 'refs']
  },
  view: {
    word: 'view',
    many: 'views',
    list: 'views',
    inSchema: true,
    properties: ['materialized', 'columns', 'query', 'options', 'notes', ...owned]
  },
  defaultRights: { word: 'default rights', many: 'default rights', list: 'defaultRights', properties: ['rights'] }
}

/** Kinds that stand in a table; some of them in a view too. */
export const INNER: { readonly [K in MemberKind]: KindRow & { readonly inView?: true } } = {
  column: {
    word: 'column',
    many: 'columns',
    list: 'columns',
    designed: true,
    properties: [
      'type',
      'nullable',
      'default',
      'identity',
      'counting',
      'generated',
      'virtual',
      'collation',
      'options',
      'rights',
      'comment'
    ],
    silent: ['neverEmpty', 'inherited', 'fill', 'seen', 'refs']
  },
  primaryKey: {
    word: 'primary key',
    many: 'primary keys',
    list: 'primaryKey',
    single: true,
    designed: true,
    properties: ['columns', 'parts', 'include', 'deferrable', 'options', 'comment']
  },
  unique: {
    word: 'unique rule',
    many: 'unique rules',
    list: 'uniques',
    designed: true,
    properties: ['columns', 'parts', 'include', 'nullsAlike', 'deferrable', 'options', 'comment']
  },
  foreignKey: {
    word: 'foreign key',
    many: 'foreign keys',
    list: 'foreignKeys',
    designed: true,
    properties: ['columns', 'references', 'onDelete', 'onUpdate', 'deferrable', 'match', 'options', 'comment']
  },
  check: {
    word: 'check',
    many: 'checks',
    list: 'checks',
    designed: true,
    properties: ['expression', 'options', 'comment'],
    silent: ['inherited', 'refs']
  },
  exclusion: {
    word: 'exclusion',
    many: 'exclusions',
    list: 'exclusions',
    properties: ['definition', 'comment']
  },
  index: {
    word: 'index',
    many: 'indexes',
    list: 'indexes',
    designed: true,
    inView: true,
    properties: ['unique', 'parts', 'include', 'where', 'method', 'nullsAlike', 'options', 'comment'],
    silent: ['refs']
  },
  trigger: {
    word: 'trigger',
    many: 'triggers',
    list: 'triggers',
    inView: true,
    properties: ['definition', 'enabled', 'comment']
  },
  policy: { word: 'row policy', many: 'row policies', list: 'policies', properties: ['definition', 'comment'] },
  rule: { word: 'rule', many: 'rules', list: 'rules', inView: true, properties: ['definition', 'enabled', 'comment'] }
}

/** Of each kind that stands by itself, the list that a catalogue has. */
export interface CatalogLists {
  schemas: FreeOf['schema']
  extensions: FreeOf['extension']
  types: FreeOf['type']
  sequences: FreeOf['sequence']
  routines: FreeOf['routine']
  tables: FreeOf['table']
  views: FreeOf['view']
  defaultRights: FreeOf['defaultRights']
}

export const KINDS: Readonly<Record<Kind, KindRow>> = { ...FREE, ...INNER }

export const FREE_KINDS = Object.keys(FREE) as readonly FreeKind[]
export const MEMBER_KINDS = Object.keys(INNER) as readonly MemberKind[]
export const VIEW_MEMBER_KINDS = MEMBER_KINDS.filter((kind) => INNER[kind].inView)

/** What holds a table's rows together: made from its columns, and changed by the plan with them. */
export type Constrained = 'foreignKey' | 'exclusion' | 'check' | 'index' | 'unique' | 'primaryKey'
/** In an order in which they let go of each other. */
export const CONSTRAINED: readonly Constrained[] = ['foreignKey', 'exclusion', 'check', 'index', 'unique', 'primaryKey']
export const isConstrained = (kind: Kind): kind is Constrained => (CONSTRAINED as readonly Kind[]).includes(kind)

/** Whether an object stands by its own text or by itself, and is no part of what holds rows. */
export const isCarried = (kind: Kind): boolean => kind !== 'table' && kind !== 'column' && !isConstrained(kind)

export const isFree = (kind: Kind): kind is FreeKind => kind in FREE

/** What each kind of thing is called in a sentence. */
export const KIND_WORDS = Object.fromEntries(Object.entries(KINDS).map(([kind, { word }]) => [kind, word])) as Readonly<
  Record<Kind, string>
>

/** The properties that are compared and changed one by one, for each kind of object. */
export const PROPERTIES = Object.fromEntries(
  Object.entries(KINDS).map(([kind, { properties }]) => [kind, properties])
) as Readonly<Record<Kind, readonly string[]>>

export type ObjectOf = MemberOf & FreeOf
