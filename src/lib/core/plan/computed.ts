// Columns that are worked out from others. An engine changes no column that they stand on: they go before it changes and
// are made again after, and nothing is lost by that.
import {
  addressKey as place,
  memberAddress,
  tableAddress,
  worksFrom,
  type Catalog,
  type Change,
  type Standing,
  type Column,
  type Table
} from '../catalog'
import type { Lexis } from '../sql'
import { noLongerComputed, type Work } from './altered'

export interface Computed {
  readonly table: Table
  readonly column: Column
}

const isComputed = (column: Column) => column.generated !== undefined

/** The computed columns of a table, each after those it is worked out from. */
function inOrder(table: Table, lexis: Lexis): Column[] {
  const own = table.columns.filter(isComputed)
  const order = new Set<Column>()
  const path = new Set<Column>()
  const place = (column: Column) => {
    if (order.has(column) || path.has(column)) return
    path.add(column)
    for (const other of own) if (other !== column && worksFrom(column, other.name, lexis)) place(other)
    order.add(column)
  }
  own.forEach(place)
  return [...order]
}

/**
 * The live computed columns that go, for a while or for good: those that are removed or computed otherwise, and all that
 * are worked out from a column that changes or from another that goes. Each stands before what it is worked out from. One
 * that is no longer computed keeps its values, and stays.
 */
export function computedThatGo({ live, removed, columns, renames, dialect }: Work): Computed[] {
  const { lexis } = dialect.write
  const going = new Set(removed.map((change) => place(change.address)))
  for (const { live: column, liveTable, wanted } of columns)
    if (isComputed(column) && isComputed(wanted)) going.add(place(memberAddress(liveTable, 'column', column)))
  const changing = new Set([
    ...going,
    ...columns
      .filter(
        ({ live, wanted }) =>
          !dialect.types.same(live.type, wanted.type) || dialect.alter.inTheWay(live, wanted) !== 'nothing'
      )
      .map(({ live, liveTable }) => place(memberAddress(liveTable, 'column', live))),
    ...(dialect.profile.features.renameUsedColumn === true ? [] : renames.map((change) => place(change.address)))
  ])
  const staying = new Set(columns.filter(noLongerComputed).map(({ live }) => live))
  return live.tables.flatMap((table) => {
    if (going.has(place(tableAddress(table)))) return []
    const gone = inOrder(table, lexis).filter((column) => {
      const at = place(memberAddress(table, 'column', column))
      const stands = (other: Column) =>
        other !== column &&
        changing.has(place(memberAddress(table, 'column', other))) &&
        worksFrom(column, other.name, lexis)
      if (!going.has(at) && !table.columns.some(stands)) return false
      changing.add(at)
      return !staying.has(column)
    })
    return gone.reverse().map((column) => ({ table, column }))
  })
}

/** The making of those computed columns of a catalogue that are not in a state of it, each after what it needs. */
export function computedToMake(to: Catalog, state: Standing, lexis: Lexis): Change[] {
  return to.tables.flatMap((table) => {
    if (!table.columns.some(isComputed)) return []
    const there = new Set(state.table(table.schema, table.name)?.columns.map((column) => column.name))
    return inOrder(table, lexis)
      .filter((column) => !there.has(column.name))
      .map((value): Change => ({
        action: 'create',
        address: memberAddress(table, 'column', value),
        object: { kind: 'column', value }
      }))
  })
}
