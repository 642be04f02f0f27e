// Changes of one object to statements, the SQL standard's way, with what may go wrong and the query that tells beforehand.
import {
  looksBeyond,
  KIND_WORDS,
  memberAddress,
  propertyOf,
  tableAddress,
  withProperty,
  type CatalogObject,
  type Change,
  type Column,
  type Constrained,
  type MemberKind,
  type Table
} from '../../catalog'
import type { Alterer, Constraint, Features, Hazard, Preflight, StepDraft, Writer } from '../dialect'

export const hazard = (kind: Hazard['kind'], sentence: string): Hazard => ({ kind, sentence })

export const created = (table: Table, object: InTable): Change => ({
  action: 'create',
  address: object.kind === 'table' ? tableAddress(object.value) : memberAddress(table, object.kind, object.value),
  object
})
/** A table, or what stands in one. */
type InTable = Extract<CatalogObject, { readonly kind: 'table' | MemberKind }>

export const dropped = (table: Table, object: InTable): Change => ({
  action: 'drop',
  address: created(table, object).address,
  object
})

export const altered = (
  table: Table,
  kind: MemberKind,
  name: string,
  property: string,
  from: unknown,
  to: unknown
): Change => ({
  action: 'alter',
  address: memberAddress(table, kind, { name }),
  property,
  from,
  to,
  certain: true
})

/** A column that is computed otherwise, or was never stored, has no values that could go on: it is made anew. */
export const computedAnew = (from: Column, to: Column): boolean =>
  to.generated === undefined ? from.virtual === true : from.generated !== to.generated || from.virtual !== to.virtual

/** A step with one statement and one effect. */
export const step = (
  statement: string,
  why: string,
  effect: Change,
  hazards: Hazard[] = [],
  preflight?: Preflight
): StepDraft => ({
  statement,
  why,
  effects: [effect],
  hazards,
  ...(preflight ? { preflight } : {})
})

/** A count and the first rows that answer a condition. */
export function preflight(question: string, from: string, where: string): Preflight {
  return {
    question,
    count: `SELECT count(*) AS n FROM ${from} WHERE ${where}`,
    rows: `SELECT * FROM ${from} WHERE ${where}`
  }
}

/** A table without what is said of it, or stands in it, by statements of their own. */
export function plainTable(table: Table): Table {
  const others = ['comment', 'owner', 'rights', 'exclusions', 'triggers', 'policies', 'rules', 'partition']
  return others.reduce((plain, property) => withProperty(plain, property, undefined), table)
}

interface Habits extends Pick<Features, 'foreignKeysInTable'> {
  /** Rows that miss some of a key's values, but not all, must differ in the rest; else such a row is like no other. */
  readonly uniqueWithMissing?: boolean
}

export function standardAlterer(write: Writer, features: Habits): Alterer {
  const of = (table: Table) => write.table(table.schema, table.name)
  const filled = (columns: readonly string[], alias: string) =>
    columns.map((column) => `${alias}.${write.quote(column)} IS NOT NULL`).join(' AND ')
  const equal = (left: readonly string[], a: string, right: readonly string[], b: string) =>
    left.map((column, i) => `${a}.${write.quote(column)} = ${b}.${write.quote(right[i] ?? column)}`).join(' AND ')

  /** Rows that share their values with another row. */
  const duplicates = (table: Table, columns: readonly string[], where = ''): Preflight => {
    const list = columns.map(write.quote).join(', ')
    const there = columns.map((c) => `${write.quote(c)} IS NOT NULL`)
    const some = features.uniqueWithMissing && there.length > 1 ? [`(${there.join(' OR ')})`] : there
    const condition = [...some, ...(where ? [`(${where})`] : [])].join(' AND ')
    const groups = `SELECT ${list}, count(*) AS copies FROM ${of(table)} WHERE ${condition} GROUP BY ${list} HAVING count(*) > 1`
    return {
      question: `Which values of ${columns.join(', ')} stand in more than one row?`,
      count: `SELECT count(*) AS n FROM (${groups}) twice`,
      rows: groups
    }
  }

  const constraintStep = (table: Table, constraint: Constraint): StepDraft => {
    const effect = created(table, constraint)
    const statement = write.addConstraint(table, constraint)
    const why = `adds the ${KIND_WORDS[constraint.kind]} ${constraint.value.name}`
    switch (constraint.kind) {
      case 'primaryKey': {
        const { columns } = constraint.value
        const check = duplicates(table, columns)
        const mayBeEmpty = columns.filter((name) => table.columns.some((c) => c.name === name && c.nullable))
        const list = columns.map(write.quote).join(', ')
        const empty = mayBeEmpty.map((c) => `${write.quote(c)} IS NULL`).join(' OR ')
        const test: Preflight = {
          question: `Which rows have no ${columns.join(', ')}, or one that another row has too?`,
          count:
            empty === ''
              ? check.count
              : `SELECT sum(n) AS n FROM (SELECT count(*) AS n FROM ${of(table)} WHERE ${empty} UNION ALL ${check.count}) parts`,
          rows:
            empty === ''
              ? check.rows
              : `SELECT ${list}, count(*) AS copies FROM ${of(table)} WHERE ${empty} GROUP BY ${list} UNION ALL ${check.rows}`
        }
        return step(statement, why, effect, [hazard('may fail', 'fails if rows share a key or have none')], test)
      }
      case 'unique': {
        const test = duplicates(table, constraint.value.columns)
        return step(statement, why, effect, [hazard('may fail', 'fails if two rows have the same values')], test)
      }
      case 'check': {
        const test = preflight('Which rows break the rule?', of(table), `NOT (${constraint.value.expression})`)
        return step(statement, why, effect, [hazard('may fail', 'fails if a row breaks the rule')], test)
      }
      case 'exclusion':
        return step(statement, why, effect, [hazard('may fail', 'fails if two rows stand in each other’s way')])
      case 'foreignKey': {
        const fk = constraint.value
        const parent = write.table(fk.references.schema, fk.references.table)
        const orphan =
          `${filled(fk.columns, 'child')} AND NOT EXISTS (SELECT 1 FROM ${parent} parent WHERE ` +
          `${equal(fk.columns, 'child', fk.references.columns, 'parent')})`
        const test = preflight(`Which rows name no row of ${fk.references.table}?`, `${of(table)} child`, orphan)
        return step(
          statement,
          why,
          effect,
          [hazard('may fail', `fails if a row names no row of ${fk.references.table}`)],
          test
        )
      }
    }
  }

  const comment = (table: Table, kind: MemberKind, name: string, from: string | undefined, to: string | undefined) =>
    write
      .comment(table, { kind, name }, to)
      .map((sql) => step(sql, `describes ${name}`, altered(table, kind, name, 'comment', from, to)))

  const addColumn: Alterer['addColumn'] = (table, column) => {
    const { comment: text, rights: _, ...bare } = column
    const needsValue =
      !column.nullable && column.default === undefined && !column.identity && column.generated === undefined
    return [
      step(
        write.addColumn(table, bare),
        `adds the column ${column.name}`,
        created(table, { kind: 'column', value: bare }),
        needsValue
          ? [hazard('may fail', 'fails if the table has rows: a required column needs a default for them')]
          : [],
        needsValue ? preflight('Which rows would have no value?', of(table), '1 = 1') : undefined
      ),
      ...(text === undefined ? [] : comment(table, 'column', column.name, undefined, text))
    ]
  }

  const dropColumn: Alterer['dropColumn'] = (table, column) => [
    step(
      write.dropColumn(table, column),
      `removes the column ${column.name}`,
      dropped(table, { kind: 'column', value: column }),
      // What is computed is there again once it is made again.
      column.generated !== undefined
        ? []
        : [
            hazard('loses data', `what ${column.name} holds goes with it`),
            hazard('cannot be undone', 'the way back makes the column again, empty')
          ]
    )
  ]

  const addMember: Alterer['addMember'] = (table, kind, member) => {
    // The comment is a statement, and so a step, of its own.
    const { comment: text } = member
    const constraint = { kind, value: withProperty(member, 'comment', undefined) } as Extract<
      CatalogObject,
      { readonly kind: Constrained }
    >
    const steps: StepDraft[] = []
    if (constraint.kind === 'index') {
      const { value } = constraint
      const columns = value.parts.flatMap((part) => part.column ?? [])
      const unique = value.unique && columns.length === value.parts.length
      steps.push(
        step(
          write.createIndex(table, value),
          `adds the index ${value.name}`,
          created(table, constraint),
          [
            hazard('locks table', 'rows cannot be written while the index is built'),
            ...(value.unique ? [hazard('may fail', 'fails if two rows have the same values')] : [])
          ],
          unique ? duplicates(table, columns, value.where) : undefined
        )
      )
    } else steps.push(constraintStep(table, constraint))
    return text === undefined ? steps : [...steps, ...comment(table, kind, member.name, undefined, text)]
  }

  return {
    createTable: (table) => {
      const { comment: text } = table
      const made: Table = {
        ...plainTable(table),
        foreignKeys: features.foreignKeysInTable ? table.foreignKeys.map(({ comment: _, ...fk }) => fk) : [],
        indexes: [],
        columns: table.columns.map(({ comment: _, rights: _rights, ...column }) => column),
        uniques: table.uniques.map(({ comment: _, ...key }) => key),
        checks: table.checks.filter((check) => !looksBeyond(check)).map(({ comment: _, ...check }) => check)
      }
      const commented = (['column', 'unique', 'check'] as const).flatMap((kind) =>
        (kind === 'column' ? table.columns : kind === 'unique' ? table.uniques : table.checks).flatMap((member) =>
          member.comment === undefined ? [] : comment(table, kind, member.name, undefined, member.comment)
        )
      )
      const keyComment = table.primaryKey?.comment
      return [
        step(write.createTable(made), `makes the table ${table.name}`, created(made, { kind: 'table', value: made })),
        ...(text === undefined
          ? []
          : write.comment(table, { kind: 'table' }, text).map((sql) =>
              step(sql, `describes ${table.name}`, {
                action: 'alter',
                address: tableAddress(table),
                property: 'comment',
                from: undefined,
                to: text,
                certain: true
              })
            )),
        ...commented,
        ...(table.primaryKey && keyComment !== undefined
          ? comment(table, 'primaryKey', table.primaryKey.name, undefined, keyComment)
          : [])
      ]
    },
    dropTable: (table) => [
      step(
        write.dropTable(table.schema, table.name, false),
        `removes the table ${table.name}`,
        dropped(table, { kind: 'table', value: table }),
        [
          hazard('loses data', `all rows of ${table.name} go with it`),
          hazard('cannot be undone', 'the way back makes the table again, empty')
        ]
      )
    ],
    alterTable: () => undefined,
    renameTable: (table, to) => [
      step(write.renameTable(table.schema, table.name, to), `renames the table, its rows stay`, {
        action: 'rename',
        address: tableAddress(table),
        to
      })
    ],
    commentTable: (table, text) =>
      write.comment(table, { kind: 'table' }, text).map((sql) =>
        step(sql, `describes ${table.name}`, {
          action: 'alter',
          address: tableAddress(table),
          property: 'comment',
          from: table.comment,
          to: text,
          certain: true
        })
      ),
    addColumn,
    dropColumn,
    alterColumn: (table, from, to) => {
      if (computedAnew(from, to)) return [...dropColumn(table, from), ...addColumn(table, to)]
      const alter = `ALTER TABLE ${of(table)} ALTER COLUMN ${write.quote(from.name)}`
      const change = (property: keyof Column) =>
        altered(table, 'column', from.name, property, propertyOf(from, property), propertyOf(to, property))
      const steps: StepDraft[] = []
      const identity = (sql: string, before: Column['identity'], after: Column['identity']) =>
        steps.push(
          step(
            `${alter} ${sql}`,
            `who numbers ${from.name}`,
            altered(table, 'column', from.name, 'identity', before, after)
          )
        )
      if (from.generated !== to.generated)
        steps.push(
          step(`${alter} DROP EXPRESSION`, `${from.name} is no longer computed; its values stay`, change('generated'))
        )
      if (from.identity && !to.identity) identity('DROP IDENTITY', from.identity, undefined)
      else if (from.identity && to.identity && from.identity !== to.identity)
        identity(`SET GENERATED ${to.identity.toUpperCase()}`, from.identity, to.identity)
      if (write.type(from.type) !== write.type(to.type))
        steps.push(
          step(`${alter} SET DATA TYPE ${write.type(to.type)}`, `changes the type of ${from.name}`, change('type'), [
            hazard('may fail', 'fails if a value does not fit the new type')
          ])
        )
      if (from.default !== to.default)
        steps.push(
          step(
            to.default === undefined ? `${alter} DROP DEFAULT` : `${alter} SET DEFAULT ${to.default}`,
            `changes the default of ${from.name}`,
            change('default')
          )
        )
      if (from.nullable !== to.nullable)
        steps.push(
          to.nullable
            ? step(`${alter} DROP NOT NULL`, `${from.name} may be empty`, change('nullable'))
            : step(
                `${alter} SET NOT NULL`,
                `${from.name} must be filled`,
                change('nullable'),
                [hazard('may fail', `fails if a row has no ${from.name}`)],
                preflight(`Which rows have no ${from.name}?`, of(table), `${write.quote(from.name)} IS NULL`)
              )
        )
      // The standard has no words for this; PostgreSQL's are the ones in use where there are any.
      if (!from.identity && to.identity)
        identity(`ADD GENERATED ${to.identity.toUpperCase()} AS IDENTITY`, undefined, to.identity)
      return steps
    },
    inTheWay: (from, to) => (write.type(from.type) === write.type(to.type) ? 'nothing' : 'all that use it'),
    renameMember: (table, kind, from, to) => [
      step(
        write.renameMember(table, kind, from, to),
        kind === 'column' ? `renames the column, its rows stay` : `renames the ${KIND_WORDS[kind]}`,
        { action: 'rename', address: memberAddress(table, kind, { name: from }), to }
      )
    ],
    addMember,
    dropMember: (table, kind, member) => {
      const object = { kind, value: member } as InTable
      const statement =
        object.kind === 'index' ? write.dropIndex(table, object.value) : write.dropConstraint(table, member.name)
      return [step(statement, `removes the ${KIND_WORDS[kind]} ${member.name}`, dropped(table, object))]
    },
    commentMember: comment
  }
}
