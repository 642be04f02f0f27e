// Transactions of a run that travel together: those that only make what was not there, in tables that are new themselves.
// They touch no rows, nobody else knows them yet, and the catalogue tells of each whether it is there.
import { tableKey, namesOf, type Change } from '../core/catalog'
import type { Group, Migration, Step } from '../core/plan'

/** Steps that are sent, written down and told at once, at most. */
const MOST = 50

/** The transactions in their order, those that travel together in one list. */
export function wagons(migration: Migration, left: readonly Group[], most = MOST): Group[][] {
  const steps = byGroup(migration)
  const made = new Set(migration.steps.flatMap((step) => step.effects.flatMap(newTable)))
  const plain = (group: Group) =>
    group.after.length > 0 &&
    (steps.get(group.id) ?? []).every(
      ({ effects, hazards }) =>
        effects.length > 0 && hazards.length === 0 && effects.every((effect) => within(effect, made))
    )
  const result: Group[][] = []
  let [open, size] = [false, 0]
  for (const group of left) {
    const own = steps.get(group.id)?.length ?? 0
    const joins = plain(group)
    const last = result.at(-1)
    if (joins && open && last && size + own <= most) {
      last.push(group)
      size += own
    } else {
      result.push([group])
      size = own
    }
    open = joins
  }
  return result
}

/** Worked out once for a migration: asked for each transaction, it would grow with the square. */
export function byGroup({ steps }: Pick<Migration, 'steps'>): ReadonlyMap<number, readonly Step[]> {
  const groups = new Map<number, Step[]>()
  for (const step of steps) {
    const list = groups.get(step.group)
    if (list) list.push(step)
    else groups.set(step.group, [step])
  }
  return groups
}

const newTable = (change: Change): string[] =>
  change.action === 'create' && change.address.kind === 'table' ? [keyOf(change)] : []

/** Makes something in a new table, or says what it means. */
const within = (change: Change, made: ReadonlySet<string>): boolean =>
  (change.action === 'create' || (change.action === 'alter' && change.property === 'comment')) &&
  made.has(keyOf(change))

const keyOf = ({ address }: Change) => tableKey(namesOf(address).schema, namesOf(address).table)
