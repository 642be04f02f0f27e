// What a catalogue could not hold of its objects: a step that takes such an object away, states it anew or makes it again says so.
import {
  addressKey,
  addressOf,
  namesOf,
  renamedTo,
  tableKey,
  type Address,
  type Change,
  type Relation,
  type UnreadObject
} from '../catalog'
import type { Hazard } from '../dialects'

/** Follows what is unread through a plan, by the names that things have by then. */
export class Unheld {
  private readonly again = new Set<string>()
  private left: { readonly unread: UnreadObject; readonly of: readonly Address[] }[]

  constructor(unread: readonly UnreadObject[]) {
    this.left = unread.flatMap((object) => (object.of ? [{ unread: object, of: object.of }] : []))
  }

  makesAgain({ schema, name }: Relation): void {
    this.again.add(tableKey(schema, name))
  }

  /** What goes with these changes; each is told once. */
  lostBy(effects: readonly Change[]): Hazard[] {
    if (this.left.length === 0) return []
    const hazards: Hazard[] = []
    const lose = (isLost: (place: Address) => boolean) => {
      this.left = this.left.filter(({ unread, of }) => {
        if (!of.some(isLost)) return true
        hazards.push({
          kind: 'cannot be undone',
          sentence: `The ${unread.kind} ${unread.name} goes with this, and is not read here: make it again by hand.`
        })
        return false
      })
    }
    for (const change of effects) {
      const { address, action } = change
      const { schema, table } = namesOf(address)
      if (this.again.has(tableKey(schema, table))) lose((place) => isIn(place, address))
      const key = addressKey(address)
      if (action === 'drop')
        lose((place) => addressKey(place) === key || (address.kind === 'table' && isIn(place, address)))
      else if (action === 'alter' && change.property !== 'comment' && change.property !== 'rights')
        lose((place) => addressKey(place) === key)
      else if (action === 'rename')
        this.left = this.left.map(({ unread, of }) => ({
          unread,
          of: of.map((place) => followed(place, address, change.to))
        }))
    }
    return hazards
  }
}

const isIn = ({ path }: Address, table: Address): boolean => path[0] === table.path[0] && path[1] === table.path[1]

/** A place once something has another name. */
function followed(place: Address, renamed: Address, to: string): Address {
  if (addressKey(place) === addressKey(renamed)) return renamedTo(place, to)
  if (renamed.kind !== 'table' || place.path.length < 3 || !isIn(place, renamed)) return place
  const { kind, schema, name } = namesOf(place)
  return addressOf(kind, schema, to, name)
}
