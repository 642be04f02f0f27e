// The laws of the architecture, on every engine that runs here: what is written is what is read back, and a plan leads
// from any state to any other without losing a row that it did not say it would lose.
// ENGINE names one engine, CASES the number of random cases, SEED where they begin, NO_SHRINK=1 shows the first
// failing case as it is, at once.
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import {
  typeText,
  addressKey,
  invert,
  type Address,
  tableKey,
  namesOf,
  type Catalog,
  type Change,
  type Table
} from '../../src/lib/core/catalog'
import { asSpelled, compare } from '../../src/lib/core/compare'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { writeScript, closure, plan, stepState, type Migration, type Step } from '../../src/lib/core/plan'
import { asRenamed, catalogs, inOtherCase, valuesOf, withOrigins } from '../support/catalogs'
import { leftAfter } from '../support/agreed'
import { ENGINES_UNDER_TEST, type EngineUnderTest, type Playground } from '../support/engines'

const runs = { endOnFailure: process.env['NO_SHRINK'] === '1', numRuns: Number(process.env['CASES'] ?? 12) }
/** Two thousand cases on one engine take more than an hour. */
const AS_LONG_AS_IT_TAKES = 24 * 3_600_000
const wanted = process.env['ENGINE']
const engines = ENGINES_UNDER_TEST.filter((engine) => wanted === undefined || engine.id === wanted)

/** Cases that failed once: the seed and the way to the case. */
type Kept = readonly (readonly [number, string])[]
const kept: Readonly<Record<string, { reads?: Kept; moves?: Kept; choices?: Kept }>> = {
  postgres: {
    reads: [
      [7, '2'],
      [11, '0'],
      [11, '14']
    ],
    moves: [
      [-1644022611, '0'],
      [7, '2'],
      [11, '1'],
      [11, '17'],
      [11, '26']
    ]
  },
  sqlite: {
    moves: [
      [20261126, '24'],
      [20261126, '192'],
      [20261126, '1350']
    ],
    choices: [[20261126, '24']]
  },
  mariadb: {
    choices: [
      [20261123, '1259'],
      // Half of what changes of an index.
      [7001, '185']
    ]
  },
  firebird: {
    moves: [
      [20261123, '161'],
      [20261123, '256'],
      // A truth value becomes a number that the engine counts on.
      [20261126, '590']
    ],
    choices: [[20261123, '298']]
  }
}

describe.each(engines)('$label', (engine: EngineUnderTest) => {
  const dialect = dialectOf(engine.engine, engine.version) as Dialect
  let db: Playground
  let untoldCount = 0
  beforeAll(async () => {
    if (!engine.lacking) db = await engine.open()
  }, 60_000)
  afterAll(async () => {
    if (untoldCount > 0) console.log(`${engine.label}: ${untoldCount} expressions could not be told apart or alike`)
    await db?.close()
  })

  /** What differs for certain: what cannot be told is said to be so, and left alone. */
  const differences = async (catalog: Catalog) => {
    const { changes } = compare({ wanted: catalog, live: await db.live.catalog() }, dialect)
    const untold = changes.filter((change) => change.action === 'alter' && !change.certain)
    untoldCount += untold.length
    return changes.filter((change) => !untold.includes(change))
  }

  async function create(catalog: Catalog) {
    await db.reset()
    for (const { sql } of writeScript(catalog, dialect)) await db.exec(sql)
  }

  const readsBack = fc.asyncProperty(catalogs(dialect), async (catalog) => {
    await create(catalog)
    expect(await differences(catalog)).toEqual([])
    // And once more in the engine's own words, the order of columns included.
    const first = await db.live.catalog()
    await create(first)
    expect(await differences(first)).toEqual([])
    expect((await db.live.catalog()).tables.map(columnNames)).toEqual(first.tables.map(columnNames))
  })

  const anyMove = fc.tuple(catalogs(dialect), catalogs(dialect), fc.nat(4), fc.boolean())
  const migrates = fc.asyncProperty(anyMove, async ([a, b, shift, renaming]) => {
    await create(a)
    await fill(a, db)
    const agreed = renaming ? withOrigins(a) : undefined
    const wanted = agreed ? asRenamed(b, agreed, shift) : withOrigins(b)
    const { changes } = compare({ wanted, live: await db.live.catalog(), agreed }, dialect)
    const watching = await watch(changes, shift, db)
    const live = await db.live.catalog()
    const migration = plan(live, changes, dialect)
    const before = await contents(live, db)

    const { emptied } = await run(migration, db)
    expect(await differences(b)).toEqual([])
    // What the run has made is known for what is wanted, in whatever words the engine prints it.
    const made = leftAfter(migration, { wanted, live: await db.live.catalog(), agreed }, dialect)
    expect(made.filter((change) => !unsureBefore(changes, change))).toEqual([])
    if (!emptied) await expectRowsKept(live, migration, before, db)
    await watching('now')

    const there = await db.live.catalog()
    await db.empty(there.tables)
    await run(plan({ ...migration.to, views: there.views ?? [] }, invert(changes), dialect), db)
    expect(await differences(a)).toEqual([])
    await watching('before')
  })

  const anyChoice = fc.tuple(anyMove, fc.array(fc.nat(1000), { maxLength: 4 }))
  const chooses = fc.asyncProperty(anyChoice, async ([[a, b, shift, renaming], picks]) => {
    await create(a)
    const agreed = renaming ? withOrigins(a) : undefined
    const wanted = agreed ? asRenamed(b, agreed, shift) : b
    const live = await db.live.catalog()
    const all = compare({ wanted, live, agreed }, dialect).changes
    const chosen = picks.flatMap((n) => all[n % Math.max(all.length, 1)] ?? [])
    const { changes } = closure({ chosen, all, live, wanted }, dialect)
    const migration = plan(live, changes, dialect)
    await run(migration, db)
    // What a statement does not say (a collation, say) is as the engine has it.
    expect(
      await differences({ ...migration.to, partial: true }),
      migration.steps.map((s) => s.statement).join('\n')
    ).toEqual([])
  })

  const anySpelling = fc.tuple(anyMove, fc.array(fc.boolean(), { minLength: 3, maxLength: 9 }))
  const spells = fc.asyncProperty(anySpelling, async ([[a, b, shift, renaming], upper]) => {
    await create(inOtherCase(a, upper, dialect))
    const agreed = renaming ? withOrigins(inOtherCase(a, upper, dialect)) : undefined
    const live = await db.live.catalog()
    const same = asSpelled({ wanted: a, live, agreed }, dialect)
    expect(await differences(same)).toEqual([])

    const given = agreed ? asRenamed(b, agreed, shift) : b
    const wanted = asSpelled({ wanted: given, live, agreed }, dialect)
    await run(plan(live, compare({ wanted, live, agreed }, dialect).changes, dialect), db)
    expect(await differences(wanted)).toEqual([])
  })

  it.skipIf(engine.lacking)('reads back what was written', () => fc.assert(readsBack, runs), AS_LONG_AS_IT_TAKES)
  it.skipIf(engine.lacking)(
    'migrates from any state to any other and back',
    () => fc.assert(migrates, runs),
    AS_LONG_AS_IT_TAKES
  )
  it.skipIf(engine.lacking)(
    'carries out any choice of changes with what it needs',
    () => fc.assert(chooses, runs),
    AS_LONG_AS_IT_TAKES
  )

  it.skipIf(engine.lacking ?? !dialect.profile.names.caseless)(
    'takes a name in another case for the same name',
    () => fc.assert(spells, runs),
    AS_LONG_AS_IT_TAKES
  )

  const { reads = [], moves = [], choices = [] } = kept[engine.id] ?? {}
  if (reads.length && !engine.lacking)
    it.each(reads)('still reads back the case %i, %s', (seed, path) => fc.assert(readsBack, { seed, path, numRuns: 1 }))
  if (moves.length && !engine.lacking)
    it.each(moves)('still migrates the case %i, %s', (seed, path) => fc.assert(migrates, { seed, path, numRuns: 1 }))
  if (choices.length && !engine.lacking)
    it.each(choices)('still carries out the choice %i, %s', (seed, path) =>
      fc.assert(chooses, { seed, path, numRuns: 1 })
    )
})

/** Puts rows in, parents or not: what breaks a constraint stays out. */
async function fill(catalog: Catalog, { dialect, exec }: Playground) {
  const { quote, table } = dialect.write
  for (let round = 0; round < 2; round++)
    for (const t of catalog.tables)
      for (let n = 0; n < 3; n++) {
        const columns = t.columns.filter((c) => c.identity !== 'always' && !(c.nullable && n === 2))
        const values = columns.map(
          (c) => valuesOf(dialect, typeText(c.type))[(n + round) % valuesOf(dialect, typeText(c.type)).length]
        )
        const sql = columns.length
          ? `INSERT INTO ${table(t.schema, t.name)} (${columns.map((c) => quote(c.name)).join(', ')}) VALUES (${values.join(', ')})`
          : `INSERT INTO ${table(t.schema, t.name)} DEFAULT VALUES`
        await exec(sql).catch(() => undefined)
      }
}

/**
 * Makes a view of a table that stays, with columns that stay, and a view of that view; gives what tells that both still
 * show just those columns. A view of MariaDB is not read, and stays as it was made.
 */
async function watch(changes: readonly Change[], n: number, { live, dialect, exec }: Playground) {
  const { quote, table: place } = dialect.write
  const drops = new Set(changes.flatMap((c) => (c.action === 'drop' ? [addressKey(c.address)] : [])))
  const addressOf = (kind: 'table' | 'column', { schema, name: table }: Table, name: string): Address => ({
    kind,
    path: kind === 'table' ? [schema, table] : [schema, table, name]
  })
  const stays = (kind: 'table' | 'column', home: Table, name: string) =>
    !drops.has(addressKey(addressOf(kind, home, name)))
  const { tables } = await live.catalog()
  const staying = tables.filter((t) => stays('table', t, t.name) && t.columns.some((c) => stays('column', t, c.name)))
  const table = staying[n % Math.max(staying.length, 1)]
  if (!table || dialect.profile.id === 'mariadb') return () => Promise.resolve()
  const columns = table.columns.filter((c) => stays('column', table, c.name)).slice(0, 2)
  const newName = (kind: 'table' | 'column', name: string) =>
    changes.flatMap((c) =>
      c.action === 'rename' && addressKey(c.address) === addressKey(addressOf(kind, table, name)) ? [c.to] : []
    )[0] ?? name
  const shown = columns.map((_, i) => quote(`${dialect.profile.names.fold === 'upper' ? 'C' : 'c'}${i}`)).join(', ')
  const [first, second] = ['seen', 'seen again'].map((name) => place(dialect.profile.defaultSchema, name))
  const list = columns.map((c) => quote(c.name)).join(', ')
  await exec(`CREATE VIEW ${first} (${shown}) AS SELECT ${list} FROM ${place(table.schema, table.name)}`)
  await exec(`CREATE VIEW ${second} (${shown}) AS SELECT ${shown} FROM ${first}`)
  const rows = async (sql: string) => (await live.query(sql)).rows.map((row) => JSON.stringify(row)).sort()
  return async (when: 'before' | 'now') => {
    const names = columns.map((c) => quote(when === 'now' ? newName('column', c.name) : c.name)).join(', ')
    const home = place(table.schema, when === 'now' ? newName('table', table.name) : table.name)
    const expected = await rows(`SELECT ${names} FROM ${home}`)
    for (const view of [first, second]) expect(await rows(`SELECT * FROM ${view}`), view).toEqual(expected)
  }
}

/** Values by table and column, as text, sorted. */
async function contents(catalog: Catalog, { live, dialect }: Playground) {
  const result = new Map<string, string[]>()
  for (const t of catalog.tables) {
    const list = t.columns.map((c) => dialect.write.quote(c.name))
    const { rows } = await live.query(`SELECT ${list.join(', ')} FROM ${dialect.write.table(t.schema, t.name)}`)
    t.columns.forEach((c, i) =>
      result.set(tableKey(t.schema, t.name) + c.name, rows.map((row) => String(row[i])).sort())
    )
  }
  return result
}

/**
 * Runs a plan, a transaction at a time; one that fails must have said so, with a count. Then the rows are taken out of
 * its way.
 */
async function run(migration: Migration, { live, dialect, empty }: Playground): Promise<{ emptied: boolean }> {
  let emptied = false
  let now = await live.catalog()
  for (const group of migration.groups) {
    const steps = migration.steps.filter((step) => step.group === group.id)
    const story = () => migration.steps.map((s) => `${steps.includes(s) ? '→' : ' '} ${s.statement}`).join('\n')
    if (group.before.length) expect(stepState(group, now, dialect), story()).toBe('to do')
    const predicted = await foretold(steps, { live, dialect })
    const error = refusal(await live.run(steps.map((step) => step.statement)))
    if (error === undefined) expect(predicted ?? 0, `predicted to fail and did not: ${story()}`).toBe(0)
    else {
      const mayFail = steps.some((step) => step.hazards.some((hazard) => hazard.kind === 'may fail'))
      if (!mayFail || predicted === 0) throw new Error(`not foretold: ${error}\n${story()}`)
      await empty(now.tables)
      emptied = true
      expect(refusal(await live.run(steps.map((step) => step.statement))), story()).toBeUndefined()
    }
    now = await live.catalog()
    if (group.after.length) expect(stepState(group, now, dialect), story()).toBe('done')
  }
  return { emptied }
}

const refusal = (outcomes: Awaited<ReturnType<Playground['live']['run']>>) =>
  outcomes.find((outcome) => outcome.error)?.error?.message

/** Rows that the steps of a group will trip over, where all that may fail can be asked; nothing where not. */
async function foretold(
  steps: readonly Step[],
  { live, dialect: { write } }: Pick<Playground, 'live' | 'dialect'>
): Promise<number | undefined> {
  const risky = steps.filter((step) => step.hazards.some((hazard) => hazard.kind === 'may fail'))
  if (risky.some((step) => !step.preflight)) return undefined
  let sum = 0
  for (const step of risky) {
    const count = await live.query(step.preflight?.count ?? '').catch((error: unknown) => {
      throw new Error(`${step.preflight?.count ?? ''}: ${String(error)}`, { cause: error })
    })
    const rows = await live.query(write.first(step.preflight?.rows ?? '', 50))
    expect(rows.rows.length > 0, step.preflight?.rows).toBe(Number(count.rows[0]?.[0]) > 0)
    sum += Number(count.rows[0]?.[0])
  }
  return sum
}

/** What could not be told before a plan is left alone by it. */
const unsureBefore = (before: readonly Change[], { address }: Change) =>
  before.some((c) => c.action === 'alter' && !c.certain && addressKey(c.address) === addressKey(address))

/** It holds nothing of its own. */
const isComputed = (change: Change & { action: 'drop' }) =>
  change.object.kind === 'column' && change.object.value.generated !== undefined

const columnNames = (table: Table) => [table.name, ...table.columns.map((column) => column.name)]

/** Every value is still there, but in columns of which a step said that it loses or rewrites them. */
async function expectRowsKept(live: Catalog, migration: Migration, before: Map<string, string[]>, db: Playground) {
  const touched = new Set<string>()
  let names = new Map(
    live.tables.flatMap((t) =>
      t.columns.map((c) => [tableKey(t.schema, t.name) + c.name, { t: t.name, s: t.schema, c: c.name }] as const)
    )
  )
  for (const group of migration.groups) {
    const steps = migration.steps.filter((step) => step.group === group.id)
    for (const step of steps) {
      // What is said of a loss may be said at another step of the same transaction.
      const loses = steps.some((other) => other.hazards.some((hazard) => hazard.kind === 'loses data'))
      for (const effect of step.effects) {
        const { kind, table, schema, name } = namesOf(effect.address)
        for (const [key, at] of names) {
          if (at.t !== table || at.s !== schema) continue
          const mine = kind === 'table' || (kind === 'column' && at.c === name)
          if (mine && (loses || (effect.action === 'alter' && effect.property === 'type'))) touched.add(key)
          if (mine && effect.action === 'drop' && isComputed(effect)) touched.add(key)
          if (effect.action === 'drop' && mine) names = new Map([...names].filter(([k]) => k !== key))
          if (effect.action === 'rename' && mine)
            names.set(key, kind === 'table' ? { ...at, t: effect.to } : { ...at, c: effect.to })
        }
      }
    }
  }
  const now = await contents(migration.to, db)
  for (const [key, values] of before) {
    const at = names.get(key)
    if (!at) expect(touched.has(key), `${key} went without a word`).toBe(true)
    else if (!touched.has(key)) expect(now.get(tableKey(at.s, at.t) + at.c), key).toEqual(values)
    else expect(now.get(tableKey(at.s, at.t) + at.c)?.length, key).toBe(values.length)
  }
}
