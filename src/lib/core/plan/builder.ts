// Steps as they come, each on the catalogue as it stands by then.
import { invert, type Catalog, type Change } from '../catalog'
import type { Dialect, StepDraft } from '../dialects'
import { emit } from './emit'
import { facts, netFacts, type Group, type Step } from './step'

export class Builder {
  readonly steps: Step[] = []
  private group = 0
  /** One group is open: all that comes belongs to it. */
  private open = false
  /** The catalogue before each group. */
  private readonly starts = new Map<number, Catalog>()

  constructor(
    public state: Catalog,
    readonly dialect: Dialect
  ) {}

  /** Drafts that belong together: one group, where the engine can undo them together. */
  add(drafts: readonly StepDraft[]) {
    if (drafts.length === 0) return
    if (!this.open) this.next()
    for (const draft of drafts) {
      const known = facts(draft, this.state, this.dialect)
      this.state = known.state
      const undo =
        draft.undo ??
        invert(draft.effects).flatMap((change) => emit(change, this.state, this.dialect).map((d) => d.statement))
      const [first] = draft.effects
      this.steps.push({
        id: `${this.steps.length + 1}`,
        group: this.group,
        statement: draft.statement,
        why: draft.why,
        about: draft.about ?? first?.address ?? { kind: 'table', schema: '', table: '', name: '' },
        effects: draft.effects,
        before: known.before,
        after: known.after,
        hazards: draft.hazards,
        undo,
        ...(draft.preflight ? { preflight: draft.preflight } : {}),
        ...(draft.changed ? { changed: draft.changed } : {}),
        ...(draft.shows ? { shows: draft.shows } : {})
      })
      if (!this.open && !this.dialect.profile.features.transactionalDdl) this.next()
    }
  }

  /** Everything added within is one group. */
  together(make: () => void) {
    if (this.open) {
      make()
      return
    }
    this.next()
    this.open = true
    make()
    this.open = false
  }

  /** The steps of one change, on the catalogue as it stands by then. */
  make(change: Change) {
    this.add(emit(change, this.state, this.dialect))
  }

  addPlain(statement: string, why: string) {
    this.add([{ statement, why, effects: [], hazards: [] }])
  }

  /** A builder at the same state, to try something out. */
  fresh(): Builder {
    return new Builder(this.state, this.dialect)
  }

  private next() {
    this.group++
    this.starts.set(this.group, this.state)
  }

  /** What each group of more than one step changes in all: what it makes and takes away again within is nothing. */
  groups(): Group[] {
    const byGroup = new Map<number, Step[]>()
    for (const step of this.steps) byGroup.set(step.group, [...(byGroup.get(step.group) ?? []), step])
    return [...byGroup].map(([id, steps]) => {
      const [only] = steps
      if (steps.length === 1 && only) return { id, before: only.before, after: only.after }
      const start = this.starts.get(id) ?? this.state
      const end = [...this.starts].find(([other]) => other > id)?.[1] ?? this.state
      return {
        id,
        ...netFacts(
          steps.flatMap((step) => step.effects),
          start,
          end,
          this.dialect
        )
      }
    })
  }
}
