// Statements written by hand, set among the steps of a plan, and kept there when the plan is made again.
import { addressOf } from '../catalog'
import type { HandStep } from '../design'
import type { Dialect } from '../dialects'
import type { Migration } from './plan'
import type { Group, Step } from './step'

/** What a step is known by from one plan to the next: what it changes, not its place or its words. */
export function stepKey(step: Pick<Step, 'effects' | 'statement'>): string {
  const [first] = step.effects
  if (!first) return step.statement
  const more = first.action === 'alter' ? first.property : first.action === 'rename' ? first.to : ''
  return [first.action, first.address.kind, ...first.address.path, more].map(encodeURIComponent).join('/')
}

/**
 * The plan with the steps of a person's own. Where the engine can, such a step is in the transaction of the one it
 * stands by. One whose step is not in the plan runs first or last, and says so.
 */
export function weave(migration: Migration, list: readonly HandStep[], dialect: Dialect): Migration {
  if (list.length === 0 || migration.steps.length === 0) return migration
  const together = dialect.profile.features.transactionalDdl
  const anchors = new Map([...migration.steps].reverse().map((step) => [stepKey(step), step.id]))
  const at = (item: HandStep) => `${anchors.get(item.anchor) ?? ''} ${item.place}`
  const byPlace = new Map<string, HandStep[]>()
  for (const item of list) byPlace.set(at(item), [...(byPlace.get(at(item)) ?? []), item])

  const steps: Step[] = []
  const groups: Group[] = []
  let [group, alone] = [0, 0]
  /** Steps by hand: in a transaction of that number, or each in one of its own, numbered in between. */
  const own = (place: string, beside: Step | undefined, within?: number) => {
    for (const item of byPlace.get(place) ?? []) {
      const number = within ?? group + ++alone / (list.length + 1)
      if (within === undefined) groups.push({ id: number, before: [], after: [] })
      steps.push(byHand(item, number, beside, beside !== undefined && place.startsWith(beside.id)))
    }
  }
  const known = new Map(migration.groups.map((g) => [g.id, g]))
  const enter = (step: Step) => {
    if (step.group === group) return
    ;[group, alone] = [step.group, 0]
    const found = known.get(step.group)
    if (found) groups.push(found)
  }
  own(' before', migration.steps[0])
  for (const step of migration.steps) {
    if (together) enter(step)
    own(`${step.id} before`, step, together ? step.group : undefined)
    enter(step)
    steps.push(step)
    own(`${step.id} after`, step, together ? step.group : undefined)
  }
  own(' after', migration.steps.at(-1))
  return { ...migration, steps, groups }
}

const byHand = (item: HandStep, group: number, beside: Step | undefined, anchored: boolean): Step => ({
  id: `own ${item.id}`,
  group,
  statement: item.statement,
  why: anchored
    ? 'a step of your own'
    : `a step of your own, whose place is not in this plan: it runs ${item.place === 'before' ? 'first' : 'last'}`,
  about: beside?.about ?? addressOf('table', '', ''),
  effects: [],
  before: [],
  after: [],
  hazards: [],
  undo: [],
  hand: item.id
})
