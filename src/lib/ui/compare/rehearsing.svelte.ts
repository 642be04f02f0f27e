// A plan tried on empty tables, for a person who has agreed to it: what became of each step there.
import { SvelteMap } from 'svelte/reactivity'
import type { Rehearsal } from '../../core/plan'
import type { LiveDatabase } from '../../live'

export interface Tried {
  readonly how?: string
  readonly error?: string
}

export class Rehearsing {
  readonly tried = new SvelteMap<string, Tried>()
  trying = $state(false)
  problem = $state('')

  constructor(
    readonly live: LiveDatabase,
    private readonly rehearsal: Rehearsal
  ) {}

  async start() {
    this.trying = true
    this.problem = ''
    this.tried.clear()
    const { before, steps } = this.rehearsal
    try {
      const ways = steps.map((step) => step.ways.map(({ sql }) => sql))
      const outcomes = (await this.live.rehearse?.(before, ways)) ?? []
      for (const [i, outcome] of outcomes.entries()) {
        const step = steps[i]
        if (!step) continue
        if ('error' in outcome) this.tried.set(step.id, { error: outcome.error.message })
        else this.tried.set(step.id, { how: step.ways[outcome.way]?.how ?? 'taken' })
      }
    } catch (error) {
      this.problem = error instanceof Error ? error.message : String(error)
    } finally {
      this.trying = false
    }
  }

  stop = () => void this.live.cancel?.().catch(() => undefined)
}
