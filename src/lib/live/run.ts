// Runs a plan, transaction by transaction: what is already done is passed over, what cannot be told stops it, a refusal
// stops it. Every transaction is written down before it begins and after it ends, so that what was cut off is known.
import { apply, type Catalog, type Change } from '../core/catalog'
import { difference } from '../core/compare'
import type { Dialect, Shown } from '../core/dialects'
import { stepState, type Group, type Migration, type Step } from '../core/plan'
import type { LiveDatabase, Refusal } from './database'

export type StepResult =
  | { readonly state: 'done'; readonly time: number; readonly affected: number; readonly before?: boolean }
  | { readonly state: 'failed'; readonly time: number; readonly error: Refusal }
  /** The database shows neither the state before the step nor the one after it, or shows nothing of the step at all. */
  | { readonly state: 'unknown' }

/** What is known of a transaction from the record of the run. */
export type Recorded = 'begun' | 'done' | 'failed'

export interface MigrationOptions {
  /** What the record says of each transaction, by its number. */
  readonly recorded?: ReadonlyMap<number, Recorded>
  /** Run no further than this transaction. */
  readonly upTo?: number
  /** Told, and waited for, before a transaction begins. */
  readonly onBegin?: (group: number) => Promise<void>
  /** Told of each step as it ends, and waited for; a step is told done only when the database has kept it. */
  readonly onResult: (step: Step, result: StepResult) => Promise<void> | void
  /** Asked between transactions. */
  readonly cancelled?: () => boolean
  /**
   * Milliseconds after which the database is looked at again before the next transaction. In between it is taken to be
   * what the steps have made of it: on a server, looking takes longer than most steps.
   */
  readonly lookAfter?: number
  /** Milliseconds of work that an embedded database keeps at once: keeping it takes longer than most steps. */
  readonly keepAfter?: number
}

export type Ended =
  | { readonly how: 'complete' | 'stopped' | 'failed' | 'unknown' }
  /** The database is not what the plan was made for. */
  | { readonly how: 'changed'; readonly changes: readonly Change[] }

/** Runs a plan to its end, or as far as it is told. */
export async function runMigration(
  migration: Migration,
  live: LiveDatabase,
  dialect: Dialect,
  {
    recorded = new Map(),
    upTo = Infinity,
    onBegin,
    onResult,
    cancelled,
    lookAfter = 2000,
    keepAfter = 2000
  }: MigrationOptions
): Promise<Ended> {
  // What the database shows is believed: so let it be kept.
  await live.keep?.()
  await live.settled?.()
  let catalog = await live.catalog()
  const states = groupStates(migration, catalog, dialect, recorded)
  const done = new Set([...states].filter(([, state]) => state === 'done').map(([id]) => id))
  for (const group of migration.groups)
    if (done.has(group.id) && recorded.get(group.id) !== 'done')
      for (const step of stepsOf(migration, group))
        await onResult(step, { state: 'done', time: 0, affected: 0, before: true })
  const left = migration.groups.filter((group) => !done.has(group.id) && group.id <= upTo)
  const unclear = left.find((group) => states.get(group.id) === 'unknown')
  if (left.length === 0) return { how: migration.groups.length === done.size ? 'complete' : 'stopped' }
  const changes = foreign(migration, catalog, done, dialect)
  if (unclear && (recorded.has(unclear.id) || changes.length === 0)) {
    for (const step of stepsOf(migration, unclear)) await onResult(step, { state: 'unknown' })
    return { how: 'unknown' }
  }
  if (changes.length > 0) return { how: 'changed', changes }

  let looked = performance.now()
  let kept = looked
  let untold: { readonly step: Step; readonly result: StepResult }[] = []
  /** Tells of steps once the database has kept what they did. */
  const tell = async () => {
    await live.keep?.()
    kept = performance.now()
    const now = untold
    untold = []
    for (const { step, result } of now) await onResult(step, result)
  }
  const carryOut = async (): Promise<Ended> => {
    for (const group of left) {
      // A transaction that leaves no trace in the structure begins when all before it is told, and is told at once: what
      // is cut off then is that one or nothing. Where nothing is kept later, every step is told as it ends.
      const atOnce = group.after.length === 0 || !live.keep
      if (atOnce || performance.now() - kept >= keepAfter) await tell()
      if (cancelled?.()) return { how: 'stopped' }
      const steps = stepsOf(migration, group)
      if (performance.now() - looked >= lookAfter) {
        catalog = await live.catalog()
        looked = performance.now()
      }
      // Somebody else may be at work meanwhile: a transaction begins only on what it was planned for.
      if (group !== left[0] && group.before.length && stepState(group, catalog, dialect) !== 'to do') {
        untold.push(...steps.map((step) => ({ step, result: { state: 'unknown' } as const })))
        return { how: 'unknown' }
      }
      await onBegin?.(group.id)
      const statements = steps.map((step) => step.statement)
      const outcomes = await live.run(statements, { later: !atOnce })
      const failed = outcomes.findIndex((outcome) => !outcome.ok)
      if (failed >= 0) {
        const [step, outcome] = [steps[failed], outcomes[failed]]
        if (step && outcome?.error)
          untold.push({ step, result: { state: 'failed', time: outcome.time, error: outcome.error } })
        return { how: 'failed' }
      }
      for (const [i, step] of steps.entries()) {
        const { time = 0, affected = 0 } = outcomes[i] ?? {}
        untold.push({ step, result: { state: 'done', time, affected } })
      }
      if (atOnce) await tell()
      done.add(group.id)
      catalog = apply(
        steps.flatMap((step) => step.effects),
        catalog,
        dialect.write
      )
    }
    return { how: done.size === migration.groups.length ? 'complete' : 'stopped' }
  }
  const ended = await carryOut()
  await tell()
  return ended
}

/**
 * What is known of each transaction: by the record, else by the database where its structure shows it. The structure is
 * asked in order only, up to the first that is not done: what a later one leaves behind may look the same before it.
 * One that was begun, never ended, and leaves no trace in the structure is unknown: a person must say.
 */
export function groupStates(
  migration: Migration,
  live: Catalog,
  dialect: Dialect,
  recorded: ReadonlyMap<number, Recorded>
): Map<number, 'done' | 'to do' | 'unknown'> {
  const states = new Map<number, 'done' | 'to do' | 'unknown'>()
  let reached = true
  for (const group of migration.groups) {
    const written = recorded.get(group.id)
    const state =
      written === 'done'
        ? 'done'
        : reached || written === 'begun'
          ? shownBy(migration, group, live, dialect, written)
          : 'to do'
    states.set(group.id, state)
    if (state !== 'done') reached = false
  }
  return states
}

function shownBy(
  migration: Migration,
  group: Group,
  live: Catalog,
  dialect: Dialect,
  written: Recorded | undefined
): 'done' | 'to do' | 'unknown' {
  if (group.after.length > 0) return stepState(group, live, dialect)
  const shown = stepsOf(migration, group).flatMap((step) => step.shows ?? [])
  if (written === 'begun' && shown.length > 0) return shownState(shown, live)
  return written === 'begun' ? 'unknown' : 'to do'
}

/** What views and triggers tell of a transaction that was cut off. */
function shownState(shown: readonly Shown[], live: Catalog): 'done' | 'to do' | 'unknown' {
  const as = shown.map(({ kind, schema, name, present }) => {
    const there = live.opaque?.some((o) => o.kind === kind && o.schema === schema && o.name === name) ?? false
    return there === present
  })
  if (as.every(Boolean)) return 'done'
  return as.some(Boolean) ? 'unknown' : 'to do'
}

const stepsOf = (migration: Migration, group: Group): Step[] =>
  migration.steps.filter((step) => step.group === group.id)

/** What differs between the database and what the plan takes it to be, once what is done is done. */
function foreign(migration: Migration, live: Catalog, done: ReadonlySet<number>, dialect: Dialect): Change[] {
  const expected = migration.steps
    .filter((step) => done.has(step.group))
    .reduce((state, step) => apply(step.effects, state, dialect.write), migration.from)
  return difference(expected, live, [], dialect).filter((change) => change.action !== 'alter' || change.certain)
}
