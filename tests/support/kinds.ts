// Which kinds of things the tests on other people's statements have shown, and what of them: a table for the documents.
import {
  FREE_KINDS,
  MEMBER_KINDS,
  isView,
  KIND_WORDS,
  KINDS,
  members,
  objectsOf,
  type Catalog,
  type Change,
  type Kind,
  type Options
} from '../../src/lib/core/catalog'
import { optionOf, type Dialect } from '../../src/lib/core/dialects'

export const ABILITIES = [
  'read and written',
  'read of a script',
  'taken away and put back',
  'changed, and back',
  'held by a target',
  'brought in'
] as const
export type Ability = (typeof ABILITIES)[number]

const HEAD = `# Kinds of things

What a catalogue holds of PostgreSQL, and what was done with each kind on databases that other people's statements made
(\`tests/foreign\`, after the examples of the manual). The numbers are of such databases; behind them stand the properties that
were changed. This page is written by \`tests/integration/foreign.test.ts\`, which does not pass while it says something else or
while a kind stands there with nothing:

- **read and written**: read, written as a script, and run in an empty database, it is the same by \`pg_dump\`;
- **read of a script**: the statements that made it, and what \`pg_dump\` writes of it, are read as scripts; written again and
  run in an empty database, it is the same by \`pg_dump\`;
- **taken away and put back**: each thing by itself with all that needs it, and several at once, there and back by plans; what
  they do not speak of is the same before and after;
- **changed, and back**: compared with another state, planned, run, and undone by the way back;
- **held by a target**: taken into a target, kept in a design file, and in step with the database from then on;
- **brought in**: made a design of, kept in a file, and made again of that, it is the same by \`pg_dump\`.
`

/** The kinds of all that a catalogue holds. */
export function kindsIn(catalog: Catalog): Set<Kind> {
  const inside = [...catalog.tables, ...(catalog.views ?? [])].flatMap((home) =>
    MEMBER_KINDS.filter((kind) => members(home, kind).length > 0 && !(kind === 'column' && isView(home)))
  )
  return new Set<Kind>([...FREE_KINDS.filter((kind) => objectsOf(catalog, kind).length > 0), ...inside])
}

/** What is wrong with the options that a catalogue holds, by what its dialect declares of them. */
export function undeclared(catalog: Catalog, dialect: Dialect): string[] {
  const wrong: string[] = []
  const look = (kind: Kind, object: { readonly name: string; readonly options?: Options }) => {
    for (const [name, value] of Object.entries(object.options ?? {})) {
      const { values, usual } = optionOf(dialect, kind, name) ?? {}
      const fits =
        values === 'text' ||
        values === 'a name' ||
        (values === 'a number' ? /^-?\d+$/.test(value) : values?.includes(value))
      if (!fits || value === usual) wrong.push(`${kind} ${object.name}: ${name}=${value}`)
    }
  }
  for (const kind of FREE_KINDS) for (const object of objectsOf(catalog, kind)) look(kind, object)
  for (const home of [...catalog.tables, ...(catalog.views ?? [])])
    for (const kind of MEMBER_KINDS) for (const member of members(home, kind)) look(kind, member)
  return wrong
}

/** What was shown: for each kind and ability, the databases and, of changes, the properties. */
export class Shown {
  private readonly cells = new Map<string, { databases: Set<string>; properties: Set<string> }>()

  note(ability: Ability, database: string, kinds: Iterable<Kind>): void {
    for (const kind of kinds) this.cell(kind, ability).databases.add(database)
  }

  changed(database: string, changes: readonly Change[]): void {
    for (const change of changes) {
      const cell = this.cell(change.address.kind, 'changed, and back')
      cell.databases.add(database)
      if (change.action === 'alter') cell.properties.add(change.property)
    }
  }

  has(kind: Kind, ability: Ability): boolean {
    return this.cell(kind, ability).databases.size > 0
  }

  /** A page for the documents: one row a kind; each number is of databases. */
  page(): string {
    const row = (kind: Kind) =>
      `| ${KIND_WORDS[kind]} | ${ABILITIES.map((ability) => {
        const { databases, properties } = this.cell(kind, ability)
        const rest = KINDS[kind].properties.filter((property) => properties.has(property))
        return databases.size === 0 ? '—' : [String(databases.size), ...rest.map((name) => `\`${name}\``)].join(' ')
      }).join(' | ')} |`
    const table = [
      `| kind | ${ABILITIES.join(' | ')} |`,
      `| --- | ${ABILITIES.map(() => '---').join(' | ')} |`,
      ...(Object.keys(KINDS) as Kind[]).map(row)
    ]
    return `${HEAD}\n${table.join('\n')}\n`
  }

  private cell(kind: Kind, ability: Ability) {
    const key = `${kind} ${ability}`
    const found = this.cells.get(key) ?? { databases: new Set<string>(), properties: new Set<string>() }
    this.cells.set(key, found)
    return found
  }
}
