// Steps as they come, each on the catalogue as it stands by then.
import {
  addressOf,
  findRelation,
  invert,
  namesOf,
  Standing,
  tableKey,
  type Catalog,
  type Change,
  type Relation,
  type Table,
  type View
} from '../catalog'
import type { Dialect, Preflight, StepDraft } from '../dialects'
import { emit } from './emit'
import { Joinable } from './joinable'
import { Unheld } from './unheld'
import { facts, netFacts, type Group, type Step } from './step'

/** The tables and views that a group touches, as they were before it. */
type Before = Map<string, Table | View | undefined>

interface OpenGroup {
  readonly id: number
  readonly steps: Step[]
  readonly before: Before
  /** What stood before its first new name: that reaches what speaks of it in tables which are touched later, or not at all. */
  unnamed?: Catalog
}

/** What a step is about that is about nothing. */
const NOTHING = addressOf('table', '', '')

const bareStep = ({ statement, why, about, effects, hazards }: StepDraft, id: string): Step => ({
  id,
  group: 0,
  statement,
  why,
  about: about ?? effects[0]?.address ?? NOTHING,
  effects,
  before: [],
  after: [],
  hazards,
  undo: []
})

export class Builder {
  readonly steps: Step[] = []
  readonly state: Standing
  private readonly own: Group[] = []
  /** One group is open: all that comes belongs to it. */
  private open = false
  private current: OpenGroup | undefined
  private readonly joinable: Joinable<Before>

  /** What the live database has and a catalogue cannot hold, in the names of by then. */
  private readonly unheld: Unheld

  /** Collections whose documents are others, or called otherwise, by then: none would say that it cannot be asked so yet. */
  private readonly touched = new Set<string>()

  /** What the engine does by itself with a change. */
  implied: (change: Change) => readonly Change[] = () => []

  constructor(
    private readonly start: Catalog,
    readonly dialect: Dialect,
    /** Only the statements are asked for: what each shows and how it is undone is not worked out. */
    private readonly bare = false
  ) {
    this.state = new Standing(start, dialect.write)
    this.unheld = new Unheld(start.unread)
    this.joinable = new Joinable(dialect.profile.features.fields === true)
  }

  /** Drafts that belong together: one group, where the engine can undo them together. */
  add(drafts: readonly StepDraft[]) {
    if (drafts.length === 0) return
    if (!this.open) this.next()
    for (const said of drafts) {
      const fresh = this.whole(said)
      const earlier = this.joined(fresh)
      const draft = earlier?.draft ?? fresh
      const before: Before = earlier?.before ?? new Map()
      if (this.bare) {
        this.state.apply(fresh.effects)
        this.place(bareStep(draft, `${(earlier?.at ?? this.steps.length) + 1}`), earlier?.at)
        this.keep(draft, before, earlier?.at)
        continue
      }
      this.remember(fresh.effects, before)
      if (this.current && !earlier) this.rememberFor(this.current, draft.effects, before)
      this.state.apply(fresh.effects)
      const known = facts(draft, before, this.state, this.dialect)
      const undo =
        draft.undo ??
        invert(draft.effects).flatMap((change) => emit(change, this.state, this.dialect).map((d) => d.statement))
      const [first] = draft.effects
      const lost = this.unheld.lostBy(fresh.effects)
      const step: Step = {
        id: `${(earlier?.at ?? this.steps.length) + 1}`,
        group: (earlier && this.steps[earlier.at]?.group) ?? this.current?.id ?? 0,
        statement: draft.statement,
        why: draft.why,
        about: draft.about ?? first?.address ?? NOTHING,
        effects: draft.effects,
        before: known.before,
        after: known.after,
        hazards: [...draft.hazards, ...lost],
        undo,
        ...(draft.preflight ? { preflight: this.whenAsked(draft, draft.preflight) } : {}),
        ...(draft.changed ? { changed: draft.changed } : {}),
        ...(draft.repeatable ? { repeatable: draft.repeatable } : {})
      }
      this.touch(draft)
      this.place(step, earlier?.at)
      this.keep({ ...draft, hazards: step.hazards }, before, earlier?.at)
      if (earlier) continue
      this.current?.steps.push(step)
      if (!this.open && !this.dialect.profile.features.transactionalDdl) this.next()
    }
  }

  private whenAsked({ about, effects: [first] }: StepDraft, preflight: Preflight): Preflight {
    const { schema, table } = namesOf(about ?? first?.address ?? NOTHING)
    return this.touched.has(tableKey(schema, table)) ? { ...preflight, later: true } : preflight
  }

  private touch({ about, effects }: StepDraft) {
    if (!this.dialect.profile.features.fields) return
    if (effects.length === 0 && about) this.touched.add(tableKey(namesOf(about).schema, namesOf(about).table))
    for (const change of effects) {
      const { schema, table } = namesOf(change.address)
      const isTable = change.address.kind === 'table'
      if (change.action === 'rename') this.touched.add(tableKey(schema, isTable ? change.to : table))
      else if (change.action === 'create' && isTable) this.touched.add(tableKey(schema, table))
    }
  }

  /** What an earlier step can do along with its own; nothing where none can. */
  private joined(fresh: StepDraft) {
    if (this.open || !this.dialect.joined) return undefined
    const earlier = this.joinable.before(fresh)
    const draft = earlier && this.dialect.joined(earlier.draft, fresh)
    return draft && { ...earlier, draft }
  }

  private keep(draft: StepDraft, before: Before, at = this.steps.length - 1) {
    if (!this.dialect.joined) return
    if (this.open) this.joinable.close()
    else this.joinable.keep({ draft, before, at })
  }

  /** A step at the end, or instead of the one that it takes in, which is a group by itself. */
  private place(step: Step, at: number | undefined) {
    if (at === undefined) {
      this.steps.push(step)
      return
    }
    this.steps[at] = step
    // Each step is a group there, and they are counted.
    if (!this.bare) this.own[step.group - 1] = { id: step.group, before: step.before, after: step.after }
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

  /** What comes next of a table makes it again as a whole. */
  makesAgain(table: Relation) {
    this.unheld.makesAgain(table)
  }

  /** The steps of one change, on the catalogue as it stands by then. */
  make(change: Change) {
    this.add(emit(change, this.state, this.dialect))
  }

  /** A builder at the state of the beginning, to try something out. */
  fresh(): Builder {
    return new Builder(this.start, this.dialect)
  }

  /** What each group of more than one step changes in all: what it makes and takes away again within is nothing. */
  groups(): Group[] {
    this.end()
    return this.own
  }

  /** A draft with all that comes about by it. */
  private whole(draft: StepDraft): StepDraft {
    const more = draft.effects.flatMap(this.implied)
    if (more.length === 0) return draft
    // The way back of what came by itself comes by itself.
    const undo =
      draft.undo ??
      invert(draft.effects).flatMap((change) => emit(change, this.after(draft), this.dialect).map((d) => d.statement))
    return { ...draft, effects: [...draft.effects, ...more], undo }
  }

  private after(draft: StepDraft): Standing {
    const state = new Standing(this.state.catalog(), this.dialect.write)
    state.apply(draft.effects)
    return state
  }

  private next() {
    this.end()
    this.current = { id: (this.own.at(-1)?.id ?? 0) + 1, steps: [], before: new Map() }
  }

  private end() {
    if (!this.current || this.current.steps.length === 0) return
    const { id, steps, before } = this.current
    const [only] = steps
    this.own.push(
      steps.length === 1 && only
        ? { id, before: only.before, after: only.after }
        : {
            id,
            ...netFacts(
              steps.flatMap((step) => step.effects),
              before,
              this.state,
              this.dialect
            )
          }
    )
    this.current = undefined
  }

  private rememberFor(group: OpenGroup, changes: readonly Change[], now: Before) {
    const { before, unnamed } = group
    for (const [key, home] of now)
      if (!before.has(key)) before.set(key, (unnamed && home && findRelation(unnamed, home.schema, home.name)) ?? home)
    if (!unnamed && changes.some((change) => change.action === 'rename')) group.unnamed = this.state.catalog()
  }

  private remember(changes: readonly Change[], before: Before) {
    for (const change of changes) {
      const { schema, table } = namesOf(change.address)
      const names = change.action === 'rename' ? [table, change.to] : [table]
      for (const name of names) {
        const key = tableKey(schema, name)
        if (!before.has(key)) before.set(key, this.state.relation(schema, name))
      }
    }
  }
}
