// The worker for what may take longer than a frame: deriving, writing, comparing, planning, taking, laying out.
import * as Comlink from 'comlink'
import { adopt, leftOut, readTogether, type Adopted } from '../core/adopt'
import {
  addressKey,
  applied,
  tableKey,
  type Address,
  type Catalog,
  type Change,
  type Placed,
  type Table
} from '../core/catalog'
import type { ConfirmedRename, Difference, LikelyRename } from '../core/compare'
import { derive, inNames, inReferences, renamedBy, type Renamed } from '../core/derive'
import { targetOf, type Design, type Edit, type Ignored, type ScriptSettings } from '../core/design'
import { answersByHand, dialect, questionsByHand } from '../core/dialects'
import {
  accepted,
  besideTheModel,
  catalogOfOffice,
  catalogOfRows,
  likelyFields,
  undesigned,
  suggestions,
  type Beside,
  type Documents,
  type Suggestion,
  type TextTable
} from '../core/infer'
import { followJot, readAgain, readJot, type JotRead, type JotState } from '../core/jot'
import type { Notice } from '../core/notice'
import type { LayoutRequest, Places } from '../core/picture'
import { type Statement, migrationScript, rowsAgainst, type Migration } from '../core/plan'
import { review, type Review } from '../core/review'
import {
  LiveScript,
  optionsOf,
  said,
  session,
  unsaidIn,
  withOption,
  type Along,
  type OptionPlace,
  type TakenBack
} from '../core/session'
import { jsonSchema } from '../core/json-schema'
import { catalogOfTexts, type TextFile } from './documents'
import { Receiver, unpacked } from './held'
import { arrange } from '../core/picture/arrange'

export interface Scripted {
  /** Tells a script from those before it. */
  readonly turn: number
  readonly statements: readonly Statement[]
  readonly notices: readonly Notice[]
}

/** A script as what makes it of the one before: from a statement on, up to another, others stand. */
export interface ScriptChange extends Scripted {
  readonly from: number
  readonly to: number
}

export interface Compared {
  readonly wanted: Catalog
  readonly differences: readonly Difference[]
  readonly likely: readonly LikelyRename[]
  /** What the database has beside the design, of kinds that no design says. */
  readonly carried: readonly Placed[]
  readonly notices: readonly Notice[]
}

/** What a comparison is about: a design's target, and what its database holds. */
export interface Sides {
  readonly design: Design
  readonly targetId: string
  readonly live: Catalog
  readonly agreed: Catalog | undefined
  /** New names that a person has confirmed. */
  readonly confirmed: readonly ConfirmedRename[]
}

export interface Planned {
  readonly migration: Migration
  /** The statements of the whole way back, in order. */
  readonly back: readonly string[]
  readonly along: Along
}

function open(design: Design, targetId: string | undefined, quoting?: 'always') {
  const target = targetOf(design, targetId)
  const engine = dialect(target.engine, target.version, quoting)
  if (!engine) throw new Error(`The target ${target.name} has no engine that is known here.`)
  return session(design, target, engine)
}
const comparison = ({ design, targetId, ...beside }: Sides) => open(design, targetId).beside(beside)

export interface Brought extends Adopted {
  /** What each table became, in the tables' order: the entity's name. */
  readonly entities: readonly string[]
}

/** What of a database is brought in, and how. */
export interface Bringing {
  readonly name: string
  readonly target: string
  /** The tables that are left out, by `tableKey`. */
  readonly leave?: ReadonlySet<string>
  /** What is left out beside tables, by `addressKey`. */
  readonly without?: ReadonlySet<string>
  /** What is left unsaid there, and said in the design. */
  readonly accept?: readonly Suggestion[]
}

/** What is not brought in, with the reasons: what is not wanted, and what stands on that. */
const notBrought = (catalog: Catalog, { leave, without }: Pick<Bringing, 'leave' | 'without'>): Ignored[] =>
  leave?.size || without?.size
    ? leftOut(
        catalog,
        (table) => !leave?.has(tableKey(table.schema, table.name)),
        (address) => !without?.has(addressKey(address))
      )
    : []

/** A database as a design, and what of it neither the design nor its target says. */
function bring(catalog: Catalog, bringing: Bringing): Brought {
  const { name, target: called, accept = [] } = bringing
  const engine = known(catalog.engine)
  const ignored = notBrought(catalog, bringing)
  const adopted = adopt(catalog, engine, {
    name,
    target: called,
    ignored,
    ...accepted(accept)
  })
  const { design, target } = adopted
  const made = new Map(
    derive(design, target, engine).catalog.tables.map(({ schema, name, origin }) => [
      tableKey(schema, name),
      origin && design.entities[origin.id]?.name
    ])
  )
  return { ...adopted, entities: catalog.tables.map(({ schema, name }) => made.get(tableKey(schema, name)) ?? '') }
}

function known(engine: string, version?: string, quoting?: 'always') {
  const found = dialect(engine, version, quoting)
  if (!found) throw new Error(`The engine ${engine} is not known here.`)
  return found
}

const live = new LiveScript()
let jot: JotState | undefined
let last: Scripted = { turn: 0, statements: [], notices: [] }

/** What is other than in the script that was given last; all of it for who has another one. */
function changeOf({ statements, notices }: Omit<Scripted, 'turn'>, has: number | undefined): ScriptChange {
  const isThere = has === last.turn
  const before = isThere ? last.statements : []
  last = { turn: last.turn + 1, statements, notices }
  let from = 0
  while (from < before.length && from < statements.length && before[from] === statements[from]) from++
  let end = 0
  while (
    end < before.length - from &&
    end < statements.length - from &&
    before.at(-1 - end) === statements.at(-1 - end)
  )
    end++
  return {
    turn: last.turn,
    from,
    to: isThere ? before.length - end : Number.MAX_SAFE_INTEGER,
    statements: statements.slice(from, statements.length - end),
    notices
  }
}

const api = {
  bring,
  notBrought,
  readScripts: readTogether,
  readRows: (tables: readonly TextTable[]): Catalog => catalogOfRows(tables, known('postgres')),
  /** Documents of collections; rejects with a sentence where a text holds none. */
  readDocuments: (files: readonly TextFile[]): Catalog => catalogOfTexts(files, known('mongodb')),
  /** Entities as JSON Schema, all or some. */
  jsonSchema: (design: Design, only: ReadonlySet<string> | undefined): string =>
    `${JSON.stringify(jsonSchema(design, only), null, 2)}\n`,
  /** The answers that somebody's own client has given; nothing for any other text. Rejects with a sentence. */
  readAnswers: async (text: string, engine?: string) => {
    const answers = answersByHand(text)
    if (!answers) return undefined
    if (engine !== undefined && answers.engine !== engine)
      throw new Error(`These are answers of ${known(answers.engine).profile.label}.`)
    const catalog = await answers.catalog(known(answers.engine, answers.version))
    return { catalog, engine: answers.engine, taken: answers.taken }
  },
  questions: (engine: string, version: string) => questionsByHand(known(engine, version)),
  readOffice: async (file: ArrayBuffer): Promise<Catalog> => {
    const { readOffice } = await import('../live/office')
    return catalogOfOffice(await readOffice(new Uint8Array(file)), known('postgres'))
  },
  /** `samples`: documents of its collections. */
  suggest: (catalog: Catalog, samples: readonly Documents[] = []): Suggestion[] => {
    const fields = likelyFields(catalog, samples)
    // What is likely of them is so of the fields that are taken, too.
    const engine = known(catalog.engine)
    const whole = applied(
      fields.flatMap(({ usual, changes }) => (usual ? changes : [])),
      catalog,
      engine.write
    )
    return [...fields, ...suggestions(whole, engine)]
  },
  /** Fields that documents have and their collection does not. */
  undesigned: (table: Table, documents: readonly unknown[]) => undesigned(table, documents),
  /** What a design leaves unsaid, by its names in a target. */
  options: (design: Design, targetId: string, entity: string) => optionsOf(design, targetId, entity),
  option: (design: Design, targetId: string, place: OptionPlace, name: string, value: string | undefined) =>
    withOption(design, targetId, place, name, value),
  unsaid: (design: Design, targetId: string | undefined): Suggestion[] => unsaidIn(design, targetId),
  /** The edit that says it, or why there is none. */
  say: (design: Design, targetId: string | undefined, suggestion: Suggestion) => said(design, targetId, suggestion),
  /** For each, the counts of rows that would speak against it. */
  against: (catalog: Catalog, list: readonly Suggestion[]): string[][] =>
    list.map(({ changes, about }) =>
      rowsAgainst(changes, about, catalog, known(catalog.engine)).map((preflight) => preflight.count)
    ),
  /** What would be called otherwise in a target by other rules for names. */
  renamed: (design: Design, targetId: string | undefined, change: Edit): Renamed[] =>
    renamedBy(design, targetOf(design, targetId), change),
  beside: (catalog: Catalog): Beside[] => besideTheModel(catalog),
  /** A view's text in a target's names, what of it leads nowhere there, and what else has a name there. */
  viewText: (design: Design, targetId: string | undefined, text: string) => {
    const { catalog, engine } = open(design, targetId)
    const { sql, lost } = inNames(text, catalog, engine)
    return { sql, lost, catalog }
  },
  /** A view's text with references in the place of a target's names. */
  viewReferences: (design: Design, targetId: string | undefined, sql: string): string => {
    const { catalog, engine } = open(design, targetId)
    return inReferences(sql, catalog, engine)
  },
  /** `only`: of these entities, by their ids. `has`: the turn of the script that is there already. */
  script: (
    design: Design,
    targetId: string | undefined,
    settings: ScriptSettings,
    only: ReadonlySet<string> | undefined,
    has: number | undefined
  ): ScriptChange => {
    const target = targetOf(design, targetId)
    const engine = known(target.engine, target.version, settings.quoting)
    return changeOf(live.update(design, target, engine, settings, only), has)
  },
  /** Where a target has what comes from these objects of a design. */
  places: (design: Design, targetId: string | undefined, ids: readonly string[]): readonly Address[] => {
    const target = targetOf(design, targetId)
    live.derive(design, target, known(target.engine, target.version))
    return live.places(ids)
  },
  /** The script that brings a target's database to what the design wants. */
  changes: ({ design, targetId, ...beside }: Sides, settings: ScriptSettings): ScriptChange => {
    const { notices, engine, beside: compared } = open(design, targetId, settings.quoting)
    const { migration } = compared(beside).plan()
    const about = new Map(migration.steps.map((step) => [step.statement, step.about]))
    const statements = migrationScript(migration, engine).map(({ sql }): Statement => {
      const at = about.get(sql)
      return at ? { sql, about: at } : { sql }
    })
    return changeOf({ notices, statements }, undefined)
  },
  /** What a text says, against the design that it said before. */
  readJot: (text: string, before: Design): Omit<JotRead, 'design'> => {
    jot = readAgain(text, before, jot)
    const { design: _design, ...read } = jot.read
    return read
  },
  /** A text that says a design which was changed elsewhere. */
  followJot: (text: string, design: Design) => {
    const next = followJot(text, design)
    const { lines, notices } = readJot(next, design)
    return { text: next, lines, notices }
  },
  review: (design: Design, targetId: string | undefined): Promise<Review> => review(design, targetOf(design, targetId)),
  compare: ({ design, targetId, ...beside }: Sides): Compared => {
    const opened = open(design, targetId)
    const { wanted, differences, likely, carried } = opened.beside(beside)
    return { wanted, differences, likely, carried, notices: opened.notices }
  },
  plan: ({ design, targetId, ...beside }: Sides, keys: readonly string[]): Planned => {
    const opened = open(design, targetId)
    const { migration, back, along } = opened.beside(beside).plan(keys)
    return { migration, along, back: migrationScript(back, opened.engine).map((statement) => statement.sql) }
  },
  take: (sides: Sides, keys: readonly string[], here: boolean): TakenBack => comparison(sides).take(keys, here),
  agree: (sides: Sides, effects: readonly Change[] = []): Catalog => comparison(sides).agree(effects),
  baseline: (sides: Sides): Catalog => comparison(sides).baseline(),
  /** What a design makes for a target. */
  wanted: (design: Design, targetId: string | undefined): Catalog => {
    const target = targetOf(design, targetId)
    return live.derive(design, target, known(target.engine, target.version)).catalog
  },
  /** What an entity, a column or a link becomes in a target, in words. */
  became: (design: Design, targetId: string | undefined, id: string): string[] => {
    const target = targetOf(design, targetId)
    const { catalog } = live.derive(design, target, known(target.engine, target.version))
    return catalog.tables.flatMap((table) => {
      if (table.origin?.id === id) return [`the table ${table.name}`]
      const columns = table.columns.filter(({ origin }) => origin?.id === id && origin.part === 'column')
      if (columns.length > 0) return columns.map(({ name }) => `${table.name}.${name}`)
      const key = table.foreignKeys.find(({ origin }) => origin?.id === id)
      return key ? [`${key.name} in ${table.name}`] : []
    })
  },
  layout: (request: LayoutRequest): Places => arrange(request)
}
export type Core = typeof api
const receiver = new Receiver()
Comlink.expose(
  Object.fromEntries(
    Object.entries(api).map(([name, call]) => [
      name,
      (...args: unknown[]) =>
        Reflect.apply(
          call,
          undefined,
          args.map((arg) => unpacked(arg, receiver))
        ) as unknown
    ])
  )
)
