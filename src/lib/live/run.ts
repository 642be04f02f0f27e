// Runs a plan, transaction by transaction: what is already done is passed over, what cannot be told stops it, a refusal
// stops it. Every transaction is written down before it begins and after it ends, so that what was cut off is known.
import { compose, invert, isCarried, Misfit, Standing, type Catalog, type Change } from '../core/catalog'
import { difference } from '../core/compare'
import type { Dialect } from '../core/dialects'
import { stepState, type Group, type Migration, type Step } from '../core/plan'
import type { LiveDatabase, Refusal, StatementOutcome } from './database'
import { sendInRanges, type Reached } from './ranges'
import { byGroup, wagons } from './wagons'

export type StepResult =
  | { readonly state: 'done'; readonly time: number; readonly affected: number; readonly before?: boolean }
  | { readonly state: 'failed'; readonly time: number; readonly error: Refusal }
  /** It has come so far, and goes on. */
  | ({ readonly state: 'under way'; readonly time: number } & Reached)
  /** The database shows neither the state before the step nor the one after it, or shows nothing of the step at all. */
  | { readonly state: 'unknown' }

export interface Told {
  readonly step: Step
  readonly result: StepResult
}

/** What is known of a transaction from the record of the run. */
export type Recorded = 'begun' | 'done' | 'failed'

export interface MigrationOptions {
  /** What the record says of each transaction, by its number. */
  readonly recorded?: ReadonlyMap<number, Recorded>
  /** How far steps that go range by range have come, by their ids. */
  readonly reached?: ReadonlyMap<string, Reached>
  /** Run no further than this transaction. */
  readonly upTo?: number
  /** Told, and waited for, before transactions begin. */
  readonly onBegin?: (groups: readonly number[]) => Promise<void>
  /** Told of steps as they end, and waited for; a step is told done only when the database has kept it. */
  readonly onResults: (told: readonly Told[]) => Promise<void> | void
  /** Statements that mark steps as done in the database itself: sent in their transaction, where an engine has such. */
  readonly marks?: (steps: readonly Step[]) => readonly string[]
  /** Asked between transactions, and between ranges. */
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
    reached = new Map(),
    upTo = Infinity,
    onBegin,
    onResults,
    marks,
    cancelled = () => false,
    lookAfter = 2000,
    keepAfter = 2000
  }: MigrationOptions
): Promise<Ended> {
  // What the database shows is believed: so let it be kept.
  await live.keep?.()
  await live.settled?.()
  const catalog = await live.catalog()
  /** The database as it is taken to stand. */
  let standing = new Standing(catalog, dialect.write)
  const states = groupStates(migration, catalog, dialect, recorded)
  const groups = byGroup(migration)
  const stepsIn = (some: readonly Group[]) => some.flatMap(({ id }) => groups.get(id) ?? [])
  const done = new Set([...states].filter(([, state]) => state === 'done').map(([id]) => id))
  const found = migration.groups.filter(({ id }) => done.has(id) && recorded.get(id) !== 'done')
  const before: StepResult = { state: 'done', time: 0, affected: 0, before: true }
  if (found.length > 0) await onResults(stepsIn(found).map((step) => ({ step, result: before })))
  const left = migration.groups.filter((group) => !done.has(group.id) && group.id <= upTo)
  const unclear = left.find((group) => states.get(group.id) === 'unknown')
  if (left.length === 0) return { how: migration.groups.length === done.size ? 'complete' : 'stopped' }
  const changes = foreign(migration, catalog, done, dialect)
  if (unclear && (recorded.has(unclear.id) || changes.length === 0)) {
    await onResults(stepsIn([unclear]).map((step) => ({ step, result: { state: 'unknown' } })))
    return { how: 'unknown' }
  }
  if (changes.length > 0) return { how: 'changed', changes }

  let looked = performance.now()
  let kept = looked
  let untold: Told[] = []
  /** Tells of steps once the database has kept what they did. */
  const tell = async () => {
    await live.keep?.()
    kept = performance.now()
    const now = untold
    untold = []
    if (now.length > 0) await onResults(now)
  }
  const { transactionalDdl } = dialect.profile.features
  /** A single step that goes range by range; nothing where it is sent whole. */
  const goneThrough = async ([step, ...more]: readonly Step[]): Promise<StatementOutcome[] | 'stopped' | undefined> => {
    const ranges =
      step?.repeatable && more.length === 0 && !transactionalDdl ? dialect.inRanges?.(step.statement) : undefined
    if (!step || !ranges) return undefined
    const onRange = async (far: Reached, time: number) => {
      untold.push({ step, result: { state: 'under way', time, ...far } })
      if (!live.keep || performance.now() - kept >= keepAfter) await tell()
    }
    const outcome = await sendInRanges(ranges, live, { from: reached.get(step.id), onRange, cancelled })
    return outcome ? [outcome] : 'stopped'
  }
  /** Sends what is one transaction, and notes what became of it. */
  const send = async (some: readonly Group[], later: boolean): Promise<'done' | 'failed' | 'stopped'> => {
    const steps = stepsIn(some)
    const statements = steps.map((step) => step.statement)
    const marking = transactionalDdl && marks ? marks(steps) : []
    const outcomes = (await goneThrough(steps)) ?? (await live.run([...statements, ...marking], { later }))
    if (outcomes === 'stopped') return outcomes
    const refused = outcomes.findIndex((outcome) => !outcome.ok)
    if (refused >= 0) {
      // One by one, it is known which of them stands in the way, and the others are done.
      if (some.length > 1) {
        for (const group of some) {
          const how = await send([group], later)
          if (how !== 'done') return how
        }
        return 'done'
      }
      untold.push(...refusal(steps, outcomes, refused))
      return 'failed'
    }
    for (const [i, step] of steps.entries()) {
      const { time = 0, affected = 0 } = outcomes[i] ?? {}
      untold.push({ step, result: { state: 'done', time, affected } })
    }
    for (const { id } of some) done.add(id)
    try {
      standing.apply(compose(...steps.map((step) => step.effects)))
    } catch (error) {
      // Somebody else is at work too, or the database was looked at between the two: it says itself how it stands.
      if (!(error instanceof Misfit)) throw error
      standing = new Standing(await live.catalog(), dialect.write)
      looked = performance.now()
    }
    return 'done'
  }
  /** Whether a transaction is begun on what it was planned for: somebody else may be at work meanwhile. */
  const expected = (group: Group) =>
    group === left[0] || group.before.length === 0 || stepState(group, standing, dialect) === 'to do'
  const carryOut = async (): Promise<Ended> => {
    for (const wagon of wagons(migration, left)) {
      // A transaction that leaves no trace in the structure begins when all before it is told, and is told at once: what
      // is cut off then is that one or nothing. Where nothing is kept later, every wagon is told as it ends.
      const [first] = wagon
      const atOnce = first?.after.length === 0 || !live.keep
      if (atOnce || performance.now() - kept >= keepAfter) await tell()
      if (cancelled()) return { how: 'stopped' }
      if (performance.now() - looked >= lookAfter) {
        standing = new Standing(await live.catalog(), dialect.write)
        looked = performance.now()
      }
      // Where the engine has transactions of structure, all of it is one; else each of its transactions is sent by itself.
      const loads = transactionalDdl ? [wagon] : wagon.map((group) => [group])
      let begun = false
      for (const load of loads) {
        const [group] = load
        if (group && !expected(group)) {
          untold.push(...stepsIn([group]).map((step): Told => ({ step, result: { state: 'unknown' } })))
          return { how: 'unknown' }
        }
        if (!begun) await onBegin?.(wagon.map(({ id }) => id))
        begun = true
        const how = await send(load, !atOnce)
        if (how !== 'done') return { how }
        if (load !== loads.at(-1) && cancelled()) return { how: 'stopped' }
      }
      if (atOnce) await tell()
    }
    return { how: done.size === migration.groups.length ? 'complete' : 'stopped' }
  }
  try {
    const ended = await carryOut()
    await tell()
    return ended
  } catch (error) {
    // Where nothing is kept later, what was done before the line was lost is known.
    if (!live.keep && untold.length > 0) await onResults(untold)
    throw error
  }
}

/** What a refusal says: of the step that it is about, or of the last where it is their marks that were refused. */
function refusal(steps: readonly Step[], outcomes: readonly StatementOutcome[], at: number): Told[] {
  const [step, outcome] = [steps[at] ?? steps.at(-1), outcomes[at]]
  if (!step || !outcome?.error) return []
  return [{ step, result: { state: 'failed', time: outcome.time, error: outcome.error } }]
}

/**
 * What is known of each transaction: by the record, else by the database where its structure shows it. The structure is
 * asked in order only, up to the first that is not done: what a later one leaves behind may look the same before it.
 * That one was begun says nothing of the order: several are written down as begun at once.
 * One that was begun, never ended, and leaves no trace in the structure is unknown: a person must say; unless it may be sent again.
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
        : reached || (written === 'begun' && group.after.length === 0)
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
  if (written !== 'begun') return 'to do'
  const steps = migration.steps.filter((step) => step.group === group.id)
  return steps.every(({ repeatable }) => repeatable) ? 'to do' : 'unknown'
}

/** What differs between the database and what the plan takes it to be, once what is done is done. */
function foreign(migration: Migration, live: Catalog, done: ReadonlySet<number>, dialect: Dialect): Change[] {
  const standing = new Standing(migration.from, dialect.write)
  for (const step of migration.steps) if (done.has(step.group)) standing.apply(step.effects)
  // Of what a statement did not say (a collation, an owner), the database has what it has by itself; how it prints a text
  // that names what was renamed is its own affair.
  const expected = { ...standing.catalog(), partial: true as const }
  const changes = difference(live, expected, [], dialect).filter(
    (change) => change.action !== 'alter' || (change.certain && !isCarried(change.address.kind))
  )
  return invert(changes)
}
