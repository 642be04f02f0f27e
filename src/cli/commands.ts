// What each command does: sources in, text and notices out.
import { readFile, writeFile } from 'node:fs/promises'
import * as v from 'valibot'
import { addressKey, invert, type Change } from '../lib/core/catalog'
import { asSpelled, baseline, compare, type ConfirmedRename, type LikelyRename } from '../lib/core/compare'
import { dialect, ENGINES, printScript, writeScript, type Dialect } from '../lib/core/dialects'
import type { Notice } from '../lib/core/notice'
import { migrationScript, plan, type Step } from '../lib/core/plan'
import { printAgreed, readAgreed } from './agreed'
import { CouldNot, readSource, type Source } from './source'

export interface Outcome {
  /** Writes the result. */
  readonly output: () => Promise<void>
  readonly notices: readonly Notice[]
  readonly code: 0 | 1 | 2
}

interface Common {
  readonly engine: string
  readonly engineVersion?: string
  readonly target?: string
  readonly output?: string
  readonly json?: boolean
}

const to =
  ({ output }: Pick<Common, 'output'>, text: string) =>
  async () => {
    if (output === undefined) process.stdout.write(text)
    else await writeFile(output, text)
  }
const json = (value: unknown) => JSON.stringify(value, null, 2) + '\n'

function engineOf({ engine, engineVersion }: Common): Dialect {
  const known = ENGINES.find(({ id }) => id === engine)
  if (!known) throw new CouldNot(`There is no engine “${engine}”. Known: ${ENGINES.map(({ id }) => id).join(', ')}.`)
  if (engineVersion !== undefined && !known.versions.includes(engineVersion))
    throw new CouldNot(`${known.label} ${engineVersion} is not known. Known: ${known.versions.join(', ')}.`)
  const found = dialect(engine, engineVersion)
  if (!found) throw new CouldNot(`There is no engine “${engine}”.`)
  return found
}

export async function enginesCommand(options: { json?: boolean }): Promise<Outcome> {
  const list = ENGINES.map(({ id, label, versions }) => ({ id, label, versions }))
  const text = options.json
    ? json(list)
    : list.map(({ id, label, versions }) => `${id}  ${label}  ${versions.join(' ')}\n`).join('')
  return { output: to({}, text), notices: [], code: 0 }
}

export async function scriptCommand(
  source: string,
  options: Common & { drop?: boolean; only?: string }
): Promise<Outcome> {
  const engine = engineOf(options)
  const { catalog, notices } = await readSource(source, engine, options.target)
  stopAtErrors(notices)
  const only = options.only?.split(',').map((name) => name.trim())
  const missing = only?.find((name) => !catalog.tables.some((table) => table.name === name))
  if (missing !== undefined) throw new CouldNot(`There is no table ${missing}.`)
  const statements = writeScript(catalog, engine, {
    drop: options.drop ?? false,
    ...(only ? { only: new Set(only) } : {})
  })
  return {
    output: to(options, options.json ? json({ statements, notices }) : printScript(statements, engine)),
    notices,
    code: 0
  }
}

/** A design with errors is not written down as if it had none. */
function stopAtErrors(notices: readonly Notice[]) {
  const errors = notices.filter((notice) => notice.severity === 'error')
  if (errors.length) throw new CouldNot(errors.map((notice) => notice.message).join('\n'))
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
  readonly a: Source
  readonly b: Source
  readonly changes: readonly Change[]
  readonly notices: readonly Notice[]
}

/** Two designs know each other's objects by identity; everything else is matched by name. */
async function between(a: string, b: string, options: Common & { renames?: string }): Promise<Between> {
  const engine = engineOf(options)
  const [from, wanted] = [await readSource(a, engine, options.target), await readSource(b, engine, options.target)]
  stopAtErrors([...from.notices, ...wanted.notices])
  const confirmed = await confirmedRenames(options.renames, engine)
  for (const rename of confirmed) {
    const table = from.catalog.tables.find((t) => t.schema === rename.schema && t.name === rename.table)
    if (!table || (rename.column !== undefined && !table.columns.some((c) => c.name === rename.column)))
      throw new CouldNot(
        `The file of renames speaks of ${rename.table}${rename.column === undefined ? '' : `.${rename.column}`}, which is not in ${a.replace(/:[^@/]*@/, ':…@')}.`
      )
  }
  const agreed = from.designed && wanted.designed ? from.catalog : undefined
  const spelled = asSpelled({ wanted: wanted.catalog, live: from.catalog, agreed, confirmed }, engine)
  const { changes, likely } = compare({ wanted: spelled, live: from.catalog, agreed, confirmed }, engine)
  const unsure = changes.filter((change) => change.action === 'alter' && !change.certain)
  return {
    engine,
    a: from,
    b: { ...wanted, catalog: spelled },
    changes,
    notices: [
      ...from.notices,
      ...wanted.notices,
      ...likely.map(likelyNotice),
      ...unsure.map((c): Notice => ({
        code: 'cannot-tell',
        severity: 'warning',
        message: `Whether ${line(c)} is a difference cannot be told: it is left alone.`
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
  const { kind, table, name } = change.address
  const what = kind === 'table' ? `table ${name}` : `${kind} ${table}.${name}`
  if (change.action === 'rename') return `${what} → ${change.to}`
  return change.action === 'alter' ? `${what} ${change.property}: ${text(change.from)} → ${text(change.to)}` : what
}
const text = (value: unknown) =>
  value === undefined ? 'none' : typeof value === 'string' ? value : JSON.stringify(value)

const whoWords = {
  design: 'changed in the design',
  database: 'changed in the database',
  both: 'changed on both sides',
  'not known': 'never agreed on'
} as const

/** A design, a database, and what both last agreed on: who changed what. Changes are those that the database needs. */
async function threeWayCommand(
  design: string,
  database: string,
  options: CompareOptions & { agreed: string }
): Promise<Outcome> {
  const engine = engineOf(options)
  const [wanted, live] = [await readSource(design, engine, options.target), await readSource(database, engine)]
  if (!wanted.designed || live.designed)
    throw new CouldNot('A three-way comparison is of a design and a database, in this order.')
  stopAtErrors(wanted.notices)
  const agreed = await readAgreed(options.agreed, engine.profile.id)
  const confirmed = await confirmedRenames(options.renames, engine)
  const sides = { wanted: wanted.catalog, live: live.catalog, agreed, confirmed }
  const { differences, likely } = compare({ ...sides, wanted: asSpelled(sides, engine) }, engine)
  const notices = [...wanted.notices, ...live.notices, ...likely.map(likelyNotice)]
  const lines = differences.map(({ change, who }) => {
    const told = change.action === 'alter' && !change.certain ? 'cannot be told' : whoWords[who]
    return `${sign[change.action]} ${line(change)}  [${told}]\n`
  })
  return {
    output: to(options, options.json ? json({ differences, notices }) : lines.join('')),
    notices,
    code: differences.length ? 1 : 0
  }
}

/** Takes a database as it is for agreed, and writes that down; nothing is run. */
export async function baselineCommand(design: string, database: string, options: Common): Promise<Outcome> {
  const { engine, a, b, notices } = await between(database, design, options)
  if (a.designed || !b.designed) throw new CouldNot('A baseline is of a design and a database, in this order.')
  const input = { wanted: b.catalog, live: a.catalog }
  const agreed = baseline(input, compare(input, engine).changes, engine)
  return { output: to(options, printAgreed(agreed)), notices, code: 0 }
}

type CompareOptions = Common & { renames?: string; agreed?: string }

export async function compareCommand(a: string, b: string, options: CompareOptions): Promise<Outcome> {
  if (options.agreed !== undefined) return threeWayCommand(a, b, { ...options, agreed: options.agreed })
  const { changes, notices } = await between(a, b, options)
  const lines = changes.map((change) => `${sign[change.action]} ${line(change)}\n`).join('')
  return {
    output: to(
      options,
      options.json ? json({ changes: changes.map((c) => ({ at: addressKey(c.address), ...c })), notices }) : lines
    ),
    notices,
    code: changes.length ? 1 : 0
  }
}

type MigrateOptions = Common & { renames?: string; undo?: boolean; allowLoss?: boolean }

export async function migrateCommand(a: string, b: string, options: MigrateOptions): Promise<Outcome> {
  const { engine, a: from, changes, notices } = await between(a, b, options)
  const there = plan(from.catalog, changes, engine)
  const migration = options.undo ? plan(there.to, invert(changes), engine) : there
  const { steps } = migration
  const losing = steps.filter((step) => step.hazards.some((hazard) => hazard.kind === 'loses data'))
  const losses = losing.map((step): Notice => ({
    code: 'loses-data',
    severity: options.allowLoss ? 'warning' : 'error',
    message: `Step ${step.id} loses data: ${step.statement.split('\n')[0] ?? ''}: ${reasons(step)}`
  }))
  return {
    output: to(
      options,
      options.json
        ? json({ steps, notices: [...notices, ...losses] })
        : printScript(migrationScript(migration, engine), engine)
    ),
    notices: [...notices, ...losses],
    code: losing.length && !options.allowLoss ? 1 : 0
  }
}

const reasons = (step: Step) =>
  step.hazards
    .filter((hazard) => hazard.kind === 'loses data')
    .map((hazard) => hazard.sentence)
    .join('; ')
