// What is to be done to a live catalogue, sorted, with all changes of one column together.
import {
  addressKey as place,
  findMember,
  findTable,
  tableKey,
  type Address,
  type Catalog,
  type Change,
  type Column,
  type Table
} from '../catalog'
import type { Dialect } from '../dialects'

export type Rename = Change & { readonly action: 'rename' }
export type Drop = Change & { readonly action: 'drop' }
export type Create = Change & { readonly action: 'create' }
export type Alter = Change & { readonly action: 'alter' }

export interface Work {
  readonly live: Catalog
  readonly removed: readonly Drop[]
  readonly added: readonly Create[]
  readonly alters: readonly Alter[]
  readonly columns: readonly AlteredColumn[]
  readonly renames: readonly Rename[]
  readonly dialect: Dialect
  /** The same place in the names the database has now. */
  inLiveNames(address: Address): Address
}

export interface AlteredColumn {
  /** In wanted names. */
  readonly address: Address
  readonly live: Column
  readonly liveTable: Table
  readonly wanted: Column
}

/** All changes of one column together, but its name and its comment. */
export function alteredColumns(
  alters: readonly Alter[],
  live: Catalog,
  to: Catalog,
  inLiveNames: (address: Address) => Address
): AlteredColumn[] {
  const places = new Map(
    alters
      .filter((c) => c.address.kind === 'column' && c.property !== 'comment')
      .map((c) => [place(c.address), c.address])
  )
  return [...places.values()].flatMap((address) => {
    const was = inLiveNames(address)
    const [column, liveTable] = [findMember(live, was, 'column'), findTable(live, was.schema, was.table)]
    const wanted = findMember(to, address, 'column')
    return column && liveTable && wanted ? [{ address, live: column, liveTable, wanted }] : []
  })
}

/** Names before and after renames, which are all meant at once. */
export function namesBetween(renames: readonly Rename[]) {
  const before = new Map<string, string>()
  const after = new Map<string, string>()
  for (const { address, to } of renames)
    if (address.kind === 'table') {
      before.set(tableKey(address.schema, to), address.name)
      after.set(tableKey(address.schema, address.name), to)
    }
  const tableNow = ({ schema, table }: Address) => after.get(tableKey(schema, table)) ?? table
  const members = new Map(
    renames
      .filter(({ address }) => address.kind !== 'table')
      .map(({ address, to }) => [place({ ...address, table: tableNow(address), name: to }), address.name])
  )
  return {
    /** A place in wanted names, in the names the database has now. */
    inLiveNames(address: Address): Address {
      const table = before.get(tableKey(address.schema, address.table)) ?? address.table
      return {
        ...address,
        table,
        name: address.kind === 'table' ? table : (members.get(place(address)) ?? address.name)
      }
    },
    /** A live object by its own name, in a table that has its new one. */
    inTableOf: (address: Address): Address =>
      address.kind === 'table' ? address : { ...address, table: tableNow(address) }
  }
}

export const noLongerComputed = ({ live, wanted }: AlteredColumn): boolean =>
  live.generated !== undefined && wanted.generated === undefined
