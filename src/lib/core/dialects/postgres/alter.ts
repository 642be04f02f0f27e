// How PostgreSQL changes what is there: manual, ALTER TABLE.
import {
  sameSet,
  sameValue,
  tableAddress,
  withProperty,
  type Change,
  type Column,
  type Counting,
  type Key,
  type Options,
  type Relation,
  type Table
} from '../../catalog'
import type { Alterer, Hazard, StepDraft, Writer } from '../dialect'
import { altered, computedAnew, hazard, literal, preflight, standardAlterer, step } from '../standard'
import { conversion, familyOf } from './conversion'
import { postgresOptions } from './options'
import { recount } from './recount'
import { usualStorage } from './storage'
import { countingClauses, parameterList } from './write'

const filtered = (options: Options | undefined, keep: (name: string) => boolean): Options | undefined => {
  const entries = Object.entries(options ?? {}).filter(([name]) => keep(name))
  return entries.length ? Object.fromEntries(entries) : undefined
}

/** What the statement that makes a column says of how it is stored. */
const inline = (column: Column): Column => {
  return withProperty(
    column,
    'options',
    filtered(column.options, (name) => name === 'compression' || name === 'not null')
  )
}

const SAID_LATER = ['row security', 'replica identity', 'cluster on'] as const
const isLater = (name: string) => (SAID_LATER as readonly string[]).includes(name)
const isOwn = (name: string) => name === 'persistence' || name === 'tablespace'
/** Options in the statement that makes a table; right behind it; and once its indexes are there. */
const inlineOptions = (options: Options | undefined) => filtered(options, (name) => !isLater(name))
const earlyOptions = (options: Options | undefined) =>
  filtered(options, (name) => name === 'row security' || !isLater(name))
const lateOptions = (options: Options | undefined) =>
  filtered(options, (name) => name !== 'row security' && isLater(name))
const withOptions = (options: Options | undefined) => ({ options }) as { options?: Options }

/** With a new type a column is stored as that type usually is. */
const asUsual = (column: Column): Column =>
  withProperty(
    column,
    'options',
    filtered(column.options, (name) => name !== 'storage' && name !== 'compression')
  )

/** The table was made a moment ago and has no rows. */
const harmless = ({ preflight: _, ...draft }: StepDraft): StepDraft => ({ ...draft, hazards: [] })

export function postgresAlterer(write: Writer, version: number): Alterer {
  const standard = standardAlterer(write, { foreignKeysInTable: false })
  const of = (table: Table) => write.table(table.schema, table.name)
  const sameType = (a: Column, b: Column) => write.type(a.type) === write.type(b.type)
  const convert = ({ name, type }: Column, to: Column) =>
    conversion({ from: type, to: to.type, column: write.quote(name), version, print: write.type })

  /** A column that cannot be brought over: no cast leads to the type, or it is computed otherwise now. */
  const madeAnew = (from: Column, to: Column) =>
    (!sameType(from, to) && convert(from, to).how === 'none') || computedAnew(from, to)

  function changeType(table: Table, from: Column, to: Column): StepDraft {
    const how = convert(from, to)
    const column = write.quote(from.name)
    const hazards: Hazard[] = []
    if (how.loses) hazards.push(hazard('loses data', how.loses))
    if (how.failsWhere !== undefined) hazards.push(hazard('may fail', 'fails if a value does not fit the new type'))
    if (!how.inPlace) hazards.push(hazard('rewrites table', 'every row is written again while the table is locked'))
    const usual = asUsual(from)
    const effects: Change[] = [
      altered(table, 'column', from.name, 'type', from.type, to.type),
      ...(from.collation === to.collation
        ? []
        : [altered(table, 'column', from.name, 'collation', from.collation, to.collation)]),
      ...(sameValue(from.options, usual.options)
        ? []
        : [altered(table, 'column', from.name, 'options', from.options, usual.options)])
    ]
    return {
      statement:
        `ALTER TABLE ${of(table)} ALTER COLUMN ${column} TYPE ${write.type(to.type)}` +
        // A new type has its own collation, but for another that is said.
        (to.collation === undefined ? '' : ` COLLATE ${to.collation}`) +
        (how.using ? ` USING ${how.using}` : ''),
      why: `changes ${from.name} from ${write.type(from.type)} to ${write.type(to.type)}`,
      effects,
      hazards,
      ...(how.failsWhere
        ? { preflight: preflight(`Which values of ${from.name} do not fit?`, of(table), how.failsWhere) }
        : {})
    }
  }

  /** The collation of a column's text: its indexes are built again. */
  const collate = (table: Table, from: Column, to: Column): StepDraft =>
    step(
      `ALTER TABLE ${of(table)} ALTER COLUMN ${write.quote(from.name)} TYPE ${write.type(to.type)} COLLATE ${to.collation ?? '"default"'}`,
      `how ${from.name} is compared and sorted`,
      altered(table, 'column', from.name, 'collation', from.collation, to.collation),
      [hazard('locks table', 'its indexes are built again')]
    )

  const counted = (table: Table, name: string, from: Counting | undefined, to: Counting | undefined): Change[] =>
    sameValue(from, to) ? [] : [altered(table, 'column', name, 'counting', from, to)]

  const numbering = ({ counting }: Column): string => {
    const named = counting?.name === undefined ? [] : [`SEQUENCE NAME ${write.quote(counting.name)}`]
    const clauses = [...named, ...(counting ? countingClauses(counting) : [])]
    return clauses.length ? ` (${clauses.join(' ')})` : ''
  }

  /** How a column is stored, where the statement that made it has not said it. */
  function columnSettings(table: Table, from: Column, to: Column): StepDraft[] {
    if (sameValue(from.options, to.options)) return []
    const [was, now] = [from.options ?? {}, to.options ?? {}]
    const alter = `ALTER TABLE ${of(table)} ALTER COLUMN ${write.quote(from.name)}`
    const own = new Set(
      postgresOptions.flatMap(({ name, on, every }) => (every || !on.includes('column') ? [] : [name]))
    )
    const usual = `${table.name}_${from.name}_not_null`
    const [called, named] = [was['not null'] ?? usual, now['not null'] ?? usual]
    const changed = Object.entries(now).filter(([name, value]) => !own.has(name) && was[name] !== value)
    const gone = Object.keys(was).filter((name) => !own.has(name) && !(name in now))
    const statements = [
      ...(called === named || from.nullable || to.nullable
        ? []
        : [`ALTER TABLE ${of(table)} RENAME CONSTRAINT ${write.quote(called)} TO ${write.quote(named)}`]),
      ...(was['storage'] === now['storage']
        ? []
        : [
            `${alter} SET STORAGE ${now['storage'] ?? (version < 16 ? (usualStorage(to.type) ?? 'EXTENDED') : 'DEFAULT')}`
          ]),
      ...(was['compression'] === now['compression']
        ? []
        : [`${alter} SET COMPRESSION ${now['compression'] ?? 'DEFAULT'}`]),
      ...(was['statistics'] === now['statistics'] ? [] : [`${alter} SET STATISTICS ${now['statistics'] ?? '-1'}`]),
      ...(changed.length ? [`${alter} SET (${changed.map(([name, value]) => `${name}=${value}`).join(', ')})`] : []),
      ...(gone.length ? [`${alter} RESET (${gone.join(', ')})`] : [])
    ]
    return inSteps(
      statements,
      `how ${from.name} is stored`,
      altered(table, 'column', from.name, 'options', from.options, to.options)
    )
  }

  /** Several statements for one change: the last has made it. */
  const inSteps = (statements: readonly string[], why: string, effect: Change, hazards: Hazard[] = []): StepDraft[] =>
    statements.map((statement, i) => ({
      statement,
      why,
      effects: i === statements.length - 1 ? [effect] : [],
      hazards: i === 0 ? hazards : [],
      ...(i === statements.length - 1 ? {} : { about: effect.address, undo: [] })
    }))

  /** What a column that comes from a parent has otherwise than there. */
  function inheritedSettings(table: Table): StepDraft[] {
    if (!table.inherits) return []
    const alter = (column: Column) => `ALTER TABLE ONLY ${of(table)} ALTER COLUMN ${write.quote(column.name)}`
    const say = (statement: string, column: Column): StepDraft => ({
      statement,
      why: `what ${column.name} has of its own`,
      effects: [],
      hazards: [],
      about: tableAddress(table),
      undo: []
    })
    return table.columns
      .filter((column) => column.inherited)
      .flatMap((column) => [
        ...(column.default === undefined ? [] : [say(`${alter(column)} SET DEFAULT ${column.default}`, column)]),
        ...(column.nullable || column.neverEmpty ? [] : [say(`${alter(column)} SET NOT NULL`, column)])
      ])
  }

  /** What is said of the index behind a key. */
  const keyComment = (table: Table, { name, options }: Key): StepDraft[] => {
    const words = options?.['comment on index']
    if (words === undefined) return []
    const statement = `COMMENT ON INDEX ${write.table(table.schema, name)} IS ${literal(words)}`
    return [
      {
        statement,
        why: `describes the index of ${name}`,
        effects: [],
        hazards: [],
        about: tableAddress(table),
        undo: []
      }
    ]
  }

  function addColumn(table: Table, column: Column): StepDraft[] {
    const plain = inline(column)
    return [...standard.addColumn(table, plain), ...columnSettings(table, plain, column)]
  }

  const tableChange = (table: Table, property: string, from: unknown, to: unknown): Change => ({
    action: 'alter',
    address: tableAddress(table),
    property,
    from,
    to,
    certain: true
  })

  function alterOptions(table: Table, to: Options | undefined): StepDraft[] | undefined {
    const [was, now] = [table.options ?? {}, to ?? {}]
    const alter = `ALTER TABLE ${of(table)}`
    const differs = (name: string) => was[name] !== now[name]
    if (postgresOptions.some(({ name, on, changes }) => changes === 'never' && on.includes('table') && differs(name)))
      return undefined
    const statements: string[] = []
    const hazards: Hazard[] = []
    if (differs('persistence')) {
      statements.push(`${alter} SET ${now['persistence'] === 'unlogged' ? 'UNLOGGED' : 'LOGGED'}`)
      hazards.push(hazard('rewrites table', 'every row is written again while the table is locked'))
    }
    if (differs('tablespace')) {
      statements.push(`${alter} SET TABLESPACE ${write.quote(now['tablespace'] ?? 'pg_default')}`)
      hazards.push(hazard('rewrites table', 'the files of the table are copied while it is locked'))
    }
    if (differs('access method'))
      statements.push(`${alter} SET ACCESS METHOD ${write.quote(now['access method'] ?? 'heap')}`)
    if (differs('row security')) {
      const [before, after] = [was['row security'] ?? '', now['row security'] ?? '']
      const [on, forced] = [(v: string) => v === 'on' || v === 'forced', (v: string) => v.startsWith('forced')]
      if (on(before) !== on(after)) statements.push(`${alter} ${on(after) ? 'ENABLE' : 'DISABLE'} ROW LEVEL SECURITY`)
      if (forced(before) !== forced(after))
        statements.push(`${alter} ${forced(after) ? '' : 'NO '}FORCE ROW LEVEL SECURITY`)
    }
    if (differs('replica identity')) {
      const value = now['replica identity'] ?? 'default'
      statements.push(
        `${alter} REPLICA IDENTITY ${value.startsWith('index ') ? `USING INDEX ${write.quote(value.slice(6))}` : value.toUpperCase()}`
      )
    }
    if (differs('cluster on'))
      statements.push(
        now['cluster on'] === undefined
          ? `${alter} SET WITHOUT CLUSTER`
          : `${alter} CLUSTER ON ${write.quote(now['cluster on'])}`
      )
    const gone = Object.keys(was).filter((name) => !name.includes(' ') && !isOwn(name) && !(name in now))
    const set = parameterList(Object.fromEntries(Object.entries(now).filter(([name]) => differs(name))))
    if (gone.length) statements.push(`${alter} RESET (${gone.join(', ')})`)
    if (set !== '') statements.push(`${alter} SET (${set})`)
    return inSteps(statements, `how ${table.name} is kept`, tableChange(table, 'options', table.options, to), hazards)
  }

  function alterTable(table: Table, property: string, to: unknown): StepDraft[] | undefined {
    const alter = `ALTER TABLE ${of(table)}`
    const named = (parent: Relation) => write.table(parent.schema, parent.name)
    if (property === 'options') return alterOptions(table, to as Options | undefined)
    if (property === 'inherits') {
      const [was, now] = [table.inherits ?? [], (to as Table['inherits']) ?? []]
      const missing = (list: readonly Relation[], parent: Relation) => !list.some((other) => sameValue(other, parent))
      return inSteps(
        [
          ...was.filter((parent) => missing(now, parent)).map((parent) => `${alter} NO INHERIT ${named(parent)}`),
          ...now.filter((parent) => missing(was, parent)).map((parent) => `${alter} INHERIT ${named(parent)}`)
        ],
        `what ${table.name} inherits from`,
        tableChange(table, 'inherits', table.inherits, to)
      )
    }
    if (property === 'partition') {
      const [was, now] = [table.partition, to as Table['partition']]
      return inSteps(
        [
          ...(was ? [`ALTER TABLE ${named(was.of)} DETACH PARTITION ${of(table)}`] : []),
          ...(now ? [`ALTER TABLE ${named(now.of)} ATTACH PARTITION ${of(table)} ${now.bound}`] : [])
        ],
        now ? `${table.name} becomes a part of ${now.of.name}` : `${table.name} stands by itself`,
        tableChange(table, 'partition', was, now),
        now ? [hazard('locks table', 'rows are looked at: one that is of another part stops it')] : []
      )
    }
    return undefined
  }

  return {
    ...standard,
    alterTable,
    addColumn,
    finish: (table) => {
      const { options } = table
      const late = lateOptions(options)
      const before = withProperty(withProperty(table, 'partition', undefined), 'options', earlyOptions(options))
      return [
        ...(table.partition
          ? (alterTable(before, 'partition', table.partition) ?? []).map((d) => ({ ...d, hazards: [] }))
          : []),
        ...(late ? (alterOptions(before, options) ?? []) : [])
      ]
    },
    inTheWay: (from, to) => {
      if (madeAnew(from, to)) return 'all that use it'
      if (sameType(from, to) || familyOf(from.type) === familyOf(to.type)) return 'nothing'
      return 'all that use it'
    },
    alterColumn: (table, from, to) => {
      const bare: Column = withProperty(to, 'comment', undefined)
      if (madeAnew(from, to)) return [...standard.dropColumn(table, from), ...addColumn(table, bare)]
      const alter = `ALTER TABLE ${of(table)} ALTER COLUMN ${write.quote(from.name)}`
      const steps: StepDraft[] = []
      const set = (sql: string, why: string, property: keyof Column, before: unknown, after: unknown) =>
        steps.push(step(`${alter} ${sql}`, why, altered(table, 'column', from.name, property, before, after)))

      if (from.generated !== undefined && to.generated === undefined)
        set(
          'DROP EXPRESSION',
          `${from.name} is no longer computed; its values stay`,
          'generated',
          from.generated,
          undefined
        )
      if (from.identity && from.identity !== to.identity && (!to.identity || !sameType(from, to)))
        steps.push({
          ...step(
            `${alter} DROP IDENTITY`,
            `${from.name} is no longer numbered by the engine`,
            altered(table, 'column', from.name, 'identity', from.identity, undefined)
          ),
          effects: [
            altered(table, 'column', from.name, 'identity', from.identity, undefined),
            ...counted(table, from.name, from.counting, undefined)
          ]
        })
      else if (from.identity && to.identity && from.identity !== to.identity)
        set(
          `SET GENERATED ${to.identity.toUpperCase()}`,
          `who numbers ${from.name}`,
          'identity',
          from.identity,
          to.identity
        )

      // A default is not converted with its column: it goes first and comes back last.
      const retype = !sameType(from, to)
      const setAside = from.default !== undefined && (to.default !== from.default || retype)
      if (setAside) set('DROP DEFAULT', `takes the default of ${from.name} away`, 'default', from.default, undefined)
      if (retype) steps.push(changeType(table, from, to))
      else if (from.collation !== to.collation) steps.push(collate(table, from, to))
      // What is left for the standard's words: whether the column must be filled.
      steps.push(...standard.alterColumn(table, { ...to, nullable: from.nullable }, to))
      if (to.default !== undefined && (setAside || from.default === undefined))
        set(`SET DEFAULT ${to.default}`, `sets the default of ${from.name}`, 'default', undefined, to.default)
      const dropsIdentity = from.identity && (!to.identity || (from.identity !== to.identity && retype))
      if (to.identity && (!from.identity || dropsIdentity)) {
        set(
          `ADD GENERATED ${to.identity.toUpperCase()} AS IDENTITY${numbering(to)}`,
          `${from.name} is numbered by the engine`,
          'identity',
          undefined,
          to.identity
        )
        const last = steps.pop()
        if (last)
          steps.push({
            ...last,
            effects: [
              ...last.effects,
              ...counted(table, from.name, dropsIdentity ? undefined : from.counting, to.counting)
            ]
          })
        steps.push({
          statement:
            `SELECT setval(pg_get_serial_sequence(${literal(of(table))}, ${literal(from.name)}), ` +
            `coalesce(max(${write.quote(from.name)}), 0) + 1, false) FROM ${of(table)}`,
          why: 'numbering goes on after the highest number in use',
          effects: [],
          hazards: []
        })
      } else if (to.identity && !sameValue(from.counting, to.counting)) steps.push(...recount(write, table, from, to))
      // With a new type a column is stored as that type usually is.
      steps.push(...columnSettings(table, retype ? asUsual(from) : from, to))
      return steps
    },
    // Inside CREATE TABLE a unique rule over the columns of another key is quietly folded into it; said afterwards, it
    // stays.
    createTable: (table) => {
      const keys = [...(table.primaryKey ? [table.primaryKey] : []), ...table.uniques]
      const again = (key: Key) => keys.slice(0, keys.indexOf(key)).some((other) => sameSet(key.columns, other.columns))
      // What is not held against rows that are there cannot be said with the table.
      const valid = table.checks.filter((check) => check.options?.['not valid'] === undefined)
      const [later, now] = [table.uniques.filter(again), table.uniques.filter((key) => !again(key))]
      return [
        ...standard.createTable({
          ...table,
          uniques: now,
          checks: valid,
          columns: table.columns.map(inline),
          ...withOptions(inlineOptions(table.options))
        }),
        ...[...(table.primaryKey ? [table.primaryKey] : []), ...now].flatMap((key) => keyComment(table, key)),
        ...table.columns.flatMap((column) => columnSettings(table, inline(column), column)),
        ...inheritedSettings(table),
        ...(alterOptions(
          { ...table, ...withOptions(inlineOptions(table.options)) } as Table,
          earlyOptions(table.options)
        ) ?? []),
        ...table.checks
          .filter((check) => !valid.includes(check))
          .flatMap((check) => standard.addMember(table, 'check', check))
          .map(harmless),
        ...later.flatMap((key) => standard.addMember(table, 'unique', key)).map(harmless)
      ]
    },
    addMember: (table, kind, member) => [
      ...standard.addMember(table, kind, member).map((draft) =>
        kind === 'foreignKey' && draft.preflight
          ? {
              ...draft,
              hazards: [
                ...draft.hazards,
                hazard('locks table', 'both tables are locked for writing while rows are checked')
              ]
            }
          : draft
      ),
      ...(kind === 'primaryKey' || kind === 'unique' ? keyComment(table, member as Key) : [])
    ]
  }
}
