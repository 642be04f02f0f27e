// What the help tells, each under the question that one comes with.
export interface Topic {
  readonly title: string
  readonly text: readonly string[]
}

export const TOPICS: readonly Topic[] = [
  {
    title: 'From nothing to a script',
    text: [
      'Type the name of an entity into “New entity” and press Enter. Then type its columns: a name, Tab, a type, Enter, the next name.',
      'The Script lens shows what an engine gets, at once and for any engine: choose one above the script. There need be no database.',
      'A target is a place that the design is deployed to. Add one in the line below, and its distance from the design is always in sight.'
    ]
  },
  {
    title: 'The design in words',
    text: [
      'The Text lens has the whole design as lines: entity Visit, and under it, further in, berth: Berth required. A name, a colon, a type, and words about it; the name of an entity as a type is a link. Without a type it is guessed from the name: arrives at is a timestamp.',
      'part of Visit joins that key to this one; check (departs at > arrives at), index (arrives at desc), unique (a, b) and key (a, b) are of several columns; means says what something is; # begins a remark. many Vessel is many to many, one Vessel one to one. every entity has created at is said of all.',
      'After a pause the other lenses follow; what is changed there changes only the lines concerned. A mistake is underlined and told, and costs its line alone. A name changed in its line is a new name of the same thing.',
      'Ctrl Space completes, F8 goes to the next mistake, Undo is of the design. On the command line, FILE.jot is a source, and ramblet jot SOURCE writes one. Views, targets and places on diagrams have no words there, and stay as they are.'
    ]
  },
  {
    title: 'Types',
    text: [
      'Types are those of no engine: text(80), integer, decimal(12,2), timestamp with zone, one of (bulk, tanker). Each engine gets its own nearest; what that means is told beside it.',
      'The words of engines and everyday ones are understood, too: varchar(40), int, bool, datetime2, number(10). What they become is said.',
      'The first letters are enough: dec and Enter takes decimal(12,2), as the list shows.',
      'serial, identity or auto_increment makes the column the key of its entity, numbered by the engine. native "…" is for one engine’s own words.'
    ]
  },
  {
    title: 'Links',
    text: [
      'Type the name of an entity as a type: the column becomes a link to it, and its foreign key follows from the other’s key. “one Vessel” is one to one, “many Pilot” many to many. In what is nested, a field leads to it so, too, and “list of Berth” holds many of its keys.',
      'The rules of a link: part of (its key joins this key), at least one, on delete cascade, drawn only, embedded (its documents are kept in the other’s). All else of a link is in “All of it”.'
    ]
  },
  {
    title: 'Drawing',
    text: [
      'Take Entity and click where it is to stand: its name is in hand, then its columns, each in a line as name: type required. A double click on a card or a row opens it again; a row that is selected is dragged to another place.',
      'Take Link and drag from the entity that is referred to, onto the one that refers to it, or onto a column that is to hold its key. What it would be is told before you let go.',
      'Shift and a drag choose cards; they are moved, set in line, laid out, made grey or hidden together, for this diagram alone. Copied cards can be put into another design.',
      'The level of a diagram: names and links alone, columns of neutral types, or the tables of a target. What is selected says what it became there, and what it came from. Look has the notation, what stands beside names, the ways of lines, and widths.',
      'Notes and frames belong to a diagram and may lead to another. “Of facts and dimensions” makes a diagram of stars, with the reason for each.'
    ]
  },
  {
    title: 'Documents',
    text: [
      'For MongoDB an entity is a collection, and a link the key of another. “As a document”, in all of a link, keeps what it leads from within what it leads to: as a list, or as one object. What comes of either is told there; tables stay as they are.',
      'Changed later, documents move by a plan: it may be cut off anywhere, and says what would be left behind. Choose only that they come in, and the collection stays until a second plan takes it away.',
      '“What the documents are”, under the differences, counts those that do not fit, and finds fields that nobody designed. Documents in files, or of a database, tell fields: such a guess says in how many they are, until you say that it is so.',
      '“JSON Schema”, above the script, saves what a document of each entity is. Such files are read where a design begins from what exists.'
    ]
  },
  {
    title: 'Keys, indexes and rules over several columns',
    text: [
      '“All of it” (Alt Enter) shows what an entity has beside its columns. A key, a rule that something is unique, an index: each is a list of columns, separated by commas; “down” after a column of an index puts its greatest value first.',
      'A rule is a condition over the columns of one row, as in departs_at > arrives_at. Columns are renamed in it by themselves.',
      'An entity without a key gets a number of its own, under the name that one gives it, from the number on and in the steps that one says. An index may be of some rows only.'
    ]
  },
  {
    title: 'What one engine alone has',
    text: [
      '“Only in …”, in all of an entity, has the options of the target whose script is shown: how a table is kept, how text is compared, what an index is for. Choose of what, which, and a value; what it means is said beside it.',
      'An option is said for that target alone. “As usual” takes it away where a database has it; taken off the list, it is left as the database has it.'
    ]
  },
  {
    title: 'Many rows at once',
    text: [
      'Choose rows with Shift and the arrow keys, Ctrl and a click, or Ctrl A, in one entity or across several. What is typed then is for all of them, as one step that can be undone; what one of them does not take is said.',
      'Rows are copied as a spreadsheet has them, and rows of a spreadsheet are pasted as columns: name, type, required or not, default, rules, meaning. A table with columns of its own, or with headings, is shown first: say what each column says.'
    ]
  },
  {
    title: 'Domains',
    text: [
      'A domain is what columns of one sort have in common: type, default, limits, letters, and a rule that speaks of “value”. Name it on the Words lens; then type its name as a type. When it changes, its columns do.',
      '“Domains for columns” lists columns of one name and type together: choose some, press Enter, and name the domain that they get. A new name makes a domain of them.',
      'Domains are copied from another design on the shelf, or from a file.'
    ]
  },
  {
    title: 'Columns of every entity',
    text: [
      'When a row was made or changed, and by whom, whose it is: say it once on the Words lens, and every table has it. What is “filled by itself” has a default and, where it changes, what the engine has for that: a trigger, or a word at the column.',
      'An entity does without one of them in “All of it” (Alt Enter). Diagrams leave them out.'
    ]
  },
  {
    title: 'Names in databases',
    text: [
      'Database names follow from the names that people say. Short words say how: with qty for quantity, “quantity left” is qty_left. A name set by hand stays.',
      'Names by rule: what tables begin with, one or many, which letters are large, and a pattern for tables, views, columns, bridge tables, keys and the rest. All that would change is shown before it does. A target may have rules of its own.'
    ]
  },
  {
    title: 'Scripts as you want them',
    text: [
      'Above the script: of everything, of what is chosen, of an area, or what a target’s database lacks. Options say what it makes or removes, of which parts, in one file or one for each object, names in quotes, what ends a statement, and what stands before and after. A target keeps them.',
      'What a script will do is said before it is saved; so is the script of a plan, under the plan.',
      'On the command line: ramblet script SOURCE with --make, --without, --quoting, --separator, --before, --after, --files.'
    ]
  },
  {
    title: 'Starting from what exists',
    text: [
      '“Start from what exists” on the shelf reads servers, scripts, SQLite files, office databases and spreadsheets. You see what would come, and what would not, before anything is made.',
      'What nobody wrote down, links without a foreign key say, is offered with its reason, and taken only if you say so.'
    ]
  },
  {
    title: 'Comparing and migrating',
    text: [
      'Compare holds a database beside the design, and tells who changed what since both last agreed. Each difference is written to the database, taken into the design, or left.',
      'The plan shows each statement before it runs, what may go wrong, the rows that speak against it, and the way back. A run stops where you say, and goes on from where it was cut off.'
    ]
  },
  {
    title: 'Review',
    text: [
      'Review looks the design over: what an engine would refuse, what is likely to make trouble, what is worth a thought. Many findings are mended with one press, or all of a sort with another.',
      'What does not hold in your case counts otherwise, with a reason that travels in the file. Checks of your own are expressions in JSONata over the design.',
      'On the command line: ramblet review SOURCE ends with 1 where something must be mended; with --strict, where there is a warning.'
    ]
  },
  {
    title: 'Checkpoints, undo, and files',
    text: [
      'Everything is kept in this browser as you type. Undo goes back step by step, also after the page is loaded again.',
      'A checkpoint is a state under a name: see what has changed since, or between any two, and go back to one.',
      'The design file is text with one object a line, made for a repository: it merges well, and the command line reads it.'
    ]
  },
  {
    title: 'Several engines from one design',
    text: [
      'Each target has its own engine and version. What an engine has otherwise, or not at all, is told as a remark on its script; what it would refuse is an error there, and nowhere else.',
      'What one target alone has otherwise, by name, type or statement, is its departure from the design, and stays so.'
    ]
  },
  {
    title: 'Where things are kept, and who sees them',
    text: [
      'Designs and embedded databases stay in this browser until you save them to a file. Passwords are used and never kept.',
      'A production target shows everything and runs nothing until it is unlocked for one run.'
    ]
  }
]
