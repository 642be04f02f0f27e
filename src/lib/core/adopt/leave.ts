// What of a database is not brought in: some of its tables, and all that stands on them. The target that it comes from does not
// compare it.
import {
  addressKey,
  findTable,
  foreignKeysTo,
  freeAddress,
  isFree,
  memberAddress,
  standingOn,
  tableAddress,
  type Address,
  type Catalog,
  type Table
} from '../catalog'
import type { Ignored } from '../design'

/** The tables that are not `chosen`, and whatever stands on them, each with the reason. */
export function leftOut(catalog: Catalog, chosen: (table: Table) => boolean): Ignored[] {
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
    leave(tableAddress(table), 'It was left out when the design was made.')
    for (const { child, fk } of foreignKeysTo(catalog, table.schema, table.name))
      leave(memberAddress(child, 'foreignKey', fk), `It leads to ${table.name}.`)
    for (const sequence of catalog.sequences ?? [])
      if (sequence.ownedBy?.schema === table.schema && sequence.ownedBy.table === table.name)
        leave(freeAddress('sequence', sequence), `It goes with ${table.name}.`)
  }
  // What is in a table that is left out needs no word of its own.
  return [...found.values()].filter(
    ({ kind, path }) => isFree(kind) || !found.has(addressKey({ kind: 'table', path: path.slice(0, 2) }))
  )
}

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
