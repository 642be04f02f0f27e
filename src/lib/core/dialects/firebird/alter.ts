// How Firebird changes what is there. A column whose values must be written again gets a new column beside it, which then
// takes its place; a table that gets a new name, or numbers for rows that it has, is made again and its rows are copied.
// "Firebird Language Reference", "ALTER TABLE"; what the manual leaves open was asked of a 3.0 server.
import {
  memberAddress,
  namesOf,
  tableAddress,
  typeText,
  withProperty,
  type Address,
  type Change,
  type Column,
  type Right,
  type Table
} from '../../catalog'
import type { Alterer, Hazard, StepDraft, Writer } from '../dialect'
import {
  altered,
  created,
  dropped,
  hazard,
  literal,
  plainTable,
  preflight,
  reshapes,
  rewriteHazards,
  standardAlterer,
  step,
  writtenBeside
} from '../standard'
import { conversion, type Conversion } from './conversion'

interface Copying {
  readonly without?: string
  readonly written?: { readonly column: string; readonly value: string }
}

const gone = (column: string) => hazard('loses data', `what ${column} holds goes: no way leads to its new form`)
const bare = (column: Column): Column => withProperty(column, 'comment', undefined)
const besides = (name: string) => `${[...name].slice(0, 12).join('')}$NEW`

export function firebirdAlterer(write: Writer, version: string): Alterer {
  const standard = standardAlterer(write, { foreignKeysInTable: false, uniqueWithMissing: true })
  const { quote } = write
  /** From 4.0 a column can begin and stop to number; RESTART names the next number, before it the one before that. */
  const old = version === '3.0'
  const alter = (table: Table, column: string) => `ALTER TABLE ${quote(table.name)} ALTER COLUMN ${quote(column)}`

  /** The numbers of a table that is copied go on where those of the old one are, or after the highest there is. */
  function numberOn(from: Table, to: Table, column: Column): StepDraft {
    const numbered = from.columns.some((c) => c.name === column.name && c.identity)
    const known = numbered
      ? [
          `  SELECT RDB$GENERATOR_NAME FROM RDB$RELATION_FIELDS`,
          `    WHERE RDB$RELATION_NAME = ${literal(from.name)} AND RDB$FIELD_NAME = ${literal(column.name)} INTO g;`,
          `  EXECUTE STATEMENT 'SELECT GEN_ID("' || TRIM(g) || '", 0) FROM RDB$DATABASE' INTO n;`
        ]
      : [`  SELECT coalesce(max(${quote(column.name)}), 0) FROM ${quote(to.name)} INTO n;`]
    const restart = `${alter(to, column.name)} RESTART WITH `
    return {
      statement: [
        'EXECUTE BLOCK AS',
        '  DECLARE g VARCHAR(63);',
        '  DECLARE n BIGINT;',
        'BEGIN',
        ...known,
        `  EXECUTE STATEMENT ${literal(restart)} || ${old ? 'n' : '(n + 1)'};`,
        'END'
      ].join('\n'),
      why: numbered ? 'numbering goes on where it was' : 'numbering goes on after the highest number',
      effects: [],
      hazards: [],
      undo: []
    }
  }

  /** The rights that go with the table that goes. */
  const sayingsLost = (table: Table): Change[] => [
    ...(table.rights ? [lost(tableAddress(table), table.rights)] : []),
    ...table.columns.flatMap((c) => (c.rights ? [lost(memberAddress(table, 'column', c), c.rights)] : []))
  ]
  const lost = (address: Address, rights: readonly Right[]): Change => ({
    action: 'alter',
    address,
    property: 'rights',
    from: rights,
    to: undefined,
    certain: true
  })

  /**
   * A table and its rows under another name, with the columns of `to`; nothing may stand on the old one any more. `without`
   * is a column whose values stay behind; `written` says how a value is written where no cast by the engine does.
   */
  function copied(from: Table, to: Table, why: string, { without, written }: Copying = {}): StepDraft[] {
    const made: Table = {
      ...plainTable(to),
      ...(to.comment === undefined ? {} : { comment: to.comment }),
      uniques: [],
      foreignKeys: [],
      checks: [],
      indexes: []
    }
    const { primaryKey: _, ...keyless } = made
    const columns = to.columns.filter(
      (c) =>
        c.name !== without &&
        c.generated === undefined &&
        from.columns.some((o) => o.name === c.name && o.generated === undefined)
    )
    const list = columns.map((c) => quote(c.name)).join(', ')
    const values = columns.map((c) => (c.name === written?.column ? written.value : quote(c.name))).join(', ')
    const numbers = to.columns.find((c) => c.identity)
    const insert = columns.length
      ? `INSERT INTO ${quote(to.name)} (${list}) SELECT ${values} FROM ${quote(from.name)}`
      : `INSERT INTO ${quote(to.name)} (${quote(numbers?.name ?? '')}) SELECT row_number() OVER () FROM ${quote(from.name)}`
    const about = created(from, { kind: 'table', value: from }).address
    const move: Change[] = [
      dropped(to, { kind: 'table', value: keyless }),
      { action: 'rename', address: about, to: to.name },
      ...sayingsLost({ ...from, name: to.name }),
      ...reshaped(from, to)
    ]
    return [
      ...standard.createTable(keyless).map((draft, i) => (i === 0 ? { ...draft, why } : draft)),
      {
        statement: insert,
        why: `copies the rows of ${from.name}`,
        effects: [],
        hazards: [
          ...(without === undefined ? [] : [gone(without)]),
          hazard('rewrites table', 'every row is copied, and the table is not there meanwhile')
        ],
        about,
        undo: [`DELETE FROM ${quote(to.name)}`]
      },
      ...to.columns
        .filter((c) => c.identity && (columns.includes(c) || columns.length === 0))
        .map((c) => ({ ...numberOn(from, to, c), about })),
      {
        statement: `DROP TABLE ${quote(from.name)}`,
        why: `removes the old ${from.name}, whose rows have been copied`,
        effects: move,
        hazards: [],
        about
      }
    ]
  }

  /** Makes a table again under its own name, by way of another. */
  function again(from: Table, to: Table, why: string, copying?: Copying): StepDraft[] {
    const away = { ...to, name: besides(from.name) }
    return [
      ...copied(from, away, why, copying),
      ...copied(away, { ...to, name: from.name }, `makes ${from.name} again, under its name`)
    ]
  }

  /** A new column has the values already: it takes the old one's place and name. */
  function takePlace(table: Table, from: Column, fresh: Column): StepDraft {
    const position = table.columns.findIndex((c) => c.name === from.name) + 1
    const [name, other] = [quote(from.name), quote(fresh.name)]
    const lost: Column = { ...fresh, name: from.name }
    return {
      statement: `ALTER TABLE ${quote(table.name)} DROP ${name}, ALTER COLUMN ${other} TO ${name}, ALTER COLUMN ${name} POSITION ${position}`,
      why: `puts the new ${from.name} in the old one’s place`,
      effects: [dropped(table, { kind: 'column', value: fresh }), ...reshapes(table, from, lost)],
      hazards: []
    }
  }

  function byCopy(table: Table, from: Column, to: Column, hazards: Hazard[], how: Conversion): StepDraft[] {
    const { failsWhere, value } = how
    const { collation } = to
    const fresh: Column = {
      name: besides(from.name),
      type: to.type,
      nullable: true,
      ...(collation === undefined ? {} : { collation })
    }
    const about = created(table, { kind: 'column', value: from }).address
    return [
      ...writtenBeside(write, table, from, fresh, value ?? castOf(from, to, quote(from.name), write), {
        hazards,
        failsWhere
      }),
      { ...takePlace(table, from, fresh), about }
    ]
  }

  /** The type and who numbers, in whatever way there is; the rest follows. */
  function reshape(table: Table, from: Column, to: Column): StepDraft[] {
    const plain = conversion(from, to, quote(from.name))
    const how: Conversion = plain.how === 'in place' && losesCollation(from, to) ? { ...plain, how: 'by copy' } : plain
    const hazards = rewriteHazards(from.name, how)
    if (how.how === 'none' || from.generated !== to.generated) return anew(table, from, to)
    const begins = to.identity && from.identity !== to.identity && (old || !from.identity)
    if (begins || (to.identity && how.how === 'by copy')) return numberedAgain(table, from, to, how)
    if (how.how === 'by copy' || (from.identity && !to.identity && old)) return byCopy(table, from, to, hazards, how)
    if (write.type(from.type) === write.type(to.type)) return []
    return [
      step(
        `${alter(table, from.name)} TYPE ${write.type(to.type)}`,
        `changes the type of ${from.name}`,
        altered(table, 'column', from.name, 'type', from.type, to.type)
      )
    ]
  }

  /** A table whose column is numbered by the engine in its new form: rows that are there get numbers no other way. */
  function numberedAgain(table: Table, from: Column, to: Column, how: Conversion): StepDraft[] {
    const column: Column = withProperty(
      { ...from, type: to.type, nullable: false, identity: to.identity },
      'default',
      undefined
    )
    const columns = table.columns.map((c) => (c.name === from.name ? column : c))
    const drafts = again(
      table,
      { ...table, columns },
      `makes ${table.name} as it is wanted, under another name for now`,
      how.value === undefined ? {} : { written: { column: from.name, value: how.value } }
    )
    const questions = [
      ...(from.nullable ? [`${quote(from.name)} IS NULL`] : []),
      ...(how.failsWhere ? [how.failsWhere] : [])
    ]
    const at = drafts.findIndex(({ statement }) => statement.startsWith('INSERT'))
    return drafts.map((draft, i) =>
      i !== at
        ? draft
        : {
            ...draft,
            hazards: [
              ...(how.loses === undefined ? [] : [hazard('loses data', how.loses)]),
              ...(questions.length ? [hazard('may fail', `fails if a value of ${from.name} does not fit`)] : []),
              ...draft.hazards
            ],
            ...(questions.length
              ? {
                  preflight: preflight(
                    `Which values of ${from.name} do not fit?`,
                    quote(table.name),
                    questions.join(' OR ')
                  )
                }
              : {})
          }
    )
  }

  function anew(table: Table, from: Column, to: Column): StepDraft[] {
    if (to.identity)
      return again(
        table,
        { ...table, columns: table.columns.map((c) => (c.name === from.name ? bare(to) : c)) },
        `makes ${table.name} with a new ${from.name}, under another name for now: rows that are there get numbers no other way`,
        { without: from.name }
      )
    const fresh: Column = {
      ...bare(to),
      nullable: to.default === undefined && to.generated === undefined ? true : to.nullable
    }
    const position = table.columns.findIndex((c) => c.name === from.name) + 1
    const name = quote(from.name)
    const made = write.addColumn(table, { ...fresh, name: from.name }).slice(`ALTER TABLE ${quote(table.name)} `.length)
    return [
      {
        statement: `ALTER TABLE ${quote(table.name)} DROP ${name}, ${made}, ALTER COLUMN ${name} POSITION ${position}`,
        why: `makes ${from.name} anew`,
        effects: [
          dropped(table, { kind: 'column', value: from }),
          created(table, { kind: 'column', value: { ...fresh, name: from.name } })
        ],
        hazards: [gone(from.name), hazard('cannot be undone', 'the way back makes the column again, empty')]
      }
    ]
  }

  return {
    ...standard,
    addMember: (table, kind, member) =>
      kind !== 'check'
        ? standard.addMember(table, kind, member)
        : // "CHECK": it is asked of rows that are added or changed from then on.
          standard.addMember(table, kind, member).map(({ preflight: _, ...draft }) => ({
            ...draft,
            why: `adds the check ${member.name}; rows that are there are not asked`,
            hazards: []
          })),
    renameTable: (table, to) =>
      copied(table, { ...table, name: to }, `makes ${to}: Firebird gives no table another name`),
    addColumn: (table, column) => {
      if (!column.identity) return standard.addColumn(table, column)
      return again(
        table,
        { ...table, columns: [...table.columns, column] },
        `makes ${table.name} with ${column.name}, under another name for now: rows that are there get numbers no other way`
      )
    },
    addedByRemaking: (column) => column.identity !== undefined,
    inTheWay: (from, to) => {
      if (
        write.type(from.type) === write.type(to.type) &&
        from.identity === to.identity &&
        from.collation === to.collation &&
        from.generated === to.generated
      )
        return 'nothing'
      return to.identity ? 'all of the table' : 'all that use it'
    },
    alterColumn: (table, from, to) => {
      const drafts = reshape(table, from, to)
      // What the steps so far leave is what the rest begins with.
      const now = drafts.length === 0 ? from : leftBy(drafts, from)
      return [...drafts, ...standard.alterColumn(table, now, to)]
    }
  }
}

/** "ALTER COLUMN … TYPE" says no collation: one of its own stays through it, but not where a domain comes or goes. */
const losesCollation = (from: Column, to: Column): boolean =>
  from.collation !== to.collation ||
  (to.collation !== undefined && !sameType(from, to) && [from, to].some(({ type }) => type.schema !== undefined))
const sameType = (from: Column, to: Column) => typeText(from.type) === typeText(to.type)

/** The column as steps leave it: made anew, made again with the table, or with another in its place. */
function leftBy(drafts: readonly StepDraft[], from: Column): Column {
  let column = from
  for (const { effects } of drafts)
    for (const change of effects) {
      if (change.address.kind !== 'column' || namesOf(change.address).name !== from.name) continue
      if (change.action === 'create' && change.object.kind === 'column') column = change.object.value
      if (change.action === 'alter') column = withProperty<Column>(column, change.property, change.to)
    }
  return column
}

/** What differs in the columns of two tables, as changes of the second. */
function reshaped(from: Table, to: Table): Change[] {
  return to.columns.flatMap((column): Change[] => {
    const was = from.columns.find((c) => c.name === column.name)
    if (!was) return [created(to, { kind: 'column', value: column })]
    return reshapes(to, was, column)
  })
}

/** The expression that writes a value in its new type. */
function castOf(from: Column, to: Column, column: string, write: Writer): string {
  const type = write.type(to.type)
  if (type === 'blob sub_type text') return column
  const fixedText = from.type.name === 'char' && ['char', 'varchar'].includes(to.type.name)
  return `CAST(${fixedText ? `trim(TRAILING FROM ${column})` : column} AS ${to.type.schema === undefined ? type.toUpperCase() : type})`
}
