// What the engine prints for what was asked for, where the two cannot be told alike: it is asked right after a run of ours
// has made the thing, and from then on the pair is known.
import {
  MEMBER_KINDS,
  addressKey,
  memberAddress,
  members,
  sameValue,
  namesOf,
  renamedTo,
  type Change,
  type Origin,
  type Printed
} from '../catalog'
import type { Dialect } from '../dialects'
import type { CompareInput } from './compare'
import { compareProperty } from './property'

const placeOf = (origin: Origin, property: string) => JSON.stringify([origin.id, origin.part, property])

/** Whether what is wanted of an object is known to be printed so. */
export function knownAsPrinted(printed: readonly Printed[]) {
  const known = new Map(printed.map((item) => [placeOf(item.origin, item.property), item]))
  return (origin: Origin | undefined, property: string, wanted: unknown, now: unknown): boolean => {
    const item = origin && known.get(placeOf(origin, property))
    return item !== undefined && sameValue(item.wanted, wanted) && sameValue(item.printed, now)
  }
}

/** A query comes back as the engine has understood it, in words of its own. */
const isReprinted = ({ address, property }: Change & { readonly action: 'alter' }) =>
  address.kind === 'view' && property === 'query'

interface Known {
  readonly printed: readonly Printed[]
  /** Changes that are none, now that their pair is known. */
  readonly made: ReadonlySet<Change>
}

/** `changes` are those that `compare` finds after the run; the pairs that were known and still hold stay. */
export function printedNow(
  { wanted, agreed }: CompareInput,
  changes: readonly Change[],
  effects: readonly Change[],
  dialect: Dialect
): Known {
  const made = madeBy(effects)
  const found = new Set<Change>()
  const fresh = changes.flatMap((change): Printed[] => {
    if (change.action !== 'alter' || !change.origin || (change.certain && !isReprinted(change))) return []
    const { kind } = change.address
    const given = made.get(addressKey(change.address))?.get(change.property)
    if (!given || compareProperty(kind, change.property, given.value, change.to, dialect) !== 'equal') return []
    found.add(change)
    const { schema, table } = namesOf(change.address)
    return [
      { origin: change.origin, schema, table, property: change.property, wanted: change.to, printed: change.from }
    ]
  })
  const differs = new Set(
    changes.flatMap((c) => (c.action === 'alter' && c.origin ? [placeOf(c.origin, c.property)] : []))
  )
  const there = originsOf(wanted)
  const kept = (agreed?.printed ?? []).filter(
    ({ origin, property }) => !differs.has(placeOf(origin, property)) && there.has(placeOf(origin, ''))
  )
  return { printed: [...kept, ...fresh], made: found }
}

/** The last value that effects gave each property of each object, by the object's place. */
function madeBy(effects: readonly Change[]): Map<string, Map<string, { readonly value: unknown }>> {
  const made = new Map<string, Map<string, { value: unknown }>>()
  const give = (key: string, object: object) =>
    made.set(key, new Map(Object.entries(object).map(([property, value]) => [property, { value: value as unknown }])))
  for (const change of effects) {
    const key = addressKey(change.address)
    if (change.action === 'alter')
      made.set(key, (made.get(key) ?? new Map()).set(change.property, { value: change.to }))
    else if (change.action === 'create' && change.object.kind === 'table') {
      const table = change.object.value
      give(key, table)
      for (const kind of MEMBER_KINDS)
        for (const member of members(table, kind)) give(addressKey(memberAddress(table, kind, member)), member)
    } else if (change.action === 'create') give(key, change.object.value)
    else if (change.action === 'drop') made.delete(key)
    else {
      const renamed = renamedTo(change.address, change.to)
      const was = made.get(key)
      made.delete(key)
      if (was) made.set(addressKey(renamed), was)
    }
  }
  return made
}

function originsOf(catalog: CompareInput['wanted']): Set<string> {
  const origins = new Set<string>()
  for (const table of catalog.tables) {
    const all = MEMBER_KINDS.flatMap((kind) => members(table, kind) as readonly { readonly origin?: Origin }[])
    for (const { origin } of [table, ...all]) if (origin) origins.add(placeOf(origin, ''))
  }
  for (const { origin } of catalog.views ?? []) if (origin) origins.add(placeOf(origin, ''))
  return origins
}
