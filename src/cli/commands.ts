// What each command does: sources in, text and notices out.
import { readFile } from 'node:fs/promises'
import * as v from 'valibot'
import { addressKey, namesOf, typeText, type Change, type DataType, type Table } from '../lib/core/catalog'
import type { ConfirmedRename, LikelyRename } from '../lib/core/compare'
import { printDesign, SCRIPT_PARTS, type ScriptSettings } from '../lib/core/design'
import { dialect, ENGINES, printScript, questionsByHand, type Dialect } from '../lib/core/dialects'
import { printJot } from '../lib/core/jot'
import type { Notice } from '../lib/core/notice'
import { writeScript, migrationScript, printFile, scriptFiles, type Step } from '../lib/core/plan'
import { catalogSession, session, type Comparison } from '../lib/core/session'
import { printAgreed, readAgreed } from './agreed'
import { CouldNot } from './could-not'
import type { Outcome } from './outcome'
import { filesIn, given, json } from './outcome'
import { designAsJson, readInto } from './read'
import { openSource, type Source } from './source'

export interface Common {
  /** Where it is not said, the one that the first source is of. */
  readonly engine?: string
  readonly engineVersion?: string
  readonly target?: string
  readonly output?: string
  readonly timeout?: string
  readonly json?: boolean
  /** A file of any name may be a script. */
  readonly scripts?: boolean
}

/** The sources, in their order, for the engine asked for: in the version asked for, else in that of the target asked for. */
export async function open<N extends readonly string[]>(
  options: Common,
  ...names: N
): Promise<{ engine: Dialect; names: { [K in keyof N]: string }; sources: { [K in keyof N]: Source } }> {
  const { target, engineVersion } = options
  const opened = await Promise.all(names.map((name) => openSource(name, options)))
  const id = options.engine ?? opened[0]?.engine(target)
  if (id === undefined) throw new CouldNot(`Which engine ${names[0] ?? ''} is of cannot be told: say it with --engine.`)
  if (engineVersion !== undefined) engineOf(id, engineVersion)
  const versions = opened.map((source) => source.version(target, id))
  const engine = engineOf(id, engineVersion ?? versions.find((version) => version !== undefined))
  return {
    engine,
    names: opened.map((source) => source.name) as { [K in keyof N]: string },
    sources: (await Promise.all(opened.map((source) => source.read(engine, target)))) as { [K in keyof N]: Source }
  }
}

/** The dialect of an engine and version; throws `CouldNot` where there is none. */
function engineOf(id: string, version?: string): Dialect {
  const known = ENGINES.find((engine) => engine.id === id)
  if (!known) throw new CouldNot(`There is no engine “${id}”. Known: ${ENGINES.map((engine) => engine.id).join(', ')}.`)
  const found = version === undefined || known.versions.includes(version) ? dialect(id, version) : undefined
  if (!found) throw new CouldNot(`${known.label} ${version} is not known. Known: ${known.versions.join(', ')}.`)
  return found
}

/** The questions that reading a database asks, for its own client. */
export async function questionsCommand(options: Common & { engine: string }): Promise<Outcome> {
  const engine = engineOf(options.engine, options.engineVersion)
  const script = await questionsByHand(engine)
  if (script === undefined)
    throw new CouldNot(`The client of ${engine.profile.label} prints no answers that can be read.`)
  return { output: given(options, script), notices: [], code: 0 }
}

interface ScriptChoices {
  readonly drop?: boolean
  readonly make?: string
  readonly only?: string
  readonly without?: string
  readonly quoting?: string
  readonly separator?: string
  readonly before?: string
  readonly after?: string
  readonly files?: string
  readonly database?: string
  readonly databaseWith?: string
}

/** The statements that make a database of a name, and have the engine's own tool go there. */
function databaseStatements({ newDatabase, profile }: Dialect, name: string, said = ''): { readonly sql: string }[] {
  if (!newDatabase) throw new CouldNot(`A database of ${profile.label} is made by what is put into it.`)
  const pairs = said.split(',').flatMap((pair) => {
    const [setting = '', ...value] = pair.split('=').map((part) => part.trim())
    if (setting === '') return []
    const known = newDatabase.settings.map((one) => one.name)
    if (!known.includes(setting))
      throw new CouldNot(`Nothing called “${setting}” is said of a database: ${known.join(', ')}.`)
    return [[setting, value.join('=')] as const]
  })
  try {
    const made = newDatabase.statement(name, Object.fromEntries(pairs))
    return [{ sql: made }, ...(newDatabase.enter ? [{ sql: newDatabase.enter(name) }] : [])]
  } catch (error) {
    throw new CouldNot(error instanceof Error ? error.message : String(error))
  }
}

/** What is said on the command line, over what a target says of its scripts. */
async function scriptSettings(said: ScriptChoices, of: ScriptSettings = {}): Promise<ScriptSettings> {
  const without = said.without?.split(',').map((name) => name.trim())
  const odd = without?.find((name) => !(SCRIPT_PARTS as readonly string[]).includes(name))
  if (odd !== undefined) throw new CouldNot(`“${odd}” is no part of a script. Parts: ${SCRIPT_PARTS.join(', ')}.`)
  const { make = said.drop ? 'both' : undefined } = said
  if (make !== undefined && !['create', 'drop', 'both'].includes(make))
    throw new CouldNot(`“${make}” cannot be made: create, drop or both.`)
  if (said.quoting !== undefined && said.quoting !== 'always' && said.quoting !== 'needed')
    throw new CouldNot(`“${said.quoting}” is no way to quote: always or needed.`)
  const { make: _make, quoting: _quoting, ...rest } = of
  const text = (file: string | undefined) =>
    file === undefined
      ? undefined
      : readFile(file, 'utf8').catch(() => {
          throw new CouldNot(`The file ${file} cannot be read.`)
        })
  const [before, after] = await Promise.all([text(said.before), text(said.after)])
  const makes = make ?? of.make
  const quoting = said.quoting ?? of.quoting
  return {
    ...rest,
    ...(makes === 'drop' || makes === 'both' ? { make: makes } : {}),
    ...(quoting === 'always' ? { quoting } : {}),
    ...(without ? { without: without as NonNullable<ScriptSettings['without']> } : {}),
    ...(said.separator === undefined ? {} : { separator: said.separator }),
    ...(before === undefined ? {} : { before }),
    ...(after === undefined ? {} : { after })
  }
}

export async function scriptCommand(source: string, options: Common & ScriptChoices): Promise<Outcome> {
  const opened = await open(options, source)
  const { notices, designed } = opened.sources[0]
  stopAtErrors(notices)
  const settings = await scriptSettings(options, designed?.target.script)
  const { id, version } = opened.engine.profile
  const engine = (settings.quoting && dialect(id, version, settings.quoting)) ?? opened.engine
  if (designed) await stopAtFindings(designed)
  const { catalog } =
    designed && settings.quoting ? session(designed.design, designed.target, engine) : opened.sources[0]
  const only = options.only?.split(',').map((name) => name.trim())
  const missing = only?.find((name) => !catalog.tables.some((table) => table.name === name))
  if (missing !== undefined) throw new CouldNot(`There is no table ${missing}.`)
  const statements = [
    ...(options.database === undefined ? [] : databaseStatements(engine, options.database, options.databaseWith)),
    ...writeScript(catalog, engine, { ...settings, ...(only ? { only: new Set(only) } : {}) })
  ]
  const output =
    options.files === undefined
      ? given(options, options.json ? json({ statements, notices }) : printFile(statements, engine, settings))
      : filesIn(options.files, scriptFiles(statements, engine, settings))
  return {
    output,
    notices,
    // Not all of the database is in it.
    code: catalog.unread.length > 0 ? 1 : 0
  }
}

/** A design in words; a database or a script as the design that it would be. */
export async function jotCommand(source: string, options: Common): Promise<Outcome> {
  const { engine, names, sources } = await open({ ...options, scripts: true }, source)
  const { designed } = sources[0]
  const read = designed ? undefined : readInto(sources[0], engine, { name: names[0], infer: [] })
  const design = (designed ?? read)?.design
  if (!design) throw new CouldNot(`${source} holds no design.`)
  const left: Notice[] = [
    ...(Object.keys(design.views).length > 0 ? ['its views'] : []),
    ...(Object.keys(design.targets).length > 0 ? ['its targets'] : [])
  ].map((what) => ({ code: 'jot-left', severity: 'info', message: `What the text has no words for is left: ${what}.` }))
  return { output: given(options, printJot(design)), notices: [...(read?.notices ?? []), ...left], code: 0 }
}

/** Makes a design of a database or a script. */
export async function readCommand(
  source: string,
  options: Common & { strict?: boolean; infer?: string; tables?: string }
): Promise<Outcome> {
  const { engine, names, sources } = await open({ ...options, scripts: true }, source)
  if (sources[0].session) throw new CouldNot(`${source} is a design already.`)
  const {
    design,
    notices: found,
    whole,
    statements
  } = readInto(sources[0], engine, {
    name: names[0],
    infer: inferred(options.infer),
    chosen: chosenTables(sources[0], options.tables)
  })
  const guessed: Notice = {
    code: 'engine-guessed',
    severity: 'info',
    message: `${source} is read as a script of ${engine.profile.label}: another engine is said with --engine.`
  }
  const notices = statements && options.engine === undefined ? [guessed, ...found] : found
  if (statements && statements.read + statements.carried === 0)
    throw new CouldNot(`${source} makes nothing that ${engine.profile.label} knows.`)
  const strict = options.strict === true && (statements?.carried ?? 0) > 0
  const told = { design: designAsJson(design), notices, ...(statements ? { statements } : {}) }
  return {
    output: given(options, options.json ? json(told) : printDesign(design)),
    notices,
    code: whole && !strict ? 0 : 1
  }
}

const SORTS = {
  links: 'link',
  keys: 'key',
  indexes: 'index',
  bridges: 'between',
  subtypes: 'special',
  domains: 'domain',
  names: 'word'
} as const

/** What is to be inferred: names of sorts, separated by commas. */
function inferred(list = ''): (typeof SORTS)[keyof typeof SORTS][] {
  const names = list.split(',').flatMap((name) => name.trim() || [])
  const unknown = names.find((name) => !(name in SORTS))
  if (unknown !== undefined)
    throw new CouldNot(`“${unknown}” cannot be inferred. Known: ${Object.keys(SORTS).join(', ')}.`)
  return names.map((name) => SORTS[name as keyof typeof SORTS])
}

/** Some tables of a source, by their names, in which `*` stands for anything. */
function chosenTables({ catalog }: Source, list: string | undefined): ((table: Table) => boolean) | undefined {
  if (list === undefined) return undefined
  const names = list.split(',').map((name) => name.trim())
  const patterns = names.map(
    (name) => new RegExp(`^${name.replace(/[.+?^${}()|[\]\\]/g, '\\$&').replaceAll('*', '.*')}$`, 'u')
  )
  const missing = names.find((_, i) => !catalog.tables.some((table) => patterns[i]?.test(table.name)))
  if (missing !== undefined) throw new CouldNot(`There is no table ${missing}.`)
  return ({ name }) => patterns.some((pattern) => pattern.test(name))
}

/** A design with errors is not written down as if it had none. */
function stopAtErrors(notices: readonly Notice[]) {
  const errors = notices.filter((notice) => notice.severity === 'error')
  if (errors.length) throw new CouldNot(errors.map((notice) => notice.message).join('\n'))
}

/** A design in which something is that its checks call an error is not written down either. */
async function stopAtFindings({ design, target }: NonNullable<Source['designed']>) {
  // Only a design is looked over: a database has its reasons.
  const { review } = await import('../lib/core/review')
  const errors = (await review(design, target)).findings.filter(({ grade }) => grade === 'error')
  if (errors.length > 0)
    throw new CouldNot(errors.map(({ check, message }) => `${message} (${check}, graded as an error)`).join('\n'))
}

const RenamesSchema = v.array(
  v.object({ schema: v.optional(v.string()), table: v.string(), column: v.optional(v.string()), to: v.string() })
)

async function confirmedRenames(file: string | undefined, engine: Dialect): Promise<ConfirmedRename[]> {
  if (file === undefined) return []
  const text = await readFile(file, 'utf8').catch(() => {
    throw new CouldNot(`The file of renames ${file} cannot be read.`)
  })
  let raw: unknown
  try {
    raw = JSON.parse(text)
  } catch (error) {
    throw new CouldNot(`${file} is not JSON: ${error instanceof Error ? error.message : ''}`)
  }
  const read = v.safeParse(RenamesSchema, raw)
  if (!read.success)
    throw new CouldNot(`${file}: ${v.getDotPath(read.issues[0]) ?? 'the list'}: ${read.issues[0].message}`)
  return read.output.map(({ column, schema, ...rest }) => ({
    ...rest,
    schema: schema ?? engine.profile.defaultSchema,
    ...(column === undefined ? {} : { column })
  }))
}

interface Between {
  readonly engine: Dialect
  readonly from: Source
  readonly to: Source
  readonly comparison: Comparison
  readonly notices: readonly Notice[]
}

type CompareOptions = Common & { renames?: string; agreed?: string }

/**
 * From A to B as the target asked for has it, whichever of the two its design is. Two designs know each other's objects by
 * identity, a design and a database through what they last agreed on; everything else is matched by name.
 */
async function between(a: string, b: string, options: CompareOptions): Promise<Between> {
  const { engine, sources } = await open(options, a, b)
  const [from, to] = sources
  if (options.target !== undefined && !from.session && !to.session)
    throw new CouldNot(`There is no design whose target “${options.target}” could be.`)
  stopAtErrors([...from.notices, ...to.notices])
  const confirmed = await confirmedRenames(options.renames, engine)
  for (const rename of confirmed) {
    const table = from.catalog.tables.find((t) => t.schema === rename.schema && t.name === rename.table)
    if (!table || (rename.column !== undefined && !table.columns.some((c) => c.name === rename.column)))
      throw new CouldNot(
        `The file of renames speaks of ${rename.table}${rename.column === undefined ? '' : `.${rename.column}`}, which is not in ${a.replace(/:[^@/]*@/, ':…@')}.`
      )
  }
  const agreed =
    options.agreed !== undefined
      ? await readAgreed(options.agreed, engine.profile.id)
      : from.session && to.session
        ? from.catalog
        : undefined
  const session = to.session ?? catalogSession(to.catalog, { ignored: from.scope?.ignored }, engine)
  const comparison = session.beside({ live: from.catalog, agreed, confirmed })
  const unsure = comparison.differences.filter(({ change }) => change.action === 'alter' && !change.certain)
  return {
    engine,
    from,
    to,
    comparison,
    notices: [
      ...from.notices,
      ...to.notices,
      ...comparison.likely.map(likelyNotice),
      ...unsure.map(({ change }): Notice => ({
        code: 'cannot-tell',
        severity: 'warning',
        message: `Whether ${line(change)} is a difference cannot be told: it is left alone.`
      }))
    ]
  }
}

const likelyNotice = ({ table, column, to: name, because }: LikelyRename): Notice => ({
  code: 'likely-rename',
  severity: 'warning',
  where: column === undefined ? table : `${table}.${column}`,
  message: `${column === undefined ? table : `${table}.${column}`} may have become ${name} (${because}). It is not taken for a rename: say so in --renames if it is.`
})

const sign = { create: '+', drop: '-', rename: '>', alter: '~' } as const

function line(change: Change): string {
  const { kind, table, name } = namesOf(change.address)
  const what = kind === 'table' ? `table ${name}` : `${kind} ${table}.${name}`
  if (change.action === 'rename') return `${what} → ${change.to}`
  return change.action === 'alter'
    ? `${what} ${change.property}: ${text(change.from, change.property)} → ${text(change.to, change.property)}`
    : what
}
function text(value: unknown, property: string): string {
  if (value === undefined) return 'none'
  if (typeof value === 'string') return value
  return property === 'type' || property === 'base' ? typeText(value as DataType) : JSON.stringify(value)
}

const whoWords = {
  design: 'changed in the design',
  database: 'changed in the database',
  both: 'changed on both sides',
  'not known': 'never agreed on'
} as const

/** A design, a database, and what both last agreed on: who changed what. Changes are those that the database needs. */
async function threeWayCommand(design: string, database: string, options: CompareOptions): Promise<Outcome> {
  const { from, to, comparison, notices } = await between(database, design, options)
  if (!to.session || from.session)
    throw new CouldNot('A three-way comparison is of a design and a database, in this order.')
  const { differences } = comparison
  const lines = differences.map(({ change, who }) => {
    const told = change.action === 'alter' && !change.certain ? 'cannot be told' : whoWords[who]
    return `${sign[change.action]} ${line(change)}  [${told}]\n`
  })
  return {
    output: given(options, options.json ? json({ differences, notices }) : lines.join('')),
    notices,
    code: differences.length ? 1 : 0
  }
}

/** Takes a database as it is for agreed, and writes that down; nothing is run. */
export async function baselineCommand(design: string, database: string, options: Common): Promise<Outcome> {
  const { from, to, comparison, notices } = await between(database, design, options)
  if (from.session || !to.session) throw new CouldNot('A baseline is of a design and a database, in this order.')
  return { output: given(options, printAgreed(comparison.baseline())), notices, code: 0 }
}

export async function compareCommand(a: string, b: string, options: CompareOptions): Promise<Outcome> {
  if (options.agreed !== undefined) return threeWayCommand(a, b, options)
  const { comparison, notices } = await between(a, b, options)
  const changes = comparison.differences.map((difference) => difference.change)
  const lines = changes.map((change) => `${sign[change.action]} ${line(change)}\n`).join('')
  return {
    output: given(
      options,
      options.json ? json({ changes: changes.map((c) => ({ at: addressKey(c.address), ...c })), notices }) : lines
    ),
    notices,
    code: changes.length ? 1 : 0
  }
}

type MigrateOptions = CompareOptions & { undo?: boolean; allowLoss?: boolean }

export async function migrateCommand(a: string, b: string, options: MigrateOptions): Promise<Outcome> {
  const { engine, comparison, notices } = await between(a, b, options)
  const planned = comparison.plan()
  const migration = options.undo ? planned.back : planned.migration
  const { steps } = migration
  const losing = steps.filter((step) => step.hazards.some((hazard) => hazard.kind === 'loses data'))
  const left = (migration.left ?? []).map((change): Notice => ({
    code: 'no-statement',
    severity: 'error',
    message: `${engine.profile.label} has no statement for this, and it stays as it is: ${line(change)}.`
  }))
  const losses = losing.map((step): Notice => ({
    code: 'loses-data',
    severity: options.allowLoss ? 'warning' : 'error',
    message: `Step ${step.id} loses data: ${step.statement.split('\n')[0] ?? ''}: ${reasons(step)}`
  }))
  return {
    output: given(
      options,
      options.json
        ? json({ steps, notices: [...notices, ...left, ...losses] })
        : printScript(migrationScript(migration, engine), engine)
    ),
    notices: [...notices, ...left, ...losses],
    code: left.length || (losing.length && !options.allowLoss) ? 1 : 0
  }
}

const reasons = (step: Step) =>
  step.hazards
    .filter((hazard) => hazard.kind === 'loses data')
    .map((hazard) => hazard.sentence)
    .join('; ')
