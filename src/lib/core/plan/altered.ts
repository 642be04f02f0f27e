// What is to be done to a live catalogue, sorted, with all changes of one column together.
import {
  addressKey as place,
  findMember,
  findTable,
  inTable,
  isFree,
  isWithin,
  movedPath,
  namesOf,
  renamedTo,
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
  readonly to: Catalog
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
      .filter((c) => c.address.kind === 'column' && c.property !== 'comment' && c.property !== 'rights')
      .map((c) => [place(c.address), c.address])
  )
  return [...places.values()].flatMap((address) => {
    const was = inLiveNames(address)
    const { schema, table } = namesOf(was)
    const [column, liveTable] = [findMember(live, was, 'column'), findTable(live, schema, table)]
    const wanted = findMember(to, address, 'column')
    return column && liveTable && wanted ? [{ address, live: column, liveTable, wanted }] : []
  })
}

/**
 * What goes with a change without being spoken of: the collation of a text with the text, how numbers are given out with
 * their being given out.
 */
export function unspoken(changes: readonly Change[], to: Catalog, { types }: Dialect): Change[] {
  const isText = (type: Column['type']) => ['text', 'char', 'oneOf'].includes(types.toNeutral(type).kind)
  const said = new Set(changes.flatMap((c) => (c.action === 'alter' ? [`${place(c.address)} ${c.property}`] : [])))
  return changes.flatMap((change): Change[] => {
    if (change.action !== 'alter' || change.address.kind !== 'column') return []
    const { address, property } = change
    const column = findMember(to, address, 'column')
    const gone = (name: 'collation' | 'counting'): Change[] =>
      column?.[name] === undefined || said.has(`${place(address)} ${name}`)
        ? []
        : [{ action: 'alter', address, property: name, from: column[name], to: undefined, certain: true }]
    if (property === 'type') return column && isText(column.type) ? [] : gone('collation')
    return property === 'identity' && change.to === undefined ? gone('counting') : []
  })
}

/** New names of what may hold fields, by their tables. */
export class Holders {
  private readonly byTable = new Map<string, { readonly from: string; readonly to: string }[]>()

  constructor(renames: readonly Rename[] = []) {
    for (const rename of renames) this.add(rename)
  }

  add({ address, to }: Rename) {
    if (address.kind !== 'column') return
    const { schema, table, name } = namesOf(address)
    const key = tableKey(schema, table)
    const own = this.byTable.get(key)
    if (own) own.push({ from: name, to })
    else this.byTable.set(key, [{ from: name, to }])
  }

  /** A field in what has got another name, as it stands then; the innermost of those says all. */
  place(address: Address): Address {
    if (address.kind !== 'column') return address
    const { schema, table, name } = namesOf(address)
    const holding = (this.byTable.get(tableKey(schema, table)) ?? []).filter(({ from }) => isWithin(name, from))
    const [holder] = holding.sort((a, b) => b.from.length - a.from.length)
    return holder ? renamedTo(address, movedPath(name, holder.from, holder.to)) : address
  }
}

/** Names before and after renames, which are all meant at once. */
export function namesBetween(renames: readonly Rename[], { profile: { features } }: Dialect) {
  const before = new Map<string, string>()
  const after = new Map<string, string>()
  for (const { address, to } of renames) {
    const { kind, schema, name } = namesOf(address)
    if (kind !== 'table' && kind !== 'view') continue
    before.set(tableKey(schema, to), name)
    after.set(tableKey(schema, name), to)
  }
  const moved = (address: Address, names: ReadonlyMap<string, string>): Address => {
    const { kind, schema, table } = namesOf(address)
    const now = names.get(tableKey(schema, table))
    if (now === undefined) return address
    return kind === 'table' || kind === 'view' ? renamedTo(address, now) : inTable(address, now)
  }
  const holders = features.fields ? new Holders(renames) : undefined
  const members = new Map(
    renames
      .filter(({ address }) => !isFree(address.kind))
      .map(({ address, to }) => [place(renamedTo(moved(address, after), to)), namesOf(address).name])
  )
  return {
    /** A place in wanted names, in the names the database has now. */
    inLiveNames(address: Address): Address {
      const there = moved(address, before)
      return isFree(address.kind) ? there : renamedTo(there, members.get(place(address)) ?? namesOf(address).name)
    },
    /** A live object by its own name, in a table, or a field, that has its new one. */
    inTableOf: (address: Address): Address => {
      if (isFree(address.kind)) return address
      return moved(holders?.place(address) ?? address, after)
    }
  }
}

export const noLongerComputed = ({ live, wanted }: AlteredColumn): boolean =>
  live.generated !== undefined && wanted.generated === undefined
