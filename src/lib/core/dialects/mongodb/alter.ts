// Changes of collections as commands. A validator is stated whole; what fields hold follows by updates that come before it.
import { altered as alteredBase, created, dropped, hazard } from '../standard'
import {
  memberAddress,
  propertyOf,
  sameValue,
  tableAddress,
  typeText,
  withProperty,
  type Change,
  type Column,
  type Index,
  type Table
} from '../../catalog'
import type { Alterer, Hazard, Preflight, StepDraft } from '../dialect'
import { collModCommand, createCommand, createIndexCommand, CREATED, statementOf, type Command } from './commands'
import { mongodbDocuments } from './documents'
import { fillField, convertField, counted, moveField, removeField } from './moves'
import { dotted, EACH, holderOf, isWithin, movedPath } from '../../catalog'
import type { Json, Schema } from './schema'
import { ROW_ID, ROW_ID_INDEX } from './settle'

/** What "$convert" turns values into. */
const CONVERTED = ['string', 'int', 'long', 'double', 'decimal', 'bool', 'date', 'objectId']

const draft = (
  command: Command,
  why: string,
  effects: readonly Change[],
  undo: readonly Command[],
  hazards: readonly Hazard[] = [],
  preflight?: Preflight
): StepDraft => ({
  statement: statementOf(command),
  why,
  effects,
  hazards,
  undo: undo.map(statementOf),
  ...(preflight ? { preflight } : {})
})

/** What the validator of a collection says from now on. */
const restated = (
  from: Table,
  to: Table,
  why: string,
  effects: readonly Change[],
  hazards: readonly Hazard[] = [],
  preflight?: Preflight
) => draft(collModCommand(to), why, effects, [collModCommand(from)], hazards, preflight)

const withColumns = (table: Table, columns: readonly Column[]): Table => ({ ...table, columns })

/** A field that each object at its place has, where there is one. */
function requiredAt(path: string): Schema {
  const [, name = '', marks = '', rest] = /^([^.[{]+)((?:\[\]|\{\})*)(?:\.(.*))?$/.exec(path) ?? []
  if (rest === undefined) return { required: [name] }
  const inside = (marks.match(/\[\]|\{\}/g) ?? []).reduceRight<Schema>(
    (inner, mark) => ({ [mark === EACH ? 'items' : 'additionalProperties']: inner }),
    requiredAt(rest)
  )
  return { properties: { [name]: inside } }
}

const missing = (table: Table, column: Column): Preflight => {
  const { name } = column
  const lacking: Command =
    holderOf(name) === undefined ? { [name]: { $exists: false } } : { $nor: [{ $jsonSchema: requiredAt(name) }] }
  const { count, rows } = counted(table.name, lacking)
  return { question: `Which documents have no ${column.name}?`, count, rows }
}
const STAY = 'documents that do not fit stay as they are, and are refused when they are next changed'

/** "Unique Indexes": of lists, values that stand in more than one document; `before` is what becomes of the documents first. */
function duplicates(collection: string, { parts, where }: Index, before: readonly Json[] = []): Preflight {
  const columns = parts.map(({ column = '' }) => column)
  const lists = [...new Set(columns.flatMap(listsIn))]
  const groups: readonly Json[] = [
    ...before,
    ...(where === undefined ? [] : [{ $match: JSON.parse(where) as Json }]),
    ...lists.map((list) => ({ $unwind: `$${list}` })),
    {
      $group: {
        _id: Object.fromEntries(columns.map((path, i) => [`k${i}`, `$${dotted(path)}`])),
        in: { $addToSet: '$_id' }
      }
    },
    { $match: { 'in.1': { $exists: true } } }
  ]
  const asked = (pipeline: readonly Json[]) => JSON.stringify({ aggregate: collection, pipeline, cursor: {} })
  return {
    question: `Which values of ${columns.join(', ')} stand in more than one document?`,
    count: asked([...groups, { $count: 'n' }]),
    rows: asked(groups)
  }
}

/** The lists that a path goes through, as stages name them, the outermost first. */
const listsIn = (path: string): string[] => [...path.matchAll(/\[\]/g)].map(({ index }) => dotted(path.slice(0, index)))

/** What an update does with values by which documents are told apart may make them alike. */
function mayCoincide(table: Table, path: string, command: Command): Pick<StepDraft, 'hazards' | 'preflight'> {
  const index = table.indexes.find(
    ({ unique, parts }) =>
      unique && parts.some(({ column = '' }) => column === path || isWithin(path, column) || isWithin(column, path))
  )
  if (!index) return { hazards: [] }
  const [update] = (command['updates'] ?? []) as readonly { readonly u: Json }[]
  // "$unset" is a stage as well, in other words.
  const stages = Array.isArray(update?.u) ? (update.u as readonly Json[]) : [{ $unset: path }]
  return {
    hazards: [
      hazard(
        'may fail',
        `fails if two documents have the same ${index.parts.map(({ column }) => column).join(', ')} then`
      )
    ],
    preflight: duplicates(table.name, index, stages)
  }
}

const makesIndex = (table: Table, index: Index): StepDraft =>
  draft(
    createIndexCommand(table.name, index),
    `adds the index ${index.name}`,
    [created(table, { kind: 'index', value: index })],
    [{ dropIndexes: table.name, index: index.name }],
    index.unique ? [hazard('may fail', 'fails if two documents have the same values')] : [],
    index.unique ? duplicates(table.name, index) : undefined
  )

const takesIndex = (table: Table, index: Index): StepDraft =>
  draft(
    { dropIndexes: table.name, index: index.name },
    `removes the index ${index.name}`,
    [dropped(table, { kind: 'index', value: index })],
    [createIndexCommand(table.name, index)]
  )

export const mongodbAlterer: Alterer = {
  createTable: (table) => {
    const made: Table = { ...table, indexes: [] }
    return [
      draft(
        createCommand(table),
        `makes the collection ${table.name}`,
        [created(made, { kind: 'table', value: made })],
        [{ drop: table.name }]
      )
    ]
  },
  dropTable: (table) => [
    draft(
      { drop: table.name },
      `removes the collection ${table.name}`,
      [dropped(table, { kind: 'table', value: table })],
      [createCommand(table), ...table.indexes.map((index) => createIndexCommand(table.name, index))],
      [
        hazard('loses data', `all documents of ${table.name} go with it`),
        hazard('cannot be undone', 'the way back makes the collection again, empty')
      ]
    )
  ],
  renameTable: (table, to) => [
    draft(
      { renameCollection: table.name, to },
      'renames the collection, its documents stay',
      [{ action: 'rename', address: tableAddress(table), to }],
      [{ renameCollection: to, to: table.name }]
    )
  ],
  commentTable: (table, comment) => {
    const to = withProperty<Table>(table, 'comment', comment)
    return [restated(table, to, `describes ${table.name}`, [tableChange(table, to, 'comment')])]
  },
  alterTable: (table, property, value) => {
    if (property !== 'options') return undefined
    const to = withProperty<Table>(table, 'options', value)
    const fixed = CREATED.some((name) => table.options?.[name] !== to.options?.[name])
    return fixed ? undefined : [restated(table, to, `what ${table.name} lets in`, [tableChange(table, to, 'options')])]
  },
  addColumn: (table, column) => {
    const filled = column.fill === undefined ? [] : [filling(table, column, JSON.parse(column.fill) as Json)]
    // Every document has its id by itself.
    const asked = !column.nullable && column.name !== ROW_ID && filled.length === 0
    return [
      ...filled,
      restated(
        table,
        withColumns(table, [...table.columns, column]),
        `adds the field ${column.name}`,
        [
          created(table, { kind: 'column', value: column }),
          ...(column.name === ROW_ID ? [created(table, ROW_KEY)] : [])
        ],
        asked ? [hazard('may fail', STAY)] : [],
        asked ? missing(table, column) : undefined
      )
    ]
  },
  dropColumn: (table, column) => {
    const isRowId = column.name === ROW_ID
    const told = restated(
      table,
      withColumns(
        table,
        table.columns.filter(({ name }) => name !== column.name)
      ),
      `removes the field ${column.name}`,
      [...(isRowId ? [dropped(table, ROW_KEY)] : []), dropped(table, { kind: 'column', value: column })]
    )
    if (isRowId) return [told]
    return [taken(table, column.name, `what ${column.name} holds goes with it`), told]
  },
  alterColumn: (table, from, given) => {
    const to = withProperty<Column>(given, 'comment', from.comment)
    const properties = (['type', 'nullable', 'options'] as const).filter(
      (property) => !sameValue(propertyOf(from, property), propertyOf(to, property))
    )
    if (properties.length === 0) return []
    const effects = properties.map((property) =>
      alteredBase(table, 'column', from.name, property, propertyOf(from, property), propertyOf(to, property))
    )
    const after = withColumns(
      table,
      table.columns.map((one) => (one.name === from.name ? to : one))
    )
    const becomesRequired = from.nullable && !to.nullable
    return [
      ...converting(table, from, to),
      restated(
        table,
        after,
        `what ${from.name} may be`,
        effects,
        becomesRequired || properties.includes('options') || properties.includes('type')
          ? [hazard('may fail', STAY)]
          : [],
        becomesRequired ? missing(table, to) : undefined
      )
    ]
  },
  documents: mongodbDocuments,
  inTheWay: () => 'nothing',
  renameMember: (table, kind, from, to) => {
    if (kind !== 'column') return []
    return table.columns.some(({ name }) => name === from) ? renamed(table, from, to) : []
  },
  addMember: (table, kind, member) => (kind === 'index' ? [makesIndex(table, member as Index)] : []),
  dropMember: (table, kind, member) => (kind === 'index' ? [takesIndex(table, member as Index)] : []),
  commentMember: (table, kind, name, from, to) => {
    const column = kind === 'column' ? table.columns.find((one) => one.name === name) : undefined
    if (!column) return []
    const after = withColumns(
      table,
      table.columns.map((one) => (one === column ? withProperty<Column>(one, 'comment', to) : one))
    )
    return [restated(table, after, `describes ${name}`, [alteredBase(table, 'column', name, 'comment', from, to)])]
  }
}

/** Documents that are there get a value before it is asked of them. */
const filling = (table: Table, column: Column, value: Json): StepDraft => ({
  // What some had already is nobody's to take away: the way back leaves the values.
  ...draft(fillField(table.name, column.name, value), `gives ${column.name} to all that lack it`, [], []),
  about: memberAddress(table, 'column', column),
  repeatable: true
})

/** A field goes out of all documents: the validator is told next. */
function taken(table: Table, path: string, sentence: string): StepDraft {
  const command = removeField(table.name, path)
  const { hazards, preflight } = mayCoincide(table, path, command)
  return {
    ...draft(
      command,
      `takes ${path} out of all documents`,
      [],
      [],
      [
        ...hazards,
        hazard('loses data', sentence),
        hazard('cannot be undone', 'the way back knows the field again, without values')
      ]
    ),
    about: memberAddress(table, 'column', { name: path }),
    repeatable: true,
    ...(preflight ? { preflight } : {})
  }
}

const ROW_KEY = { kind: 'primaryKey', value: { name: ROW_ID_INDEX, columns: [ROW_ID] } } as const

/** Another name for a field, or another place in the document. */
function renamed(table: Table, from: string, to: string): StepDraft[] {
  const now = (path: string) => movedPath(path, from, to)
  const touched = table.columns.filter(({ name }) => now(name) !== name)
  const withNames = (index: Index): Index => ({
    ...index,
    parts: index.parts.map((part) => (part.column === undefined ? part : { ...part, column: now(part.column) }))
  })
  const indexes = table.indexes.filter((index) => !sameValue(index, withNames(index)))
  const without: Table = { ...table, indexes: table.indexes.filter((index) => !indexes.includes(index)) }
  const after = withColumns(
    without,
    without.columns.map((one) => ({ ...one, name: now(one.name) }))
  )
  const about = memberAddress(table, 'column', { name: from })
  const [moved, back] = [moveField(table.name, from, to), moveField(table.name, to, from)]
  const values: StepDraft = moved
    ? { ...draft(moved, `${from} is called ${to} in all documents`, [], back ? [back] : []), about, repeatable: true }
    : taken(table, from, `what ${from} holds cannot be moved to ${to}`)
  return [
    ...indexes.map((index) => takesIndex(table, index)),
    values,
    restated(
      without,
      after,
      'renames the field, its values stay',
      touched.map(({ name }): Change => ({
        action: 'rename',
        address: memberAddress(table, 'column', { name }),
        to: now(name)
      }))
    ),
    ...indexes.map((index) => makesIndex(after, withNames(index)))
  ]
}

const tableChange = (from: Table, to: Table, property: 'comment' | 'options'): Change => ({
  action: 'alter',
  address: tableAddress(from),
  property,
  from: propertyOf(from, property),
  to: propertyOf(to, property),
  certain: true
})

/** Values in their new type, where there is a way; those that do not become one stay. */
function converting(table: Table, from: Column, to: Column): StepDraft[] {
  const [old, now] = [from.type, to.type]
  if (old.name === now.name || !CONVERTED.includes(old.name) || !CONVERTED.includes(now.name)) return []
  const command = convertField(table.name, from.name, now.name)
  const { hazards, preflight } = mayCoincide(table, from.name, command)
  return [
    {
      ...draft(
        command,
        `turns ${from.name} from ${typeText(old)} into ${typeText(now)}`,
        [],
        [convertField(table.name, from.name, old.name)],
        [...hazards, hazard('rewrites table', 'every document that has it is written anew')]
      ),
      about: memberAddress(table, 'column', from),
      repeatable: true,
      ...(preflight ? { preflight } : {})
    }
  ]
}
