// One plan being run: results step by step, written down as they come, and a way on after a refusal or a cut.
import { SvelteMap } from 'svelte/reactivity'
import { compose, type Change } from '../../core/catalog'
import type { Dialect } from '../../core/dialects'
import type { Migration, Step } from '../../core/plan'
import {
  askLedger,
  breakLock,
  groupStates,
  openLedger,
  runMigration,
  type Held,
  type Ledger,
  type LedgerLine,
  type LiveDatabase,
  type QueryResult,
  type Reached,
  type Recorded,
  type StepResult,
  type Told
} from '../../live'
import { appendEntries, entriesOf, saveRun, type RunEntry, type RunRecord } from '../../storage'
import { whoIsThis } from '../desk/who'

export interface PreflightState {
  readonly count?: number
  readonly rows?: QueryResult
  /** It speaks of something that an earlier step makes. */
  readonly later?: true
  /** Rows whose value would not stay as it is. */
  readonly changes?: number
}

export class Run {
  // Each step's card hears of its own result only: there may be a thousand.
  readonly results = new SvelteMap<string, StepResult>()
  readonly preflights = new SvelteMap<string, PreflightState>()
  running = $state(false)
  ended = $state<RunRecord['how']>()
  /** What somebody else changed since the plan was made. */
  changes = $state.raw<readonly Change[]>([])
  /** Who else is running something on this database. */
  heldBy = $state.raw<Held>()
  private ledger: Ledger | undefined
  /** It was begun before this page was opened. */
  resumed = $state(false)
  private cancelled = false
  private record: RunRecord | undefined
  private readonly recorded = new Map<number, Recorded>()
  /** How far steps have come that go range by range. */
  private readonly reached = new Map<string, Reached>()

  constructor(
    readonly migration: Migration,
    private readonly dialect: Dialect,
    readonly live: LiveDatabase,
    private readonly target: string,
    /** It is written into the database too, and holds its lock. */
    private readonly withLedger = false,
    /** Told when a person has changed the database beside the plan. */
    private readonly onrepair?: () => void
  ) {}

  /** Takes up a run that was cut off: what is done is told by the database, else by the record. */
  static async resume(record: RunRecord, dialect: Dialect, live: LiveDatabase, withLedger: boolean): Promise<Run> {
    const run = new Run(record.migration, dialect, live, record.target, withLedger)
    run.record = record
    run.resumed = true
    for (const entry of await entriesOf(record.id))
      if (entry.state === 'under way') run.far(entry.step, entry)
      else if (entry.state !== 'unknown') run.recorded.set(entry.group, entry.state)
    await run.askLedger()
    const states = groupStates(record.migration, await live.catalog(), dialect, run.recorded)
    for (const step of record.migration.steps) {
      const state = states.get(step.group)
      if (state === 'done') run.results.set(step.id, { state: 'done', time: 0, affected: 0, before: true })
      if (state === 'unknown') run.results.set(step.id, { state: 'unknown' })
      const far = run.reached.get(step.id)
      if (state === 'to do' && far) run.results.set(step.id, { state: 'under way', time: 0, ...far })
    }
    return run
  }

  /** The record of the run, once it has begun. */
  get started(): RunRecord | undefined {
    return this.record
  }
  get done(): ReadonlySet<string> {
    return new Set([...this.results].filter(([, result]) => result.state === 'done').map(([id]) => id))
  }
  get left(): number {
    return this.migration.steps.length - this.done.size
  }
  /** What has been changed by the steps that are done. */
  get effects(): Change[] {
    const { done } = this
    return compose(...this.migration.steps.filter((step) => done.has(step.id)).map((step) => step.effects))
  }
  /** The transaction that is next. */
  get next(): number | undefined {
    const { done } = this
    return this.migration.steps.find((step) => !done.has(step.id))?.group
  }

  /** Runs to the end, or as far as a transaction. */
  async start(upTo?: number) {
    if (this.running) return
    this.running = true
    this.cancelled = false
    this.ended = undefined
    this.changes = []
    this.heldBy = undefined
    const { ledger: _ledger, ...begun } = this.record ?? {
      id: crypto.randomUUID(),
      target: this.target,
      who: whoIsThis(),
      startedAt: Date.now(),
      migration: this.migration,
      ledger: true
    }
    // The ledger tells of a run only if it had it all the time.
    const record: RunRecord = _ledger && this.withLedger ? { ...begun, ledger: true } : begun
    try {
      if (this.withLedger) {
        const opened = await openLedger(this.live, this.dialect, { who: whoIsThis(), run: record.id })
        if ('holder' in opened) {
          this.heldBy = opened
          return
        }
        this.ledger = opened
        await this.askLedger()
      }
      this.record = record
      await saveRun(record)
      const ended = await runMigration(this.migration, this.live, this.dialect, {
        recorded: this.recorded,
        reached: this.reached,
        ...(upTo === undefined ? {} : { upTo }),
        onBegin: async (groups) => {
          const at = Date.now()
          await appendEntries(groups.map((group) => ({ run: record.id, at, group, state: 'begun' })))
          for (const group of groups) this.recorded.set(group, 'begun')
        },
        onResults: (told) => this.take(told),
        ...(this.ledger ? { marks: (steps) => this.ledger?.lines(steps.map(doneLine)) ?? [] } : {}),
        cancelled: () => this.cancelled
      })
      this.ended = ended.how
      if (ended.how === 'changed') this.changes = ended.changes
      await this.close(ended.how)
    } finally {
      const { ledger } = this
      this.ledger = undefined
      this.running = false
      await ledger?.release()
    }
    await this.foretell()
  }

  stop() {
    this.cancelled = true
  }

  /** Whoever held the lock is gone. */
  async breakLock() {
    if (this.heldBy) await breakLock(this.live, this.dialect, this.heldBy)
    this.heldBy = undefined
  }

  /** A person has looked, and says of a transaction that nobody can tell of whether it was done. */
  async settle(group: number, state: 'done' | 'to do') {
    const steps = this.migration.steps.filter((step) => step.group === group)
    if (state === 'done') {
      this.recorded.set(group, 'done')
      await this.take(steps.map((step) => ({ step, result: { state: 'done', time: 0, affected: 0, before: true } })))
    } else {
      this.recorded.delete(group)
      for (const { id } of steps) {
        this.results.delete(id)
        this.reached.delete(id)
      }
    }
  }

  /** The rest will not be run. */
  giveUp = () => this.close('given up')

  private async close(how: NonNullable<RunRecord['how']>) {
    if (!this.record) return
    this.record = { ...this.record, endedAt: Date.now(), how }
    await saveRun(this.record)
  }

  private far(step: string | undefined, { upTo, affected = 0 }: Partial<Reached>) {
    if (step !== undefined && upTo !== undefined) this.reached.set(step, { upTo, affected })
  }

  private async askLedger() {
    const { record, migration, recorded } = this
    if (record?.ledger) await askLedger(this.live, this.dialect, { run: record.id, migration, recorded })
  }

  private async take(told: readonly Told[]) {
    for (const { step, result } of told) {
      this.results.set(step.id, result)
      if (result.state === 'under way') this.far(step.id, result)
      else if (result.state !== 'unknown') this.recorded.set(step.group, result.state)
    }
    const { record } = this
    if (!record) return
    await this.ledger?.write(told.flatMap((one) => this.lineFor(one)))
    await appendEntries(told.map((one) => entryOf(record.id, one)))
  }

  /** What is left to be written of a step in the ledger, when its transaction has ended. */
  private lineFor({ step, result }: Told): LedgerLine[] {
    if (result.state === 'failed') return [{ ...doneLine(step), state: 'failed', message: result.error.message }]
    const marked = this.dialect.profile.features.transactionalDdl
    return result.state === 'done' && !result.before && !marked ? [doneLine(step)] : []
  }

  /** Asks, for each step that may fail, how many rows would make it fail now. */
  async foretell() {
    let isNext = true
    for (const step of this.migration.steps) {
      const isReached = isNext
      isNext &&= this.done.has(step.id)
      if ((!step.preflight && !step.changed) || this.done.has(step.id)) continue
      if (step.preflight?.later && !isReached) {
        this.preflights.set(step.id, { later: true })
        continue
      }
      const ask = async (sql: string) => Number((await this.live.query(sql)).rows[0]?.[0] ?? 0)
      let state: PreflightState
      try {
        state = {
          ...(step.preflight ? { count: await ask(step.preflight.count) } : {}),
          ...(step.changed ? { changes: await ask(step.changed.count) } : {})
        }
      } catch {
        state = { later: true }
      }
      this.preflights.set(step.id, state)
    }
  }

  async showRows(step: Step) {
    if (!step.preflight) return
    const before = this.preflights.get(step.id)
    const rows = before?.rows ? undefined : await this.live.query(this.dialect.write.first(step.preflight.rows, 50))
    this.preflights.set(step.id, {
      ...(before?.count === undefined ? {} : { count: before.count }),
      ...(before?.changes === undefined ? {} : { changes: before.changes }),
      ...(rows ? { rows } : {})
    })
  }

  /** A statement of the person's own, to put rows right before a step is tried again. */
  async repair(statement: string): Promise<string | undefined> {
    const [outcome] = await this.live.run([statement])
    if (this.record)
      await appendEntries([
        {
          run: this.record.id,
          at: Date.now(),
          group: -1,
          statement,
          state: outcome?.ok ? 'done' : 'failed',
          time: outcome?.time ?? 0,
          ...(outcome?.error ? { message: outcome.error.message } : {})
        }
      ])
    if (!outcome?.ok) return outcome?.error?.message ?? 'The statement was refused.'
    this.onrepair?.()
    await this.foretell()
    return undefined
  }
}

const doneLine = (step: Step): LedgerLine => ({ step: step.id, statement: step.statement, state: 'done' })

const entryOf = (run: string, { step, result }: Told): RunEntry => ({
  run,
  at: Date.now(),
  group: step.group,
  step: step.id,
  statement: step.statement,
  state: result.state,
  ...('time' in result ? { time: result.time } : {}),
  ...(result.state === 'done' || result.state === 'under way' ? { affected: result.affected } : {}),
  ...(result.state === 'under way' ? { upTo: result.upTo } : {}),
  ...(result.state === 'done' && result.before ? { found: true } : {}),
  ...(result.state === 'failed' ? { message: result.error.message } : {})
})
