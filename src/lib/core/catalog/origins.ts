// Which object was made from which part of a design.
import type { CatalogObject } from './change'
import { MEMBER_KINDS } from './kinds'
import type { Address, Catalog, Origin } from './shapes'
import { freeAddress, memberAddress, members, tableAddress } from './walk'

/** The part of the column that holds an entity's documents in another's, before the id of the link that says so. */
export const HOLDS = 'embedded '

/** The link that says that a column holds documents of another entity's; nothing where it holds none. */
export const holdingLink = ({ part }: Origin): string | undefined =>
  part.startsWith(HOLDS) ? part.slice(HOLDS.length) : undefined

/** Whether two objects were made from the same part of the same design object. */
export const sameOrigin = (a: Origin | undefined, b: Origin | undefined): boolean =>
  a !== undefined && b !== undefined && a.id === b.id && a.part === b.part

/** An object and where it stands. */
export interface MadeFrom {
  readonly address: Address
  readonly object: CatalogObject
}

/** Tables, what is in them, and views, by what they were made from; looked through once. */
export function madeFrom(catalog: Catalog): (origin: Origin) => MadeFrom | undefined {
  const found = new Map<string, MadeFrom>()
  const keyOf = ({ id, part }: Origin) => JSON.stringify([id, part])
  const note = (origin: Origin | undefined, address: Address, object: CatalogObject) => {
    if (origin && !found.has(keyOf(origin))) found.set(keyOf(origin), { address, object })
  }
  for (const table of catalog.tables) {
    note(table.origin, tableAddress(table), { kind: 'table', value: table })
    for (const kind of MEMBER_KINDS)
      for (const member of members(table, kind) as readonly { name: string; origin?: Origin }[])
        note(member.origin, memberAddress(table, kind, member), { kind, value: member } as CatalogObject)
  }
  for (const view of catalog.views ?? []) note(view.origin, freeAddress('view', view), { kind: 'view', value: view })
  return (origin) => found.get(keyOf(origin))
}
