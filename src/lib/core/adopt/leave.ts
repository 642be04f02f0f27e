// What of a database is not brought in: some of its tables, and all that stands on them. The target that it comes from does not
// compare it.
import {
  addressKey,
  carriedIn,
  findTable,
  foreignKeysTo,
  freeAddress,
  isFree,
  memberAddress,
  refsOf,
  refsOfAll,
  standingOn,
  tableAddress,
  type Address,
  type Catalog,
  type Kind,
  type Ref,
  type Table
} from '../catalog'
import type { Ignored } from '../design'

/** What can be left out beside tables: no table stands on it. Places in their order. */
export function besideTables(catalog: Catalog): Address[] {
  const carried = carriedIn(catalog).filter(({ address }) => isFree(address.kind))
  const byKey = new Map(carried.map((object) => [addressKey(object.address), object]))
  const needed = new Set<string>()
  const need = ({ to }: Ref) => {
    const key = addressKey(to)
    if (needed.has(key)) return
    needed.add(key)
    const object = byKey.get(key)
    if (object) refsOf(object.kind, object.value).forEach(need)
  }
  for (const table of catalog.tables) refsOfAll(table).forEach(need)
  return carried.flatMap((object) => {
    const goesAlong = object.kind === 'sequence' && object.value.ownedBy !== undefined
    return ALONE.has(object.kind) && !goesAlong && !needed.has(addressKey(object.address)) ? [object.address] : []
  })
}

/** What people choose by name. What an extension brings is named by texts that are not told apart: it stays. */
const ALONE: ReadonlySet<Kind> = new Set<Kind>(['view', 'routine', 'type', 'sequence'])

/**
 * The tables that are not `chosen`, and whatever stands on them, each with the reason; of what can be left out beside tables,
 * what is not `kept`.
 */
export function leftOut(
  catalog: Catalog,
  chosen: (table: Table) => boolean,
  kept: (address: Address) => boolean = () => true
): Ignored[] {
  const users = standingOn(catalog)
  const found = new Map<string, Ignored>()
  const leave = ({ kind, path }: Address, reason: string) => {
    const key = addressKey({ kind, path })
    if (found.has(key)) return
    found.set(key, { kind, path: [...path], reason })
    // A column that calls what goes keeps what it is; what is in a table goes with it.
    const all =
      kind === 'table' ? [...users({ kind, path }), ...columnUsers(catalog, path, users)] : users({ kind, path })
    for (const user of all)
      if (user.kind !== 'column' && !isInside(user, path)) leave(user, `It stands on ${path.at(-1) ?? ''}.`)
  }
  for (const table of catalog.tables) {
    if (chosen(table)) continue
    leave(tableAddress(table), WANTED)
    for (const { child, fk } of foreignKeysTo(catalog, table.schema, table.name))
      leave(memberAddress(child, 'foreignKey', fk), `It leads to ${table.name}.`)
    for (const sequence of catalog.sequences ?? [])
      if (sequence.ownedBy?.schema === table.schema && sequence.ownedBy.table === table.name)
        leave(freeAddress('sequence', sequence), `It goes with ${table.name}.`)
  }
  for (const address of besideTables(catalog)) if (!kept(address)) leave(address, WANTED)
  // What is in a table that is left out needs no word of its own.
  return [...found.values()].filter(
    ({ kind, path }) => isFree(kind) || !found.has(addressKey({ kind: 'table', path: path.slice(0, 2) }))
  )
}

const WANTED = 'It was left out when the design was made.'

const isInside = (user: Address, path: readonly string[]): boolean =>
  user.path.length > 2 && user.path[0] === path[0] && user.path[1] === path[1]

const columnUsers = (
  catalog: Catalog,
  [schema = '', name = '']: readonly string[],
  users: (address: Address) => readonly Address[]
) =>
  (findTable(catalog, schema, name)?.columns ?? []).flatMap((column) =>
    users({ kind: 'column', path: [schema, name, column.name] })
  )
