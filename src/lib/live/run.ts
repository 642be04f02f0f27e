// Runs a plan, group by group: what is already done is passed over, what cannot be told stops it, a refusal stops it.
import type { Dialect } from '../core/dialects'
import { stepState, type Migration, type Step } from '../core/plan'
import type { LiveDatabase, StatementOutcome } from './database'

export type StepResult =
  | { readonly state: 'done'; readonly time: number; readonly affected: number; readonly before?: boolean }
  | { readonly state: 'failed'; readonly time: number; readonly error: NonNullable<StatementOutcome['error']> }
  /** The database shows neither the state before the step nor the one after it. */
  | { readonly state: 'unknown' }

export interface RunOptions {
  /** Ids of steps that have been done already. */
  readonly done: ReadonlySet<string>
  /** Run the next group only. */
  readonly one?: boolean
  /** Told of each step as it ends; a step is told done only when the database has kept it. */
  readonly onResult: (step: Step, result: StepResult) => void
  /** Asked between groups. */
  readonly cancelled?: () => boolean
}

/** The rest of a plan, or its next group. Returns how it ended. */
export async function runMigration(
  migration: Migration,
  live: LiveDatabase,
  dialect: Dialect,
  { done, one, onResult, cancelled }: RunOptions
): Promise<'complete' | 'stopped' | 'failed' | 'unknown'> {
  let catalog = await live.catalog()
  const groups = groupsOf(migration.steps.filter((step) => !done.has(step.id)))
  for (const group of groups) {
    if (cancelled?.()) return 'stopped'
    const states = group.map((step) => stepState(step, catalog, dialect))
    if (states.every((state) => state === 'done')) {
      for (const step of group) onResult(step, { state: 'done', time: 0, affected: 0, before: true })
      continue
    }
    // Within a group, later steps build on earlier ones: only the first must find the database as it was planned.
    const first = states[0]
    if (first === 'unknown') {
      if (group[0]) onResult(group[0], { state: 'unknown' })
      return 'unknown'
    }
    const outcomes = await live.run(group.map((step) => step.statement))
    const failed = outcomes.findIndex((outcome) => !outcome.ok)
    if (failed >= 0) {
      const [step, outcome] = [group[failed], outcomes[failed]]
      if (step && outcome?.error) onResult(step, { state: 'failed', time: outcome.time, error: outcome.error })
      return 'failed'
    }
    group.forEach((step, i) =>
      onResult(step, { state: 'done', time: outcomes[i]?.time ?? 0, affected: outcomes[i]?.affected ?? 0 })
    )
    if (one) return group === groups.at(-1) ? 'complete' : 'stopped'
    catalog = await live.catalog()
  }
  return 'complete'
}

function groupsOf(steps: readonly Step[]): Step[][] {
  const groups = new Map<number, Step[]>()
  for (const step of steps) groups.set(step.group, [...(groups.get(step.group) ?? []), step])
  return [...groups.values()]
}
