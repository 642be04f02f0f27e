// One plan being run: results step by step, and a way on after a refusal.
import type { Dialect } from '../../core/dialects'
import type { Migration, Step } from '../../core/plan'
import { runMigration, type LiveDatabase, type QueryResult, type StepResult } from '../../live'
import { recordRun, targetKey } from '../../storage'
import { databaseWorker } from '../../workers'

export interface PreflightState {
  readonly count?: number
  readonly rows?: QueryResult
  /** It speaks of something that an earlier step makes. */
  readonly later?: true
}

export class Run {
  results = $state.raw<ReadonlyMap<string, StepResult>>(new Map())
  preflights = $state.raw<ReadonlyMap<string, PreflightState>>(new Map())
  running = $state(false)
  ended = $state<'complete' | 'stopped' | 'failed' | 'unknown' | undefined>()
  private cancelled = false
  private readonly key: string

  constructor(
    readonly migration: Migration,
    private readonly dialect: Dialect,
    design: string,
    target: string
  ) {
    this.key = targetKey(design, target)
  }

  /** The embedded database behind the worker, as every other one is spoken to. */
  readonly live: LiveDatabase = {
    engine: 'postgres',
    catalog: () => databaseWorker().catalog(this.key),
    query: (sql) => databaseWorker().query(this.key, sql),
    run: (statements) => databaseWorker().run(this.key, statements),
    close: async () => undefined
  }

  get done(): ReadonlySet<string> {
    return new Set([...this.results].filter(([, result]) => result.state === 'done').map(([id]) => id))
  }
  get left(): number {
    return this.migration.steps.length - this.done.size
  }

  async start(one: boolean) {
    if (this.running) return
    this.running = true
    this.cancelled = false
    this.ended = undefined
    try {
      this.ended = await runMigration(this.migration, this.live, this.dialect, {
        done: this.done,
        one,
        onResult: (step, result) => this.take(step, result),
        cancelled: () => this.cancelled
      })
    } finally {
      this.running = false
    }
    await this.foretell()
  }

  stop() {
    this.cancelled = true
  }

  private take(step: Step, result: StepResult) {
    this.results = new Map(this.results).set(step.id, result)
    if (result.state === 'unknown') return
    void recordRun({
      target: this.key,
      at: Date.now(),
      statement: step.statement,
      result: result.state,
      time: result.time,
      ...(result.state === 'failed' ? { message: result.error.message } : {})
    })
  }

  /** Asks, for each step that may fail, how many rows would make it fail now. */
  async foretell() {
    for (const step of this.migration.steps) {
      if (!step.preflight || this.done.has(step.id)) continue
      let state: PreflightState
      try {
        const result = await this.live.query(step.preflight.count)
        state = { count: Number(result.rows[0]?.[0] ?? 0) }
      } catch {
        state = { later: true }
      }
      this.preflights = new Map(this.preflights).set(step.id, state)
    }
  }

  async showRows(step: Step) {
    if (!step.preflight) return
    const before = this.preflights.get(step.id)
    const rows = before?.rows ? undefined : await this.live.query(`${step.preflight.rows} LIMIT 50`)
    this.preflights = new Map(this.preflights).set(step.id, {
      ...(before?.count === undefined ? {} : { count: before.count }),
      ...(rows ? { rows } : {})
    })
  }

  /** A statement of the person's own, to put rows right before a step is tried again. */
  async repair(statement: string): Promise<string | undefined> {
    const [outcome] = await this.live.run([statement])
    void recordRun({
      target: this.key,
      at: Date.now(),
      statement,
      result: outcome?.ok ? 'done' : 'failed',
      time: outcome?.time ?? 0
    })
    if (!outcome?.ok) return outcome?.error?.message ?? 'The statement was refused.'
    await this.foretell()
    return undefined
  }
}
