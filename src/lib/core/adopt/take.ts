// Changes made in the database, brought into the design. The law: what the changed design gives is what it gave before with
// the changes applied. It is checked each time; each change is taken, or refused with its own reason and nothing else.
import {
  addressKey,
  applied,
  inversePairs,
  memberAddress,
  Misfit,
  tableAddress,
  namesOf,
  withProperty,
  type Catalog,
  type Change
} from '../catalog'
import { compare } from '../compare'
import { derive } from '../derive'
import { edit, type Departure, type Design, type Edit, type Extra, type Target } from '../design'
import type { Dialect } from '../dialects'
import { editsFor } from './edits'

export interface Taken {
  /** One edit for all that is taken. */
  readonly edit: Edit
  readonly taken: readonly Change[]
  readonly refused: readonly Refused[]
}

export interface Refused {
  readonly change: Change
  /** Why it cannot be taken so, in a sentence. */
  readonly conflict: string
}

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
  const refused = new Map<Change, string>()
  for (;;) {
    const left = changes.filter((change) => !refused.has(change))
    const tried = attempt(left, refused, { design, target, changes, wanted, ...(spell ? { spell } : {}) }, dialect)
    for (const [change, conflict] of tried.refused) refused.set(change, conflict)
    const accepted = left.filter((change) => !refused.has(change))
    const expected = lawful(accepted, refused, wanted, dialect)
    if (!expected) continue
    const different = compare({ wanted: tried.catalog, live: expected }, dialect).changes
    if (tried.refused.size === 0 && different.length === 0)
      return {
        edit: { kind: 'all', edits: tried.edits },
        taken: accepted,
        refused: [...refused].map(([change, conflict]) => ({ change, conflict }))
      }
    // What was refused may have been needed; what does not keep the law goes. Then the rest is tried afresh.
    if (tried.refused.size === 0)
      for (const change of blamed(accepted, different))
        refused.set(
          change,
          `The design cannot say this without changing ${different[0]?.address.path.slice(1).join('.') ?? ''} too.`
        )
  }
}

/** What the database then has of what is wanted; nothing, and a refusal more, where a change cannot be without one refused. */
function lawful(
  accepted: readonly Change[],
  refused: Map<Change, string>,
  wanted: Catalog,
  dialect: Dialect
): Catalog | undefined {
  const pairs = inversePairs(accepted)
  try {
    return applied(
      pairs.map(({ inverse }) => inverse),
      wanted,
      dialect.write
    )
  } catch (error) {
    const misfit = error instanceof Misfit && pairs.find(({ inverse }) => inverse === error.change)
    if (!misfit) throw error
    refused.set(misfit.change, `It cannot be taken without what is not taken. ${error.message}`)
    return undefined
  }
}

/** The edits for changes, each on what the ones before it have made; those that there are no edits for, with the reason. */
function attempt(
  changes: readonly Change[],
  before: ReadonlyMap<Change, string>,
  { design, target, wanted, spell }: TakeInput,
  dialect: Dialect
) {
  let now = design
  let catalog = wanted
  const edits: Edit[] = []
  const refused = new Map<Change, string>()
  /** Tables that are not taken, with the reason: nothing that stands on them can be. */
  const without = new Map(
    [...before].flatMap(([change, why]) =>
      change.action === 'drop' && change.address.kind === 'table' ? [[tableOf(change), why] as const] : []
    )
  )
  const pairs = inOrder(inversePairs(changes))
  const madeAgain = new Set(
    pairs.flatMap(({ inverse: c }) => (c.action === 'create' && c.address.kind === 'primaryKey' ? tableOf(c) : []))
  )
  for (const { change: original, inverse: change } of pairs) {
    // A key that is dropped to be made again is changed where it is made.
    if (change.action === 'drop' && change.address.kind === 'primaryKey' && madeAgain.has(tableOf(change))) continue
    if (refused.has(original)) continue
    const missing = standsOn(change).find((key) => without.has(key))
    const more =
      missing === undefined
        ? editsFor(change, { design: now, catalog, dialect, edits })
        : `It needs a table that is not taken: ${without.get(missing) ?? ''}`
    if (typeof more === 'string') {
      refused.set(original, more)
      if (original.action === 'drop' && original.address.kind === 'table') without.set(tableOf(change), more)
      continue
    }
    now = more.reduce(edit, now)
    edits.push(...more)
    const given = derive(now, target, dialect).catalog
    catalog = spell?.(given) ?? given
  }
  return { edits, catalog, refused }
}

const tableOf = ({ address }: Change): string => {
  const { schema, table } = namesOf(address)
  return addressKey(tableAddress({ schema, name: table }))
}

type Pair = ReturnType<typeof inversePairs>[number]
const ranks: readonly Change['address']['kind'][] = [
  'table',
  'column',
  'primaryKey',
  'unique',
  'index',
  'check',
  'foreignKey',
  'view'
]

/** What is new comes in the order in which it can be: tables, then what is in them, and links when all tables are there. */
function inOrder(pairs: readonly Pair[]): Pair[] {
  const rank = ({ inverse }: Pair) => (inverse.action === 'create' ? ranks.indexOf(inverse.address.kind) : -1)
  return pairs
    .flatMap((pair): Pair[] => {
      const { change, inverse } = pair
      if (inverse.action !== 'create' || inverse.object.kind !== 'table') return [pair]
      const table = inverse.object.value
      const bare: Change = { ...inverse, object: { kind: 'table', value: { ...table, foreignKeys: [] } } }
      const links = table.foreignKeys.map((fk): Pair => ({
        change,
        inverse: {
          action: 'create',
          address: memberAddress(table, 'foreignKey', fk),
          object: { kind: 'foreignKey', value: fk }
        }
      }))
      return [{ change, inverse: bare }, ...links]
    })
    .sort((a, b) => rank(a) - rank(b))
}

/** The tables that something new stands on. */
function standsOn(change: Change): string[] {
  if (change.action !== 'create' || change.object.kind === 'table') return []
  const { object } = change
  if (object.kind === 'view')
    return (object.value.refs ?? []).map(({ to: { path } }) =>
      addressKey(tableAddress({ schema: path[0] ?? '', name: path[1] ?? '' }))
    )
  if (object.kind !== 'foreignKey') return [tableOf(change)]
  const { schema, table } = object.value.references
  return [tableOf(change), addressKey(tableAddress({ schema, name: table }))]
}

/** Those changes that what is otherwise is about: the same thing, else the same table, else the last of them. */
function blamed(changes: readonly Change[], different: readonly Change[]): Change[] {
  const at = new Set(different.map(({ address }) => addressKey(address)))
  const own = changes.filter(({ address }) => at.has(addressKey(address)))
  if (own.length > 0) return own
  const tables = new Set(different.map(tableOf))
  const near = changes.filter((change) => tables.has(tableOf(change)))
  return near.length > 0 ? near : changes.slice(-1)
}

/** The same for this target only: the design stays, and the target departs from it. */
export function takeHere({ target, changes }: Pick<TakeInput, 'target' | 'changes'>): Taken {
  const departures: Departure[] = [...(target.departures ?? [])]
  const extras: Extra[] = [...(target.extras ?? [])]
  const refused: Refused[] = []
  const taken: Change[] = []
  // What the target has held before, not what it comes to hold by this.
  const held = new Set(extras.map(addressKey))
  for (const change of changes) {
    const key = addressKey(change.address)
    const at = held.has(key) ? extras.findIndex((extra) => addressKey(extra) === key) : -1
    const extra = extras[at]
    if (extra && (change.action === 'create' || change.action === 'alter')) {
      taken.push(change)
      if (change.action === 'create') extras.splice(at, 1)
      else extras[at] = { ...extra, value: withProperty(extra.value, change.property, change.from) } as Extra
      continue
    }
    const origin = change.action === 'create' ? change.object.value.origin : change.origin
    if (change.action !== 'drop' && !origin) {
      refused.push({ change, conflict: 'It comes from nothing in the design.' })
      continue
    }
    taken.push(change)
    const { id, part } = origin ?? { id: '', part: '' }
    if (change.action === 'drop') extras.push({ path: change.address.path, ...change.object })
    else if (change.action === 'create') departures.push({ id, part, absent: true })
    else if (change.action === 'rename')
      departures.push({ id, part, property: 'name', value: namesOf(change.address).name })
    else departures.push({ id, part, property: change.property, value: change.from })
  }
  return {
    edit: { kind: 'object.set', collection: 'targets', object: { ...target, departures, extras } },
    taken,
    refused
  }
}
