// Statements written by hand, set among the steps of a plan, and kept there when the plan is made again.
import type { HandStep } from '../design'
import type { Dialect } from '../dialects'
import type { Migration } from './plan'
import type { Group, Step } from './step'

/** What a step is known by from one plan to the next: what it changes, not its place or its words. */
export function stepKey(step: Pick<Step, 'effects' | 'statement'>): string {
  const [first] = step.effects
  if (!first) return step.statement
  const { kind, schema, table, name } = first.address
  const more = first.action === 'alter' ? first.property : first.action === 'rename' ? first.to : ''
  return [first.action, kind, schema, table, name, more].map(encodeURIComponent).join('/')
}

/**
 * The plan with the steps of a person's own. Where the engine can, such a step is in the transaction of the one it
 * stands by. One whose step is not in the plan runs first or last, and says so.
 */
export function weave(migration: Migration, own: readonly HandStep[], dialect: Dialect): Migration {
  if (own.length === 0 || migration.steps.length === 0) return migration
  const steps = [...migration.steps]
  const groups = new Map<number, Group>(migration.groups.map((group) => [group.id, group]))
  const together = dialect.profile.features.transactionalDdl
  own.forEach((item, n) => {
    const at = steps.findIndex((step) => step.hand === undefined && stepKey(step) === item.anchor)
    const anchor = steps[at]
    const before = item.place === 'before'
    const beside = (anchor ?? (before ? steps[0] : steps.at(-1)))?.group ?? 1
    const group = anchor && together ? beside : beside + (before ? -0.5 : 0.5) + n / 1000
    const step: Step = {
      id: `own ${item.id}`,
      group,
      statement: item.statement,
      why: anchor
        ? 'a step of your own'
        : `a step of your own, whose place is not in this plan: it runs ${before ? 'first' : 'last'}`,
      about: (anchor ?? steps[0])?.about ?? { kind: 'table', schema: '', table: '', name: '' },
      effects: [],
      before: [],
      after: [],
      hazards: [],
      undo: [],
      hand: item.id
    }
    if (!groups.has(group)) groups.set(group, { id: group, before: [], after: [] })
    const index = anchor ? (before ? at : at + 1) : before ? 0 : steps.length
    steps.splice(index, 0, step)
  })
  return { ...migration, steps, groups: [...groups.values()].sort((a, b) => a.id - b.id) }
}
