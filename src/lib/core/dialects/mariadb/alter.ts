// How MariaDB changes what is there: ALTER TABLE. A column is restated whole, so all its changes are one statement.
import {
  tableAddress,
  withProperty,
  type Check,
  type Column,
  type ForeignKey,
  type Index,
  type Key,
  type MemberKind,
  type Options,
  type Table
} from '../../catalog'
import type { Alterer, Hazard, StepDraft } from '../dialect'
import {
  altered,
  computedAnew,
  created,
  dropped,
  hazard,
  preflight,
  reshapes,
  rewriteHazards,
  standardAlterer,
  step,
  writtenBeside
} from '../standard'
import { conversion, type Conversion } from './conversion'
import { tableOptions, usualOption } from './options'
import { COLLATION, isText } from './words'
import { copied, costOfAdding, costOfChange, costOfDropping, costOfKey } from './costs'
import type { Member } from './family'
import { charsetOf, lostIn } from './recoded'
import { isWithColumn, type MariadbWriter } from './write'

/** "InnoDB Online DDL Operations with the INPLACE Alter Algorithm": what touches no row. */
const IN_PLACE = new Set([
  'stats_persistent',
  'stats_auto_recalc',
  'stats_sample_pages',
  'max_rows',
  'min_rows',
  'avg_row_length'
])
/** The same page: what has all rows written again, and nobody wait. */
const ONLINE = new Set(['row_format', 'key_block_size'])

export function mariadbAlterer(write: MariadbWriter, engine: Member): Alterer {
  const standard = standardAlterer(write, { foreignKeysInTable: false })
  const of = (table: Table) => write.quote(table.name)
  /** What the engine numbers must lead a key: "AUTO_INCREMENT". */
  const leadsKey = (table: Table, name: string) =>
    [...(table.primaryKey ? [table.primaryKey] : []), ...table.uniques].some((key) => key.columns[0] === name)

  /** What no restating leads to; a stored column that is no longer computed keeps its values. */
  const madeAnew = (from: Column, to: Column) =>
    conversion(from.type, to.type, '').how === 'none' || computedAnew(from, to)

  function modify(
    table: Table,
    from: Column,
    to: Column,
    hazards: Hazard[],
    tests: Pick<StepDraft, 'preflight' | 'changed'> = {}
  ): StepDraft[] {
    const effects = reshapes(table, from, to)
    if (effects.length === 0) return []
    return [
      {
        statement: `ALTER TABLE ${of(table)} MODIFY COLUMN ${write.checkedColumn(table, to)}`,
        why: `changes ${from.name}`,
        effects,
        hazards,
        ...tests
      }
    ]
  }

  /** "ALTER TABLE, MODIFY COLUMN": a column that is stated anew has the check that is stated with it, or none. */
  const withCheck = (table: Table, column: Column) =>
    `ALTER TABLE ${of(table)} MODIFY COLUMN ${write.checkedColumn(table, column)}`
  /** An index as ALTER TABLE has it behind ADD. */
  const indexClause = (table: Table, index: Index) =>
    write
      .createIndex(table, index)
      .replace(/^CREATE /, '')
      .replace(` ON ${of(table)}`, '')

  /**
   * Indexes that a new key or index makes go without a word, if the engine made them for a foreign key: it does not tell which those
   * are ("Foreign Keys"). Stated anew they stay.
   */
  function superseded(table: Table, { kind, value }: Parameters<typeof created>[1]): Index[] {
    const columns =
      kind === 'index'
        ? value.parts.flatMap(({ column }) => column ?? [])
        : kind === 'unique' || kind === 'primaryKey'
          ? value.columns
          : []
    const begins = (own: readonly string[]) => own.length > 0 && own.every((name, i) => columns[i] === name)
    const linked = new Set(table.foreignKeys.map((fk) => JSON.stringify(fk.columns)))
    return table.indexes.filter((index) => {
      const own = index.parts.flatMap(({ column }) => column ?? [])
      return !index.unique && begins(own) && linked.has(JSON.stringify(own))
    })
  }
  const isColumnsCheck = (kind: MemberKind, member: object) => kind === 'check' && isWithColumn(member as Check)

  /** Where a column stands among the others. */
  const at = (table: Table, name: string) => {
    const before = table.columns[table.columns.findIndex((c) => c.name === name) - 1]
    return before ? ` AFTER ${write.quote(before.name)}` : ' FIRST'
  }

  /** One statement, so that a table's only column can be made anew too; what can be carried over goes by a column beside it. */
  function anew(table: Table, from: Column, to: Column): StepDraft[] {
    const how = conversion(from.type, to.type, write.quote(from.name))
    // A computed column's values are those of its expression.
    const value =
      to.generated !== undefined
        ? undefined
        : write.type(from.type) === write.type(to.type)
          ? write.quote(from.name)
          : how.carried
    if (value !== undefined) return carriedOver(table, from, to, value, how)
    const gone =
      to.generated !== undefined || from.generated !== undefined
        ? `what ${from.name} holds goes with it: it is ${to.generated === undefined ? 'no longer' : 'now'} computed`
        : `what ${from.name} holds goes with it: no way leads from ${write.type(from.type)} to ${write.type(to.type)}`
    return modify(table, from, to, [
      hazard('loses data', gone),
      hazard('cannot be undone', 'the way back makes the column again, empty')
    ]).map((draft) => ({
      ...draft,
      statement: `ALTER TABLE ${of(table)} DROP COLUMN ${write.quote(from.name)}, ADD COLUMN ${write.column(to)}${at(table, from.name)}`,
      why: `makes ${from.name} anew`
    }))
  }

  function carriedOver(table: Table, from: Column, to: Column, value: string, how: Conversion): StepDraft[] {
    const fresh: Column = { name: `${[...from.name].slice(0, 58).join('')}_new`, type: to.type, nullable: true }
    const about = created(table, { kind: 'column', value: from }).address
    const { failsWhere } = how
    return [
      ...writtenBeside(write, table, from, fresh, value, { hazards: rewriteHazards(from.name, how), failsWhere }),
      ...modify(table, from, to, []).map((draft) => ({
        ...draft,
        statement: `ALTER TABLE ${of(table)} DROP COLUMN ${write.quote(from.name)}, CHANGE COLUMN ${write.quote(fresh.name)} ${write.column(to)}${at(table, from.name)}`,
        why: `puts the new ${from.name} in the old one’s place`,
        about,
        effects: [dropped(table, { kind: 'column', value: fresh }), ...draft.effects]
      }))
    ]
  }

  const unnumbered = (table: Table): StepDraft[] =>
    table.columns
      .filter((column) => column.identity)
      .flatMap((column) => modify(table, column, withProperty<Column>(column, 'identity', undefined), []))

  const dropKey = (table: Table, key: Key): StepDraft =>
    step(
      `ALTER TABLE ${of(table)} DROP PRIMARY KEY`,
      'removes the primary key',
      {
        ...created(table, { kind: 'primaryKey', value: key }),
        action: 'drop',
        object: { kind: 'primaryKey', value: key }
      },
      [copied()]
    )

  /** What a key or rule costs, beside what it may refuse. */
  const costOf = (table: Table, kind: MemberKind, member: object): readonly Hazard[] => {
    if (kind === 'primaryKey' || kind === 'unique') return costOfKey(table, kind, member as Key)
    // "Adding foreign keys needs foreign_key_checks=OFF"; a check is asked of every row.
    return kind === 'foreignKey' || kind === 'check' ? [copied()] : []
  }

  /** "CREATE TABLE, DEFAULT": where a value must be there and none is said, rows get the type's own zero. */
  function addColumn(table: Table, column: Column): StepDraft[] {
    const now = column.identity && !leadsKey(table, column.name) ? withProperty(column, 'identity', undefined) : column
    const filled = !now.nullable && now.default === undefined && now.generated === undefined && !now.identity
    return [
      step(
        write.addColumn(table, now),
        `adds the column ${now.name}${filled ? '; rows that are there get 0, an empty text or no day' : ''}`,
        created(table, { kind: 'column', value: now }),
        [...costOfAdding(table, now, engine)]
      )
    ]
  }

  /** "ALTER TABLE Partition Operations": every row is put into its part anew. */
  function part(table: Table, to: string | undefined): StepDraft {
    const alter = `ALTER TABLE ${of(table)}`
    return {
      statement: to === undefined ? `${alter} REMOVE PARTITIONING` : `${alter} PARTITION BY ${to}`,
      why: to === undefined ? `keeps ${table.name} in one piece` : `keeps ${table.name} in parts`,
      effects: [
        { action: 'alter', address: tableAddress(table), property: 'parted', from: table.parted, to, certain: true }
      ],
      hazards: [
        // Of values that are listed, one may be lacking.
        ...(to?.includes(' VALUES ') ? [hazard('may fail', 'fails if a row belongs to no part')] : []),
        copied()
      ]
    }
  }

  /** All of its options in one statement, and with a new way of keeping text, each column that has no way of its own. */
  function alterTable(table: Table, property: string, to: unknown): StepDraft[] | undefined {
    if (property === 'parted') return table.parted === to ? [] : [part(table, to as string | undefined)]
    if (property !== 'options') return undefined
    const [was, now] = [table.options ?? {}, (to as Options | undefined) ?? {}]
    const collation = was[COLLATION] === now[COLLATION] ? undefined : (now[COLLATION] ?? 'DEFAULT')
    const changed = Object.entries(now).filter(([name, value]) => was[name] !== value)
    const gone = Object.keys(was).filter((name) => !(name in now))
    const texts =
      collation === undefined ? [] : table.columns.filter((c) => isText(c.type) && c.collation === undefined)
    const clauses = [
      ...tableOptions(Object.fromEntries(changed)),
      ...gone.map(usualOption),
      ...texts.map((column) => `MODIFY COLUMN ${write.checkedColumn(table, column)}`)
    ]
    if (clauses.length === 0) return []
    const charset = collation === undefined ? undefined : charsetOf(collation)
    const cut = texts.flatMap((c) => (charset && lostIn(c, write.quote(c.name), charset)) ?? [])
    const rewritten = [...changed.map(([name]) => name), ...gone].filter((name) => !IN_PLACE.has(name))
    const isOnline = rewritten.every((name) => ONLINE.has(name))
    const meanwhile = isOnline ? '; others read and write meanwhile' : ', while nothing else writes'
    return [
      {
        statement: `ALTER TABLE ${of(table)} ${clauses.join(', ')}`,
        why: `sets options of ${table.name}`,
        effects: [{ action: 'alter', address: tableAddress(table), property, from: table.options, to, certain: true }],
        hazards: [
          ...(rewritten.length > 0
            ? [hazard('rewrites table', `every row is written again for ${rewritten.join(', ')}${meanwhile}`)]
            : []),
          ...(collation === undefined
            ? []
            : [
                hazard(
                  'may fail',
                  'texts that become alike are refused where they must stand once, and characters that there are no more'
                )
              ])
        ],
        ...(cut.length === 0
          ? {}
          : {
              preflight: preflight(
                `Which rows of ${table.name} have characters that ${charset} has not, or text that is too long in it?`,
                of(table),
                cut.map((condition) => `(${condition})`).join(' OR ')
              )
            })
      }
    ]
  }

  /** "FOREIGN KEY Constraints", "Conditions and Restrictions": one is made only where no other begins with the columns. */
  function hasOwnIndex({ primaryKey, uniques, indexes }: Table, { columns }: ForeignKey): boolean {
    const begins = (list: readonly (string | undefined)[]) => columns.every((column, i) => list[i] === column)
    const keys = [...(primaryKey ? [primaryKey] : []), ...uniques].map((key) => key.columns)
    return ![...keys, ...indexes.map(({ parts }) => parts.map(({ column }) => column))].some(begins)
  }

  return {
    ...standard,
    alterTable,
    dropColumn: (table, column) =>
      standard
        .dropColumn(table, column)
        .map((draft) => ({ ...draft, hazards: [...draft.hazards, ...costOfDropping(table, column, engine)] })),
    renameMember: (table, kind, from, to) => {
      const [draft] = standard.renameMember(table, kind, from, to)
      const column = table.columns.find(({ name }) => name === from)
      if (!draft || kind !== 'column' || !column || engine.renamesColumns) return draft ? [draft] : []
      const stated = write.checkedColumn(table, { ...column, name: to })
      return [{ ...draft, statement: `ALTER TABLE ${of(table)} CHANGE COLUMN ${write.quote(from)} ${stated}` }]
    },
    createTable: (table) => {
      const made: Table = {
        ...withProperty<Table>(table, 'triggers', undefined),
        foreignKeys: [],
        indexes: [],
        columns: table.columns.map((column) =>
          column.identity && !leadsKey(table, column.name) ? withProperty(column, 'identity', undefined) : column
        )
      }
      return [
        step(write.createTable(made), `makes the table ${table.name}`, created(made, { kind: 'table', value: made }))
      ]
    },
    addColumn,
    inTheWay: (from, to) => (madeAnew(from, to) ? 'all that use it' : 'checks and foreign keys'),
    alterColumn: (table, from, to) => {
      if (madeAnew(from, to))
        return anew(
          table,
          from,
          to.identity && !leadsKey(table, to.name) ? withProperty(to, 'identity', undefined) : to
        )
      const goal = to.identity && !leadsKey(table, to.name) ? withProperty(to, 'identity', undefined) : to
      const column = write.quote(from.name)
      const how = conversion(from.type, goal.type, column)
      const hazards: Hazard[] = []
      const questions: string[] = []
      if (how.loses !== undefined) hazards.push(hazard('loses data', how.loses))
      if (from.nullable && !goal.nullable) questions.push(`${column} IS NULL`)
      if (how.failsWhere !== undefined) questions.push(how.failsWhere)
      const charset =
        from.collation === goal.collation ? undefined : charsetOf(goal.collation ?? table.options?.[COLLATION])
      const lost = isText(from.type) && isText(goal.type) && charset ? lostIn(goal, column, charset) : undefined
      if (lost !== undefined) questions.push(lost)
      if (questions.length) hazards.push(hazard('may fail', `fails if a value of ${from.name} does not fit`))
      hazards.push(...costOfChange(from, goal))
      const where = questions.map((condition) => `(${condition})`).join(' OR ')
      return modify(table, from, goal, hazards, {
        ...(questions.length
          ? { preflight: preflight(`Which values of ${from.name} do not fit?`, of(table), where) }
          : {}),
        ...(how.changesWhere === undefined
          ? {}
          : {
              changed: preflight(`Which values of ${from.name} do not stay as they are?`, of(table), how.changesWhere)
            })
      })
    },
    addMember: (table, kind, member) => {
      const home = isColumnsCheck(kind, member) && table.columns.find((c) => c.name === member.name)
      if (home)
        return standard.addMember(table, kind, member).map((draft) => ({
          ...draft,
          statement: withCheck({ ...table, checks: [member as Check] }, home),
          hazards: [...draft.hazards, copied()]
        }))
      const [plain] = standard.addMember(table, kind, withProperty(member, 'comment', undefined))
      if (!plain) return []
      const draft = { ...plain, hazards: [...plain.hazards, ...costOf(table, kind, member)] }
      const object = { kind, value: member } as Parameters<typeof created>[1]
      const whole: StepDraft =
        object.kind === 'index' && object.value.comment !== undefined
          ? { ...draft, statement: write.createIndex(table, object.value), effects: [created(table, object)] }
          : draft
      const again = superseded(table, object)
      if (again.length === 0) return [whole]
      const added =
        object.kind === 'index'
          ? `ADD ${indexClause(table, object.value)}`
          : whole.statement.replace(/^ALTER TABLE \S+ /, '')
      const kept = again.map((index) => `DROP INDEX ${write.quote(index.name)}, ADD ${indexClause(table, index)}`)
      return [{ ...whole, statement: `ALTER TABLE ${of(table)} ${[added, ...kept].join(', ')}` }]
    },
    dropMember: (table, kind, member) => {
      const [draft] = standard.dropMember(table, kind, member)
      if (!draft || kind === 'index') return draft ? [draft] : []
      if (kind === 'primaryKey') return [...unnumbered(table), dropKey(table, member as Key)]
      const name = write.quote(member.name)
      const alter = `ALTER TABLE ${of(table)}`
      if (kind === 'unique')
        return [
          ...(numbersBy(table, member as Key) ? unnumbered(table) : []),
          { ...draft, statement: `${alter} DROP INDEX ${name}` }
        ]
      const home = isColumnsCheck(kind, member) && table.columns.find((c) => c.name === member.name)
      if (home) return [{ ...draft, statement: withCheck({ ...table, checks: [] }, home) }]
      if (kind === 'check') return [{ ...draft, statement: `${alter} ${engine.checks ?? 'DROP CONSTRAINT'} ${name}` }]
      // The index that the engine made for it goes too, where it made one.
      const index = engine.ifExists
        ? `, DROP INDEX IF EXISTS ${name}`
        : hasOwnIndex(table, member as ForeignKey)
          ? `, DROP INDEX ${name}`
          : ''
      return [{ ...draft, statement: `${alter} DROP FOREIGN KEY ${name}${index}` }]
    },
    commentMember: (table, kind, name, from, to) => {
      if (kind === 'column') {
        const column = table.columns.find((c) => c.name === name)
        return column ? modify(table, column, withProperty<Column>(column, 'comment', to), []) : []
      }
      if (kind !== 'index') return []
      const index = table.indexes.find((i) => i.name === name)
      if (!index) return []
      const next = withProperty(index, 'comment', to)
      return [
        {
          statement: `ALTER TABLE ${of(table)} DROP INDEX ${write.quote(name)}, ADD ${indexClause(table, next)}`,
          why: `describes ${name}`,
          effects: [altered(table, 'index', name, 'comment', from, to)],
          hazards: [hazard('locks table', 'rows cannot be written while the index is built')]
        }
      ]
    }
  }

  function numbersBy(table: Table, key: Key): boolean {
    const [first] = key.columns
    return (
      table.columns.some((column) => column.identity && column.name === first) && table.primaryKey?.columns[0] !== first
    )
  }
}
