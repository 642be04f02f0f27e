// Statements sent by hand to one target, and what came back.
import { SvelteMap } from 'svelte/reactivity'
import { dialect } from '../../core/dialects'
import { splitStatements, standardLexis } from '../../core/sql'
import type { LiveDatabase, QueryResult } from '../../live'
import { NotSignedIn } from '../databases/remote'
import { listQueries, recordQuery, type QueryRecord } from '../../storage'

export interface Answer {
  readonly sql: string
  /** Milliseconds. */
  readonly time: number
  readonly result?: QueryResult
  readonly error?: string
}

/** Sessions by their target, for as long as the page is open: what runs goes on, in sight, wherever one looks meanwhile. */
const sessions = new SvelteMap<string, QuerySession>()

/** The session of a target, made when it is first asked for. */
export function querySession(target: string, make: () => QuerySession): QuerySession {
  const known = sessions.get(target)
  if (known) return known
  const made = make()
  sessions.set(target, made)
  return made
}

/** The session of a target while it is at something. */
export function runningSession(target: string): QuerySession | undefined {
  const session = sessions.get(target)
  return session?.running ? session : undefined
}

export interface Watcher {
  /** Something is sent that may change the database: what is known of it holds no longer. */
  readonly onbegin: () => void
  /** It has been answered. */
  readonly onend: () => void
}

/** Milliseconds after which an engine that goes on is told once more to give up. */
const AGAIN = 800

export class QuerySession {
  /** What stands in the editor. */
  text = $state('')
  answers = $state.raw<readonly Answer[]>([])
  history = $state.raw<readonly QueryRecord[]>([])
  running = $state(false)
  /** Statements that are still to be sent. */
  waiting = $state(0)
  readOnly = $state(true)
  /** A transaction that was begun here is open still. */
  open = $state(false)
  private cancelled = false
  /** No statement is sent any more; the one under way is answered yet. */
  private stopped = false

  constructor(
    private readonly live: () => LiveDatabase | undefined,
    private readonly target: string,
    private readonly watcher?: Watcher,
    /** Nothing is sent that could write, whatever is ticked. */
    private readonly locked: () => boolean = () => false
  ) {
    void this.remember()
  }

  private async remember() {
    this.history = (await listQueries(this.target)).slice(0, 100)
  }

  /** Ends the transaction that is open. */
  async end(how: 'COMMIT' | 'ROLLBACK') {
    if (!this.running) await this.send(how, false)
  }

  /** Sends each statement of a text in turn; the first one refused ends it. */
  async run(text: string) {
    if (!this.running) await this.send(text, this.readOnly || this.locked())
  }

  private async send(text: string, readOnly: boolean) {
    const live = this.live()
    const lexis = (live && dialect(live.engine)?.write.lexis) ?? standardLexis
    const statements = splitStatements(text, lexis)
    this.running = true
    this.cancelled = false
    this.stopped = false
    this.answers = []
    this.waiting = statements.length
    const writes = !readOnly
    if (writes && statements.length > 0) this.watcher?.onbegin()
    for (const { sql } of statements) {
      if (this.cancelled) break
      const answer = await this.ask(sql, readOnly)
      // What comes after a person has stopped waiting is not shown.
      if (this.cancelled) break
      this.waiting--
      this.answers = [...this.answers, answer]
      if (answer.error !== undefined || this.stopped) break
    }
    this.running = false
    if (writes && statements.length > 0) this.watcher?.onend()
    await this.remember()
  }

  /** Whether the engine can be asked to give up, or we can only stop waiting for it. */
  get stoppable(): boolean {
    return this.live()?.cancel !== undefined
  }

  /** Sends no more, and has the engine give up what it is at; where it cannot be asked, its answer is not waited for. */
  async cancel() {
    if (!this.running) return
    const live = this.live()
    if (live?.cancel) {
      this.stopped = true
      try {
        // What had not reached the engine when it was told is told again.
        while (this.running) {
          await live.cancel()
          await new Promise((resolve) => setTimeout(resolve, AGAIN))
        }
      } catch (error) {
        this.answers = [...this.answers, { sql: '', time: 0, error: `It could not be stopped: ${String(error)}` }]
      }
      return
    }
    this.cancelled = true
    this.running = false
    this.answers = [...this.answers, { sql: '', time: 0, error: `Stopped. ${this.waiting} not answered or not sent.` }]
  }

  private async ask(sql: string, readOnly: boolean): Promise<Answer> {
    const start = performance.now()
    const told = (more: Pick<Answer, 'result' | 'error'>): Answer => ({ sql, time: performance.now() - start, ...more })
    let answer: Answer
    try {
      const live = this.live()
      if (!live) throw new Error('This target has no database.')
      const result = await live.query(sql, { readOnly, byHand: true })
      this.open = result.open === true
      answer = told({ result })
    } catch (error) {
      // The session is gone, and what was open in it: the page asks to sign in again.
      if (error instanceof NotSignedIn) {
        this.open = false
        this.watcher?.onend()
      }
      answer = told({ error: error instanceof Error ? error.message : String(error) })
    }
    const { time, result, error } = answer
    await recordQuery({
      target: this.target,
      at: Date.now(),
      sql,
      time,
      ...(result ? { rows: result.rows.length } : {}),
      ...(error === undefined ? {} : { error })
    })
    return answer
  }
}
