// The shapes of a design. Each is declared once, as a schema; the TypeScript type is inferred from it.
import * as v from 'valibot'
import { AddressSchema, kindsFitting, PlacedObjectSchema, type PlacedObject } from '../catalog'
import { LETTERS, whyNoPattern, type PatternOf } from '../naming'
import { holdsFields, NeutralTypeSchema } from '../types'
import { keyed } from './keyed'

/**
 * A word that nobody reads anything into. Not one that every object has already (`constructor`): objects are looked up
 * by their ids. Not one with a mark that means something in a key path or a rule.
 */
const id = v.pipe(
  v.string(),
  v.regex(/^[\p{L}\p{N}_.:-]+$/u, 'an id is made of letters, digits and _ . : -'),
  v.check((word) => !(word in {}), 'an id cannot be a word that every object has')
)
/** Stands for the identifier that is added to an entity without a key, where its rows are named: it has no id of its own. */
export const IDENTIFIER = '#'
const row = v.union([v.literal(IDENTIFIER), id])
const name = v.pipe(v.string(), v.trim(), v.minLength(1, 'a name cannot be empty'))
const text = v.string()
const flag = v.boolean()
const number = v.pipe(v.number(), v.finite())
const once = (list: string[]) => new Set(list).size === list.length
/** Ids, each once. */
const ids = v.pipe(v.array(id), v.check(once, 'an id stands twice in one list'))
const rows = v.pipe(v.array(row), v.check(once, 'an id stands twice in one list'))

/** A word that a name can be made of. */
const word = v.pipe(v.string(), v.regex(/^[\p{Ll}\p{Lo}\p{N}]+$/u, 'it is one word, in small letters'))

/** Names of which words in braces stand for parts. */
const patternOf = (kind: PatternOf) =>
  v.optional(
    v.pipe(
      v.string(),
      v.check((text) => whyNoPattern(kind, text) === undefined, 'it is no pattern for names')
    )
  )

/** The name people say, and the database name where it does not follow from it by rule. */
const named = { id, name, dbName: v.optional(name) }

/** What can be said of a column's values. */
const valued = {
  type: NeutralTypeSchema,
  /** A value as people write it: `0`, `ferry`, `"in port"`, `now`, `(expression)`. */
  default: v.optional(text),
  min: v.optional(number),
  max: v.optional(number),
  /** Letters of one sort only. */
  letters: v.optional(v.picklist(['upper', 'lower'])),
  means: v.optional(text)
}

/** What columns of one sort have in common, under a name: when it changes, they change with it. */
export const DomainSchema = v.strictObject({
  id,
  name,
  ...valued,
  /** A condition in the words of SQL, in which `value` stands for the column. */
  rule: v.optional(text)
})
export type Domain = v.InferOutput<typeof DomainSchema>

/** What fills a column, and keeps it up, without anybody saying so: the moment, or the user. */
export const KEPT = ['made at', 'changed at', 'made by', 'changed by'] as const

/** A column that every entity has which does not do without it; a subtype has its supertype's. */
export const CommonSchema = v.strictObject({
  ...named,
  ...valued,
  required: flag,
  kept: v.optional(v.picklist(KEPT)),
  /** Its place among the others, from the least on; they come after the entity's own. */
  rank: number
})
export type Common = v.InferOutput<typeof CommonSchema>

const columnOf = v.strictObject({
  ...named,
  ...valued,
  required: flag,
  /** The domain it is of: then its type is the domain's. */
  domain: v.optional(id),
  /** The entity whose keys it holds, of a field, a list or a map: their type is that key's. */
  leadsTo: v.optional(id),
  /** It is worked out from other columns of its row: an expression in which, as in a rule, `{id}` stands for a column. */
  computed: v.optional(text),
  /** Which values it may hold, as an example of a document or for whoever reads. */
  /** It is as values told, and nobody has said so yet: of how many it was looked at in, how many had it, and the longest list. */
  guess: v.optional(v.strictObject({ of: number, there: number, longest: v.optional(number) })),
  sample: v.optional(v.pipe(text, v.regex(/^[^\r\n]*$/, 'a sample is one line')))
})
export interface Attribute extends v.InferOutput<typeof columnOf> {
  /** What its objects have, where its type holds objects: attributes of their own, to any depth. */
  readonly fields?: Attribute[] | undefined
}
const inner: v.GenericSchema<Attribute> = v.lazy(() => AttributeSchema)
export const AttributeSchema: v.GenericSchema<Attribute> = v.pipe(
  v.strictObject({ ...columnOf.entries, fields: v.optional(v.pipe(v.array(inner), v.minLength(1))) }),
  v.check(({ fields, type }) => fields === undefined || holdsFields(type), 'only an object has fields')
)

/** A set of attributes and links (by id), and the identifier, that tells one row from another. */
export const KeySchema = v.strictObject({ id, name: v.optional(name), parts: rows })
export type Key = v.InferOutput<typeof KeySchema>

export const IndexSchema = v.strictObject({
  id,
  name: v.optional(name),
  unique: flag,
  parts: v.array(v.strictObject({ id: row, descending: flag })),
  /** Only rows of which this holds, as a rule says it. */
  where: v.optional(text)
})
export type Index = v.InferOutput<typeof IndexSchema>

/** A rule over one row. In the text, `{id}` stands for an attribute, so that renames carry through. */
export const RuleSchema = v.strictObject({
  id,
  name: v.optional(name),
  /** The constraint's whole name, where it does not follow from the table's and the rule's. */
  dbName: v.optional(name),
  condition: text
})
export type Rule = v.InferOutput<typeof RuleSchema>

export const EntitySchema = v.strictObject({
  ...named,
  namespace: v.optional(name),
  /** The area it belongs to, which gives it its tint. */
  area: v.optional(id),
  means: v.optional(text),
  /** It is a collection of documents; where there are none, a table. */
  collection: v.optional(v.literal(true)),
  attributes: v.array(AttributeSchema),
  /** Ids of attributes and of links that end here, in the order of the table's columns. */
  order: v.array(id),
  /** Ids of attributes and identifying links; empty: an identifier is added. */
  primaryKey: ids,
  /** What is otherwise than usual of the identifier that is added. */
  identifier: v.optional(
    v.strictObject({
      name: v.optional(name),
      dbName: v.optional(name),
      kind: v.optional(v.picklist(['small', 'integer', 'big', 'uuid'])),
      /** The first number, and by how much each next one is greater. */
      start: v.optional(v.pipe(number, v.integer())),
      step: v.optional(
        v.pipe(
          number,
          v.integer(),
          v.check((n) => n !== 0, 'a step of nothing')
        )
      )
    })
  ),
  /** The columns that every entity has, and it has not. */
  without: v.optional(ids),
  /** The primary key's name, where it does not follow from the table's. */
  keyName: v.optional(name),
  uniques: v.array(KeySchema),
  indexes: v.array(IndexSchema),
  rules: v.array(RuleSchema)
})
export type Entity = v.InferOutput<typeof EntitySchema>

export const ActionSchema = v.picklist(['restrict', 'cascade', 'set null', 'set default', 'no action'])

export const LinkSchema = v.strictObject({
  id,
  parent: id,
  child: id,
  kind: v.picklist(['one-to-many', 'one-to-one', 'many-to-many']),
  /** What the child calls the parent; needed where two links join the same entities. */
  role: v.optional(name),
  /** What the parent calls the child, in a many-to-many or where it holds it. */
  childRole: v.optional(name),
  /** The parent's key joins the child's. */
  identifying: flag,
  /** A child row must name a parent. */
  parentRequired: flag,
  /** A parent row must have a child: drawn and documented; engines cannot keep it. */
  childRequired: flag,
  /** A unique key of the parent that the link goes to, where it is not the primary key. */
  parentKey: v.optional(id),
  onDelete: ActionSchema,
  onUpdate: ActionSchema,
  deferrable: v.optional(flag),
  /** Where an engine keeps documents, the child's are kept in the parent's, in a list or as one object. */
  embedded: v.optional(flag),
  /** Drawn, never generated. */
  drawnOnly: v.optional(flag),
  /** The foreign key's name, or the bridge table's for a many-to-many. */
  dbName: v.optional(name),
  /** Attributes of the child that hold the parent's key: key path (see `KeyColumn`) → attribute id. */
  columns: keyed(text, id),
  /** The names that a many-to-many's table has by hand: its key, its foreign keys, and columns by `side path`. */
  bridge: v.optional(
    v.strictObject({
      key: v.optional(name),
      foreignKeys: v.optional(v.strictObject({ parent: v.optional(name), child: v.optional(name) })),
      columns: v.optional(keyed(text, name))
    })
  ),
  /** How one reads it from the parent to the child, and back: “makes”, “is made by”. */
  phrase: v.optional(v.strictObject({ down: v.optional(name), up: v.optional(name) })),
  means: v.optional(text)
})
export type Link = v.InferOutput<typeof LinkSchema>

export const SubtypesSchema = v.strictObject({
  id,
  supertype: id,
  subtypes: ids,
  /** The column that says which subtype a row is, where all live in one table. */
  discriminator: name,
  /** Every row of the supertype is of one of the subtypes. */
  complete: flag,
  /** A row is of one subtype at most. */
  exclusive: flag,
  /** The names by hand of the foreign keys to the supertype's table, by subtype. */
  foreignKeys: v.optional(keyed(id, name))
})
export type Subtypes = v.InferOutput<typeof SubtypesSchema>

/** What a query gives, under a name of its own: drawn, compared and planned beside the tables that it reads. */
export const ViewSchema = v.strictObject({
  ...named,
  namespace: v.optional(name),
  area: v.optional(id),
  means: v.optional(text),
  /** The query in SQL, with references to what it names (see `referencesIn`), so that new names carry through. */
  text,
  /** The query in the words of one engine, where it needs others; by the engine's id. */
  texts: keyed(text, text)
})
export type View = v.InferOutput<typeof ViewSchema>

const place = v.strictObject({ x: number, y: number })
export type Place = v.InferOutput<typeof place>

const tint = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(5))
export const AreaSchema = v.strictObject({ id, name, tint })
export type Area = v.InferOutput<typeof AreaSchema>

/** What can stand beside the names on cards. */
export const BESIDE_NAMES = ['types', 'required', 'database names', 'defaults', 'meanings'] as const
export type BesideName = (typeof BESIDE_NAMES)[number]

/** A text on a diagram, or a frame with a label; pixels from its top left corner. */
export const NoteSchema = v.strictObject({
  id,
  kind: v.picklist(['note', 'frame']),
  text,
  x: number,
  y: number,
  width: v.pipe(number, v.minValue(20)),
  height: v.pipe(number, v.minValue(20)),
  tint,
  /** Whether it is in front of cards or behind them; notes are in front and frames behind when absent. */
  front: v.optional(flag),
  /** The entity or view that it is about: a line leads there, where it stands on the diagram. */
  about: v.optional(id),
  /** Another diagram, which it leads to. */
  leadsTo: v.optional(id)
})
export type Note = v.InferOutput<typeof NoteSchema>

/** What is not there any more of the ids that it names counts for nothing. */
export const DiagramSchema = v.strictObject({
  id,
  name,
  /** Its place among the others, from the least on; those without one come last. */
  rank: v.optional(number),
  /** Only this area's entities; all when absent. */
  area: v.optional(id),
  /** Only these entities and views. */
  only: v.optional(v.array(id)),
  /** Not these entities and views; and these in grey, as what is beside the matter. */
  hidden: v.optional(v.array(id)),
  grey: v.optional(v.array(id)),
  /** Names and links alone, or the tables of a target; columns of neutral types, with the keys that links bring, when absent. */
  level: v.optional(v.picklist(['conceptual', 'physical'])),
  target: v.optional(id),
  /** Of each entity, only what is in its keys and links, or its name alone; all when absent. */
  columns: v.optional(v.picklist(['keys', 'names'])),
  /** What stands beside the names; types, what must be filled and database names when absent. */
  shows: v.optional(v.array(v.picklist(BESIDE_NAMES))),
  /** The attributes whose fields are not shown. */
  folded: v.optional(v.array(id)),
  /** Long names of columns go on in another line; they are cut when absent. */
  wrapped: v.optional(flag),
  /** Pixels, of cards that are not as wide as their text. */
  widths: v.optional(keyed(id, v.pipe(number, v.minValue(60)))),
  /** The ways of lines; right-angled with round corners when absent. */
  lines: v.optional(v.picklist(['straight', 'right-angled', 'curved'])),
  notes: v.optional(v.array(NoteSchema)),
  /** What measures and what is measured by: drawn as stars. */
  stars: v.optional(keyed(id, v.picklist(['fact', 'dimension']))),
  /** How cards and lines are drawn; as crow's foot when absent. */
  notation: v.optional(v.picklist(['idef1x', 'uml', 'barker', 'chen'])),
  /** The middle of the top edge of a card is not kept: its top left corner is. Entities without a place are laid out. */
  places: keyed(id, place)
})
export type Diagram = v.InferOutput<typeof DiagramSchema>

export const NESTED = ['document', 'table'] as const

export const SUBTYPE_TABLES = ['joined', 'one table'] as const

/** An object of the catalogue by what it was made from. */
const made = { id, part: text }

/**
 * Something that this target has otherwise than the design says; without a value, it has none. With `instead`, only for as
 * long as the design says that.
 */
export const DepartureSchema = v.union([
  v.pipe(
    v.strictObject({
      ...made,
      property: text,
      value: v.optional(v.unknown()),
      instead: v.optional(v.strictObject({ value: v.optional(v.unknown()) }))
    }),
    v.check(({ property, value }) => kindsFitting(property, value).length > 0, 'no value of such a property')
  ),
  v.strictObject({ ...made, absent: v.literal(true) })
])
export type Departure = v.InferOutput<typeof DepartureSchema>

/** Something that this target has beside the design: a catalogue object as it stands, and where. */
export const ExtraSchema = PlacedObjectSchema
export type Extra = PlacedObject

/** What is not compared in this target, and why. */
export const IgnoredSchema = v.strictObject({
  /** One property of one object, or an object with all that is in it: a schema too. */
  ...AddressSchema.entries,
  property: v.optional(text),
  reason: text
})
export type Ignored = v.InferOutput<typeof IgnoredSchema>

/** A statement written by hand that runs before or after a step of the plan. */
export const HandStepSchema = v.strictObject({
  id,
  statement: text,
  place: v.picklist(['before', 'after']),
  /** The change that the step makes, as `stepKey` has it; the plan's beginning or end when it is not in the plan. */
  anchor: text
})
export type HandStep = v.InferOutput<typeof HandStepSchema>

export const SavedQuerySchema = v.strictObject({ id, name, sql: text })
export type SavedQuery = v.InferOutput<typeof SavedQuerySchema>

/** Text of one line: what is said to a server in its start-up ends at a control character, and something else begins. */
export const lineText = v.pipe(
  v.string(),
  v.regex(/^[^\u0000-\u001f\u007f]*$/, 'There are control characters in it: type it again, on one line.')
)

const PORT = 'A port is a number from 1 to 65535.'

/** Where a server is and what to call there. The password is never part of a design. */
export const ServerSchema = v.strictObject({
  host: lineText,
  port: v.pipe(number, v.integer(), v.minValue(1, PORT), v.maxValue(65_535, PORT)),
  database: lineText,
  user: lineText,
  tls: v.optional(flag)
})
export type ServerAddress = v.InferOutput<typeof ServerSchema>

/** How database names follow from what people say. */
const naming = {
  tablePrefix: text,
  /** Whether tables are called by one or by many; as people say it when absent. */
  tables: v.optional(v.picklist(['singular', 'plural'])),
  /** Its letters; as the engine has names without quotes when absent. */
  letters: v.optional(v.picklist(LETTERS)),
  /** What stands between words; `_` when absent. */
  separator: v.optional(v.picklist(['_', ''])),
  /** How things are called, where not as usual. */
  patterns: v.optional(
    v.strictObject({
      table: patternOf('table'),
      view: patternOf('view'),
      column: patternOf('column'),
      bridge: patternOf('bridge'),
      pk: patternOf('pk'),
      fk: patternOf('fk'),
      uq: patternOf('uq'),
      ck: patternOf('ck'),
      ix: patternOf('ix')
    })
  )
}

/** The kinds of things that a script may be of. */
export const SCRIPT_PARTS = ['tables', 'foreign keys', 'indexes', 'views', 'others', 'comments'] as const

/** How the scripts of a target are written, where not as usual. */
export const ScriptSchema = v.strictObject({
  /** Makes what there is when absent; or takes it away, or takes it away and makes it. */
  make: v.optional(v.picklist(['drop', 'both'])),
  /** What is left out. */
  without: v.optional(v.array(v.picklist(SCRIPT_PARTS))),
  /** A file for each object, in an order that runs. */
  files: v.optional(v.literal('each')),
  /** Every name in quotes. */
  quoting: v.optional(v.literal('always')),
  /** What ends a statement, where it is not a semicolon: it stands on a line of its own. */
  separator: v.optional(v.pipe(text, v.trim(), v.minLength(1), v.maxLength(20))),
  /** Commands as a list in JSON, where an engine has commands: else for its shell. */
  form: v.optional(v.literal('json')),
  before: v.optional(text),
  after: v.optional(text)
})
export type ScriptSettings = v.InferOutput<typeof ScriptSchema>

export const TargetSchema = v.strictObject({
  id,
  name,
  engine: v.string(),
  version: v.string(),
  environment: v.picklist(['development', 'test', 'staging', 'production']),
  /** Where its database is: one that lives in this browser, a server, or none yet (scripts only). */
  connection: v.picklist(['embedded', 'server', 'none']),
  server: v.optional(ServerSchema),
  /** It shows everything and runs nothing until it is unlocked for one run. */
  locked: v.optional(flag),
  /** Runs are also written down in a table of the database. */
  ledger: v.optional(flag),
  departures: v.optional(v.array(DepartureSchema)),
  extras: v.optional(v.array(ExtraSchema)),
  ignored: v.optional(v.array(IgnoredSchema)),
  handSteps: v.optional(v.array(HandStepSchema)),
  queries: v.optional(v.array(SavedQuerySchema)),
  /** How subtypes become tables, by the id of their group; joined when not said. */
  subtypeTables: keyed(id, v.picklist(SUBTYPE_TABLES)),
  /** How an attribute that holds others is kept, where not as the engine does best: as a document, or in a table of its own. */
  nested: v.optional(keyed(id, v.picklist(NESTED))),
  /** Namespace → schema. A namespace that is not named here has a schema of its own name. */
  schemas: keyed(text, text),
  /** Names by other rules than the design's, in what is said here. */
  naming: v.optional(v.partial(v.strictObject(naming))),
  script: v.optional(ScriptSchema)
})
export type Target = v.InferOutput<typeof TargetSchema>

/** A check that a team has of its own: an expression over the design, in JSONata, that gives what is wrong. */
export const OwnCheckSchema = v.strictObject({
  id,
  name,
  expression: text,
  /** Why it matters. */
  why: v.optional(text),
  grade: v.picklist(['error', 'warning', 'info'])
})
export type OwnCheck = v.InferOutput<typeof OwnCheckSchema>

/** A check of the review that counts for more, for less or for nothing, in the whole design or for one object. */
export const GradingSchema = v.strictObject({
  id,
  check: name,
  at: v.optional(id),
  grade: v.picklist(['error', 'warning', 'info', 'off']),
  reason: name
})
export type Grading = v.InferOutput<typeof GradingSchema>

export const SettingsSchema = v.strictObject({
  /** What identifies an entity that has no key of its own. */
  identifier: v.picklist(['integer', 'big', 'uuid']),
  ...naming,
  /** Short words of database names, and what people say for each, in small letters. */
  abbreviations: v.optional(keyed(word, word)),
  /** The engine that scripts and types are shown for where no target is meant. */
  scriptFor: v.optional(v.strictObject({ engine: name, version: name }))
})
export type Settings = v.InferOutput<typeof SettingsSchema>

/** Objects are kept by id, so that two designs can be held against each other object by object. */
export const DesignSchema = v.strictObject({
  id,
  name,
  settings: SettingsSchema,
  entities: keyed(id, EntitySchema),
  links: keyed(id, LinkSchema),
  subtypes: keyed(id, SubtypesSchema),
  areas: keyed(id, AreaSchema),
  diagrams: keyed(id, DiagramSchema),
  targets: keyed(id, TargetSchema),
  views: keyed(id, ViewSchema),
  domains: keyed(id, DomainSchema),
  commons: keyed(id, CommonSchema),
  checks: keyed(id, OwnCheckSchema),
  grades: keyed(id, GradingSchema)
})
export type Design = v.InferOutput<typeof DesignSchema>

/** The collections of a design, and the schema of what each holds. */
export const COLLECTIONS = {
  areas: AreaSchema,
  checks: OwnCheckSchema,
  commons: CommonSchema,
  diagrams: DiagramSchema,
  domains: DomainSchema,
  entities: EntitySchema,
  grades: GradingSchema,
  links: LinkSchema,
  subtypes: SubtypesSchema,
  targets: TargetSchema,
  views: ViewSchema
} as const
export type CollectionName = keyof typeof COLLECTIONS
