// The notation by examples: each is a whole small design, which the tests read and run.
export interface Sample {
  readonly title: string
  readonly says: string
  readonly text: string
}

export const SAMPLES: readonly Sample[] = [
  {
    title: 'Entities and columns',
    says: 'A line in the first column opens something; lines further in belong to it. A column is name: type and words about it. Where the type is missing it is guessed from the name.',
    text: `entity Vessel
  means a ship that calls at the harbour
  imo: integer required unique means the number painted on the hull
  name: text(80) required
  trade: one of (bulk, tanker, ferry) default ferry
  length overall = loa: decimal(6,2) min 0 max 500
  arrives at:
`
  },
  {
    title: 'Links',
    says: 'The name of an entity in the place of a type is a link: many of these to one of those. One and many before it say otherwise; part of puts its key into the key.',
    text: `entity Vessel
  name: text(80) required

entity Visit
  vessel: Vessel required on delete cascade
  arrives at: timestamp required

entity Cargo line
  part of Visit
  line no: small key
  goods: text(120) required

entity Pilot
  licence: text(12) required unique
  may board: many Vessel
`
  },
  {
    title: 'Keys, indexes and rules',
    says: 'Columns together stand in parentheses. A rule is a condition over one row, in the names of its columns; so is what a column is worked out from.',
    text: `entity Berth
  code: text(8) key
  depth: decimal(5,2) required
  in feet: decimal(7,2) computed (depth * 3.28)
  closed from: date
  closed to: date
  check (closed to > closed from) closed in order
  index (depth desc, code)

entity Tariff
  berth: Berth required
  valid from: date required
  amount: decimal(12,2) required min 0
  unique (berth, valid from)
`
  },
  {
    title: 'What many have in common',
    says: 'A domain is a type with a name. Every says what holds for all entities, and no what one of them does without.',
    text: `every table begins th_
every entity has created at, updated at

domain Money: decimal(12,2) min 0
domain Flag code: char(2) upper

entity Country
  code: Flag code key
  name: text(80) required
  no updated at

entity Fee
  amount: Money required
  country: Country
`
  },
  {
    title: 'Kinds, areas and schemas',
    says: 'A subtype has the key of what it is a kind of. Area groups what is drawn together, namespace what is in one schema.',
    text: `area Fleet

entity Craft
  name: text(80) required

subtype Tug of Craft by craft complete exclusive
  bollard pull: decimal(6,1) required

subtype Barge of Craft by craft complete exclusive
  holds: decimal(8,1)

area Books
namespace billing

entity Invoice
  no: integer key
  craft: Craft required
`
  },
  {
    title: 'Lists and nested objects',
    says: 'Fields stand further in below an object, to any depth. A target keeps what is nested as a document, as a list of the engine, or in tables of its own.',
    text: `collection Inspection
  ref: text(12) key
  taken at: timestamp required
  place: object required
    berth: text(8) required
    depth: decimal(5,2)
  findings: list of object
    code: text(10) required
    severity: one of (minor, major, "on hold")
    photos: list of text(80)
  tags: list of text(20)
  measures: map of text(10) to decimal(8,2)
`
  },
  {
    title: 'Views',
    says: 'The query of a view stands below its name, in the names that tables and columns have.',
    text: `entity Vessel
  name: text(80) required
  scrapped: boolean default no

view Afloat
  SELECT name FROM vessel WHERE NOT scrapped
`
  }
]

/** Words, and what they say. */
export const WORDS: readonly (readonly [string, string])[] = [
  ['required', 'it has a value in every row'],
  ['key', 'it is in the key; several in the order of their lines'],
  ['unique', 'no two rows have one value'],
  ['index', 'rows are found by it'],
  ['default V', 'a number, a word, "text", now, or (an expression)'],
  ['min N, max N', 'the least and the greatest'],
  ['upper, lower', 'letters of one sort'],
  ['computed (…)', 'it is worked out from other columns of its row'],
  ['sample V', 'a value that it might have'],
  ['on delete, on update', 'restrict, cascade, set null, set default, no action'],
  ['at least one', 'the parent must have such a row: drawn, and no engine keeps it'],
  ['to (a, b)', 'to another unique key of the parent'],
  ['drawn only', 'never generated'],
  ['embedded', 'where documents are kept: in those that it leads to; embedded as crew says what these call them'],
  ['means …', 'to the end of the line: what it is']
]
