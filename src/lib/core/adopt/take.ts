// A change made in the database, brought into the design. The law: what the changed design gives is what it gave before
// with the change applied. It is checked each time; what cannot keep to it is a conflict, never a guess.
import { apply, invert, type Catalog, type Change } from '../catalog'
import { compare } from '../compare'
import { derive } from '../derive'
import { edit, type Departure, type Design, type Edit, type Extra, type Target } from '../design'
import type { Dialect } from '../dialects'
import { editsFor } from './edits'

export type Taken =
  | { readonly ok: true; readonly edit: Edit }
  /** Why it cannot be taken so, in a sentence. */
  | { readonly ok: false; readonly conflict: string; readonly change: Change }

interface TakeInput {
  readonly design: Design
  readonly target: Target
  /** Differences as `compare` found them, with all that they need: the database's side is taken. */
  readonly changes: readonly Change[]
  /** What the design gives now, and names as the database spells them. */
  readonly wanted: Catalog
  /** Gives what a design gives the database's spelling; without it names stay as they are. */
  readonly spell?: (catalog: Catalog) => Catalog
}

/** The edit of the design, for every target, after which it wants what the database has. */
export function take({ design, target, changes, wanted, spell }: TakeInput, dialect: Dialect): Taken {
  let now = design
  let catalog = wanted
  const edits: Edit[] = []
  for (const change of invert(changes)) {
    const more = editsFor(change, { design: now, catalog, dialect })
    if (typeof more === 'string') return { ok: false, conflict: more, change }
    now = more.reduce(edit, now)
    edits.push(...more)
    const given = derive(now, target, dialect).catalog
    catalog = spell?.(given) ?? given
  }
  const expected = apply(invert(changes), wanted, dialect.write)
  const [different] = compare({ wanted: catalog, live: expected }, dialect).changes
  if (different)
    return {
      ok: false,
      conflict: `The design cannot say this without changing ${different.address.table}.${different.address.name} too.`,
      change: changes[0] ?? different
    }
  return { ok: true, edit: { kind: 'all', edits } }
}

/** The same for this target only: the design stays, and the target departs from it. */
export function takeHere({ target, changes }: Pick<TakeInput, 'target' | 'changes'>): Taken {
  const departures: Departure[] = [...(target.departures ?? [])]
  const extras: Extra[] = [...(target.extras ?? [])]
  for (const change of changes) {
    const { kind, schema, table } = change.address
    if (change.action === 'drop') {
      extras.push({ schema, table, kind, value: change.object.value })
      continue
    }
    const origin = change.action === 'create' ? change.object.value.origin : change.origin
    if (!origin) return { ok: false, conflict: 'It comes from nothing in the design.', change }
    const { id, part } = origin
    if (change.action === 'create') departures.push({ id, part, absent: true })
    else if (change.action === 'rename') departures.push({ id, part, property: 'name', value: change.address.name })
    else departures.push({ id, part, property: change.property, value: change.from })
  }
  return { ok: true, edit: { kind: 'target.set', target: { ...target, departures, extras } } }
}
